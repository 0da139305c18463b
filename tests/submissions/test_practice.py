"""Practice writes nothing, answers come in parts, submissions are renamed, closed and sent by
parts.
"""

from __future__ import annotations

import json
import uuid
from datetime import date

import pytest

from nevefield.core.errors import WrongAnswer
from nevefield.proposals.editing import Edit, edit_record
from nevefield.rosters.looking import open_roster
from nevefield.store import submissions as store
from nevefield.submissions.answering import bring_answer, end_by_hand
from nevefield.submissions.deciding import Said, decide, take_theirs
from nevefield.submissions.errors import NoSuchRound, WrongDecision
from nevefield.submissions.looking import open_submission
from nevefield.submissions.opening import (
    Beginning,
    begin_submission,
    close,
    count_records,
    join_conditions,
    rename,
    set_policy,
)
from nevefield.submissions.sending import build_round
from nevefield.web.submissions.answers_people import requests_answer
from tests.conftest import APPROVES, LOOKS, PREPARES, Browser
from tests.submissions.conftest import bring_on

SHIP = {"field": "campus", "is": "TSM"}
DAY = date(2026, 10, 1)


def key() -> str:
    return uuid.uuid4().hex


@pytest.fixture
def layout(made) -> dict:
    """The ship's people, with the one code that the authority does not have put right."""
    began = json.loads((made / "registry.json").read_text())
    return json.loads(json.dumps(began["layout"]).replace('"SKA"', '"SKM"'))


@pytest.fixture
def published(sender, layout):
    """What the authority publishes, for submissions that never reach it."""
    number = begin_submission(
        sender,
        Beginning(
            roster="cadets", title="To look", side="live", day=DAY, layout=layout, chosen=SHIP
        ),
        None,
    )
    with sender.database.transaction() as connection:
        return store.get_submission(connection, number).published


@pytest.fixture
def begin(sender, layout, published):
    """Begin a submission that goes by hand."""

    def make(title: str = "The ship", side: str = "live", **more) -> int:
        more = {"chosen": SHIP, "published": published, **more}
        return begin_submission(
            sender, Beginning("cadets", title, side, DAY, layout=layout, **more), None
        )

    return make


def contents(context) -> list[dict]:
    _, snapshot = open_roster(context, "cadets")
    return [snapshot.values(place) for place in range(len(snapshot))]


def sent(context, round_id: int) -> list[str]:
    """The references of a round."""
    with context.database.transaction() as connection:
        body = json.loads(store.get_body(connection, round_id))
    return [row["REF"] for row in body["records"]]


def said(*lines: str, separator: str = ",") -> bytes:
    return "\n".join(["REF,OUTCOME,NUMBER,RULES", *lines]).replace(",", separator).encode()


def rounds(context, number: int):
    with context.database.transaction() as connection:
        return store.list_rounds(connection, number)


def test_practice_alters_no_roster(sender, registry, begin, clock):
    """A round on the practice side gives numbers, and not one of them goes into the roster;
    theirs is taken over by nothing.
    """
    before, opened = contents(sender), open_submission(sender, begin(side="practice"))
    number = opened.submission.id
    made = build_round(sender, number, None, key())
    assert bring_on(sender, made, clock) == "done"
    after = open_submission(sender, number)
    assert after.tally.accepted > 0
    assert after.tally.adds_up
    assert contents(sender) == before
    assert [one.intake_id for one in rounds(sender, number)] == [None]
    rejected = [record for record in after.records if after.standings[record].state == "rejected"]
    with pytest.raises(WrongDecision, match="nothing of it goes into the roster"):
        take_theirs(sender, number, rejected or list(after.records), ["BORN"], None)


