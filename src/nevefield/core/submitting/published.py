"""What an authority publishes: its fields, codes and numbered rules; and which of the rules can
be known before sending.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field
from datetime import date
from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.conditions import age_on
from nevefield.core.errors import WrongLayout
from nevefield.core.patterns import matches, refuse_pattern

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

__all__ = [
    "NO_RULES",
    "Published",
    "Rule",
    "find_known",
    "read_published",
    "root_rules",
    "say_held",
]

Row = dict[str, str]
LAST = "9999-12-31"


@dataclass(frozen=True)
class Rule:
    """A numbered rule of the authority's."""

    rule: str
    title: str
    text: str
    reads: tuple[str, ...]
    weight: str  # reject or warn
    follows: frozenset[str]  # rules of which it is only a consequence
    check: Mapping[str, Json] | None = None  # how it can be known before sending


@dataclass(frozen=True)
class Published:
    """An authority's layout as it publishes it."""

    authority: str
    version: str
    titles: Mapping[str, str] = field(default_factory=dict)  # of its fields, in order
    codes: Mapping[str, Mapping[str, Mapping[str, str]]] = field(
        default_factory=dict
    )  # field -> code -> label, last_day, instead
    rules: Mapping[str, Rule] = field(default_factory=dict)
    # field -> reference, number or asked, where it is one of these
    roles: Mapping[str, str] = field(default_factory=dict)
    needed: frozenset[str] = frozenset()  # fields that must be filled
    # field -> place, from, to, there: what tells where and when a record is held, and what is so
    # there only; the others are the person's own
    held: Mapping[str, str] = field(default_factory=dict)

    def rule(self, number: str) -> Rule:
        """Find a rule; one that is not published is told as such."""
        return self.rules.get(number) or Rule(
            number, f"Rule {number}", "This rule is not published.", (), "reject", frozenset()
        )

    def label(self, name: str, value: str) -> str:
        """Name a code for a person; "" for what is no code."""
        return str(self.codes.get(name, {}).get(value, {}).get("label", ""))


NO_RULES = Published("", "")


def read_published(document: Json) -> Published:
    """Read what an authority publishes.

    Raises:
        WrongLayout: It is nothing that can be understood.
    """
    try:
        lists = {
            name: {str(code["code"]): code for code in codes}
            for name, codes in document.get("codes", {}).items()
        }
        fields = document["fields"]
        rules = [
            Rule(
                str(part["rule"]),
                str(part["title"]),
                str(part["text"]),
                tuple(map(str, part["reads"])),
                "warn" if part["weight"] == "warn" else "reject",
                frozenset(map(str, part.get("follows", []))),
                part.get("check"),
            )
            for part in document["rules"]
        ]
        return Published(
            str(document["authority"]),
            str(document.get("version", "")),
            {str(field["name"]): str(field.get("title", field["name"])) for field in fields},
            {
                str(field["name"]): lists[field["codes"]]
                for field in fields
                if field.get("codes") in lists
            },
            {rule.rule: rule for rule in rules},
            {
                str(field["name"]): str(field["role"])
                for field in fields
                if field.get("role") in ("reference", "number", "asked")
            },
            frozenset(str(field["name"]) for field in fields if field.get("required")),
            {
                str(field["name"]): str(field["held"])
                for field in fields
                if field.get("held") in ("place", "from", "to", "there")
            },
        )
    except (AttributeError, KeyError, TypeError) as error:
        raise WrongLayout(
            "layout", f"what the authority publishes cannot be understood ({error})."
        ) from error


def say_held(published: Published, held: Mapping[str, Json]) -> str:
    """Say where, and in which years, an authority holds somebody; "" where it does not tell.

    >>> one = Published("", "", held={"UNIT": "place", "SINCE": "from", "LAST": "to"})
    >>> say_held(one, {"UNIT": "7th", "SINCE": "2021-09-01", "LAST": "2023-06-30", "AGE": "9"})
    '7th, 2021–2023'
    >>> say_held(one, {"SINCE": "2021-09-01"})
    ''
    """
    by_part = {part: name for name, part in published.held.items()}
    code = str(held.get(by_part.get("place", ""), ""))
    if not code:
        return ""
    years = [str(held.get(by_part.get(part, ""), ""))[:4] for part in ("from", "to")]
    place = published.label(by_part["place"], code) or code
    return ", ".join(filter(None, (place, "–".join(dict.fromkeys(filter(None, years))))))


