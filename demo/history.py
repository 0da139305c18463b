"""How the cadets' roster came to be what it is: an opening a year ago, and the files since then.

Going backwards from today's roster, some people have not joined yet and some fields have other
values; each file then brings a part of them to today's values. Applied in order, the files end in
exactly today's roster.
"""

from __future__ import annotations

import base64
import csv
import io
import random
from datetime import date, timedelta
from typing import Any

from september import write_joiners
from world import CAMPUS_WATCHES, phone

__all__ = ["make_history"]

OPENED = "2025-09-01"
# name, day, coverage, people who join by it, and how many change which field
FILES = [
    ("watches-october.csv", "2025-10-06", "listed", 0, {"watch": 58}),
    ("january-transfers.csv", "2026-01-12", "listed", 21, {"phone": 14}),
    ("medicals-march.csv", "2026-03-30", "everybody", 0, {"medical_until": 133}),
    ("berths-may.csv", "2026-05-18", "listed", 9, {"berth": 72, "watch": 6}),
    ("records-july.csv", "2026-07-20", "everybody", 14, {"phone": 31, "berth": 12}),
    ("late-joiners-august.xlsx", "2026-08-21", "listed", 12, {}),
]
# Admissions writes its files in its own way; all others are the records office's.
# Twelve rows do not say whether the day or the month comes first: somebody said so then, and it was
# learnt.
ASKED = {"kind": "date_order", "field": "enrolled_from", "order": "dmy"}
ADMISSIONS, RECORDS = "Admissions", "Records office"


def make_history(
    chance: random.Random, cadets: list[dict[str, Any]], codes: dict[str, Any]
) -> dict[str, Any]:
    """Make the opening and the files.

    Returns:
        `opened` (a day), `records` (the opening's), `files` (name, day, coverage, source, text or
        base64, stray, steps): those of the records office with a row that stays out (`stray` is its
        line), and those of everybody without a few people.
    """
    order = list(range(len(cadets)))
    chance.shuffle(order)
    steady = iter(order)
    before = {place: dict(cadet) for place, cadet in enumerate(cadets)}
    plans: list[tuple[str, str, str, list[int], dict[int, list[str]]]] = []
    later: set[int] = set()
    for name, day, coverage, joining, fields in FILES:
        joins = [next(steady) for _ in range(joining)]
        later.update(joins)
        changes: dict[int, list[str]] = {}
        for field, count in fields.items():
            chosen = [
                place for place in (next(steady) for _ in range(count)) if before[place].get(field)
            ]
            for place in chosen:
                before[place][field] = _earlier(chance, field, before[place])
                changes.setdefault(place, []).append(field)
        plans.append((name, day, coverage, joins, changes))
    state = {place: before[place] for place in range(len(cadets)) if place not in later}
    opening = [dict(record) for record in state.values()]
    files = []
    for name, day, coverage, joins, changes in plans:
        for place in joins:
            state[place] = dict(cadets[place])
        for place, fields in changes.items():
            state[place] = {**state[place], **{field: cadets[place][field] for field in fields}}
        named = [*joins, *changes]
        rows = (
            sorted(state)
            if coverage == "everybody"
            else sorted([*named, *chance.sample(sorted(state), 40)])
        )
        away = (
            set(chance.sample([place for place in rows if place not in named], 5))
            if coverage == "everybody"
            else set()
        )
        people = [state[place] for place in dict.fromkeys(rows) if place not in away]
        file = {"name": name, "day": day, "coverage": coverage}
        if name.endswith(".xlsx"):
            # Admissions sends who is new, and nobody else
            people = [state[place] for place in joins]
            content = base64.b64encode(write_joiners(people, codes)).decode()
            files.append(
                {**file, "source": ADMISSIONS, "base64": content, "stray": None, "steps": [ASKED]}
            )
        else:
            files.append(
                {
                    **file,
                    "source": RECORDS,
                    "text": _write(chance, people),
                    "stray": len(people) + 2,
                    "steps": [],
                }
            )
    return {"opened": OPENED, "records": opening, "files": files}


def _earlier(chance: random.Random, field: str, record: dict[str, Any]) -> str:
    value = record[field]
    if field == "watch":
        return chance.choice(
            [watch for watch in CAMPUS_WATCHES[record["campus"]] if watch != value]
        )
    if field == "phone":
        return phone(chance)
    if field == "medical_until":
        return (date.fromisoformat(value) - timedelta(days=365)).isoformat()
    return f"{chance.choice('ABCD')}{chance.randrange(100, 500)}"


def _write(chance: random.Random, people: list[dict[str, Any]]) -> str:
    """Write a file with the fields that anybody in it has, and one row more whose home port is
    misspelt.
    """
    fields = list(dict.fromkeys(field for one in people for field in one))
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(fields)
    stray = {
        **chance.choice(people),
        "cadet_number": "TQ1000001",
        "mail": "",
        "mariner_number": "",
        "home_port": "Skarvholmn",
    }
    for one in [*people, stray]:
        values = [one.get(field, "") for field in fields]
        writer.writerow([";".join(value) if isinstance(value, list) else value for value in values])
    return out.getvalue()
