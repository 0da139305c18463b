"""What people do to an intake, as a list that only ever grows.

A step is one JSON object with a `kind`. Undoing is one more step, and so is doing again what was undone (an undo of the undo).
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from nevefield.core.errors import WrongStep
from nevefield.core.reading import ReadingChoice

if TYPE_CHECKING:
    from collections.abc import Sequence

__all__ = ["Decisions", "Step", "active_steps", "decide", "read_step"]

Text = Annotated[str, Field(max_length=20_000)]
Lines = Annotated[list[int], Field(min_length=1)]
Reason = Annotated[str, Field(min_length=1, max_length=1_000)]


class _Step(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class ReadingStep(_Step):
    """Overrule a part of the reading; parts left out stay as they are."""

    kind: Literal["reading"]
    header_line: int | None = None
    no_header: bool = False
    separator: Text = ""
    encoding: Text = ""
    sheet: Text = ""


class PairStep(_Step):
    """Send a column to a field, or (null) leave it in the file."""

    kind: Literal["pair"]
    heading: Text
    field: Text | None


class DateOrderStep(_Step):
    """Say whether day or month comes first in a column."""

    kind: Literal["date_order"]
    field: Text
    order: Literal["dmy", "mdy"]


class FillStep(_Step):
    """Fill a field in every row where it is blank."""

    kind: Literal["fill"]
    field: Text
    value: Text


class TranslateStep(_Step):
    """Say what texts of a field mean, for every row."""

    kind: Literal["translate"]
    field: Text
    texts: list[Text]
    to: Text


class Cell(_Step):
    """One cell and its new text; "" blanks it."""

    line: int
    field: Text
    value: Text


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


class WaiveStep(_Step):
    """Say yes, with a reason, to what a check asks about rows."""

    kind: Literal["waive"]
    check: Text
    field: Text | None
    lines: Lines
    reason: Reason


class CoverageStep(_Step):
    """Say what the file claims to be."""

    kind: Literal["coverage"]
    of: Literal["everybody", "listed"]


class AppliedStep(_Step):
    """The plan was applied as a change set. Written by the product only."""

    kind: Literal["applied"]
    change_set: int


class TakenBackStep(_Step):
    """A change set was taken back. Written by the product only."""

    kind: Literal["taken_back"]
    change_set: int


class UndoStep(_Step):
    """Undo an earlier step, by its number."""

    kind: Literal["undo"]
    step: int


Step = Annotated[
    ReadingStep
    | PairStep
    | DateOrderStep
    | FillStep
    | TranslateStep
    | SetStep
    | HoldStep
    | LeaveOutStep
    | ReleaseStep
    | WaiveStep
    | CoverageStep
    | AppliedStep
    | TakenBackStep
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
        raise WrongStep(f"The step is not right at {place or 'its kind'}: {first['msg'].lower()}.") from error


def active_steps(steps: Sequence[Any]) -> list[tuple[int, Any]]:
    """List the steps that hold, with their numbers from 1: those not undone, without the undos.

    >>> steps = [read_step({"kind": "coverage", "of": "everybody"}), read_step({"kind": "undo", "step": 1})]
    >>> active_steps(steps)
    []
    """
    undone: set[int] = set()
    for number in range(len(steps), 0, -1):
        step = steps[number - 1]
        if step.kind == "undo" and number not in undone:
            undone.add(step.step)
    return [(number, step) for number, step in enumerate(steps, 1) if step.kind != "undo" and number not in undone]


@dataclass
class Decisions:
    """What the steps that hold add up to."""

    reading: ReadingChoice = field(default_factory=ReadingChoice)
    pairs: dict[str, str | None] = field(default_factory=dict)
    orders: dict[str, str] = field(default_factory=dict)
    fills: dict[str, str] = field(default_factory=dict)
    translations: dict[tuple[str, str], str] = field(default_factory=dict)
    cells: dict[str, dict[int, str]] = field(default_factory=dict)  # field -> line -> text
    held: dict[int, str] = field(default_factory=dict)  # line -> reason
    left_out: dict[int, str] = field(default_factory=dict)
    waivers: dict[tuple[str, str | None, int], str] = field(default_factory=dict)  # check, field, line -> reason
    coverage: str = ""


def decide(steps: Sequence[Any], coverage: str = "listed") -> Decisions:
    """Add up the steps that hold, the later over the earlier.

    Args:
        steps: All of them, in their order.
        coverage: What the intake claims when no step says otherwise.
    """
    decisions = Decisions(coverage=coverage)
    for _, step in active_steps(steps):
        match step.kind:
            case "reading":
                said = {name: value for name, value in step.model_dump(exclude={"kind"}).items() if value}
                if "header_line" in said:
                    said["no_header"] = False
                elif said.get("no_header"):
                    said["header_line"] = None
                decisions.reading = ReadingChoice(**{**decisions.reading.__dict__, **said})
            case "pair":
                for heading in [h for h, f in decisions.pairs.items() if f is not None and f == step.field]:
                    del decisions.pairs[heading]
                decisions.pairs[step.heading] = step.field
            case "date_order":
                decisions.orders[step.field] = step.order
            case "fill":
                decisions.fills[step.field] = step.value
            case "translate":
                decisions.translations.update({(step.field, text): step.to for text in step.texts})
            case "set":
                for cell in step.cells:
                    decisions.cells.setdefault(cell.field, {})[cell.line] = cell.value
            case "hold":
                decisions.held.update(dict.fromkeys(step.lines, step.reason))
            case "leave_out":
                decisions.left_out.update(dict.fromkeys(step.lines, step.reason))
            case "release":
                for line in step.lines:
                    decisions.held.pop(line, None)
                    decisions.left_out.pop(line, None)
            case "waive":
                decisions.waivers.update({(step.check, step.field, line): step.reason for line in step.lines})
            case "coverage":
                decisions.coverage = step.of
    return decisions
