"""Measure how big the rooms of the house are, beside those of well-kept libraries, and write
`docs/house.md`.

Usage: .venv/bin/python scripts/measure.py [NAME=DIRECTORY ...]

Each NAME=DIRECTORY is one more library to measure beside those that we use ourselves. All are laid
out anew at 100 columns first, so that a line is as much for each.
"""

from __future__ import annotations

import ast
import io
import shutil
import subprocess
import sys
import tempfile
import tokenize
from collections.abc import Iterator
from dataclasses import dataclass, field
from importlib.util import find_spec
from pathlib import Path
from statistics import median, quantiles

ROOT = Path(__file__).parent.parent
PAGE = ROOT / "docs" / "house.md"
OURS = ROOT / "src" / "nevefield"
LIBRARIES = ("werkzeug", "httpx", "structlog", "attr")
WIDTH = 100
# that stand for anything
PLACEHOLDERS = {"one", "found", "said", "told", "other", "made"}


@dataclass
class Measured:
    """What was counted of one house."""

    files: list[int] = field(default_factory=list)  # lines
    functions: list[int] = field(default_factory=list)  # lines
    parameters: list[int] = field(default_factory=list)
    lines: int = 0  # not blank
    comments: int = 0  # lines that are a comment, or end in one
    documented: list[bool] = field(default_factory=list)  # public functions and classes
    names: int = 0  # bound
    placeholders: int = 0


def measure(directory: Path) -> Measured:
    """Measure the Python files of a directory, laid out at our width."""
    with tempfile.TemporaryDirectory() as scratch:
        place = Path(scratch) / "house"
        ignore = shutil.ignore_patterns("__pycache__", "*.so", "tests")
        shutil.copytree(directory, place, ignore=ignore)
        layout = ["format", "--isolated", "--quiet", "--line-length", str(WIDTH), str(place)]
        subprocess.run([sys.executable, "-m", "ruff", *layout], check=True)
        measured = Measured()
        for path in sorted(place.rglob("*.py")):
            add(measured, path.read_text())
    return measured


def add(measured: Measured, text: str) -> None:
    """Add one file to what was counted."""
    lines = text.splitlines()
    measured.files.append(len(lines))
    measured.lines += sum(1 for line in lines if line.strip())
    tokens = tokenize.generate_tokens(io.StringIO(text).readline)
    measured.comments += len({token.start[0] for token in tokens if token.type == tokenize.COMMENT})
    tree = ast.parse(text)
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef):
            measured.functions.append((node.end_lineno or 0) - node.lineno + 1)
            arguments = node.args
            every = [*arguments.posonlyargs, *arguments.args, *arguments.kwonlyargs]
            measured.parameters.append(
                len([one for one in every if one.arg not in ("self", "cls")])
            )
    for node in tree.body:
        if isinstance(node, ast.FunctionDef | ast.ClassDef) and not node.name.startswith("_"):
            measured.documented.append(ast.get_docstring(node) is not None)
    for name in bound(tree):
        measured.names += 1
        measured.placeholders += name in PLACEHOLDERS


def bound(tree: ast.AST) -> Iterator[str]:
    """Give every name that is bound."""
    for node in ast.walk(tree):
        if isinstance(node, ast.Name) and isinstance(node.ctx, ast.Store):
            yield node.id
        elif isinstance(node, ast.arg):
            yield node.arg


def row(name: str, measured: Measured) -> str:
    """Write a row of the table."""
    ninetieth = [
        round(quantiles(sizes, n=10)[-1]) for sizes in (measured.files, measured.functions)
    ]
    cells = [
        name,
        f"{len(measured.files)}",
        f"{median(measured.files):.0f} / {ninetieth[0]}",
        f"{median(measured.functions):.0f} / {ninetieth[1]} / {max(measured.functions)}",
        f"{median(measured.parameters):.0f} / {max(measured.parameters)}",
        f"{100 * measured.comments / measured.lines:.1f}",
        f"{100 * sum(measured.documented) / len(measured.documented):.0f}%",
        f"{100 * measured.placeholders / measured.names:.1f}%",
    ]
    return f"| {' | '.join(cells)} |"


def main() -> None:
    """Measure everything and write the page."""
    places = {"ours": OURS}
    for name in LIBRARIES:
        spec = find_spec(name)
        if spec is not None and spec.origin is not None:
            places[name] = Path(spec.origin).parent
    places |= {
        name: Path(place) for name, _, place in (given.partition("=") for given in sys.argv[1:])
    }
    rows = [row(name, measure(place)) for name, place in places.items()]
    PAGE.write_text(f"""# The house, measured

Made by `scripts/measure.py`: our `src` beside the sources of libraries that are known to be well kept, all laid out at {WIDTH} columns first. Tests are left out. Numbers are median / ninetieth (/ largest).

| | files | lines of a file | lines of a function | parameters | comments in 100 lines | public things with a docstring | names that stand for anything |
|---|---|---|---|---|---|---|---|
{chr(10).join(rows)}

Names that stand for anything: {", ".join(f"`{name}`" for name in sorted(PLACEHOLDERS))}, of all that are bound. What the house's own test forbids: modules over 600 lines (400 in the web), functions over 80, more than 7 parameters (but for commands), `Any` in the core outside its borders, circles among modules, imports upwards (`tests/test_house.py`).
""")


if __name__ == "__main__":
    main()
