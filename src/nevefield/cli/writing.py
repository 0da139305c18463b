"""Write long JSON arrays of alike objects by columns: Arrow joins the texts of all rows, no
object is made for any of them.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

import numpy as np
import orjson
import pyarrow as pa
import pyarrow.compute as pc

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping, Sequence

    from numpy.typing import NDArray

__all__ = ["Objects", "chosen_of", "json_lists", "json_texts", "rounded", "whole_numbers"]

BATCH = 20_000  # objects that are joined together
_ESCAPED = r'["\\\x00-\x1f]'  # RFC 8259, section 7


@dataclass(frozen=True)
class Objects:
    """A JSON array of objects: by name, in their order, an Arrow string array of JSON values."""

    columns: Mapping[str, Any]

    def pieces(self) -> Iterator[bytes]:
        """Yield the objects as JSON, with a comma before each but the first of each piece."""
        if not self.columns:
            return
        rows = len(next(iter(self.columns.values())))
        for first in range(0, rows, BATCH):
            parts: list[Any] = []
            for number, (name, texts) in enumerate(self.columns.items()):
                parts += [
                    ("," if number else ",{") + orjson.dumps(name).decode() + ":",
                    texts.slice(first, BATCH),
                ]
            joined = pc.binary_join_element_wise(*parts, "}", "")
            offsets = np.frombuffer(joined.buffers()[1], np.int32)[
                joined.offset : joined.offset + len(joined) + 1
            ]
            yield memoryview(joined.buffers()[2])[offsets[0] + 1 : offsets[-1]].tobytes()


def json_texts(values: Any) -> Any:
    """Write each text of an Arrow string array as a JSON string."""
    plain = pc.binary_join_element_wise('"', values, '"', "")
    odd = pc.match_substring_regex(values, _ESCAPED)
    if not pc.any(odd).as_py():
        return plain
    return pc.replace_with_mask(
        plain,
        odd,
        pa.array([orjson.dumps(text).decode() for text in values.filter(odd).to_pylist()]),
    )


def json_lists(columns: Sequence[Any]) -> Any:
    """Write the JSON values of several columns, row by row, as JSON arrays."""
    return pc.binary_join_element_wise("[", pc.binary_join_element_wise(*columns, ","), "]", "")


def chosen_of(values: Sequence[Any], codes: NDArray[Any]) -> Any:
    """Write for each row the value that its code chooses, as JSON."""
    return pa.array([orjson.dumps(value).decode() for value in values], pa.string()).take(
        pa.array(codes)
    )


def whole_numbers(values: NDArray[Any]) -> Any:
    """Write whole numbers as JSON."""
    return pa.array(values).cast(pa.string())


def rounded(values: NDArray[np.float64], digits: int) -> Any:
    """Write numbers as JSON, rounded; each distinct one once."""
    distinct, codes = np.unique(values, return_inverse=True)
    return chosen_of([round(value, digits) for value in distinct.tolist()], codes)
