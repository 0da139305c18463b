"""What is refused of a step: names that there are not, what was applied already, reasons and
days that will not do.
"""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.applied import numbers_of
from nevefield.core.changes.updating import rules_of
from nevefield.core.checking.waiving import PASSING, WHOLE
from nevefield.core.columns.days import say_day
from nevefield.core.conditions import check_condition
from nevefield.core.errors import WrongDefinition, WrongStep
from nevefield.core.placing.memberships import membership_of
from nevefield.core.steps.deciding import decide, last_receipt
from nevefield.core.steps.kinds import (
    AbsentStep,
    AppliedStep,
    CoverageStep,
    EndStep,
    KnownByStep,
    PairStep,
    ReadingStep,
    SplitStep,
    UndoStep,
    UpdateStep,
    WaiveStep,
)
from nevefield.core.texts import fold, near

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition
    from nevefield.core.steps.deciding import Decisions
    from nevefield.core.steps.kinds import Step

__all__ = [
    "must_end",
    "reasons_for",
    "refuse_moving",
    "refuse_past",
    "refuse_reason",
    "refuse_unknown",
]


def refuse_unknown(step: Step, definition: Definition) -> None:
    """See that a step names only fields that the roster has.

    Raises:
        WrongStep: With the name, and near ones.
    """
    for _, name in step.named():
        if name not in definition.by_name:
            raise WrongStep(
                f"There is no field “{name}” in {definition.title};"
                f" {near(name, definition.by_name)}"
            )
    match step:
        case UpdateStep():
            if step.rule not in (known := rules_of(definition.by_name[step.field])):
                raise WrongStep(
                    f"{definition.title_of(step.field)} cannot be “{step.rule}”; known are"
                    f" {', '.join(known)}."
                )
        case AbsentStep():
            _refuse_absent(step, definition)
        case EndStep():
            for end in step.ends:
                _refuse_day(step.field, end.day, definition)
        case CoverageStep():
            _refuse_coverage(step, definition)
        case KnownByStep():
            _refuse_keys(step, definition)


def _refuse_coverage(step: CoverageStep, definition: Definition) -> None:
    if step.of in ("people", "groups") and membership_of(definition) is None:
        raise WrongStep(
            f"A record of {definition.title} is no membership; it can claim everybody, a part, or"
            " only who is in it."
        )
    if step.of != "part":
        return
    if step.when is None:
        raise WrongStep("A part needs its condition, such as campus is NQ.")
    try:
        check_condition(step.when, "when", set(definition.by_name))
    except WrongDefinition as error:
        raise WrongStep(f"The condition of the part is not right: {error}") from error


def _refuse_keys(step: KnownByStep, definition: Definition) -> None:
    for key in step.keys or ():
        if key not in definition.possible_keys:
            named = " and ".join(definition.title_of(name) for name in key)
            known = "; ".join(
                " and ".join(map(definition.title_of, key)) for key in definition.possible_keys
            )
            raise WrongStep(
                f"{named} does not tell people apart in {definition.title}; known keys are"
                f" {known or 'none'}."
            )


def _refuse_absent(step: AbsentStep, definition: Definition) -> None:
    if step.act == "hold" and not step.reason.strip():
        raise WrongStep("Holding the absent needs a reason.")
    if step.act == "end":
        _refuse_day(step.field, step.day, definition)


def _refuse_day(name: str, text: str, definition: Definition) -> None:
    days = {field.name for field in definition.fields if field.type == "date"}
    if name not in days:
        raise WrongStep(f"“{name}” takes no day; {near(name, days)}")
    try:
        day = date.fromisoformat(text)
    except ValueError:
        day = None
    if day is None or day.isoformat() != text:
        raise WrongStep(f"“{text}” is no day; write it as 2026-09-30.")


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
    return any(check.options.get("ends") is True for check in mine)


def refuse_reason(
    step: Step, definition: Definition, codes: Mapping[str, CodeList], day: date
) -> None:
    """See that a waiver's reason begins with one that its check takes; what follows it is a note.
    So for its end day.

    Raises:
        WrongStep: With the reasons there are, or what is wrong with the end day.
    """
    if not isinstance(step, WaiveStep):
        return
    if (
        step.until is not None
        and step.check != "raised"
        and (step.check in PASSING or WHOLE in step.lines)
    ):
        raise WrongStep("This yes is for this file alone; it has no end day.")
    if step.until is not None and step.until < day:
        raise WrongStep(f"{say_day(step.until)} is over already; say a day from today on.")
    if step.field and step.until is None and must_end(step.check, step.field, definition):
        raise WrongStep(
            f"{definition.title_of(step.field)} is raised for a time only: say until which day."
        )
    reasons = reasons_for(step.check, step.field, definition, codes, day)
    if reasons and not any(fold(step.reason).startswith(fold(reason)) for reason in reasons):
        raise WrongStep(
            f"“{step.reason}” is no reason for this; choose one of: {'; '.join(reasons)}."
        )


def refuse_past(step: Step, steps: Sequence[Step]) -> None:
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
    applied = steps[receipt - 1]
    number = applied.change_set if isinstance(applied, AppliedStep) else 0
    if isinstance(step, UndoStep) and step.step <= receipt:
        raise WrongStep(
            f"This was done before receipt {number}; take that back first, then it can be undone."
        )
    if isinstance(step, ReadingStep):
        raise WrongStep(
            f"The file was applied as it is read, with receipt {number}; take that back first."
        )
    went_in = [numbers_of(ranges) for ranges in decide(steps).applied.went_in.values()]
    every = np.concatenate(went_in) if went_in else np.zeros(0, np.int64)
    inside = np.intersect1d(every, np.array(step.rows(), np.int64))
    if len(inside):
        raise WrongStep(
            f"Line {inside[0]} is in the roster since receipt {number}; alter the person there, or"
            " take the receipt back."
        )


def refuse_moving(step: Step, decisions: Decisions, definition: Definition) -> None:
    """See that sending a column to a field moves no other column that somebody has sent there,
    unless that is said.

    Args:
        step: The new one.
        decisions: What the steps before it add up to.
        definition: Of the roster.

    Raises:
        WrongStep: It would, with the columns and what to say.
    """
    match step:
        case PairStep(instead=False, beside=False):
            wanted: tuple[str | None, ...] = (step.field,)
        case SplitStep(instead=False):
            wanted = step.into
        case _:
            return
    held = {heading: [name] for heading, name in decisions.pairs.items() if name}
    held |= {heading: list(into) for heading, (_, into) in decisions.splits.items()}
    for heading, names in held.items():
        if heading != step.heading and (taken := [name for name in names if name in wanted]):
            raise WrongStep(
                f"“{heading}” was sent to {definition.title_of(taken[0])} by hand. "
                "Say whether both go there (beside) or this one in its place (instead)."
            )
