"""The one idea: everything shown about an intake is a pure function of its file and its steps.

`evaluate` reads like the list of stages that it is: read, pair, convert, match, join, compose,
check, compare, settle, count.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.applied import numbers_of
from nevefield.core.changes.compare import compare_rows, find_absent
from nevefield.core.changes.leaving import Absences, settle_absent
from nevefield.core.changes.updating import update_fields
from nevefield.core.checking.alike import check_alike
from nevefield.core.checking.between import check_between
from nevefield.core.checking.causes import Cause, find_causes, row_weights, with_followers
from nevefield.core.checking.cells import check_required, check_values, note_repairs
from nevefield.core.checking.facts import Facts, Hit, Standing
from nevefield.core.checking.hands import check_by_hand
from nevefield.core.checking.identity import check_identity, fold_identity, fold_unknown
from nevefield.core.checking.passing import check_passed_over, find_passed_over
from nevefield.core.checking.references import check_references
from nevefield.core.checking.rows import check_code_days, check_parents
from nevefield.core.checking.running import check_file, check_groups
from nevefield.core.checking.running import check_rows as check_declared
from nevefield.core.checking.shifts import check_shifts, fold_shifted
from nevefield.core.columns.combining import columns_by_field
from nevefield.core.columns.derived import derive
from nevefield.core.columns.filling import compose_fields, find_blank, find_filled, keep_filled
from nevefield.core.columns.pairing import Pair, Said, known_headings, look_at_values, pair_columns
from nevefield.core.columns.values import Typed, ValueContext, convert, edit
from nevefield.core.conditions import holds
from nevefield.core.edits.memo import Memo
from nevefield.core.edits.trail import union
from nevefield.core.errors import WrongDefinition
from nevefield.core.people.joining import Joined, join_rows, number_people, people_groups
from nevefield.core.people.keys import Known, match_again, match_keys
from nevefield.core.people.matching import Limits, Scale
from nevefield.core.people.recognising import Recognised, Remembered, recognise
from nevefield.core.placing.memberships import check_one_group, find_left_out, membership_of
from nevefield.core.placing.rules import place_rows
from nevefield.core.reading import Reading, read_file
from nevefield.core.snapshot import Snapshot
from nevefield.core.steps import Decisions, decide
from nevefield.core.table import Column, Table, rows_at, rows_by_line
from nevefield.core.tally import OUTCOMES, Tally, count_outcomes

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Mapping, Sequence
    from datetime import date
    from typing import Any

    from numpy.typing import NDArray

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition, Field
    from nevefield.core.steps import Step

    Progress = Callable[[str, int, int], None]

__all__ = [
    "CHECKS",
    "STAGES",
    "Evaluation",
    "evaluate",
    "keys_of",
    "quiet",
    "read_snapshot",
    "require_lists",
]


# The checks of rows, in the order in which they run; those of groups and of the whole file look at
# what these find.
CHECKS: tuple[Callable[[Facts], list[Hit]], ...] = (
    check_values,
    check_required,
    check_shifts,
    check_declared,
    check_parents,
    check_code_days,
    check_references,
    check_between,
    check_identity,
    check_alike,
    check_passed_over,
    check_by_hand,
    check_one_group,
    note_repairs,
)
STAGES = 8  # for progress: the longer ones count for two
NEW, CHANGED, SAME, WAITING, STOPPED, HELD, LEFT_OUT = range(len(OUTCOMES))


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
    data: bytes,
    steps: Sequence[Step],
    definition: Definition,
    codes: Mapping[str, CodeList],
    snapshot: Snapshot,
    today: date,
    *,
    coverage: str = "listed",
    read: tuple[Table, Reading] | None = None,
    before: Memo | None = None,
    progress: Progress = quiet,
    others: Mapping[str, Snapshot] | None = None,
    said: Remembered | None = None,
    by_hand: Mapping[str, Mapping[int, str]] | None = None,
    placed_by_hand: Mapping[str, Collection[int]] | None = None,
    standing: Standing | None = None,
) -> Evaluation:
    """Work out what a file and its steps come to.

    Args:
        data: The file.
        steps: What people did, in order.
        definition: Of the roster.
        codes: Code lists by name.
        snapshot: The roster as it stands.
        today: The day for which codes must be in use.
        coverage: What the file claims to be unless a step says otherwise: `everybody` or `listed`.
        read: The file as `read_file` gives it with the steps' choices, when the caller has it
            already.
        before: The memo of an evaluation of the same file with other steps; makes this one quicker,
            not other.
        progress: Hears what is being done, how many of its parts are, and of how many.
        others: Other rosters that the definition refers to, by name.
        said: What was said in other intakes of who is who.
        by_hand: Which values somebody set by hand since the source's last file: field, record by
            number, by whom and when.
        placed_by_hand: By field the records, by number, whose value somebody set by hand at any
            time: rules leave them there.

        standing: Earlier yeses that last.

    Raises:
        UnreadableFile: The file is no table.
        WrongDefinition: A code list is missing.
    """
    require_lists(definition, codes)
    decisions = decide(steps, coverage)
    progress("Reading the file", 0, STAGES)
    table, reading = read or read_file(data, decisions.reading, known_headings(definition))
    memo = Memo(before)
    progress("Finding where the columns go", 1, STAGES)
    pairs = _pair(table, reading, definition, codes, today, decisions, memo)
    progress("Reading the values", 2, STAGES)
    typed = _convert_columns(table, pairs, definition, codes, today, decisions, memo)
    progress("Finding who it is", 4, STAGES)
    aside = np.zeros(len(table), bool)
    aside[
        rows_at(table.lines, {*decisions.held, *decisions.left_out, *decisions.applied.passed})
    ] = True
    # who went in is in the roster: the row stands in nobody's way
    for lines in decisions.applied.went_in.values():
        aside[rows_at(table.lines, numbers_of(lines))] = True
    typed, people, joined = _know_people(
        definition, typed, snapshot, table, decisions, aside, said, memo
    )
    known = people.known
    passed_over = (
        find_passed_over(decisions.takes, people, typed, keys_of(decisions, definition)) & ~aside
    )
    # what stayed open stays so until somebody says otherwise
    passed_over[rows_at(table.lines, decisions.applied.open)] = False
    aside = aside | passed_over
    filled = find_filled(
        columns_by_field(table, pairs, definition, memo), decisions, definition, table
    )
    joined = keep_filled(joined, filled, known, snapshot, decisions, definition)
    context = context_of(codes, definition, today, decisions)
    typed = compose_fields(
        definition, joined, known, snapshot, decisions.composed, memo, context, table
    )
    typed = update_fields(
        definition,
        typed,
        known,
        snapshot,
        decisions.rules,
        _of_rows(decisions.row_rules, table),
        memo,
    )
    ours = partial(_ours, decisions, table)
    typed, followed = place_rows(
        definition, typed, known, snapshot, placed_by_hand or {}, today, memo, ours=ours
    )
    folded = _folded(typed)
    facts = Facts(
        definition,
        codes,
        today,
        table.lines,
        typed,
        folded,
        snapshot,
        known,
        aside,
        joined,
        others or {},
        decisions.coverage,
        people,
        _places(pairs),
        by_hand or {},
        placed_by_hand or {},
        followed,
        filled,
        memo,
        keys=keys_of(decisions, definition),
        standing=standing or {},
        ends_beside={number: step.day for number, step in decisions.end_beside.items()},
        passed_over=np.flatnonzero(passed_over),
    )
    return _conclude(table, reading, pairs, decisions, facts, progress)


def keys_of(decisions: Decisions, definition: Definition) -> tuple[tuple[str, ...], ...]:
    """Return the keys by which rows are known: those that were said for this file, else the
    roster's.
    """
    return definition.keys if decisions.keys is None else decisions.keys


def _ours(decisions: Decisions, table: Table, name: str) -> NDArray[np.intp]:
    """List the rows for which somebody said that a field stays as the roster has it."""
    single = _of_rows(decisions.row_rules, table).get(name, {})
    if decisions.rules.get(name) == "ours":
        return np.array(
            [row for row in range(len(table)) if single.get(row, "ours") == "ours"], np.intp
        )
    return np.array(sorted(row for row, rule in single.items() if rule == "ours"), np.intp)


def _conclude(
    table: Table,
    reading: Reading,
    pairs: list[Pair],
    decisions: Decisions,
    facts: Facts,
    progress: Progress,
) -> Evaluation:
    """Check, compare, settle every row's outcome, and count."""
    memo, known = facts.memo, facts.known
    causes, weights, differing = _find_causes(facts, decisions, progress)
    outcomes, is_in = _settle(facts, causes, weights, differing, decisions)
    lead = facts.joined.lead
    going = (outcomes == CHANGED) & ~is_in
    changes = {name: rows[going[rows] & (lead[rows] == rows)] for name, rows in differing.items()}
    absent = _absent(decisions, facts, memo)
    memo.forget()
    then = decisions.applied.absent
    return Evaluation(
        facts.definition,
        table,
        reading,
        pairs,
        decisions,
        facts,
        causes,
        outcomes,
        {name: rows for name, rows in changes.items() if len(rows)},
        settle_absent(absent, known, decisions, facts.snapshot),
        count_outcomes(outcomes, len(table), len(absent) if then is None else then),
        memo,
        is_in,
        count_outcomes(outcomes[~is_in], int((~is_in).sum()), len(absent)),
    )


