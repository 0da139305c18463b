"""Part a file's rows into data and what is none: notes, headers, totals, page heads, examples,
marks of the end.

Over whole columns; only the few rows that look odd are looked at one by one. A row goes out only
where it is unlike the rows around it or says what it is: a person of whom little is known stays.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.borders import Arrow
from nevefield.core.reading.evidence import Columns, Layout, masked, sample_size
from nevefield.core.reading.layout import EXAMPLE
from nevefield.core.reading.looks import (
    BLANK,
    DAY,
    IDENT,
    NUMBER,
    OTHER,
    RULED,
    SENTENCE,
    WORDS,
    look,
    looks_of,
)
from nevefield.core.texts import key_of, trim, trim_all

if TYPE_CHECKING:
    from collections.abc import Sequence

    from numpy.typing import NDArray

    from nevefield.core.reading.grid import Grid

__all__ = ["Envelope", "Parted", "find_envelope", "part_rows"]

SAMPLE = 200  # rows that say what the columns look like
MOST = 5_000  # odd rows that are looked at one by one
TAIL = 40  # rows at the end that may be notes below the table
UNLIKE = 0.12  # a look that a column has more rarely is unlike it
SPARSE, SHORT = 1 / 3, 2 / 3  # of the cells that most rows have

_SUMS = (
    "(?:(?:grand|sub|zwischen|end|gesamt)["
    " -]?)?(?:totals?|totale?n?|totaal|totalt|summe|gesamt|razem|łącznie|ogółem|celkem|součet|összesen|итого|всего|сумма|σύνολο|toplam|yhteensä|iš"  # noqa: E501
    " viso|kopā|kokku|ukupno|skupaj|i alt)"
)
_COUNTS = (
    # also names of people: less is believed of them
    "(?:sums?|summa|soma|suma|count|anzahl|antal|liczba|nombre de|number of)"
)
_TOTAL = re.compile(rf"\W*{_SUMS}(?:\W.*)?|.*\W{_SUMS}\W*", re.IGNORECASE)
_ALONE = re.compile(rf"\W*{_SUMS}\W*", re.IGNORECASE)
_COUNT = re.compile(rf"\W*{_COUNTS}(?:\W.*)?|.*\W{_COUNTS}\W*", re.IGNORECASE)
_TOTAL_RE2 = rf"(?i)(^|[^\pL])({_SUMS}|{_COUNTS})([^\pL]|$)"
_PAGE = re.compile(
    r"\W*(?:page|pages|seite|strona|str|side|sida|sivu|pagina|página|pág|stránka|oldal|страница|стр|σελίδα|sayfa|blatt|p)\.?\s*"
    r"\d{1,6}(?:\s*(?:of|/|von|z|af|av|di|de|sur|van|из|από|-)\s*\d{1,6})?\W*",
    re.IGNORECASE,
)
_PAGE_RE2 = r"(?i)(page|seite|strona|str\.|side|sida|sivu|pagina|página|pág|stránka|oldal|страница|стр|σελίδα|sayfa|blatt|p\.)\s*[0-9]"  # noqa: E501
_END = re.compile(
    r"[*=#_-]{2}.*"
    r"|\W*(?:end|eof|ende|fin|koniec|konec|fine|slut|einde|конец)\b(?:\s*(?:of|der|de|du|av|raportu|listy)\b.*|\W*)"
    r"|\W*\d[\d,."
    r" ]{0,12}\s*(?:rows?|records?|lines?|entries|persons?|people|members?|datensätze|zeilen|wierszy|rekord\w*)\b.*"  # noqa: E501
    r"|.*\b(?:exported|generated|printed|created|erstellt|gedruckt|wygenerowan\w+|imprimé|generado)\b.*",
    re.IGNORECASE,
)
_OPENING = frozenset(
    ["h", "hdr", "head", "header", "hd", "a", "00", "0", "01", "begin", "start", "bof", "b"]
)
_CLOSING = frozenset(
    [
        "t",
        "trl",
        "trailer",
        "tra",
        "tr",
        "f",
        "ftr",
        "footer",
        "z",
        "99",
        "9",
        "end",
        "e",
        "eof",
        "x",
    ]
)


@dataclass(frozen=True)
class Envelope:
    """A record that opens the file, and one that closes it; of neither there need be one."""

    first: int  # the first row within
    last: int  # the first row beyond
    remark: str = ""


@dataclass
class Parted:
    """The rows that are data, and by row what the others are."""

    kept: NDArray[np.intp]
    kinds: dict[int, str] = field(default_factory=dict)


def find_envelope(grid: Grid) -> Envelope:
    """Find a leading and a closing record, as programs write around what they hand over, and
    hold their count to the rows.
    """
    whole = Envelope(0, len(grid))
    if len(grid) < 4 or not grid.width:
        return whole
    edges = sorted({*range(min(5, len(grid))), *range(max(len(grid) - 5, 0), len(grid))})
    rows = {
        place: row
        for place, row in zip(edges, grid.rows(edges), strict=True)
        if any(map(trim, row))
    }
    filled = list(rows)
    if len(filled) < 2:
        return whole
    head, tail = rows[filled[0]], rows[filled[-1]]
    opening, closing = key_of(head[0]), key_of(tail[0])
    if opening not in _OPENING or closing not in _CLOSING or opening == closing or filled[0] > 2:
        return whole
    marks = grid.columns[0]
    counts = {
        key_of(text): int(count)
        for text, count in zip(marks.texts(), marks.counts().tolist(), strict=True)
        if count
    }
    if counts.get(opening) != 1 or counts.get(closing) != 1:
        return whole
    first, last = filled[0] + 1, filled[-1]
    within = last - first
    # The first cell says of what kind a record is only where most records are of one kind: numbers
    # and letters of people are not.
    if (
        max((count for text, count in counts.items() if text not in (opening, closing)), default=0)
        * 2
        <= within
    ):
        return whole
    numbers = [
        int(trim(cell)) for cell in tail[1:] if trim(cell).isdecimal() and len(trim(cell)) <= 9
    ]
    has_header = 1 if _is_words(grid.rows([first])[0]) else 0
    agree = {within - has_header, within, within + 2, within + 1}
    if not numbers or agree & set(numbers):
        return Envelope(first, last)
    day = [number for number in numbers if 19_000_000 <= number <= 21_001_231]
    told = [number for number in numbers if number not in day]
    if not told:
        return Envelope(first, last)
    count = min(told, key=lambda number: abs(number - within))
    return Envelope(
        first,
        last,
        f"The closing record says {count:,}, and there are {within - has_header:,} rows; ask"
        " whether the file is whole.",
    )


def _is_words(row: Sequence[str]) -> bool:
    filled = [look(cell) for cell in row if trim(cell)]
    return (
        len(filled) > 2
        and all(number in (WORDS, IDENT, OTHER) for number in filled[1:])
        and filled.count(WORDS) * 2 > len(filled)
    )


class _Marks:
    """What is known of the values of a grid's columns, each worked out once."""

    def __init__(self, grid: Grid) -> None:
        self.grid = grid
        self.trimmed = [trim_all(column.values) for column in grid.columns]
        self._blank: dict[int, NDArray[np.bool_]] = {}

    def rows(self, place: int, hits: Arrow) -> NDArray[np.bool_]:
        """Spread what holds of a column's values over the rows."""
        marks = np.asarray(hits.to_numpy(zero_copy_only=False), bool)
        return (
            marks[self.grid.columns[place].codes] if marks.any() else np.zeros(len(self.grid), bool)
        )

    def blank(self, place: int) -> NDArray[np.bool_]:
        if place not in self._blank:
            self._blank[place] = self.rows(place, pc.equal(self.trimmed[place], ""))
        return self._blank[place]

    def all_cells(self, like: Arrow, *, first: int) -> NDArray[np.bool_]:
        """Tell the rows of which every cell is blank or like something, and one at least is."""
        mask: NDArray[np.bool_] = np.zeros(len(self.grid), bool)
        mask[first:] = True
        some = np.zeros(len(self.grid), bool)
        for place, values in enumerate(self.trimmed):
            hits = self.rows(place, like(values))
            some |= hits
            mask &= hits | self.blank(place)
            if not mask.any():
                break
        return mask & some


