"""`hr-staff-extract.csv`: payroll's file: a password column, numbers that a spreadsheet
shortened, managers that cannot be.
"""

from __future__ import annotations

import random
from datetime import date
from typing import Any

from world import STAFF_NUMBER, Namer, phone
from write import Truth, labels_of, swap_neighbours, text_rows

from nevefield.core.columns.identifiers import add_check

__all__ = ["make_payroll"]

COLUMNS = {
    "Employee No": "staff_number",
    "Last name": "family_name",
    "First name": "given_names",
    "Birth date": "born",
    "Work e-mail": "mail",
    "Work phone": "phone",
    "Job title": "position",
    "Division": "department",
    "Contract type": "contract",
    "Hire date": "first_day",
    "Termination date": "last_day",
    "Reports to": "manager",
    "User": "sign_in_name",
    "password": "",
    "System roles": "roles",
    "Cost centre": "",
}
DAYS = ("born", "first_day", "last_day")
RAISED = ["ARMOUR", "REGIST", "QUART", "ARMOUR"]
NEW = 6


def make_payroll(
    chance: random.Random, staff: list[dict[str, Any]], codes: dict[str, Any]
) -> tuple[bytes, dict[str, Any]]:
    """Make the file and its truth.

    Passwords are as people choose them, so that a search for them says whether any was kept.
    """
    labels = labels_of(codes)
    people = [dict(one) for one in staff]
    namer = Namer(chance, "tarnquay.example")
    namer.know(staff)
    changed: set[str] = set()
    for one in chance.sample(people[20:], 23):
        one["phone"] = phone(chance)
        changed.add(one["staff_number"])
    fresh = [_newcomer(chance, namer, place, people) for place in range(NEW)]
    rows = [*people, *fresh]
    pool = iter(
        chance.sample([one for one in people[20:] if one["staff_number"] not in changed], 20)
    )
    raised = [next(pool) for _ in RAISED]
    for one, role in zip(raised, RAISED, strict=True):
        one["roles"] = [*one.get("roles", []), role]
        changed.add(one["staff_number"])
    stray, first, second, wrong = (next(pool) for _ in range(4))
    stray["manager"] = add_check(STAFF_NUMBER, "09417")
    first["manager"], second["manager"] = second["staff_number"], first["staff_number"]
    passwords = [_password(chance) for _ in rows]
    truth = Truth(
        "hr-staff-extract.csv",
        "staff",
        header_line=1,
        not_data={"header": [1]},
        encoding="utf-8",
        separator=",",
        columns=COLUMNS,
        secrets=["password"],
        passwords=passwords,
        raised={one["staff_number"]: role for one, role in zip(raised, RAISED, strict=True)},
    )
    lines, shortened = [], {}
    # A manager whom nobody knows, and two who manage each other.
    references = {
        stray["staff_number"]: "reference",
        first["staff_number"]: "loop",
        second["staff_number"]: "loop",
    }
    for line, (one, password) in enumerate(zip(rows, passwords, strict=True), 2):
        number = one["staff_number"]
        known = line - 2 < len(people)
        moved = number in changed or number in references
        truth.outcomes[line] = "new" if not known else "changed" if moved else "same"
        texts = {
            field: _write(field, one.get(field, ""), labels) for field in COLUMNS.values() if field
        }
        shortened[str(line)] = number
        if number == wrong["staff_number"]:
            texts["staff_number"] = swap_neighbours(number).lstrip("0")
            truth.plant(line, "staff_number", "identifier")
        if number in references:
            truth.plant(line, "manager", references[number])
        if any(one is person for person in raised):
            truth.plant(line, "roles", "raised", "ask")
        cost = f"{4000 + 10 * chance.randrange(40)}"
        own = {"password": password, "Cost centre": cost}
        lines.append(
            [own[heading] if heading in own else texts[field] for heading, field in COLUMNS.items()]
        )
    content = text_rows([list(COLUMNS), *lines], quote_all=True).encode("utf-8-sig")
    return content, truth.finish(numbers=shortened)


def _newcomer(
    chance: random.Random, namer: Namer, place: int, people: list[dict[str, Any]]
) -> dict[str, Any]:
    family, given = namer.name()
    mail = namer.mail(family, given)
    return {
        "staff_number": add_check(STAFF_NUMBER, f"{2400 + 11 * place:05d}"),
        "family_name": family,
        "given_names": given,
        "born": date(1975 + place, 4, 3 + place).isoformat(),
        "mail": mail,
        "phone": phone(chance),
        "position": "LECT",
        "department": "NAV",
        "contract": "PERM",
        "first_day": "2026-09-01",
        "manager": people[place]["staff_number"],
        "sign_in_name": mail.split("@")[0].replace(".", ""),
    }


def _password(chance: random.Random) -> str:
    letters = "abcdefghjkmnpqrstuvwxyz"
    word = "".join(chance.choice(letters) for _ in range(7))
    return f"{word.capitalize()}{chance.randrange(10, 100)}{chance.choice('!?%+')}"


def _write(field: str, value: Any, labels: dict[str, dict[str, str]]) -> str:
    if field in ("staff_number", "manager"):
        return str(value).lstrip("0")  # what a spreadsheet leaves of them
    if field in ("position", "department", "contract") and value:
        return labels["staff_position" if field == "position" else field][value]
    if field == "roles":
        return "; ".join(labels["role"][one] for one in value or [])
    if field in DAYS and value:
        return date.fromisoformat(value).strftime("%m/%d/%Y")
    return str(value)
