"""Commands that need no database: inspect, check, compare, propose."""

from __future__ import annotations

import json
import sys
from dataclasses import replace
from datetime import date
from functools import partial
from itertools import islice
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

import click
import numpy as np
import orjson

from nevefield.cli.answers import check_answer, inspect_answer
from nevefield.cli.memory import give_back
from nevefield.cli.saying import say, say_beside
from nevefield.cli.writing import Objects
from nevefield.core.beside import both
from nevefield.core.codes import CodeList, read_codes, write_codes
from nevefield.core.columns.pairing import known_headings
from nevefield.core.defining.reading import read_definition
from nevefield.core.definition import Definition
from nevefield.core.edits.memo import Memo
from nevefield.core.errors import CoreError, WrongDefinition
from nevefield.core.evaluate import (
    Evaluation,
    Inputs,
    evaluate,
    read_snapshot,
    require_lists,
)
from nevefield.core.opening import document_with_seen
from nevefield.core.opening import propose as propose_roster
from nevefield.core.opening.naming import make_name, title_of_file
from nevefield.core.people.keys import match_keys
from nevefield.core.reading import ReadingChoice, read_file
from nevefield.core.snapshot import Snapshot, to_json
from nevefield.core.tally import OUTCOMES
from nevefield.settings import Settings

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator
    from typing import BinaryIO

    from nevefield.cli.answers import Answer

__all__ = ["check", "compare", "inspect", "propose", "say_json", "say_parts", "snapshot_of"]

Made = TypeVar("Made")
PATH = click.Path(path_type=Path)
BATCH = 5_000  # parts of an array that are written together


def say_json(answer: object) -> None:
    """Write one JSON document to stdout."""
    click.echo(orjson.dumps(answer))


def say_parts(parts: Answer) -> None:
    """Write one JSON object to stdout as its parts are made, so that no more than a batch of
    them is there at once.
    """
    stdout = sys.stdout.buffer
    begin = b"{"
    for name, value in parts:
        stdout.write(begin + orjson.dumps(name) + b":")
        if isinstance(value, (dict, str, int, float)) or value is None:
            stdout.write(orjson.dumps(value))
        else:
            _say_array(
                stdout, value.pieces() if isinstance(value, Objects) else _pieces(iter(value))
            )
        begin = b","
    stdout.write(b"}\n")
    stdout.flush()


def _say_array(stdout: BinaryIO, pieces: Iterator[bytes]) -> None:
    begin = b"["
    for piece in pieces:
        stdout.write(begin + piece)
        begin = b","
    stdout.write(b"]" if begin == b"," else b"[]")


def _pieces(items: Iterator[Any]) -> Iterator[bytes]:
    while batch := list(islice(items, BATCH)):
        yield orjson.dumps(batch)[1:-1]


class Rows(click.ParamType):  # type: ignore[type-arg]
    """A number of rows, or `all`."""

    name = "N|all"

    def convert(
        self, value: Any, param: click.Parameter | None, ctx: click.Context | None
    ) -> int | None:
        """Read the number; None stands for all."""
        if value is None or value == "all":
            return None
        try:
            number = int(value)
        except ValueError:
            self.fail(f"“{value}” is no number of rows; write a number or all.", param, ctx)
        if number < 0:
            self.fail("A number of rows is not negative.", param, ctx)
        return number


class Day(click.ParamType):  # type: ignore[type-arg]
    """A day as 2026-09-01."""

    name = "DAY"

    def convert(self, value: Any, param: click.Parameter | None, ctx: click.Context | None) -> date:
        """Read the day."""
        if isinstance(value, date):
            return value
        try:
            if len(value) != 10:
                raise ValueError(value)
            return date.fromisoformat(value)
        except ValueError:
            self.fail(f"“{value}” is no day; write it as 2026-09-01.", param, ctx)


def read_bytes(path: Path) -> bytes:
    """Read a file; a missing or closed one is said in a sentence."""
    try:
        return path.read_bytes()
    except OSError as error:
        raise CoreError(f"{path}: {error.strerror or error}.") from error


def load_definition(path: Path) -> Definition:
    """Read a definition document."""
    try:
        return read_definition(json.loads(read_bytes(path).decode("utf-8-sig")))
    except (json.JSONDecodeError, UnicodeDecodeError) as error:
        raise CoreError(f"{path} is no JSON document: {error}.") from error
    except WrongDefinition as error:
        raise CoreError(f"{path}: {error}") from error


def load_codes(path: Path | None) -> dict[str, CodeList]:
    """Read code lists; none without a path."""
    if path is None:
        return {}
    try:
        return read_codes(read_bytes(path).decode("utf-8-sig"))
    except UnicodeDecodeError as error:
        raise CoreError(f"{path} is not UTF-8 text.") from error


