"""The checks that a definition can declare: what they hold, what they take, an example that passes
and one that fails.

To add one, put its entry here and the function that runs it where its kind is (`rows`, `groups`,
`whole`). The reading and refusing of its declarations, what its memo rests on, the editor, the
API's document, `docs/checks.md`, the test of its example and the property test of edits follow from
the entry.
"""

from __future__ import annotations

from dataclasses import dataclass, field

from nevefield.core.borders import Json
from nevefield.core.checking import groups, references, rows, standins, whole
from nevefield.core.checking.groups import OfGroups
from nevefield.core.checking.options import Option, OptionKind
from nevefield.core.checking.rows import OfRows
from nevefield.core.checking.whole import OfFile

__all__ = ["DECLARED", "Declared"]


@dataclass(frozen=True)
class Declared:
    """A check that a definition declares."""

    name: str
    weight: str  # when the declaration says none
    holds: str
    run: OfRows | OfGroups | OfFile
    fewest: int = 1  # fields that it takes
    most: int = 1
    options: tuple[Option, ...] = ()
    example: dict[str, Json] = field(default_factory=dict)  # a whole declaration
    passes: str = ""
    fails: str = ""


WHEN = Option(
    "when",
    OptionKind.CONDITION,
    "a condition; rows where it does not hold are passed over",
    {"field": "band", "is": "junior"},
    label="where",
)
ON = Option("on", OptionKind.DAY, "a day, or today", "2026-09-01", label="on the day")
BY = Option(
    "by",
    OptionKind.FIELDS,
    "the fields whose values together make a group",
    ["watch"],
    is_needed=True,
)
SHARE = Option("most", OptionKind.NUMBER, "the share, such as 0.1", 0.5, is_needed=True)

