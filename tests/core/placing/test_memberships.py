"""Memberships: a kind that allows one group, what ends for another, and what "exactly these"
leaves out.
"""

from __future__ import annotations

from datetime import date

import pytest

from nevefield.core.changes.plan import plan_changes
from nevefield.core.codes import read_codes
from nevefield.core.defining.groups import read_kinds
from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongDefinition, WrongStep
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step, refuse_unknown
from nevefield.intakes.remedies import step_for
from nevefield.web.intakes.answers_rows import name_of_row
from tests.core.world import CREW, outcomes, work_out

TODAY = date(2026, 9, 1)
CODES = read_codes(
    "list,code,label,parent\nart,CHOR,Chöre,\nart,AG,Arbeitsgemeinschaften,\n"
    "gruppe,KAM,Kammerchor,CHOR\ngruppe,JUG,Jugendchor,CHOR\ngruppe,SCH,Schach,AG\ngruppe,IMK,Imkern,AG\n"
)
PEOPLE = {
    "name": "mitglieder",
    "primaryKey": "nr",
    "fields": [{"name": "nr"}, {"name": "name", "nevefield": {"means": "family-name"}}],
}
KIND = {
    "kind": "each",
    "by": ["gruppe"],
    "each": "art",
    "person": "nr",
    "from": "von",
    "to": "bis",
    "one": ["CHOR"],
}
DOCUMENT = {
    "name": "zugehoerig",
    "title": "Zugehörigkeiten",
    "primaryKey": ["nr", "art", "gruppe", "von"],
    "foreignKeys": [{"fields": "nr", "reference": {"resource": "mitglieder", "fields": "nr"}}],
    "fields": [
        {"name": "nr", "constraints": {"required": True}},
        {"name": "art", "constraints": {"required": True}, "nevefield": {"codeList": "art"}},
        {
            "name": "gruppe",
            "constraints": {"required": True},
            "nevefield": {"codeList": "gruppe", "parent": "art"},
        },
        {"name": "von", "type": "date", "constraints": {"required": True}},
        {"name": "bis", "type": "date"},
    ],
    "nevefield": {"groups": [KIND], "likeness": {"off": True}},
}
ROSTER = [
    {"nr": "A1", "art": "CHOR", "gruppe": "KAM", "von": "2025-01-01"},
    {"nr": "A1", "art": "AG", "gruppe": "SCH", "von": "2025-01-01"},
    {"nr": "B2", "art": "CHOR", "gruppe": "KAM", "von": "2024-01-01", "bis": "2026-06-30"},
    {"nr": "C3", "art": "CHOR", "gruppe": "JUG", "von": "2025-01-01"},
    {"nr": "C3", "art": "AG", "gruppe": "IMK", "von": "2026-10-01"},
]
NUMBERS = [21, 22, 23, 24, 25]
NAMES = [
    {"nr": "A1", "name": "Öztürk"},
    {"nr": "B2", "name": "Kreß"},
    {"nr": "C3", "name": "Ní Bhriain"},
]


def look(rows: str, *steps: dict, document=DOCUMENT):
    definition = read_definition(document)
    snapshot = Snapshot.of_values(definition, NUMBERS, ROSTER, 3)
    others = {"mitglieder": Snapshot.of_values(read_definition(PEOPLE), [1, 2, 3], NAMES, 1)}
    data = ("nr;art;gruppe;von;bis\n" + rows).encode()
    return evaluate(
        Inputs(
            data,
            [read_step(step) for step in steps],
            definition,
            CODES,
            snapshot,
            TODAY,
            others=others,
        )
    )


def asked(evaluation) -> list[int]:
    return [
        line
        for cause in evaluation.causes
        if cause.hit.check == "one-group"
        for line in evaluation.table.lines[cause.open_rows].tolist()
    ]


def ended(evaluation) -> dict[str, str]:
    """Who ends, and on which day, as the plan has it."""
    plan = plan_changes(evaluation)
    who = [f"{ROSTER[place]['nr']} {ROSTER[place]['gruppe']}" for place in plan.ending]
    return dict(zip(who, plan.ended, strict=True))


def test_asks_about_the_other_group():
    """Who joins a second choir is asked about; a second club is nobody's concern, nor is one
    after the first has ended.
    """
    evaluation = look("A1;CHOR;JUG;2026-09-15;\nA1;AG;IMK;2026-09-15;\nB2;CHOR;JUG;2026-09-15;\n")
    assert asked(evaluation) == [2]
    assert outcomes(evaluation) == {2: "waiting", 3: "new", 4: "new"}
    (cause,) = [one for one in evaluation.causes if one.hit.check == "one-group"]
    said = (
        "A1 is in KAM (since 2025-01-01), and CHOR allows one group at a time. End that on"
        " 2026-09-14, or let both be."
    )
    assert cause.hit.say(0) == said