def part_rows(grid: Grid, layout: Layout, envelope: Envelope) -> Parted:
    """Tell data from what is none, from the layout's first row on."""
    marks = _Marks(grid)
    size = len(grid)
    filled = np.zeros(size, np.int32)
    for place in range(grid.width):
        filled += ~marks.blank(place)
    kinds = {place: "note" if filled[place] else "blank" for place in range(layout.first)}
    kinds |= dict.fromkeys(range(envelope.first), "note") | dict.fromkeys(
        range(envelope.last, size), "end"
    )
    kinds |= dict.fromkeys(layout.passed, "note") | dict.fromkeys(layout.headers, "header")
    kinds |= {place: "blank" for place in kinds if not filled[place]}
    body = np.zeros(size, bool)
    body[layout.first : envelope.last] = True
    for place in np.flatnonzero(body & (filled == 0)).tolist():
        kinds[place] = "blank"
    body &= filled > 0
    if layout.headers:
        for place in np.flatnonzero(_repeats(marks, layout) & body).tolist():
            kinds[place] = "header"
            body[place] = False
    if grid.width > 1:
        for place in np.flatnonzero(marks.all_cells(_is_ruler, first=layout.first) & body).tolist():
            kinds[place] = "note"
            body[place] = False
    for place in np.flatnonzero(marks.all_cells(_is_example, first=layout.first) & body).tolist():
        kinds[place] = "example"
        body[place] = False
    for place, kind in _find_odd(grid, marks, layout, filled, body):
        kinds[place] = kind
        body[place] = False
    return Parted(np.flatnonzero(body), kinds)