def root_rules(published: Published, rules: Sequence[str]) -> list[str]:
    """List the rules of a record that are no mere consequence of others of it: what there is to do.

    >>> one = lambda name, *of: Rule(name, name, "", (), "reject", frozenset(of))
    >>> root_rules(Published("", "", rules={"A": one("A"), "Y": one("Y", "A"), "Z": one("Z", "Y", "B")}), ["A", "Y", "Z"])
    ['A']
    """  # noqa: E501
    there = set(rules)
    return [number for number in dict.fromkeys(rules) if not published.rule(number).follows & there]


def find_known(published: Published, rows: Sequence[Row], day: date) -> dict[str, list[int]]:
    """Find what the authority would say of records before they are sent, by the rules that can be
    known.

    Args:
        published: Its rules.
        rows: The records in its layout.
        day: Of the return.

    Returns:
        By rule, in the order of the rules, the rows that break it.
    """
    found = {}
    for rule in published.rules.values():
        if rule.check is not None:
            broken = _broken(rule.check, published, rows, day)
            if broken:
                found[rule.rule] = broken
    return found


def _broken(
    check: Mapping[str, Json], published: Published, rows: Sequence[Row], day: date
) -> list[int]:
    if name := check.get("unique"):
        counts = Counter(row.get(name, "") for row in rows)
        return [place for place, row in enumerate(rows) if row.get(name) and counts[row[name]] > 1]
    breaks = _test(check, published, day)
    if breaks is None:
        return []
    names = _names(check)
    known: dict[tuple[str, ...], bool] = {}  # values that stand often are looked at once
    broken = []
    for place, row in enumerate(rows):
        values = tuple(row.get(name, "") for name in names)
        if values not in known:
            known[values] = breaks(dict(zip(names, values, strict=True)))
        if known[values]:
            broken.append(place)
    return broken


def _names(check: Mapping[str, Json]) -> tuple[str, ...]:
    told = [check.get(name) for name in ("filled", "age", "on", "code", "day", "reaches")]
    return tuple(
        str(one) for one in (*told, *check.get("like", []), *check.get("order", [])) if one
    )


def _test(
    check: Mapping[str, Json], published: Published, day: date
) -> Callable[[Row], bool] | None:
    """Make the test of one record; None for a kind of check that is not known here."""
    if "age" in check:
        return lambda row: _breaks_age(check, row, day)
    if "filled" in check:
        return lambda row: not row[check["filled"]]
    if "day" in check:
        return lambda row: _day(row[check["day"]]) is None
    if "reaches" in check:
        return lambda row: "" < row[check["reaches"]] < day.isoformat()
    if order := check.get("order"):
        return lambda row: all(_day(row[one]) for one in order) and row[order[0]] > row[order[1]]
    if "pattern" in check and len(str(check["pattern"])) < 200:
        pattern = str(check["pattern"])
        if refuse_pattern(pattern):
            return None
        return lambda row: any(
            row[one] and not matches(pattern, row[one][:200]) for one in check["like"]
        )
    if "code" in check:
        name = str(check["code"])
        codes = published.codes.get(name, {})
        if check.get("retired"):
            return lambda row: (
                str(codes.get(row[name], {}).get("last_day") or LAST) < day.isoformat()
            )
        return lambda row: bool(row[name]) and row[name] not in codes
    return None


def _breaks_age(check: Mapping[str, Json], row: Row, day: date) -> bool:
    born, on = _day(row[check["age"]]), _day(row[check["on"]]) if "on" in check else day
    if born is None or on is None:
        return False
    years = age_on(born, on)
    if "under" in check:
        return bool(years < check["under"]) and not row[check["filled"]]
    return bool(years < check.get("least", 0) or years > check.get("most", 999))


def _day(text: str) -> date | None:
    try:
        return date.fromisoformat(text)
    except ValueError:
        return None
