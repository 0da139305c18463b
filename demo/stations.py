"""Memberships: those that the roster has already, and `stations-castle-hill.csv`, the safety
officer's: a row for each.
"""

from __future__ import annotations

import random
from typing import Any

from write import text_rows

__all__ = ["make_memberships", "make_stations"]

STATIONS = ["Hill North", "Hill South", "Chapel Steps", "Boat House"]
KIND, NEAR = "Muster station", "muster  Station"
FROM = "14/09/2026"
HEADINGS = ["Cadet no", "Name", "Kind of group", "Group", "In it from"]


def make_memberships(chance: random.Random, cadets: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Make the memberships of today: houses and stations at North Quay, and the safety teams."""
    quay = [one for one in cadets if one["campus"] == "NQ"]

    def member(one: dict[str, Any], kind: str, group: str) -> dict[str, Any]:
        return {
            "cadet_number": one["cadet_number"],
            "kind": kind,
            "group": group,
            "from": one["enrolled_from"],
        }

    housed = [one for one in quay if chance.random() < 0.7]
    found = [
        member(one, "HOUSE", chance.choice(["BEACON", "COMPASS", "HARBOUR", "TILLER"]))
        for one in housed
    ]
    found += [member(one, "STATION", chance.choice(["QUAYE", "QUAYW"])) for one in quay]
    found += [
        member(one, "SAFETY", ("BOATS", "FIRE")[place % 2])
        for place, one in enumerate(chance.sample(cadets, 24))
    ]
    return sorted(found, key=lambda one: (one["cadet_number"], one["kind"], one["group"]))


def make_stations(
    chance: random.Random, cadets: list[dict[str, Any]]
) -> tuple[bytes, dict[str, Any]]:
    """Make the file and its truth: who is to be in which station, and which rows spell the kind
    another way.
    """
    people = sorted(
        chance.sample([one for one in cadets if one["campus"] == "CH"], 120),
        key=lambda one: one["cadet_number"],
    )
    rows: list[list[str]] = []
    members: dict[str, list[str]] = {}
    near = []
    for number, one in enumerate(people):
        for station in sorted(chance.sample(STATIONS, 2 if number % 10 == 0 else 1)):
            kind = NEAR if number % 13 == 5 else KIND
            line = 2 + len(rows)
            if kind == NEAR:
                near.append(line)
            rows.append(
                [
                    one["cadet_number"],
                    f"{one['family_name']}, {one['given_names']}",
                    kind,
                    station,
                    FROM,
                ]
            )
            members.setdefault(one["cadet_number"], []).append(station)
    truth = {
        "file": "stations-castle-hill.csv",
        "roster": "memberships",
        "coverage": "listed",
        "header_line": 1,
        "not_data": {"header": [1]},
        "rows": len(rows),
        "members": members,
        "kind": KIND,
        "near": near,
        "from": "2026-09-14",
    }
    return text_rows([HEADINGS, *rows]).encode(), truth
