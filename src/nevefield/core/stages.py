"""The stages of an evaluation: what each needs, what it makes, and which parts of the memo are its
own.

The order is that of `STAGES`. A stage takes what earlier ones made from the `Work`, and puts there
what it makes; a test holds what is declared here to what is done. Progress is told from this list,
and ARCHITECTURE's picture drawn from it.
"""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.applied import numbers_of
from nevefield.core.changes.compare import compare_rows
from nevefield.core.changes.leaving import Absences, settle_absent
from nevefield.core.changes.updating import update_fields
from nevefield.core.checking.causes import Cause, find_causes, row_weights, with_followers
from nevefield.core.checking.facts import Facts
from nevefield.core.checking.identity import fold_identity, fold_unknown
from nevefield.core.checking.passing import find_passed_over
from nevefield.core.checking.running import CHECKS, check_file, check_groups, check_since
from nevefield.core.checking.shifts import fold_shifted
from nevefield.core.columns.combining import columns_by_field
from nevefield.core.columns.converting import context_of, convert_columns
from nevefield.core.columns.filling import compose_fields, find_filled, keep_filled
from nevefield.core.columns.pairing import Pair, Said, known_headings, look_at_values, pair_columns
from nevefield.core.erasing import NOBODY, erased_rows
from nevefield.core.outcomes import find_absentees, settle_rows
from nevefield.core.people.knowing import keys_of, know_people
from nevefield.core.placing.rules import place_rows
from nevefield.core.reading import Reading, read_file
from nevefield.core.steps import Decisions, decide
from nevefield.core.table import Table, rows_at, rows_by_line

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from numpy.typing import NDArray

    from nevefield.core.columns.values import Typed
    from nevefield.core.edits.memo import Memo
    from nevefield.core.inputs import Inputs
    from nevefield.core.people.joining import Joined
    from nevefield.core.people.recognising import Recognised

    Flags = NDArray[np.bool_]

__all__ = ["STAGES", "TOTAL", "Stage", "Work", "draw_stages"]


@dataclass
class Work:
    """An evaluation in the making: what it is made of, and what its stages have made so far."""

    inputs: Inputs
    memo: Memo
    decisions: Decisions = field(init=False)  # what the steps add up to
    table: Table = field(init=False)  # the file's texts
    reading: Reading = field(init=False)
    pairs: list[Pair] = field(init=False)  # where each column goes
    typed: dict[str, Typed] = field(init=False)  # values by field
    aside: Flags = field(init=False)  # rows that stand in nobody's way
    passed_over: Flags = field(init=False)  # rows of people whom the file is not for
    people: Recognised = field(init=False)  # who the rows are
    joined: Joined = field(init=False)  # which rows are one person
    filled: Mapping[str, NDArray[np.intp]] = field(init=False)  # rows that a fill value is for
    followed: Mapping[str, NDArray[np.intp]] = field(init=False)  # rows whose value a rule gave
    facts: Facts = field(init=False)  # what checks look at
    causes: list[Cause] = field(init=False)
    weights: tuple[Flags, Flags] = field(init=False)  # rows that are stopped, rows that wait
    differing: dict[str, NDArray[np.intp]] = field(init=False)  # rows that differ from their record
    outcomes: NDArray[np.int8] = field(init=False)  # of each row
    is_in: Flags = field(init=False)  # rows that went in when it was applied
    absences: Absences = field(init=False)


@dataclass(frozen=True)
class Stage:
    """One stage of an evaluation."""

    name: str
    run: Callable[[Work], None]
    needs: tuple[str, ...]  # of the work, beside its inputs
    makes: tuple[str, ...]
    parts: tuple[str, ...] = ()  # of the memo: how the names of its own begin
    doing: str = ""  # told while it runs; "": goes on with what was told before
    weight: int = 0  # of `TOTAL`


def _decide(work: Work) -> None:
    work.decisions = decide(work.inputs.steps, work.inputs.coverage)


def _read(work: Work) -> None:
    inputs = work.inputs
    known = known_headings(inputs.definition)
    work.table, work.reading = inputs.read or read_file(inputs.data, work.decisions.reading, known)


def _pair(work: Work) -> None:
    inputs, table, decisions = work.inputs, work.table, work.decisions
    definition, codes, today = inputs.definition, inputs.codes, inputs.today
    named = work.reading.header_line is not None or work.reading.type == "jsonl"
    evidence = work.memo.get(
        "values",
        (table, definition, codes, today.isoformat()),
        lambda: look_at_values(table, definition, codes, today, named=named),
    )
    said = Said(
        dict(decisions.pairs),
        frozenset(decisions.beside),
        dict(decisions.splits),
        dict(decisions.last),
        dict(decisions.last_splits),
    )
    secrets = work.reading.secrets
    work.pairs = work.memo.get(
        "pairs",
        (evidence, secrets, said.pairs, said.beside, said.splits, said.last, said.last_splits),
        lambda: pair_columns(table.headings, definition, secrets, said, evidence=evidence),
    )


def _convert(work: Work) -> None:
    work.typed = convert_columns(work.inputs, work.table, work.pairs, work.decisions, work.memo)


