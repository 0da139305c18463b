"""The admissions office's file of September: notes, odd headings, names for codes, and planted
problems with their truth.
"""

from __future__ import annotations

import csv
import io
import random
from datetime import date, datetime
from typing import Any

import xlsxwriter
from world import CADET_NUMBER, Namer, make_cadet
from write import labels_of

from nevefield.core.codes import read_codes
from nevefield.core.columns.identifiers import mend_identifier

__all__ = ["ROWS", "make_september", "write_joiners"]

ROWS = 348
FIRST_LINE = 6  # below three notes, a blank line and the header
NOTES = (
    "Tarn Quay Maritime College · Admissions",
    "New entry, autumn 2026, as agreed on 21 August",
    "Please tell us what is wrong: ext. 417",
)
COLUMNS = {
    "Cadet No.": "cadet_number",
    "SURNAME": "family_name",
    "First names": "given_names",
    "d.o.b.": "born",
    "Course": "programme",
    "Dept": "department",
    "Term of entry": "intake_term",
    "Year of study": "year",
    "Site": "campus",
    "Watch": "watch",
    "Room": "berth",
    "E-Mail": "mail",
    "Mobile": "phone",
    "Home Port": "home_port",
    "Start": "enrolled_from",
    "End": "enrolled_to",
    "Lives in": "resident",
    "Bursary": "bursaries",
    "Diet": "dietary",
    "Medical certificate until": "medical_until",
    "Parent or guardian": "guardian",
    "Guardian tel.": "guardian_phone",
    "Portal PIN": "",
    "Interviewed by": "",
}
GIVEN_UP = {
    "Mariner no.": "mariner_number",
    "Position in watch": "watch_position",
    "Deposit paid": "deposit",
}
DAYS = ("born", "enrolled_from", "enrolled_to", "medical_until")
NAMED = ("programme", "intake_term", "campus", "watch", "home_port")
DECK_DEPT = ["Deck dept", "Deck dept", "Deck dept", "deck Dept.", "Deck dept"]
PORTS = ["Skarvolm", "Skarv holm", "Skarvholmn", "Skarvhollm", "Scarvholm"]


