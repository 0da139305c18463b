"""The gate passes, and `gate-dump.txt`: what the door system gives out: no header, tabs,
doubles, names that it cannot take.
"""

from __future__ import annotations

import random
import unicodedata
from datetime import date
from typing import Any

from write import Truth, labels_of

__all__ = ["make_dump", "make_passes"]

FACILITY = {"NQ": 17, "CH": 42, "TSM": 91}
PASSES = 1530
WITHOUT = 32  # enrolled cadets who have no pass yet; a member of staff is the thirty-third
LOST = 8  # enrolled cadets whose only pass is lost
KEPT = 12  # cadets whose enrolment is over, and whose pass opens doors on
LAST_DAY = date(2026, 9, 1)
FIELDS = (
    "facility_code",
    "card_number",
    "door_name",
    "holder",
    "zones",
    "pass_state",
    "valid_until",
)
ODD = 12  # names with letters that the doors do not take
MISTYPED = 2
END = "-- end of dump --"


def make_passes(
    chance: random.Random, cadets: list[dict[str, Any]], staff: list[dict[str, Any]]
) -> tuple[list[dict[str, Any]], dict[str, list[str]]]:
    """Make the passes of cadets and members of staff, some older ones that are lost or given back
    among them, and tell who has none: by `without`, `lost` and `kept`, the holders.
    """
    enrolled = [one for one in cadets if one["enrolled_to"] >= LAST_DAY.isoformat()]
    over = [one for one in cadets if one["enrolled_to"] < LAST_DAY.isoformat()]
    chosen = chance.sample([one["cadet_number"] for one in enrolled], WITHOUT + LOST)
    captain = next(one["staff_number"] for one in staff if one["position"] == "CAPT")
    who = {
        "without": [*chosen[:WITHOUT], captain],
        "lost": chosen[WITHOUT:],
        "kept": chance.sample([one["cadet_number"] for one in over], KEPT),
    }
    passes: list[dict[str, Any]] = []
    number = 1200
    for one in [*cadets, *staff]:
        holder = one.get("cadet_number") or one["staff_number"]
        if holder in who["without"]:
            continue
        number += chance.randrange(1, 40)
        made = _pass(chance, one, number, "LOST" if holder in who["lost"] else "ACTIVE")
        if holder in who["kept"]:
            made["valid_until"] = "2027-06-30"
        passes.append(made)
    held = {one["holder"] for one in passes} - set(who["lost"])
    for one in chance.sample(
        [one for one in cadets if one["cadet_number"] in held], PASSES - len(passes)
    ):
        number += chance.randrange(1, 40)
        passes.append(_pass(chance, one, number, chance.choice(["LOST", "RETURNED", "BLOCKED"])))
    return passes, who


def _pass(chance: random.Random, one: dict[str, Any], number: int, state: str) -> dict[str, Any]:
    cadet = "cadet_number" in one
    zones = ["MAIN", *chance.sample(["SLIP", "LABS", "STOR", "HALL"], chance.choice([0, 1, 2]))]
    until = date.fromisoformat(one["enrolled_to"]) if cadet else date(2027, 7, 31)
    return {
        "facility_code": str(FACILITY[one["campus"]] if cadet else 17),
        "card_number": str(number),
        "door_name": _plain(f"{one['given_names'].split()[0]} {one['family_name']}"),
        "holder": one["cadet_number"] if cadet else one["staff_number"],
        "zones": sorted(zones),
        "pass_state": state,
        "valid_until": until.isoformat(),
    }


def _plain(name: str) -> str:
    return unicodedata.normalize("NFKD", name).encode("ascii", "ignore").decode()


def make_dump(
    chance: random.Random,
    passes: list[dict[str, Any]],
    cadets: list[dict[str, Any]],
    codes: dict[str, Any],
) -> tuple[bytes, dict[str, Any]]:
    """Make the dump and its truth."""
    labels = labels_of(codes)
    people = {
        one["cadet_number"]: f"{one['given_names'].split()[0]} {one['family_name']}"
        for one in cadets
    }
    rows = [dict(one) for one in passes]
    truth = Truth(
        "gate-dump.txt",
        "gate-passes",
        coverage="listed",
        header_line=None,
        separator="\t",
        columns={f"Column {place}": field for place, field in enumerate(FIELDS, 1)},
    )
    outcome: dict[int, str] = dict.fromkeys(range(len(rows)), "same")
    # Letters that the doors do not take stand in the names of some; all others were given out plain
    # already.
    odd = [
        place
        for place, one in enumerate(rows)
        if one["holder"] in people and not people[one["holder"]].isascii()
    ][:ODD]
    for place in odd:
        rows[place]["door_name"] = people[rows[place]["holder"]]
    free = [place for place in range(len(rows)) if place not in odd]
    chance.shuffle(free)
    pool = iter(free)
    for place in (next(pool) for _ in range(38)):
        rows[place]["pass_state"] = "LOST" if rows[place]["pass_state"] != "LOST" else "RETURNED"
        outcome[place] = "changed"
    order = list(range(len(rows)))
    equal, quarrel = [next(pool) for _ in range(3)], [next(pool) for _ in range(2)]
    copies = [dict(rows[place]) for place in equal]
    clashing = [
        {**rows[place], "holder": rows[free[-1 - number]]["holder"]}
        for number, place in enumerate(quarrel)
    ]
    listed = [rows[place] for place in order] + copies + clashing
    planted: list[tuple[int, str, str]] = [(place, "door_name", "pattern") for place in odd]
    for number, place in enumerate(quarrel):
        planted += [
            (place, "card_number", "duplicate"),
            (len(rows) + len(copies) + number, "card_number", "duplicate"),
        ]
    for place in range(len(listed)):
        truth.outcomes[place + 1] = outcome.get(place, "left_out")
    for place, field, check in planted:
        truth.plant(place + 1, field, check)
    lines = [
        "\t".join(_write(field, one.get(field, ""), labels) for field in FIELDS) for one in listed
    ]
    content = "\r\n".join([*lines, END, ""]).encode()
    return content, truth.finish(
        not_data={"end": [len(listed) + 1]}, odd=[place + 1 for place in odd]
    )


def _write(field: str, value: Any, labels: dict[str, dict[str, str]]) -> str:
    if field == "zones":
        return "+".join(value)
    if field == "pass_state":
        return labels["pass_state"][value].upper()
    if field == "valid_until":
        return value.replace("-", "")
    if field == "card_number":
        return value.zfill(5)
    return str(value)
