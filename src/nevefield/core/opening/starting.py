"""What rosters of four kinds of people have as a rule: fields, codes and checks to begin with."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from nevefield.core.codes import Code, CodeList
from nevefield.core.columns.headings import words_of
from nevefield.core.errors import WrongDefinition
from nevefield.core.texts import near

if TYPE_CHECKING:
    from collections.abc import Iterable, Sequence

    from nevefield.core.borders import Json

__all__ = ["PEOPLE", "People", "add_people", "begin_from_nothing", "missing_fields"]


@dataclass(frozen=True)
class People:
    """One kind of people.

    Args:
        name: Of the kind.
        title: Of a roster of them.
        words: What such a roster is about, for a person.
        fields: As a definition declares them; the first is what they are known by.
        checks: As a definition declares them; one counts where all its fields are there.
        lists: Codes to begin with, by list.
    """

    name: str
    title: str
    words: str
    fields: tuple[dict[str, Json], ...]
    checks: tuple[dict[str, Json], ...] = ()
    lists: dict[str, tuple[Code, ...]] = field(default_factory=dict)


def _text(name: str, title: str, means: str = "", **more: Json) -> dict[str, Json]:
    own: dict[str, Json] = {"means": means} if means else {}
    own.update(more)
    described: dict[str, Json] = {"name": name, "title": title, "type": "string"}
    return {**described, "nevefield": own} if own else described


def _of_type(name: str, title: str, kind: str, means: str = "") -> dict[str, Json]:
    own: dict[str, Json] = {"means": means} if means else {}
    described: dict[str, Json] = {"name": name, "title": title, "type": kind}
    return {**described, "nevefield": own} if own else described


def _key(name: str, title: str) -> dict[str, Json]:
    return {
        "name": name,
        "title": title,
        "type": "string",
        "constraints": {"required": True, "unique": True},
        "nevefield": {"identifier": {}},
    }


def _needed(described: dict[str, Json]) -> dict[str, Json]:
    return {**described, "constraints": {"required": True}}


_FAMILY = _needed(_text("family_name", "Family name", "family-name"))
_GIVEN = _text("given_names", "Given names", "given-name")
_BORN = _of_type("born", "Born", "date", "birth-date")
_MAIL: dict[str, Json] = {
    "name": "mail",
    "title": "Mail",
    "type": "string",
    "format": "email",
    "nevefield": {"means": "mail"},
}
_PHONE = _text("phone", "Phone", "phone", kind="phone")

PEOPLE: dict[str, People] = {
    "students": People(
        "students",
        "Students",
        "by year and group, with guardians and enrolment",
        (
            _key("student_number", "Student number"),
            _FAMILY,
            _GIVEN,
            _BORN,
            _MAIL,
            _of_type("year", "Year of study", "integer"),
            _text("group", "Group"),
            _of_type("enrolled_from", "Enrolled from", "date"),
            _of_type("enrolled_until", "Enrolled until", "date"),
            _text("guardian", "Guardian"),
            _text("guardian_phone", "Guardian phone", kind="phone"),
        ),
        (
            {"check": "order", "fields": ["enrolled_from", "enrolled_until"]},
            {"check": "ended", "fields": ["enrolled_until"]},
            {"check": "age", "fields": ["born"], "on": "today", "least": 3, "most": 100},
            {
                "check": "required-when",
                "fields": ["guardian", "guardian_phone"],
                "when": {"field": "born", "under": 18, "on": "today"},
                "weight": "ask",
            },
            # one person, under two numbers, enrolled twice at once
            {
                "check": "overlap",
                "fields": ["enrolled_from", "enrolled_until"],
                "of": ["family_name", "given_names", "born"],
                "weight": "ask",
            },
        ),
    ),
    "employees": People(
        "employees",
        "Employees",
        "with post, manager and contract",
        (
            _key("staff_number", "Staff number"),
            _FAMILY,
            _GIVEN,
            _BORN,
            _MAIL,
            _PHONE,
            _text("post", "Post"),
            _text("contract", "Contract", codeList="contract"),
            _text("manager", "Manager"),
            _of_type("hired", "Hired", "date"),
            _of_type("contract_until", "Contract until", "date"),
            _of_type("permit_until", "Permit until", "date"),
            _text("roles", "Roles", codeList="role", several=";"),
        ),
        (
            {"check": "order", "fields": ["hired", "contract_until"]},
            {"check": "ended", "fields": ["contract_until"]},
            {"check": "runs-out", "fields": ["permit_until"], "within": 60},
            {"check": "age", "fields": ["born"], "on": "today", "least": 15, "most": 90},
            {"check": "raised", "fields": ["roles"], "lowest": ["STAFF"]},
        ),
        {
            "contract": (
                Code("PERM", "Permanent"),
                Code("FIXED", "Fixed term"),
                Code("HOURS", "By the hour"),
            ),
            "role": (
                Code("STAFF", "Staff"),
                Code("KEYS", "Holds keys"),
                Code("LEADS", "Leads others"),
            ),
        },
    ),
    "members": People(
        "members",
        "Members",
        "with grade and paid until",
        (
            _key("member_number", "Member number"),
            _FAMILY,
            _GIVEN,
            _BORN,
            _MAIL,
            _PHONE,
            _text("grade", "Grade", codeList="grade"),
            _of_type("joined", "Joined", "date"),
            _of_type("paid_until", "Paid until", "date"),
        ),
        (
            {"check": "order", "fields": ["joined", "paid_until"]},
            {"check": "ended", "fields": ["paid_until"], "weight": "note"},
            {"check": "age", "fields": ["born"], "on": "today", "least": 0, "most": 110},
        ),
        {
            "grade": (
                Code("FULL", "Full"),
                Code("JUNIOR", "Junior"),
                Code("LIFE", "For life"),
            )
        },
    ),
    "cardholders": People(
        "cardholders",
        "Cardholders",
        "with card and doors",
        (
            _key("card_number", "Card number"),
            _FAMILY,
            _GIVEN,
            _text("doors", "Doors", codeList="door", several=";"),
            _text("card_state", "Card state", codeList="card_state"),
            _of_type("valid_from", "Valid from", "date"),
            _of_type("valid_until", "Valid until", "date"),
        ),
        (
            {"check": "order", "fields": ["valid_from", "valid_until"]},
            {"check": "ended", "fields": ["valid_until"]},
            {"check": "raised", "fields": ["doors"], "lowest": ["MAIN"]},
        ),
        {
            "door": (Code("MAIN", "Main door"), Code("STORE", "Store")),
            "card_state": (
                Code("ACTIVE", "In use"),
                Code("LOST", "Lost"),
                Code("RETURNED", "Given back"),
            ),
        },
    ),
}


def _people(kind: str) -> People:
    if kind not in PEOPLE:
        raise WrongDefinition("people", f"“{kind}” is no kind of people; {near(kind, PEOPLE)}")
    return PEOPLE[kind]


def missing_fields(document: dict[str, Json], people: People) -> list[dict[str, Json]]:
    """List what a definition lacks of the fields that people of a kind have as a rule: by name, by
    meaning, by the words of the title. The first, what they are known by, is never missing from a
    definition with a key.
    """
    fields = document["fields"]
    names = {one["name"] for one in fields}
    means = {one.get("nevefield", {}).get("means") for one in fields} - {None, ""}
    words = {words_of(one.get("title") or one["name"]) for one in fields}
    known = [one for one in people.fields if not (one is people.fields[0] and fields)]
    return [
        one
        for one in known
        if one["name"] not in names
        and one.get("nevefield", {}).get("means") not in means
        and words_of(one["title"]) not in words
    ]


def add_people(
    document: dict[str, Json], lists: dict[str, CodeList], kinds: Iterable[str]
) -> tuple[dict[str, Json], dict[str, CodeList]]:
    """Add what a definition lacks of the fields, codes and checks of kinds of people.

    Raises:
        WrongDefinition: There is no such kind.
    """
    for kind in kinds:
        people = _people(kind)
        added = missing_fields(document, people)
        lists = {**lists, **_lists_of(added, people, lists)}
        document = _with(document, added, people.checks)
    return document, lists


def _with(
    document: dict[str, Json], added: Sequence[dict[str, Json]], checks: Sequence[dict[str, Json]]
) -> dict[str, Json]:
    fields = [*document["fields"], *added]
    names = {one["name"] for one in fields}
    own = dict(document.get("nevefield", {}))
    had = own.get("checks", [])
    fresh = [
        check
        for check in checks
        if set(check["fields"]) | set(check.get("of", [])) <= names
        and any(one["name"] in check["fields"] for one in added)
        and check not in had
    ]
    if had or fresh:
        own["checks"] = [*had, *fresh]
    return {**document, "fields": fields, **({"nevefield": own} if own else {})}


def _lists_of(
    added: Sequence[dict[str, Json]], people: People, lists: dict[str, CodeList]
) -> dict[str, CodeList]:
    names = [one.get("nevefield", {}).get("codeList") for one in added]
    return {
        name: CodeList(name, people.lists[name]) for name in names if name and name not in lists
    }


def begin_from_nothing(kind: str) -> tuple[dict[str, Json], dict[str, CodeList]]:
    """Make the definition and code lists of a roster of people of a kind.

    Raises:
        WrongDefinition: There is no such kind.
    """
    people = _people(kind)
    bare: dict[str, Json] = {
        "name": people.name,
        "title": people.title,
        "primaryKey": people.fields[0]["name"],
        "missingValues": ["", "-", "n/a"],
        "fields": [],
    }
    return add_people(bare, {}, [kind])
