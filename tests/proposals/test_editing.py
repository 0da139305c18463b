"""Editing by hand: checked, receipted and taken back like a file; a later file does not
overwrite it in silence.
"""

from __future__ import annotations

import json

import pytest

from nevefield.core.errors import WrongStep
from nevefield.intakes.applying import apply_intake, take_back
from nevefield.intakes.errors import NothingToApply, WrongEdit
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, add_step, receive_file
from nevefield.intakes.remedies import step_for
from nevefield.proposals.editing import Edit, edit_record
from nevefield.store import intakes as store
from nevefield.store import records as record_store
from tests.core.world import DOCUMENT, outcomes
from tests.crew import apply_text, contents, drop, numbers, open_crew


@pytest.fixture
def crew(bare):
    open_crew(bare)
    return bare


def test_edited_and_taken_back(crew):
    """Typed values are read as a file's are, the rest of the record stays, and the edit can be
    taken back.
    """
    before = contents(crew)
    done = edit_record(
        crew, Edit(numbers(crew)["2"], {"born": "3.4.2001", "port": "DNS;HVG", "mail": ""}), None
    )
    expected = {**before["2"], "born": "2001-04-03", "port": ["DNS", "HVG"]}
    del expected["mail"]
    assert contents(crew) == {**before, "2": expected}
    with crew.database.transaction() as connection:
        assert record_store.get_change_set(connection, done.change_set).kind == "hand"
        assert store.list_intakes(connection, [1]) == []  # a desk of files has no line for it
    take_back(crew, done.change_set, None)
    assert contents(crew) == before


def test_checked_like_a_file(crew):
    """What a check stops is refused with its field, as is a field that is not there; nothing is
    kept of either.
    """
    before = contents(crew)
    number = numbers(crew)["1"]
    with pytest.raises(WrongEdit) as refused:
        edit_record(crew, Edit(number, {"dept": "MEN"}), None)  # the programme is under another
    assert [name for name, _ in refused.value.found] == ["prog"]
    with pytest.raises(WrongEdit) as refused:
        edit_record(crew, Edit(number, {"mail": "tove@q.example"}), None)
    assert [name for name, _ in refused.value.found] == ["mail"]
    with pytest.raises(WrongStep, match="name"):
        edit_record(crew, Edit(number, {"nam": "x"}), None)
    with pytest.raises(NothingToApply):
        edit_record(crew, Edit(number, {"name": " Ines "}), None)
    assert contents(crew) == before
    with crew.database.transaction() as connection:
        assert connection.row("SELECT COUNT(*) FROM intake") == (0,)


def test_changed_key_is_the_same_person(crew):
    """A number that is corrected by hand stays with its record; one that somebody else has is
    refused.
    """
    number = numbers(crew)["3"]
    edit_record(crew, Edit(number, {"no": "33"}), None)
    assert numbers(crew)["33"] == number
    with pytest.raises(WrongEdit):
        edit_record(crew, Edit(number, {"no": "1"}), None)


def test_file_does_not_overwrite_in_silence(crew):
    """A file that would change what was set by hand since the source's last one waits; kept or
    let in, it asks no more.
    """
    apply_text(crew, "no,name,guardian\n1,Ines,Kai\n2,Tove,Ada\n")
    edit_record(crew, Edit(numbers(crew)["1"], {"guardian": "Noor"}), None)
    text = "no,name,guardian\n1,Ines,Kai\n2,Tove,Eve\n"
    intake = drop(crew, text)
    evaluation = open_intake(crew, intake).evaluation
    assert outcomes(evaluation) == {2: "waiting", 3: "changed"}
    (cause,) = [one for one in evaluation.causes if one.hit.check == "by-hand"]
    assert "Noor was set by hand by somebody on 2026-09-01" in cause.hit.say(0)
    step = step_for(evaluation, cause.id, "ours", value=None, reason="", lines=None)
    add_step(crew, intake, step, None)
    opened = open_intake(crew, intake)
    assert outcomes(opened.evaluation) == {2: "same", 3: "changed"}
    apply_intake(crew, intake, len(opened.steps), opened.roster.version, None)
    assert contents(crew)["1"]["guardian"] == "Noor"
    # A later file has seen the edit: what it says is news.
    assert outcomes(open_intake(crew, drop(crew, text + "\n")).evaluation) == {
        2: "changed",
        3: "same",
    }


