"""How an institution's roster, file and truth are put together."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass, field
from datetime import date
from typing import Any

from nevefield.core.codes import read_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Evaluation, Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step

Finding = tuple[int, str | None, str]  # line, field, check


@dataclass
class Institution:
    """A roster, a file that came, and what is wrong in it.

    `sheet` writes rows as the office does; `truth` has every finding that stops or asks, and
    nothing else; `outcomes` has the outcome of every line that is not `same`.
    """

    name: str
    document: dict[str, Any]
    codes: str
    roster: list[dict[str, Any]]
    headings: dict[str, str]  # field -> heading as the office writes it, in its order
    today: date
    separator: str = ","
    encoding: str = "utf-8"
    others: dict[str, tuple[dict[str, Any], list[dict[str, Any]]]] = field(default_factory=dict)
    rows: list[dict[str, str]] = field(default_factory=list)
    truth: set[Finding] = field(default_factory=set)
    outcomes: dict[int, str] = field(default_factory=dict)

    def add(self, row: dict[str, str], outcome: str, *found: tuple[str | None, str]) -> int:
        """Put a row into the file, with what is wrong in it: field and check of each finding;
        returns its line.
        """
        line = len(self.rows) + 2
        self.rows.append(row)
        self.truth |= {(line, where, check) for where, check in found}
        if outcome != "same":
            self.outcomes[line] = outcome
        return line

    @property
    def data(self) -> bytes:
        """The file."""
        out = io.StringIO(newline="")
        writer = csv.writer(out, delimiter=self.separator, lineterminator="\r\n")
        writer.writerow(self.headings.values())
        writer.writerows([row.get(name, "") for name in self.headings] for row in self.rows)
        return out.getvalue().encode(self.encoding)

    def work_out(
        self, *steps: dict[str, Any], coverage: str = "listed", data: bytes | None = None
    ) -> Evaluation:
        """Evaluate the file against the roster."""
        definition = read_definition(self.document)
        snapshot = Snapshot.of_values(
            definition, list(range(100, 100 + len(self.roster))), self.roster, 3
        )
        others = {name: _snapshot(*one) for name, one in self.others.items()}
        return evaluate(
            Inputs(
                self.data if data is None else data,
                [read_step(step) for step in steps],
                definition,
                read_codes(self.codes),
                snapshot,
                self.today,
                coverage=coverage,
                others=others,
            )
        )


def _snapshot(document: dict[str, Any], records: list[dict[str, Any]]) -> Snapshot:
    return Snapshot.of_values(
        read_definition(document), list(range(1, len(records) + 1)), records, 1
    )
