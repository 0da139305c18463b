"""Two houses under one roof: a roster that somebody may see, one of which nothing may be had, and seats of the one held by the other.

Every word of the other house has a sign in it that stands nowhere else, every kept word of either another one; and all that the
other house has is kept under one number, which nothing of the own house has.
"""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from nevefield.accounts import Level, add_account
from nevefield.context import Context
from nevefield.core.codes import Code
from nevefield.intakes.applying import apply_intake, request_apply
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import add_step, receive_file
from nevefield.proposals.agreeing import propose_intake
from nevefield.proposals.scheduling import schedule_intake
from nevefield.rosters.opening import open_roster_with
from nevefield.rosters.shortlists import keep_shortlist
from nevefield.store import records, rosters
from nevefield.submissions.answering import bring_answer
from nevefield.submissions.opening import begin_submission
from nevefield.submissions.sending import build_round

__all__ = ["NONE", "THEIRS", "House", "open_houses"]

THEIRS, NONE = 77_777, 88_888  # the number of everything of the other house; a number that nothing has
PEOPLE = 12
REFERRED = 7  # the last place in the other house to which the own house refers
NUMBERED = ("intake", "change_set", "source", "waiver", "proposal", "scheduled", "shortlist", "submission", "submission_round", "job")


@dataclass(frozen=True)
class House:
    """A roster with something of every kind; `sign` stands in each of its words, `kept` in those that not everybody sees."""

    name: str
    sign: str
    kept: str
    roster: int
    numbers: dict[str, int]  # of the one of each kind that is asked for
    document: dict[str, Any]
    layout: dict[str, Any]


def _document(name: str, sign: str, kept: str, other: House | None) -> dict[str, Any]:
    lists = f"{sign}far" if sign else name
    names = ["nr", "family", "given", "born", "ends", "mail", "team", "creed", "note", "boss"]
    titles = {one: f"{one.title()} {sign}".strip() for one in names}
    special: dict[str, dict[str, Any]] = {
        "nr": {"constraints": {"required": True, "unique": True}},
        "family": {"nevefield": {"means": "family-name"}},
        "born": {"type": "date", "nevefield": {"means": "birth-date"}},
        "ends": {"type": "date"},
        "given": {"nevefield": {"means": "given-name", "sensitive": True}},
        "mail": {"nevefield": {"sensitive": True}},
        "team": {"nevefield": {"codeList": f"{lists}team", "owner": f"office {sign}"}},
        "creed": {"nevefield": {"codeList": f"{lists}creed", "sensitive": True}},
    }
    fields = [{"name": one, "title": titles[one], **special.get(one, {})} for one in names]
    keys = [{"fields": "boss", "reference": {"resource": "", "fields": "nr"}}]
    if other:
        fields.append({"name": "friend", "title": "Friend"})
        keys.append({"fields": "friend", "reference": {"resource": other.name, "fields": "nr"}})
    return {
        "name": name,
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
                {"when": {"field": "creed", "is": f"{kept}c1"}, "field": "team", "value": f"{sign or 'o'}t1"},
                {"when": {"field": "note", "is": f"noted {sign}"}, "field": "team", "value": f"{sign or 'o'}t2"},
            ],
            "checks": [
                {"check": "age", "fields": ["born"], "on": "2026-09-01", "most": 60, "weight": "ask"},
                {"check": "required-when", "fields": ["mail"], "when": {"field": "creed", "is": f"{kept}c2"}, "weight": "ask"},
            ],
        },
    }


