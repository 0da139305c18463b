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
    born = next((one.field for one in traits_of(definition) if one.kind == "birth"), "")
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
    reached = [one.name for one in definition.fields if one.is_mail or one.kind == "phone"]
    told = [name for name in reached if ("stand-in", name) not in declared]
    found += [
        {"check": "stand-in", "fields": told[start : start + 9]} for start in range(0, len(told), 9)
    ]
    for one in definition.fields:
        if one.type != "date" or one.name == born:
            continue
        if _is_document(one):
            if ("runs-out", one.name) not in declared:
                found.append({"check": "runs-out", "fields": [one.name], "within": SOON})
        elif _is_last_day(definition, one) and ("ended", one.name) not in declared:
            found.append({"check": "ended", "fields": [one.name]})
    return found


def with_starting_checks(document: Json, definition: Definition) -> Json:
    """Add the starting checks to the document of a new roster that names no checks at all.

    A document with `checks`, though it be an empty list, has exactly those.
    """
    own = document.get("nevefield", {})
    if "checks" in own:
        return document
    return {**document, "nevefield": {**own, "checks": starting_checks(definition)}}


def _words(one: Field) -> set[str]:
    return {*words_of(one.name), *words_of(one.title)}


def _is_document(one: Field) -> bool:
    return bool(_words(one) & _DOCUMENTS)


def _is_last_day(definition: Definition, one: Field) -> bool:
    """Tell whether a field says somebody's last day: by its words, or as the last of days in
    order.
    """
    orders = [check.fields for check in definition.checks if check.check == "order"]
    return "until" in _words(one) or any(names[-1] == one.name for names in orders)
