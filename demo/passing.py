"""Whom the college tells: its directory, the library, an address book; and the accounts that the
directory had before anybody told it anything, four of them with names that others get.
"""

from __future__ import annotations

import random
import re
import unicodedata
from typing import Any

__all__ = ["DOORS", "make_destinations"]

TAKEN = 4
ENTERPRISE = "urn:ietf:params:scim:schemas:extension:enterprise:2.0:User:"
SIGN_IN = {
    "to": "userName",
    "pattern": {
        "pieces": [{"field": "given_names", "letters": 1}, {"text": "."}, {"field": "family_name"}]
    },
    "is_needed": True,
}
NAMES = [
    {"to": "name.familyName", "from": "family_name"},
    {"to": "name.givenName", "from": "given_names"},
    {"to": 'emails[type eq "work"].value', "from": "mail", "is_needed": True},
]
FULL_NAME = {
    "pieces": [{"field": "given_names"}, {"text": " "}, {"field": "family_name"}],
    "case": "as it is",
    "plain": False,
    "unique": False,
}
OTHERS = ("gate", "boathouse", "archive.reader", "printer.north", "library.desk", "ship.simulator")


def _is_here(last: str) -> dict[str, Any]:
    return {"any": [{"field": last, "filled": False}, {"field": last, "from": "today"}]}


def _directory() -> dict[str, Any]:
    return {
        "name": "directory",
        "title": "Directory",
        "way": {"kind": "scim", "address": "http://127.0.0.1:8419/v2", "least_password": 12},
        "when": {"kind": "after receipts"},
        "shares": [
            {
                "roster": "cadets",
                "where": _is_here("enrolled_to"),
                "puts": [
                    SIGN_IN,
                    *NAMES,
                    {"to": ENTERPRISE + "employeeNumber", "from": "cadet_number"},
                    {"to": ENTERPRISE + "department", "from": "department", "form": "label"},
                ],
                "groups": [
                    {"from": "watch", "before": "Watch "},
                    {"from": "campus", "before": "Campus "},
                ],
            },
            {
                "roster": "staff",
                "where": _is_here("last_day"),
                "puts": [
                    {"to": "userName", "from": "sign_in_name", "is_needed": True},
                    *NAMES,
                    {"to": "title", "from": "position", "form": "label"},
                    {"to": ENTERPRISE + "employeeNumber", "from": "staff_number"},
                ],
                "groups": [{"from": "roles", "before": "Role ", "is_privilege": True}],
            },
        ],
    }


def _library() -> dict[str, Any]:
    return {
        "name": "library",
        "title": "Library",
        "way": {
            "kind": "file",
            "format": "csv",
            "separator": ";",
            "file_name": "borrowers-{day}",
            "is_fetched": True,
        },
        "when": {"kind": "at a time", "rule": "10 6 * * *"},
        "shares": [
            {
                "roster": "cadets",
                "where": _is_here("enrolled_to"),
                "puts": [
                    {"to": "BORROWER", "from": "cadet_number", "is_needed": True},
                    {"to": "SURNAME", "from": "family_name"},
                    {"to": "FORENAMES", "from": "given_names"},
                    {"to": "MAIL", "from": "mail"},
                    {"to": "CATEGORY", "fill": "student"},
                    {"to": "EXPIRES", "from": "enrolled_to", "form": "01.09.2026"},
                ],
            },
        ],
    }


def _address_book() -> dict[str, Any]:
    return {
        "name": "address-book",
        "title": "Address book",
        "way": {
            "kind": "file",
            "format": "ldif",
            "file_name": "staff-{day}",
            "base": "ou=people,dc=tarnquay,dc=example",
            "classes": ["inetOrgPerson"],
        },
        "shares": [
            {
                "roster": "staff",
                "where": _is_here("last_day"),
                "puts": [
                    {"to": "uid", "from": "staff_number", "is_needed": True},
                    {"to": "cn", "pattern": FULL_NAME, "is_needed": True},
                    {"to": "sn", "from": "family_name", "is_needed": True},
                    {"to": "givenName", "from": "given_names"},
                    {"to": "mail", "from": "mail"},
                    {"to": "telephoneNumber", "from": "phone"},
                    {"to": "title", "from": "position", "form": "label"},
                ],
            },
        ],
    }


