"""From the roster to a fully accepted return, against the truth of what the demo plants in the
Registry.
"""

from __future__ import annotations

import base64
import uuid
from collections import Counter

import pytest

from nevefield.core.submitting.layout import means_same
from nevefield.core.submitting.standing import NEW
from nevefield.intakes.applying import apply_intake
from nevefield.intakes.evaluating import open_intake
from nevefield.proposals.editing import Edit, edit_record
from nevefield.rosters.looking import open_roster
from nevefield.submissions import looking
from nevefield.submissions.deciding import Said, decide, take_theirs
from nevefield.submissions.errors import NothingToSend, RoundUnderWay, WrongDecision
from nevefield.submissions.looking import open_submission, open_with_rounds
from nevefield.submissions.opening import translate_code
from nevefield.submissions.sending import build_round
from tests.submissions.conftest import bring_on


def send(context, number: int, clock) -> None:
    assert bring_on(context, build_round(context, number, None, uuid.uuid4().hex), clock) == "done"


def by_key(opened) -> dict[str, int]:
    column = opened.snapshot.columns["cadet_number"]
    return {column.at(opened.place[record]): record for record in opened.records}


def let_ours_be_corrected(context, intake: int) -> None:
    found = open_intake(context, intake)
    apply_intake(context, intake, len(found.steps), found.roster.version, None)


def settle_numbers(context, number: int, held: dict) -> None:
    """Choose the holder that the truth says, or none of them."""
    records = by_key(open_submission(context, number))
    for key, one in held["numbers"].items():
        decide(context, number, [records[key]], Said("number", one["number"]), None)


def test_a_round_that_ends_while_one_looks(sender, autumn, registry, clock, monkeypatch):
    """A round told as ended stands beside the records as its end left them, also when it ends
    between two looks.
    """
    round_id = build_round(sender, autumn, None, uuid.uuid4().hex)
    before = open_submission(sender, autumn)
    ends = iter([lambda: bring_on(sender, round_id, clock)])

    def look(context, number):
        opened = open_submission(context, number)
        next(ends, lambda: None)()
        return opened

    monkeypatch.setattr(looking, "open_submission", look)
    opened, rounds = open_with_rounds(sender, autumn)
    assert [one.state for one in rounds] == ["done"]
    assert opened.tally == open_submission(sender, autumn).tally != before.tally


def test_to_the_end(sender, autumn, registry, held, clock):
    """Four rounds at most; every conflict settled its own way; then roster and Registry say the
    same in all that rules read.
    """
    opened = open_submission(sender, autumn)
    assert (opened.tally.records, opened.tally.not_sent, opened.tally.adds_up) == (
        held["records"],
        held["records"],
        True,
    )
    # Before sending: one cause, a code of theirs that is retired; one remedy frees all its records.
    records = by_key(opened)
    assert {rule: set(some) for rule, some in opened.broken.items()} == {
        "H1": {records[key] for key in held["retired_port"]}
    }
    assert len(opened.ready) == held["records"] - len(held["retired_port"])
    translate_code(sender, autumn, "HOME_PORT", "SKV", "SKM", None)
    assert len(open_submission(sender, autumn).ready) == held["records"]
    send(sender, autumn, clock)

    opened = open_submission(sender, autumn)
    conflicts = held["conflicts"]
    assert opened.tally.adds_up
    assert opened.tally.rejected == len(conflicts)
    assert opened.tally.to_number == len(held["numbers"])
    assert opened.tally.ready == len(held["new"])  # nobody is near them: a new number by policy
    wanted = {key: one["rule"] for key, one in conflicts.items()}
    found = opened.rejected()
    # What there is to touch are the root rules; what merely follows is folded away.
    assert {
        key: [rule for rule, some in found.items() if records[key] in some] for key in wanted
    } == {key: [rule] for key, rule in wanted.items()}
    assert sum(map(len, found.values())) == len(conflicts)
    assert opened.following() == {"Z0": len(conflicts), "Y1": Counter(wanted.values())["E4"]}
    assert {
        key for key, record in records.items() if record in opened.warned().get("W2", [])
    } == set(held["warned"])
    # with what was held, so that somebody sees what the warning is about
    for key in held["warned"]:
        line = opened.lines[records[key]]
        assert line.held["GIVEN"].startswith(f"{line.sent['GIVEN']} ")
    seven = next(key for key, one in held["numbers"].items() if one["kind"] == "seven")
    assert len(opened.lines[records[seven]].candidates) == 7
    settle_numbers(sender, autumn, held)
    ours_right = [records[key] for key, one in conflicts.items() if one["way"] == "right"]
    for rule in ("E4", "B3"):
        mine = [record for record in ours_right if record in found[rule]]
        decide(
            sender,
            autumn,
            mine,
            Said("right", rule=rule, reason="transfer letter and passport on file"),
            None,
        )
    wrong = [records[key] for key, one in conflicts.items() if one["way"] == "wrong"]
    let_ours_be_corrected(
        sender, take_theirs(sender, autumn, wrong, ["BORN", "FAMILY", "GIVEN"], None)
    )
    (twin,) = [records[key] for key, one in conflicts.items() if one["way"] == "other"]
    decide(sender, autumn, [twin], Said("question", reason="that number is her twin's"), None)
    assert open_submission(sender, autumn).tally.rejected == 0
    send(sender, autumn, clock)

    opened = open_submission(sender, autumn)
    assert (opened.tally.accepted, opened.tally.to_number) == (held["records"] - 1, 1)
    right = next(one["number"] for one in conflicts.values() if one["way"] == "other")
    decide(sender, autumn, [twin], Said("number", right), None)
    send(sender, autumn, clock)
    opened = open_submission(sender, autumn)
    assert (opened.tally.accepted, opened.tally.records) == (held["records"], held["records"])
    assert opened.ready == []
    with pytest.raises(NothingToSend):
        build_round(sender, autumn, None, uuid.uuid4().hex)

    # Read both: the roster as it stands, and the Registry's own records.
    _, snapshot = open_roster(sender, "cadets")
    assert opened.snapshot.version == snapshot.version
    reads = {name for rule in opened.published.rules.values() for name in rule.reads} - {
        "REF",
        "COLLEGE",
        "KIND",
    }
    for record, row in opened.rows.items():
        theirs = registry.live.people[row["MARINER"]]
        mine = next(one for one in theirs["ENROLMENTS"] if one["COLLEGE"] == "TQMC")
        differing = [name for name in reads if not means_same({**theirs, **mine}[name], row[name])]
        assert differing == [], record
    # What the roster changes afterwards is offered for the next round, and nothing else.
    (changed,) = opened.records[:1]
    edit_record(sender, Edit(changed, {"phone": "+44 7700 900123"}), None)
    after = open_submission(sender, autumn)
    assert (after.ready, after.standings[changed].moved, after.tally.ready) == (
        [changed],
        ("PHONE",),
        1,
    )
    for key, one in held["numbers"].items():
        got = opened.rows[records[key]]["MARINER"]
        assert got == one["number"] if one["number"] != NEW else got.startswith("M9")
    for key, one in conflicts.items():
        if one["way"] == "wrong":
            assert opened.snapshot.values(opened.place[records[key]])["born"] == one["value"]
    assert len(registry.live.returns) == 3


