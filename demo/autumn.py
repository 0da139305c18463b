"""`cadets-full-autumn.csv`: the records system's file of everybody, in its own encoding and ways
of writing.
"""

from __future__ import annotations

import random
from datetime import date, timedelta
from typing import Any

from world import CAMPUS_WATCHES, phone
from write import Truth, text_rows

__all__ = ["make_autumn"]

ABSENT, CHANGED, MOVED = 61, 240, 37
COLUMNS = {
    "CDT_NO": "cadet_number",
    "MARINER_NO": "mariner_number",
    "SURNAME": "family_name",
    "FORENAMES": "given_names",
    "BIRTH_DT": "born",
    "EMAIL_ADDR": "mail",
    "MOBILE_TEL": "phone",
    "HOME_PORT_CD": "home_port",
    "DEPT_CD": "department",
    "PROG_CD": "programme",
    "INTAKE_TERM_CD": "intake_term",
    "YR": "year",
    "SITE_CD": "campus",
    "WATCH_CD": "watch",
    "WATCH_POSN_CD": "watch_position",
    "BERTH": "berth",
    "ENROL_FROM_DT": "enrolled_from",
    "ENROL_TO_DT": "enrolled_to",
    "RESIDENT_YN": "resident",
    "BURSARIES": "bursaries",
    "DIET_CD": "dietary",
    "MEDICAL_EXP_DT": "medical_until",
    "GUARDIAN": "guardian",
    "GUARDIAN_TEL": "guardian_phone",
    "DEPOSIT": "deposit",
}
DAYS = ("born", "enrolled_from", "enrolled_to", "medical_until")


def make_autumn(
    chance: random.Random, cadets: list[dict[str, Any]]
) -> tuple[bytes, dict[str, Any]]:
    """Make the file and its truth: 61 absent, 240 changed (37 of them to another watch), one
    captain mistyped.
    """
    captains = [one for one in cadets if one.get("watch_position") == "CAPT"]
    mistyped = chance.choice(captains)
    ordinary = [one for one in cadets if one.get("watch_position") != "CAPT"]
    absent = {one["cadet_number"] for one in chance.sample(ordinary, ABSENT)}
    rows = sorted(
        (dict(one) for one in cadets if one["cadet_number"] not in absent),
        key=lambda one: one["cadet_number"],
    )
    free = [one for one in rows if one.get("watch_position") != "CAPT"]
    altered = chance.sample(free, CHANGED)
    for number, one in enumerate(altered):
        if number < MOVED:
            one["watch"] = chance.choice(
                [watch for watch in CAMPUS_WATCHES[one["campus"]] if watch != one["watch"]]
            )
        elif number % 3 == 0:
            one["phone"] = phone(chance)
        elif number % 3 == 1:
            one["medical_until"] = (
                date.fromisoformat(one["medical_until"]) + timedelta(days=365)
            ).isoformat()
        else:
            one["deposit"] = "225.5" if one["deposit"] != "225.5" else "10.25"
    changed = {one["cadet_number"]: True for one in altered}
    truth = Truth(
        "cadets-full-autumn.csv",
        "cadets",
        coverage="everybody",
        header_line=1,
        not_data={"header": [1]},
        encoding="windows-1252",
        separator=";",
        columns=COLUMNS,
        captain={"cadet_number": mistyped["cadet_number"], "watch": mistyped["watch"]},
        moved={one["cadet_number"]: one["watch"] for one in altered[:MOVED]},
    )
    lines = []
    for line, one in enumerate(rows, 2):
        truth.outcomes[line] = "changed" if one["cadet_number"] in changed else "same"
        texts = {field: _write(field, one.get(field, "")) for field in COLUMNS.values()}
        if one["cadet_number"] == mistyped["cadet_number"]:
            texts["watch_position"] = "CAPTT"
            truth.plant(line, "watch_position", "code")
        lines.append([texts[field] for field in COLUMNS.values()])
    # What follows from the mistyped code: the watch has no captain; of the whole file, so of no
    # line.
    truth.planted.append(
        {"line": None, "field": None, "check": "lead", "weight": "ask", "follows": "code"}
    )
    content = text_rows([list(COLUMNS), *lines], ";").encode("windows-1252")
    return content, truth.finish(absent)


def _write(field: str, value: Any) -> str:
    if isinstance(value, list):
        return ";".join(value)
    if field in DAYS and value:
        return date.fromisoformat(value).strftime("%d.%m.%Y")
    if field == "deposit":
        return str(value).replace(".", ",")
    if field == "resident":
        return "Y" if value == "true" else "N"
    return str(value)