def snapshot_of(evaluation: Evaluation) -> Snapshot:
    """Take a file that was evaluated against nothing for a roster."""
    rows = len(evaluation.table)
    columns = {}
    for field in evaluation.definition.fields:
        typed = evaluation.facts.typed.get(field.name)
        columns[field.name] = (
            typed.stored if typed else Snapshot.empty(evaluation.definition).columns[field.name]
        )
        if typed is None:
            columns[field.name] = type(columns[field.name]).constant(None, rows)
    return Snapshot(evaluation.definition, np.arange(rows, dtype=np.int64), columns)


@click.command()
@click.argument("file", type=PATH)
@click.option("--rows", type=Rows(), default="20", help="How many rows to show.")
@click.option("--sheet", default="", help="The sheet of a workbook.")
@click.option("--json", "as_json", is_flag=True, help="Answer as JSON.")
def inspect(file: Path, rows: int | None, sheet: str, as_json: bool) -> None:
    """Say how a file is read, and show its rows."""
    table, reading = read_file(read_bytes(file), ReadingChoice(sheet=sheet))
    if as_json:
        say_json(inspect_answer(table, reading, rows))
        return
    say(reading.sentence)
    for remark in reading.remarks:
        say(f"- {remark}")
    say("line  " + " | ".join(table.headings))
    for row in range(len(table) if rows is None else min(rows, len(table))):
        say(f"{table.lines[row]:>4}  " + " | ".join(table.row(row)))


@click.command()
@click.argument("file", type=PATH)
@click.option("--definition", type=PATH, help="The roster's definition (JSON).")
@click.option("--codes", type=PATH, help="Code lists (CSV).")
@click.option("--against", type=PATH, help="The roster as a file.")
@click.option(
    "--coverage", type=click.Choice(["everybody", "listed"]), default="listed", show_default=True
)
@click.option(
    "--today", type=Day(), help="The day for which codes must be in use; today by default."
)
@click.option("--json", "as_json", is_flag=True, help="Answer as JSON.")
@click.pass_context
def check(
    context: click.Context,
    file: Path,
    definition: Path | None,
    codes: Path | None,
    against: Path | None,
    coverage: str,
    today: date | None,
    as_json: bool,
) -> None:
    """Check a file: findings, causes, who is who, what would change."""
    give_back()
    day = today or date.today()
    lists = load_codes(codes)
    data = read_bytes(file)
    extra: list[str] = []
    if definition is not None:
        defined = load_definition(definition)
    else:
        table, reading = read_file(data)
        proposal = propose_roster(table, day, secrets=reading.secrets)
        defined, lists = read_definition(proposal.document), {**lists, **proposal.lists}
        extra.append("No definition was given; one was proposed from the columns.")
    if against is None:
        evaluation = _evaluate(
            data, defined, lists, Snapshot.empty(defined), day, file, coverage=coverage
        )
    else:
        require_lists(defined, lists)
        roster, read = both(
            partial(_at, against, read_snapshot, read_bytes(against), defined, lists, day),
            partial(_at, file, read_file, data, known=known_headings(defined)),
        )
        evaluation = _evaluate(
            data, defined, lists, roster, day, file, coverage=coverage, read=read
        )
    if as_json:
        say_parts(check_answer(evaluation, against=against is not None, extra=extra))
    else:
        _print_check(evaluation)
    context.exit(1 if evaluation.tally.stopped else 0)


@click.command()
@click.argument("file", type=PATH)
@click.option("--today", type=Day(), help="For years of two digits; today by default.")
@click.option("--codes-output", type=PATH, help="Where the code lists go (CSV).")
@click.option("--json", "as_json", is_flag=True, help="Answer as JSON.")
def propose(file: Path, today: date | None, codes_output: Path | None, as_json: bool) -> None:
    """Propose a definition and code lists for a file."""
    table, reading = read_file(read_bytes(file))
    title = title_of_file(file.name)
    proposal = propose_roster(
        table,
        today or date.today(),
        secrets=reading.secrets,
        name=make_name(title, []),
        title=title,
        region=Settings.from_environment().region,
    )
    if codes_output is not None:
        try:
            codes_output.write_text(write_codes(proposal.lists), encoding="utf-8", newline="")
        except OSError as error:
            raise CoreError(f"{codes_output}: {error.strerror or error}.") from error
    if as_json:
        say_json(document_with_seen(proposal))
        return
    say(reading.sentence)
    for one in proposal.seen:
        mark = "" if one.sure else "look: "
        say(f"{one.column} -> {one.field or 'nothing'} ({one.kind}); {mark}{one.why}")


def _evaluate(
    data: bytes,
    defined: Definition,
    lists: dict[str, CodeList],
    roster: Snapshot,
    day: date,
    file: Path,
    **more: Any,
) -> Evaluation:
    return _at(file, evaluate, Inputs(data, [], defined, lists, roster, day, **more))


def _at(path: Path, work: Callable[..., Made], *given: Any, **more: Any) -> Made:
    """Do something with a file; what is wrong with it is said with its path."""
    try:
        return work(*given, **more)
    except WrongDefinition:
        raise
    except CoreError as error:
        raise CoreError(f"{path}: {error}") from error


