"""The acts that the trail knows: what each is called, and of which kind it is. A test finds every
act that the product notes here.
"""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["ACTS", "BEGINNINGS", "GROUPS", "Act", "words_of_act"]

GROUPS: dict[str, str] = {
    "doors": "signing in and out",
    "rights": "people and rights",
    "rosters": "rosters and their records",
    "files": "files",
    "approval": "approval",
    "definitions": "definitions and codes",
    "submissions": "submissions",
    "cards": "cards and photographs",
    "passing": "passing on",
    "mail": "mails",
    "taken": "looked at and taken out",
    "setup": "this installation",
}


@dataclass(frozen=True)
class Act:
    """One act: its kind, one of `GROUPS`, and what is said of whoever did it."""

    group: str
    words: str


ACTS: dict[str, Act] = {
    "destination": Act("passing", "kept a version of a destination"),
    "destination-on": Act("passing", "lets a destination be told by itself"),
    "destination-off": Act("passing", "lets a destination be told by hand alone"),
    "destination-token": Act("passing", "kept a token for a destination"),
    "destination-told": Act("passing", "told a destination"),
    "destination-compared": Act("passing", "compared what a destination holds"),
    "destination-hold": Act("passing", "held records back from a destination"),
    "destination-let": Act("passing", "let records go to a destination again"),
    "destination-again": Act("passing", "let refused records be sent again"),
    "destination-anew": Act("passing", "let taken names be composed anew"),
    "destination-same": Act("passing", "said that accounts at a destination are ours"),
    "destination-address": Act("passing", "made an address from which files are fetched"),
    "mail-server": Act("setup", "said where mails are handed over"),
    "mail-on": Act("setup", "let mails go"),
    "mail-off": Act("setup", "let mails wait"),
    "mail-test": Act("mail", "sent a test message"),
    "mail-link": Act("mail", "mailed a link for a password"),
    "mail-queued": Act("mail", "wrote to people"),
    "letter-printed": Act("mail", "printed letters"),
    "letter-seen": Act("mail", "somebody opened their link"),
    "letter-not-them": Act("mail", "somebody did not show that a link is theirs"),
    "letter-answered": Act("mail", "somebody answered a letter"),
    "letter-taken": Act("mail", "took corrections in"),
    "letter-ended": Act("mail", "withdrew the links of a letter"),
    "mail-sent": Act("mail", "a mail went"),
    "mail-refused": Act("mail", "a mail was refused"),
    "mail-returned": Act("mail", "a mail came back"),
    "mail-unclear": Act("mail", "a mail may have gone"),
    "mail-again": Act("mail", "let mails go again"),
    "mail-dropped": Act("mail", "dropped mails"),
    "destination-asked": Act("taken", "asked for what is held for it"),
    "destination-proposed": Act("files", "proposed"),
    "destination-fetched": Act("taken", "fetched a file by its address"),
    "destination-laid": Act("taken", "laid a file for a destination in its folder"),
    "destination-file": Act("taken", "took a file for a destination out"),
    "card-design": Act("cards", "kept a version of a card design"),
    "card-run": Act("cards", "made cards"),
    "card-sheets": Act("taken", "took the sheets of cards out"),
    "card-handed": Act("cards", "handed cards over"),
    "card-not-handed": Act("cards", "said that cards were not handed over after all"),
    "card-lost": Act("cards", "said that a card is lost"),
    "card-spoiled": Act("cards", "said that a card is spoiled"),
    "card-returned": Act("cards", "took a card in"),
    "photos-brought": Act("cards", "brought photographs"),
    "photo-forgotten": Act("cards", "forgot a photograph"),
    "signed-in": Act("doors", "signed in"),
    "sign-in-failed": Act("doors", "a sign-in did not fit"),
    "signed-out-elsewhere": Act("doors", "signed out elsewhere"),
    "signed-out-by": Act("rights", "signed somebody out"),
    "password-changed": Act("doors", "changed their password"),
    "password-chosen": Act("doors", "chose a password by a link"),
    "password-link-made": Act("rights", "made a link for a new password"),
    "second-step-on": Act("doors", "signs in with a second step from now on"),
    "second-step-off": Act("rights", "took a second step away"),
    "recovery-codes-made": Act("doors", "made new recovery codes"),
    "keys-chosen": Act("doors", "chose keys"),
    "account-added": Act("rights", "added an account"),
    "account-invited": Act("rights", "invited somebody"),
    "account-altered": Act("rights", "altered what somebody may do"),
    "program-added": Act("rights", "added a program"),
    "token-made": Act("rights", "made a token for a program"),
    "token-ended": Act("rights", "ended a program's token"),
    "account-closed": Act("rights", "closed an account"),
    "account-opened-again": Act("rights", "opened an account again"),
    "roster-opened": Act("rosters", "opened a roster"),
    "roster-taken-back": Act("rosters", "took a roster's opening back"),
    "opening-begun": Act("files", "dropped a file for a new roster"),
    "opening-thrown-away": Act("files", "threw a file for a new roster away"),
    "file-received": Act("files", "dropped a file"),
    "file-refused": Act("files", "dropped a file that was not taken in"),
    "intake-due": Act("files", "said by when a file is due"),
    "intake-thrown-away": Act("files", "threw a file away"),
    "intake-taken-back": Act("files", "took a file back that was thrown away"),
    "recipe-written": Act("files", "altered what is known of a source"),
    "waiver-withdrawn": Act("files", "withdrew an approval of rows"),
    "two-people": Act("rosters", "said that two records are two people"),
    "shortlist-kept": Act("rosters", "kept a shortlist"),
    "shortlist-dropped": Act("rosters", "dropped a shortlist"),
    "confirmed": Act("rosters", "confirmed that groups stay"),
    "proposed": Act("approval", "proposed"),
    "approved": Act("approval", "approved"),
    "sent-back": Act("approval", "sent back"),
    "withdrawn": Act("approval", "withdrew a proposal"),
    "put-off": Act("approval", "put off to a day"),
    "called-off": Act("approval", "called off what waited for its day"),
    "definition-written": Act("definitions", "altered a definition"),
    "codes-begun": Act("definitions", "began a code list"),
    "codes-made": Act("definitions", "made a code list of what a field has"),
    "codes-written": Act("definitions", "wrote a code list"),
    "code-added": Act("definitions", "added a code"),
    "code-merged": Act("definitions", "merged two codes"),
    "code-retired": Act("definitions", "retired a code"),
    "submission": Act("submissions", "began a submission"),
    "submission-renamed": Act("submissions", "renamed a submission"),
    "submission-took-in": Act("submissions", "took records into a submission"),
    "submission-closed": Act("submissions", "closed a submission"),
    "submission-opened": Act("submissions", "opened a submission again"),
    "layout": Act("submissions", "altered a layout"),
    "policy": Act("submissions", "altered what is settled by itself"),
    "translated": Act("submissions", "altered a translation"),
    "round": Act("submissions", "sent a round"),
    "round-again": Act("submissions", "sent a round again"),
    "round-ended": Act("submissions", "ended a round"),
    "answer-by-hand": Act("submissions", "brought an answer by hand"),
    "took-theirs": Act("submissions", "took the authority's value"),
    "held-taken-out": Act("taken", "took out all that is held about somebody"),
    "erased": Act("rosters", "erased somebody"),
    "held-back": Act("rosters", "kept somebody's data from being erased"),
    "released": Act("rosters", "let somebody's data be erased again"),
    "uncovered": Act("taken", "uncovered sensitive fields"),
    "covered-again": Act("taken", "covered sensitive fields again"),
    "exported": Act("taken", "took a roster out as a file"),
    "error-sheet": Act("taken", "took an error sheet out"),
    "trail-taken": Act("taken", "took the trail out as a file"),
    "unforeseen-settled": Act("setup", "put an error aside"),
    "copy-back-ordered": Act("setup", "ordered that a copy is brought back"),
    "copy-brought-back": Act("setup", "brought a copy of everything back"),
    "copy-ordered": Act("setup", "ordered a copy of everything"),
    "keeping-set": Act("setup", "said for how long something is kept"),
    "keeping-done": Act("setup", "deleted what was kept long enough"),
    "trail-cut": Act("setup", "deleted the beginning of the trail, which was kept long enough"),
    "practice-ordered": Act("setup", "ordered the practice copy"),
    "practice-made": Act("setup", "made this practice copy"),
    "practice-thrown-away": Act("setup", "threw the practice copy away"),
    "institution-named": Act("setup", "named the institution"),
}
# Acts whose names are made: what they begin with.
BEGINNINGS = {
    "change-set-": Act("rosters", "altered a roster"),
    "decided-": Act("submissions", "decided about a rejected record"),
}


def words_of_act(act: str) -> Act:
    """Give the words of an act; of one that is not known its name."""
    if act in ACTS:
        return ACTS[act]
    for beginning, found in BEGINNINGS.items():
        if act.startswith(beginning):
            return found
    return Act("setup", act.replace("-", " "))
