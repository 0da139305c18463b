"""What is wrong with a document, in our words: of the models by which documents are read."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from nevefield.core.borders import Json

if TYPE_CHECKING:
    from pydantic import ValidationError

__all__ = ["say_wrong"]

BOUNDS = {
    "greater_than": ("gt", "is more than"),
    "greater_than_equal": ("ge", "is at least"),
    "less_than_equal": ("le", "is at most"),
}


def say_wrong(error: ValidationError, what: str, kinds: str = "") -> tuple[str, str]:
    """Tell the place of the first thing that is wrong, and what is wrong there.

    Args:
        error: Of reading a document.
        what: The document, such as "a design".
        kinds: What its parts of several kinds may be, such as "a line or a band".
    """
    first = error.errors()[0]
    place = ".".join(str(part) for part in first["loc"])
    return place, _say(first["type"], first.get("ctx", {}), first["msg"], what, kinds)


def _say(kind: str, context: Mapping[str, Json], otherwise: str, what: str, kinds: str) -> str:
    if kind in BOUNDS:
        name, words = BOUNDS[kind]
        return f"{words} {context[name]}."
    if kind == "literal_error":
        return f"is one of {context['expected']}."
    if kind == "value_error":
        return f"{context['error']}."
    return {
        "missing": "is needed.",
        "extra_forbidden": f"is nothing that {what} has.",
        "too_long": f"has more than the {context.get('max_length')} that may be.",
        "too_short": f"has fewer than the {context.get('min_length')} that are needed.",
        "string_too_long": f"has more than {context.get('max_length')} letters.",
        "string_too_short": "is needed.",
        "string_pattern_mismatch": f"is not written as it has to be ({context.get('pattern')}).",
        "union_tag_invalid": f"is {kinds}, by its kind.",
        "union_tag_not_found": f"needs its kind: {kinds}.",
    }.get(kind, f"{otherwise[:1].lower()}{otherwise[1:]}.")