DECLARED: dict[str, Declared] = {
    check.name: check
    for check in (
        Declared(
            "order",
            "stop",
            "no field holds a later day or greater number than the one named after it; empty ones"
            " are passed over",
            OfRows(rows.check_order),
            fewest=2,
            most=9,
            options=(WHEN,),
            example={"check": "order", "fields": ["first", "last"]},
            passes="first=2026-09-01 last=2029-06-30",
            fails="first=2026-09-01 last=2023-06-30",
        ),
        Declared(
            "compare",
            "stop",
            "two fields stand to each other as said",
            OfRows(rows.check_compare),
            fewest=2,
            most=2,
            options=(
                Option(
                    "how",
                    OptionKind.CHOICE,
                    "how the first stands to the second",
                    "different",
                    is_needed=True,
                    choices=tuple(rows.COMPARISONS),
                ),
                WHEN,
            ),
            example={"check": "compare", "fields": ["mail", "other_mail"], "how": "different"},
            passes="mail=a@x.example other_mail=b@x.example",
            fails="mail=a@x.example other_mail=A@x.example",
        ),
        Declared(
            "required-when",
            "stop",
            "a field is filled where a condition holds",
            OfRows(rows.check_required_when),
            most=9,
            options=(
                Option(
                    "when",
                    OptionKind.CONDITION,
                    "the condition",
                    {"field": "born", "under": 18, "on": "2026-09-01"},
                    label="where",
                    is_needed=True,
                ),
            ),
            example={
                "check": "required-when",
                "fields": ["guardian"],
                "when": {"field": "born", "under": 18, "on": "2026-09-01"},
            },
            passes="born=2009-03-14 guardian=Adair",
            fails="born=2009-03-14 guardian=",
        ),
        Declared(
            "home-area",
            "ask",
            "a value is one of the home area; others go in with a reason",
            OfRows(rows.check_home_area),
            most=9,
            options=(
                Option(
                    "within",
                    OptionKind.VALUES,
                    "the values of the area",
                    ["SKV", "TQY"],
                    is_needed=True,
                ),
                Option(
                    "reasons",
                    OptionKind.CODE_LIST,
                    "a code list from which the reason is taken",
                    "role",
                ),
                WHEN,
            ),
            example={"check": "home-area", "fields": ["port"], "within": ["SKV", "TQY"]},
            passes="port=SKV",
            fails="port=OST",
        ),
        Declared(
            "age",
            "stop",
            "somebody's age on a day lies in a band; several with conditions make bands that depend"
            " on a field",
            OfRows(rows.check_age),
            options=(
                ON,
                Option("least", OptionKind.NUMBER, "whole years", 16),
                Option("most", OptionKind.NUMBER, "whole years", 18),
                WHEN,
            ),
            example={
                "check": "age",
                "fields": ["born"],
                "on": "2026-09-01",
                "least": 16,
                "most": 18,
                "when": {"field": "band", "is": "junior"},
            },
            passes="born=2009-03-14 band=junior",
            fails="born=2000-03-14 band=junior",
        ),
        Declared(
            "runs-out",
            "ask",
            "a document has not run out, and does not within some days",
            OfRows(rows.check_runs_out),
            options=(Option("within", OptionKind.NUMBER, "days from today", 30), WHEN),
            example={"check": "runs-out", "fields": ["medical"], "within": 30},
            passes="medical=2027-09-01",
            fails="medical=2026-09-15",
        ),
        Declared(
            "ended",
            "ask",
            "an end day is not past already, unless the roster has it so: nobody is in the roster"
            " as ended by surprise",
            OfRows(rows.check_ended, beside="records"),
            options=(WHEN,),
            example={"check": "ended", "fields": ["last"]},
            passes="last=2027-06-30",
            fails="last=2026-06-30",
        ),
        Declared(
            "raised",
            "ask",
            "no privilege above the lowest is gained",
            OfRows(rows.check_raised, beside="records"),
            options=(
                Option(
                    "lowest",
                    OptionKind.VALUES,
                    "the codes that need no yes",
                    ["MEMBER"],
                    is_needed=True,
                ),
                Option("ends", OptionKind.FLAG, "the yes must say until which day", True),
                WHEN,
            ),
            example={"check": "raised", "fields": ["roles"], "lowest": ["MEMBER"]},
            passes="roles=MEMBER",
            fails="roles=REGIST",
        ),
        Declared(
            "never-together",
            "stop",
            "values that must not meet in one record do not",
            OfRows(rows.check_apart),
            options=(
                Option(
                    "codes",
                    OptionKind.VALUES,
                    "of which a record has one at most",
                    ["REGIST", "ARMOUR"],
                    is_needed=True,
                ),
                WHEN,
            ),
            example={"check": "never-together", "fields": ["roles"], "codes": ["REGIST", "ARMOUR"]},
            passes="key=1 roles=REGIST",
            fails="key=1 roles=REGIST;ARMOUR",
        ),
        Declared(
            "stand-in",
            "ask",
            "a mail address or phone number is somebody's: no `none3@…`, no `0000000`, no address"
            " that is that of many",
            OfRows(standins.check_stand_ins, beside="rows"),
            most=9,
            options=(
                Option(
                    "most",
                    OptionKind.NUMBER,
                    f"people who may share an address, {standins.SHARED_BY} when left out",
                    1,
                ),
                WHEN,
            ),
            example={"check": "stand-in", "fields": ["other_mail"]},
            passes="other_mail=ines@q.example",
            fails="other_mail=none3@q.example",
        ),
        Declared(
            "spelling",
            "ask",
            "a code or its label is written as the list has it: one that differs only in case or"
            " spaces is asked about",
            OfRows(rows.check_spelling),
            most=9,
            options=(WHEN,),
            example={"check": "spelling", "fields": ["roles"]},
            passes="key=1 roles=Registrar",
            fails="key=1 roles=registrar",
        ),
        Declared(
            "overlap",
            "stop",
            "of rows that share the fields `of`, no two hold over days that overlap (one primary"
            " enrolment at a time)",
            OfRows(references.check_overlap, beside="rows"),
            fewest=2,
            most=2,
            options=(
                Option(
                    "of",
                    OptionKind.FIELDS,
                    "the fields that such rows share",
                    ["mariner"],
                    is_needed=True,
                ),
                WHEN,
            ),
            example={"check": "overlap", "fields": ["first", "last"], "of": ["mariner"]},
            passes=(
                "first=2026-09-01 last=2027-06-30 mariner=1\nfirst=2027-09-01 last=2028-06-30"
                " mariner=1"
            ),
            fails=(
                "first=2026-09-01 last=2027-06-30 mariner=1\nfirst=2027-01-01 last=2028-06-30"
                " mariner=1"
            ),
        ),
        Declared(
            "unique-across",
            "stop",
            "nobody in other rosters has the value",
            OfRows(references.check_unique_across, beside="rosters"),
            options=(
                Option(
                    "rosters",
                    OptionKind.ROSTERS,
                    "the field in each, by the roster's name",
                    {"others": "mail"},
                    is_needed=True,
                ),
                WHEN,
            ),
            example={"check": "unique-across", "fields": ["mail"], "rosters": {"others": "mail"}},
            passes="mail=a@x.example",
            fails="mail=taken@x.example",
        ),
        Declared(
            "lead",
            "ask",
            "a group that has its lead keeps exactly one",
            groups.LEAD,
            fewest=0,
            most=0,
            options=(
                BY,
                Option(
                    "lead",
                    OptionKind.CONDITION,
                    "the condition on its lead",
                    {"field": "position", "is": "CAPT"},
                    label="the lead is who",
                    is_needed=True,
                ),
                WHEN,
            ),
            example={
                "check": "lead",
                "fields": [],
                "by": ["watch"],
                "lead": {"field": "position", "is": "CAPT"},
            },
            passes="key=1 watch=SKUA position=CAPT",
            fails="key=1 watch=SKUA position=HAND",
        ),
        Declared(
            "group-size",
            "ask",
            "a group that the file changes stays within its least and most",
            groups.SIZE,
            fewest=0,
            most=0,
            options=(
                BY,
                Option("least", OptionKind.NUMBER, "people", 1),
                Option("most", OptionKind.NUMBER, "people", 2),
                WHEN,
            ),
            example={"check": "group-size", "fields": [], "by": ["watch"], "least": 1, "most": 2},
            passes="key=2 watch=SKUA",
            fails="key=2 watch=SKUA\nkey=3 watch=SKUA",
        ),
        Declared(
            "group-ages",
            "ask",
            "the people of a group that the file changes are all in one band of ages",
            groups.AGES,
            options=(
                BY,
                Option(
                    "bands",
                    OptionKind.BANDS,
                    "pairs of whole years",
                    [[16, 17], [18, 99]],
                    is_needed=True,
                ),
                ON,
                WHEN,
            ),
            example={
                "check": "group-ages",
                "fields": ["born"],
                "by": ["watch"],
                "bands": [[16, 17], [18, 99]],
                "on": "2026-09-01",
            },
            passes="key=2 watch=TERN born=2009-03-14\nkey=3 watch=TERN born=2010-03-14",
            fails="key=2 watch=TERN born=2009-03-14\nkey=3 watch=TERN born=2000-03-14",
        ),
        Declared(
            "absent-share",
            "ask",
            "of a file that claims everybody, at most a share of the roster is absent",
            OfFile(whole.check_absent),
            fewest=0,
            most=0,
            options=(SHARE,),
            example={"check": "absent-share", "fields": [], "most": 0.5},
            passes="key=1",
            fails="key=9",
        ),
        Declared(
            "changed-share",
            "ask",
            "at most a share of the known rows changes, in the fields named or in any",
            OfFile(whole.check_changed),
            fewest=0,
            most=9,
            options=(SHARE,),
            example={"check": "changed-share", "fields": ["watch"], "most": 0.5},
            passes="key=1 watch=SKUA",
            fails="key=1 watch=TERN",
        ),
        Declared(
            "code-vanished",
            "ask",
            "of a file that claims everybody, no code that records have is in no row",
            OfFile(whole.check_vanished),
            most=9,
            example={"check": "code-vanished", "fields": ["watch"]},
            passes="key=1 watch=SKUA",
            fails="key=1 watch=TERN",
        ),
        Declared(
            "row-count",
            "ask",
            "the file has as many rows as it should",
            OfFile(whole.check_rows),
            fewest=0,
            most=0,
            options=(
                Option("least", OptionKind.NUMBER, "rows", 1),
                Option("most", OptionKind.NUMBER, "rows", 2),
            ),
            example={"check": "row-count", "fields": [], "most": 1},
            passes="key=1",
            fails="key=1\nkey=2",
        ),
    )
}