def _person(place: int, sign: str, kept: str, other: House | None) -> dict[str, str]:
    team, creed = f"{sign or 'o'}t{place % 3 + 1}", f"{kept}c{place % 2 + 1}"
    one = {
        "nr": _key(place, sign),
        "family": f"{['Adder', 'Bittern', 'Curlew', 'Dunlin', 'Egret', 'Falcon', 'Grebe'][place % 7]}{sign}",
        "given": f"{['Una', 'Vid', 'Wyn', 'Xan', 'Ylva'][place % 5]}{kept}",
        "born": f"{1950 + 3 * place}-0{place % 9 + 1}-1{place % 9}",
        "mail": f"{kept}{place}@example.org",
        "team": team,
        "creed": creed,
        "note": f"noted {sign}",
        "boss": _key(place // 3, sign) if place else "",
    }
    return {**one, "friend": _key(place % 5, other.sign)} if other else one


def _key(place: int, sign: str) -> str:
    """The number of somebody: those of the other house to whom the own house refers have plain ones, so that it may say them."""
    return f"{sign}-{place:03d}" if sign and place > REFERRED else f"{'F' if sign else 'O'}-{place:03d}"


def _sheet(rows: list[dict[str, str]]) -> bytes:
    return "\n".join(";".join(one) for one in [list(rows[0]), *(one.values() for one in rows)]).encode()


def _publish(sign: str) -> dict[str, Any]:
    fields = [("REF", "reference"), ("NUMBER", "number"), ("ASKED", "asked"), ("NAME", ""), ("MAIL", "")]
    rule = {"rule": "R1", "title": f"Name {sign}", "text": f"Names are {sign}.", "reads": ["NAME"], "weight": "reject"}
    return {
        "authority": f"Registry {sign}",
        "fields": [{"name": name, "title": f"{name} {sign}", **({"role": role} if role else {})} for name, role in fields],
        "rules": [rule, {**rule, "rule": "R2", "weight": "warn"}],
    }


def _open(context: Context, name: str, sign: str, kept: str, account: int, other: House | None = None) -> House:
    def take(*places: int, file: str = "file") -> int:
        rows = [_person(place, sign, kept, other) for place in places]
        odd = {**rows[0], "nr": f"{sign}-9", "team": f"{sign}nowhere", "mail": f"{kept}odd"}
        if other:  # a friend written with a slip: what is near it is nobody's to know
            odd["friend"] = f"{_key(10, other.sign)[:-1]}O".replace(other.sign, "zqx")
        return receive_file(
            context,
            f"{file}-{sign}.csv",
            _sheet([*rows, {**_person(5, sign, kept, other), "note": f"altered {sign} {file}"}, odd]),
            roster_name=name,
            source=f"Office {sign}".strip(),
            account_id=account,
        )

    def seen(intake: int) -> tuple[int, int]:
        opened = open_intake(context, intake)
        return len(opened.steps), opened.roster.version

    with context.database.transaction() as connection:
        for kind, word in (("team", sign or "o"), ("creed", kept)):
            codes = [Code(f"{word}{kind[0]}{place}", f"{kind} {word} {place}") for place in range(1, 5)]
            rosters.replace_code_list(connection, f"{f'{sign}far' if sign else name}{kind}", codes)
    document = _document(name, sign, kept, other)
    roster = open_roster_with(context, document, [_person(place, sign, kept, other) for place in range(PEOPLE)])
    if sign:
        with context.database.transaction() as connection:
            for table in NUMBERED:
                connection.run(f"ALTER TABLE {table} AUTO_INCREMENT = {THEIRS}")
    found: dict[str, int] = {}
    found["intake"] = take(20, 21, 3, file="first")  # applied as the change set; three of its rows are asked about
    open_lines = [2, 3]
    waive = {"kind": "waive", "check": "age", "field": "born", "reason": f"so said {sign}"}
    add_step(context, found["intake"], {**waive, "lines": [4, 5]}, account)
    add_step(context, found["intake"], {"kind": "hold", "lines": open_lines[:1], "reason": f"held {sign}"}, account)
    cell = {"line": 3, "field": "mail", "value": f"{kept}set"}
    add_step(context, found["intake"], {"kind": "set", "cells": [cell]}, account)
    apply_intake(context, found["intake"], *seen(found["intake"]), account)
    with context.database.transaction() as connection:
        change_set = records.get_change_set_of(connection, found["intake"])
        found["record"] = records.list_current(connection, roster)[0][0]
        found |= {
            kind: connection.row(f"SELECT MIN(id) FROM {kind} WHERE roster_id = %s", (roster,))[0] for kind in ("source", "waiver")
        }
    found["change_set"] = change_set.id
    proposed = take(22, file="proposed")
    found["proposal"] = propose_intake(context, proposed, *seen(proposed), account)
    waiting = take(23, file="waiting")
    day = context.today() + timedelta(days=20)
    found["scheduled"] = schedule_intake(context, waiting, *seen(waiting), day, account)
    asked = take(24, file="asked")
    found["job"], _ = request_apply(context, asked, *seen(asked), account)
    found["shortlist"] = keep_shortlist(context, name, f"Short {sign}", account, records=[found["record"]])
    layout = {
        "reference": {"from": "nr", "to": "REF"},
        "number": {"from": "note", "to": "NUMBER", "asked": "ASKED"},
        "fields": [{"to": "NAME", "from": "family"}, {"to": "MAIL", "from": "mail"}],
    }
    found["submission"] = begin_submission(
        context, name, f"Return {sign}", "live", date(2026, 9, 1), account, layout=layout, published=_publish(sign)
    )
    found["round"] = build_round(context, found["submission"], account, f"{name:x<32}"[:32], by_hand=True)
    told = {"ref": _person(0, sign, kept, other)["nr"], "outcome": "rejected", "rules": ["R1"], "held": {"NAME": f"Held {sign}"}}
    bring_answer(context, found["round"], json.dumps({"results": [told]}).encode(), account)
    return House(name, sign, kept, roster, found, document, layout)


def _seats(context: Context, other: House) -> None:
    """Seats in the own house that are held by people of the other."""
    with context.database.transaction() as connection:
        rosters.replace_code_list(connection, "body", [Code("COURT", "Court"), Code("BOARD", "Board")])
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
                {"kind": "each", "title": "Bodies", "by": ["place"], "each": "body", "person": "who", "from": "from", "to": "to"}
            ]
        },
    }
    seats = [
        {"seat": f"S{place}", "who": _key(place, other.sign), "body": ["COURT", "BOARD"][place % 2], "place": "first",
         "from": "2020-01-01"}
        for place in range(6)
    ]  # fmt: skip
    open_roster_with(context, document, seats)
    rows = "seat;who;body;place;from\nS7;F-007;COURT;first;2026-01-01\nS1;F-001;BOARD;second;2020-01-01\n"
    intake = receive_file(context, "seats.csv", rows.encode(), roster_name="ownseats", source="Clerk")
    opened = open_intake(context, intake)
    apply_intake(context, intake, len(opened.steps), opened.roster.version, None)
    receive_file(context, "more-seats.csv", rows.replace("first", "third").encode(), roster_name="ownseats", source="Clerk")


