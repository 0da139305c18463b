"""What the makers of sample files share: people as an office writes them, and the truth about a
file.
"""

from __future__ import annotations

import csv
import io
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

__all__ = ["Truth", "labels_of", "swap_neighbours", "text_rows"]

OUTCOMES = ("new", "changed", "same", "waiting", "stopped", "held", "left_out")


class Truth:
    """The truth about a file, gathered while it is made: outcome of every line, and what is
    planted where.
    """

    def __init__(self, file: str, roster: str, **more: Any) -> None:
        self.document: dict[str, Any] = {
            "file": file,
            "roster": roster,
            "coverage": "listed",
            **more,
        }
        self.planted: list[dict[str, Any]] = []
        self.outcomes: dict[int, str] = {}

    def plant(self, line: int, field: str | None, check: str, weight: str = "stop") -> None:
        """Note a planted problem; the line's outcome follows from it."""
        self.planted.append({"line": line, "field": field, "check": check, "weight": weight})
        if weight != "note" and self.outcomes.get(line) != "stopped":
            self.outcomes[line] = "stopped" if weight == "stop" else "waiting"

    def finish(self, absent: Iterable[str] = (), **more: Any) -> dict[str, Any]:
        """Return the whole truth as JSON would have it."""
        counted = Counter(self.outcomes.values())
        gone = sorted(absent)
        return {
            **self.document,
            "planted": sorted(
                self.planted, key=lambda one: (one["line"] or 0, one["field"] or "", one["check"])
            ),
            "outcomes": {str(line): outcome for line, outcome in sorted(self.outcomes.items())},
            "tally": {
                "read": len(self.outcomes),
                **{name: counted[name] for name in OUTCOMES},
                "absent": len(gone),
            },
            "absent": gone,
            **more,
        }


def labels_of(codes: Mapping[str, Any]) -> dict[str, dict[str, str]]:
    """Map the codes of each list to their labels."""
    return {
        name: {code.code: code.label for code in listed.codes} for name, listed in codes.items()
    }


def text_rows(
    rows: Iterable[Sequence[object]],
    separator: str = ",",
    *,
    end: str = "\r\n",
    quote_all: bool = False,
) -> str:
    """Write rows as text with separators."""
    out = io.StringIO(newline="")
    quoting = csv.QUOTE_ALL if quote_all else csv.QUOTE_MINIMAL
    csv.writer(out, delimiter=separator, lineterminator=end, quoting=quoting).writerows(rows)
    return out.getvalue()


def swap_neighbours(text: str) -> str:
    """Swap the last two neighbouring digits that differ, as a tired hand does."""
    at = next(
        place
        for place in range(len(text) - 2, 1, -1)
        if text[place].isdigit() and text[place - 1].isdigit() and text[place] != text[place - 1]
    )
    return text[: at - 1] + text[at] + text[at - 1] + text[at + 1 :]
