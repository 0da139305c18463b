"""What the Registry of Mariners holds when the demo begins: the college's people, some of them
otherwise, and what is right.
"""

from __future__ import annotations

import random
import sys
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).parents[1]))

from stand_ins.registry.judging import candidates_of
from stand_ins.registry.layout import published
from world import GIVEN, MARINER_NUMBER

from nevefield.core.columns.identifiers import add_check

__all__ = ["DAY", "LAYOUT", "in_return", "make_registry", "sent_of"]

Person = dict[str, Any]
DAY = "2026-09-30"  # of the autumn return
PORTS = {
    "BRW": "BWK",
    "DNS": "DNS",
    "FWS": "FNW",
    "HLM": "HMO",
    "KRH": "KHV",
    "LRN": "LNS",
    "SKV": "SKA",
    "TQY": "TQY",
    "OST": "OSR",
}
# the Registry has a new code for Skarvholm; the college's translation is of last year
RIGHT_PORTS = PORTS | {"SKV": "SKM"}
PROGRAMMES = {"DECK": "D3", "ENGR": "E3", "ETO": "L3", "RADIO": "R2"}
# How the college's fields go to the Registry's, with their codes.
LAYOUT: dict[str, Any] = {
    "reference": {"from": "cadet_number", "to": "REF"},
    "number": {"from": "mariner_number", "to": "MARINER", "asked": "NUMBER"},
    "fields": [
        {"to": "FAMILY", "from": "family_name"},
        {"to": "GIVEN", "from": "given_names"},
        {"to": "BORN", "from": "born"},
        {"to": "COLLEGE", "fill": "TQMC"},
        {"to": "KIND", "fill": "P"},
        {"to": "ENR_FROM", "from": "enrolled_from"},
        {"to": "ENR_TO", "from": "enrolled_to"},
        {"to": "PROGRAMME", "from": "programme", "codes": PROGRAMMES},
        {"to": "YEAR", "from": "year"},
        {"to": "HOME_PORT", "from": "home_port", "codes": PORTS},
        {"to": "MEDICAL_TO", "from": "medical_until"},
        {"to": "GUARDIAN", "from": "guardian"},
        {"to": "MAIL", "from": "mail"},
        {"to": "PHONE", "from": "phone"},
    ],
}
ENROLMENT = ("COLLEGE", "KIND", "ENR_FROM", "ENR_TO", "PROGRAMME", "YEAR")
# cadets without a number who have one likely holder, several, one who is somebody else
ONE, SEVERAL, NOT_THEM = 10, 4, 3
OTHER_COLLEGES = ("HSNA", "FWNC")


def in_return(cadet: Person) -> bool:
    """Tell whether a cadet is in the autumn return: enrolled on its day."""
    return str(cadet["enrolled_from"]) <= DAY <= str(cadet["enrolled_to"])


def sent_of(cadet: Person, ports: dict[str, str] = RIGHT_PORTS) -> dict[str, str]:
    """Write a cadet as the layout has it."""
    row = {"REF": cadet["cadet_number"], "MARINER": cadet.get("mariner_number", ""), "NUMBER": ""}
    codes = {"PROGRAMME": PROGRAMMES, "HOME_PORT": ports}
    for one in LAYOUT["fields"]:
        value = one["fill"] if "fill" in one else str(cadet.get(one["from"], ""))
        row[one["to"]] = codes.get(one["to"], {}).get(value, value)
    return row


def _held(cadet: Person, number: str, **other: str) -> Person:
    row = sent_of(cadet) | {"MARINER": number} | other
    person = {
        name: value for name, value in row.items() if name not in (*ENROLMENT, "REF", "NUMBER")
    }
    return person | {"ENROLMENTS": [{name: row[name] for name in ENROLMENT}]}


def _turned(day: str) -> str:
    year, month, of_month = day.split("-")
    return f"{year}-{of_month}-{month}"


def make_registry(
    chance: random.Random, cadets: list[Person]
) -> tuple[dict[str, Any], dict[str, Any]]:
    """Make the Registry's people, and the truth: what is right where the two disagree, and whose
    number is whose.
    """
    serial = iter(range(600_000, 700_000, 7))

    def fresh() -> str:
        return add_check(MARINER_NUMBER, f"{next(serial):06d}")

    people = {
        str(one["mariner_number"]): _held(one, str(one["mariner_number"]))
        for one in cadets
        if "mariner_number" in one
    }
    mine = [one for one in cadets if in_return(one)]
    conflicts, warned = _plant_conflicts(chance, mine, people, fresh)
    lacking = [one for one in mine if "mariner_number" not in one]
    asked = chance.sample(lacking, ONE + SEVERAL + 1 + NOT_THEM)
    numbers = {}
    for place, one in enumerate(asked):
        numbers[one["cadet_number"]] = _plant_holders(chance, one, place, people, fresh)
    _require_as_made(lacking, people, numbers)
    truth = {
        "day": DAY,
        "records": len(mine),
        "conflicts": conflicts,
        "warned": sorted(warned),
        "numbers": numbers,
        "new": sorted(one["cadet_number"] for one in lacking if one["cadet_number"] not in numbers),
        "retired_port": sorted(one["cadet_number"] for one in mine if one["home_port"] == "SKV"),
    }
    enrolled = [
        {"field": "enrolled_from", "until": "today"},
        {"field": "enrolled_to", "from": "today"},
    ]
    began = {
        "day": DAY,
        "chosen": {"all": enrolled},
        "layout": LAYOUT,
        "published": published(date.fromisoformat(DAY)),
    }
    return {**began, "people": list(people.values())}, truth


