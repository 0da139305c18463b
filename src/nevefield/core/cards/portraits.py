"""Whose photograph a file is: by an identifier in its name, spelt in any usual way."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from nevefield.core.texts import plain_letters

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping

__all__ = ["Portraits", "Sorted", "key_of_name"]

_NOT_KEY = re.compile(r"[^0-9A-Z]+")
LEAST = 3  # letters of an identifier that is looked for within a name
# Endings that cameras and systems put behind a name
_COUNTER = re.compile(r"\(\d{1,6}\)$|\b(?:copy|kopie|copie|photo|foto|portrait)$", re.I)


@dataclass(frozen=True)
class Sorted:
    """What became of a file by its name."""

    file: str
    record: int | None = None
    several: tuple[int, ...] = ()  # records of which it may be


@dataclass
class Portraits:
    """Finds whose a file is.

    Args:
        identifiers: Of each record, the texts by which it is known.
    """

    identifiers: Mapping[int, Iterable[str]]
    _by_key: dict[str, set[int]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        for record, texts in self.identifiers.items():
            for text in texts:
                if key := key_of_name(text):
                    self._by_key.setdefault(key, set()).add(record)
                    # a spreadsheet took the zeros away, or somebody did not type them
                    if key.isdigit() and (short := key.lstrip("0")) != key and short:
                        self._by_key.setdefault(short, set()).add(record)

    def sort(self, path: str) -> Sorted:
        """Find whose a file is: by its whole name first, then by a part of it, then by parts that
        stand side by side.

        >>> Portraits({7: ["TQ197000X"], 8: ["003400"]}).sort("2026/tq-197000-x (1).JPG").record
        7
        """
        stem = path.replace("\\", "/").rsplit("/", 1)[-1].rpartition(".")[0] or path
        stem = _COUNTER.sub("", stem)
        if found := self._by_key.get(key_of_name(stem)):
            return self._result(path, found)
        parts = [part for part in _NOT_KEY.split(plain_letters(stem).upper()) if part]
        records: set[int] = set()
        taken = [False] * len(parts)
        for size in range(len(parts), 0, -1):
            for first in range(len(parts) - size + 1):
                key = "".join(parts[first : first + size])
                if any(taken[first : first + size]) or len(key) < LEAST:
                    continue
                if found := self._by_key.get(key):
                    records |= found
                    taken[first : first + size] = [True] * size
        return self._result(path, records)

    @staticmethod
    def _result(path: str, records: set[int]) -> Sorted:
        if len(records) == 1:
            return Sorted(path, next(iter(records)))
        return Sorted(path, None, tuple(sorted(records)))


def key_of_name(text: str) -> str:
    """Bring an identifier, or a file's name, to its letters and digits.

    >>> key_of_name("tq 197000-x"), key_of_name("Žofie")
    ('TQ197000X', 'ZOFIE')
    """
    return _NOT_KEY.sub("", plain_letters(text).upper())
