"""Causes: findings that one remedy would settle, as one item with its remedies."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Hit, identify
from nevefield.core.checking.shifts import swaps_of
from nevefield.core.checking.waiving import WHOLE, find_waived
from nevefield.core.edits.trail import NO_ROWS
from nevefield.core.people.traits import traits_of

if TYPE_CHECKING:
    from collections.abc import Iterator

    from numpy.typing import NDArray

    from nevefield.core.checking.facts import Facts

__all__ = [
    "WHOLE",
    "Cause",
    "Finding",
    "Remedy",
    "find_causes",
    "iter_findings",
    "row_weights",
    "with_followers",
]

ONE_GROUP = "one-group"  # of `placing.memberships`, which looks at what this gives
WEIGHTS = ("stop", "ask", "note")
NO_OTHER_VALUE = (  # checks of which one value for all rows settles nothing
    "duplicate",
    "number-shared",
    "date-order",
    "dates-turned",
    "decimal-mark",
    "by-hand",
)


@dataclass(frozen=True)
class Remedy:
    """One way to settle a cause; `value` is the text to use, None when each row has its own or a
    person types it.
    """

    # translate, suggest, set, blank, swap, shift, date_order, decimal_mark, keep, edit, hold_line,
    # ours, new, end_other, waive, hold, leave_out; of what is about more than rows: coverage, and
    # reading, which is altered on another page.
    kind: str
    value: str | None
    label: str


@dataclass(frozen=True)
class Cause:
    """One cause, over all its rows."""

    id: str  # the same as long as check, field and group are
    hit: Hit
    open_rows: NDArray[np.intp]  # rows where it still stands: neither aside nor waived
    frees: int = 0  # rows that nothing else stops
    follows: tuple[str, ...] = field(default=())  # the causes that it only follows from
    is_open: bool = True  # it still stands somewhere
    # of one about more than rows: those in it, none aside
    near: NDArray[np.intp] = field(default_factory=lambda: NO_ROWS)
    # rows that an earlier yes lets in
    waived_before: NDArray[np.intp] = field(default_factory=lambda: NO_ROWS)
    # of which value and remedies are made when asked
    facts: Facts | None = field(default=None, compare=False, repr=False)

    @cached_property
    def value(self) -> str | None:
        """The wrong text, when it is the same in all rows."""
        return _one_value(self.hit, self.facts) if self.facts is not None else None

    @cached_property
    def remedies(self) -> tuple[Remedy, ...]:
        """The ways to settle it, the likeliest first."""
        if self.facts is None:
            return ()
        found = (
            _remedies_of_whole(self.hit, self.near)
            if self.hit.whole
            else _remedies(self.hit, self.facts, self.open_rows)
        )
        return tuple(found)


@dataclass(frozen=True)
class Finding:
    """One check that did not hold at one place."""

    row: int  # -1 for the whole file
    line: int | None
    field: str | None
    fields: tuple[str, ...]
    check: str
    weight: str
    value: str | None
    message: str
    cause: str
    follows: str | None  # the cause that it only follows from


def find_causes(
    hits: list[Hit], facts: Facts, waived: dict[tuple[str, str | None, int], str]
) -> list[Cause]:
    """Make causes of hits, stops first, then asks, then notes, each by rows.

    Args:
        hits: What the checks gave back.
        facts: What they looked at.
        waived: Reasons by check, field and line.
    """
    causes = []
    whole_waived: dict[int, bool] = {}
    some_aside = bool(facts.aside.any())
    stops = np.zeros(len(facts), np.int32)  # stopping causes of each row
    for hit in hits:
        rows = hit.rows[~facts.aside[hit.rows]] if some_aside else hit.rows
        if hit.whole:
            whole_waived[id(hit)] = (hit.check, hit.group, WHOLE) in waived
        if hit.weight == "ask" and waived:
            lines = facts.lines[rows].tolist()
            rows = rows[
                np.array([(hit.check, hit.field, line) not in waived for line in lines], bool)
            ]
        before = find_waived(hit, facts, rows)
        rows = rows[~np.isin(rows, before)] if len(before) else rows
        causes.append((hit, rows, before))
        if hit.weight == "stop" and not hit.follows:
            stops[rows] += 1
    made = [
        Cause(
            id=identify(hit),
            hit=hit,
            open_rows=rows,
            frees=int((stops[rows] == 1).sum()) if hit.weight == "stop" and not hit.follows else 0,
            follows=hit.follows,
            is_open=not whole_waived[id(hit)] if hit.whole else bool(len(rows)),
            near=hit.near[~facts.aside[hit.near]] if hit.whole else NO_ROWS,
            waived_before=before,
            facts=facts,
        )
        for hit, rows, before in causes
    ]
    return sorted(
        made,
        key=lambda cause: (
            WEIGHTS.index(cause.hit.weight),
            bool(cause.follows),
            -len(cause.open_rows),
            cause.id,
        ),
    )


def with_followers(
    causes: list[Cause], facts: Facts, waived: dict[tuple[str, str | None, int], str]
) -> list[Cause]:
    """Stop, or let wait, every row of a person of whom one row is stopped or waits: the rows of one
    person go in together or not at all. The others get a cause that follows from that row's.

    Args:
        causes: As found.
        facts: What the checks looked at.
        waived: See `find_causes`.
    """
    if not facts.joined.groups:
        return causes
    lead = np.zeros(len(facts), bool)
    for group in facts.joined.groups:
        lead[group] = True
    stopped, waiting = row_weights(causes, len(facts))
    followers: list[Hit] = []
    for weight, there, but in (
        ("stop", stopped, stopped),
        ("ask", waiting & ~stopped, waiting | stopped),
    ):
        if not (there & lead).any():
            continue
        # cause -> row that follows -> row that it follows from
        by_cause: dict[str, dict[int, int]] = {}
        of_row = {
            int(row): cause.id
            for cause in reversed(causes)
            if cause.hit.weight == weight
            for row in cause.open_rows.tolist()
        }
        for group in facts.joined.groups:
            wrong = [int(row) for row in group.tolist() if there[row]]
            for row in group.tolist() if wrong else ():
                first = wrong[0]
                if not but[row]:
                    by_cause.setdefault(of_row[first], {})[row] = first
        followers += [_follower(cause, rows, weight, facts) for cause, rows in by_cause.items()]
    return (
        find_causes([*(cause.hit for cause in causes), *followers], facts, waived)
        if followers
        else causes
    )


def _follower(cause: str, rows: dict[int, int], weight: str, facts: Facts) -> Hit:
    word = "is stopped" if weight == "stop" else "needs approval"

    def say(row: int) -> str:
        return (
            f"Line {facts.lines[rows[row]]} of the same person {word}; a person's rows go in"
            " together."
        )

    title = f"Rows of people whose other row {word}"
    return Hit(
        "same-person",
        None,
        (),
        weight,
        np.array(sorted(rows), np.intp),
        title,
        say,
        group=cause,
        follows=(cause,),
    )


def row_weights(causes: list[Cause], rows: int) -> tuple[NDArray[np.bool_], NDArray[np.bool_]]:
    """Tell which rows are stopped, and which need approval."""
    stopped, waiting = np.zeros(rows, bool), np.zeros(rows, bool)
    for cause in causes:
        if cause.hit.weight == "stop":
            stopped[cause.open_rows] = True
        elif cause.hit.weight == "ask":
            waiting[cause.open_rows] = True
    return stopped, waiting


def iter_findings(
    cause: Cause, facts: Facts, rows: NDArray[np.intp] | None = None
) -> Iterator[Finding]:
    """List a cause's findings row by row, or those of chosen rows."""
    hit = cause.hit
    if hit.whole:
        if rows is None:
            follows = cause.follows[0] if cause.follows else None
            yield Finding(
                -1,
                None,
                hit.field,
                hit.fields,
                hit.check,
                hit.weight,
                None,
                hit.say(-1),
                cause.id,
                follows,
            )
        return
    chosen = hit.rows if rows is None else np.intersect1d(hit.rows, rows)
    raw = facts.typed[hit.field].raw if hit.field and hit.field in facts.typed else None
    texts = raw.rows(chosen) if raw is not None else [None] * len(chosen)
    for row, line, text in zip(chosen.tolist(), facts.lines[chosen].tolist(), texts, strict=True):
        yield Finding(
            row,
            line,
            hit.field,
            hit.fields,
            hit.check,
            hit.weight,
            text,
            hit.say(row),
            cause.id,
            cause.follows[0] if cause.follows else None,
        )