def test_the_other_ends_the_day_before():
    """The first remedy ends the other membership the day before; it is shown, and part of the
    plan.
    """
    rows = "A1;CHOR;JUG;2026-09-15;\n"
    evaluation = look(rows)
    (cause,) = [one for one in evaluation.causes if one.hit.check == "one-group"]
    step = step_for(evaluation, cause.id, "end_other", value=None, reason="", lines=None)
    after = look(rows, step)
    assert (asked(after), outcomes(after), after.altering) == ([], {2: "new"}, 2)
    ((who, document),) = ended(after).items()
    assert who == "A1 KAM"
    assert '"bis":"2026-09-14"' in document
    assert after.tally.absent == 0
    waived = {
        "kind": "waive",
        "check": "one-group",
        "field": "gruppe",
        "lines": [2],
        "reason": "singt in beiden",
    }
    assert ended(look(rows, waived)) == {}


def test_two_in_one_file():
    """Of two choirs in one file the later row is asked about; days that do not meet are no
    matter.
    """
    assert asked(look("D4;CHOR;KAM;2026-09-15;\nD4;CHOR;JUG;2026-09-15;\n")) == [3]
    assert asked(look("D4;CHOR;KAM;2026-09-15;2026-12-31\nD4;CHOR;JUG;2027-01-01;\n")) == []
    # ended by the file itself
    assert asked(look("A1;CHOR;KAM;2025-01-01;2026-08-31\nA1;CHOR;JUG;2026-09-15;\n")) == []


def test_cannot_end_before_it_began():
    """A membership that began no earlier cannot end the day before: then one is held, left out,
    or both are let be.
    """
    rows = "C3;CHOR;KAM;2025-01-01;\n"
    evaluation = look(rows)
    (cause,) = [one for one in evaluation.causes if one.hit.check == "one-group"]
    with pytest.raises(WrongStep, match="None of the others can end the day before"):
        step_for(evaluation, cause.id, "end_other", value=None, reason="", lines=None)


@pytest.mark.parametrize(
    ("of", "left_out"),
    [
        ("listed", []),
        ("people", ["A1 KAM"]),
        ("groups", ["C3 JUG"]),
        ("everybody", ["A1 KAM", "A1 SCH", "B2 KAM", "C3 JUG", "C3 IMK"]),
    ],
)
def test_exactly_these(of, left_out):
    """Of the people in the file, only kinds that it has; of its groups, whoever is in them; what
    was over before is let be.
    """
    evaluation = look(
        "A1;CHOR;JUG;2026-09-15;\nB2;CHOR;JUG;2026-09-15;\n", {"kind": "coverage", "of": of}
    )
    absent = evaluation.absent.tolist()
    assert [f"{ROSTER[place]['nr']} {ROSTER[place]['gruppe']}" for place in absent] == left_out
    end = {"kind": "absent", "act": "end", "field": "bis", "day": "2026-08-31"}
    after = look(
        "A1;CHOR;JUG;2026-09-15;\nB2;CHOR;JUG;2026-09-15;\n", {"kind": "coverage", "of": of}, end
    )
    assert list(ended(after)) == [who for who in left_out if who != "B2 KAM"]


def test_empty_and_unknown():
    """A file with nobody in it leaves nobody out; a person whom nobody knows is no member of
    anything.
    """
    assert look("", {"kind": "coverage", "of": "people"}).tally.absent == 0
    assert look("", {"kind": "coverage", "of": "groups"}).tally.absent == 0
    assert asked(look("Z9;CHOR;KAM;bald;\nZ9;CHOR;JUG;2026-09-15;\n")) == []


def test_named_by_the_other_roster():
    """A membership has the name of its person; a number that is nobody's has none."""
    evaluation = look("A1;CHOR;JUG;2026-09-15;\nc3;AG;SCH;2026-09-15;\nZ9;AG;SCH;2026-09-15;\n")
    assert [name_of_row(evaluation, row) for row in range(3)][:1] == ["Öztürk"]
    assert name_of_row(evaluation, 2) in ("Z9", "")


def test_only_memberships_claim_so():
    """What is no membership claims everybody, a part or only who is in it; the kinds that allow
    one are named rightly.
    """
    with pytest.raises(WrongStep, match="A record of Crew is no membership"):
        refuse_unknown(read_step({"kind": "coverage", "of": "people"}), CREW)
    assert work_out("no,name\n1,Ines\n", {"kind": "coverage", "of": "groups"}).tally.absent == 0
    with pytest.raises(WrongDefinition, match=r"groups\[0\].one"):
        read_kinds([{**KIND, "one": "CHOR"}], {"nr", "art", "gruppe", "von", "bis"})
