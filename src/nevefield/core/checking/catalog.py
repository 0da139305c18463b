"""All checks by name: what they hold, what they take, and an example of each that passes and one that fails.

`docs/checks.md` is written from this list, and a test runs every example.
"""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from nevefield.core.checking import references, rows, standins

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.core.checking.facts import Facts, Hit
    from nevefield.core.definition import Check

__all__ = ["ALWAYS", "DECLARED", "Always", "Declared", "write_documents"]


@dataclass(frozen=True)
class Always:
    """A check that follows from a field's own properties, and needs no declaration."""

    name: str
    weight: str
    holds: str
    fails: str


@dataclass(frozen=True)
class Declared:
    """A check that a definition declares."""

    name: str
    weight: str  # when the declaration says none
    holds: str
    needs: tuple[str, ...] = ()  # options that must be there
    takes: tuple[str, ...] = ()  # options that may be
    fields: tuple[int, int] = (1, 1)  # how many it takes
    run: Callable[[Facts, Check], list[Hit]] | None = None  # None: run where its kind is
    about: str = "row"  # row, group, file
    looks: str = "row"  # at what beside the row's own values: row (nothing), records, rosters (others too), rows (of this file)
    options: str = ""  # what the options mean
    example: dict[str, Any] = field(default_factory=dict)
    passes: str = ""
    fails: str = ""