def _know_people(
    definition: Definition,
    typed: dict[str, Typed],
    snapshot: Snapshot,
    table: Table,
    decisions: Decisions,
    aside: NDArray[np.bool_],
    said: Remembered | None,
    memo: Memo,
) -> tuple[dict[str, Typed], Recognised, Joined]:
    """Tell who the rows are: by keys, by what somebody said, by likeness; and which rows are one
    person.
    """
    keys = keys_of(decisions, definition)
    keyed = [name for key in keys for name in key]
    came = {name: memo.made(("typed", name)) or one for name, one in typed.items()}
    of = (keys, snapshot, table, *(typed.get(name) for name in keyed))

    def match_all() -> Known:
        return _match(keys, came, snapshot, table, memo)

    def again(before: Known, rows: NDArray[np.intp], _: Any) -> Known:
        return match_again(keys, typed, snapshot, before, rows)

    as_came = memo.get(
        "as it came", (keys, snapshot, table, *(came.get(name) for name in keyed)), match_all
    )
    by_key = memo.mend(
        "known",
        of,
        lambda: _match_edited(keys, typed, came, keyed, snapshot, table, as_came),
        again,
    )
    kept = decisions.applied.scale
    people = recognise(
        definition,
        typed,
        by_key,
        snapshot,
        chosen=_chosen(decisions, table, snapshot),
        scale=(
            Scale.of_numbers(kept.same, kept.chance, kept.share, kept.records)
            if kept is not None
            else None
        ),
        waiting=rows_at(
            table.lines, decisions.applied.asked & decisions.applied.open.keys()
        ).tolist(),
        aside=aside,
        limits=Limits(*(decisions.limits or definition.limits)),
        memo=memo,
        said=said,
        as_came=as_came,
    )
    typed = _keep_keys(definition, typed, people.known, snapshot, memo)
    person = number_people(definition, typed, people.known, len(snapshot), memo)
    # compared by content: which rows are aside is made anew for every evaluation
    apart = tuple(np.flatnonzero(aside).tolist())
    joined = join_rows(definition, typed, person, people_groups(memo, person, aside, apart), memo)
    return typed, people, joined


