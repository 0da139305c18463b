"""A code list is a roster of codes: a file of codes is read, checked and compared as any file is
with its roster.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Json
from nevefield.core.checking.causes import iter_findings
from nevefield.core.codes import Code, refuse_loops
from nevefield.core.columns.pairing import known_headings
from nevefield.core.defining.reading import read_definition
from nevefield.core.definition import Definition
from nevefield.core.evaluate import Evaluation, Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import read_step
from nevefield.core.texts import SEVERAL, fold

if TYPE_CHECKING:
    from collections.abc import Sequence

    from nevefield.core.reading import Reading
    from nevefield.core.table import Table

__all__ = ["CODE_LIST", "LIST_HEADINGS", "ComparedCodes", "compare_codes"]

# The definition that code lists have.
CODE_LIST: Definition = read_definition(
    {
        "name": "codes",
        "title": "Codes",
        "primaryKey": "code",
        "fields": [
            {"name": "list", "title": "List"},
            {
                "name": "code",
                "title": "Code",
                "constraints": {"required": True, "unique": True, "maxLength": 60},
                "nevefield": {"aliases": ["key", "abbreviation", "short"]},
            },
            {
                "name": "label",
                "title": "Label",
                "nevefield": {"aliases": ["name", "title", "description", "long name"]},
            },
            {
                "name": "parent",
                "title": "Parent",
                "nevefield": {"aliases": ["belongs to", "under", "group"]},
            },
            {
                "name": "aliases",
                "title": "What others call it",
                "nevefield": {"several": ";", "aliases": ["aliases", "other names", "also"]},
            },
            {
                "name": "first_day",
                "title": "First day",
                "type": "date",
                "nevefield": {"aliases": ["from", "valid from"]},
            },
            {
                "name": "last_day",
                "title": "Last day",
                "type": "date",
                "nevefield": {"aliases": ["until", "valid until", "to"]},
            },
        ],
        "nevefield": {"checks": [{"check": "order", "fields": ["first_day", "last_day"]}]},
    }
)

LIST_HEADINGS = known_headings(CODE_LIST)


@dataclass(frozen=True)
class ComparedCodes:
    """What a file of codes comes to beside the list."""

    sentence: str  # how the file was read
    problems: tuple[str, ...]  # what stops it, each with its line
    # the list as the file has it; fields that the file does not fill stay as they are
    codes: tuple[Code, ...]
    added: tuple[str, ...]
    altered: tuple[str, ...]
    gone: tuple[str, ...]


def compare_codes(
    read: tuple[Table, Reading], name: str, now: Sequence[Code], today: date
) -> ComparedCodes:
    """Compare a file of codes with a list.

    Args:
        read: The file as it was read, `known` being `LIST_HEADINGS`; with a column `list` only the
            rows of this list count.
        name: Of the list.
        now: The codes as they are.
        today: For years of two digits.

    Raises:
        WrongCodes: The parents go in a circle.
    """
    documents = [_document(name, code) for code in now]
    snapshot = Snapshot.of_values(CODE_LIST, list(range(len(now))), documents, 1)
    evaluation = evaluate(
        Inputs(b"", [], CODE_LIST, {}, snapshot, today, coverage="everybody", read=read)
    )
    listed = evaluation.facts.typed.get("list")
    if listed is not None:
        texts = (listed.stored.at(row) for row in range(len(evaluation.table)))
        numbers = [
            row for row, text in enumerate(texts) if text is not None and fold(text) != fold(name)
        ]
        if numbers:
            lines = [int(line) for line in evaluation.table.lines[numbers]]
            step = read_step({"kind": "leave_out", "lines": lines, "reason": "another list"})
            evaluation = evaluate(
                Inputs(
                    b"", [step], CODE_LIST, {}, snapshot, today, coverage="everybody", read=read
                ),
                before=evaluation.memo,
            )
    problems = tuple(
        f"Line {finding.line}: {finding.message}" if finding.line else finding.message
        for cause in evaluation.causes
        if cause.hit.weight == "stop" and len(cause.open_rows)
        for finding in iter_findings(cause, evaluation.facts, cause.open_rows)
    )
    rows = np.flatnonzero(~evaluation.facts.aside).tolist()
    if not rows:
        problems = (f"There is no code of the list “{name}” in the file.", *problems)
    before = {code.code: code for code in now}
    codes = (
        ()
        if problems
        else tuple(
            _code(evaluation, row, before) for row in rows if evaluation.facts.value(row, "code")
        )
    )
    refuse_loops(codes)
    after = {code.code: code for code in codes}
    return ComparedCodes(
        evaluation.reading.sentence,
        problems,
        codes,
        tuple(code for code in after if code not in before),
        tuple(code for code, one in after.items() if code in before and before[code] != one),
        tuple(code for code in before if code not in after and not problems),
    )


def _document(name: str, code: Code) -> dict[str, Json]:
    days = {"first_day": code.first_day, "last_day": code.last_day}
    return {
        "list": name,
        "code": code.code,
        **({"label": code.label} if code.label else {}),
        **({"parent": code.parent} if code.parent else {}),
        **({"aliases": list(code.aliases)} if code.aliases else {}),
        **{key: day.isoformat() for key, day in days.items() if day},
    }


def _code(evaluation: Evaluation, row: int, before: dict[str, Code]) -> Code:
    """Make the code of a row; of a field without a column, what the list has."""
    code = evaluation.facts.value(row, "code") or ""
    had = before.get(code, Code(code))

    def text(field: str, otherwise: str) -> str:
        return (
            (evaluation.facts.value(row, field) or "")
            if field in evaluation.facts.typed
            else otherwise
        )

    def day(field: str, otherwise: date | None) -> date | None:
        if field not in evaluation.facts.typed:
            return otherwise
        value = evaluation.facts.value(row, field)
        return date.fromisoformat(value) if value else None

    aliases = text("aliases", SEVERAL.join(had.aliases))
    return Code(
        code,
        text("label", had.label),
        text("parent", had.parent),
        tuple(aliases.split(SEVERAL)) if aliases else (),
        day("first_day", had.first_day),
        day("last_day", had.last_day),
    )