def _set_aside(work: Work) -> None:
    lines = work.table.lines
    # of who was erased nobody is asked anything
    erased = dict.fromkeys(lines[erased_rows(work.table)].tolist(), NOBODY)
    work.decisions = decisions = replace(
        work.decisions, left_out={**work.decisions.left_out, **erased}
    )
    work.aside = np.zeros(len(work.table), bool)
    numbers = {*decisions.held, *decisions.left_out, *decisions.applied.passed}
    work.aside[rows_at(lines, numbers)] = True
    # Who went in is in the roster: the row stands in nobody's way.
    for ranges in decisions.applied.went_in.values():
        work.aside[rows_at(lines, numbers_of(ranges))] = True


def _know(work: Work) -> None:
    work.typed, work.people, work.joined = know_people(
        work.inputs, work.typed, work.table, work.decisions, work.aside, work.memo
    )


def _pass_over(work: Work) -> None:
    decisions = work.decisions
    keys = keys_of(decisions, work.inputs.definition)
    passed_over = find_passed_over(decisions.takes, work.people, work.typed, keys) & ~work.aside
    # What stayed open when it was applied stays so until somebody says otherwise.
    passed_over[rows_at(work.table.lines, decisions.applied.open)] = False
    work.passed_over = passed_over
    work.aside = work.aside | passed_over


def _fill(work: Work) -> None:
    inputs, decisions = work.inputs, work.decisions
    columns = columns_by_field(work.table, work.pairs, inputs.definition, work.memo)
    work.filled = find_filled(columns, decisions, inputs.definition, work.table)
    work.joined = keep_filled(
        work.joined, work.filled, work.people.known, inputs.snapshot, decisions, inputs.definition
    )


def _compose(work: Work) -> None:
    inputs, decisions = work.inputs, work.decisions
    work.typed = compose_fields(
        inputs,
        work.joined,
        work.people.known,
        decisions.composed,
        work.memo,
        context_of(inputs, decisions),
        work.table,
    )


def _update(work: Work) -> None:
    work.typed = update_fields(
        work.inputs.definition,
        work.typed,
        work.people.known,
        work.inputs.snapshot,
        work.decisions.rules,
        _of_rows(work.decisions.row_rules, work.table),
        work.memo,
    )


def _place(work: Work) -> None:
    inputs = work.inputs
    work.typed, work.followed = place_rows(
        inputs,
        work.typed,
        work.people.known,
        work.memo,
        ours=partial(_kept_rows, work.decisions, work.table),
    )


def _gather(work: Work) -> None:
    inputs, decisions = work.inputs, work.decisions
    work.facts = Facts(
        definition=inputs.definition,
        codes=inputs.codes,
        today=inputs.today,
        lines=work.table.lines,
        typed=work.typed,
        folded={name: typed.folded() for name, typed in work.typed.items()},
        snapshot=inputs.snapshot,
        known=work.people.known,
        aside=work.aside,
        joined=work.joined,
        others=inputs.others,
        coverage=decisions.coverage,
        people=work.people,
        places=_places(work.pairs),
        by_hand=inputs.by_hand,
        placed_by_hand=inputs.placed_by_hand,
        followed=work.followed,
        filled=work.filled,
        memo=work.memo,
        keys=keys_of(decisions, inputs.definition),
        standing=inputs.standing,
        ends_beside={number: step.day for number, step in decisions.end_beside.items()},
        passed_over=np.flatnonzero(work.passed_over),
    )


def _check(work: Work) -> None:
    """Check rows, and find what follows from that for people's other rows."""
    facts, waivers = work.facts, work.decisions.waivers
    hits = fold_shifted([hit for check in CHECKS for hit in check(facts)], facts)
    hits = fold_unknown(fold_identity(hits, facts), facts)
    work.causes = with_followers(find_causes(hits, facts, waivers), facts, waivers)


def _compare(work: Work) -> None:
    facts = work.facts
    work.differing = compare_rows(facts.folded, facts.known, facts.snapshot, facts.memo)


def _check_beyond(work: Work) -> None:
    """Check what needs more than a row: rows that stayed open, groups, the whole file."""
    facts, decisions = work.facts, work.decisions
    # What is found beyond the rows stops none of them.
    work.weights = row_weights(work.causes, len(facts))
    hits = check_since(facts, decisions, work.weights)
    hits += check_groups(facts, work.causes, work.weights[0])
    if decisions.applied.absent is None:  # of what was applied the whole is past asking about
        hits += check_file(facts, work.differing)
    if hits:
        before = [cause.hit for cause in work.causes]
        work.causes = find_causes([*before, *hits], facts, decisions.waivers)
        work.weights = row_weights(work.causes, len(facts))


def _settle(work: Work) -> None:
    work.outcomes, work.is_in = settle_rows(
        work.facts, work.causes, work.weights, work.differing, work.decisions
    )


def _miss(work: Work) -> None:
    absent = find_absentees(work.facts, work.decisions)
    work.absences = settle_absent(absent, work.facts.known, work.decisions, work.inputs.snapshot)


