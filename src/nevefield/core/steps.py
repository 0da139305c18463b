"""What people do to an intake, as a list that only ever grows.

A step is one JSON object with a `kind`. Undoing is one more step, and so is doing again what was
undone (an undo of the undo).
"""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from typing import TYPE_CHECKING, Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from nevefield.core.applied import Applied, numbers_of
from nevefield.core.changes.updating import rules_of
from nevefield.core.checking.waiving import PASSING, WHOLE
from nevefield.core.columns.composing import Pattern
from nevefield.core.columns.days import say_day
from nevefield.core.columns.values import TURNED
from nevefield.core.conditions import check_condition
from nevefield.core.errors import WrongDefinition, WrongStep
from nevefield.core.placing.memberships import membership_of
from nevefield.core.reading import ReadingChoice
from nevefield.core.texts import fold, near

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping, Sequence

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition

__all__ = [
    "Decisions",
    "RecipeStep",
    "SourceSteps",
    "Step",
    "active_steps",
    "decide",
    "last_receipt",
    "must_end",
    "named_fields",
    "read_step",
    "reasons_for",
    "refuse_moving",
    "refuse_past",
    "refuse_reason",
    "refuse_unknown",
]

Text = Annotated[str, Field(max_length=20_000)]
Number = Annotated[int, Field(ge=-(2**53), le=2**53)]  # of a line or a record
Lines = Annotated[list[Number], Field(min_length=1)]
Reason = Annotated[str, Field(min_length=1, max_length=1_000)]


