"""The Registry's published layout: fields, codes, and rules with what each reads and what it
only follows from.
"""

from __future__ import annotations

import re
from datetime import date
from typing import Any

__all__ = ["CODES", "COLLEGES", "FIELDS", "RULES", "is_number", "published"]

FIELDS = [
    {
        "name": "REF",
        "title": "Your reference",
        "type": "text",
        "required": True,
        "role": "reference",
    },
    {
        "name": "MARINER",
        "title": "Mariner number",
        "type": "text",
        "format": "M and seven digits, the last a Damm check",
        "role": "number",
    },
    {
        "name": "NUMBER",
        "title": "Number request",
        "type": "text",
        "format": "empty, NEW, QUESTION, or the number that is chosen",
        "role": "asked",
    },
    {"name": "FAMILY", "title": "Family name", "type": "text", "required": True},
    {"name": "GIVEN", "title": "Given names", "type": "text", "required": True},
    {"name": "BORN", "title": "Born", "type": "day", "required": True},
    {
        "name": "COLLEGE",
        "title": "College",
        "type": "code",
        "codes": "college",
        "required": True,
        "held": "place",
    },
    {
        "name": "KIND",
        "title": "Kind of enrolment",
        "type": "code",
        "codes": "kind",
        "required": True,
        "held": "there",
    },
    {"name": "ENR_FROM", "title": "Enrolled from", "type": "day", "required": True, "held": "from"},
    {"name": "ENR_TO", "title": "Enrolled to", "type": "day", "held": "to"},
    {
        "name": "PROGRAMME",
        "title": "Programme",
        "type": "code",
        "codes": "programme",
        "required": True,
        "held": "there",
    },
    {"name": "YEAR", "title": "Year", "type": "whole number", "held": "there"},
    {"name": "HOME_PORT", "title": "Home port", "type": "code", "codes": "port"},
    {"name": "MEDICAL_TO", "title": "Medical until", "type": "day"},
    {"name": "GUARDIAN", "title": "Guardian", "type": "text"},
    {"name": "MAIL", "title": "Mail", "type": "text"},
    {"name": "PHONE", "title": "Phone", "type": "text"},
]
COLLEGES = {
    "TQMC": "Tarn Quay Maritime College",
    "HSNA": "Holm Sound Academy",
    "FWNC": "Fairwater Nautical College",
}
CODES: dict[str, list[dict[str, str]]] = {
    "college": [{"code": code, "label": label} for code, label in COLLEGES.items()],
    "kind": [{"code": "P", "label": "Primary"}, {"code": "S", "label": "Secondary"}],
    "programme": [
        {"code": "D3", "label": "Deck officer, three years"},
        {"code": "E3", "label": "Engineer officer, three years"},
        {"code": "L3", "label": "Electro-technical officer, three years"},
        {"code": "R2", "label": "Radio officer", "last_day": "2019-07-31"},
    ],
    "port": [
        {"code": "BWK", "label": "Brackwater"},
        {"code": "DNS", "label": "Dunsea"},
        {"code": "FNW", "label": "Fenwick Sound"},
        {"code": "HMO", "label": "Hollin Mouth"},
        {"code": "KHV", "label": "Kirkhaven"},
        {"code": "LNS", "label": "Lorrin Ness"},
        {
            "code": "SKA",
            "label": "Skarvholm Old Harbour",
            "last_day": "2026-08-31",
            "instead": "SKM",
        },
        {"code": "SKM", "label": "Skarvholm Marina", "first_day": "2026-09-01"},
        {"code": "TQY", "label": "Tarn Quay"},
        {"code": "OSR", "label": "Ostrand Roads"},
        {"code": "XXX", "label": "abroad"},
    ],
}
_NUMBER = r"M[0-9]{7}"
_NAME = r"[^0-9<>;\"]+"


def _rule(
    number: str,
    title: str,
    text: str,
    reads: str,
    *,
    weight: str = "reject",
    follows: str = "",
    check: dict[str, Any] | None = None,
) -> dict[str, Any]:
    return {
        "rule": number,
        "title": title,
        "text": text,
        "reads": reads.split(),
        "weight": weight,
        "follows": follows.split(),
        "check": check,
    }


