"""Privileges, whatever the way by which they would come: who gains one above the lowest, and which
must never meet.

The checks `raised` and `never-together` say so for the rows of a file, with their words; this is
for the one place through which every alteration of a roster goes.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.borders import Json

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping

    from nevefield.core.definition import Definition

    Content = Mapping[str, Json]

__all__ = ["count_raised", "find_meeting", "has_privileges"]


def has_privileges(definition: Definition) -> bool:
    """Tell whether a roster has any privileges to look at."""
    return any(check.check in ("raised", "never-together") for check in definition.checks)


def count_raised(
    definition: Definition, pairs: Iterable[tuple[Content | None, Content | None]]
) -> int:
    """Count the records that gain a value above the lowest.

    Args:
        definition: With its checks `raised`.
        pairs: Of each record the content before and after; None for one that is not in the roster.
    """
    checks = [
        (check.fields[0], frozenset(check.options["lowest"]))
        for check in definition.checks
        if check.check == "raised"
    ]
    return sum(
        any(
            set(_values(after, name)) - lowest - set(_values(before, name))
            for name, lowest in checks
        )
        for before, after in pairs
    )


def find_meeting(definition: Definition, contents: Iterable[Content]) -> list[str]:
    """List the values that must never meet in one record and would, in words; empty when there
    are none.
    """
    checks = [
        (check.fields[0], list(check.options["codes"]))
        for check in definition.checks
        if check.check == "never-together"
    ]
    found: dict[str, None] = {}
    for content in contents:
        for name, codes in checks:
            there = [code for code in codes if code in _values(content, name)]
            if len(there) > 1:
                found[f"{' and '.join(there)} in {definition.title_of(name)}"] = None
    return list(found)


def _values(content: Content | None, name: str) -> list[str]:
    value = (content or {}).get(name)
    if value is None:
        return []
    return [str(item) for item in value] if isinstance(value, list) else [str(value)]
