"""Edits one after the other: whatever is done in whichever order, what an evaluation takes over
is what it would find anew.
"""

from __future__ import annotations

import copy
import csv
import io
import json
from contextlib import contextmanager
from datetime import date
from functools import partial
from unittest.mock import patch

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.changes.plan import plan_changes
from nevefield.core.checking.catalog import DECLARED
from nevefield.core.checking.causes import iter_findings
from nevefield.core.codes import read_codes
from nevefield.core.columns.pairing import known_headings
from nevefield.core.defining.reading import read_definition
from nevefield.core.edits import limits
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.people.recognising import likeness_of_record
from nevefield.core.reading import read_file
from nevefield.core.snapshot import Snapshot
from nevefield.core.stages import STAGES
from nevefield.core.steps import read_step
from nevefield.core.texts import SEVERAL
from tests.core.declaring import declarations
from tests.examples import part

TODAY = date(2026, 9, 1)
CODES = read_codes(
    "list,code,label,parent,first_day,last_day\n"
    "dept,NAV,Navigation,,2020-01-01,2026-12-31\ndept,MEN,Engines,,,\n"
    "prog,DECK,Deck,NAV,,\nprog,ENGR,Engineer,MEN,,\n"
    "roles,MEMBER,Member,,,\nroles,REGIST,Registrar,,,\nroles,ARMOUR,Armourer,,,\n"
)
DOCUMENT = {
    "name": "crew",
    "primaryKey": "no",
    "fields": [
        {"name": "no", "constraints": {"required": True, "unique": True}},
        {
            "name": "family",
            "nevefield": {"means": "family-name"},
            "constraints": {"required": True},
        },
        {"name": "given", "nevefield": {"means": "given-names"}},
        {"name": "born", "type": "date", "nevefield": {"means": "birth-date"}},
        {"name": "mail", "format": "email", "constraints": {"unique": True}},
        {"name": "dept", "nevefield": {"codeList": "dept", "onDay": "from"}},
        {"name": "prog", "nevefield": {"codeList": "prog", "parent": "dept"}},
        {"name": "roles", "nevefield": {"codeList": "roles", "several": ";"}},
        {"name": "from", "type": "date"},
        {"name": "to", "type": "date"},
        {"name": "mate"},
        {"name": "credits", "type": "number"},
    ],
}
# Another day, and lists that somebody has altered meanwhile.
LATER = date(2027, 1, 15)
ALTERED = read_codes(
    "list,code,label,parent,first_day,last_day\n"
    "dept,NAV,Navigation,,,\ndept,MEN,Engines,,,2026-08-31\ndept,XX,New,,,\n"
    "prog,DECK,Deck,MEN,,\nprog,ENGR,Engineer,MEN,,\n"
    "roles,MEMBER,Member,,,\nroles,REGIST,Registrar,,,\nroles,ARMOUR,Armourer,,,\n"
)
ROSTER = [
    {
        "no": "1",
        "family": "Adair",
        "given": "Ines",
        "born": "2008-03-14",
        "mail": "ines@q.example",
        "dept": "NAV",
        "prog": "DECK",
    },
    {
        "no": "2",
        "family": "Adair",
        "given": "Ivo",
        "born": "2010-03-14",
        "mail": "ivo@q.example",
        "dept": "NAV",
    },
    {
        "no": "3",
        "family": "Brandt",
        "given": "Tove",
        "born": "2009-01-02",
        "dept": "MEN",
        "prog": "ENGR",
        "roles": ["MEMBER"],
    },
    {
        "no": "4",
        "family": "Brand",
        "given": "Tove",
        "born": "2009-02-01",
        "dept": "MEN",
        "roles": ["MEMBER", "REGIST"],
    },
    {
        "no": "5",
        "family": "Okafor",
        "given": "Una",
        "born": "2007-06-30",
        "mail": "una@q.example",
        "to": "2026-06-30",
    },
]
OTHERS = Snapshot.of_values(
    read_definition(DOCUMENT), [1], [{"no": "9", "mail": "taken@q.example"}], 1
)
VALUES = {
    "no": ["1", "2", "3", "4", "7", ""],
    "family": ["Adair", "Brandt", "Brand", "Okafor", "adair", ""],
    "given": ["Ines", "Ivo", "Tove", "Una", "Adair", "I.", ""],
    "born": ["2008-03-14", "2010-03-14", "2009-01-02", "2009-02-01", "31/02/2009", ""],
    "mail": ["ines@q.example", "una@q.example", "new@q.example", "taken@q.example", "x@", ""],
    "dept": ["NAV", "MEN", "nav", "Engines", "XX", ""],
    "prog": ["DECK", "ENGR", "Deck", ""],
    "roles": ["MEMBER", "REGIST", "MEMBER;ARMOUR", "REGIST;ARMOUR", "registrar", ""],
    "from": ["2026-09-01", "2027-02-01", "2019-09-01", ""],
    "to": ["2026-06-30", "2026-10-01", "2029-06-30", "soon", ""],
    "mate": ["1", "2", "7", "99", ""],
    "credits": ["1", "12,5", "many", ""],
}
CONDITIONS = [
    {"field": "born", "under": 18, "on": "2026-09-01"},
    {"field": "dept", "is": "NAV"},
    {"field": "prog", "is": ["DECK"]},
    {"any": [{"field": "roles", "has": "REGIST"}, {"field": "mate", "filled": True}]},
    {"none": [{"field": "to", "until": "today"}]},
]
PARTS = {part for stage in STAGES for part in stage.parts}
OTHER_ROSTERS = [{"others": "mail"}, {"others": "no", "moon": "no"}]
DECLARATIONS = partial(
    declarations, DOCUMENT["fields"], VALUES, CONDITIONS, ["dept", "roles"], OTHER_ROSTERS
)
CHECKS = st.lists(DECLARATIONS(), max_size=8)
ROWS = st.lists(
    st.tuples(*(st.sampled_from(values) for values in VALUES.values())), min_size=1, max_size=7
)
LINES = st.lists(st.integers(2, 8), min_size=1, max_size=2)