def _absent(decisions: Decisions, facts: Facts, memo: Memo) -> NDArray[np.intp]:
    """List the records that the coverage says should have been in the file; of one that was
    applied, those left of them.
    """
    known, snapshot, today = facts.known, facts.snapshot, facts.today
    if decisions.applied.absent is not None:
        left = np.isin(snapshot.ids, numbers_of(decisions.applied.left))
        left[known.record[known.record >= 0]] = False
        return np.flatnonzero(left)
    kind = membership_of(facts.definition)
    if decisions.coverage in ("people", "groups") and kind is not None:
        return find_left_out(decisions.coverage, facts.folded, known, snapshot, kind, today)
    if decisions.coverage not in ("everybody", "part"):
        return np.zeros(0, np.intp)
    absent: NDArray[np.intp] = find_absent(known, snapshot, memo)
    if decisions.coverage == "part" and decisions.part is not None:
        inside = holds(decisions.part, lambda name: snapshot.columns[name], len(snapshot), today)
        absent = absent[inside[absent]]
    return absent


def _find_causes(
    facts: Facts, decisions: Decisions, progress: Progress
) -> tuple[list[Cause], tuple[NDArray[np.bool_], NDArray[np.bool_]], dict[str, NDArray[np.intp]]]:
    """Check rows, then what follows for people's other rows, groups and the whole file; and compare
    with the roster.

    Returns:
        The causes, the rows that are stopped and those that wait, and by field the rows that
        differ.
    """
    progress("Checking", 5, STAGES)
    hits = fold_shifted([hit for check in CHECKS for hit in check(facts)], facts)
    hits = fold_unknown(fold_identity(hits, facts), facts)
    causes = with_followers(find_causes(hits, facts, decisions.waivers), facts, decisions.waivers)
    progress("Comparing with the roster", 7, STAGES)
    differing = compare_rows(facts.folded, facts.known, facts.snapshot, facts.memo)
    weights = row_weights(causes, len(facts))  # what is found beyond the rows stops none of them
    found = _check_since(facts, decisions, weights)
    found += check_groups(facts, causes, weights[0])
    if decisions.applied.absent is None:  # of what was applied the whole is past asking about
        found += check_file(facts, differing)
    if found:
        causes = find_causes([*(one.hit for one in causes), *found], facts, decisions.waivers)
        weights = row_weights(causes, len(facts))
    return causes, weights, differing