def test_practice_begins_with_what_live_holds(sender, begin):
    """What was accepted on the live side is accepted in the practice; only the rest would be
    sent.
    """
    live = begin()
    made = build_round(sender, live, None, key(), by_hand=True)
    refs = sent(sender, made)
    lines = [f"{ref},accepted,," for ref in refs[:-2]] + [
        f"{refs[-2]},rejected,,R101",
        f"{refs[-1]},to number,,",
    ]
    assert bring_answer(sender, made, said(*lines), None) == "done"
    practice = open_submission(sender, begin("Practice", "practice", starts_from=live, key=key()))
    held = open_submission(sender, live)
    assert practice.submission.starts_from == live
    assert {record: one.state for record, one in practice.standings.items()} == {
        record: one.state for record, one in held.standings.items()
    }
    assert practice.tally.accepted == len(refs) - 2
    assert [one.number for one in rounds(sender, practice.submission.id)] == [0]
    plain = open_submission(sender, begin("Anew", "practice"))
    assert plain.tally.not_sent == len(refs)
    with pytest.raises(WrongDecision, match="Only a practice begins"):
        begin("Live again", "live", starts_from=live, key=key())


@pytest.mark.parametrize("separator", [",", ";", "\t"])
def test_answer_in_parts(sender, begin, separator):
    """A part of an answer leaves the rest on its way; the second part ends the round; commas,
    semicolons and tabs are read.
    """
    number = begin()
    made = build_round(sender, number, None, key(), by_hand=True)
    refs = sent(sender, made)
    first = said(*(f"{ref},accepted,," for ref in refs[:5]), separator=separator)
    assert bring_answer(sender, made, first, None) == "byhand"
    opened = open_submission(sender, number)
    assert (opened.tally.accepted, len(opened.on_way), opened.tally.adds_up) == (
        5,
        len(refs) - 5,
        True,
    )
    rest = said(*(f"{ref},rejected,,R101" for ref in refs[5:]), separator=separator)
    assert bring_answer(sender, made, rest, None) == "done"
    after = open_submission(sender, number)
    assert (after.tally.accepted, after.tally.rejected, dict(after.on_way)) == (
        5,
        len(refs) - 5,
        {},
    )
    assert rounds(sender, number)[0].counts["accepted"] == 5


def test_rest_that_never_comes(sender, begin):
    """Said to be all that comes, the records without an answer are ready again, and the next
    round takes them as they were.
    """
    number = begin()
    made = build_round(sender, number, None, key(), by_hand=True)
    with pytest.raises(NoSuchRound):
        end_by_hand(sender, made, None)  # nothing was answered yet
    refs = sent(sender, made)
    bring_answer(sender, made, said(*(f"{ref},accepted,," for ref in refs[3:])), None)
    assert end_by_hand(sender, made, None) == "done"
    opened = open_submission(sender, number)
    assert (opened.tally.ready, opened.tally.accepted) == (3, len(refs) - 3)
    assert {opened.kind_of(record) for record in opened.ready} == {"again"}
    assert rounds(sender, number)[0].counts["unanswered"] == 3


def test_what_is_unknown_is_named(sender, begin):
    """Outcomes that are none refuse the whole file, with the references; references of nobody
    are named and passed over.
    """
    number = begin()
    made = build_round(sender, number, None, key(), by_hand=True)
    refs = sent(sender, made)
    with pytest.raises(
        WrongAnswer,
        match=f"“acepted” of {refs[0]}.*There are accepted, warned, rejected, to number. Nothing",
    ):
        bring_answer(sender, made, said(f"{refs[0]},acepted,,", f"{refs[1]},accepted,,"), None)
    assert open_submission(sender, number).tally.accepted == 0
    with pytest.raises(WrongAnswer, match="It speaks of ZZ9"):
        bring_answer(sender, made, said("ZZ9,accepted,,"), None)
    with pytest.raises(WrongAnswer, match="this one has Ref no, Result"):
        bring_answer(sender, made, b"Ref no;Result\nA;accepted\n", None)
    bring_answer(sender, made, said(*(f"{ref},accepted,," for ref in refs), "ZZ9,accepted,,"), None)
    assert "passed over: “ZZ9”" in rounds(sender, number)[0].problem