def sets(values):
    """Make steps that set a field in a line or two to one of its values."""
    return st.sampled_from(list(values)).flatmap(
        lambda name: st.builds(
            lambda lines, value: {
                "kind": "set",
                "cells": [{"line": line, "field": name, "value": value} for line in lines],
            },
            LINES,
            st.sampled_from(values[name]),
        )
    )


OTHER_STEPS = st.one_of(
    st.builds(lambda number: {"kind": "undo", "step": number}, st.integers(1, 12)),
    st.builds(lambda lines: {"kind": "hold", "lines": lines, "reason": "asked"}, LINES),
    st.builds(lambda lines: {"kind": "release", "lines": lines}, LINES),
    st.builds(
        lambda line, record: {"kind": "person", "choices": [{"line": line, "record": record}]},
        st.integers(2, 8),
        st.sampled_from([11, 12, 13, 14, None]),
    ),
    st.builds(
        lambda certain: {"kind": "limits", "certain": certain, "nobody": 1},
        st.sampled_from([50, 90]),
    ),
    st.builds(
        lambda field, rule: {"kind": "update", "field": field, "rule": rule},
        st.sampled_from(["mail", "roles", "credits"]),
        st.sampled_from(["ours", "blanks", "file"]),
    ),
    st.builds(
        lambda keys: {"kind": "known_by", "keys": keys},
        st.sampled_from(
            [None, [], [["mail"]], [["family", "given", "born"], ["no"]], [["mail"], ["no"]]]
        ),
    ),
    st.builds(
        lambda whom: {"kind": "takes", "of": whom}, st.sampled_from(["new", "known", "both"])
    ),
    st.just({"kind": "translate", "field": "dept", "texts": ["XX"], "to": "NAV"}),
    st.just(
        {
            "kind": "compose",
            "field": "mate",
            "pattern": {"pieces": [{"field": "family", "letters": 3}]},
        }
    ),
    st.just(
        {
            "kind": "compose",
            "field": "dept",
            "pattern": {"pieces": [{"text": "XX"}], "case": "upper", "unique": False},
        }
    ),
)
STEPS = st.lists(st.one_of(*[sets(VALUES)] * 4, OTHER_STEPS), min_size=1, max_size=12)
# Of people only, and these so alike that several rows may be one record, and one row several.
WHO = ["no", "family", "given", "born", "mail"]
WHO_VALUES = {
    "no": ["", "", "7", "3", "4"],
    "family": ["Brandt", "Brand", "Adair"],
    "given": ["Tove", "Ines", "T."],
    "born": ["2009-01-02", "2009-02-01", "2008-03-14", ""],
    "mail": ["", "ines@q.example", "tove@q.example"],
}
ALIKE = st.lists(
    st.tuples(*(st.sampled_from(WHO_VALUES[name]) for name in WHO)), min_size=2, max_size=7
)
WHO_STEPS = st.lists(st.one_of(*[sets(WHO_VALUES)] * 4, OTHER_STEPS), min_size=1, max_size=10)
KEYS = st.sampled_from(
    [["no"], ["no", "mail"], [["no"], ["family", "given", "born"]], ["mail", "no"]]
)
TO_SELF = {"fields": "mate", "reference": {"resource": "", "fields": "no"}}
FOREIGN = [
    [],
    [{**TO_SELF, "nevefield": {"hierarchy": True}}],
    [TO_SELF],
    [{"fields": ["mate", "dept"], "reference": {"resource": "", "fields": ["no", "dept"]}}],
]
PLACEMENT = [{"when": {"field": "prog", "is": "ENGR"}, "field": "dept", "value": "MEN"}]