def _check_since(
    facts: Facts, decisions: Decisions, weights: tuple[NDArray[np.bool_], NDArray[np.bool_]]
) -> list[Hit]:
    """Ask about rows that stayed open when the file was applied, and would go in by now though
    nobody has said so.
    """
    rows = rows_at(facts.lines, decisions.applied.open)
    rows = rows[~facts.aside[rows] & ~weights[0][rows] & ~weights[1][rows]]
    if not len(rows):
        return []
    title = "Would go in by now, though nobody has said so"
    said = (
        "It stayed open when this file was applied. The roster, the codes or the day have changed"
        " since: nothing stops it now."
    )
    return [Hit("since", None, (), "ask", rows, title, said, group="since")]


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
    typed = _convert_columns(table, pairs, definition, codes, today, decisions, Memo())
    nothing = Column.constant(None, len(table))
    columns = {
        one.name: typed[one.name].stored if one.name in typed else nothing
        for one in definition.fields
    }
    return Snapshot(definition, np.arange(len(table), dtype=np.int64), columns)


def require_lists(definition: Definition, codes: Mapping[str, CodeList]) -> None:
    """See that every code list that the definition names is there.

    Raises:
        WrongDefinition: With the place of the name.
    """
    for number, one in enumerate(definition.fields):
        if one.code_list and one.code_list not in codes:
            raise WrongDefinition(
                f"fields[{number}].nevefield.codeList",
                f"there is no code list {one.code_list!r} for the field {one.name!r}; "
                f"known are {', '.join(sorted(codes)) or 'none'}",
            )
    for number, check in enumerate(definition.checks):
        for option, name in check.names.lists:
            if name not in codes:
                raise WrongDefinition(
                    f"nevefield.checks[{number}].{option}",
                    f"there is no code list {name!r}; known are"
                    f" {', '.join(sorted(codes)) or 'none'}",
                )


def _pair(
    table: Table,
    reading: Reading,
    definition: Definition,
    codes: Mapping[str, CodeList],
    today: date,
    decisions: Decisions,
    memo: Memo,
) -> list[Pair]:
    named = reading.header_line is not None or reading.type == "jsonl"
    evidence = memo.get(
        "values",
        (table, definition, codes, today.isoformat()),
        lambda: look_at_values(table, definition, codes, today, named=named),
    )
    said = (
        decisions.pairs,
        frozenset(decisions.beside),
        decisions.splits,
        decisions.last,
        decisions.last_splits,
    )
    pairs: list[Pair] = memo.get(
        "pairs",
        (evidence, reading.secrets, *map(_frozen, said)),
        lambda: pair_columns(
            table.headings, definition, reading.secrets, Said(*said), evidence=evidence
        ),
    )
    return pairs