def _of_rows(row_rules: Mapping[str, Mapping[int, str]], table: Table) -> dict[str, dict[int, str]]:
    """Turn rules by line into rules by row."""
    return {name: rows_by_line(table, lines) for name, lines in row_rules.items()}


def _kept_rows(decisions: Decisions, table: Table, name: str) -> NDArray[np.intp]:
    """List the rows for which somebody said that a field stays as the roster has it."""
    single = _of_rows(decisions.row_rules, table).get(name, {})
    if decisions.rules.get(name) == "ours":
        return np.array(
            [row for row in range(len(table)) if single.get(row, "ours") == "ours"], np.intp
        )
    return np.array(sorted(row for row, rule in single.items() if rule == "ours"), np.intp)


def _places(pairs: list[Pair]) -> dict[str, int]:
    """Find the column of each field that has one alone."""
    return {
        pair.field: place
        for place, pair in enumerate(pairs)
        if pair.field and not pair.beside and not pair.parts
    }


STAGES = (
    Stage("decide", _decide, needs=(), makes=("decisions",)),
    Stage(
        "read",
        _read,
        needs=("decisions",),
        makes=("table", "reading"),
        doing="Reading the file",
        weight=1,
    ),
    Stage(
        "pair",
        _pair,
        needs=("table", "reading", "decisions"),
        makes=("pairs",),
        parts=("values", "pairs"),
        doing="Finding where the columns go",
        weight=1,
    ),
    Stage(
        "convert",
        _convert,
        needs=("table", "pairs", "decisions"),
        makes=("typed",),
        parts=("part", "joined", "typed", "edited"),
        doing="Reading the values",
        weight=2,
    ),
    Stage("set aside", _set_aside, needs=("table", "decisions"), makes=("decisions", "aside")),
    Stage(
        "know",
        _know,
        needs=("typed", "table", "decisions", "aside"),
        makes=("typed", "people", "joined"),
        parts=(
            "as it came",
            "by key",
            "candidates",
            "joined groups",
            "judged",
            "kept",
            "key numbers",
            "known",
            "lead",
            "learnt",
            "likenesses",
            "people",
            "person",
            "recognised",
            "rows of people",
            "spread",
            "traits",
        ),
        doing="Finding who it is",
        weight=1,
    ),
    Stage(
        "pass over",
        _pass_over,
        needs=("decisions", "people", "typed", "table", "aside"),
        makes=("passed_over", "aside"),
    ),
    Stage(
        "fill",
        _fill,
        needs=("table", "pairs", "decisions", "joined", "people"),
        makes=("filled", "joined"),
    ),
    Stage(
        "compose",
        _compose,
        needs=("joined", "people", "decisions", "table"),
        makes=("typed",),
        parts=("composed",),
    ),
    Stage(
        "update",
        _update,
        needs=("typed", "people", "decisions", "table"),
        makes=("typed",),
        parts=("updated",),
    ),
    Stage(
        "place",
        _place,
        needs=("typed", "people", "decisions", "table"),
        makes=("typed", "followed"),
        parts=("placed",),
    ),
    Stage(
        "gather",
        _gather,
        needs=(
            "decisions",
            "table",
            "typed",
            "people",
            "aside",
            "joined",
            "pairs",
            "followed",
            "filled",
            "passed_over",
        ),
        makes=("facts",),
    ),
    Stage(
        "check",
        _check,
        needs=("facts", "decisions"),
        makes=("causes",),
        parts=(
            "alike",
            "alike asked",
            "code days",
            "declared",
            "doubles",
            "empty",
            "exists",
            "groups",
            "held",
            "in form",
            "loops",
            "mended",
            "nobodies",
            "numbers",
            "own",
            "parents",
            "shift rows",
            "swaps",
            "taken",
            "turned",
            "unique",
            "wrong",
            "wrong rows",
        ),
        doing="Checking",
        weight=2,
    ),
    Stage(
        "compare",
        _compare,
        needs=("facts",),
        makes=("differing",),
        parts=("differs", "known rows"),
        doing="Comparing with the roster",
        weight=1,
    ),
    Stage(
        "check beyond",
        _check_beyond,
        needs=("facts", "decisions", "causes", "differing"),
        makes=("causes", "weights"),
        parts=("absent", "first rows", "group count", "group rows"),
    ),
    Stage(
        "settle",
        _settle,
        needs=("facts", "causes", "weights", "differing", "decisions"),
        makes=("outcomes", "is_in"),
    ),
    Stage("miss", _miss, needs=("facts", "decisions"), makes=("absences",), parts=("absent",)),
)
TOTAL = sum(stage.weight for stage in STAGES)  # of what progress counts


def draw_stages() -> str:
    """Draw the stages as a table, for ARCHITECTURE.md."""
    lines = ["| stage | needs | makes | told meanwhile |", "|---|---|---|---|"]
    for stage in STAGES:
        needs = ", ".join(stage.needs) or "inputs"
        lines.append(f"| {stage.name} | {needs} | {', '.join(stage.makes)} | {stage.doing} |")
    return "\n".join(lines) + "\n"
