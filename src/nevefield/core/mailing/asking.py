"""What people are asked by a link of their own: whether what is kept of them is right, and to set
their password somewhere.
"""

from __future__ import annotations

from datetime import date, timedelta
from typing import TYPE_CHECKING, Annotated

import pyarrow as pa
from pydantic import BaseModel, ConfigDict, Field

from nevefield.core.columns.values import ValueContext, convert
from nevefield.core.errors import WrongTemplate
from nevefield.core.masking import sensitive_fields
from nevefield.core.table import Column
from nevefield.core.texts import near

if TYPE_CHECKING:
    from collections.abc import Mapping

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition
    from nevefield.core.definition import Field as RosterField

__all__ = ["MOST_TRIES", "Asks", "check_asks", "is_proof", "open_fields", "read_answer"]

MOST_FIELDS = 30
LONGEST_DAYS = 400
LONGEST_VALUE = 500
MOST_TRIES = 5  # with which somebody shows that it is they
Name = Annotated[str, Field(max_length=200)]


class Asks(BaseModel):
    """What those who are written to are asked, each by a link that works once."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    # to confirm or correct
    fields: Annotated[tuple[Name, ...], Field(max_length=MOST_FIELDS)] = ()
    last_day: date  # on which a link works
    proof: Name = ""  # a field whose value they say before anything is shown; "": none
    password_at: Name = ""  # the destination at which they set their own password; "": none


def check_asks(asks: Asks, definition: Definition, today: date) -> None:
    """See that what is asked can be, and shows nobody what is kept.

    Raises:
        WrongTemplate: With the place and what would be right.
    """
    if not asks.fields and not asks.password_at:
        raise WrongTemplate("fields", "are none: choose what they are to look at.")
    if not today <= asks.last_day <= today + timedelta(days=LONGEST_DAYS):
        raise WrongTemplate("last day", f"is over, or more than {LONGEST_DAYS} days away.")
    kept = sensitive_fields(definition)
    shown = {one.name for one in open_fields(asks, definition)}
    for name in asks.fields:
        if name not in definition.by_name:
            raise WrongTemplate(
                "fields",
                f"{definition.title} has no field “{name}”; {near(name, definition.by_name)}",
            )
        title = definition.title_of(name)
        if name in kept:
            raise WrongTemplate(
                "fields", f"{title} is kept from who may only look: it is not shown by a link."
            )
        if name not in shown:
            raise WrongTemplate(
                "fields", f"{title} is what records are known by: it is altered by the office only."
            )
    if asks.proof and asks.proof not in definition.by_name:
        other = near(asks.proof, definition.by_name)
        raise WrongTemplate("proof", f"{definition.title} has no field “{asks.proof}”; {other}")
    if asks.proof in asks.fields:
        raise WrongTemplate(
            "proof", f"{definition.title_of(asks.proof)} cannot be asked for and be shown."
        )


def open_fields(asks: Asks, definition: Definition) -> list[RosterField]:
    """List the fields that are shown and may be corrected, as the definition has them by now: what
    is kept meanwhile, or gone, is none of them.
    """
    never = sensitive_fields(definition) | set(definition.primary_key)
    return [
        definition.by_name[name]
        for name in asks.fields
        if name in definition.by_name and name not in never
    ]


def is_proof(
    field: RosterField, said: str, had: str, codes: Mapping[str, CodeList], today: date
) -> bool:
    """Tell whether somebody says the value that is kept of them; who has none cannot."""
    value, _ = _read(field, said, codes, today)
    return bool(had) and value.casefold() == had.casefold()


def read_answer(
    fields: list[RosterField],
    said: Mapping[str, str],
    had: Mapping[str, str],
    codes: Mapping[str, CodeList],
    today: date,
) -> tuple[dict[str, str], dict[str, str]]:
    """Read what somebody says of themselves.

    Args:
        fields: That they may correct.
        said: By field what they say, as it is typed; what is left out is right.
        had: By field what is kept.
        codes: The code lists.
        today: The day.

    Returns:
        By field what they say otherwise, as it is typed; and by field what is wrong with it.
    """
    corrected: dict[str, str] = {}
    problems: dict[str, str] = {}
    for field in fields:
        if field.name not in said:
            continue
        value, problem = _read(field, said[field.name], codes, today)
        if problem:
            problems[field.name] = problem
        elif value != had.get(field.name, ""):
            corrected[field.name] = field.typed(value)
            if not value and field.required:
                problems[field.name] = "is needed."
    return corrected, problems


def _read(
    field: RosterField, said: str, codes: Mapping[str, CodeList], today: date
) -> tuple[str, str]:
    """Read one value: as it is kept, and what is wrong with it."""
    text = said.strip()
    if len(text) > LONGEST_VALUE:
        return "", f"is longer than {LONGEST_VALUE} letters."
    if not text:
        return "", ""
    context = ValueContext(codes, frozenset(), today)
    typed = convert(field, Column.encode(pa.array([text], pa.string())), context)
    if typed.problems:
        return "", next(iter(typed.problems.values())).message
    return typed.stored.at(0) or "", ""