def test_corrections_are_corrections(sender, begin):
    """Of what goes again only what was rejected and differs now counts as a correction; what
    merely changed since does not.
    """
    number = begin()
    made = build_round(sender, number, None, key(), by_hand=True)
    refs = sent(sender, made)
    lines = [
        f"{refs[0]},rejected,,R101",
        f"{refs[1]},accepted,,",
        *(f"{ref},accepted,," for ref in refs[2:]),
    ]
    bring_answer(sender, made, said(*lines), None)
    opened = open_submission(sender, number)
    by_ref = {opened.rows[record]["REF"]: record for record in opened.records}
    for ref in refs[:2]:
        edit_record(sender, Edit(by_ref[ref], {"family_name": "Ystad"}), None)
    after = open_submission(sender, number)
    assert {after.kind_of(record): record for record in after.ready} == {
        "corrected": by_ref[refs[0]],
        "changed": by_ref[refs[1]],
    }


def test_numbers_only_where_it_was_said(sender, begin):
    """Nobody's number is asked for before somebody has said so, of one or by policy."""
    number = begin()
    made = build_round(sender, number, None, key(), by_hand=True)
    refs = sent(sender, made)
    bring_answer(sender, made, said(*(f"{ref},to number,," for ref in refs)), None)
    opened = open_submission(sender, number)
    assert (opened.tally.to_number, opened.ready) == (len(refs), [])
    set_policy(sender, number, True, None, None)
    assert len(open_submission(sender, number).ready) == len(refs)


def test_policy_is_taken_over_from_nowhere(sender, begin):
    """A submission that follows an earlier one takes its layout and condition, not what is
    decided there without asking.
    """
    number = begin(policy={"none": "new", "one": 95})
    own = Browser(sender, PREPARES)
    body = {
        "roster": "cadets",
        "title": "Next",
        "side": "practice",
        "day": "2026-11-01",
        "like": number,
    }
    made = own.post("/api/rosters/cadets/submissions", body)["submission"]
    with sender.database.transaction() as connection:
        found = store.get_submission(connection, made)
    assert (found.policy, found.chosen) == ({}, SHIP)


def test_conditions_join_or_replace(sender, begin):
    """A condition is put beside the earlier one, or in its place when that is said; the counts
    are told before it is begun.
    """
    number, year = begin(), {"field": "year", "is": "2"}
    own = Browser(sender, PREPARES)
    body = {"day": "2026-10-01", "like": number, "chosen": year}
    both = own.post("/api/rosters/cadets/submission-count", body)
    alone = own.post("/api/rosters/cadets/submission-count", {**body, "instead": True})
    people = contents(sender)
    assert both["records"] == sum(
        one.get("campus") == "TSM" and one.get("year") == "2" for one in people
    )
    assert alone["records"] == sum(one.get("year") == "2" for one in people)
    assert (
        join_conditions(None, year, instead=False)
        == join_conditions(SHIP, year, instead=True)
        == year
    )
    three = join_conditions(
        join_conditions(SHIP, year, instead=False), {"field": "watch", "is": "SKUA"}, instead=False
    )
    assert [one["field"] for one in three["all"]] == ["campus", "year", "watch"]
    total, parts = count_records(sender, "cadets", SHIP, DAY)
    assert total == sum(one.get("campus") == "TSM" for one in people)
    assert all(sum(sizes.values()) <= total for sizes in parts.values())


def test_parts_go_one_by_one(sender, begin):
    """A part is sent alone: its records and no other's; the next part follows in a round of its
    own.
    """
    number = begin(chosen=None)
    opened = open_submission(sender, number)
    column = opened.snapshot.columns["campus"]
    mine = [record for record in opened.ready if column.at(opened.place[record]) == "TSM"]
    made = build_round(sender, number, None, key(), by_hand=True, part=("campus", "TSM"))
    assert len(sent(sender, made)) == len(mine) > 0
    bring_answer(sender, made, said(*(f"{ref},accepted,," for ref in sent(sender, made))), None)
    after = open_submission(sender, number)
    assert {
        record for record in after.records if after.standings[record].state == "accepted"
    } == set(mine)
    with pytest.raises(WrongDecision, match="There is no field “camps”"):
        build_round(sender, number, None, key(), by_hand=True, part=("camps", "TSM"))


