"""A text with fields: `Dear {given_names}`, filled with the values of a record."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING

from nevefield.core.columns.days import say_day
from nevefield.core.errors import WrongTemplate
from nevefield.core.masking import sensitive_fields
from nevefield.core.texts import SEVERAL, near

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition, Field

__all__ = [
    "LAST_DAY",
    "LINK",
    "Filled",
    "Template",
    "check_template",
    "fields_in",
    "fill",
    "say_value",
]

HOLE = re.compile(r"\{([^{}]{0,200})\}")
MOST_SUBJECT, MOST_TEXT, MOST_ADDRESS = 200, 20_000, 400
# what else may stand in braces where those who are written to are asked something; no field's name
# has a space
LINK, LAST_DAY = "their link", "the last day"


@dataclass(frozen=True)
class Template:
    """What is written to somebody; a field's name in braces stands for its value."""

    subject: str
    text: str
    address: str = ""  # as it stands on paper


@dataclass(frozen=True)
class Filled:
    """What is written to one of them."""

    subject: str
    text: str
    address: str = ""
    lacking: tuple[str, ...] = ()  # fields that have no value, in their order


def fields_in(template: Template) -> tuple[str, ...]:
    """List the fields that a template names, each once.

    >>> fields_in(Template("For {name}", "Dear {name}, {day} it is."))
    ('name', 'day')
    """
    found = [name.strip() for _, text, _ in _parts(template) for name in HOLE.findall(text)]
    return tuple(name for name in dict.fromkeys(found) if name not in (LINK, LAST_DAY))


def _parts(template: Template) -> tuple[tuple[str, str, int], ...]:
    """List the places of a template, the text there, and how long it may be."""
    return (
        ("subject", template.subject, MOST_SUBJECT),
        ("text", template.text, MOST_TEXT),
        ("address", template.address, MOST_ADDRESS),
    )


def check_template(template: Template, definition: Definition, *, asks: bool = False) -> None:
    """See that a template can be filled from a roster, and tells nobody what is kept.

    Args:
        template: The template.
        definition: Of the roster.
        asks: Whether each of them gets a link.

    Raises:
        WrongTemplate: With the place and what would be right.
    """
    for place, text, most in _parts(template):
        if not text.strip() and place != "address":
            raise WrongTemplate(place, "is empty.")
        if len(text) > most:
            raise WrongTemplate(place, f"is longer than {most:,} letters.")
        rest = HOLE.sub("", text)
        if "{" in rest or "}" in rest:
            raise WrongTemplate(
                place, "has a brace that belongs to no other: a field stands in {two of them}."
            )
        if not asks and (LINK in HOLE.findall(text) or LAST_DAY in HOLE.findall(text)):
            raise WrongTemplate(place, "names a link, but they are asked nothing by a link.")
        if place == "subject" and LINK in HOLE.findall(text):
            raise WrongTemplate(place, "is no place for a link: it stands in the text.")
    kept = sensitive_fields(definition)
    for name in fields_in(template):
        place = next(
            place
            for place, text, _ in _parts(template)
            if name in map(str.strip, HOLE.findall(text))
        )
        if name not in definition.by_name:
            raise WrongTemplate(
                place,
                f"{definition.title} has no field “{name}”; {near(name, definition.by_name)}",
            )
        if name in kept:
            raise WrongTemplate(
                place,
                f"{definition.title_of(name)} is kept from who may only look: it is not written"
                " into a mail.",
            )


def fill(
    template: Template, value_of: Callable[[str], str], link: str = "", last_day: str = ""
) -> Filled:
    """Fill a template.

    Args:
        template: The template.
        value_of: Gives the value of a field as one says it; "" for none.
        link: Of whom it is written to; it stands at the end where the text has no place for it.
        last_day: On which the link works.

    >>> fill(Template("To {a}", "Dear {a}, of {b}."), {"a": "Bo", "b": ""}.__getitem__)
    Filled(subject='To Bo', text='Dear Bo, of .', address='', lacking=('b',))
    """
    values = {name: value_of(name) for name in fields_in(template)}
    lacking = tuple(name for name, text in values.items() if not text)
    said = values | {LINK: link, LAST_DAY: last_day}

    def put(match: re.Match[str]) -> str:
        return said[match[1].strip()]

    text = HOLE.sub(put, template.text).strip()
    if link and LINK not in map(str.strip, HOLE.findall(template.text)):
        text += f"\n\n{link}"
    return Filled(
        " ".join(HOLE.sub(put, template.subject).split()),
        text,
        _lines(HOLE.sub(put, template.address)),
        lacking,
    )


def _lines(text: str) -> str:
    """Keep the lines of an address in which something stands."""
    found = (" ".join(line.split()) for line in text.splitlines())
    return "\n".join(line for line in found if line)


def say_value(field: Field, text: str, codes: Mapping[str, CodeList]) -> str:
    """Say a value in a mail: codes by their labels, days in words, several with commas."""
    known = codes.get(field.code_list)

    def one(part: str) -> str:
        code = known.by_code.get(part) if known else None
        return (code.label or part) if code else part

    if field.type == "date" and text:
        try:
            return say_day(date.fromisoformat(text[:10]))
        except ValueError:
            return text
    return ", ".join(one(part) for part in text.split(SEVERAL) if part)
