"""Whether a resource is one of those that a filter asks for: over plain JSON, which is a hundred
times as fast as over validated models.

Source: RFC 7644, 3.4.2.2 (filtering); RFC 7643, 2.2 and 2.4 (comparing, several values).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import datetime
from typing import TYPE_CHECKING, Any

from scim2_models.path import (
    Comparison,
    FilterNode,
    LogicalExpr,
    LogicalOperator,
    Not,
    Present,
    ValuePath,
)

from nevefield.destinations.scim import entry_of

if TYPE_CHECKING:
    from scim2_models.path import AttrPath

__all__ = ["Folding", "compile_filter", "equal_to", "values_of"]

Document = Mapping[str, Any]
Test = Callable[[Document], bool]
# tells of an attribute, by its path in small letters, whether large and small letters differ in it
Folding = Callable[[str], bool]


def compile_filter(node: FilterNode, is_exact: Folding, below: str = "") -> Test:
    """Make of a filter what tells of a resource whether it is meant.

    Args:
        node: The filter.
        is_exact: Tells in which attributes large and small letters differ.
        below: The attribute into whose values the filter looks.
    """
    if isinstance(node, LogicalExpr):
        tests = [compile_filter(term, is_exact, below) for term in node.terms]
        both = node.op == LogicalOperator.and_
        return lambda one: (all if both else any)(test(one) for test in tests)
    if isinstance(node, Not):
        inner = compile_filter(node.expr, is_exact, below)
        return lambda one: not inner(one)
    if isinstance(node, ValuePath):
        name = _name(node.attr_path)
        inner = compile_filter(node.val_filter, is_exact, name)
        return lambda one: any(
            inner(part if isinstance(part, Mapping) else {"value": part})
            for part in _list(_find(one, node.attr_path))
        )
    if isinstance(node, Present):
        return lambda one: any(_is_there(value) for value in values_of(one, node.attr_path))
    if not isinstance(node, Comparison):
        raise TypeError(type(node).__name__)
    return _compare(node, is_exact, below)


def _compare(node: Comparison, is_exact: Folding, below: str) -> Test:
    name = _name(node.attr_path)
    exact = is_exact(f"{below}.{name}" if below else name)
    wanted, op = _fold(node.value, exact), node.op.value

    def test(one: Document) -> bool:
        values = [_fold(value, exact) for value in values_of(one, node.attr_path)]
        if op == "ne":
            return all(value != wanted for value in values)
        if wanted is None:
            return op == "eq" and not values
        return any(_holds(op, value, wanted) for value in values)

    return test


def _holds(op: str, value: Any, wanted: Any) -> bool:
    if op == "eq":
        return bool(value == wanted)
    if isinstance(value, str) and isinstance(wanted, str):
        if op in ("co", "sw", "ew"):
            return {
                "co": wanted in value,
                "sw": value.startswith(wanted),
                "ew": value.endswith(wanted),
            }[op]
        value, wanted = _moment(value, wanted)
    elif (
        isinstance(value, bool)
        or isinstance(wanted, bool)
        or op in ("co", "sw", "ew")
        or not (isinstance(value, int | float) and isinstance(wanted, int | float))
    ):
        return False
    return bool(
        {"gt": value > wanted, "ge": value >= wanted, "lt": value < wanted, "le": value <= wanted}[
            op
        ]
    )


def _moment(value: str, wanted: str) -> tuple[Any, Any]:
    """Compare moments as such, whatever their zones; texts that are none as texts."""
    try:
        both = datetime.fromisoformat(value.upper()), datetime.fromisoformat(wanted.upper())
    except ValueError:
        return value, wanted
    return both if (both[0].tzinfo is None) == (both[1].tzinfo is None) else (value, wanted)


def equal_to(node: FilterNode | None) -> tuple[str, str] | None:
    """Give attribute and value of a filter that asks for one value of a plain attribute."""
    if not isinstance(node, Comparison) or node.op.value != "eq" or not isinstance(node.value, str):
        return None
    if node.attr_path.sub_attr or node.attr_path.uri:
        return None
    return node.attr_path.attr, node.value


def values_of(one: Document, path: AttrPath) -> list[Any]:
    """List the values at a path; of complex values that stand several times their `value`."""
    found = _list(_find(one, path))
    if path.sub_attr:
        return [
            value
            for part in found
            if isinstance(part, Mapping)
            for value in _list(entry_of(part, path.sub_attr))
        ]
    return [
        part.get("value", part) if isinstance(part, Mapping) else part
        for part in found
        if part is not None
    ]


def _find(one: Document, path: AttrPath) -> Any:
    if path.uri:
        extension = entry_of(one, str(path.uri))
        if isinstance(extension, Mapping):
            return entry_of(extension, path.attr)
        return entry_of(one, path.attr) if "core:2.0" in str(path.uri) else None
    return entry_of(one, path.attr)


def _list(value: Any) -> list[Any]:
    if value is None:
        return []
    return list(value) if isinstance(value, list | tuple) else [value]


def _name(path: AttrPath) -> str:
    return f"{path.attr}.{path.sub_attr}".casefold() if path.sub_attr else path.attr.casefold()


def _fold(value: Any, exact: bool) -> Any:
    return value if exact or not isinstance(value, str) else value.casefold()


def _is_there(value: Any) -> bool:
    return value not in (None, "", [], {})