def test_renamed_and_closed(sender, begin):
    """A closed submission is looked at; nothing of it is sent or decided until it is opened
    again; who may what is kept to.
    """
    number = begin()
    rename(sender, number, "  Herbst  ", None)
    assert open_submission(sender, number).submission.title == "Herbst"
    with pytest.raises(WrongDecision, match="needs a title"):
        rename(sender, number, "  ", None)
    made = build_round(sender, number, None, key(), by_hand=True)
    with pytest.raises(WrongDecision, match="Round 1 is under way"):
        close(sender, number, None)
    bring_answer(sender, made, said(*(f"{ref},rejected,,R101" for ref in sent(sender, made))), None)
    close(sender, number, None)
    record = open_submission(sender, number).records[0]
    for act in (
        lambda: build_round(sender, number, None, key(), by_hand=True),
        lambda: decide(sender, number, [record], Said("hold", reason="x"), None),
        lambda: set_policy(sender, number, True, None, None),
    ):
        with pytest.raises(WrongDecision, match="is closed"):
            act()
    assert (
        Browser(sender, LOOKS)
        .send("POST", f"/api/submissions/{number}/close", json={"back": True})
        .status_code
        == 403
    )
    own = Browser(sender, APPROVES)
    assert own.post(f"/api/submissions/{number}/close", {"back": True})["done"]
    decide(sender, number, [record], Said("hold", reason="x"), None)


def test_requests_stay_to_be_seen(sender, registry, begin, held, clock):
    """A change that was asked for is listed with what became of it, whatever was decided of the
    record since.
    """
    number = begin(chosen=None)
    bring_on(sender, build_round(sender, number, None, key()), clock)
    opened = open_submission(sender, number)
    record = next(
        one
        for one in opened.records
        if opened.standings[one].state == "rejected"
        and opened.lines[one].held is not None
        and opened.roots(one)
    )
    rule = opened.roots(record)[0]
    decide(sender, number, [record], Said("right", rule=rule, reason="the passport says so"), None)
    waits = requests_answer_of(sender, number)
    assert [(one["state"], one["round"], one["reason"]) for one in waits] == [
        ("waits", 0, "the passport says so")
    ]
    bring_on(sender, build_round(sender, number, None, key()), clock)
    answered = requests_answer_of(sender, number)
    assert answered[0]["state"] in ("agreed", "refused")
    assert answered[0]["answer"]
    decide(sender, number, [record], Said("hold", reason="looked at later"), None)
    assert requests_answer_of(sender, number) == answered


def requests_answer_of(context, number: int) -> list[dict]:
    return [one.model_dump() for one in requests_answer(open_submission(context, number)).requests]


def test_another_rosters_submission_is_not_followed(sender, begin):
    """A submission of another roster is nothing to follow: neither its layout nor its condition
    comes to light.
    """
    number = begin()
    own = Browser(sender, PREPARES)
    body = {
        "roster": "staff",
        "title": "x",
        "side": "practice",
        "day": "2026-11-01",
        "like": number,
    }
    answer = own.send("POST", "/api/rosters/staff/submissions", json=body)
    assert (answer.status_code, "of another roster" in answer.json["detail"]) == (422, True)


def test_found_by_its_title_with_its_side(sender, begin):
    """The search finds submissions, and says which are on the practice side."""
    begin("Frühjahr", "practice")
    begin("Frühjahr live")
    hits = Browser(sender, LOOKS).get("/api/search", q="frühjahr")["places"]
    assert {(one["title"], one["detail"]) for one in hits} == {
        ("Frühjahr", "submission, practice side"),
        ("Frühjahr live", "submission, live side"),
    }