def _is_ruler(values: Arrow) -> Arrow:
    return pc.match_substring_regex(values, f"^{RULED}$")


def _is_example(values: Arrow) -> Arrow:
    return pc.starts_with(pc.utf8_lower(values), f"{EXAMPLE} ")


def _repeats(marks: _Marks, layout: Layout) -> NDArray[np.bool_]:
    """Tell the rows that are one of the header's rows once more."""
    repeats = np.zeros(len(marks.grid), bool)
    for header in marks.grid.rows(layout.headers):
        cells = [key_of(cell) for cell in header] + [""] * (marks.grid.width - len(header))
        mask = np.ones(len(marks.grid), bool)
        for place in sorted(range(marks.grid.width), key=lambda at, cells=cells: cells[at] == ""):  # type: ignore[misc]
            values = pc.utf8_lower(marks.trimmed[place])
            same = pc.equal(values, trim(header[place]).lower() if place < len(header) else "")
            mask &= marks.rows(place, same)
            if not mask.any():
                break
        repeats |= mask
    return repeats


def _find_odd(
    grid: Grid, marks: _Marks, layout: Layout, filled: NDArray[np.int32], body: NDArray[np.bool_]
) -> list[tuple[int, str]]:
    """Look at the rows that are sparse, or say that they are totals, pages or the end."""
    if grid.width < 2 or not body.any():
        return []
    usual = float(np.percentile(filled[body], 75))
    sparse = (
        body & (filled <= max(1.0, usual * SPARSE)) if usual >= 3 else np.zeros(len(grid), bool)
    )
    said = _saying(grid, marks, body)
    heads = _page_heads(grid, layout)
    said |= _like_heads(marks, heads) & body
    full = np.flatnonzero(body & ~sparse & ~said)
    if not len(full):
        return []
    size = min(len(full), sample_size(grid.width, SAMPLE))
    chosen = full[np.linspace(0, len(full) - 1, size).astype(np.intp)]
    rows = _without_prose(grid.rows(chosen))
    model = _Model(Columns(looks_of(rows, grid.width), rows))
    suspects = said.copy()
    if sparse.sum() <= max(MOST, 0.1 * body.sum()):
        suspects |= sparse
    found = []
    # below the table: until a row is met that belongs to it
    last = np.flatnonzero(body)[-TAIL:][::-1]
    for place, row in zip(last.tolist(), grid.rows(last), strict=True):
        kind = model.kind_of(row, fill=filled[place] / usual, is_last=True, heads=heads)
        if not kind:
            break
        found.append((place, kind))
        suspects[place] = False
    places = np.flatnonzero(suspects)[:MOST]
    for place, row in zip(places.tolist(), grid.rows(places), strict=True):
        kind = model.kind_of(row, fill=filled[place] / usual, is_last=False, heads=heads)
        if kind:
            found.append((place, kind))
    # What would take most rows out has not understood the table: better all of them than too few.
    return found if len(found) * 2 <= max(10, int(body.sum())) else []


def _without_prose(rows: list[list[str]]) -> list[list[str]]:
    """Leave out the rows whose cells begin with a space, as those of a sentence do, where most
    do not.
    """
    marks = [
        any(map(trim, row[1:])) and all(cell[:1] == " " for cell in row[1:] if trim(cell))
        for row in rows
    ]
    return (
        rows
        if sum(marks) * 2 > len(rows)
        else [row for row, mark in zip(rows, marks, strict=True) if not mark]
    )