def test_what_was_set_again_since_is_nobodys_hand(crew):
    """Once another file was let in over what was set by hand, the value is that file's, and
    nobody is asked about it again.
    """
    edit_record(crew, Edit(numbers(crew)["1"], {"guardian": "Noor"}), None)
    intake = drop(crew, "no,name,guardian\n1,Ines,Kai\n")
    add_step(
        crew,
        intake,
        {
            "kind": "waive",
            "check": "by-hand",
            "field": "guardian",
            "lines": [2],
            "reason": "asked her",
        },
        None,
    )
    opened = open_intake(crew, intake)
    apply_intake(crew, intake, len(opened.steps), opened.roster.version, None)
    with crew.database.transaction() as connection:
        connection.run("UPDATE intake SET source = 'Office' WHERE id = %s", (intake,))
    other = receive_file(
        crew,
        "x.csv",
        b"no,name,guardian\n1,Ines,Eve\n",
        Claims(roster="crew", source="Somewhere else"),
    )
    assert outcomes(open_intake(crew, other).evaluation) == {2: "changed"}


def test_edit_needs_a_second_person(bare):
    """Where every change needs a second person, an edit by hand is proposed and not done."""
    guarded = {**DOCUMENT, "nevefield": {**DOCUMENT["nevefield"], "approval": {"from": 1}}}
    open_crew(bare, document=guarded)
    before = contents(bare)
    done = edit_record(bare, Edit(numbers(bare)["1"], {"name": "Inez"}), None)
    assert done.change_set is None
    assert done.proposal
    assert contents(bare) == before


def test_a_hand_counts_where_files_do_not(bare):
    """A field in which the roster's value stands against files is edited by hand all the same."""
    document = json.loads(json.dumps(DOCUMENT))
    next(one for one in document["fields"] if one["name"] == "guardian")["nevefield"] = {
        "update": "ours"
    }
    open_crew(bare, document=document)
    edit_record(bare, Edit(numbers(bare)["1"], {"guardian": "Somebody"}), None)
    apply_text(bare, "no,name,guardian\n1,Ines M,Another\n")
    assert contents(bare)["1"]["guardian"] == "Somebody"


def test_a_group_without_its_lead_is_asked_about(bare):
    """What an edit does to a group is asked about, and done with a reason; guards of whole files
    say nothing of one record.
    """
    checks = [
        {
            "check": "lead",
            "fields": [],
            "by": ["dept"],
            "lead": {"field": "guardian", "is": "lead"},
        },
        {"check": "changed-share", "fields": [], "most": 0.1},
        {"check": "row-count", "fields": [], "least": 50},
    ]
    records = [
        {"no": "1", "name": "Ines", "dept": "NAV", "guardian": "lead"},
        {"no": "2", "name": "Tove", "dept": "NAV"},
    ]
    open_crew(bare, records, {**DOCUMENT, "nevefield": {**DOCUMENT["nevefield"], "checks": checks}})
    number = numbers(bare)["1"]
    with pytest.raises(WrongEdit) as refused:
        edit_record(bare, Edit(number, {"guardian": "hand"}), None)
    assert refused.value.waits
    assert "without its lead" in refused.value.found[0][1]
    with bare.database.transaction() as connection:
        assert connection.row("SELECT COUNT(*) FROM intake") == (0,)
    edit_record(bare, Edit(number, {"guardian": "hand"}, reason="Tove leads from Monday"), None)
    assert contents(bare)["1"]["guardian"] == "hand"
    edit_record(bare, Edit(number, {"name": "Inés"}), None)  # one of one changes: no guard asks
    assert contents(bare)["1"]["name"] == "Inés"
