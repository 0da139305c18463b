"""Limits that a field sets to its values: length, range, pattern, choices."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from nevefield.core.columns.outcome import Problem, make_problem
from nevefield.core.columns.plain import rank
from nevefield.core.patterns import matches
from nevefield.core.texts import SEVERAL, plain_letters

if TYPE_CHECKING:
    from collections.abc import Iterator

    from nevefield.core.definition import Field

__all__ = ["refuse_limits"]


MOST_DIGITS = 20  # of a number that may have lost its zeros


def refuse_limits(field: Field, value: str) -> Problem | None:
    """Check a value against the field's constraints (Table Schema, "constraints")."""
    for part in value.split(SEVERAL) if field.several else (value,):
        if field.minimum and rank(field, part) < rank(field, field.minimum):
            word = "before" if field.type in ("date", "datetime") else "less than"
            return make_problem(
                field,
                "minimum",
                f"“{part}” is {word} {field.minimum}.",
                f"{field.title} is {word} {field.minimum}",
            )
        if field.maximum and rank(field, part) > rank(field, field.maximum):
            word = "after" if field.type in ("date", "datetime") else "more than"
            return make_problem(
                field,
                "maximum",
                f"“{part}” is {word} {field.maximum}.",
                f"{field.title} is {word} {field.maximum}",
            )
        if field.min_length is not None and len(part) < field.min_length:
            message = (
                f"“{part}” has {len(part)} characters; at least {field.min_length} are needed."
            )
            return make_problem(field, "minLength", message, f"{field.title} is too short")
        if field.max_length is not None and len(part) > field.max_length:
            message = f"“{part}” has {len(part)} characters; at most {field.max_length} fit."
            return make_problem(field, "maxLength", message, f"{field.title} is too long")
        if field.pattern and not matches(field.pattern, part):
            return _refuse_form(field, part)
        if field.enum and part not in field.enum:
            message = f"“{part}” is none of {', '.join(field.enum[:8])}."
            return make_problem(
                field, "enum", message, f"“{part}” is no {field.title.lower()}", group=part
            )
    return None


def _refuse_form(field: Field, text: str) -> Problem:
    """Say that a text has another form than it has to, and what it may have been: in plain
    letters, or with lost zeros.
    """
    message, title = (
        f"“{text}” has not the form {field.pattern}.",
        f"{field.title} has another form",
    )
    if field.several:
        return make_problem(field, "pattern", message, title)
    plain = plain_letters(text)
    if plain != text and matches(field.pattern, plain):
        title = f"{field.title} has letters that it cannot hold"
        return make_problem(
            field,
            "pattern",
            f"{message} In plain letters it has: {plain}.",
            title,
            suggestions=(plain,),
        )
    whole = next((zeros for zeros in _with_zeros(text) if matches(field.pattern, zeros)), "")
    if whole:
        title = f"{field.title}: leading zeros may be lost"
        message = f"{message} With the zeros that a spreadsheet takes away: {whole}."
        return make_problem(field, "pattern", message, title, suggestions=(whole,))
    return make_problem(field, "pattern", message, title)


def _with_zeros(text: str) -> Iterator[str]:
    """Give zeros back that a number may have lost: before it, one more each time, or behind the
    letters that it begins with.
    """
    letters = re.match(r"[^\W\d_]*", text[:20])
    head = letters[0] if letters else ""
    if len(text) <= MOST_DIGITS and text[len(head) :].isdecimal():
        for count in range(1, MOST_DIGITS - len(text) + 1):
            yield head + "0" * count + text[len(head) :]
