"""What checks look at, and what they give back."""

from __future__ import annotations

import dataclasses
import hashlib
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Json, Premises
from nevefield.core.conditions import fields_of, holds
from nevefield.core.edits.memo import Memo
from nevefield.core.edits.trail import NO_ROWS, Followed

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Mapping
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.core.codes import CodeList
    from nevefield.core.columns.values import Typed
    from nevefield.core.definition import Check, Definition
    from nevefield.core.inputs import Standing
    from nevefield.core.people.joining import Joined
    from nevefield.core.people.keys import Known
    from nevefield.core.people.recognising import Recognised
    from nevefield.core.snapshot import Snapshot
    from nevefield.core.table import Column
from nevefield.core.texts import SEVERAL

__all__ = ["Facts", "Hit", "identify", "lines_of"]


@dataclass(frozen=True)
class Facts:
    """Everything that checks may read."""

    definition: Definition
    codes: Mapping[str, CodeList]
    today: date
    lines: NDArray[np.int64]
    typed: Mapping[str, Typed]  # the fields that the file fills
    folded: Mapping[str, Column]
    snapshot: Snapshot
    known: Known
    aside: NDArray[np.bool_]  # rows held or left out by hand: they stand in nobody's way
    joined: Joined  # which rows are one person
    # other rosters, by name
    others: Mapping[str, Snapshot] = dataclasses.field(default_factory=dict)
    coverage: str = "listed"
    people: Recognised | None = None  # how it is known who the rows are
    # field -> its column in the file, where it has one alone
    places: Mapping[str, int] = dataclasses.field(default_factory=dict)
    # field, record by number, by whom
    by_hand: Mapping[str, Mapping[int, str]] = dataclasses.field(default_factory=dict)
    # field, records whom no rule moves
    placed_by_hand: Mapping[str, Collection[int]] = dataclasses.field(default_factory=dict)
    # field, rows whose value a rule gave
    followed: Mapping[str, NDArray[np.intp]] = dataclasses.field(default_factory=dict)
    # field, rows that its fill value is for
    filled: Mapping[str, NDArray[np.intp]] = dataclasses.field(default_factory=dict)
    # what checks found before; only speed hangs on it
    memo: Memo = dataclasses.field(default_factory=Memo)
    keys: tuple[tuple[str, ...], ...] = ()  # by which the rows are known
    standing: Standing = dataclasses.field(default_factory=dict)  # earlier yeses that last
    # record by number, the day on which it ends
    ends_beside: Mapping[int, str] = dataclasses.field(default_factory=dict)
    # other rosters whose people are not named to who is looking
    unnamed: frozenset[str] = frozenset()
    # rows of people whom the file is not for
    passed_over: NDArray[np.intp] = dataclasses.field(default_factory=lambda: NO_ROWS)

    def __len__(self) -> int:
        return len(self.lines)

    @cached_property
    def aside_rows(self) -> tuple[int, ...]:
        """The rows held or left out, by number: what parts made before are compared by."""
        return tuple(np.flatnonzero(self.aside).tolist())

    @property
    def naming(self) -> Mapping[str, Snapshot]:
        """The other rosters whose people may be named."""
        return {
            name: snapshot for name, snapshot in self.others.items() if name not in self.unnamed
        }

    def title(self, name: str) -> str:
        """Name a field for a person."""
        return self.definition.title_of(name)

    def problem(self, name: str) -> NDArray[np.bool_]:
        """Tell which rows have a value problem in a field; what follows from it is not said
        again.
        """
        typed = self.typed.get(name)
        return typed.problem_rows() if typed else np.zeros(len(self), bool)

    def kept(self, name: str, rows: NDArray[np.intp]) -> NDArray[np.bool_]:
        """Tell in which of some rows the file has nothing, so that the record's own value stands
        there: not the file's doing.
        """
        raw, record = self.typed[name].raw, self.known.record[rows]
        codes = raw.codes[rows]
        missing = {
            code: raw.values[code].as_py().strip() in self.definition.missing
            for code in np.unique(codes[codes >= 0]).tolist()
        }
        blank = np.array([missing.get(code, True) for code in codes.tolist()], bool)
        return np.asarray(blank & (record >= 0))

    def stored(self, name: str) -> Column:
        """Return a field's values by row: the file's, or those of the rows' records where the
        file does not fill it.
        """
        if name in self.typed:
            return self.typed[name].stored
        column = self.snapshot.columns[name]
        record = self.known.record
        codes = np.where(record >= 0, column.codes[record] if len(column) else -1, -1).astype(
            np.int32
        )
        return type(column)(column.values, codes).compact()

    def few(self, rows: NDArray[np.intp], names: Collection[str]) -> Facts:
        """Take a few rows with the fields that a check looks at; each counts as a person of its
        own.
        """
        typed = {name: self.typed[name].take(rows) for name in names if name in self.typed}
        return dataclasses.replace(
            self,
            lines=self.lines[rows],
            typed=typed,
            folded={name: column.folded() for name, column in typed.items()},
            known=self.known.of(rows),
            aside=self.aside[rows],
            joined=type(self.joined)(
                Followed(self.joined.person[rows]), np.arange(len(rows)), (), typed, {}
            ),
            people=None,
            followed={},
            filled={},
            memo=Memo(),
        )

    def looked_at(self, names: Collection[str]) -> Premises:
        """List what the values of fields are made of, for the memo; the records too where the
        file does not fill one.
        """
        columns = [self.typed[name] for name in names if name in self.typed]
        return (*columns, *(() if len(columns) == len(names) else (self.known, self.snapshot)))

    def holds(self, when: Json) -> NDArray[np.bool_]:
        """Tell for which rows a condition holds; one with a value problem in a field that it
        reads is passed over.
        """
        found = holds(when, self.stored, len(self), self.today)
        for name in fields_of(when):
            found = found & ~self.problem(name)
        return found

    def applies(self, check: Check) -> NDArray[np.bool_]:
        """Tell to which rows a declared check applies: all, or those where its condition holds."""
        return (
            self.holds(check.options["when"])
            if "when" in check.options
            else np.ones(len(self), bool)
        )

    def value(self, row: int, name: str) -> str | None:
        """Return the stored value of a row: the file's, or the record's where the file does not
        fill the field.
        """
        if name in self.typed:
            return self.typed[name].stored.at(row)
        record = int(self.known.record[row])
        return self.snapshot.columns[name].at(record) if record >= 0 else None

    def text(self, row: int, name: str) -> str:
        """Write a row's value as people do: several one after the other; "" where there is none."""
        return (self.value(row, name) or "").replace(SEVERAL, "; ")