def _print_check(evaluation: Evaluation) -> None:
    say(evaluation.reading.sentence)
    for remark in evaluation.reading.remarks:
        say(f"- {remark}")
    tally = evaluation.tally
    told = ", ".join(
        f"{getattr(tally, name)} {name.replace('_', ' ')}"
        for name in OUTCOMES
        if getattr(tally, name)
    )
    say(f"{tally.read} rows read: {told or 'nothing'}; {tally.absent} absent.")
    for cause in evaluation.causes:
        say(f"{cause.hit.weight:>5}  {len(cause.hit.rows):>6}  {cause.hit.title}")


@click.command()
@click.argument("old", type=PATH)
@click.argument("new", type=PATH)
@click.option("--definition", type=PATH, required=True, help="The definition of both (JSON).")
@click.option("--codes", type=PATH, help="Code lists (CSV).")
@click.option("--json", "as_json", is_flag=True, help="Answer as JSON.")
def compare(old: Path, new: Path, definition: Path, codes: Path | None, as_json: bool) -> None:
    """Compare two files of one roster: who joined, who is absent, what changed."""
    give_back()
    defined = load_definition(definition)
    lists = load_codes(codes)
    require_lists(defined, lists)
    if not defined.primary_key:
        raise CoreError(f"{definition}: primaryKey is missing; two files are compared by it.")
    nobody = Snapshot.empty(defined)
    before, after = both(
        partial(_evaluate, read_bytes(old), defined, lists, nobody, date.today(), old),
        partial(_evaluate, read_bytes(new), defined, lists, nobody, date.today(), new),
    )
    answer = compare_evaluations(before, after, say_beside)
    if as_json:
        say_json(answer)
        return
    say(
        f"{len(answer['joined'])} joined, {len(answer['absent'])} absent, "
        f"{len({str(one['record']) for one in answer['changes']})} changed, {answer['same']} same."
    )
    for change in answer["changes"]:
        say(
            f"{change['record']}  {change['field']}: {change['old'] or '-'} ->"
            f" {change['new'] or '-'}"
        )


def compare_evaluations(
    before: Evaluation, after: Evaluation, note: Callable[[str], None]
) -> dict[str, Any]:
    """Compare two readings of one roster by its keys; of rows of one person the first counts,
    and the rest is noted.
    """
    from nevefield.core.changes.compare import compare_rows, find_absent

    definition = before.definition
    roster = snapshot_of(before)
    folded = {
        name: column for name, column in after.facts.folded.items() if name in before.facts.typed
    }
    known = match_keys(definition.keys, after.facts.typed, after.facts.folded, roster)
    record = known.record
    first = _first_of(record, after, note)
    matched = np.where(first, record, -1)
    differing = compare_rows(folded, replace(known, record=matched), roster, Memo())
    changed = np.zeros(len(record), bool)
    changes = []
    for name, rows in differing.items():
        changed[rows] = True
        old = roster.columns[name].rows(record[rows])
        new = after.facts.typed[name].stored.rows(rows)
        for row, key, was, now in zip(
            rows.tolist(), roster.keys(record[rows]), old, new, strict=True
        ):
            one = {
                "record": key,
                "field": name,
                "old": to_json(definition, name, was),
                "new": to_json(definition, name, now),
            }
            changes.append((row, one))
    joined = np.flatnonzero((record < 0) & first)
    absent = find_absent(known, roster, Memo())
    return {
        "joined": snapshot_of(after).keys(joined),
        "absent": roster.keys(_unrepeated(absent, roster)),
        "changes": [one for _, one in sorted(changes, key=lambda pair: pair[0])],
        "same": int(((matched >= 0) & ~changed).sum()),
    }


def _first_of(record: np.ndarray, after: Evaluation, note: Callable[[str], None]) -> np.ndarray:
    """Tell which rows are the first of their person; rows without a key count each for itself."""
    first = np.ones(len(record), bool)
    seen: set[Any] = set()
    keys = [
        tuple(
            after.facts.folded[name].at(row) if name in after.facts.folded else None
            for name in after.definition.primary_key
        )
        for row in range(len(record))
    ]
    for row, (number, key) in enumerate(zip(record.tolist(), keys, strict=True)):
        mark = number if number >= 0 else key
        if None in key and number < 0:
            note(f"Line {after.table.lines[row]} has no key; it is left out of the comparison.")
            first[row] = False
        elif mark in seen:
            note(f"Line {after.table.lines[row]} repeats an earlier row; the earlier one counts.")
            first[row] = False
        seen.add(mark)
    return first


def _unrepeated(absent: np.ndarray, roster: Snapshot) -> np.ndarray:
    """Keep absent records that have a key, the first of each."""
    kept, seen = [], set()
    for record in absent.tolist():
        key = tuple(roster.folded(name).at(record) for name in roster.definition.primary_key)
        if None not in key and key not in seen:
            kept.append(record)
        seen.add(key)
    return np.array(kept, np.intp)