def _saying(grid: Grid, marks: _Marks, body: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Tell the rows of which one of the first cells holds a word for totals or pages."""
    found = np.zeros(len(grid), bool)
    for place in range(min(grid.width, 4)):
        values = marks.trimmed[place]
        hits = pc.and_(
            pc.less(pc.utf8_length(values), 80),
            pc.match_substring_regex(values, f"{_TOTAL_RE2}|{_PAGE_RE2}"),
        )
        found |= marks.rows(place, hits)
    return found & body


def _page_heads(grid: Grid, layout: Layout) -> dict[str, int]:
    """List the notes above the header as they would stand above another page, each with the
    place of its first text.
    """
    page_heads: dict[str, int] = {}
    for row in grid.rows(
        [place for place in range(min(layout.first, 30)) if place not in layout.headers]
    ):
        text = masked(row)
        if len(text) > 3:
            page_heads[text] = next(place for place, cell in enumerate(row) if trim(cell))
    return page_heads


def _like_heads(marks: _Marks, heads: dict[str, int]) -> NDArray[np.bool_]:
    like_heads = np.zeros(len(marks.grid), bool)
    for place in set(heads.values()):
        begins = pc.utf8_slice_codeunits(
            pc.replace_substring_regex(pc.utf8_lower(marks.trimmed[place]), r"[0-9]+", "9"), 0, 3
        )
        wanted = {text[:3] for text, at in heads.items() if at == place}
        like_heads |= marks.rows(
            place, pc.is_in(begins, value_set=pa.array(sorted(wanted), pa.string()))
        )
    return like_heads


class _Model:
    """Judges single rows by what the rows around them look like."""

    def __init__(self, columns: Columns) -> None:
        self.chance = np.exp(columns.likelihood(0))
        self.width = columns.width
        self.full = int(columns.filled(0).sum())
        cells = [cell for row in columns.rows for cell in row[1:] if trim(cell)]
        self.is_spaced = sum(cell[:1] == " " for cell in cells) > 0.1 * len(cells)

    def kind_of(
        self, row: Sequence[str], *, fill: float, is_last: bool, heads: dict[str, int]
    ) -> str:
        """Tell what a row is that may be none of data; "" for data. `fill`: how much of what
        most rows have it has.
        """
        is_sparse = fill <= SPARSE and self.full >= 3
        places = [place for place, cell in enumerate(row) if trim(cell)]
        texts = [trim(row[place]) for place in places]
        looks = [look(text) for text in texts]
        unlike = sum(
            self.chance[place, kind] < UNLIKE for place, kind in zip(places, looks, strict=True)
        )
        if heads and unlike and masked(row) in heads:
            return "note"
        is_alone = len(texts) == 1 or unlike == len(texts)  # nothing in it is as the rows have it
        if (
            is_alone
            and len(texts) <= 3
            and (is_sparse or unlike)
            and any(_PAGE.fullmatch(text[:60]) for text in texts)
        ):
            return "note"
        if self._is_total(texts, looks, unlike, fill):
            return "total"
        if is_last and self.full >= 2:
            alone = len(texts) == 1
            joined = " ".join(texts)[:300]
            if (
                len(texts) <= max(1, self.full / 2)
                and _END.fullmatch(joined)
                and (unlike or looks[0] not in (WORDS, IDENT))
            ):
                return "end"
            if alone and unlike and looks[0] in (WORDS, OTHER, SENTENCE, NUMBER, DAY):
                return "note"
            if looks[0] in (SENTENCE, WORDS, OTHER) and unlike and self._is_prose(row, places):
                return "note"
        if (
            is_sparse
            and len(texts) == 1
            and self.full >= 3
            and unlike
            and looks[0] in (WORDS, SENTENCE, OTHER)
        ):
            return "note"
        return ""

    def _is_prose(self, row: Sequence[str], places: list[int]) -> bool:
        later = [row[place] for place in places if place > 0]
        return bool(later) and not self.is_spaced and all(cell[:1] == " " for cell in later)

    def _is_total(self, texts: list[str], looks: list[int], unlike: int, fill: float) -> bool:
        first, rest = texts[0], looks[1:]
        # behind the name of a group
        if len(texts) > 1 and _ALONE.fullmatch(texts[1][:80]) and unlike:
            first, rest = texts[1], looks[2:]
        if len(first) >= 80 or not all(kind in (NUMBER, BLANK) for kind in rest):
            return False
        if _TOTAL.fullmatch(first):
            is_said = (
                bool(rest) or any(letter.isdigit() for letter in first) or len(first.split()) == 1
            )
            return is_said and (unlike > 0 or fill <= SHORT)
        return bool(_COUNT.fullmatch(first)) and unlike > 0 and fill <= SHORT
