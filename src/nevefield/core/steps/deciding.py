"""What the steps that hold add up to."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from typing import TYPE_CHECKING, assert_never

from nevefield.core.applied import Applied
from nevefield.core.borders import Foreign, Json
from nevefield.core.columns.composing import Pattern
from nevefield.core.columns.dated import TURNED
from nevefield.core.reading import ReadingChoice
from nevefield.core.steps.kinds import (
    AbsentStep,
    AppliedStep,
    ComposeStep,
    CoverageStep,
    DateOrderStep,
    DecimalMarkStep,
    EndStep,
    FillStep,
    HoldStep,
    KnownByStep,
    LeaveOutStep,
    LimitsStep,
    PairsStep,
    PairStep,
    PersonStep,
    ReadingStep,
    RecipeStep,
    ReleaseStep,
    SetStep,
    SourceStep,
    SplitStep,
    TakenBackStep,
    TakesStep,
    TranslateStep,
    UndecidedStep,
    UndoStep,
    UpdateStep,
    WaiveStep,
)

if TYPE_CHECKING:
    from collections.abc import Sequence

    from nevefield.core.steps.kinds import SourceStepKind, Step

__all__ = ["Decisions", "active_steps", "decide", "last_receipt"]


def active_steps(steps: Sequence[Step]) -> list[tuple[int, Step]]:
    """List the steps that hold, with their numbers from 1: those not undone, without the undos.

    >>> whole = CoverageStep(kind="coverage", of="everybody")
    >>> kept = whole, UndoStep(kind="undo", step=1), whole
    >>> [number for number, step in active_steps(kept)]
    [3]
    """
    undone: set[int] = set()
    for number in range(len(steps), 0, -1):
        step = steps[number - 1]
        if isinstance(step, UndoStep) and number not in undone:
            undone.add(step.step)
    return [
        (number, step)
        for number, step in enumerate(steps, 1)
        if not isinstance(step, UndoStep) and number not in undone
    ]


def last_receipt(steps: Sequence[Step]) -> int:
    """Return the number of the step with which the intake was last applied and which was not
    taken back; 0 for none.
    """
    back = {step.change_set for step in steps if isinstance(step, TakenBackStep)}
    standing = (
        number
        for number, step in enumerate(steps, 1)
        if isinstance(step, AppliedStep) and step.change_set not in back
    )
    return max(standing, default=0)


@dataclass
class Decisions:
    """What the steps that hold add up to."""

    reading: ReadingChoice = field(default_factory=ReadingChoice)
    pairs: dict[str, str | None] = field(default_factory=dict)
    beside: set[str] = field(default_factory=set)  # headings of `pairs` that share their field
    # heading -> where it is cut, into what
    splits: dict[str, tuple[str, tuple[str, ...]]] = field(default_factory=dict)
    orders: dict[str, str] = field(default_factory=dict)
    marks: dict[str, str] = field(default_factory=dict)  # field -> decimal mark
    fills: dict[str, str] = field(default_factory=dict)
    # fields that are filled in place of what the roster has
    fills_over: set[str] = field(default_factory=set)
    composed: dict[str, Pattern] = field(default_factory=dict)
    translations: dict[tuple[str, str], str] = field(default_factory=dict)
    cells: dict[str, dict[int, str]] = field(default_factory=dict)  # field -> line -> text
    held: dict[int, str] = field(default_factory=dict)  # line -> reason
    left_out: dict[int, str] = field(default_factory=dict)
    # check, field, line -> reason
    waivers: dict[tuple[str, str | None, int], str] = field(default_factory=dict)
    # check, field, line -> last day of a yes
    waived_until: dict[tuple[str, str | None, int], date] = field(default_factory=dict)
    # field, line -> last day of what is gained there
    ends: dict[tuple[str | None, int], date] = field(default_factory=dict)
    # line -> record by number, None for nobody
    people: dict[int, int | None] = field(default_factory=dict)
    rules: dict[str, str] = field(default_factory=dict)  # field -> update rule
    # field -> line -> update rule
    row_rules: dict[str, dict[int, str]] = field(default_factory=dict)
    # what is kept of the times that it was applied and not taken back
    applied: Applied = field(default_factory=Applied)
    # By change set: `people`, `row_rules` and `applied` before it was applied.
    before: dict[int, tuple[dict[int, int | None], dict[str, dict[int, str]], Applied]] = field(
        default_factory=dict
    )
    limits: tuple[float, float] | None = None  # certain and nobody, 0 to 100
    coverage: str = ""
    absent: AbsentStep | None = None  # what becomes of the absent
    # record by number -> what becomes of it in particular
    absent_of: dict[int, AbsentStep] = field(default_factory=dict)
    # record by number that ends for another -> on which day
    end_beside: dict[int, AbsentStep] = field(default_factory=dict)
    part: dict[str, Json] | None = None  # the condition of a coverage of a part
    # whether the coverage said here is the source's from now on; None: none was said here
    claim_remembered: bool | None = None
    # by which rows are known; None: by the roster's own
    keys: tuple[tuple[str, ...], ...] | None = None
    takes: str = "both"  # whom the file is for: new, known, both
    source: SourceStep | None = None  # the last that was said
    recipe: RecipeStep | None = None
    # heading -> field, as the recipe has it
    last: dict[str, str | None] = field(default_factory=dict)
    last_splits: dict[str, tuple[str, tuple[str, ...]]] = field(default_factory=dict)
    last_orders: dict[str, str] = field(default_factory=dict)
    last_marks: dict[str, str] = field(default_factory=dict)


def decide(steps: Sequence[Step], coverage: str = "listed") -> Decisions:
    """Add up the steps that hold, the later over the earlier.

    Args:
        steps: All of them, in their order.
        coverage: What the intake claims when no step says otherwise.
    """
    decisions = Decisions(coverage=coverage)
    holding = [step for _, step in active_steps(steps)]
    # What was learnt lies under what was decided here, whenever it was taken over.
    name = next((step.name for step in reversed(holding) if isinstance(step, SourceStep)), None)
    recipes = (
        step
        for step in reversed(holding)
        if isinstance(step, RecipeStep) and name in (None, step.source)
    )
    decisions.recipe = next(recipes, None)
    for learnt in decisions.recipe.steps if decisions.recipe else ():
        _learn(decisions, learnt)
    for step in holding:
        _take(decisions, step)
        if isinstance(step, CoverageStep):
            decisions.claim_remembered = step.remember
        decisions.applied = decisions.applied.touched(step)
    return decisions


def _learn(decisions: Decisions, step: SourceStepKind) -> None:
    """Take a step of a recipe: pairs and orders of last time are evidence, all else holds until
    a later step.
    """
    match step:
        case PairStep():
            decisions.last[step.heading] = step.field
        case SplitStep():
            decisions.last_splits[step.heading] = (step.at, step.into)
        case DateOrderStep():
            decisions.last_orders[step.field] = step.order
        case DecimalMarkStep():
            decisions.last_marks[step.field] = step.mark
        case _:
            _take(decisions, step)


def _take(decisions: Decisions, step: Step) -> None:
    """Let one step do to the decisions what its kind does."""
    match step:
        case ReadingStep():
            _read(decisions, step)
        case PairStep():
            _pair(decisions, step.heading, step.field, step.beside)
        case PairsStep():
            for pair in step.pairs:
                _pair(decisions, pair.heading, pair.field, beside=False)
        case SplitStep():
            _split(decisions, step)
        case DateOrderStep():
            decisions.orders[step.field] = step.order + (TURNED if step.turned else "")
        case DecimalMarkStep():
            decisions.marks[step.field] = step.mark
        case FillStep():
            decisions.fills[step.field] = step.value
            (decisions.fills_over.add if step.over else decisions.fills_over.discard)(step.field)
        case ComposeStep():
            decisions.composed.pop(step.field, None)
            if step.pattern is not None:
                decisions.composed[step.field] = step.pattern
        case TranslateStep():
            decisions.translations.update({(step.field, text): step.to for text in step.texts})
        case SetStep():
            _set(decisions, step)
        case HoldStep():
            decisions.held.update(dict.fromkeys(step.lines, step.reason))
        case LeaveOutStep():
            decisions.left_out.update(dict.fromkeys(step.lines, step.reason))
        case ReleaseStep():
            _drop(decisions.held, step.lines)
            _drop(decisions.left_out, step.lines)
        case WaiveStep():
            _waive(decisions, step)
        case PersonStep():
            decisions.people.update({choice.line: choice.record for choice in step.choices})
        case UndecidedStep():
            _drop(decisions.people, step.lines)
        case AppliedStep():
            _apply(decisions, step)
        case TakenBackStep():
            if (before := decisions.before.get(step.change_set)) is not None:
                decisions.people, decisions.row_rules, decisions.applied = before
        case UpdateStep():
            _update(decisions, step)
        case AbsentStep():
            if step.records:
                decisions.absent_of.update(dict.fromkeys(step.records, step))
            else:
                decisions.absent, decisions.absent_of = step, {}
        case EndStep():
            for end in step.ends:
                decisions.end_beside[end.record] = AbsentStep(
                    kind="absent", act="end", field=step.field, day=end.day
                )
        case KnownByStep():
            decisions.keys = step.keys
        case TakesStep():
            decisions.takes = step.of
        case LimitsStep():
            decisions.limits = (step.certain, step.nobody)
        case CoverageStep():
            decisions.coverage, decisions.part = step.of, step.when
        case SourceStep():
            decisions.source = step
        case RecipeStep() | UndoStep():
            # a recipe lies under all others, and no undo is among the steps that hold: see `decide`
            pass
        case kind:
            assert_never(kind)


def _read(decisions: Decisions, step: ReadingStep) -> None:
    said = {name: value for name, value in step.model_dump(exclude={"kind"}).items() if value}
    if "header_line" in said:
        said = {"headings": (), "no_header": False} | said
    elif said.get("no_header"):
        said["header_line"] = None
    decisions.reading = ReadingChoice(**{**decisions.reading.__dict__, **said})


def _split(decisions: Decisions, step: SplitStep) -> None:
    for name in step.into:
        _free(decisions, name)
    decisions.pairs.pop(step.heading, None)
    decisions.splits[step.heading] = (step.at, step.into)


def _set(decisions: Decisions, step: SetStep) -> None:
    for cell in step.cells:
        decisions.cells.setdefault(cell.field, {})[cell.line] = cell.value
        if cell.empties:
            decisions.row_rules.setdefault(cell.field, {})[cell.line] = "file"


def _drop(kept: dict[int, Foreign], lines: Sequence[int]) -> None:
    for line in lines:
        kept.pop(line, None)


def _waive(decisions: Decisions, step: WaiveStep) -> None:
    decisions.waivers.update({(step.check, step.field, line): step.reason for line in step.lines})
    if step.until is None:
        return
    decisions.waived_until.update(
        {(step.check, step.field, line): step.until for line in step.lines}
    )
    if step.check == "raised":
        decisions.ends.update({(step.field, line): step.until for line in step.lines})


def _apply(decisions: Decisions, step: AppliedStep) -> None:
    """Keep what stood before, and know who was nobody in the roster: they are in it now."""
    rows = {name: dict(lines) for name, lines in decisions.row_rules.items()}
    decisions.before[step.change_set] = (dict(decisions.people), rows, decisions.applied)
    decisions.applied = decisions.applied.after(step)
    decisions.people.update({choice.line: choice.record for choice in step.records})
    for name, lines in step.counted.items():
        decisions.row_rules.setdefault(name, {}).update(dict.fromkeys(lines, "ours"))


def _update(decisions: Decisions, step: UpdateStep) -> None:
    if step.lines:
        decisions.row_rules.setdefault(step.field, {}).update(dict.fromkeys(step.lines, step.rule))
    else:
        decisions.rules[step.field] = step.rule
        decisions.row_rules.pop(step.field, None)


def _pair(decisions: Decisions, heading: str, name: str | None, beside: bool) -> None:
    decisions.splits.pop(heading, None)
    decisions.beside.discard(heading)
    if name is not None and not beside:
        _free(decisions, name)
    elif name is not None:
        decisions.beside.add(heading)
        decisions.beside.update(other for other, sent in decisions.pairs.items() if sent == name)
    decisions.pairs[heading] = name


def _free(decisions: Decisions, name: str) -> None:
    """Let go of the columns that were sent to a field by hand."""
    for heading in [heading for heading, sent in decisions.pairs.items() if sent == name]:
        del decisions.pairs[heading]
        decisions.beside.discard(heading)
    for heading in [heading for heading, (_, into) in decisions.splits.items() if name in into]:
        del decisions.splits[heading]