def make_september(
    chance: random.Random, namer: Namer, cadets: list[dict[str, Any]], codes_text: str
) -> tuple[bytes, bytes, dict[str, Any]]:
    """Make the file as XLSX and as CSV, and the truth about both.

    Returns:
        The workbook, the CSV, and the truth: planted problems (line, field, check, weight),
        repairs, outcomes by line, the tally, and the right values of the planted rows.
    """
    labels = labels_of(read_codes(codes_text))
    rows = [make_cadet(chance, namer, 204410 + 3 * place, 2026) for place in range(ROWS)]
    for row in rows:
        row.pop("deposit")
    plan = iter(chance.sample(range(ROWS), 60))
    planted: list[dict[str, Any]] = []
    outcome = dict.fromkeys(range(ROWS), "new")
    right: dict[int, dict[str, Any]] = {}

    def plant(place: int, field: str | None, check: str, weight: str = "stop") -> None:
        planted.append(
            {"line": FIRST_LINE + place, "field": field, "check": check, "weight": weight}
        )
        outcome[place] = "stopped" if weight == "stop" else "waiting"

    _known_already(rows, cadets, chance, [next(plan) for _ in range(9)], outcome)
    texts = [_write(row, labels, place) for place, row in enumerate(rows)]
    for number in range(17):
        place = next(plan)
        right[place] = {"programme": "DECK"}
        rows[place].update(programme="DECK", department="NAV")
        texts[place].update(programme=DECK_DEPT[number % 5], department="Navigation")
        plant(place, "programme", "code")
    ports = [next(plan) for _ in range(5)]
    for place, port in zip(ports, PORTS, strict=True):
        right[place] = {"home_port": "SKV"}
        texts[place]["home_port"] = port
        plant(place, "home_port", "code")
    # Second problems stand on rows that are stopped already, so that one click on the commonest
    # cause frees all of its rows.
    texts[ports[0]]["enrolled_to"] = "30/06/2023"
    plant(ports[0], "enrolled_to", "order")
    texts[ports[1]]["mail"] = str(cadets[17]["mail"]).upper()
    plant(ports[1], "mail", "unique-in-roster")
    texts[ports[2]]["given_names"] = ""
    plant(ports[2], "given_names", "required")
    texts[ports[3]]["medical_until"] = "31/02/2027"
    plant(ports[3], "medical_until", "type")
    _wrong_numbers(rows, texts, [next(plan) for _ in range(2)], plant, right)
    _no_guardian(rows, texts, next(place for place in plan if outcome[place] == "new"), plant)
    swapped = next(plan)
    texts[swapped]["mail"], texts[swapped]["phone"] = (
        texts[swapped]["phone"],
        texts[swapped]["mail"],
    )
    plant(swapped, "mail", "format")
    plant(swapped, "phone", "format")
    first, second = sorted([next(plan), next(plan)])
    texts[second] = {
        **texts[first],
        "phone": "+44 7700 900999",
        "watch": "Skua" if texts[first]["watch"] != "Skua" else "Tern",
    }
    rows[second] = rows[first]
    plant(first, "cadet_number", "duplicate")
    plant(second, "cadet_number", "duplicate")
    for number in range(9):
        place = next(plan)
        texts[place]["home_port"] = "Velmar" if number % 2 else "Ostrand Roads"
        plant(place, "home_port", "home-area", "ask")
    for _ in range(7):
        place = next(plan)
        texts[place]["family_name"] = f" {texts[place]['family_name']} "
    counted = {
        name: list(outcome.values()).count(name)
        for name in ("new", "changed", "same", "waiting", "stopped")
    }
    truth = {
        "file": "september-joiners",
        "header_line": 5,
        "not_data": {"note": [1, 2, 3], "blank": [4], "header": [5], "total": [FIRST_LINE + ROWS]},
        "secrets": ["Portal PIN"],
        "planted": sorted(planted, key=lambda one: (one["line"], one["field"] or "")),
        "outcomes": {str(FIRST_LINE + place): name for place, name in outcome.items()},
        "tally": {"read": ROWS, **counted, "held": 0, "left_out": 0, "absent": 0},
        "right": {str(FIRST_LINE + place): values for place, values in right.items()},
        "people": {str(FIRST_LINE + place): rows[place]["cadet_number"] for place in range(ROWS)},
        "known": sorted(
            FIRST_LINE + place for place, name in outcome.items() if name in ("changed", "same")
        ),
    }
    return _workbook(texts), _csv(texts), truth


def write_joiners(people: list[dict[str, Any]], codes: dict[str, Any]) -> bytes:
    """Write people as the admissions office did in August: with nothing wrong, and three columns
    that it gave up since.
    """
    texts = [
        _write(row, labels_of(codes), place, COLUMNS | GIVEN_UP) for place, row in enumerate(people)
    ]
    return _workbook(texts, COLUMNS | GIVEN_UP)


def _known_already(
    rows: list[dict[str, Any]],
    cadets: list[dict[str, Any]],
    chance: random.Random,
    places: list[int],
    outcome: dict[int, str],
) -> None:
    """Put nine cadets of the roster into the file: three as they are, six with another watch or
    phone.
    """
    chosen = [cadet for cadet in cadets if cadet["home_port"] not in ("OST", "VLM")]
    for number, place in enumerate(places):
        cadet = dict(chosen[100 + 37 * number])
        cadet.pop("deposit")
        outcome[place] = "same" if number < 3 else "changed"
        if number >= 3:
            cadet["watch"] = "SKUA" if cadet["watch"] != "SKUA" else "TERN"
        if number >= 6:
            cadet["phone"] = f"+44 7700 900{900 + number}"
        rows[place] = cadet