@dataclass(frozen=True)
class Hit:
    """One check that did not hold, at all rows that one remedy would settle."""

    check: str
    field: str | None  # where the remedy is; None for the whole row
    fields: tuple[str, ...]  # that the check reads
    weight: str
    rows: NDArray[np.intp]
    title: str
    message: str | Callable[[int], str]  # of a row
    group: str = ""  # with check and field: what makes this one cause
    # the wrong texts as in the file, when the remedy is to translate them
    texts: tuple[str, ...] = ()
    suggestions: tuple[str, ...] = ()  # for all rows
    row_suggestions: Mapping[int, tuple[str, ...]] = dataclasses.field(default_factory=dict)
    repair: str = ""  # kind of repair, for a note about one
    whole: bool = False  # about the whole file, or about a group of people, rather than about rows
    # of a whole: its rows
    near: NDArray[np.intp] = dataclasses.field(default_factory=lambda: NO_ROWS, repr=False)
    left_out: tuple[int, ...] = ()  # rows that go aside because an earlier one says the same
    follows: tuple[str, ...] = ()  # causes that it only follows from, and vanishes with
    # another roster that it tells of: its name, and its title as the words have it
    elsewhere: tuple[str, str] = ("", "")

    def say(self, row: int) -> str:
        """Word the finding of one row."""
        return self.message(row) if callable(self.message) else str(self.message)


def identify(hit: Hit) -> str:
    """Name the cause that a hit is: the same as long as check, field and group are."""
    return _name_cause(hit.check, hit.field or "", hit.group)


@lru_cache(maxsize=8_192)
def _name_cause(*named: str) -> str:
    return hashlib.sha256("\x1f".join(named).encode()).hexdigest()[:10]


def lines_of(lines: NDArray[np.int64]) -> str:
    """Word some lines: "lines 44, 51 and 90".

    >>> lines_of(np.array([44, 51, 90]))
    'lines 44, 51 and 90'
    """
    shown = [str(line) for line in lines[:6].tolist()]
    if len(lines) > 6:
        shown = [*shown[:5], f"{len(lines) - 5} more"]
    if len(shown) == 1:
        return f"line {shown[0]}"
    return f"lines {', '.join(shown[:-1])} and {shown[-1]}"
