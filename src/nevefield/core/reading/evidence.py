"""Find the header by evidence over the whole sample: words, widths, and what stands below, as one
likelihood for each candidate.

Every row of the sample is a note, a heading or data. A candidate says which row the header is; its
score is the likelihood of the rows under it against that of all of them being data, where data are
what the columns below look like.
"""

from __future__ import annotations

import math
import re
from collections import Counter
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.columns.headings import is_heading_word
from nevefield.core.reading.looks import (
    BLANK,
    DAY,
    HEADING,
    IDENT,
    KINDS,
    MAIL,
    NOTE,
    NUMBER,
    OTHER,
    PRIOR,
    RULER,
    SENTENCE,
    WORDS,
    looks_of,
)
from nevefield.core.texts import key_of, shape_of, squeeze, trim

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

__all__ = ["Columns", "Layout", "find_layout", "join_headings", "masked", "sample_size"]

FIRST = 60  # rows among which the header is
MOST = 40_000  # cells that are looked at
NEAR = 1.5  # two candidates whose scores differ by less are both said
CLOSER = 6  # candidates that are looked at cell by cell
IS_ANY = 1.5  # that a file has a header at all
KNOWN, WORD = 4.0, 1.5  # that a text names a field at hand; that it is a word that headings have
# what a note above speaks for a header at most, and all of them
FULL_NOTE, NOTE_AT_MOST, ALL_NOTES = 1.0, 4.0, 10.0
IMPOSSIBLE = -1e9
GAP = -2.0  # that a column has no heading
TWICE = -0.7  # that two headings are the same
SERIES = 2.0  # that numbers in a row go up by one
MOST_NEW = 80  # columns that are looked at cell by cell; what more there are count as these do
BELOW_ROWS = 120  # that are looked at cell by cell
BELOW = -3.0  # that a heading stands as a value in its column


@dataclass(frozen=True)
class Layout:
    """The header's rows among those looked at (none: there is no header), and the first row of
    data.
    """

    headers: tuple[int, ...]
    first: int
    # rows between header and data that are neither: rulers, filters, questions, types
    passed: tuple[int, ...] = ()
    score: float = 0.0
    why: str = ""  # in words
    other: int | None = None  # another row that might be the header

    @property
    def header(self) -> int | None:
        """The last of the header's rows."""
        return self.headers[-1] if self.headers else None


class Columns:
    """What the columns below a row look like."""

    def __init__(self, looks: NDArray[np.int8], rows: Sequence[Sequence[str]]) -> None:
        self.looks, self.rows = looks, rows
        self.width = looks.shape[1]
        self._keys: dict[int, list[str]] = {}
        self._prose: dict[int, int] = {}
        self._folded: dict[int, list[str]] = {}
        filled = (looks != BLANK) & (looks != RULER)
        count = filled.sum(axis=1)
        usual = np.percentile(count[count > 0], 75) if (count > 0).any() else 0
        self.counts = count
        self.is_full = count >= max(1, 0.34 * usual)  # sparse rows say nothing of the columns
        ones = np.zeros((len(rows) + 1, self.width, KINDS), np.int32)
        for kind in range(KINDS):
            ones[:-1, :, kind] = (looks == kind) & self.is_full[:, None]
        self._below = np.cumsum(ones[::-1], axis=0)[::-1]  # [r]: counts over the rows from r on

    @cached_property
    def masked(self) -> list[str]:
        """The rows as they would stand on another page."""
        return [masked(row) for row in self.rows]

    def keys(self, place: int) -> list[str]:
        """Return a row's texts in the form in which headings are compared."""
        if place not in self._keys:
            self._keys[place] = [key_of(cell) for cell in self.rows[place]]
        return self._keys[place]

    def prose(self, place: int) -> int:
        """Count a row's cells that begin with a space, as a sentence does after a comma, where
        the table's own do not.
        """
        if place not in self._prose:
            self._prose[place] = _prose(self, place)
        return self._prose[place]

    def folded(self, column: int, first: int) -> list[str]:
        """List what stands in a column of the full rows from `first` on, case and spaces aside."""
        if column not in self._folded:
            self._folded[column] = [
                squeeze(row[column]).casefold() if full and column < len(row) else ""
                for row, full in zip(self.rows, self.is_full.tolist(), strict=True)
            ]
        return [text for text in self._folded[column][first : first + BELOW_ROWS] if text]

    def likelihood(self, first: int) -> NDArray[np.float64]:
        """Return the logarithm of the probability of each look in each column of the rows from
        `first` on, columns × looks.
        """
        counts = self._below[min(first, len(self.rows))]
        spread = 1.5
        made = (counts + spread * PRIOR) / (counts.sum(axis=1, keepdims=True) + spread)
        return np.asarray(np.log(made))

    def filled(self, first: int) -> NDArray[np.bool_]:
        """Tell which columns have something in most of the rows from `first` on."""
        counts = self._below[min(first, len(self.rows))]
        return np.asarray(counts[:, BLANK] * 2 <= counts.sum(axis=1))


