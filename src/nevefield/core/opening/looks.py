"""What stands under one heading, as all the rest of a proposal looks at it."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.opening.naming import hint_of
from nevefield.core.texts import trim

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable

    from numpy.typing import NDArray

    from nevefield.core.table import Column

__all__ = ["MISSING", "Look", "find_missing", "look_at"]

# What offices write where there is nothing, in small letters.
MISSING = frozenset(
    (
        *("-", "--", "---", "–", "—", ".", "n/a", "n.a.", "n.a", "n/a.", "#n/a", "null", "(null)"),
        *("nil", "k.a.", "k. a.", "s/o", "s.o.", "(leer)", "(blank)", "(vide)", "(none)", "n/d"),
        *("n.d.", "b.d.", "i.t.", "ej tillämpligt", "keine angabe", "not applicable"),
    )
)


MOST_LOOKED_AT = 4_000  # distinct texts


@dataclass(frozen=True)
class Look:
    """One column: its heading's words, and its distinct texts with how many rows have each."""

    heading: str
    counts: dict[str, int]  # trimmed texts that say something, in the order of the column
    rows: int  # of the table
    codes: NDArray[np.int32]  # one for each row: the place in `counts`; -1 for nothing

    @cached_property
    def words(self) -> frozenset[str]:
        """The heading's plain words."""
        return hint_of(self.heading)

    @cached_property
    def texts(self) -> list[str]:
        """The distinct texts."""
        return list(self.counts)

    @cached_property
    def filled(self) -> int:
        """How many rows have one."""
        return sum(self.counts.values())

    @property
    def is_full(self) -> bool:
        """Whether no row is without one."""
        return self.filled == self.rows > 0

    @cached_property
    def distinct(self) -> float:
        """Which share of the filled rows is different."""
        return len(self.counts) / self.filled if self.filled else 0.0

    @cached_property
    def sample(self) -> dict[str, int]:
        """Texts with their rows, of many every so manieth."""
        if len(self.counts) <= MOST_LOOKED_AT:
            return self.counts
        return dict(list(self.counts.items())[:: len(self.counts) // MOST_LOOKED_AT])

    def share(self, fits: Callable[[str], object]) -> float:
        """Tell in which share of the filled rows a text is as it should be; of many texts by a
        sample.
        """
        rows = sum(self.sample.values())
        right = sum(count for text, count in self.sample.items() if fits(text))
        return right / rows if rows else 0.0

    def tell(self, fits: Callable[[str], object]) -> int:
        """Count the rows whose text is as it should be."""
        return sum(count for text, count in self.counts.items() if fits(text))


def find_missing(columns: Iterable[Column]) -> tuple[str, ...]:
    """List what columns have where there is nothing, as it is written, the commonest first.

    `NA` counts only where the other texts of its column are no codes of two letters: there it is
    one of them (Namibia's, of ISO 3166-1).
    """
    found: Counter[str] = Counter()
    for column in columns:
        texts = [trim(text) for text in column.texts()]
        pairs = [text for text in texts if text]
        short = sum(len(text) == 2 and text.isalpha() for text in pairs) * 2 > len(pairs)
        for text, count in zip(texts, column.counts().tolist(), strict=True):
            if count and (text.casefold() in MISSING or (text in ("NA", "na") and not short)):
                found[text] += count
    return tuple(text for text, _ in found.most_common(30))


def look_at(heading: str, column: Column, missing: frozenset[str]) -> Look:
    """Look at a column.

    Args:
        heading: Of it.
        column: Its texts.
        missing: What counts as nothing.
    """
    places: dict[str, int] = {}
    counts: dict[str, int] = {}
    of_value = []
    for text, count in zip(column.texts(), column.counts().tolist(), strict=True):
        bare = trim(text)
        if not bare or bare in missing or not count:
            of_value.append(-1)
            continue
        of_value.append(places.setdefault(bare, len(places)))
        counts[bare] = counts.get(bare, 0) + count
    among = np.array([*of_value, -1], np.int32)
    return Look(heading, counts, len(column.codes), among[column.codes])