def _one_value(hit: Hit, facts: Facts) -> str | None:
    if not hit.field or hit.field not in facts.typed or hit.weight == "note":
        return None
    raw = facts.typed[hit.field].raw
    codes = np.unique(raw.codes[hit.rows])
    return raw.at(int(hit.rows[0])) if len(codes) == 1 and codes[0] >= 0 else None


def _remedies_of_whole(hit: Hit, near: NDArray[np.intp]) -> Iterator[Remedy]:
    """List what can be done about a group or the whole file: let it be, or put aside what makes
    it so.
    """
    if hit.weight == "note":
        return
    if hit.weight == "ask":
        yield Remedy("waive", None, "Approve it, with a reason")
    if hit.check in ("absent-share", "code-vanished"):
        yield Remedy("coverage", "listed", "It has only some people: nobody is absent")
    if hit.check == "row-count":
        yield Remedy("reading", None, "See how the file was read")
    if len(near):
        rows = "its row" if len(near) == 1 else f"its {len(near)} rows"
        yield Remedy("hold", None, f"Hold {rows}")
        yield Remedy("leave_out", None, f"Leave {rows} out")


def _remedies(hit: Hit, facts: Facts, rows: NDArray[np.intp]) -> Iterator[Remedy]:
    count = len(rows)
    if hit.weight == "note":
        return
    for value in hit.suggestions:
        yield Remedy("translate", value, f"Use {value} for {count}")
    if hit.check == "date-order":
        yield Remedy("date_order", "dmy", "Day first")
        yield Remedy("date_order", "mdy", "Month first")
    elif hit.check == "dates-turned":
        yield Remedy("date_order", "turned", f"Turn {count} days back")
        yield Remedy("date_order", "kept", "They are right as they are")
    elif hit.check == "decimal-mark":
        yield Remedy("decimal_mark", ",", "A comma stands before the decimals")
        yield Remedy("decimal_mark", ".", "A point stands before the decimals")
    elif alone := [row for row in rows.tolist() if len(hit.row_suggestions.get(row, ())) == 1]:
        one = hit.row_suggestions[alone[0]][0]
        yield Remedy(
            "suggest",
            None,
            f"Use {one}" if len(alone) == 1 else f"Use the likely values for {len(alone)}",
        )
    if hit.check == "names-turned":
        family = next(
            trait.field for trait in traits_of(facts.definition) if trait.kind == "family"
        )
        yield Remedy("swap", family, f"Swap the names in {count}")
    if hit.check == "shifted":
        yield Remedy("shift", None, f"Shift the cells back in {count}")
    if hit.field and hit.check in ("format", "type", "identifier", "code", "pattern"):
        partners = swaps_of(facts, hit, rows)
        for partner in dict.fromkeys(partners):
            pair = f"{facts.title(hit.field)} and {facts.title(partner)}"
            yield Remedy("swap", partner, f"Swap {pair} in {partners.count(partner)}")
    if hit.check == "number-shared":
        for row in rows.tolist()[:2]:
            yield Remedy(
                "edit", str(facts.lines[row]), f"Give line {facts.lines[row]} another number"
            )
        for row in rows.tolist()[:2]:
            yield Remedy("hold_line", str(facts.lines[row]), f"Hold line {facts.lines[row]}")
    if hit.check in ("duplicate", "alike", "number-shared"):
        words = "They are one: keep" if hit.check == "number-shared" else "Keep"
        for row in rows.tolist()[:3]:
            yield Remedy("keep", str(facts.lines[row]), f"{words} line {facts.lines[row]}")
    if (
        hit.check == "required"
        and hit.field in facts.typed
        and (facts.known.record[rows] >= 0).all()
    ):
        yield Remedy("ours", None, f"Keep the roster's for {count}")
    if hit.check == "by-hand":
        yield Remedy("ours", None, f"Keep the roster's for {count}")
        yield Remedy("waive", None, f"Take the file's for {count}, with a reason")
    elif hit.check == ONE_GROUP:
        yield Remedy("end_other", None, f"End the other for {count}")
        yield Remedy("waive", None, f"Approve both for {count}, with a reason")
    elif hit.check == "alike":
        yield Remedy("waive", None, "They are two people, with a reason")
    elif hit.check == "who":
        yield Remedy("new", None, f"{count} are new people" if count > 1 else "A new person")
    elif hit.weight == "ask":
        yield Remedy("waive", None, f"Approve {count} with a reason")
    one_field = facts.definition.by_name.get(hit.field or "")
    if hit.follows:
        one_field = None
    if one_field is not None and hit.check not in NO_OTHER_VALUE and hit.check != ONE_GROUP:
        yield Remedy(
            "set", None, "Other value" if hit.suggestions or hit.row_suggestions else "Set a value"
        )
        if (
            not one_field.required
            and hit.check not in ("required-when", "home-area", "overlap")
            and hit.field in facts.typed
        ):
            yield Remedy("blank", "", f"Leave {one_field.title} empty")
    yield Remedy("hold", None, f"Hold {count}")
    yield Remedy("leave_out", None, f"Leave {count} out")