ALWAYS = (
    Always("required", "stop", "a required field is filled, in a new record at least", "a new cadet without given names"),
    Always("type", "stop", "the text is a value of the field's type", "`31/02/2027` as a day"),
    Always("format", "stop", "a mail address or phone number is one", "a phone number in the mail column"),
    Always("minimum", "stop", "the constraint `minimum` holds", "born 1899-01-01 for 1940-01-01"),
    Always("maximum", "stop", "the constraint `maximum` holds", "card number 70000 for 65535"),
    Always("minLength", "stop", "the constraint `minLength` holds", "`A` for two characters"),
    Always("maxLength", "stop", "the constraint `maxLength` holds", "a name of 80 characters for 60"),
    Always(
        "pattern",
        "stop",
        "the constraint `pattern` holds; where only accents are in the way, the plain text is offered",
        "berth `E123` for `[A-D][0-9]{3}`",
    ),
    Always("enum", "stop", "the constraint `enum` holds", "`maybe` for yes, no"),
    Always(
        "date-order",
        "stop",
        "day and month can be told apart",
        "`03/04/2026` in a column where nothing decides; one click settles the column",
    ),
    Always(
        "date-swapped",
        "stop",
        "a day is one in the order that the column has; the day that was meant is offered",
        "`03/25/2008` among days with the day first",
    ),
    Always(
        "dates-turned",
        "stop",
        "real dates were not turned round by a spreadsheet of the other order: found when all of them have days up to 12 while every text has a part over 12; turned back by one click",
        "`2008-04-03` beside `25/04/2008`",
    ),
    Always(
        "decimal-mark",
        "stop",
        "it is clear whether a comma or a point stands before the decimals",
        "`1,234` in a column where nothing decides",
    ),
    Always("identifier", "stop", "prefix, alphabet, length and check character fit the field's `identifier`", "`TQ2044105`"),
    Always("code", "stop", "the code is in the list, and in use on the day: today, or that of the field `onDay`", "“Deck dept”"),
    Always("parent", "stop", "the code's parent is the value of the parent field", "programme ENGR in department NAV"),
    Always(
        "damage",
        "stop",
        "no error of a spreadsheet (`#REF!`) and no day turned into a number stands in place of a value",
        "`39521` as a day",
    ),
    Always(
        "reference",
        "stop",
        "a foreign key leads to a record of the roster it names, or to a row of the file; it is compared as the field is that it refers to",
        "a manager whom nobody knows",
    ),
    Always(
        "by-hand",
        "ask",
        "a value that somebody set by hand since the source's last file is not changed back",
        "a new phone number that the registrar typed in last week, and the old one in the file",
    ),
    Always(
        "passed-over",
        "note",
        "the file is for such people: where it only adds, rows of people in the roster are left out; where it only changes, the others",
        "somebody new, in a file that was told to change people only",
    ),
    Always(
        "one-group",
        "ask",
        "of a kind of group that allows `one`, nobody is in two at a time",
        "somebody who joins another house while they are in one",
    ),
    Always("loop", "stop", "references that are declared a hierarchy go in no circle", "two who manage each other"),
    Always(
        "duplicate",
        "stop, or note",
        "no two rows are one person; equal rows go in once, with a note",
        "two rows with one cadet number",
    ),
    Always(
        "unknown-key",
        "stop",
        "a key leads to somebody, in a file that has no column for what a new person needs; what is missing then follows from it",
        "a list of numbers and phones, with a number that nobody has",
    ),
    Always(
        "number-shared",
        "stop",
        "rows with one number are one person: given names and days of birth (or, without these, both names) do not plainly differ",
        "Ines Adair, born 2008, and Kornel Brandt, born 1999, under one number",
    ),
    Always(
        "joined",
        "note",
        "nothing: tells which rows are one person and go in together, because they differ only in fields that take several values",
        "one row per chapter",
    ),
    Always(
        "same-person",
        "as the row it follows from",
        "no other row of the same person is stopped or waits",
        "a wrong chapter code in the second of three rows",
    ),
    Always(
        "who",
        "ask",
        "a row that no key knows is like nobody in the roster, or like one person beyond doubt",
        "the name and day of birth of two people in the roster",
    ),
    Always(
        "alike",
        "ask",
        "no two rows that nobody in the roster is are alike in name, day of birth and the rest, whatever their numbers say",
        "one person on two lines, once with a digit of the number mistyped",
    ),
    Always(
        "names-turned",
        "stop",
        "family and given name of somebody known by likeness stand where the roster has them",
        "Lorcan, Oakshaw for Oakshaw, Lorcan",
    ),
    Always(
        "likeness",
        "note",
        "nothing: tells which rows are taken for somebody by likeness, with the score",
        "a number that nobody has, with the name, day of birth and mail address of somebody",
    ),
    Always(
        "unique",
        "stop",
        "a unique value stands in one row of the file, alone or together with others",
        "one mail address in two rows",
    ),
    Always(
        "unique-in-roster",
        "stop",
        "nobody else in the roster has the value, unless this file gives them another",
        "a mail address of another cadet",
    ),
    Always("keys-disagree", "stop", "all keys of a row point to one record", "the number of one, the mail of another"),
    Always(
        "shifted",
        "stop",
        "no part of the row stands a column too far to the right or left",
        "mail under phone, and phone under home port",
    ),
    Always(
        "since",
        "ask",
        "a row that stayed open when its file was applied goes in only once somebody has said so, whatever became of roster, codes or day",
        "a row that waited for a person, of whom the roster has nobody like them any more",
    ),
    Always("repaired", "note", "nothing: tells what was mended with certainty, with the text as it was", "“ Adair ”"),
)
_WHEN = "`when`: a condition ([conditions](definition.md#conditions)); rows where it does not hold are passed over"
DECLARED: dict[str, Declared] = {
    one.name: one
    for one in (
        Declared(
            "order",
            "stop",
            "no field holds a later day or greater number than the one named after it; empty ones are passed over",
            takes=("when",),
            fields=(2, 9),
            run=rows.check_order,
            options=_WHEN,
            example={"check": "order", "fields": ["first", "last"]},
            passes="first=2026-09-01 last=2029-06-30",
            fails="first=2026-09-01 last=2023-06-30",
        ),
        Declared(
            "compare",
            "stop",
            "two fields stand to each other as said",
            needs=("how",),
            takes=("when",),
            fields=(2, 2),
            run=rows.check_compare,
            options="`how`: `same`, `different`, `less`, `more`, `at-most`, `at-least`; " + _WHEN,
            example={"check": "compare", "fields": ["mail", "other_mail"], "how": "different"},
            passes="mail=a@x.example other_mail=b@x.example",
            fails="mail=a@x.example other_mail=A@x.example",
        ),
        Declared(
            "required-when",
            "stop",
            "a field is filled where a condition holds",
            needs=("when",),
            fields=(1, 9),
            run=rows.check_required_when,
            options="`when`: the condition",
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
            needs=("within",),
            takes=("when", "reasons"),
            fields=(1, 9),
            run=rows.check_home_area,
            options="`within`: the values of the area; `reasons`: a code list from which the reason is taken; " + _WHEN,
            example={"check": "home-area", "fields": ["port"], "within": ["SKV", "TQY"]},
            passes="port=SKV",
            fails="port=OST",
        ),
        Declared(
            "age",
            "stop",
            "somebody's age on a day lies in a band; several with conditions make bands that depend on a field",
            takes=("on", "least", "most", "when"),
            run=rows.check_age,
            options="`on`: a day or today; `least`, `most`: whole years; " + _WHEN,
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
            takes=("within", "when"),
            run=rows.check_runs_out,
            options="`within`: days from today; " + _WHEN,
            example={"check": "runs-out", "fields": ["medical"], "within": 30},
            passes="medical=2027-09-01",
            fails="medical=2026-09-15",
        ),
        Declared(
            "ended",
            "ask",
            "an end day is not past already, unless the roster has it so: nobody is in the roster as ended by surprise",
            takes=("when",),
            run=rows.check_ended,
            looks="records",
            options=_WHEN,
            example={"check": "ended", "fields": ["last"]},
            passes="last=2027-06-30",
            fails="last=2026-06-30",
        ),
        Declared(
            "raised",
            "ask",
            "no privilege above the lowest is gained",
            needs=("lowest",),
            takes=("when", "ends"),
            run=rows.check_raised,
            looks="records",
            options="`lowest`: the codes that need no yes; `ends`: true where the yes must say until which day; " + _WHEN,
            example={"check": "raised", "fields": ["roles"], "lowest": ["MEMBER"]},
            passes="roles=MEMBER",
            fails="roles=REGIST",
        ),
        Declared(
            "never-together",
            "stop",
            "values that must not meet in one record do not",
            needs=("codes",),
            takes=("when",),
            run=rows.check_apart,
            options="`codes`: of which a record has one at most; " + _WHEN,
            example={"check": "never-together", "fields": ["roles"], "codes": ["REGIST", "ARMOUR"]},
            passes="key=1 roles=REGIST",
            fails="key=1 roles=REGIST;ARMOUR",
        ),
        Declared(
            "stand-in",
            "ask",
            "a mail address or phone number is somebody's: no `none3@…`, no `0000000`, no address that is that of many",
            takes=("most", "when"),
            fields=(1, 9),
            run=standins.check_stand_ins,
            looks="rows",
            options=f"`most`: people who may share an address, {standins.SHARED_BY} when left out; " + _WHEN,
            example={"check": "stand-in", "fields": ["other_mail"]},
            passes="other_mail=ines@q.example",
            fails="other_mail=none3@q.example",
        ),
        Declared(
            "spelling",
            "ask",
            "a code or its label is written as the list has it: one that differs only in case or spaces is asked about",
            takes=("when",),
            fields=(1, 9),
            run=rows.check_spelling,
            options=_WHEN,
            example={"check": "spelling", "fields": ["roles"]},
            passes="key=1 roles=Registrar",
            fails="key=1 roles=registrar",
        ),
        Declared(
            "overlap",
            "stop",
            "of rows that share the fields `of`, no two hold over days that overlap (one primary enrolment at a time)",
            needs=("of",),
            takes=("when",),
            fields=(2, 2),
            run=references.check_overlap,
            looks="rows",
            options="`of`: fields; " + _WHEN,
            example={"check": "overlap", "fields": ["first", "last"], "of": ["mariner"]},
            passes="first=2026-09-01 last=2027-06-30 mariner=1\nfirst=2027-09-01 last=2028-06-30 mariner=1",
            fails="first=2026-09-01 last=2027-06-30 mariner=1\nfirst=2027-01-01 last=2028-06-30 mariner=1",
        ),
        Declared(
            "unique-across",
            "stop",
            "nobody in other rosters has the value",
            needs=("rosters",),
            takes=("when",),
            run=references.check_unique_across,
            looks="rosters",
            options='`rosters`: the field in each, as `{"staff": "mail"}`; ' + _WHEN,
            example={"check": "unique-across", "fields": ["mail"], "rosters": {"others": "mail"}},
            passes="mail=a@x.example",
            fails="mail=taken@x.example",
        ),
        Declared(
            "lead",
            "ask",
            "a group that has its lead keeps exactly one",
            needs=("by", "lead"),
            takes=("when",),
            fields=(0, 0),
            about="group",
            options="`by`: the fields whose values together make a group; `lead`: the condition on its lead; " + _WHEN,
            example={"check": "lead", "fields": [], "by": ["watch"], "lead": {"field": "position", "is": "CAPT"}},
            passes="key=1 watch=SKUA position=CAPT",
            fails="key=1 watch=SKUA position=HAND",
        ),
        Declared(
            "group-size",
            "ask",
            "a group that the file changes stays within its least and most",
            needs=("by",),
            takes=("least", "most", "when"),
            fields=(0, 0),
            about="group",
            options="`by`: the fields whose values together make a group; `least`, `most`: people; " + _WHEN,
            example={"check": "group-size", "fields": [], "by": ["watch"], "least": 1, "most": 2},
            passes="key=2 watch=SKUA",
            fails="key=2 watch=SKUA\nkey=3 watch=SKUA",
        ),
        Declared(
            "group-ages",
            "ask",
            "the people of a group that the file changes are all in one band of ages",
            needs=("by", "bands"),
            takes=("on", "when"),
            fields=(1, 1),
            about="group",
            options="`by`: the fields whose values together make a group; `bands`: pairs of whole years; `on`: a day or today; "
            + _WHEN,
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
            needs=("most",),
            fields=(0, 0),
            about="file",
            options="`most`: the share, such as 0.1",
            example={"check": "absent-share", "fields": [], "most": 0.5},
            passes="key=1",
            fails="key=9",
        ),
        Declared(
            "changed-share",
            "ask",
            "at most a share of the known rows changes, in the fields named or in any",
            needs=("most",),
            fields=(0, 9),
            about="file",
            options="`most`: the share, such as 0.3",
            example={"check": "changed-share", "fields": ["watch"], "most": 0.5},
            passes="key=1 watch=SKUA",
            fails="key=1 watch=TERN",
        ),
        Declared(
            "code-vanished",
            "ask",
            "of a file that claims everybody, no code that records have is in no row",
            fields=(1, 9),
            about="file",
            example={"check": "code-vanished", "fields": ["watch"]},
            passes="key=1 watch=SKUA",
            fails="key=1 watch=TERN",
        ),
        Declared(
            "row-count",
            "ask",
            "the file has as many rows as it should",
            takes=("least", "most"),
            fields=(0, 0),
            about="file",
            options="`least`, `most`: rows",
            example={"check": "row-count", "fields": [], "most": 1},
            passes="key=1",
            fails="key=1\nkey=2",
        ),
    )
}