def sample_size(width: int, most: int) -> int:
    """Say how many rows of a table are looked at: fewer of a wide one."""
    return min(most, max(30, MOST // max(width, 1)))


def find_layout(rows: Sequence[Sequence[str]], known: frozenset[str] = frozenset()) -> Layout:
    """Find the header among the first rows.

    Args:
        rows: The first rows of the file, blank ones as no or empty cells.
        known: Names that headings may have, in the form of `key_of`; they weigh most.
    """
    width = max((len(row) for row in rows), default=0)
    if not width:
        return Layout((), len(rows))
    rows = rows[: sample_size(width, len(rows))]
    looks = looks_of(rows, width)
    columns = Columns(looks, rows)
    if not columns.counts.any():
        return Layout((), len(rows))
    scored = [_without(columns)]
    rough = [
        (place, _score(columns, place, known, is_close=False))
        for place in range(min(len(rows), FIRST))
        if columns.counts[place]
    ]
    rough.sort(key=lambda one: (-one[1], one[0]))
    for place, _ in rough[:CLOSER]:
        scored.append(
            Layout(
                (place,),
                place + 1,
                score=_score(_once(columns, place), place, known, is_close=True),
            )
        )
    scored.sort(key=lambda layout: -layout.score)
    best, *others = scored
    if others and best.score - others[0].score < NEAR:
        best = replace(best, other=others[0].header if others[0].header is not None else None)
    if best.header is None:
        return best
    return _explain(_below(_over_lines(best, columns, known), columns), columns, known)


def _once(columns: Columns, place: int) -> Columns:
    """Leave out what stands above a row and comes again below it, on every page: the row itself,
    and what is printed above it.

    What is printed above may come again with other numbers; where most rows would go, they are rows
    that differ in numbers only.
    """
    above, own = {*columns.masked[:place]} - {""}, columns.masked[place]
    names = columns.keys(place)

    def is_again(at: int) -> bool:
        text = columns.masked[at]
        return text in above or bool(text == own != "" and columns.keys(at) == names)

    kept = [at for at in range(len(columns.rows)) if at <= place or not is_again(at)]
    if (
        len(kept) == len(columns.rows)
        or (len(kept) - place - 1) * 2 < len(columns.rows) - place - 1
    ):
        return columns
    return Columns(columns.looks[kept], [columns.rows[at] for at in kept])


def masked(row: Sequence[str]) -> str:
    """Write a row as it would stand on another page: with other numbers; "" where it has no
    words.
    """
    text = " ".join([text for cell in row[:MOST_NEW] if (text := trim(cell))]).casefold()
    return re.sub(r"\d+", "9", text) if any(letter.isalpha() for letter in text) else ""


def _note_ratios(
    columns: Columns, chance: NDArray[np.float64], first: int, last: int
) -> NDArray[np.float64]:
    """Say of rows how much more likely each is a note than one of data, as a logarithm; blank
    rows are neither.
    """
    looks = columns.looks[first:last]
    ratio = (NOTE[looks] - chance[np.arange(columns.width), looks]).sum(axis=1)
    ratio += [2.0 * columns.prose(place) for place in range(first, first + len(looks))]
    # A row as full as those of the table is hardly a note, however unlike: of a table with gaps
    # every row is unlike the next.
    most = np.where(columns.is_full[first:last], FULL_NOTE, NOTE_AT_MOST)
    return np.where(columns.counts[first:last] > 0, np.clip(ratio, -10.0, most), 0.0)


def _prose(columns: Columns, place: int) -> int:
    row = columns.rows[place]
    spaced = sum(1 for cell in row[1:] if cell[:1] == " " and trim(cell))
    if not spaced or spaced < len([cell for cell in row[1:] if trim(cell)]):
        return 0
    below = [cell for row in columns.rows[place + 1 :][-20:] for cell in row[1:] if trim(cell)]
    return spaced if below and sum(cell[:1] == " " for cell in below) < 0.2 * len(below) else 0


def _without(columns: Columns) -> Layout:
    """Score that there is no header: the rows above the first that is data are notes."""
    size = min(len(columns.rows) - 1, FIRST)
    near = [
        _note_ratios(columns, columns.likelihood(place + 1), place, place + 1)
        for place in range(min(size, 8))
    ]
    ratios = np.concatenate(
        [*near, _note_ratios(columns, columns.likelihood(0), min(size, 8), size)]
    )
    best, total, first = 0.0, 0.0, 0
    for place, ratio in enumerate(ratios.tolist()):
        total += ratio
        if ALL_NOTES > total > best:
            best, first = total, place + 1
    while first < len(columns.rows) and not columns.counts[first]:
        first += 1
    return Layout((), first, score=best)


def _score(columns: Columns, place: int, known: frozenset[str], *, is_close: bool) -> float:
    chance = columns.likelihood(place + 1)
    if columns.is_full[:place].any() and not columns.is_full[place + 1 :].any():
        return IMPOSSIBLE  # what would be above are the rows, and below is nothing
    above = min(ALL_NOTES, float(_note_ratios(columns, chance, 0, place).sum()))
    row, looks = columns.rows[place], columns.looks[place]
    full, at = columns.filled(place + 1), np.arange(columns.width)
    said = looks != BLANK
    cells = np.where(said, np.clip(HEADING[looks] - chance[at, looks], -6, 5), 0.0)
    if not columns.is_full[place + 1 :].any():  # nothing below says anything
        cells = np.where(said, HEADING[looks] - np.log(PRIOR[looks]), 0.0) * (
            0.3 if columns.is_full[:place].any() else 1.0
        )
    series = _in_series(row, looks)
    if series and not any(
        _in_series(columns.rows[at], columns.looks[at])
        for at in range(place + 1, len(columns.rows))[:5]
    ):
        cells[series] = SERIES
    gaps = int((full & ~said).sum())
    texts = [key for cell, key in zip(row, columns.keys(place), strict=True) if trim(cell)]
    total = (
        float(cells.sum())
        + above
        + IS_ANY
        + max(GAP * gaps, -8.0)
        + TWICE * (len(texts) - len(set(texts)))
    )
    if len(texts) == 1 and full.sum() > 1:
        total -= 3.0
    if is_close:
        total += sum(_name(cell, known) for cell in row if trim(cell))
        some = np.flatnonzero(said)
        total += sum(_new(columns, place, column) for column in some[:MOST_NEW].tolist()) * max(
            1.0, len(some) / MOST_NEW
        )
        total -= 1.5 * columns.prose(place)
    elif known:
        total += KNOWN * sum(text in known for text in texts)
    return total


def _name(cell: str, known: frozenset[str]) -> float:
    if key_of(cell) in known:
        return KNOWN
    return WORD if is_heading_word(cell[:80]) else 0.0


def _new(columns: Columns, place: int, column: int) -> float:
    """Weigh that a text stands nowhere below, where texts come again and again; or that it does."""
    text = squeeze(columns.rows[place][column]).casefold()
    below = columns.folded(column, place + 1)
    if len(below) < 2:
        return 0.0
    counted = Counter(below)
    if text in counted:
        return BELOW if counted[text] > 1 or len(below) < 40 else BELOW / 2
    fresh = -math.log((len(counted) + 0.5) / (len(below) + 1))
    looks = columns.looks[place][column]
    if looks in (NUMBER, IDENT, OTHER):
        shapes = Counter(shape_of(text[:60]) for text in below)
        mine = shapes.get(shape_of(text[:60]), 0)
        fresh += -math.log((mine + 0.5) / (len(below) + 1)) / 2
    return min(fresh, 3.0)


def _in_series(row: Sequence[str], looks: NDArray[np.int8]) -> list[int]:
    """List the cells of a row whose numbers go up by one from cell to cell, three at least:
    years, weeks, questions.
    """
    numbers: list[int] = []
    run: list[int] = []
    before = None
    for place, cell in enumerate(row):
        number = (
            int(trim(cell))
            if looks[place] == NUMBER and trim(cell).isdecimal() and len(trim(cell)) < 10
            else None
        )
        if number is not None and before is not None and number == before + 1:
            run = run or [place - 1]
            run.append(place)
        else:
            numbers += run if len(run) >= 3 else []
            run = []
        before = number
    return numbers + (run if len(run) >= 3 else [])


def _over_lines(layout: Layout, columns: Columns, known: frozenset[str]) -> Layout:
    """Take the rows above and below a header for a part of it where together they name the
    columns.
    """
    lower = layout.headers[-1]
    headers = [lower]
    while len(headers) < 3 and headers[0] > 0 and _goes_on(columns, headers[0] - 1, headers, known):
        headers.insert(0, headers[0] - 1)
    if (
        len(headers) == 1
        and lower + 1 < len(columns.rows)
        and _goes_on(columns, lower, [lower + 1], known, is_below=True)
    ):
        headers = [lower, lower + 1]
        if (
            len(headers) < 3
            and lower + 2 < len(columns.rows)
            and _goes_on(columns, lower + 1, [lower + 2], known, is_below=True)
        ):
            headers.append(lower + 2)
        while (
            len(headers) < 3
            and headers[0] > 0
            and _goes_on(columns, headers[0] - 1, headers, known)
        ):
            headers.insert(0, headers[0] - 1)
    return replace(layout, headers=tuple(headers), first=headers[-1] + 1)


def _goes_on(
    columns: Columns,
    upper: int,
    lower: Sequence[int],
    known: frozenset[str],
    *,
    is_below: bool = False,
) -> bool:
    """Tell whether a row of headings goes on in the next: with gaps that the lower ones fill,
    both in words.
    """
    over, under = columns.rows[upper], columns.rows[lower[0]]
    words = (WORDS, OTHER, IDENT)
    if not all(
        look in words for line in (upper, *lower) for look in columns.looks[line] if look != BLANK
    ):
        return False
    top = [place for place, cell in enumerate(over) if trim(cell)]
    low = [place for place, cell in enumerate(under) if trim(cell)]
    if (
        len(top) < 2
        or not low
        or [key_of(cell) for cell in over] == [key_of(cell) for cell in under]
    ):
        return False
    typed = np.exp(columns.likelihood(lower[-1] + 1))[:, [NUMBER, IDENT, DAY, MAIL]].sum(axis=1)
    if is_below and not any(
        typed[place] > 0.6 and columns.looks[lower[0]][place] in (WORDS, OTHER) for place in low
    ):
        return False
    joined = join_headings(*(columns.rows[line] for line in (upper, *lower)))
    alone = sum(key_of(cell) in known for cell in under)
    if sum(key_of(name) in known for name in joined) > max(
        alone, sum(key_of(cell) in known for cell in over)
    ):
        return True
    full = columns.filled(lower[-1] + 1)
    lacks = [place for place in np.flatnonzero(full).tolist() if place not in low]
    # the lower row leaves columns without a name, and the upper one has those
    if lacks and len(lower) == 1:
        spans = any(place + 1 not in top and place + 1 in low for place in top)
        return spans and all(place in top for place in lacks)
    first = top[0]
    if first + 1 in top and first in low:
        # an upper heading stands over several: this one over its own column alone is a note in two
        # cells
        return False
    return (
        len(top) < columns.width
        and any(place + 1 not in top for place in top[:-1])
        and len(top) < sum(full)
    )


def join_headings(*rows: Sequence[str]) -> list[str]:
    """Join a header over several lines: each upper text reaches right to the next of its line, the
    lowest stands alone.

    >>> join_headings(["Name", "", "Enrolled", ""], ["family", "given", "from", "to"])
    ['Name family', 'Name given', 'Enrolled from', 'Enrolled to']
    """
    joined: list[str] = []
    above = [""] * len(rows)
    for place in range(max(map(len, rows), default=0)):
        for level, row in enumerate(rows):
            text = trim(row[place]) if place < len(row) else ""
            if text or level == len(rows) - 1:
                above[level] = text
                if text:
                    # a new heading above ends those that stood below the last
                    for lower in range(level + 1, len(rows) - 1):
                        above[lower] = ""
        joined.append(trim(" ".join(text for text in above if text)))
    return joined


def _below(layout: Layout, columns: Columns) -> Layout:
    """Pass over what stands between header and data: rulers, the header once more, filters,
    questions, types, blank lines.
    """
    first, passed = layout.first, []
    header = [key_of(cell) for cell in columns.rows[layout.headers[-1]]]
    while first < len(columns.rows) - 1:
        row, looks = columns.rows[first], columns.looks[first]
        filled = [place for place in range(len(row)) if looks[place] != BLANK]
        if filled and not _is_between(columns, first, filled, header):
            break
        passed.append(first)
        first += 1
    if first == len(columns.rows) - 1 and not columns.counts[first]:
        return replace(layout, first=layout.first)
    return replace(layout, first=first, passed=tuple(passed))


_TYPES = frozenset(
    [
        "char",
        "varchar",
        "varchar2",
        "nvarchar",
        "text",
        "string",
        "str",
        "clob",
        "date",
        "datetime",
        "time",
        "timestamp",
        "number",
        "numeric",
        "decimal",
        "int",
        "integer",
        "bigint",
        "smallint",
        "float",
        "double",
        "real",
        "bool",
        "boolean",
        "bit",
        "uuid",
        "date/time",
        "long",
        "short",
        "memo",
        "yes/no",
    ]
)


def _is_between(columns: Columns, place: int, filled: list[int], header: list[str]) -> bool:
    row, looks = columns.rows[place], columns.looks[place]
    cells = [trim(row[at]) for at in filled]
    if all(looks[at] == RULER for at in filled) or [key_of(cell) for cell in row] == header:
        return True
    if len(cells) >= 2 and all(
        cell.partition("(")[0].strip().casefold() in _TYPES for cell in cells
    ):
        return True
    if all(len(cell) > 2 and cell[0] + cell[-1] in ("()", "[]", "<>", "{}") for cell in cells):
        return True
    chance = columns.likelihood(place + 1)
    unlike = [at for at in filled if np.exp(chance[at, looks[at]]) < 0.12]
    is_prose = [looks[at] == SENTENCE for at in filled]
    if len(filled) >= 2:
        return all(is_prose) and len(unlike) == len(filled)
    if len(filled) == 1 and columns.filled(place + 1).sum() >= 3:
        return bool(unlike) and looks[filled[0]] in (SENTENCE, WORDS, OTHER)
    return False


def _explain(layout: Layout, columns: Columns, known: frozenset[str]) -> Layout:
    """Say why the header is taken for it."""
    names = join_headings(*(columns.rows[place] for place in layout.headers))
    fields = sum(key_of(name) in known for name in names if name)
    chance = columns.likelihood(layout.first)
    looks = columns.looks[layout.headers[-1]]
    unlike = sum(
        1
        for place in range(columns.width)
        if looks[place] != BLANK and np.exp(chance[place, looks[place]]) < 0.12
    )
    words = sum(is_heading_word(name[:80]) for name in names if name)
    messages = []
    if fields:
        messages.append(
            f"{fields} of {len(names)} texts"
            f" {'is a name of a field' if fields == 1 else 'are names of fields'}"
        )
    elif words:
        messages.append(
            f"{words} of {len(names)} texts {'is a word' if words == 1 else 'are words'} that"
            " headings have"
        )
    if unlike:
        of = "" if messages else f" of {len(names)} texts"
        messages.append(f"{unlike}{of} {'is' if unlike == 1 else 'are'} unlike what stands below")
    return replace(layout, why=" and ".join(messages))