def _keep_keys(
    definition: Definition, typed: dict[str, Typed], known: Known, snapshot: Snapshot, memo: Memo
) -> dict[str, Typed]:
    """Give rows that are known by something else their record's key where their own is empty: it
    takes no key away.
    """
    kept = dict(typed)
    for name in definition.primary_key:
        if name not in typed:
            continue

        def keep(
            rows: NDArray[np.intp], one: Typed = typed[name], name: str = name
        ) -> dict[int, str | None]:
            lacking = rows[
                (one.stored.codes[rows] < 0) & (known.record[rows] >= 0) & ~one.problem_rows()[rows]
            ]
            return dict(
                zip(
                    lacking.tolist(),
                    snapshot.columns[name].rows(known.record[lacking]),
                    strict=True,
                )
            )

        kept[name] = derive(memo, ("kept", name), typed[name], (known, snapshot), keep)
    return kept


def _of_rows(row_rules: Mapping[str, Mapping[int, str]], table: Table) -> dict[str, dict[int, str]]:
    """Turn rules by line into rules by row."""
    return {name: rows_by_line(table, lines) for name, lines in row_rules.items()}


def _chosen(decisions: Decisions, table: Table, snapshot: Snapshot) -> dict[int, int]:
    """Turn what somebody said into rows and records; a record that is not there any more is
    nobody's choice.
    """
    found: dict[int, int] = {}
    for line, number in decisions.people.items():
        row = int(np.searchsorted(table.lines, line))
        if row >= len(table) or table.lines[row] != line:
            continue
        if number is None:
            found[row] = -1
        elif len(places := np.flatnonzero(snapshot.ids == number)):
            found[row] = int(places[0])
    return found


def _places(pairs: list[Pair]) -> dict[str, int]:
    """Find the column of each field that has one alone."""
    return {
        pair.field: place
        for place, pair in enumerate(pairs)
        if pair.field and not pair.beside and not pair.parts
    }


def _frozen(said: Any) -> Any:
    return dict(said) if isinstance(said, dict) else said


def context_of(
    codes: Mapping[str, CodeList], definition: Definition, today: date, decisions: Decisions
) -> ValueContext:
    """Bring together what reading values needs beside the texts."""
    return ValueContext(
        codes,
        definition.missing,
        today,
        decisions.translations,
        decisions.orders,
        decisions.marks,
        decisions.last_orders,
        decisions.last_marks,
    )


def _convert_columns(
    table: Table,
    pairs: list[Pair],
    definition: Definition,
    codes: Mapping[str, CodeList],
    today: date,
    decisions: Decisions,
    memo: Memo,
) -> dict[str, Typed]:
    """Make values of the columns that go to a field, in the definition's order; edits and fills
    included.
    """
    context = context_of(codes, definition, today, decisions)
    columns = columns_by_field(table, pairs, definition, memo)
    parts: dict[Any, tuple[tuple[Any, ...], Callable[[], Typed]]] = {}
    for one in definition.fields:
        raw = columns.get(one.name)
        cells = decisions.cells.get(one.name, {})
        fill = decisions.fills.get(one.name)
        if raw is None and not cells and not fill:
            continue
        translations = {
            pair: to for pair, to in decisions.translations.items() if pair[0] == one.name
        }
        listed = codes.get(one.code_list) if one.code_list else None
        said = (decisions.orders, decisions.marks, decisions.last_orders, decisions.last_marks)
        by_hand = tuple(of_fields.get(one.name) for of_fields in said)
        of = (one, raw, table, fill, translations, by_hand, listed, today.isoformat())
        if fill:  # what an edit blanks is filled again: the column is made whole each time
            parts["typed", one.name] = (
                (*of, dict(cells)),
                partial(_convert_one, one, raw, cells, fill, table, context),
            )
        else:
            parts["typed", one.name] = of, partial(_convert_one, one, raw, {}, None, table, context)
    typed: dict[str, Typed] = {name: made for (_, name), made in memo.get_all(parts).items()}
    for name, cells in decisions.cells.items():
        if name in typed and cells and not decisions.fills.get(name):
            typed[name] = _edit(typed[name], name, cells, table, context, memo)
    return typed


