"""How the Registry judges one record of a return: its rules, and the people whom somebody
without a number may be.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from datetime import date
from difflib import SequenceMatcher
from typing import Any

from stand_ins.registry.layout import CODES, COLLEGES, RULES, is_number

__all__ = ["Judged", "candidates_of", "judge", "overlapping", "shown"]

Record = dict[str, Any]
WEIGHT = {one["rule"]: one["weight"] for one in RULES}
FOLLOWS = {one["rule"]: set(one["follows"]) for one in RULES if one["follows"]}
LEAST = 70  # a score from which on a holder is told
ALIKE = 0.75  # and how alike the names must be
OPEN = "9999-12-31"


@dataclass
class Judged:
    """What became of a record."""

    ref: str
    outcome: str = "accepted"  # accepted, warned, rejected, to number
    number: str = ""
    rules: list[str] = field(default_factory=list)
    held: Record | None = None
    candidates: list[dict[str, Any]] = field(default_factory=list)

    def to_json(self) -> Record:
        """Give it as the answer has it."""
        found: Record = {
            "ref": self.ref,
            "outcome": self.outcome,
            "number": self.number,
            "rules": self.rules,
        }
        if self.held is not None:
            found["held"] = self.held
        if self.outcome == "to number":
            found["candidates"] = self.candidates
        return found


def _day(text: str) -> date | None:
    try:
        return date.fromisoformat(text)
    except ValueError:
        return None


def _age(born: date, on: date) -> int:
    return on.year - born.year - ((on.month, on.day) < (born.month, born.day))


def overlapping(held: Record, sent: Record) -> Record | None:
    """Find a primary enrolment at another college on days of the one that is sent."""
    if sent["KIND"] != "P":
        return None
    for one in held["ENROLMENTS"]:
        apart = one["COLLEGE"] != sent["COLLEGE"] and one["KIND"] == "P"
        if (
            apart
            and one["ENR_FROM"] <= (sent["ENR_TO"] or OPEN)
            and (one["ENR_TO"] or OPEN) >= sent["ENR_FROM"]
        ):
            return dict(one)
    return None


def shown(held: Record, sent: Record | None = None) -> Record:
    """Show a record as held today, with the enrolment that matters: the one in the way, else the
    college's own, else the last.
    """
    flat = {name: value for name, value in held.items() if name != "ENROLMENTS"}
    mine = [one for one in held["ENROLMENTS"] if sent is None or one["COLLEGE"] == sent["COLLEGE"]]
    own = (overlapping(held, sent) if sent else None) or (mine or held["ENROLMENTS"] or [{}])[-1]
    return flat | {
        name: own.get(name, "")
        for name in ("COLLEGE", "KIND", "ENR_FROM", "ENR_TO", "PROGRAMME", "YEAR")
    }


def judge(
    sent: Record, held: Record | None, college: str, day: date, *, twice: set[str], again: set[str]
) -> list[str]:
    """List the numbers of the rules that a record breaks, with those that only follow.

    Args:
        sent: The record of the return.
        held: The Registry's record under its number.
        college: Of the account.
        day: Of the return.
        twice: References that stand twice in the return.
        again: Numbers that do.
    """
    broken: list[str] = []

    def breaks(rule: str, is_broken: bool) -> None:
        if is_broken:
            broken.append(rule)

    born, first, last = _day(sent["BORN"]), _day(sent["ENR_FROM"]), _day(sent["ENR_TO"])
    breaks("A1", not sent["REF"] or sent["REF"] in twice)
    breaks("A2", not sent["FAMILY"])
    breaks("A3", not sent["GIVEN"])
    breaks("A4", any(re.search(r"[0-9<>;\"]", sent[name]) for name in ("FAMILY", "GIVEN")))
    breaks("B1", born is None)
    breaks("B2", bool(born and first and _age(born, first) < 15))
    breaks("B4", bool(born and first and _age(born, first) > 79))
    breaks("C1", sent["COLLEGE"] != college and sent["COLLEGE"] in COLLEGES)
    breaks("C2", sent["COLLEGE"] not in COLLEGES)
    if sent["MARINER"]:
        breaks("D1", not is_number(sent["MARINER"]))
        breaks("D2", is_number(sent["MARINER"]) and held is None)
        breaks("D4", sent["MARINER"] in again)
    breaks("E1", first is None)
    breaks("E2", bool(first and last and last < first))
    breaks("E3", bool(first and last and (last - first).days > 6 * 366))
    breaks("E5", sent["KIND"] not in ("P", "S"))
    breaks("G1", bool(born and _age(born, day) < 18 and not sent["GUARDIAN"]))
    ports = {one["code"]: one for one in CODES["port"]}
    port = ports.get(sent["HOME_PORT"])
    breaks("H1", bool(port and port.get("last_day", OPEN) < day.isoformat()))
    breaks("H2", bool(sent["HOME_PORT"]) and port is None)
    breaks("M1", not sent["MEDICAL_TO"])
    breaks("M2", bool(sent["MEDICAL_TO"]) and sent["MEDICAL_TO"] < day.isoformat())
    breaks("P1", sent["PROGRAMME"] not in {one["code"] for one in CODES["programme"]})
    breaks("P2", bool(sent["YEAR"]) and sent["YEAR"] not in ("1", "2", "3", "4"))
    breaks("W1", not sent["MAIL"])
    if held is not None:
        same_name = _name(held) == _name(sent)
        near = same_name or _near(held, sent)
        other = not near or (held["BORN"] != sent["BORN"] and not same_name)
        breaks("D3", other)
        breaks("B3", not other and held["BORN"] != sent["BORN"])
        breaks(
            "W2", not other and (held["FAMILY"], held["GIVEN"]) != (sent["FAMILY"], sent["GIVEN"])
        )
        breaks("E4", not other and overlapping(held, sent) is not None)
    for rule, causes in FOLLOWS.items():
        breaks(rule, bool(causes.intersection(broken)))
    return broken


def _name(one: Record) -> str:
    return f"{one['FAMILY']} {one['GIVEN']}".casefold()


def _near(one: Record, other: Record) -> bool:
    first, second = one["GIVEN"].casefold(), other["GIVEN"].casefold()
    if one["FAMILY"].casefold() != other["FAMILY"].casefold():
        return False
    return first.split()[:1] == second.split()[:1] or _likeness(first, second) > 0.7


def _likeness(one: str, other: str) -> float:
    return SequenceMatcher(None, one.casefold(), other.casefold()).ratio()


def candidates_of(sent: Record, people: list[Record], without: str = "") -> list[dict[str, Any]]:
    """List the people whom somebody without a number may be, with scores from 0 to 100, the
    likeliest first.
    """
    found = []
    matcher = SequenceMatcher(None, "", _name(sent))
    for held in people:
        if held["MARINER"] == without:
            continue
        matcher.set_seq1(_name(held))
        # each is quicker than the one after it, and never less
        if matcher.real_quick_ratio() < ALIKE or matcher.quick_ratio() < ALIKE:
            continue
        alike = matcher.ratio()
        if alike < ALIKE:
            continue
        score = 50 * alike
        score += (
            40
            if held["BORN"] == sent["BORN"]
            else 20
            if sorted(held["BORN"]) == sorted(sent["BORN"])
            else 0
        )
        score += 5 if held["MAIL"] and held["MAIL"].casefold() == sent["MAIL"].casefold() else 0
        score += 5 if held["HOME_PORT"] == sent["HOME_PORT"] else 0
        if score >= LEAST:
            found.append({"number": held["MARINER"], "score": round(score), "held": shown(held)})
    return sorted(found, key=lambda one: (-one["score"], one["number"]))[:12]
