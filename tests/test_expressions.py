"""No regular expression of ours takes longer than the length of a text allows, whatever text meets
it.

Every use of `re` in the sources is found by reading them, and matched, as it is used, against texts
that are made to hurt it (`hostile_texts`). What definitions, authorities and files bring along runs
on a linear engine (`core/patterns.py`).
"""

from __future__ import annotations

import ast
import importlib
import re
import signal
from collections import defaultdict
from pathlib import Path
from typing import Any

import pytest

from tests.hostile_texts import hostile_texts

SOURCE = Path(__file__).parents[1] / "src"
# letters; one that is linear needs a thousandth of a second for them, one of their square a second
# and more
SIZE = 24_000
MOST_SECONDS = 0.4  # of processor time
WAYS = {"match", "search", "fullmatch", "sub", "subn", "findall", "finditer", "split"}


class _TooLong(Exception):
    pass


def uses() -> list[tuple[str, str, re.Pattern[Any], tuple[str, ...]]]:
    """List every use: the module, the line, the expression, and how it is matched."""
    trees = {path: ast.parse(path.read_text()) for path in SOURCE.rglob("*.py")}
    # by name, over all modules: an expression may be used beside the module that has it
    called = defaultdict(set)
    for tree in trees.values():
        for node in ast.walk(tree):
            if (
                isinstance(node, ast.Attribute)
                and isinstance(node.value, ast.Name)
                and node.attr in WAYS
            ):
                called[node.value.id].add(node.attr)
    found = []
    for path, tree in trees.items():
        module = ".".join(path.relative_to(SOURCE).with_suffix("").parts)
        named = {
            id(node.value): node.targets[0].id
            for node in tree.body
            if isinstance(node, ast.Assign) and isinstance(node.targets[0], ast.Name)
        }
        for node in ast.walk(tree):
            if not _is_use(node):
                continue
            names = vars(importlib.import_module(module))
            flags = [
                one
                for one in (*node.args[1:], *(word.value for word in node.keywords))
                if "re." in ast.unparse(one)
            ]
            values = [eval(ast.unparse(one), names) for one in flags]  # our own sources
            expression = re.compile(eval(ast.unparse(node.args[0]), names), sum(map(int, values)))
            ways = {node.func.attr}
            if node.func.attr == "compile":
                ways = called.get(named.get(id(node), ""), set()) or _called_in(tree)
            found.append((module, str(node.lineno), expression, tuple(sorted(ways))))
    return found


def _is_use(node: ast.AST) -> bool:
    return (
        isinstance(node, ast.Call)
        and isinstance(node.func, ast.Attribute)
        and isinstance(node.func.value, ast.Name)
        and node.func.value.id == "re"
        and node.func.attr in WAYS | {"compile"}
    )


def _called_in(tree: ast.AST) -> set[str]:
    """List the ways of matching in a module, for an expression that has no name of its own."""
    calls = [node.func for node in ast.walk(tree) if isinstance(node, ast.Call)]
    return {call.attr for call in calls if isinstance(call, ast.Attribute)} & WAYS


USES = uses()


@pytest.fixture
def limit():
    """Stop what takes too long: this process's own time, whatever else the machine does."""

    def stop(*_):
        raise _TooLong

    before = signal.signal(signal.SIGVTALRM, stop)
    yield lambda seconds: signal.setitimer(signal.ITIMER_VIRTUAL, seconds)
    signal.setitimer(signal.ITIMER_VIRTUAL, 0)
    signal.signal(signal.SIGVTALRM, before)


def takes_too_long(
    expression: re.Pattern[Any], ways: tuple[str, ...], limit
) -> tuple[str, str] | None:
    """Return how and on what an expression takes too long."""
    for text in hostile_texts(expression, SIZE):
        given: Any = text.encode() if isinstance(expression.pattern, bytes) else text
        for way in ways:
            limit(MOST_SECONDS)
            try:
                if way in ("sub", "subn"):
                    expression.sub(given[:0], given)
                elif way in ("finditer", "findall", "split"):
                    all(expression.finditer(given))
                else:
                    getattr(expression, way)(given)
            except _TooLong:
                return way, f"{text[:30]!r} ... {text[-10:]!r}"
            finally:
                limit(0)
    return None


@pytest.mark.parametrize(
    ("module", "line", "expression", "ways"), USES, ids=[f"{one[0]}:{one[1]}" for one in USES]
)
def test_takes_no_longer_than_its_length_allows(module, line, expression, ways, limit):
    assert takes_too_long(expression, ways, limit) is None


@pytest.mark.parametrize(
    ("expression", "way"),
    [
        (r"(a+)+b", "search"),
        (r"\s*(x|y)?\s*$", "search"),
        (r"\S+@\S+\.\S+", "fullmatch"),
        (r"a[\w-]*\w*!", "match"),
        (r"^[ \t]+|[ \t]+$", "sub"),
    ],
)
def test_what_goes_back_and_forth_is_found(expression, way, limit):
    """The texts hurt those that can be hurt."""
    assert takes_too_long(re.compile(expression), (way,), limit) is not None


def test_there_are_uses():
    """They are found at all: reading the sources is what this rests on."""
    assert len(USES) > 100
    assert {
        "nevefield.core.reading.markup",
        "nevefield.core.texts",
        "nevefield.rosters.looking",
    } <= {one[0] for one in USES}
