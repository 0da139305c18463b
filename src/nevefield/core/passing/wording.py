"""What is said of a destination: its way, when it is told, why records are refused."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from nevefield.core.passing.destination import AskedWay, CallWay, FileWay, ScimWay
from nevefield.core.passing.outgoing import LACKING

if TYPE_CHECKING:
    from nevefield.core.passing.destination import Destination
    from nevefield.core.passing.standing import Cause

__all__ = ["REMEDIES", "Said", "say_cause", "say_way", "say_when"]

FORMATS = {
    "csv": "CSV",
    "xlsx": "a workbook",
    "json": "JSON",
    "json lines": "JSON lines",
    "ldif": "LDIF",
    "vcard": "vCards",
    "fixed width": "a file of fixed width",
    "oneroster": "OneRoster 1.2",
}
Remedy = Literal["anew", "same", "again", "hold"]
# remedies by what a refusal is for, the likeliest first
REMEDIES: dict[str, tuple[Remedy, ...]] = {
    "uniqueness": ("anew", "same", "hold"),
    LACKING: ("hold",),
    "too long": ("hold",),
    "letters": ("hold",),
    "line end": ("hold",),
    "formula": ("hold",),
    "word": ("hold",),
    "day": ("hold",),
}
DAYS = ("Sunday", "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday")
FAULTS = {
    LACKING: ("No {}", "They need it, and the record has none."),
    "too long": ("{} is too long", "It is longer than its column, and nothing is cut."),
    "letters": ("{} has letters that they do not take", "Their letters are those of Windows-1252."),
    "line end": ("{} has a line end", "A line of theirs is one record."),
    "formula": ("{} would be run by a spreadsheet", "It begins as a formula does."),
    "word": ("{} has a word that the standard has not", "It takes the words of its lists alone."),
    "day": ("{} is no day", "The standard takes days as 2026-09-01."),
}
REFUSALS = {
    "uniqueness": (
        "The name is taken there",
        "It belongs to an account that we did not make.",
    ),
    "invalidValue": ("They do not take a value", ""),
    "mutability": ("They do not let it be changed", ""),
    "403": ("They do not let us", "Our token has not the right for it there."),
}


@dataclass(frozen=True)
class Said:
    """A cause in words, and what may be done about it."""

    title: str
    text: str
    remedies: tuple[Remedy, ...]


def say_cause(cause: Cause, destination: Destination) -> Said:
    """Word why records are refused.

    Args:
        cause: The cause.
        destination: With its layouts.
    """
    for kind, (title, text) in FAULTS.items():
        if cause.code.startswith(f"{kind} "):
            names = [part.removeprefix(f"{kind} ") for part in cause.code.split(", ")]
            words = ", ".join(_say_field(name, destination) for name in names)
            return Said(title.format(words), text, REMEDIES[kind])
    title, text = REFUSALS.get(cause.code, (f"Refused there ({cause.code})", ""))
    return Said(title, text or cause.problem, REMEDIES.get(cause.code, ("again", "hold")))


def _say_field(name: str, destination: Destination) -> str:
    """Name a field of theirs: by its own name, which is what their people know it by."""
    short = name.rsplit(":", 1)[-1]
    known = {"userName": "sign-in name"}
    if short.startswith("emails"):
        return "mail address"
    if short.startswith("phoneNumbers"):
        return "phone number"
    return known.get(short, short)


def say_way(destination: Destination) -> str:
    """Word how a destination is told."""
    way = destination.way
    if isinstance(way, ScimWay):
        return "SCIM 2.0"
    if isinstance(way, AskedWay):
        return "SCIM 2.0, they ask"
    if isinstance(way, FileWay):
        ways = ["fetched by them"] * way.is_fetched + ["laid in a folder"] * way.into_folder
        return ", ".join((FORMATS[way.format], *ways))
    return "called, signed" if isinstance(way, CallWay) else "gate controllers"


def say_when(destination: Destination) -> str:
    """Word when a destination is told."""
    when = destination.when
    if when.kind != "at a time":
        return {
            "by hand": "by hand",
            "after receipts": "after every receipt",
            "each minute": "each minute",
        }[when.kind]
    minute, hour, day, month, weekday = (when.rule.split() + ["*"] * 5)[:5]
    if minute.isdecimal() and hour.isdecimal() and (day, month, weekday) == ("*", "*", "*"):
        return f"every day at {int(hour):02}:{int(minute):02}"
    if minute.isdecimal() and hour.isdecimal() and month == "*":
        at = f"at {int(hour):02}:{int(minute):02}"
        if day == "*" and weekday.isdecimal():
            return f"every {DAYS[int(weekday) % 7]} {at}"
        if day.isdecimal() and weekday == "*":
            return f"on day {day} of each month {at}"
    return f"at {when.rule}"