@st.composite
def definitions(draw):
    """The crew's definition with some of all checks, with one key or several, with references or
    without.
    """
    document = copy.deepcopy(DOCUMENT)
    document["nevefield"] = {
        "checks": draw(CHECKS),
        "keys": draw(KEYS),
        "placement": draw(st.sampled_from([[], PLACEMENT])),
    }
    document["foreignKeys"] = draw(st.sampled_from(FOREIGN))
    if draw(st.sampled_from([True, False, False])):
        document["primaryKey"] = ["no", "dept"]
        document["nevefield"].pop("keys")
    return read_definition(document)


@part(0.3)
@given(
    definitions(),
    ROWS,
    STEPS,
    st.booleans(),
    st.lists(st.sampled_from(["", "", "", "day", "codes"]), min_size=13, max_size=13),
)
def test_each_edit_is_as_from_nothing(definition, rows, steps, said_before, meanwhile):
    """Step after step: the same causes with the same words, the same people, changes, absent and
    plan as all at once.

    Meanwhile another day may have come, or the code lists may have been altered.
    """
    follow(definition, list(VALUES), rows, steps, said_before=said_before, meanwhile=meanwhile)


@pytest.mark.parametrize("name", DECLARED)
@part(0.15)
@given(st.data())
def test_every_check_is_mended(name, data):
    """Edits of nothing but what a check looks at: what it finds after each is what it would find
    anew.
    """
    declared = data.draw(DECLARATIONS(check=DECLARED[name]))
    definition = read_definition({**copy.deepcopy(DOCUMENT), "nevefield": {"checks": [declared]}})
    names = [
        "no",
        *(name for name in VALUES if f'"{name}"' in json.dumps(declared) and name != "no"),
    ]
    pools = {
        name: data.draw(
            st.lists(st.sampled_from(VALUES[name]), min_size=2, max_size=3, unique=True)
        )
        for name in names
    }
    rows = data.draw(
        st.lists(
            st.tuples(*(st.sampled_from(pools[name]) for name in names)), min_size=2, max_size=6
        )
    )
    steps = data.draw(
        st.lists(sets({name: VALUES[name] for name in names}), min_size=3, max_size=8)
    )
    follow(definition, names, rows, steps, said_before=False)


@part(0.5)
@given(st.sampled_from([["no"], ["no", "mail"]]), ALIKE, WHO_STEPS, st.booleans())
def test_who_is_who_after_each_edit(keys, rows, steps, said_before):
    """Rows that contend for a few records who are alike: whoever is edited, held or decided, all
    are who they would be anew.
    """
    document = {**copy.deepcopy(DOCUMENT), "nevefield": {"keys": keys}}
    follow(read_definition(document), WHO, rows, steps, said_before=said_before)


