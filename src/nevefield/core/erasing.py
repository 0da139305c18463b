"""Take one person's values out of what is kept: texts by which they are known, wherever these
stand, and whole rows and records that are about them.

What stays is that there was somebody: rows keep their lines, records their number, so that what was
counted stays true.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import lru_cache
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import re2

from nevefield.core.borders import Foreign, Json
from nevefield.core.columns.titles import name_fields

if TYPE_CHECKING:
    from collections.abc import Collection, Iterable, Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.core.definition import Definition
    from nevefield.core.table import Column, Table

__all__ = [
    "ERASED",
    "NOBODY",
    "Telling",
    "erased_rows",
    "scrub_body",
    "scrub_json",
    "scrub_step",
    "telling_of",
]

ERASED = "(erased)"
NOBODY = "of somebody who was erased"  # why a row is left out
SHORTEST = 4  # characters of a text that is looked for wherever it stands
# how archives, workbooks and what is kept of files begin
PACKED = (b"PK", b"\x1f\x8b", b"\xd0\xcf\x11\xe0")


@dataclass(frozen=True)
class Telling:
    """Texts that tell who somebody is, wherever they stand as whole words, without regard to case.

    Args:
        texts: Numbers, addresses, the whole name: each alone tells who it is.
        names: Words that do together, when all of a group stand in one row.
    """

    texts: tuple[str, ...]
    names: tuple[tuple[str, ...], ...] = ()

    @classmethod
    def of(cls, texts: Iterable[str], names: Iterable[Sequence[str]] = ()) -> Telling:
        """Make one; texts that are too short to tell anything are passed over, the longest come
        first.
        """
        long = {text for text in texts if len(text) >= SHORTEST}
        return cls(
            tuple(sorted(long, key=lambda text: (-len(text), text))), tuple(map(tuple, names))
        )

    def stand_in(self, text: str) -> bool:
        """Tell whether a text says who it is."""
        return bool(self.texts) and _pattern(self.texts).search(text) is not None

    def scrub(self, text: str) -> str:
        """Put `ERASED` in the place of what says who it is."""
        if not self.texts:
            return text
        # twice: one mark between two of them ends the first, and begins the second
        for _ in range(2):
            text = _pattern(self.texts).sub(rf"\1{ERASED}\2", text)
        return text

    def may_be_in(self, data: bytes) -> bool:
        """Tell whether a file may be about them, without reading it: only of text in UTF-8 can it
        be said that it is not.
        """
        if data.startswith(PACKED) or b"\0" in data:
            return True
        try:
            text = data.decode("utf-8").casefold()
        except UnicodeDecodeError:
            return True
        return any(one.casefold() in text for one in self.texts) or any(
            all(word in text for word in one) for one in _words_of(self.names)
        )

    def are_of(self, cells: Sequence[str]) -> bool:
        """Tell whether a row of a file is about them."""
        if any(self.stand_in(cell) for cell in cells):
            return True
        words = set(_words(" ".join(cells))) if self.names else set()
        return any(words.issuperset(one) for one in _words_of(self.names))


@lru_cache(maxsize=8)
def _pattern(texts: tuple[str, ...]) -> Foreign:
    """Make the expression that finds any of some texts as whole words: the number 1234 is not
    found in 512345. The engine takes time that grows with the text (RE2).
    """
    joined = "|".join(re2.escape(text) for text in texts)
    return re2.compile(rf"(?i)(^|[^\pL\pN_])(?:{joined})($|[^\pL\pN_])")


def _words(text: str) -> list[str]:
    return "".join(one if one.isalnum() else " " for one in text.casefold()).split()


@lru_cache(maxsize=8)
def _words_of(names: tuple[tuple[str, ...], ...]) -> list[list[str]]:
    """List the words of each group; asked of every row of a file, worked out once."""
    return [_words(" ".join(one)) for one in names]


def erased_rows(table: Table) -> NDArray[np.intp]:
    """Find the rows of a table that were somebody's who was erased: all cells that have something
    have `ERASED`.
    """
    erased, others = np.zeros(len(table), bool), np.zeros(len(table), bool)
    if all(_place(column, ERASED) < 0 for column in table.columns):
        return np.flatnonzero(erased)
    for column in table.columns:
        nothing = (column.codes < 0) | (column.codes == _place(column, ""))
        theirs = ~nothing & (column.codes == _place(column, ERASED))
        erased |= theirs
        others |= ~nothing & ~theirs
    return np.flatnonzero(erased & ~others)


def _place(column: Column, text: str) -> int:
    """Find the place of a text among a column's values; -2 for none."""
    place = int(pc.index(column.values, pa.scalar(text)).as_py())
    return place if place >= 0 else -2


