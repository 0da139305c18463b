"""The one shape for data: a Table of dictionary-encoded columns.

A column holds its distinct values once, as an Arrow string array, and for each row the index of
its value as `int32`; -1 stands for "nothing there". Both parts are never written to again: an
edit makes a new column that shares what it can.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.borders import Arrow
from nevefield.core.edits import limits
from nevefield.core.edits.finding import Finder
from nevefield.core.edits.growing import Growing
from nevefield.core.edits.trail import Trail

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping, Sequence

    from numpy.typing import NDArray

__all__ = ["Column", "Table", "find_texts", "rows_at", "rows_by_line"]


@dataclass(frozen=True)
class Column:
    """Values by row, each distinct text kept once.

    >>> column = Column.of(["DECK", "ENGR", "DECK"])
    >>> column.texts(), column.codes.tolist()
    (['DECK', 'ENGR'], [0, 1, 0])
    """

    # pa.StringArray, distinct, without nulls; values that no row has any more may linger
    values: Arrow
    codes: NDArray[np.int32]  # one for each row: index into values, -1 where the row has nothing
    # filled when first asked
    _texts: list[list[str]] = field(default_factory=list, compare=False, repr=False)
    # By the identity of another column's values: those, the code there of each of our first values,
    # and of texts beyond.
    _places: dict[int, tuple[Arrow, NDArray[np.int32], dict[str, int]]] = field(
        default_factory=dict, compare=False, repr=False
    )
    # of an edited column, shared by its line
    _growing: list[Growing] = field(default_factory=list, compare=False, repr=False)
    # among the values that its line began with
    _finder: list[Finder] = field(default_factory=list, compare=False, repr=False)
    # what it was edited from; both number values alike
    trail: Trail = field(default_factory=Trail, compare=False, repr=False)

    @classmethod
    def of(cls, texts: Sequence[str | None]) -> Column:
        """Encode texts, one for each row; None becomes nothing there."""
        return cls.encode(pa.array(texts, pa.string()))

    @classmethod
    def encode(cls, array: Arrow) -> Column:
        """Encode an Arrow string array (plain or dictionary, whole or in chunks); null becomes
        nothing there.
        """
        if isinstance(array, pa.ChunkedArray):
            array = array.combine_chunks() if array.num_chunks != 1 else array.chunk(0)
        if not isinstance(array, pa.DictionaryArray):
            array = array.dictionary_encode()
        indices = array.indices
        codes = (pc.fill_null(indices, -1) if indices.null_count else indices).to_numpy(
            zero_copy_only=False
        )
        return cls(array.dictionary.cast(pa.string()), codes.astype(np.int32, copy=False))

    @classmethod
    def constant(cls, text: str | None, rows: int) -> Column:
        """Make a column with one text in every row, or nothing in every row."""
        values = pa.array([] if text is None else [text], pa.string())
        return cls(values, np.full(rows, -1 if text is None else 0, np.int32))

    def __len__(self) -> int:
        return len(self.codes)

    def texts(self) -> list[str]:
        """List the distinct values; worked out once, then kept."""
        if not self._texts:
            self._texts.append(self.values.to_pylist())
        # those of the column that this one was edited from
        elif len(self._texts[0]) < len(self.values):
            self._texts[0] = self._texts[0] + self.values[len(self._texts[0]) :].to_pylist()
        return self._texts[0]

    def at(self, row: int) -> str | None:
        """Return the text of one row, None where nothing is there."""
        code = int(self.codes[row])
        return None if code < 0 else str(self.values[code].as_py())

    def rows(self, chosen: NDArray[np.intp]) -> list[str | None]:
        """List the texts of chosen rows, in their order."""
        codes = self.codes[chosen]
        return self.values.take(pa.array(codes, mask=codes < 0)).to_pylist()  # type: ignore[no-any-return]

    def counts(self) -> NDArray[np.intp]:
        """Count the rows of each distinct value, in the order of `values`."""
        return np.bincount(self.codes[self.codes >= 0], minlength=len(self.values))

    def take(self, chosen: NDArray[np.intp]) -> Column:
        """Keep chosen rows, in the order given."""
        return Column(self.values, self.codes[chosen], self._texts, self._places)

    def compact(self) -> Column:
        """Drop the values that no row has, where the rows are few beside them; else the column
        as it is.
        """
        if len(self.codes) > len(self.values) // 8:
            return self
        used = np.unique(self.codes[self.codes >= 0])
        codes = np.where(self.codes >= 0, np.searchsorted(used, self.codes), -1).astype(np.int32)
        return Column(self.values.take(pa.array(used)), codes)

    def used(self) -> Column:
        """Drop the values that no row has; the column as it is where there are none such."""
        counts = self.counts()
        if not (counts == 0).any():
            return self
        places = np.flatnonzero(counts)
        among = np.full(len(counts) + 1, -1, np.int32)
        among[places] = np.arange(len(places), dtype=np.int32)
        return Column(self.values.take(pa.array(places)), among[self.codes])

    def replace(self, changes: Mapping[int, str | None]) -> Column:
        """Put other texts into single rows.

        >>> Column.of(["a", "b"]).replace({1: "c"}).rows(np.array([0, 1]))
        ['a', 'c']
        """
        if not changes:
            return self
        fresh = sorted({text for text in changes.values() if text is not None})
        places = self.find(fresh)
        added = [text for text, place in zip(fresh, places, strict=True) if place < 0]
        known = dict(zip(fresh, places, strict=True)) | {
            text: len(self.values) + place for place, text in enumerate(added)
        }
        codes = self.codes.copy()
        for row, text in changes.items():
            codes[row] = -1 if text is None else known[text]
        trail = self.trail.after(np.array(sorted(changes), np.intp))
        if not added:
            return Column(
                self.values,
                codes,
                list(self._texts),
                dict(self._places),
                self._growing,
                self._finder,
                trail,
            )
        growing = self._growing[0] if self._growing else None
        values = growing.append(self.values, added) if growing is not None else None
        if values is None:
            growing = Growing(pa.concat_arrays([self.values, pa.array(added, pa.string())]))
            values = growing.values
        line = [growing] if growing is not None else []
        return Column(
            values, codes, list(self._texts), dict(self._places), line, self._finder, trail
        )

    def find(self, texts: Sequence[str]) -> list[int]:
        """Find texts among the values, -1 for those that are not there.

        Of a few, by marks of the values that are made once; columns that are edited from this one
        use them too.
        """
        if len(texts) > limits.SINGLE:
            return find_texts(pa.array(texts, pa.string()), self.values).tolist()  # type: ignore[no-any-return]
        if not self._finder:
            self._finder.append(Finder(self.values))
        finder = self._finder[0]
        numbers = [finder.find(text) for text in texts]
        if len(finder) < len(self.values) and -1 in numbers:  # what edits have added since
            later = self.values[len(finder) :]
            beyond = [
                pc.index(later, text).as_py() if place < 0 else -1
                for text, place in zip(texts, numbers, strict=True)
            ]
            numbers = [
                place if place >= 0 or more < 0 else len(finder) + more
                for place, more in zip(numbers, beyond, strict=True)
            ]
        return numbers

    def since(self, column: Column) -> NDArray[np.intp] | None:
        """List the rows in which it may hold another value than another column; None where neither
        was edited from the other.

        Two columns that were edited from one number their values alike, but those that only one of
        them has.
        """
        return self.trail.since(column.trail)

    def places(self, column: Column) -> NDArray[np.int32]:
        """Find each of our values among another column's; worked out once, and of an edited column
        only what is new.

        Returns:
            For each value the code there, -2 for a value that the other lacks.
        """
        base = self._known_places(column)[1]
        if len(base) == len(self.values):
            return base
        texts = find_texts(self.values[len(base) :], column.values)
        texts[texts < 0] = -2
        placed = np.concatenate([base, texts]).astype(np.int32, copy=False)
        self._places[id(column.values)] = (column.values, placed, {})
        return placed

    def place(self, column: Column) -> NDArray[np.int32]:
        """Express the rows in the codes of another column; -2 for a value that it lacks, -1 for
        nothing there.
        """
        if len(self.codes) > limits.SINGLE:
            return np.append(self.places(column), np.int32(-1))[self.codes]
        # Few rows: what was placed before serves, and the texts of edits are looked for alone.
        _, base, beyond = self._known_places(column)
        numbers = []
        for code in self.codes.tolist():
            if code < len(base):
                numbers.append(int(base[code]) if code >= 0 else -1)
                continue
            text = self.values[code].as_py()
            if text not in beyond:
                place = column.find([text])[0]
                beyond[text] = place if place >= 0 else -2
            numbers.append(beyond[text])
        return np.array(numbers, np.int32)

    def _known_places(self, column: Column) -> tuple[Arrow, NDArray[np.int32], dict[str, int]]:
        known = self._places.get(id(column.values))
        if known is None:
            known = self._places[id(column.values)] = (column.values, np.zeros(0, np.int32), {})
        return known


def find_texts(texts: Arrow, values: Arrow) -> NDArray[np.int64]:
    """Find texts among an Arrow array's values, -1 for those that it lacks; a few by looking
    through it, which is quickest.

    Args:
        texts: An Arrow array.
        values: To look among; distinct.
    """
    if len(texts) <= limits.SINGLE:
        return np.array([pc.index(values, text).as_py() for text in texts], np.int64)
    return np.asarray(pc.fill_null(pc.index_in(texts, value_set=values), -1), np.int64)


def rows_at(lines: NDArray[np.int64], wanted: Iterable[int]) -> NDArray[np.intp]:
    """Find the rows that begin at lines of the file; lines at which none does are passed over.

    Args:
        lines: Of each row, rising.
        wanted: In any order.

    Returns:
        The rows, rising.
    """
    sought = np.array(sorted(wanted), np.int64)
    places = np.searchsorted(lines, sought)
    there = places < len(lines)
    there[there] = lines[places[there]] == sought[there]
    return np.unique(places[there])


def rows_by_line(table: Table, cells: Mapping[int, str]) -> dict[int, str]:
    """Turn texts by line into texts by row; lines that are no row of data are passed over."""
    places = np.searchsorted(table.lines, list(cells))
    edits = zip(places.tolist(), cells.items(), strict=True)
    return {
        row: text for row, (line, text) in edits if row < len(table) and table.lines[row] == line
    }


@dataclass(frozen=True)
class Table:
    """Columns side by side, with the file's own line of each row (or the number of each record)."""

    headings: tuple[str, ...]
    columns: tuple[Column, ...]
    lines: NDArray[np.int64]

    @classmethod
    def of(
        cls, headings: Sequence[str], rows: Sequence[Sequence[str]], lines: Sequence[int]
    ) -> Table:
        """Encode rows of texts, each as long as the headings."""
        texts = list(zip(*rows, strict=True)) if rows else [()] * len(headings)
        return cls(
            tuple(headings), tuple(Column.of(column) for column in texts), np.array(lines, np.int64)
        )

    def __len__(self) -> int:
        return len(self.lines)

    def take(self, chosen: NDArray[np.intp]) -> Table:
        """Keep chosen rows, in the order given."""
        return Table(
            self.headings, tuple(column.take(chosen) for column in self.columns), self.lines[chosen]
        )

    def row(self, index: int) -> list[str]:
        """List the texts of one row, "" where nothing is there."""
        return [column.at(index) or "" for column in self.columns]