def _wrong_numbers(
    rows: Any, texts: Any, places: list[int], plant: Any, right: dict[int, dict[str, Any]]
) -> None:
    """Break two cadet numbers: two neighbours swapped, and one digit mistyped."""
    for number, place in enumerate(places):
        text = texts[place]["cadet_number"]
        right[place] = {"cadet_number": text}
        if number == 0:
            at = next(
                one for one in range(7, 2, -1) if text[one] != text[one - 1] and text[one].isdigit()
            )
            broken = text[: at - 1] + text[at] + text[at - 1] + text[at + 1 :]
        else:
            # A slip that no swap of neighbours would mend, or the likeliest value would not be the
            # right one.
            slips = (text[:5] + str((int(text[5]) + step) % 10) + text[6:] for step in range(1, 10))
            broken = next(
                one for one in slips if not mend_identifier(CADET_NUMBER, one).suggestions
            )
        texts[place]["cadet_number"] = broken
        plant(place, "cadet_number", "identifier")


def _no_guardian(rows: Any, texts: Any, place: int, plant: Any) -> None:
    rows[place]["born"] = "2009-03-14"
    texts[place].update(born=date(2009, 3, 14), guardian="", guardian_phone="")
    plant(place, "guardian", "required-when")


def _write(
    row: dict[str, Any],
    labels: dict[str, dict[str, str]],
    place: int,
    columns: dict[str, str] = COLUMNS,
) -> dict[str, Any]:
    """Write a cadet as the admissions office does."""
    texts: dict[str, Any] = {}
    for field in filter(None, columns.values()):
        value = row.get(field, "")
        if field in NAMED and value:
            value = labels[field][value]
        elif isinstance(value, list):
            value = "; ".join(value)
        elif field in DAYS and value:
            day = date.fromisoformat(value)
            # As people type: some as real dates, some as text with the day first.
            value = day if (place + len(field)) % 2 else day.strftime("%d/%m/%Y")
        elif field == "resident":
            value = "yes" if value == "true" else "no"
        texts[field] = value
    texts["pin"] = f"{(place * 7919 + 1234) % 10000:04d}"
    texts["by"] = ["R. Tamm", "O. Quilliam", "P. Marrick"][place % 3]
    return texts


def _cells(texts: dict[str, Any], columns: dict[str, str] = COLUMNS) -> list[Any]:
    own = {"Portal PIN": "pin", "Interviewed by": "by"}
    return [texts[field or own[heading]] for heading, field in columns.items()]


def _workbook(texts: list[dict[str, Any]], columns: dict[str, str] = COLUMNS) -> bytes:
    out = io.BytesIO()
    book = xlsxwriter.Workbook(out, {"in_memory": True, "strings_to_numbers": False})
    book.set_properties({"created": datetime(2026, 8, 21, 9, 0), "author": "Admissions"})
    sheet = book.add_worksheet("New entry")
    day, bold = book.add_format({"num_format": "d mmm yyyy"}), book.add_format({"bold": True})
    for number, note in enumerate(NOTES):
        sheet.write_string(number, 0, note)
    sheet.write_row(4, 0, list(columns), bold)
    for number, row in enumerate(texts):
        for column, value in enumerate(_cells(row, columns)):
            if isinstance(value, date):
                sheet.write_datetime(
                    FIRST_LINE - 1 + number,
                    column,
                    datetime(value.year, value.month, value.day),
                    day,
                )
            elif list(columns)[column] == "Year of study" and value:
                sheet.write_number(FIRST_LINE - 1 + number, column, int(value))
            elif value:
                sheet.write_string(FIRST_LINE - 1 + number, column, value)
    sheet.write_string(FIRST_LINE - 1 + len(texts), 0, "TOTAL")
    sheet.write_number(FIRST_LINE - 1 + len(texts), 1, len(texts))
    book.close()
    return out.getvalue()


def _csv(texts: list[dict[str, Any]]) -> bytes:
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\r\n")
    for note in NOTES:
        writer.writerow([note])
    writer.writerow([])
    writer.writerow(list(COLUMNS))
    for row in texts:
        writer.writerow(
            [
                value.strftime("%d/%m/%Y") if isinstance(value, date) else value
                for value in _cells(row)
            ]
        )
    writer.writerow(["TOTAL", len(texts)])
    return out.getvalue().encode()