def _plant_conflicts(
    chance: random.Random,
    mine: list[Person],
    people: dict[str, dict[str, Any]],
    fresh: Callable[[], str],
) -> tuple[dict[str, Any], list[str]]:
    """Let the Registry hold some people otherwise: days turned round, an enrolment elsewhere, a
    twin's number, another given name. What is right of each, and who is only warned of.
    """
    numbered = [one for one in mine if "mariner_number" in one]
    turning = [
        one
        for one in numbered
        if 1 <= int(str(one["born"])[8:]) <= 12 and str(one["born"])[5:7] != str(one["born"])[8:]
    ]
    swapped = chance.sample(turning, 3)
    rest = [one for one in numbered if one not in swapped]
    chosen = chance.sample(rest, 11)
    conflicts: dict[str, Any] = {}
    for place, one in enumerate(swapped):
        held = people[one["mariner_number"]]
        held["BORN"] = _turned(one["born"])
        way = (
            {"way": "wrong", "field": "born", "value": held["BORN"]}
            if place < 2
            else {"way": "right"}
        )
        conflicts[one["cadet_number"]] = {"rule": "B3", **way}
    for one in chosen[:4]:
        elsewhere = {
            "COLLEGE": "HSNA",
            "KIND": "P",
            "ENR_FROM": one["enrolled_from"],
            "ENR_TO": "",
            "PROGRAMME": "D3",
            "YEAR": "1",
        }
        people[one["mariner_number"]]["ENROLMENTS"] = [elsewhere]
        conflicts[one["cadet_number"]] = {"rule": "E4", "way": "right"}
    twin, right = chosen[4], fresh()
    other = next(name for name in GIVEN if name[0] not in twin["given_names"])
    people[right] = _held(twin, right)
    people[twin["mariner_number"]] |= {
        "GIVEN": other,
        "MAIL": "",
        "PHONE": "",
        "MARINER": twin["mariner_number"],
    }
    conflicts[twin["cadet_number"]] = {"rule": "D3", "way": "other", "number": right}
    warned = []
    for one in chosen[5:]:
        people[one["mariner_number"]]["GIVEN"] = f"{one['given_names']} {chance.choice(GIVEN)}"
        warned.append(one["cadet_number"])
    return conflicts, warned


def _require_as_made(
    lacking: list[Person], people: dict[str, dict[str, Any]], numbers: dict[str, Any]
) -> None:
    """See that the Registry takes nobody for somebody whom they were not made to be."""
    found = {
        one["cadet_number"]: candidates_of(sent_of(one), list(people.values())) for one in lacking
    }
    near = {key for key, some in found.items() if some}
    if near != set(numbers):
        raise SystemExit(
            f"The Registry would take {sorted(near ^ set(numbers))} for somebody they were not"
            " made to be."
        )


def _plant_holders(
    chance: random.Random, one: Person, place: int, people: dict[str, Person], fresh: Any
) -> dict[str, Any]:
    """Put holders into the Registry whom a cadet without a number may be."""
    past = {
        "COLLEGE": chance.choice(OTHER_COLLEGES),
        "KIND": "P",
        "ENR_FROM": "2022-09-05",
        "ENR_TO": "2023-06-30",
    }

    def put(**other: str) -> str:
        number = fresh()
        people[number] = _held(one, number, **other)
        people[number]["ENROLMENTS"] = [past | {"PROGRAMME": "D3", "YEAR": "1"}]
        return number

    given = str(one["given_names"]).split()
    if place < ONE:
        return {"kind": "one", "number": put(MAIL="" if place % 2 else str(one["mail"]))}
    if place < ONE + SEVERAL + 1:
        count = 7 if place == ONE else 2 + place % 2
        right = put()
        first = given[0]
        for written in (
            f"{first} J",
            f"{first}a",
            first[:-1],
            f"{first} B",
            first[0] + first,
            f"{first} K L",
        )[: count - 1]:
            put(GIVEN=written, MAIL="", PHONE="")
        return {"kind": "seven" if count == 7 else "several", "number": right}
    put(
        GIVEN=f"{given[0]} {chance.choice(GIVEN)}",
        MAIL=f"other{place}@elsewhere.example",
        HOME_PORT="XXX",
        PHONE="",
    )
    return {"kind": "other", "number": "NEW"}