def write_documents() -> str:
    """Write `docs/checks.md`."""
    lines = [
        "# Checks",
        "",
        "Written from `core/checking/catalog.py` by `scripts/documents.py`; a test runs every example.",
        "",
        "A finding has a weight: **stop** (the row cannot go in), **ask** (it goes in once someone says yes and gives a reason), **note** (for information). Every declared check also takes `weight`; `text`, its own words in place of ours; `id`, a name by which it is spoken of; and `off`, which switches it off.",
        "",
        "## Always on, from the fields themselves",
        "",
        "| check | weight | holds when | example that fails |",
        "|---|---|---|---|",
        *(f"| `{one.name}` | {one.weight} | {one.holds} | {one.fails} |" for one in ALWAYS),
        "",
        "## Declared in a definition",
        "",
        "| check | weight | holds when | takes |",
        "|---|---|---|---|",
        *(f"| `{one.name}` | {one.weight} | {one.holds} | {one.options or '–'} |" for one in DECLARED.values()),
        "",
        "## An example of each",
        "",
    ]
    for one in DECLARED.values():
        lines += [
            f"### `{one.name}`",
            "",
            "```",
            _json(one.example),
            "```",
            "",
            f"passes: {_rows(one.passes)}; fails: {_rows(one.fails)}",
            "",
        ]
    return "\n".join(lines)


def _json(document: dict[str, Any]) -> str:
    return json.dumps(document, ensure_ascii=False)


def _rows(text: str) -> str:
    return ", then ".join(f"`{line}`" for line in text.split("\n"))
