"""`docs/checks.md`, written from the lists of checks."""

from __future__ import annotations

import json
from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.checking.always import ALWAYS
from nevefield.core.checking.catalog import DECLARED
from nevefield.core.checking.options import OptionKind

if TYPE_CHECKING:
    from nevefield.core.checking.options import Option

__all__ = ["write_documents"]


def write_documents() -> str:
    """Write `docs/checks.md`."""
    lines = [
        "# Checks",
        "",
        (
            "Written from `core/checking/always.py` and `catalog.py` by `scripts/documents.py`; a"
            " test runs every example."
        ),
        "",
        (
            "A finding has a weight: **stop** (the row cannot go in), **ask** (it goes in once"
            " someone approves it with a reason), **note** (for information). Every declared"
            " check also takes `weight`; `text`, its own words in place of ours; `id`, a name by"
            " which it is spoken of; and `off`, which switches it off."
        ),
        "",
        "## Always on, from the fields themselves",
        "",
        "| check | weight | holds when | example that fails |",
        "|---|---|---|---|",
        *(f"| `{one.name}` | {one.weight} | {one.holds} | {one.fails} |" for one in ALWAYS),
        "",
        "## Declared in a definition",
        "",
        "| check | weight | holds when | takes |",
        "|---|---|---|---|",
        *(
            f"| `{check.name}` | {check.weight} | {check.holds} |"
            f" {'; '.join(map(_option, check.options)) or '–'} |"
            for check in DECLARED.values()
        ),
        "",
        "## An example of each",
        "",
    ]
    for declared in DECLARED.values():
        lines += [
            f"### `{declared.name}`",
            "",
            "```",
            _json(declared.example),
            "```",
            "",
            f"passes: {_rows(declared.passes)}; fails: {_rows(declared.fails)}",
            "",
        ]
    return "\n".join(lines)


def _option(option: Option) -> str:
    """Tell what an option is."""
    words = option.words.replace(
        "a condition", "a condition ([conditions](definition.md#conditions))"
    )
    if option.choices:
        words = ", ".join(f"`{choice}`" for choice in option.choices)
    return f"`{option.name}`{' (needed)' if option.is_needed else ''}: {words}{_such_as(option)}"


def _such_as(option: Option) -> str:
    has_form = option.kind in (
        OptionKind.VALUES,
        OptionKind.FIELDS,
        OptionKind.BANDS,
        OptionKind.ROSTERS,
        OptionKind.DAY,
    )
    return f", as `{_json(option.example)}`" if has_form else ""


def _json(document: Json) -> str:
    return json.dumps(document, ensure_ascii=False)


def _rows(text: str) -> str:
    return ", then ".join(f"`{line}`" for line in text.split("\n"))
