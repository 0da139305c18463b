"""A copy of before an erasure brings nobody back."""

from __future__ import annotations

import json
from datetime import timedelta

from nevefield.accounts import Level, add_account
from nevefield.copies.making import bring_back, list_copies, make_copy
from nevefield.keeping.erasing import erase, hold_back, how_erased
from nevefield.keeping.outlasting import FILE, Noted, Notes, erase_again, note_erasures, read_noted
from nevefield.rosters.opening import insert_opened, open_roster_with
from nevefield.store import mails, records, rosters

DOCUMENT = {
    "name": "guild",
    "primaryKey": ["no"],
    "fields": [
        {"name": "no"},
        {"name": "family", "nevefield": {"means": "family-name"}},
        {"name": "given", "nevefield": {"means": "given-name"}},
    ],
}
GUILD = [
    {"no": f"G-{place:04d}", "family": f"Vörös{place}", "given": f"Ánna{place}"}
    for place in range(6)
]


def numbers(context) -> dict[str, int]:
    with context.database.transaction() as connection:
        roster = rosters.get_roster(connection, "guild")
        return {
            json.loads(text)["no"]: number
            for number, text in records.list_current(connection, roster.id)
        }


def test_who_was_erased_stays_erased(bare, place, clock):
    """Erased before the copy, after it, and held meanwhile in the copy: what a copy brings back of
    them goes again; somebody who came since is not taken for one of them.
    """
    keeper = add_account(bare, "keeper", "The keeper", "a-long-password-1", Level.ADMINISTER)
    open_roster_with(bare, DOCUMENT, GUILD)
    known = numbers(bare)
    erase(bare, known["G-0000"], "herself", "asked for it", keeper)
    hold_back(bare, known["G-0003"], "a court asked for it", keeper)
    clock.move(minutes=1)
    copy, _ = make_copy(place, clock())
    clock.move(minutes=1)
    erase(bare, known["G-0001"], "himself", "asked for it", keeper)
    erase(bare, known["G-0002"], "her guardian", "asked for it", keeper)
    notes = Notes(place.folder)
    assert notes.keep(bare) is True
    assert notes.keep(bare) is False
    assert note_erasures(bare, place.folder) is False
    assert (place.folder / FILE).stat().st_mode & 0o077 == 0  # why somebody asked is nobody's
    text = (place.folder / FILE).read_text()
    assert "Vörös" not in text
    assert "G-0001" not in text
    # of another life of this database: number 3 was held back when the copy was made
    with (place.folder / FILE).open("a") as file:
        held = {
            "roster": "guild",
            "record": known["G-0003"],
            "asked_by": "his office",
            "reason": "moved away",
        }
        file.write(json.dumps({**held, "at": clock().isoformat()}) + "\n")
        file.write('{"roster": "guild", "rec')  # the disk was full

    made = next(one.at for one in list_copies(place.folder) if one.name == copy)
    bring_back(place, copy, clock())
    assert {"G-0001", "G-0002"} <= numbers(bare).keys()
    again, problems = erase_again(bare, read_noted(place.folder), made)
    assert again == 2
    assert len(problems) == 1
    assert "a court asked for it" in problems[0]
    assert numbers(bare).keys() == {"G-0003", "G-0004", "G-0005"}
    erasure, _ = how_erased(bare, known["G-0002"])
    assert (erasure.asked_by, erasure.reason) == ("her guardian", "asked for it")
    assert erase_again(bare, read_noted(place.folder), made)[0] == 0
    erase(bare, known["G-0004"], "himself", "asked for it", keeper)
    note_erasures(bare, place.folder)
    assert [one.record for one in read_noted(place.folder)][-1] == known["G-0004"]


def test_no_mail_of_a_copy_goes_again(bare, place, clock):
    """What waited when a copy was made may have gone since: it does not go by itself."""
    with bare.database.transaction() as connection:
        mail = mails.NewMail("test", "bo@x.example", "s", "t", "1@x.example")
        mails.insert_mails(connection, [mail], None, clock())
    copy, _ = make_copy(place, clock())
    with bare.database.transaction() as connection:
        (taken,) = mails.claim(connection, "w", clock(), clock() + timedelta(minutes=5), 9)
        mails.begin_handing(connection, taken.id, "w", clock() + timedelta(minutes=5))
        mails.finish(connection, taken.id, "w", "sent", "250 ok", clock())
    bring_back(place, copy, clock())
    with bare.database.transaction() as connection:
        (now,) = mails.list_mails(connection, ["unclear"], 0, 9)
        assert mails.claim(connection, "w", clock(), clock() + timedelta(minutes=5), 9) == []
    assert (now.recipient, now.body) == ("bo@x.example", "t")


def test_a_number_of_another_is_nobody(bare, clock):
    """Erased before the copy, of another roster, or never there: a number alone erases nobody."""
    open_roster_with(bare, DOCUMENT, GUILD)
    with bare.database.transaction() as connection:
        insert_opened(
            connection,
            {**DOCUMENT, "name": "other"},
            [{"no": "1"}],
            at=clock(),
            title="Opening",
        )
    known, since = numbers(bare), clock()
    before, after = (since - timedelta(days=1)).isoformat(), (since + timedelta(days=1)).isoformat()
    noted = [
        Noted("guild", known["G-0004"], before, "x", "asked for it"),
        Noted("other", known["G-0004"], after, "x", "asked for it"),
        Noted("guild", 999_999, after, "x", "asked for it"),
    ]
    assert erase_again(bare, noted, since) == (0, [])
    assert len(numbers(bare)) == len(GUILD)
