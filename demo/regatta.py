"""`regatta-crew.csv`: the boat house's list of who rows in the regatta: names, birth dates,
addresses, no cadet numbers.
"""

from __future__ import annotations

import random
from typing import Any

from write import text_rows

__all__ = ["make_regatta"]

HEADINGS = ["Surname", "First name", "Born", "E-mail", "Mobile", "Home port", "Rows in"]
ASKED = ("twin", "namesake at one address", "two rows of one")
BOATS = ["Fulmar", "Petrel", "Whimbrel"]
KINDS = ["as they are"] * 9 + [
    "new phone",
    "new phone",
    "slip in the family name",
    "slip in the family name",
    "day and month swapped",
    "names changed places",
    "private mail",
    "private mail",
    "initial",
]
STRANGERS = [
    ("Ottershaw", "Bo", "19/11/2001", "bo.ottershaw@home.example", "+44 1632 960871"),
    ("Fairwater", "Lis", "02/07/1999", "lis@fairwater.example", "+44 1632 960872"),
]


def make_regatta(
    chance: random.Random, cadets: list[dict[str, Any]]
) -> tuple[bytes, dict[str, Any]]:
    """Make the file and its truth: by line who it is, or null, and what was done to the row."""
    namesakes = [(one["family_name"], one["given_names"]) for one in cadets]
    plain = [
        one
        for one in cadets
        if namesakes.count((one["family_name"], one["given_names"])) == 1
        and one.get("mail")
        and one.get("phone")
        and one["born"][5:7] != one["born"][8:]
        and int(one["born"][8:]) <= 12
        and len(one["family_name"]) > 5
        and " " not in one["given_names"]
    ]
    people = chance.sample(plain, len(KINDS) + 5)
    rows, truth = [], []
    for one, kind in zip(people, KINDS, strict=False):
        rows.append(_spoil(_row(one, chance), kind, len(rows)))
        truth.append((one["cadet_number"], kind))
    twin, cousin, twice, other, child = people[len(KINDS) :]
    row = _row(twin, chance)
    rows.append([row[0], _another(row[1], cadets), row[2], "w.r@home.example", *row[4:]])
    truth.append((None, "twin"))
    row = _row(other, chance)
    rows.append(
        [row[0], "Wilhelmina" if row[1][0] != "W" else "Bo", row[2], "b.w@home.example", *row[4:]]
    )
    truth.append((None, "twin with another name altogether"))
    for one, years, kind in (
        (cousin, 3, "namesake at one address"),
        (child, 31, "parent of the same name"),
    ):
        row = _row(one, chance)
        day, month, year = row[2].split("/")
        rows.append([*row[:2], f"{month}/{day}/{int(year) - years}", "", *row[4:]])
        truth.append((None, kind))
    for phone in ("+44 7700 900801", "+44 7700 900802"):
        row = _row(twice, chance)
        rows.append([*row[:4], phone, *row[5:]])
        truth.append((twice["cadet_number"], "two rows of one"))
    for stranger in STRANGERS:
        rows.append([*stranger, "Ravnsholm", chance.choice(BOATS)])
        truth.append((None, "stranger"))
    order = chance.sample(range(len(rows)), len(rows))
    lines = {str(2 + place): truth[row] for place, row in enumerate(order)}
    document = {
        "file": "regatta-crew.csv",
        "roster": "cadets",
        "coverage": "listed",
        "header_line": 1,
        "rows": len(rows),
        "people": {line: number for line, (number, _) in lines.items()},
        "kinds": {line: kind for line, (_, kind) in lines.items()},
        # What must be left to a person: nothing tells these apart beyond doubt.
        "asked": sorted(int(line) for line, (_, kind) in lines.items() if kind in ASKED),
    }
    return text_rows([HEADINGS, *(rows[row] for row in order)]).encode(), document


def _another(given: str, cadets: list[dict[str, Any]]) -> str:
    """Find another given name with the same initial."""
    names = sorted({one["given_names"].split(" ")[0] for one in cadets})
    return next(
        name
        for name in names
        if name[0] == given[0] and name[1] != given[1] and name[-1] != given[-1]
    )


def _row(one: dict[str, Any], chance: random.Random) -> list[str]:
    year, month, day = one["born"].split("-")
    names = [one["family_name"], one["given_names"], f"{day}/{month}/{year}"]
    return [*names, one["mail"], one["phone"], one.get("home_port", ""), chance.choice(BOATS)]


def _spoil(row: list[str], kind: str, number: int) -> list[str]:
    family, given, born, mail, phone, *rest = row
    if kind == "new phone":
        phone = f"+44 7700 900{810 + number}"
    elif kind == "slip in the family name":
        family = family[:2] + family[3] + family[2] + family[4:]
    elif kind == "day and month swapped":
        day, month, year = born.split("/")
        born = f"{month}/{day}/{year}"
    elif kind == "names changed places":
        family, given = given, family
    elif kind == "private mail":
        mail = f"{given.lower()}{number}@home.example"
    elif kind == "initial":
        given = given[0] + "."
    return [family, given, born, mail, phone, *rest]