def open_houses(context: Context, passwords: Callable[[str], str]) -> tuple[House, House]:
    """Open both houses and the seats, with accounts: who may do what in the own house is their name.

    Args:
        context: With an empty database.
        passwords: The password for an account's name.
    """
    keeper = add_account(context, "keeper", "The keeper", passwords("keeper"), Level.ADMINISTER)
    hidden = add_account(context, "zqx-keeper", "Keeper zqxb", passwords("zqx-keeper"), Level.NONE)
    with context.database.transaction() as connection:
        connection.run("ALTER TABLE account AUTO_INCREMENT = 500")
    # The other house is opened first, because the own one refers to it; what comes after has other numbers.
    _count_records_from(context, THEIRS)
    other = _open(context, "farfolk", "zqxb", "zsxb", hidden)
    _count_records_from(context, 1_000)
    own = _open(context, "ownfolk", "", "zsxa", keeper, other=other)
    _seats(context, other)
    with context.database.transaction() as connection:
        seats = rosters.get_roster(connection, "ownseats").id
    for name in ("look", "prepare", "approve", "administer"):
        level = Level[name.upper()]
        add_account(context, name, name, passwords(name), Level.NONE, {own.roster: level, seats: level})
    both = {own.roster: Level.ADMINISTER, seats: Level.ADMINISTER, other.roster: Level.LOOK}
    add_account(context, "both", "both", passwords("both"), Level.NONE, both)
    add_account(context, "nobody", "nobody", passwords("nobody"), Level.NONE)
    return own, other


def _count_records_from(context: Context, number: int) -> None:
    with context.database.transaction() as connection:
        connection.run("INSERT INTO counter VALUES ('record', %s) ON DUPLICATE KEY UPDATE next = %s", (number, number))
