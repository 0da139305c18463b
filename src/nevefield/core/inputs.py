"""Everything that an evaluation is made of."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Collection, Sequence
    from datetime import date

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition
    from nevefield.core.reading import Reading
    from nevefield.core.snapshot import Snapshot
    from nevefield.core.steps import Step
    from nevefield.core.table import Table

__all__ = ["Inputs", "Remembered", "Standing"]

# What was said in other intakes: digest of what a row said of its person -> record by number ->
# whether the two are one.
Remembered = Mapping[bytes, Mapping[int, bool]]
# Waivers that stand: by check and field, by record's number in the store, the digests that they
# count for, each with its words.
Standing = dict[tuple[str, str], dict[int, dict[bytes, str]]]


@dataclass(frozen=True)
class Inputs:
    """A file with its steps, and what it is looked at by."""

    data: bytes  # the file
    steps: Sequence[Step]  # what people did, in order
    definition: Definition  # of the roster
    codes: Mapping[str, CodeList]  # code lists by name
    snapshot: Snapshot  # the roster as it stands
    today: date  # the day for which codes must be in use
    # what the file claims to be unless a step says otherwise: `everybody` or `listed`
    coverage: str = "listed"
    # the file as `read_file` gives it with the steps' choices, when the caller has it already
    read: tuple[Table, Reading] | None = None
    # other rosters that the definition refers to, by name
    others: Mapping[str, Snapshot] = field(default_factory=dict)
    said: Remembered | None = None  # what was said in other intakes of who is who
    # which values somebody set by hand since the source's last file: field, record by number, by
    # whom and when
    by_hand: Mapping[str, Mapping[int, str]] = field(default_factory=dict)
    # by field the records, by number, whose value somebody set by hand at any time: rules leave
    # them there
    placed_by_hand: Mapping[str, Collection[int]] = field(default_factory=dict)
    standing: Standing = field(default_factory=dict)  # earlier yeses that last
