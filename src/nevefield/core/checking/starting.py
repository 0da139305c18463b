"""The checks that a new roster has from the start, found by what its fields are about; each can
be altered or taken out.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.columns.headings import words_of
from nevefield.core.people.traits import traits_of

if TYPE_CHECKING:
    from nevefield.core.definition import Definition, Field

__all__ = ["starting_checks", "with_starting_checks"]

OLDEST = 110  # years; somebody older is a slip of the pen as a rule
SOON = 30  # days before a document runs out, from which on it is told
_WORDS = """
medical passport visa licence license permit certificate insurance badge document dbs training vaccination
ausweis reisepass führerschein versicherung impfung permis passeport assurance permiso pasaporte licencia patente
"""
_DOCUMENTS = frozenset().union(*(words_of(word) for word in _WORDS.split()))


def starting_checks(definition: Definition) -> list[dict[str, Json]]:
    """List the checks that a roster's fields suggest: ages, stand-ins, documents that run out, last
    days that are over.

    Args:
        definition: As it was declared.

    Returns:
        Their JSON; all of them ask, none stops. What the definition declares of a kind already is
        not said again.
    """
    declared = {(check.check, name) for check in definition.checks for name in check.fields}
    found: list[dict[str, Json]] = []
    born = next((trait.field for trait in traits_of(definition) if trait.kind == "birth"), "")
    if born and ("age", born) not in declared:
        found.append(
            {
                "check": "age",
                "fields": [born],
                "on": "today",
                "least": 0,
                "most": OLDEST,
                "weight": "ask",
            }
        )
    reached = [field.name for field in definition.fields if field.is_mail or field.kind == "phone"]
    messages = [name for name in reached if ("stand-in", name) not in declared]
    found += [
        {"check": "stand-in", "fields": messages[start : start + 9]}
        for start in range(0, len(messages), 9)
    ]
    for field in definition.fields:
        if field.type != "date" or field.name == born:
            continue
        if _is_document(field):
            if ("runs-out", field.name) not in declared:
                found.append({"check": "runs-out", "fields": [field.name], "within": SOON})
        elif _is_last_day(definition, field) and ("ended", field.name) not in declared:
            found.append({"check": "ended", "fields": [field.name]})
    return found


def with_starting_checks(document: Json, definition: Definition) -> Json:
    """Add the starting checks to the document of a new roster that names no checks at all.

    A document with `checks`, though it be an empty list, has exactly those.
    """
    own = document.get("nevefield", {})
    if "checks" in own:
        return document
    return {**document, "nevefield": {**own, "checks": starting_checks(definition)}}


def _words(field: Field) -> set[str]:
    return {*words_of(field.name), *words_of(field.title)}


def _is_document(field: Field) -> bool:
    return bool(_words(field) & _DOCUMENTS)


def _is_last_day(definition: Definition, field: Field) -> bool:
    """Tell whether a field says somebody's last day: by its words, or as the last of days in
    order.
    """
    orders = [check.fields for check in definition.checks if check.check == "order"]
    return "until" in _words(field) or any(names[-1] == field.name for names in orders)
