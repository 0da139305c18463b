"""Two houses under one roof: a roster that somebody may see, one of which nothing may be had, and
seats that people of it hold.

Every word of the other house has a sign in it that stands nowhere else, every kept word of either
another one; and all that the other house has is kept under one number, which nothing of the own
house has.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from datetime import date, timedelta
from typing import Any

from nevefield.accounts import Level, add_account
from nevefield.accounts.signing import digest_of
from nevefield.context import Context
from nevefield.core.codes import Code
from nevefield.core.mailing.asking import Asks
from nevefield.core.mailing.template import Template
from nevefield.intakes.applying import apply_intake, request_apply
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, add_step, receive_file
from nevefield.letters.answering import give_answer
from nevefield.letters.writing import Letter, send_letter
from nevefield.passing_on.keeping import begin_destination
from nevefield.passing_on.sending import tell
from nevefield.proposals.approving import propose_intake
from nevefield.proposals.editing import Edit, edit_record
from nevefield.proposals.scheduling import schedule_intake
from nevefield.rosters.opening import open_roster_with
from nevefield.rosters.shortlists import keep_shortlist
from nevefield.store import records, rosters
from nevefield.store.letters import insert_links, list_addressees
from nevefield.submissions.answering import bring_answer
from nevefield.submissions.opening import Beginning, begin_submission
from nevefield.submissions.sending import build_round

__all__ = [
    "NONE",
    "PEOPLE",
    "THEIRS",
    "House",
    "Maker",
    "count_from",
    "count_records_from",
    "fill",
    "open_houses",
    "submit",
]

# the number of everything of the other house; a number that nothing has
THEIRS, NONE = 77_777, 88_888
PEOPLE = 12
NAMES = ("nr", "family", "given", "born", "ends", "mail", "team", "creed", "note", "boss")
KEPT_YEAR = 2191  # of days that are kept
REFERRED = 7  # the last place in the other house to which the own house refers
NUMBERED = (
    "intake",
    "change_set",
    "source",
    "waiver",
    "proposal",
    "scheduled",
    "shortlist",
    "submission",
    "submission_round",
    "job",
    "mail_batch",
)


@dataclass(frozen=True)
class House:
    """A roster with something of every kind; `sign` stands in each of its words, `kept` in those
    that not everybody sees.
    """

    name: str
    sign: str
    kept: str
    roster: int
    numbers: dict[str, int]  # of the one of each kind that is asked for
    document: dict[str, Any]
    layout: dict[str, Any]
    # of the own house, held by people of the other
    seats: dict[str, list[Any]] = field(default_factory=dict)


@dataclass(frozen=True)
class Maker:
    """Makes the words of a house; `hard`: the number, the names and a day are kept too, not only
    mail and creed.
    """

    name: str
    sign: str
    kept: str
    other: House | None
    hard: bool

    @property
    def lists(self) -> str:
        return f"{self.sign}far" if self.sign else self.name

    def key(self, place: int) -> str:
        """The number of somebody; who is referred to from the own house has a plain one, so that
        it may say it.
        """
        if self.sign and place <= REFERRED:
            return f"FARR-{place:03d}"
        return f"{self.kept if self.hard else self.sign or 'NEAR'}-{place:03d}".upper()

    def person(self, place: int) -> dict[str, str]:
        sign, kept = self.sign, self.kept
        family = ["Adder", "Bittern", "Curlew", "Dunlin", "Egret", "Falcon", "Grebe"][place % 7]
        one = {
            "nr": self.key(place),
            "family": f"{family}{kept if self.hard else sign}",
            "given": f"{['Una', 'Vid', 'Wyn', 'Xan', 'Ylva'][place % 5]}{kept}",
            "born": f"{1950 + 3 * place}-0{place % 9 + 1}-1{place % 9}",
            "ends": f"{KEPT_YEAR}-01-{place + 1:02d}" if self.hard else "",
            "mail": f"{kept}{place}@example.org",
            "team": f"{sign or 'o'}t{place % 3 + 1}",
            "creed": f"{kept}c{place % 2 + 1}",
            "note": f"noted {sign}",
            "boss": self.key(place // 3) if place else "",
        }
        return {**one, "friend": f"FARR-00{place % 5}"} if self.other else one

    def document(self) -> dict[str, Any]:
        sign, kept = self.sign, self.kept
        own: dict[str, dict[str, Any]] = {
            "family": {"means": "family-name"},
            "given": {"means": "given-name", "sensitive": True},
            "born": {"means": "birth-date"},
            "mail": {"sensitive": True},
            "team": {"codeList": f"{self.lists}team", "owner": f"office {sign}"},
            "creed": {"codeList": f"{self.lists}creed", "sensitive": True},
        }
        for name in ("nr", "family", "ends", "boss") if self.hard else ():
            own[name] = {**own.get(name, {}), "sensitive": True}
        fields = [
            {"name": one, "title": f"{one.title()} {sign}".strip(), "nevefield": own.get(one, {})}
            for one in NAMES
        ]
        fields[0]["constraints"] = {"required": True, "unique": True}
        for one in fields:
            one |= {"type": "date"} if one["name"] in ("born", "ends") else {}
        keys = [{"fields": "boss", "reference": {"resource": "", "fields": "nr"}}]
        if self.other:
            fields.append({"name": "friend", "title": "Friend", "nevefield": {}})
            keys.append(
                {"fields": "friend", "reference": {"resource": self.other.name, "fields": "nr"}}
            )
        if not self.hard:
            # Where lost zeros can be given back, what a slip may have been is looked for in the
            # other house.
            fields[0]["nevefield"] = {
                "identifier": {"length": 8, "alphabet": "ABCDEFGHJKLMNPQRSTUVWXYZ-0123456789"}
            }
        return {
            "name": self.name,
            "title": f"People {sign}".strip(),
            "primaryKey": "nr",
            "foreignKeys": keys,
            "fields": fields,
            "nevefield": {
                "keys": ["nr", "mail", ["family", "given", "born"]],
                "groups": [
                    {"kind": "team", "title": f"Team {sign}", "by": ["team"]},
                    {"kind": "creed", "title": f"Creed {sign}", "by": ["creed"]},
                ],
                "placement": [
                    {
                        "when": {"field": "creed", "is": f"{kept}c1"},
                        "field": "team",
                        "value": f"{sign or 'o'}t1",
                    },
                    {
                        "when": {"field": "note", "is": f"noted {sign}"},
                        "field": "team",
                        "value": f"{sign or 'o'}t2",
                    },
                ],
                "checks": [
                    {
                        "check": "age",
                        "fields": ["born"],
                        "on": "2026-09-01",
                        "most": 60,
                        "weight": "ask",
                    },
                    {"check": "ended", "fields": ["ends"]},
                    {
                        "check": "required-when",
                        "fields": ["note"],
                        "when": {"field": "creed", "is": f"{kept}c2"},
                        "weight": "ask",
                    },
                ],
            },
        }


def _sheet(rows: list[dict[str, str]]) -> bytes:
    return "\n".join(
        ";".join(one) for one in [list(rows[0]), *(one.values() for one in rows)]
    ).encode()


def _publish(sign: str) -> dict[str, Any]:
    fields = [
        ("REF", "reference"),
        ("NUMBER", "number"),
        ("ASKED", "asked"),
        ("NAME", ""),
        ("MAIL", ""),
    ]
    rule = {
        "rule": "R1",
        "title": f"Name {sign}",
        "text": f"Names are {sign}.",
        "reads": ["NAME"],
        "weight": "reject",
    }
    return {
        "authority": f"Registry {sign}",
        "fields": [
            {"name": name, "title": f"{name} {sign}", **({"role": role} if role else {})}
            for name, role in fields
        ],
        "rules": [rule, {**rule, "rule": "R2", "weight": "warn"}],
    }


def _open(context: Context, maker: Maker, account: int) -> House:
    sign, kept = maker.sign, maker.kept
    with context.database.transaction() as connection:
        for kind, word in (("team", sign or "o"), ("creed", kept)):
            codes = [
                Code(f"{word}{kind[0]}{place}", f"{kind} {word} {place}") for place in range(1, 5)
            ]
            rosters.replace_code_list(connection, f"{maker.lists}{kind}", codes)
    document = maker.document()
    roster = open_roster_with(context, document, [maker.person(place) for place in range(PEOPLE)])
    if sign:
        count_from(context, THEIRS)
    with context.database.transaction() as connection:
        first = records.list_current(connection, roster)[0][0]
    found = fill(context, maker, account, roster, first)
    layout = {
        "reference": {"from": "nr", "to": "REF"},
        "number": {"from": "note", "to": "NUMBER", "asked": "ASKED"},
        "fields": [{"to": "NAME", "from": "family"}, {"to": "MAIL", "from": "mail"}],
    }
    found |= submit(context, maker, account, layout)
    found["letter"] = write(context, maker, account)
    return House(maker.name, sign, kept, roster, found, document, layout)


def count_from(context: Context, number: int) -> None:
    """Let what comes next of every kind have a number from one on."""
    with context.database.transaction() as connection:
        for table in NUMBERED:
            connection.run(f"ALTER TABLE {table} AUTO_INCREMENT = {number}")


def fill(context: Context, maker: Maker, account: int, roster: int, first: int) -> dict[str, int]:
    """Make something of every kind about the people of a house, whose first record is given; what
    is asked for of each kind, by number.
    """
    name, sign, kept, other = maker.name, maker.sign, maker.kept, maker.other

    def take(*places: int, file: str = "file") -> int:
        rows = [maker.person(place) for place in places]
        if len(rows) > 2:
            rows[1]["note"] = ""  # which is asked about, because of a kept field
        odd = {
            **rows[0],
            "nr": f"{(sign or 'near').upper()}-999",
            "team": f"{sign}nowhere",
            "mail": f"{kept}odd",
        }
        if other:  # a friend written with a slip: what is near it is nobody's to know
            odd["friend"] = "ZQOB-010"
        return receive_file(
            context,
            f"{file}-{sign}.csv",
            _sheet([*rows, {**maker.person(5), "note": f"altered {sign} {file}"}, odd]),
            Claims(roster=name, source=f"Office {sign}".strip()),
            account_id=account,
        )

    def seen(intake: int) -> tuple[int, int]:
        opened = open_intake(context, intake)
        return len(opened.steps), opened.roster.version

    found: dict[str, int] = {}
    # applied as the change set; three of its rows are asked about
    found["intake"] = take(20, 21, 3, file="first")
    open_lines = [2, 3]
    waive = {"kind": "waive", "check": "age", "field": "born", "reason": f"so said {sign}"}
    add_step(context, found["intake"], {**waive, "lines": [4, 5]}, account)
    add_step(
        context,
        found["intake"],
        {**waive, "check": "required-when", "field": "note", "lines": [3]},
        account,
    )
    add_step(
        context,
        found["intake"],
        {"kind": "hold", "lines": open_lines[:1], "reason": f"held {sign}"},
        account,
    )
    cell = {"line": 3, "field": "mail", "value": f"{kept}set"}
    add_step(context, found["intake"], {"kind": "set", "cells": [cell]}, account)
    apply_intake(context, found["intake"], *seen(found["intake"]), account)
    with context.database.transaction() as connection:
        change_set = records.get_change_set_of(connection, found["intake"])
        found["record"] = first
        found |= {
            kind: connection.row(
                f"SELECT MIN(id) FROM {kind} WHERE roster_id = %s AND id >= %s",
                (roster, THEIRS if sign else 0),
            )[0]
            for kind in ("source", "waiver")
        }
    found["change_set"] = change_set.id
    edit_record(
        context,
        Edit(found["record"], {"note": f"by hand {sign}"}, reason=f"edited {sign}"),
        account,
    )
    proposed = take(22, file="proposed")
    found["proposal"] = propose_intake(context, proposed, *seen(proposed), account)
    waiting = take(23, file="waiting")
    day = context.today() + timedelta(days=20)
    found["scheduled"] = schedule_intake(context, waiting, *seen(waiting), day, account)
    asked = take(24, file="asked")
    found["job"], _ = request_apply(context, asked, *seen(asked), account)
    found["shortlist"] = keep_shortlist(
        context, name, f"Short {sign}", account, records=[found["record"]]
    )
    return found


def submit(context: Context, maker: Maker, account: int, layout: dict[str, Any]) -> dict[str, int]:
    """Submit the people of a house, with one of them rejected."""
    sign, found = maker.sign, {}
    found["submission"] = begin_submission(
        context,
        Beginning(
            roster=maker.name,
            title=f"Return {sign}",
            side="live",
            day=date(2026, 9, 1),
            layout=layout,
            published=_publish(sign),
        ),
        account,
    )
    found["round"] = build_round(
        context, found["submission"], account, f"{maker.name:x<32}"[:32], by_hand=True
    )
    told = {
        "ref": maker.person(0)["nr"],
        "outcome": "rejected",
        "rules": ["R1"],
        "held": {"NAME": f"Held {sign}"},
    }
    bring_answer(context, found["round"], json.dumps({"results": [told]}).encode(), account)
    pass_on(context, maker, account)
    return found


def write(context: Context, maker: Maker, account: int) -> int:
    """Write to somebody of a house, who corrects their data by a link; returns the letter."""
    asks = Asks(fields=("note",), last_day=context.today() + timedelta(days=20))
    template = Template(f"Letter {maker.sign}", f"Dear {maker.sign}", "{note}")
    with context.database.transaction() as connection:
        roster = rosters.get_roster(connection, maker.name).id
        first = records.list_current(connection, roster)[0][0]
    letter = Letter(maker.name, [first], "", template, asks, "all")
    sent = send_letter(context, letter, 1, f"press-{maker.name}", "", account)
    with context.database.transaction() as connection:
        (one,) = list_addressees(connection, sent.letter)
        insert_links(connection, [(digest_of(f"link{maker.sign}"), one.id)], context.now())
    give_answer(context, f"link{maker.sign}", "", {"note": f"said {maker.sign}"})
    return sent.letter


def pass_on(context: Context, maker: Maker, account: int) -> None:
    """Tell somebody by a file who is in a house: what is kept too, with a reason."""
    because = {"because": "they asked for it"}
    begin_destination(
        context,
        {
            "name": f"{maker.name}-list",
            "title": f"Told {maker.sign}",
            "way": {"kind": "file", "file_name": f"told{maker.sign}"},
            "shares": [
                {
                    "roster": maker.name,
                    "puts": [
                        {"to": f"NR{maker.sign}", "from": "nr", **because},
                        {"to": f"NAME{maker.sign}", "from": "family", **because},
                        {"to": f"NOTE{maker.sign}", "from": "note"},
                    ],
                }
            ],
        },
        account,
    )
    tell(context, f"{maker.name}-list", 1, account)


def _seats(context: Context, other: House) -> dict[str, list[Any]]:
    """Open seats in the own house that are held by people of the other; returns what there is of
    them, by kind.
    """
    with context.database.transaction() as connection:
        rosters.replace_code_list(
            connection, "body", [Code("COURT", "Court"), Code("BOARD", "Board")]
        )
    document = {
        "name": "ownseats",
        "title": "Seats",
        "primaryKey": "seat",
        "foreignKeys": [{"fields": "who", "reference": {"resource": other.name, "fields": "nr"}}],
        "fields": [
            {"name": "seat"},
            {"name": "who"},
            {"name": "body", "nevefield": {"codeList": "body"}},
            {"name": "place"},
            {"name": "from", "type": "date"},
            {"name": "to", "type": "date"},
        ],
        "nevefield": {
            "groups": [
                {
                    "kind": "each",
                    "title": "Bodies",
                    "by": ["place"],
                    "each": "body",
                    "person": "who",
                    "from": "from",
                    "to": "to",
                }
            ]
        },
    }
    seats = [
        {"seat": f"S{place}", "who": f"FARR-00{place}", "body": ["COURT", "BOARD"][place % 2], "place": "first",  # noqa: E501
         "from": "2020-01-01"}
        for place in range(6)
    ]  # fmt: skip
    roster = open_roster_with(context, document, seats)
    rows = "seat;who;body;place;from\nS7;FARR-007;COURT;first;2026-01-01\nS1;FARR-001;BOARD;second;2020-01-01\n"  # noqa: E501
    applied = receive_file(
        context, "seats.csv", rows.encode(), Claims(roster="ownseats", source="Clerk")
    )
    opened = open_intake(context, applied)
    change_set = apply_intake(context, applied, len(opened.steps), opened.roster.version, None)
    more = receive_file(
        context,
        "seats.csv",
        rows.replace("first", "third").encode(),
        Claims(roster="ownseats", source="Clerk"),
    )
    with context.database.transaction() as connection:
        current = [number for number, _ in records.list_current(connection, roster)]
    return {
        "name": ["ownseats"],
        "kind": ["COURT", "BOARD"],
        "intake_id": [applied, more],
        "change_set_id": [change_set],
        "record_id": current[-2:],
    }


def open_houses(
    context: Context, passwords: Callable[[str], str], *, hard: bool = False
) -> tuple[House, House]:
    """Open both houses and the seats, with accounts: who may do what in the own house is their
    name.

    Args:
        context: With an empty database.
        passwords: The password for an account's name.
        hard: Whether the number, the names and a day are kept too.
    """
    keeper = add_account(context, "keeper", "The keeper", passwords("keeper"), Level.ADMINISTER)
    hidden = add_account(context, "zqx-keeper", "Keeper zq0b", passwords("zqx-keeper"), Level.NONE)
    with context.database.transaction() as connection:
        connection.run("ALTER TABLE account AUTO_INCREMENT = 500")
    # The other house is opened first, because the own one refers to it; what comes after has other
    # numbers.
    count_records_from(context, THEIRS)
    other = _open(context, Maker("farfolk", "zq0b", "zsxb", None, hard), hidden)
    count_records_from(context, 1_000)
    own = _open(context, Maker("ownfolk", "", "zsxa", other, hard), keeper)
    own = replace(own, seats=_seats(context, other))
    with context.database.transaction() as connection:
        seats = rosters.get_roster(connection, "ownseats").id
    for name in ("look", "prepare", "approve", "administer"):
        level = Level[name.upper()]
        add_account(
            context, name, name, passwords(name), Level.NONE, {own.roster: level, seats: level}
        )
    both = {own.roster: Level.ADMINISTER, seats: Level.ADMINISTER, other.roster: Level.LOOK}
    add_account(context, "both", "both", passwords("both"), Level.NONE, both)
    add_account(context, "nobody", "nobody", passwords("nobody"), Level.NONE)
    return own, other


def count_records_from(context: Context, number: int) -> None:
    """Let the next record have a number."""
    with context.database.transaction() as connection:
        connection.run(
            "INSERT INTO counter VALUES ('record', %s) ON DUPLICATE KEY UPDATE next = %s",
            (number, number),
        )
