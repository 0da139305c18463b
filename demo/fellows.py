"""The alumni society: its roster, and `fellows-renewals.xls`, an old workbook with one row per
chapter.
"""

from __future__ import annotations

import io
import random
from datetime import date, timedelta
from typing import Any

import xlwt
from world import FELLOW_NUMBER, Namer, phone
from write import Truth, labels_of, swap_neighbours

from nevefield.core.columns.identifiers import add_check

__all__ = ["make_fellows", "make_renewals"]

CHAPTERS = ["HARB", "NORTH", "OVERS", "BRIDGE", "BOILER", "LAMP"]
TOWNS = [
    "Brackwater",
    "Dunsea",
    "Hollin Mouth",
    "Kirkhaven",
    "Skarvholm",
    "Tarn Quay",
    "Velmar",
    "Ostrand Roads",
]
RENEWING, LAPSED, NEW = 412, 14, 6
FIRST_LINE = 4  # below a title, a blank line and the header
HEADINGS = ["Fellow No", "Name", "Chapter", "Grade", "E-mail", "Paid until", "Credits to add"]


def make_fellows(chance: random.Random, count: int) -> list[dict[str, Any]]:
    """Make the society's roster."""
    namer = Namer(chance, "fellows.example")
    return [_fellow(chance, namer, place) for place in range(count)]


def _fellow(chance: random.Random, namer: Namer, place: int) -> dict[str, Any]:
    family, given = namer.name()
    joined = date(1975, 1, 1) + timedelta(days=chance.randrange(18_000))
    grade = chance.choices(["ASSOC", "FULL", "LIFE", "HON"], [4, 10, 2, 1])[0]
    fellow: dict[str, Any] = {
        "fellow_number": add_check(FELLOW_NUMBER, f"{10_000 + 3 * place:05d}"),
        "family_name": family,
        "given_names": given,
        "mail": namer.mail(family, given),
        "town": chance.choice(TOWNS),
        "grade": grade,
        "chapters": sorted(chance.sample(CHAPTERS, chance.choice([1, 1, 1, 2, 2, 3]))),
        "joined": joined.isoformat(),
        "subscription": {"ASSOC": "30", "FULL": "45", "LIFE": "0", "HON": "0"}[grade],
    }
    if chance.random() < 0.7:
        fellow["phone"] = phone(chance)
    if grade not in ("LIFE", "HON"):
        fellow["paid_until"] = "2026-12-31" if chance.random() < 0.8 else "2026-06-30"
    if chance.random() < 0.3:
        fellow["credits"] = str(chance.randrange(1, 40))
    return fellow


def make_renewals(
    chance: random.Random, fellows: list[dict[str, Any]], codes: dict[str, Any]
) -> tuple[bytes, dict[str, Any]]:
    """Make the renewals and their truth: fellows with one row per chapter, 14 paid until a day
    that is past.
    """
    labels = labels_of(codes)
    paying = [one for one in fellows if one["grade"] in ("ASSOC", "FULL")]
    chosen = [dict(one) for one in chance.sample(paying, RENEWING)]
    namer = Namer(chance, "fellows.example")
    namer.know(fellows)
    for place in range(NEW):
        chosen.append({**_fellow(chance, namer, len(fellows) + 50 + place), "grade": "ASSOC"})
    past = {one["fellow_number"] for one in chance.sample(chosen[:RENEWING], LAPSED)}
    broken = chance.sample(
        [one for one in chosen[:RENEWING] if one["fellow_number"] not in past], 4
    )
    wrong, quarrel = broken[:3], broken[3]
    quarrel["chapters"] = ["HARB", "NORTH"]
    truth = Truth(
        "fellows-renewals.xls",
        "fellows",
        header_line=3,
        not_data={"note": [1], "blank": [2], "header": [3]},
        sheet="Renewals",
        lapsed=sorted(past),
    )
    rows: list[list[Any]] = []
    chapters: dict[str, list[str]] = {}
    credits: dict[str, int] = {}
    for number, one in enumerate(chosen):
        key = one["fellow_number"]
        added = chance.choice([0, 0, 2, 5, 10])
        until = date(2026, 3, 31) if key in past else date(2027, 12, 31)
        if key not in past and number < RENEWING and number % 4 == 0:
            one["chapters"] = sorted({*one["chapters"], "LAMP"})
        credits[key] = int(one.get("credits", 0)) + added
        chapters[key] = sorted(one["chapters"])
        for place, chapter in enumerate(one["chapters"]):
            line = FIRST_LINE + len(rows)
            shown = swap_neighbours(key) if one in wrong else key
            grade = one["grade"] if one is not quarrel or not place else "LIFE"
            truth.outcomes[line] = "new" if number >= RENEWING else "changed"
            if key in past:
                truth.plant(line, "paid_until", "ended", "ask")
            if one in wrong:
                truth.plant(line, "fellow_number", "identifier")
            if one is quarrel:
                truth.plant(line, "fellow_number", "duplicate")
            name = f"{one['family_name']}, {one['given_names']}"
            rows.append(
                [
                    shown,
                    name,
                    labels["chapter"][chapter],
                    labels["grade"][grade],
                    one["mail"],
                    until,
                    added or "",
                ]
            )
    return _workbook(rows), truth.finish(people=len(chosen), chapters=chapters, credits=credits)


def _workbook(rows: list[list[Any]]) -> bytes:
    book = xlwt.Workbook(encoding="utf-8")
    sheet = book.add_sheet("Renewals")
    sheet.write_merge(
        0, 0, 0, len(HEADINGS) - 1, "Society of Fellows · renewals received by 28 August"
    )
    day = xlwt.easyxf(num_format_str="DD/MM/YYYY")
    for column, heading in enumerate(HEADINGS):
        sheet.write(2, column, heading)
    for number, row in enumerate(rows, FIRST_LINE - 1):
        for column, value in enumerate(row):
            if isinstance(value, date):
                sheet.write(number, column, value, day)
            elif value != "":
                sheet.write(number, column, value)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
