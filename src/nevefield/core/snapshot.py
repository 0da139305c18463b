"""A roster as it stands, as a Table of stored values."""

from __future__ import annotations

import dataclasses
import hashlib
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc
import pyarrow.json as pajson

from nevefield.core.borders import Json
from nevefield.core.columns.values import Typed
from nevefield.core.table import Column
from nevefield.core.texts import SEVERAL, fold

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from numpy.typing import NDArray

    from nevefield.core.definition import Definition

__all__ = ["Snapshot", "say_key", "to_json"]

# characters of a key that are kept as they are; longer ones are kept by their digest
LONGEST_KEY = 200


@dataclass(frozen=True)
class Snapshot:
    """The current records of a roster; row order is that of `ids`."""

    definition: Definition
    ids: NDArray[np.int64]  # the records' numbers in the store
    columns: Mapping[str, Column]  # by field name, stored values; -1 where empty
    version: int = 0  # of the roster
    # where these are the records of a part alone: its condition, and the records beyond it
    part: Json | None = None
    beyond: Snapshot | None = dataclasses.field(default=None, compare=False, repr=False)
    _folded: dict[str, Column] = dataclasses.field(default_factory=dict, compare=False, repr=False)
    # what others work out of it, once
    _kept: dict[str, Json] = dataclasses.field(default_factory=dict, compare=False, repr=False)
    _orders: dict[tuple[str, bool], NDArray[np.intp]] = dataclasses.field(
        default_factory=dict, compare=False, repr=False
    )

    @classmethod
    def empty(cls, definition: Definition) -> Snapshot:
        """Make a roster without records."""
        columns = {field.name: Column.constant(None, 0) for field in definition.fields}
        return cls(definition, np.zeros(0, np.int64), columns)

    def __len__(self) -> int:
        return len(self.ids)

    def folded(self, name: str) -> Column:
        """Bring values of a field that mean the same to the same text; worked out once, then
        kept.
        """
        if name not in self._folded:
            column = self.columns[name]
            self._folded[name] = Typed(
                self.definition.by_name[name], column, column, {}, {}
            ).folded()
        return self._folded[name]

    def take(self, records: NDArray[np.intp]) -> Snapshot:
        """Keep some of the records, in the order given."""
        columns = {name: column.take(records) for name, column in self.columns.items()}
        return Snapshot(self.definition, self.ids[records], columns, self.version)

    def keep(self, name: str, make: Callable[[], Json]) -> Json:
        """Work something out of the roster as it stands, once."""
        if name not in self._kept:
            self._kept[name] = make()
        return self._kept[name]

    def places(self) -> dict[int, int]:
        """Number the records, by their numbers in the store, by their place; worked out once."""
        found: dict[int, int] = self.keep(
            "places", lambda: {number: place for place, number in enumerate(self.ids.tolist())}
        )
        return found

    def order(self, name: str, *, down: bool = False) -> NDArray[np.intp]:
        """Order the records by a field, numbers by size and texts without regard to case; empty
        ones stand last either way.

        Returns:
            The records as indices, each once; worked out once, then kept.
        """
        if (name, down) not in self._orders:
            column = self.columns[name]
            texts = column.texts()
            if self.definition.by_name[name].type in ("integer", "number", "year"):
                first = np.argsort([_size(text) for text in texts], kind="stable")
            else:
                first = np.argsort(
                    np.array([fold(text) for text in texts], dtype=object), kind="stable"
                )
            rank = np.empty(len(texts) + 1, np.int64)
            rank[first] = np.arange(len(texts))
            rank[-1] = -len(texts) - 1 if down else len(texts)  # for the code -1
            self._orders[name, down] = np.argsort(
                -rank[column.codes] if down else rank[column.codes], kind="stable"
            )
        return self._orders[name, down]

    def keys(self, records: NDArray[np.intp]) -> list[Json]:
        """List the primary keys of records: text, or an array of texts when the key has several
        fields.
        """
        parts = [self.columns[name].rows(records) for name in self.definition.primary_key]
        if len(parts) == 1:
            return parts[0]
        return [list(key) for key in zip(*parts, strict=True)] if parts else [None] * len(records)

    def values(self, record: int) -> dict[str, Json]:
        """Return one record's values as JSON would have them; empty fields are left out."""
        found = {name: column.at(record) for name, column in self.columns.items()}
        return {
            name: to_json(self.definition, name, text)
            for name, text in found.items()
            if text is not None
        }

    @classmethod
    def of_values(
        cls, definition: Definition, ids: list[int], values: list[dict[str, Json]], version: int
    ) -> Snapshot:
        """Make a snapshot from records as JSON objects."""
        columns = {}
        for field in definition.fields:
            found = [record.get(field.name) for record in values]
            texts = [SEVERAL.join(value) if isinstance(value, list) else value for value in found]
            columns[field.name] = Column.encode(pa.array(texts, pa.string()))
        return cls(definition, np.array(ids, np.int64), columns, version)

    @classmethod
    def of_documents(
        cls, definition: Definition, ids: list[int], documents: list[str], version: int = 0
    ) -> Snapshot:
        """Make a snapshot from records as JSON text, by Arrow's reader; unknown fields are passed
        over.

        Args:
            definition: Of the roster.
            ids: The records' numbers.
            documents: One JSON object for each, on one line.
            version: Of the roster.
        """
        if not documents:
            return cls.empty(definition)
        kinds = {
            field.name: pa.list_(pa.string()) if field.several else pa.string()
            for field in definition.fields
        }
        data = "\n".join(documents).encode()
        table = pajson.read_json(
            pa.BufferReader(data),
            read_options=pajson.ReadOptions(block_size=min(max(len(data) + 1, 1 << 20), 2**31 - 1)),
            parse_options=pajson.ParseOptions(
                explicit_schema=pa.schema(list(kinds.items())), unexpected_field_behavior="ignore"
            ),
        )
        columns = {}
        for field in definition.fields:
            array = table.column(field.name)
            columns[field.name] = Column.encode(
                pc.binary_join(array, SEVERAL) if field.several else array
            )
        return cls(definition, np.array(ids, np.int64), columns, version)

    def unique_keys(self) -> list[list[tuple[str, str]]]:
        """List, for each record, the keys that nobody else may have: the fields' names and the
        folded content.
        """
        definition = self.definition
        singles = [(field.name,) for field in definition.fields if field.unique]
        found: list[list[tuple[str, str]]] = [[] for _ in range(len(self))]
        everyone = np.arange(len(self))
        for key in dict.fromkeys([definition.primary_key, *singles, *definition.unique_keys]):
            if not key:
                continue
            name = "+".join(key)
            parts = [self.folded(field).rows(everyone) for field in key]
            for record, content in enumerate(zip(*parts, strict=True)):
                if None not in content:
                    found[record].append((name, _short(SEVERAL.join(content))))
        return found


def _size(text: str) -> float:
    try:
        return float(text)
    # a definition changed its mind about a field's type: what is no number stands last
    except ValueError:
        return float("inf")


def _short(key: str) -> str:
    if len(key) <= LONGEST_KEY:
        return key
    return f"{key[:100]}…{hashlib.sha256(key.encode()).hexdigest()}"


def say_key(key: Json) -> str:
    """Word a record's primary key as `Snapshot.keys` gives it, a dash for a part that it lacks.

    >>> say_key(["1998", None]), say_key("1998"), say_key(None)
    ('1998 –', '1998', '')
    """
    return " ".join(part or "–" for part in key) if isinstance(key, list) else str(key or "")


def to_json(definition: Definition, name: str, text: str | None) -> Json:
    """Turn a stored text into what JSON and the store have: several values as an array, nothing
    as null.
    """
    if text is None:
        return None
    return text.split(SEVERAL) if definition.by_name[name].several else text
