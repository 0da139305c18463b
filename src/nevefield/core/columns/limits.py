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


def refuse_limits(one: Field, value: str) -> Problem | None:
    """Check a value against the field's constraints (Table Schema, "constraints")."""
    for part in value.split(SEVERAL) if one.several else (value,):
        if one.minimum and rank(one, part) < rank(one, one.minimum):
            word = "before" if one.type in ("date", "datetime") else "less than"
            return make_problem(
                one,
                "minimum",
                f"“{part}” is {word} {one.minimum}.",
                f"{one.title} is {word} {one.minimum}",
            )
        if one.maximum and rank(one, part) > rank(one, one.maximum):
            word = "after" if one.type in ("date", "datetime") else "more than"
            return make_problem(
                one,
                "maximum",
                f"“{part}” is {word} {one.maximum}.",
                f"{one.title} is {word} {one.maximum}",
            )
        if one.min_length is not None and len(part) < one.min_length:
            said = f"“{part}” has {len(part)} characters; at least {one.min_length} are needed."
            return make_problem(one, "minLength", said, f"{one.title} is too short")
        if one.max_length is not None and len(part) > one.max_length:
            said = f"“{part}” has {len(part)} characters; at most {one.max_length} fit."
            return make_problem(one, "maxLength", said, f"{one.title} is too long")
        if one.pattern and not matches(one.pattern, part):
            return _refuse_form(one, part)
        if one.enum and part not in one.enum:
            said = f"“{part}” is none of {', '.join(one.enum[:8])}."
            return make_problem(
                one, "enum", said, f"“{part}” is no {one.title.lower()}", group=part
            )
    return None


def _refuse_form(one: Field, text: str) -> Problem:
    """Say that a text has another form than it has to, and what it may have been: in plain
    letters, or with lost zeros.
    """
    said, title = f"“{text}” has not the form {one.pattern}.", f"{one.title} has another form"
    if one.several:
        return make_problem(one, "pattern", said, title)
    plain = plain_letters(text)
    if plain != text and matches(one.pattern, plain):
        title = f"{one.title} has letters that it cannot hold"
        return make_problem(
            one, "pattern", f"{said} In plain letters it has: {plain}.", title, suggestions=(plain,)
        )
    whole = next((zeros for zeros in _with_zeros(text) if matches(one.pattern, zeros)), "")
    if whole:
        title = f"{one.title}: leading zeros may be lost"
        said = f"{said} With the zeros that a spreadsheet takes away: {whole}."
        return make_problem(one, "pattern", said, title, suggestions=(whole,))
    return make_problem(one, "pattern", said, title)


def _with_zeros(text: str) -> Iterator[str]:
    """Give zeros back that a number may have lost: before it, one more each time, or behind the
    letters that it begins with.
    """
    letters = re.match(r"[^\W\d_]*", text[:20])
    head = letters[0] if letters else ""
    if len(text) <= MOST_DIGITS and text[len(head) :].isdecimal():
        for count in range(1, MOST_DIGITS - len(text) + 1):
            yield head + "0" * count + text[len(head) :]