def telling_of(definition: Definition, contents: Sequence[Mapping[str, Json]]) -> Telling:
    """Find what tells who somebody is, from all that a record ever said.

    Args:
        definition: Of the roster.
        contents: The record's versions, as JSON objects.
    """
    keys = {name for key in (definition.primary_key, *definition.unique_keys) for name in key}
    alone = [
        field.name
        for field in definition.fields
        if field.name in keys or field.unique or field.is_mail or field.kind == "phone"
    ]
    named = name_fields(definition)
    born = [field.name for field in definition.fields if field.means == "birth-date"]
    texts, names = set(), []
    for content in contents:
        texts |= {text for name in alone for text in _texts(content.get(name))}
        parts = [str(content[name]) for name in named if content.get(name)]
        if len(parts) > 1:
            texts |= {", ".join(parts), " ".join(parts), " ".join(reversed(parts))}
            names += [(*parts, str(content[name])) for name in born if content.get(name)]
    return Telling.of(texts, names)


def _texts(value: Json) -> list[str]:
    return [str(one) for one in (value if isinstance(value, list) else [value]) if one]


def scrub_json(document: Json, telling: Telling, record: int | None = None) -> Json:
    """Put `ERASED` into every text of a JSON document that says who somebody is; of a list that
    begins with their record's number, as receipts name people, into all its texts.
    """
    if isinstance(document, str):
        return telling.scrub(document)
    if isinstance(document, list):
        if record is not None and document and document[0] == record:
            return [ERASED if isinstance(one, str) and one else one for one in document]
        return [scrub_json(one, telling, record) for one in document]
    if isinstance(document, dict):
        return {name: scrub_json(one, telling, record) for name, one in document.items()}
    return document


def scrub_step(step: dict[str, Json], lines: Collection[int], telling: Telling) -> dict[str, Json]:
    """Take what a step says of some lines out of it: what was put into their cells, and reasons
    given for them alone.
    """
    scrubbed = dict(step)
    if step.get("kind") == "set":
        scrubbed["cells"] = [
            {**cell, "value": ""} if cell.get("line") in lines and cell.get("value") else cell
            for cell in step["cells"]
        ]
    own = step.get("lines")
    if isinstance(own, list) and own and all(line in lines for line in own) and step.get("reason"):
        scrubbed["reason"] = ERASED
    return dict(scrub_json(scrubbed, telling))


def scrub_body(data: bytes, telling: Telling) -> bytes:
    """Take what is about somebody out of a body that was sent or an answer: of a list of JSON
    objects theirs, of lines theirs.
    """
    text = data.decode("utf-8", "replace")
    if not telling.stand_in(text):
        return data
    try:
        document = json.loads(text)
    except ValueError:
        lines = text.split("\n")
        kept = ["" if telling.stand_in(line) else line for line in lines]
        return "\n".join(kept).encode()
    return json.dumps(_without(document, telling), ensure_ascii=False).encode()


def _without(document: Json, telling: Telling) -> Json:
    if isinstance(document, list):
        return [
            {"erased": True}
            if isinstance(one, dict) and telling.stand_in(json.dumps(one, ensure_ascii=False))
            else _without(one, telling)
            for one in document
        ]
    if isinstance(document, dict):
        return {name: _without(one, telling) for name, one in document.items()}
    return telling.scrub(document) if isinstance(document, str) else document