def test_on_their_way(sender, autumn, held, clock):
    """What a round sends is told to be on its way until its answer is in, and nothing else is."""
    opened = open_submission(sender, autumn)
    going = set(opened.ready)
    assert len(going) == held["records"] - len(held["retired_port"])
    assert not opened.on_way
    made = build_round(sender, autumn, None, uuid.uuid4().hex)
    opened = open_submission(sender, autumn)
    assert opened.on_way == dict.fromkeys(going, 1)
    assert {opened.why(record) for record in going} == {"on its way in round 1"}
    assert {opened.why(record) for record in set(opened.records) - going} == {"breaks H1"}
    bring_on(sender, made, clock)
    assert not open_submission(sender, autumn).on_way


def test_refused_change_is_rejected_again(sender, autumn, registry, held, clock):
    """A change that the authority refuses is said with its words; the record stands rejected
    again, and the round tells so.
    """
    translate_code(sender, autumn, "HOME_PORT", "SKV", "SKM", None)
    send(sender, autumn, clock)
    records = by_key(open_submission(sender, autumn))
    key = next(key for key, one in held["conflicts"].items() if one["rule"] == "E4")
    letter = Said(
        "right", rule="E4", reason="no", attached="letter.pdf", attachment=b"%PDF a letter"
    )
    decide(sender, autumn, [records[key]], letter, None)
    send(sender, autumn, clock)
    (asked,) = list(registry.live.returns.values())[-1]["changes"]
    assert base64.b64decode(asked["attachment"]["base64"]) == b"%PDF a letter"
    assert {one["field"]: (one["held"], one["asked"]) for one in asked["fields"]}["COLLEGE"] == (
        "HSNA",
        "TQMC",
    )
    opened = open_submission(sender, autumn)
    assert opened.standings[records[key]].state == "rejected"
    assert opened.steps[records[key]].answer == "refused: The reason says too little."
    told = opened.told
    assert [one["record"] for one in told[2].again] == [records[key]]
    assert [one.left for one in told.values()] == [
        len(held["conflicts"]) + len(held["numbers"]) + len(held["new"]),
        len(held["conflicts"]) + len(held["numbers"]),
    ]


def test_decisions_that_do_not_fit(sender, autumn, held, clock):
    """A number that nobody offered, a number for two, and ours right without a reason are
    refused; nothing is decided.
    """
    translate_code(sender, autumn, "HOME_PORT", "SKV", "SKM", None)
    made = build_round(sender, autumn, None, uuid.uuid4().hex)
    with pytest.raises(RoundUnderWay):
        build_round(sender, autumn, None, uuid.uuid4().hex)
    bring_on(sender, made, clock)
    opened = open_submission(sender, autumn)
    records = by_key(opened)
    several = next(key for key, one in held["numbers"].items() if one["kind"] == "several")
    rejected = next(records[key] for key, one in held["conflicts"].items() if one["rule"] == "E4")
    before = opened.standings
    for record, said, words in (
        (records[several], Said("number", "M1234567"), "none of the holders"),
        (rejected, Said("right", rule="E4"), "Say why"),
        (records[several], Said("right", reason="because"), "Only a record that was rejected"),
        (rejected, Said("maybe"), "nothing that can be decided"),
    ):
        with pytest.raises(WrongDecision, match=words):
            decide(sender, autumn, [record], said, None)
    decide(sender, autumn, [records[several]], Said("clear"), None)
    assert open_submission(sender, autumn).standings == before