# The rules in the order of their numbers. `check`: how a sender can hold to it, where that needs
# nothing that the Registry keeps.
RULES = [
    _rule(
        "A1",
        "Reference missing or twice",
        "Every record has a reference of its own.",
        "REF",
        check={"unique": "REF"},
    ),
    _rule(
        "A2",
        "Family name missing",
        "A mariner has a family name.",
        "FAMILY",
        check={"filled": "FAMILY"},
    ),
    _rule(
        "A3",
        "Given names missing",
        "A mariner has at least one given name.",
        "GIVEN",
        check={"filled": "GIVEN"},
    ),
    _rule(
        "A4",
        "Name with other signs",
        "Names hold letters, spaces and marks between names.",
        "FAMILY GIVEN",
        check={"like": ["FAMILY", "GIVEN"], "pattern": _NAME},
    ),
    _rule(
        "B1",
        "Born is no day",
        "The day of birth is a day of the calendar.",
        "BORN",
        check={"day": "BORN"},
    ),
    _rule(
        "B2",
        "Too young on enrolment",
        "A mariner is 15 or older on enrolment.",
        "BORN ENR_FROM",
        check={"age": "BORN", "on": "ENR_FROM", "least": 15},
    ),
    _rule(
        "B3",
        "Born on another day",
        "The day of birth is that of the record held.",
        "BORN FAMILY GIVEN",
    ),
    _rule(
        "B4",
        "Born very long ago",
        "A mariner is under 80 on enrolment.",
        "BORN ENR_FROM",
        weight="warn",
        check={"age": "BORN", "on": "ENR_FROM", "most": 79},
    ),
    _rule("C1", "Not your college", "A college sends its own enrolments.", "COLLEGE"),
    _rule(
        "C2",
        "College unknown",
        "The college is in the list of colleges.",
        "COLLEGE",
        check={"code": "COLLEGE", "codes": "college"},
    ),
    _rule(
        "D1",
        "Number is wrong",
        "A mariner number has seven digits, the last of them a check.",
        "MARINER",
        check={"like": ["MARINER"], "pattern": _NUMBER},
    ),
    _rule(
        "D2", "Number unknown", "The mariner number is one that the Registry has given.", "MARINER"
    ),
    _rule(
        "D3",
        "Number of another person",
        "The mariner number is that of the person named.",
        "MARINER FAMILY GIVEN BORN",
    ),
    _rule(
        "D4",
        "Number twice",
        "A mariner stands once in a return.",
        "MARINER",
        check={"unique": "MARINER"},
    ),
    _rule(
        "E1",
        "Enrolled from is no day",
        "The first day of the enrolment is a day.",
        "ENR_FROM",
        check={"day": "ENR_FROM"},
    ),
    _rule(
        "E2",
        "Enrolment ends before it begins",
        "An enrolment ends after it begins.",
        "ENR_FROM ENR_TO",
        check={"order": ["ENR_FROM", "ENR_TO"]},
    ),
    _rule(
        "E3",
        "Enrolment too long",
        "An enrolment lasts six years at most.",
        "ENR_FROM ENR_TO",
        weight="warn",
    ),
    _rule(
        "E4",
        "Enrolled twice on the same days",
        "A mariner has one primary enrolment on any day.",
        "COLLEGE ENR_FROM ENR_TO KIND",
    ),
    _rule(
        "E5",
        "Kind unknown",
        "The kind of enrolment is P or S.",
        "KIND",
        check={"code": "KIND", "codes": "kind"},
    ),
    _rule(
        "G1",
        "Guardian missing",
        "A mariner under 18 on the day of the return has a guardian.",
        "GUARDIAN BORN",
        check={"filled": "GUARDIAN", "age": "BORN", "under": 18},
    ),
    _rule(
        "H1",
        "Home port code retired",
        "A home port code is in use on the day of the return.",
        "HOME_PORT",
        check={"code": "HOME_PORT", "codes": "port", "retired": True},
    ),
    _rule(
        "H2",
        "Home port unknown",
        "A home port is in the list of ports.",
        "HOME_PORT",
        check={"code": "HOME_PORT", "codes": "port"},
    ),
    _rule(
        "M1",
        "Medical day missing",
        "Who is enrolled has a medical certificate.",
        "MEDICAL_TO",
        weight="warn",
        check={"filled": "MEDICAL_TO"},
    ),
    _rule(
        "M2",
        "Medical has run out",
        "The medical certificate holds on the day of the return.",
        "MEDICAL_TO",
        check={"reaches": "MEDICAL_TO"},
    ),
    _rule(
        "P1",
        "Programme unknown",
        "The programme is in the list of programmes.",
        "PROGRAMME",
        check={"code": "PROGRAMME", "codes": "programme"},
    ),
    _rule(
        "P2",
        "Year beyond the programme",
        "A programme of three years has the years 1 to 4.",
        "YEAR PROGRAMME",
        check={"like": ["YEAR"], "pattern": "[1-4]"},
    ),
    _rule(
        "W1",
        "No mail address",
        "A mail address is wished for.",
        "MAIL",
        weight="warn",
        check={"filled": "MAIL"},
    ),
    _rule(
        "W2",
        "Name written otherwise",
        "The name is written as the Registry holds it.",
        "FAMILY GIVEN",
        weight="warn",
    ),
    _rule(
        "Y1",
        "Enrolment not opened",
        "An enrolment is opened for a record that is taken.",
        "ENR_FROM ENR_TO",
        follows="E1 E2 E4 E5 C1 C2",
    ),
    _rule(
        "Y2",
        "Guardian not noted",
        "The guardian is noted with a record that is taken.",
        "GUARDIAN",
        follows="G1 B1 B2",
    ),
    _rule(
        "Z0",
        "Record not taken",
        "A record is taken when no rule rejects it.",
        "REF",
        follows="A1 A2 A3 A4 B1 B2 B3 C1 C2 D1 D2 D3 D4 E1 E2 E4 E5 G1 H1 H2 M2 P1 P2 Y1 Y2",
    ),
]

_DAMM = (
    "0317598642",
    "7092154863",
    "4206871359",
    "1750983426",
    "6123045978",
    "3674209581",
    "5869720134",
    "8945362017",
    "9438617205",
    "2581436790",
)


def is_number(text: str) -> bool:
    """Tell whether a mariner number is well formed (Damm, 2004, for the check digit)."""
    return bool(re.fullmatch(_NUMBER, text)) and check_of(text[1:]) == 0


def check_of(digits: str) -> int:
    """Run digits through the Damm table."""
    state = 0
    for digit in digits:
        state = int(_DAMM[state][int(digit)])
    return state


def published(today: date) -> dict[str, Any]:
    """Give the layout as it is published."""
    return {
        "authority": "Registry of Mariners",
        "version": "2026.1",
        "day": today.isoformat(),
        "fields": FIELDS,
        "codes": CODES,
        "rules": RULES,
    }