def _simulator() -> dict[str, Any]:
    return {
        "name": "simulator",
        "title": "Ship simulator",
        "way": {"kind": "asked", "writes": "proposed"},
        "when": {"kind": "after receipts"},
        "shares": [
            {
                "roster": "cadets",
                "where": _is_here("enrolled_to"),
                "puts": [
                    {"to": "userName", "from": "cadet_number", "is_needed": True},
                    {"to": "name.familyName", "from": "family_name"},
                    {"to": "name.givenName", "from": "given_names"},
                    {"to": 'emails[type eq "work"].value', "from": "mail"},
                    {"to": ENTERPRISE + "department", "from": "department", "form": "label"},
                ],
                "groups": [{"from": "watch", "before": "Watch "}],
            },
        ],
    }


def _lessons() -> dict[str, Any]:
    users = [
        {"to": "givenName", "from": "given_names", "is_needed": True},
        {"to": "familyName", "from": "family_name", "is_needed": True},
        {"to": "email", "from": "mail"},
    ]
    return {
        "name": "lessons",
        "title": "Learning system",
        "way": {
            "kind": "file",
            "format": "oneroster",
            "school": "Tarn Quay",
            "term": "Autumn 2026",
            "first_day": "2026-09-01",
            "last_day": "2027-01-31",
            "is_fetched": True,
        },
        "when": {"kind": "at a time", "rule": "30 5 * * *"},
        "shares": [
            {
                "roster": "cadets",
                "where": _is_here("enrolled_to"),
                "puts": [
                    {"to": "username", "from": "cadet_number", "is_needed": True},
                    *users,
                    {"to": "role", "fill": "student"},
                ],
                "groups": [{"from": "watch", "before": "Watch "}],
            },
            {
                "roster": "staff",
                "where": _is_here("last_day"),
                "puts": [
                    {"to": "username", "from": "staff_number", "is_needed": True},
                    *users,
                    {"to": "role", "fill": "teacher"},
                ],
            },
        ],
    }


DOORS = [
    {"door": "main", "title": "Main gate", "zones": ["MAIN"]},
    {"door": "slip", "title": "Slipway gate", "zones": ["SLIP"]},
    {"door": "boats", "title": "Boathouse", "zones": ["SLIP", "STOR"]},
    {"door": "labs", "title": "Engine laboratories", "zones": ["LABS"]},
    {"door": "gangway", "title": "Gangway of TS Merganser", "zones": ["SHIP"]},
    {"door": "stores", "title": "Stores", "zones": ["STOR"]},
    {"door": "halls", "title": "Halls of residence", "zones": ["HALL"]},
]


def _gates() -> dict[str, Any]:
    return {
        "name": "gate-controllers",
        "title": "Gate controllers",
        "way": {"kind": "gates", "address": "http://127.0.0.1:8420"},
        "when": {"kind": "each minute"},
        "shares": [
            {
                "roster": "gate-passes",
                "where": {
                    "all": [{"field": "pass_state", "is": "ACTIVE"}, _is_here("valid_until")]
                },
                "puts": [
                    {"to": "facility", "from": "facility_code", "is_needed": True},
                    {"to": "number", "from": "card_number", "is_needed": True},
                    {"to": "name", "from": "door_name"},
                    {"to": "zones", "from": "zones"},
                    {"to": "until", "from": "valid_until"},
                ],
            },
        ],
    }


def make_destinations(
    chance: random.Random, cadets: list[dict[str, Any]]
) -> tuple[list[dict[str, Any]], list[dict[str, Any]], dict[str, Any]]:
    """Make the destinations, the accounts that the directory has already, and what is planted."""
    named: dict[str, list[dict[str, Any]]] = {}
    for one in cadets:
        named.setdefault(_sign_in(one), []).append(one)
    alone = [
        (name, people[0])
        for name, people in named.items()
        if len(people) == 1 and people[0].get("enrolled_to", "9999") > "2028"
    ]
    taken = chance.sample(alone, TAKEN)
    accounts = [
        {
            "schemas": ["urn:ietf:params:scim:schemas:core:2.0:User"],
            "userName": name,
            "active": True,
        }
        for name in (*OTHERS, *(name for name, _ in taken))
    ]
    truth = {"taken": {one["cadet_number"]: name for name, one in taken}, "others": list(OTHERS)}
    everywhere = [_directory(), _gates(), _simulator(), _lessons(), _library(), _address_book()]
    return everywhere, accounts, truth


def _sign_in(one: dict[str, Any]) -> str:
    """The first letter of the given names, a full stop, the family name, in plain letters."""

    def plain(text: str) -> str:
        for letter, other in (("ø", "o"), ("ł", "l"), ("æ", "ae"), ("ß", "ss"), ("đ", "d")):
            text = text.replace(letter, other)
        spread = unicodedata.normalize("NFKD", text)
        return re.sub(r"[^a-z0-9]", "", spread)

    return f"{plain(one['given_names'].lower())[:1]}.{plain(one['family_name'].lower())}"