def _edit(
    made: Typed,
    name: str,
    cells: Mapping[int, str],
    table: Table,
    context: ValueContext,
    memo: Memo,
) -> Typed:
    """Put edited cells into a column; when some are there already from the evaluation before,
    only the others.
    """
    known: tuple[Any, ...]
    had: Typed | None
    known, had = memo.last(("edited", name)) or ((), None)

    def edited() -> Typed:
        if (
            had is not None
            and known[0] is made
            and all(cells.get(line) is not None for line in known[1])
        ):
            fresh = {line: text for line, text in cells.items() if known[1].get(line) != text}
            return edit(had, rows_by_line(table, fresh), context)
        return edit(made, rows_by_line(table, cells), context)

    typed: Typed = memo.get(("edited", name), (made, dict(cells)), edited)
    return typed


def _convert_one(
    one: Field,
    raw: Column | None,
    cells: Mapping[int, str],
    fill: str | None,
    table: Table,
    context: ValueContext,
) -> Typed:
    if raw is None:
        raw = Column.constant(None, len(table))
    before = raw
    if cells:
        raw = raw.replace(dict(rows_by_line(table, cells)))
    if fill:
        raw = raw.replace({int(row): fill for row in find_blank(raw, context.missing)})
    made = convert(one, raw, context, before=before)
    # wanted of every column, and worked out here where columns are read beside each other
    made.folded()
    return made


def _folded(typed: Mapping[str, Typed]) -> dict[str, Column]:
    return {name: one.folded() for name, one in typed.items()}


def _match(
    keys: tuple[tuple[str, ...], ...],
    typed: Mapping[str, Typed],
    snapshot: Snapshot,
    table: Table,
    memo: Memo,
) -> Known:
    return match_keys(keys, typed, _folded(typed), snapshot, memo) if typed else _nobody(len(table))


def _match_edited(
    keys: tuple[tuple[str, ...], ...],
    typed: Mapping[str, Typed],
    came: Mapping[str, Typed],
    keyed: Collection[str],
    snapshot: Snapshot,
    table: Table,
    as_came: Known,
) -> Known:
    """Match rows of which some were edited since the file came, going on from who they were then
    where that can be.
    """
    edited = [typed[name].since(came[name]) for name in keyed if name in typed]
    rows = (
        None
        if any(one is None for one in edited)
        else union([one for one in edited if one is not None])
    )
    if rows is None:
        return match_keys(keys, typed, _folded(typed), snapshot) if typed else _nobody(len(table))
    return match_again(keys, typed, snapshot, as_came, rows) if len(rows) else as_came


def _nobody(rows: int) -> Known:
    return Known(np.full(rows, -1, np.int64), np.full(rows, -1, np.int8), {})


def _settle(
    facts: Facts,
    causes: list[Cause],
    weights: tuple[NDArray[np.bool_], NDArray[np.bool_]],
    differing: Mapping[str, NDArray[np.intp]],
    decisions: Decisions,
) -> tuple[NDArray[np.int8], NDArray[np.bool_]]:
    """Give every row exactly one outcome; what was decided by hand counts before what was found.

    Returns:
        The outcomes, and which rows went in when the file was applied: those keep theirs.
    """
    outcomes = np.where(facts.known.record >= 0, np.int8(SAME), np.int8(NEW))
    for rows in differing.values():
        outcomes[rows] = CHANGED
    stopped, waiting = weights
    outcomes[waiting] = WAITING
    outcomes[stopped] = STOPPED
    # one person: when one row brings a change, it is the person's
    for group in facts.joined.groups:
        if (outcomes[group] <= SAME).all():
            outcomes[group] = outcomes[group].min()
    for cause in causes:
        if cause.hit.left_out:
            outcomes[list(cause.hit.left_out)] = LEFT_OUT
    passed = decisions.applied.passed
    for lines, outcome in (
        (passed, LEFT_OUT),
        (decisions.held, HELD),
        (decisions.left_out, LEFT_OUT),
    ):
        if lines:
            outcomes[rows_at(facts.lines, lines)] = outcome
    is_in = np.zeros(len(facts), bool)
    for name, ranges in decisions.applied.went_in.items():
        rows = rows_at(facts.lines, numbers_of(ranges))
        outcomes[rows] = OUTCOMES.index(name)
        is_in[rows] = True
    return outcomes, is_in
