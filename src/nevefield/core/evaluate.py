"""The one idea: everything shown about an intake is a pure function of its file and its steps.

What is done, and in which order, is the list of `stages`.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.columns.converting import convert_columns
from nevefield.core.columns.pairing import Pair, known_headings, pair_columns
from nevefield.core.edits.memo import Memo
from nevefield.core.errors import WrongDefinition
from nevefield.core.inputs import Inputs
from nevefield.core.reading import Reading, read_file
from nevefield.core.snapshot import Snapshot
from nevefield.core.stages import STAGES, TOTAL, Work
from nevefield.core.steps import Decisions, decide
from nevefield.core.table import Column, Table
from nevefield.core.tally import CHANGED, Tally, count_outcomes

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.core.changes.leaving import Absences
    from nevefield.core.checking.causes import Cause
    from nevefield.core.checking.facts import Facts
    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition
    from nevefield.core.people.keys import Known

    # Hears what is being done, how many of its parts are, and of how many.
    Progress = Callable[[str, int, int], None]

__all__ = ["Evaluation", "Inputs", "evaluate", "quiet", "read_snapshot", "require_lists"]


def quiet(doing: str, done: int, total: int) -> None:
    """Hear how far work is, and tell nobody."""


@dataclass(frozen=True)
class Evaluation:
    """Everything there is to show about an intake; derived, never stored."""

    definition: Definition
    table: Table  # the file's texts
    reading: Reading
    pairs: list[Pair]
    decisions: Decisions
    facts: Facts
    causes: list[Cause]
    outcomes: NDArray[np.int8]  # of each row, index into OUTCOMES
    # field -> rows that change it, of rows with outcome changed
    changes: dict[str, NDArray[np.intp]]
    absences: Absences  # the records that should have been in the file, and what becomes of them
    tally: Tally
    memo: Memo  # for the evaluation after the next step
    is_in: NDArray[np.bool_]  # rows that went in when it was applied: nothing more becomes of them
    # of the rows that applying would put in now, and of what it would do to the absent
    ready: Tally

    @property
    def absent(self) -> NDArray[np.intp]:
        """The records that should have been in the file, as index into the snapshot."""
        return self.absences.records

    @property
    def altering(self) -> int:
        """How many records applying would alter or add."""
        return self.ready.new + self.ready.changed + self.absences.altered

    @property
    def is_applied(self) -> bool:
        """Tell whether it was applied, and that not taken back."""
        return self.decisions.applied.absent is not None

    @property
    def going(self) -> NDArray[np.bool_]:
        """The rows that applying would put in as new, or that change their record."""
        return np.asarray((self.outcomes <= CHANGED) & ~self.is_in)

    @property
    def snapshot(self) -> Snapshot:
        """The roster that the rows were compared with."""
        return self.facts.snapshot

    @property
    def known(self) -> Known:
        """Which record each row is."""
        return self.facts.known

    def row_of(self, line: int) -> int | None:
        """Find the row that begins at a line of the file."""
        place = int(np.searchsorted(self.table.lines, line))
        return place if place < len(self.table) and self.table.lines[place] == line else None


def evaluate(
    inputs: Inputs, *, before: Memo | None = None, progress: Progress = quiet
) -> Evaluation:
    """Work out what a file and its steps come to.

    Args:
        inputs: All that it is made of.
        before: The memo of an evaluation of the same file with other steps; makes this one quicker,
            not other.
        progress: Hears what is being done, how many of its parts are, and of how many.

    Raises:
        UnreadableFile: The file is no table.
        WrongDefinition: A code list is missing.
    """
    require_lists(inputs.definition, inputs.codes)
    work = Work(inputs, Memo(before))
    done = 0
    for stage in STAGES:
        if stage.doing:
            progress(stage.doing, done, TOTAL)
        stage.run(work)
        done += stage.weight
    work.memo.forget()
    return _conclude(work)


def _conclude(work: Work) -> Evaluation:
    """Bring together what is shown, and count."""
    outcomes, is_in, absent = work.outcomes, work.is_in, len(work.absences.records)
    lead = work.facts.joined.lead
    going = (outcomes == CHANGED) & ~is_in
    changes = {
        name: rows[going[rows] & (lead[rows] == rows)] for name, rows in work.differing.items()
    }
    then = work.decisions.applied.absent
    return Evaluation(
        definition=work.inputs.definition,
        table=work.table,
        reading=work.reading,
        pairs=work.pairs,
        decisions=work.decisions,
        facts=work.facts,
        causes=work.causes,
        outcomes=outcomes,
        changes={name: rows for name, rows in changes.items() if len(rows)},
        absences=work.absences,
        tally=count_outcomes(outcomes, len(work.table), absent if then is None else then),
        memo=work.memo,
        is_in=is_in,
        ready=count_outcomes(outcomes[~is_in], int((~is_in).sum()), absent),
    )


def read_snapshot(
    data: bytes, definition: Definition, codes: Mapping[str, CodeList], today: date
) -> Snapshot:
    """Take a file for a roster: its values by field, a record a row in their order; nothing is
    checked.

    Raises:
        UnreadableFile: The file is no table.
        WrongDefinition: A code list is missing.
    """
    require_lists(definition, codes)
    table, reading = read_file(data, known=known_headings(definition))
    decisions = decide([])
    pairs = pair_columns(table.headings, definition, reading.secrets)
    inputs = Inputs(data, [], definition, codes, Snapshot.empty(definition), today)
    typed = convert_columns(inputs, table, pairs, decisions, Memo())
    nothing = Column.constant(None, len(table))
    columns = {
        field.name: typed[field.name].stored if field.name in typed else nothing
        for field in definition.fields
    }
    return Snapshot(definition, np.arange(len(table), dtype=np.int64), columns)


def require_lists(definition: Definition, codes: Mapping[str, CodeList]) -> None:
    """See that every code list that the definition names is there.

    Raises:
        WrongDefinition: With the place of the name.
    """
    for number, field in enumerate(definition.fields):
        if field.code_list and field.code_list not in codes:
            raise WrongDefinition(
                f"fields[{number}].nevefield.codeList",
                f"there is no code list “{field.code_list}” for the field “{field.name}”; "
                f"known are {', '.join(sorted(codes)) or 'none'}",
            )
    for number, check in enumerate(definition.checks):
        for option, name in check.names.lists:
            if name not in codes:
                raise WrongDefinition(
                    f"nevefield.checks[{number}].{option}",
                    f"there is no code list “{name}”; known are"
                    f" {', '.join(sorted(codes)) or 'none'}",
                )