class _Step(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class ReadingStep(_Step):
    """Overrule a part of the reading; parts left out stay as they are."""

    kind: Literal["reading"]
    header_line: Number | None = None
    no_header: bool = False
    separator: Text = ""
    encoding: Text = ""
    sheet: Text = ""
    # of a recipe: what stood in the header's line, by which it is found again
    headings: tuple[Text, ...] = ()


class PairStep(_Step):
    """Send a column to a field, or (null) leave it in the file.

    Where somebody has sent another column there already: `beside` it, the texts put together, or
    `instead` of it.
    """

    kind: Literal["pair"]
    heading: Text
    field: Text | None
    beside: bool = False
    instead: bool = False


class Pairing(_Step):
    """One column and the field that it goes to."""

    heading: Text
    field: Text | None


class PairsStep(_Step):
    """Send several columns at once: what was guessed for all of them is right."""

    kind: Literal["pairs"]
    pairs: Annotated[tuple[Pairing, ...], Field(min_length=1, max_length=2_000)]


class SplitStep(_Step):
    """Cut a column that holds several fields: "Adair, Ines" at "," into family name and given
    names.
    """

    kind: Literal["split"]
    heading: Text
    at: Annotated[str, Field(min_length=1, max_length=10)]
    into: Annotated[tuple[Text, ...], Field(min_length=2, max_length=6)]
    instead: bool = False  # of the columns that somebody has sent to these fields


class DateOrderStep(_Step):
    """Say whether day or month comes first in a column; `turned` when a spreadsheet swapped them
    in its real dates.
    """

    kind: Literal["date_order"]
    field: Text
    order: Literal["dmy", "mdy"]
    turned: bool = False


class DecimalMarkStep(_Step):
    """Say whether a comma or a point stands before the decimals of a column."""

    kind: Literal["decimal_mark"]
    field: Text
    mark: Literal[",", "."]


class FillStep(_Step):
    """Fill a field where the file has nothing: for new people, and for those of whom the roster has
    nothing; "" fills no more.

    `over`: for everybody whose cell is empty, in place of what the roster has.
    """

    kind: Literal["fill"]
    field: Text
    value: Text
    over: bool = False


class ComposeStep(_Step):
    """Compose a field from others where neither the file nor the roster has a value; null
    composes it no more.
    """

    kind: Literal["compose"]
    field: Text
    pattern: Pattern | None


class TranslateStep(_Step):
    """Say what texts of a field mean, for every row."""

    kind: Literal["translate"]
    field: Text
    texts: list[Text]
    to: Text


class Cell(_Step):
    """One cell and its new text; "" blanks it."""

    line: Number
    field: Text
    value: Text
    # with "": what the record has is taken away too, whatever the field's rule
    empties: bool = False


class SetStep(_Step):
    """Put texts into single cells."""

    kind: Literal["set"]
    cells: Annotated[list[Cell], Field(min_length=1)]


class HoldStep(_Step):
    """Park rows with a reason."""

    kind: Literal["hold"]
    lines: Lines
    reason: Reason


class LeaveOutStep(_Step):
    """Leave rows out of the roster, with a reason."""

    kind: Literal["leave_out"]
    lines: Lines
    reason: Reason


class ReleaseStep(_Step):
    """Take rows that were held or left out back in."""

    kind: Literal["release"]
    lines: Lines


class Choice(_Step):
    """Who the row of a line is: a record by its number in the store; null for nobody in the
    roster.
    """

    line: Number
    record: Number | None


class PersonStep(_Step):
    """Say who rows are."""

    kind: Literal["person"]
    choices: Annotated[list[Choice], Field(min_length=1)]


class UndecidedStep(_Step):
    """Leave it to keys and likeness again who rows are."""

    kind: Literal["undecided"]
    lines: Lines


class LimitsStep(_Step):
    """Say from which scores on likeness settles who a row is, 0 to 100."""

    kind: Literal["limits"]
    certain: Annotated[float, Field(ge=50, le=100)]
    nobody: Annotated[float, Field(ge=0, le=50)]


class WaiveStep(_Step):
    """Say yes, with a reason, to what a check asks about rows; to a privilege that is gained
    also until which day, inclusive.
    """

    kind: Literal["waive"]
    check: Text
    field: Text | None
    lines: Lines
    reason: Reason
    until: date | None = None


class UpdateStep(_Step):
    """Say what becomes of a record's value when the file brings one; of all rows, or only of these
    lines.

    filled: the file's where it has one; file: the file's, an empty cell empties; ours: the roster's
    stays; blanks: only where the roster has none; add and remove: to and from a number, or to and
    from several values.
    """

    kind: Literal["update"]
    field: Text
    rule: Literal["filled", "file", "ours", "blanks", "add", "remove"]
    lines: list[Number] = []


class CoverageStep(_Step):
    """Say what the file claims to be: everybody, only the people in it, or everybody of whom a
    condition holds.

    Of memberships also: all that its people have, of the kinds that it has; or all that its groups
    have. `remember`: the source's later files too; else this one alone.
    """

    kind: Literal["coverage"]
    of: Literal["everybody", "listed", "part", "people", "groups"]
    when: dict[str, Any] | None = None
    remember: bool = False


class KnownByStep(_Step):
    """Say by which keys, in their order, rows are known; none: by likeness alone; null: by the
    roster's own.
    """

    kind: Literal["known_by"]
    keys: (
        Annotated[
            tuple[Annotated[tuple[Text, ...], Field(min_length=1)], ...], Field(max_length=20)
        ]
        | None
    )


class TakesStep(_Step):
    """Say whom the file is for: new people, people whom the roster has, or both; the rows of the
    others are left out.
    """

    kind: Literal["takes"]
    of: Literal["both", "new", "known"]


class AbsentStep(_Step):
    """Say what becomes of the absent: of all, or only of these records by their numbers.

    stay: nothing; leave: they are in the roster no more; end: a day is put into a field; hold:
    parked with a reason, for a look.
    """

    kind: Literal["absent"]
    act: Literal["stay", "leave", "end", "hold"]
    field: Text = ""
    day: Text = ""  # ISO 8601
    reason: Annotated[str, Field(max_length=1_000)] = ""
    records: list[Number] = []


class Ending(_Step):
    """A record, by its number, and the day on which it ends, ISO 8601."""

    record: Number
    day: Annotated[str, Field(max_length=10)]


class EndStep(_Step):
    """End records that are not in the file, because others take their place."""

    kind: Literal["end"]
    field: Text
    ends: Annotated[tuple[Ending, ...], Field(min_length=1)]


Ranges = tuple[tuple[int, int], ...]  # of rising numbers: each first and last


class OpenLines(_Step):
    """Lines that did not go in, and the fields of what stood in their way."""

    fields: tuple[Text, ...]
    lines: Ranges


class KeptScale(_Step):
    """How much each agreement between people counted: see `people.matching.Scale`."""

    same: dict[str, tuple[float, ...]]
    chance: dict[str, tuple[float, ...]]
    share: float
    records: Number


class AppliedStep(_Step):
    """The plan was applied as a change set. Written by the product only."""

    kind: Literal["applied"]
    change_set: int
    # field -> lines for which something was added or subtracted: once is enough
    counted: dict[str, tuple[int, ...]] = {}
    records: tuple[Choice, ...] = ()  # who those are who joined without a key that would tell
    went_in: dict[str, Ranges] = {}  # outcome -> lines that went in with it
    open: tuple[OpenLines, ...] = ()
    asked: Ranges = ()  # lines of which a person had to say who they are
    absent: int | None = None  # how many were absent; None in steps from before this was kept
    left: Ranges = ()  # absent records, by number, that neither ended nor left
    scale: KeptScale | None = None
    # lines that were left out by themselves: said twice, or not whom the file is for
    passed: Ranges = ()


class TakenBackStep(_Step):
    """A change set was taken back. Written by the product only."""

    kind: Literal["taken_back"]
    change_set: int


class SourceStep(_Step):
    """Say which source the file comes from; "" for none.

    `by`: a hand; whoever dropped it; our own request sheet; or a guess, which is only the product's
    and teaches nothing until somebody says the same.
    """

    kind: Literal["source"]
    name: Annotated[str, Field(max_length=120)]
    by: Literal["hand", "given", "sheet", "guess"] = "hand"
    why: Text = ""


SourceSteps = Annotated[
    ReadingStep
    | PairStep
    | SplitStep
    | DateOrderStep
    | DecimalMarkStep
    | FillStep
    | ComposeStep
    | TranslateStep
    | UpdateStep
    | KnownByStep
    | TakesStep
    | CoverageStep,
    Field(discriminator="kind"),
]


class RecipeStep(_Step):
    """Take over what was learnt from the source's earlier files. Written by the product only;
    undoing it forgets that.
    """

    kind: Literal["recipe"]
    source: Text
    version: int
    learnt: Text  # the day, ISO 8601
    steps: tuple[SourceSteps, ...]


class UndoStep(_Step):
    """Undo an earlier step, by its number."""

    kind: Literal["undo"]
    step: int


Step = Annotated[
    ReadingStep
    | PairStep
    | PairsStep
    | SplitStep
    | DateOrderStep
    | DecimalMarkStep
    | FillStep
    | ComposeStep
    | TranslateStep
    | SetStep
    | HoldStep
    | LeaveOutStep
    | ReleaseStep
    | WaiveStep
    | UpdateStep
    | PersonStep
    | UndecidedStep
    | LimitsStep
    | KnownByStep
    | TakesStep
    | CoverageStep
    | AbsentStep
    | EndStep
    | AppliedStep
    | TakenBackStep
    | SourceStep
    | RecipeStep
    | UndoStep,
    Field(discriminator="kind"),
]
_ADAPTER: TypeAdapter[Any] = TypeAdapter(Step)


def read_step(document: Any) -> Any:
    """Read one step from its JSON object.

    Raises:
        WrongStep: It is none, or a part is missing, unknown or of the wrong type.
    """
    try:
        return _ADAPTER.validate_python(document)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise WrongStep(
            f"The step is not right at {place or 'its kind'}: {first['msg'].lower()}."
        ) from error


def named_fields(step: Any) -> Iterator[tuple[str, str]]:
    """List the fields that a step is about, each with its place in the step."""
    if getattr(step, "field", None) and not (step.kind == "waive" and step.lines == [0]):
        yield "field", step.field
    for name in getattr(step, "into", ()):
        yield "into", name
    if step.kind == "compose" and step.pattern is not None:
        for piece in step.pattern.pieces:
            if piece.field:
                yield "pattern", piece.field
    for cell in getattr(step, "cells", ()):
        yield "cells", cell.field
    for one in getattr(step, "pairs", ()):
        if one.field:
            yield "pairs", one.field
    for key in getattr(step, "keys", None) or ():
        for name in key:
            yield "keys", name


def refuse_unknown(step: Any, definition: Definition) -> None:
    """See that a step names only fields that the roster has.

    Raises:
        WrongStep: With the name, and near ones.
    """
    for _, name in named_fields(step):
        if name not in definition.by_name:
            raise WrongStep(
                f"There is no field {name!r} in {definition.title};"
                f" {near(name, definition.by_name)}"
            )
    if step.kind == "update" and step.rule not in (
        known := rules_of(definition.by_name[step.field])
    ):
        raise WrongStep(
            f"{definition.title_of(step.field)} cannot be {step.rule!r}; known are"
            f" {', '.join(known)}."
        )
    if step.kind == "absent":
        _refuse_absent(step, definition)
    if step.kind == "end":
        for one in step.ends:
            _refuse_day(step.field, one.day, definition)
    if (
        step.kind == "coverage"
        and step.of in ("people", "groups")
        and membership_of(definition) is None
    ):
        raise WrongStep(
            f"A record of {definition.title} is no membership; it can claim everybody, a part, or"
            " only who is in it."
        )
    if step.kind == "known_by":
        _refuse_keys(step, definition)
    if step.kind == "coverage" and step.of == "part":
        if step.when is None:
            raise WrongStep("A part needs its condition, such as campus is NQ.")
        try:
            check_condition(step.when, "when", set(definition.by_name))
        except WrongDefinition as error:
            raise WrongStep(f"The condition of the part is not right: {error}") from error


def _refuse_keys(step: Any, definition: Definition) -> None:
    for key in step.keys or ():
        if key not in definition.possible_keys:
            named = " and ".join(definition.title_of(name) for name in key)
            known = "; ".join(
                " and ".join(map(definition.title_of, one)) for one in definition.possible_keys
            )
            raise WrongStep(
                f"{named} does not tell people apart in {definition.title}; known keys are"
                f" {known or 'none'}."
            )


def _refuse_absent(step: Any, definition: Definition) -> None:
    if step.act == "hold" and not step.reason.strip():
        raise WrongStep("Holding the absent needs a reason.")
    if step.act == "end":
        _refuse_day(step.field, step.day, definition)


def _refuse_day(name: str, text: str, definition: Definition) -> None:
    days = {one.name for one in definition.fields if one.type == "date"}
    if name not in days:
        raise WrongStep(f"{name!r} takes no day; {near(name, days)}")
    try:
        day = date.fromisoformat(text)
    except ValueError:
        day = None
    if day is None or day.isoformat() != text:
        raise WrongStep(f"{text!r} is no day; write it as 2026-09-30.")


def reasons_for(
    check: str,
    field_name: str | None,
    definition: Definition,
    codes: Mapping[str, CodeList],
    day: date,
) -> list[str]:
    """List the reasons of which one is needed to let in what a check asks about; none where any
    reason will do.

    Args:
        check: The check's name.
        field_name: The field that it asks about.
        definition: Of the roster.
        codes: Code lists by name.
        day: On which the reasons must be in use.
    """
    names = [
        one.options["reasons"]
        for one in definition.checks
        if one.check == check and field_name in one.fields and one.options.get("reasons")
    ]
    return [
        code.label or code.code
        for name in names
        if name in codes
        for code in codes[name].codes
        if code.is_used(day)
    ]


def must_end(check: str, field_name: str | None, definition: Definition) -> bool:
    """Tell whether what a check asks about is let in for a time only."""
    mine = (one for one in definition.checks if one.check == check and field_name in one.fields)
    return any(one.options.get("ends") is True for one in mine)


def refuse_reason(
    step: Any, definition: Definition, codes: Mapping[str, CodeList], day: date
) -> None:
    """See that a waiver's reason begins with one that its check takes; what follows it is a note.
    So for its end day.

    Raises:
        WrongStep: With the reasons there are, or what is wrong with the end day.
    """
    if step.kind != "waive":
        return
    if (
        step.until is not None
        and step.check != "raised"
        and (step.check in PASSING or WHOLE in step.lines)
    ):
        raise WrongStep("This yes is for this file alone; it has no end day.")
    if step.until is not None and step.until < day:
        raise WrongStep(f"{say_day(step.until)} is over already; say a day from today on.")
    if step.until is None and must_end(step.check, step.field, definition):
        raise WrongStep(
            f"{definition.title_of(step.field)} is raised for a time only: say until which day."
        )
    reasons = reasons_for(step.check, step.field, definition, codes, day)
    if reasons and not any(fold(step.reason).startswith(fold(one)) for one in reasons):
        raise WrongStep(
            f"{step.reason!r} is no reason for this; choose one of: {'; '.join(reasons)}."
        )


def active_steps(steps: Sequence[Any]) -> list[tuple[int, Any]]:
    """List the steps that hold, with their numbers from 1: those not undone, without the undos.

    >>> steps = [read_step({"kind": "coverage", "of": "everybody"}), read_step({"kind": "undo", "step": 1})]
    >>> active_steps(steps)
    []
    """  # noqa: E501
    undone: set[int] = set()
    for number in range(len(steps), 0, -1):
        step = steps[number - 1]
        if step.kind == "undo" and number not in undone:
            undone.add(step.step)
    return [
        (number, step)
        for number, step in enumerate(steps, 1)
        if step.kind != "undo" and number not in undone
    ]


def last_receipt(steps: Sequence[Any]) -> int:
    """Return the number of the step with which the intake was last applied and which was not
    taken back; 0 for none.
    """
    back = {step.change_set for step in steps if step.kind == "taken_back"}
    standing = (
        number
        for number, step in enumerate(steps, 1)
        if step.kind == "applied" and step.change_set not in back
    )
    return max(standing, default=0)


def refuse_past(step: Any, steps: Sequence[Any]) -> None:
    """See that a step leaves alone what was applied: steps behind a receipt, and lines that went
    in.

    Args:
        step: The new one.
        steps: All before it.

    Raises:
        WrongStep: It does not.
    """
    receipt = last_receipt(steps)
    if not receipt:
        return
    number = steps[receipt - 1].change_set
    if step.kind == "undo" and step.step <= receipt:
        raise WrongStep(
            f"This was done before receipt {number}; take that back first, then it can be undone."
        )
    if step.kind == "reading":
        raise WrongStep(
            f"The file was applied as it is read, with receipt {number}; take that back first."
        )
    went_in = [numbers_of(ranges) for ranges in decide(steps).applied.went_in.values()]
    lines = [
        one.line for one in (*getattr(step, "cells", ()), *getattr(step, "choices", ()))
    ] or getattr(step, "lines", [])
    every = np.concatenate(went_in) if went_in else np.zeros(0, np.int64)
    inside = np.intersect1d(every, np.array(lines, np.int64))
    if len(inside):
        raise WrongStep(
            f"Line {inside[0]} is in the roster since receipt {number}; alter the person there, or"
            " take the receipt back."
        )


def refuse_moving(step: Any, decisions: Decisions, definition: Definition) -> None:
    """See that sending a column to a field moves no other column that somebody has sent there,
    unless that is said.

    Args:
        step: The new one.
        decisions: What the steps before it add up to.
        definition: Of the roster.

    Raises:
        WrongStep: It would, with the columns and what to say.
    """
    if step.kind not in ("pair", "split") or step.instead or getattr(step, "beside", False):
        return
    wanted = step.into if step.kind == "split" else (step.field,)
    held = {heading: [name] for heading, name in decisions.pairs.items() if name}
    held |= {heading: list(into) for heading, (_, into) in decisions.splits.items()}
    for heading, names in held.items():
        if heading != step.heading and (taken := [name for name in names if name in wanted]):
            raise WrongStep(
                f"“{heading}” was sent to {definition.title_of(taken[0])} by hand. "
                "Say whether both go there (beside) or this one in its place (instead)."
            )


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
    part: dict[str, Any] | None = None  # the condition of a coverage of a part
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


def decide(steps: Sequence[Any], coverage: str = "listed") -> Decisions:
    """Add up the steps that hold, the later over the earlier.

    Args:
        steps: All of them, in their order.
        coverage: What the intake claims when no step says otherwise.
    """
    decisions = Decisions(coverage=coverage)
    holding = [step for _, step in active_steps(steps)]
    # What was learnt lies under what was decided here, whenever it was taken over.
    name = next((step.name for step in reversed(holding) if step.kind == "source"), None)
    recipes = (
        step for step in reversed(holding) if step.kind == "recipe" and name in (None, step.source)
    )
    decisions.recipe = next(recipes, None)
    for learnt in decisions.recipe.steps if decisions.recipe else ():
        _learn(decisions, learnt)
    for step in holding:
        _take(decisions, step)
        if step.kind == "coverage":
            decisions.claim_remembered = step.remember
        decisions.applied = decisions.applied.touched(step)
    return decisions


def _learn(decisions: Decisions, step: Any) -> None:
    """Take a step of a recipe: pairs and orders of last time are evidence, all else holds until
    a later step.
    """
    if step.kind == "pair":
        decisions.last[step.heading] = step.field
    elif step.kind == "split":
        decisions.last_splits[step.heading] = (step.at, step.into)
    elif step.kind == "date_order":
        decisions.last_orders[step.field] = step.order
    elif step.kind == "decimal_mark":
        decisions.last_marks[step.field] = step.mark
    else:
        _take(decisions, step)


def _take(decisions: Decisions, step: Any) -> None:
    match step.kind:
        case "reading":
            said = {
                name: value for name, value in step.model_dump(exclude={"kind"}).items() if value
            }
            if "header_line" in said:
                said = {"headings": (), "no_header": False} | said
            elif said.get("no_header"):
                said["header_line"] = None
            decisions.reading = ReadingChoice(**{**decisions.reading.__dict__, **said})
        case "pair":
            _pair(decisions, step.heading, step.field, step.beside)
        case "pairs":
            for one in step.pairs:
                _pair(decisions, one.heading, one.field, beside=False)
        case "split":
            for field_name in step.into:
                _free(decisions, field_name)
            decisions.pairs.pop(step.heading, None)
            decisions.splits[step.heading] = (step.at, step.into)
        case "date_order":
            decisions.orders[step.field] = step.order + (TURNED if step.turned else "")
        case "decimal_mark":
            decisions.marks[step.field] = step.mark
        case "fill":
            decisions.fills[step.field] = step.value
            (decisions.fills_over.add if step.over else decisions.fills_over.discard)(step.field)
        case "compose":
            decisions.composed.pop(step.field, None)
            if step.pattern is not None:
                decisions.composed[step.field] = step.pattern
        case "translate":
            decisions.translations.update({(step.field, text): step.to for text in step.texts})
        case "set":
            for cell in step.cells:
                decisions.cells.setdefault(cell.field, {})[cell.line] = cell.value
                if cell.empties:
                    decisions.row_rules.setdefault(cell.field, {})[cell.line] = "file"
        case "hold":
            decisions.held.update(dict.fromkeys(step.lines, step.reason))
        case "leave_out":
            decisions.left_out.update(dict.fromkeys(step.lines, step.reason))
        case "release":
            for line in step.lines:
                decisions.held.pop(line, None)
                decisions.left_out.pop(line, None)
        case "waive":
            decisions.waivers.update(
                {(step.check, step.field, line): step.reason for line in step.lines}
            )
            if step.until is not None:
                decisions.waived_until.update(
                    {(step.check, step.field, line): step.until for line in step.lines}
                )
            if step.until is not None and step.check == "raised":
                decisions.ends.update({(step.field, line): step.until for line in step.lines})
        case "person":
            decisions.people.update({one.line: one.record for one in step.choices})
        case "undecided":
            for line in step.lines:
                decisions.people.pop(line, None)
        case "applied":  # who was nobody in the roster is in it now
            rows = {name: dict(lines) for name, lines in decisions.row_rules.items()}
            decisions.before[step.change_set] = (dict(decisions.people), rows, decisions.applied)
            decisions.applied = decisions.applied.after(step)
            decisions.people.update({one.line: one.record for one in step.records})
            for name, lines in step.counted.items():
                decisions.row_rules.setdefault(name, {}).update(dict.fromkeys(lines, "ours"))
        case "taken_back":
            known = decisions.before.get(step.change_set)
            if known is not None:
                decisions.people, decisions.row_rules, decisions.applied = known
        case "update":
            if step.lines:
                decisions.row_rules.setdefault(step.field, {}).update(
                    dict.fromkeys(step.lines, step.rule)
                )
            else:
                decisions.rules[step.field] = step.rule
                decisions.row_rules.pop(step.field, None)
        case "absent":
            if step.records:
                decisions.absent_of.update(dict.fromkeys(step.records, step))
            else:
                decisions.absent, decisions.absent_of = step, {}
        case "end":
            for one in step.ends:
                decisions.end_beside[one.record] = AbsentStep(
                    kind="absent", act="end", field=step.field, day=one.day
                )
        case "known_by":
            decisions.keys = step.keys
        case "takes":
            decisions.takes = step.of
        case "limits":
            decisions.limits = (step.certain, step.nobody)
        case "coverage":
            decisions.coverage, decisions.part = step.of, step.when
        case "source":
            decisions.source = step
        case "recipe":
            pass  # lies under all others: see `decide`
        case other:
            raise WrongStep(f"Nobody here knows what a step {other!r} does.")


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