@contextmanager
def small_limits():
    """Let hardly anything count as little: what is followed piece by piece elsewhere is made
    whole here, and the reverse.
    """
    small = {"ROWS": 1, "EDITS": 2, "SINGLE": 1, "TEXTS": 1, "PAIRS": 1, "VALUES": 2, "ROOM": 24}
    assert set(small) == set(limits.__all__)
    with patch.multiple(limits, **small):
        yield


@part(0.3)
@given(definitions(), ROWS, STEPS, st.booleans())
def test_each_edit_with_small_limits(definition, rows, steps, said_before):
    """Where the limits are so small that every shortcut ends, all is as from nothing too."""
    with small_limits():
        follow(definition, list(VALUES), rows, steps, said_before=said_before)


@part(0.3)
@given(st.sampled_from([["no"], ["no", "mail"]]), ALIKE, WHO_STEPS, st.booleans())
def test_who_is_who_with_small_limits(keys, rows, steps, said_before):
    """And so for people who are alike."""
    document = {**copy.deepcopy(DOCUMENT), "nevefield": {"keys": keys}}
    with small_limits():
        follow(read_definition(document), WHO, rows, steps, said_before=said_before)


def follow(definition, names, rows, steps, *, said_before, meanwhile=("",) * 13):
    """Do the steps one after the other, each going on from the one before, and compare with all
    at once.
    """
    out = io.StringIO(newline="")
    csv.writer(out).writerows([names, *rows])
    data = out.getvalue().encode()
    snapshot = Snapshot.of_values(definition, [11, 12, 13, 14, 15], ROSTER, 4)
    said = {likeness_of_record(snapshot, 2): {14: False, 13: True}} if said_before else None
    by_hand = {"mail": {11: "by A. Tamm"}}
    read = read_file(data, known=known_headings(definition))
    before = None
    for count in range(len(steps) + 1):
        parsed = [read_step(step) for step in steps[:count]]

        def work_out(memo, parsed=parsed, now=meanwhile[count]):
            return evaluate(
                Inputs(
                    data,
                    parsed,
                    definition,
                    ALTERED if now == "codes" else CODES,
                    snapshot,
                    LATER if now == "day" else TODAY,
                    coverage="everybody",
                    read=read,
                    others={"others": OTHERS},
                    said=said,
                    by_hand=by_hand,
                ),
                before=memo,
            )

        after, whole = work_out(before), work_out(None)
        before = after.memo
        assert told(after) == told(whole)
        assert {name[0] if isinstance(name, tuple) else name for name in before._parts} <= PARTS
        # how several values are kept is shown to nobody
        assert not [one for one in texts_of(after) if SEVERAL in one]


def texts_of(evaluation) -> list[str]:
    """Every text that a person reads of an evaluation's causes."""
    found = []
    for one in evaluation.causes:
        found += [
            one.hit.title,
            *(finding.message for finding in iter_findings(one, evaluation.facts)),
        ]
        found += [text for remedy in one.remedies for text in (remedy.label, remedy.value or "")]
    return found


def told(evaluation) -> dict[str, object]:
    """Everything that is shown of an evaluation."""
    people = evaluation.facts.people
    return {
        "tally": evaluation.tally,
        "outcomes": evaluation.outcomes.tolist(),
        "changes": {name: rows.tolist() for name, rows in evaluation.changes.items()},
        "absent": evaluation.absent.tolist(),
        "plan": plan_changes(evaluation).documents,
        "causes": [
            (one.id, one.hit.title, one.frees, one.is_open, one.follows, one.value, one.remedies)
            for one in evaluation.causes
        ],
        "findings": [list(iter_findings(one, evaluation.facts)) for one in evaluation.causes],
        "known": [
            evaluation.known.record.tolist(),
            evaluation.known.by.tolist(),
            evaluation.known.disagree,
        ],
        "decisions": people.decision.tolist(),
        "candidates": [
            people.candidates(row)[:1] and [one[:2] for one in people.candidates(row)]
            for row in range(len(evaluation.table))
        ],
        "rivals": people.likely.rivals if people.likely else None,
        "followed": {name: rows.tolist() for name, rows in evaluation.facts.followed.items()},
    }
