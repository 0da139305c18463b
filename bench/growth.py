"""How times grow with the size of what comes: `python bench/growth.py [LARGEST ROWS]`.

Reading over rows and over columns, pairing over columns and fields, likeness of made people and of
people who are all alike, and the whole work over rows. For each the time at growing sizes, and
between every two the power with which it grows: 1 is in proportion; of pairing, where both sides
grow, 2. It fails where what takes over a second grows with more than `MOST` beyond that over its
last two steps.
"""

from __future__ import annotations

import json
import math
import random
import sys
import time
from collections.abc import Callable
from datetime import date
from pathlib import Path

import numpy as np

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT), str(Path(__file__).parent)]

from keyed import FIELDS, make_keyed  # noqa: E402
from tests.core.people.maker import DEFINITION, make_people  # noqa: E402

from nevefield.core.codes import read_codes  # noqa: E402
from nevefield.core.columns.pairing import look_at_values, pair_columns  # noqa: E402
from nevefield.core.defining.reading import read_definition  # noqa: E402
from nevefield.core.evaluate import Inputs, evaluate, read_snapshot  # noqa: E402
from nevefield.core.people.matching import learn_people, sides_of  # noqa: E402
from nevefield.core.people.settling import settle_likely  # noqa: E402
from nevefield.core.reading import read_file  # noqa: E402
from nevefield.core.table import Column, Table  # noqa: E402

MADE = Path(__file__).parent / "made"
TODAY = date(2026, 9, 1)
MOST = 1.3
WIDTHS = (10, 100, 500, 1_000, 2_000)
Work = Callable[[], object]


def read_rows(rows: int) -> Work:
    """Text of ten columns, every tenth row with quotes."""
    chance = random.Random(rows)
    lines = [",".join(FIELDS)]
    for number in range(rows):
        cells = [
            f"M{number:07d}",
            f"K{number}",
            f"a{number}@x.example",
            "Bel, by" if number % 10 == 0 else "Belby",
            "Ada",
        ]
        cells += [
            f"19{chance.randrange(50, 99)}-01-01",
            "2020-01-01",
            "",
            str(chance.randrange(5000)),
            "Okell",
        ]
        lines.append(",".join(f'"{cell}"' if "," in cell else cell for cell in cells))
    data = "\n".join(lines).encode()
    return lambda: read_file(data)


def read_columns(width: int) -> Work:
    """Five hundred rows of so many columns."""
    head = ",".join(f"Answer {number} of form {number % 7}" for number in range(width))
    row = ",".join(f"x{number}" if number % 3 else str(number) for number in range(width))
    data = "\n".join([head, *[row] * 500]).encode()
    return lambda: read_file(data)


def pair(width: int) -> Work:
    """Headings that are nearly the fields' names, and as many fields."""
    kinds = ("string", "integer", "date", "number")
    fields = [
        {
            "name": f"part_{number}",
            "title": f"Part {number} of form {number % 7}",
            "type": kinds[number % 4],
        }
        for number in range(width)
    ]
    definition = read_definition({"name": "wide", "fields": fields})
    headings = [f"Prt {number} form {number % 7}" for number in range(width)]
    table = Table(
        tuple(headings),
        tuple(Column.of([str(number), "2024-01-01", "x"]) for number in range(width)),
        np.arange(3),
    )
    return lambda: pair_columns(
        headings, definition, evidence=look_at_values(table, definition, {}, TODAY)
    )


def know(rows: int) -> Work:
    """Made people against as many."""
    made = make_people(rows, 5, blank=0.2)
    sides = sides_of(DEFINITION, made.theirs)
    return lambda: settle_likely(learn_people(made.ours, sides, np.arange(rows)).found)


def know_alike(rows: int) -> Work:
    """People of whom all have one name and one day of birth."""
    one = {"family": "Jones", "given": "Ann", "born": "2001-01-01", "town": "Okell"}
    columns = {name: Column.constant(one.get(name), rows) for name in DEFINITION.by_name}
    return lambda: settle_likely(
        learn_people(columns, sides_of(DEFINITION, columns), np.arange(rows)).found
    )


def whole(rows: int) -> Work:
    """A file with three keys, half of it unknown, against a roster."""
    file, roster, definition = (one.read_bytes() for one in make_keyed(rows, MADE))
    defined = read_definition(json.loads(definition))
    codes = read_codes((ROOT / "demo" / "codes.csv").read_text())
    return lambda: evaluate(
        Inputs(
            file,
            [],
            defined,
            codes,
            read_snapshot(roster, defined, codes, TODAY),
            TODAY,
            coverage="everybody",
        )
    )


def main() -> None:
    """Measure."""
    largest = int(sys.argv[1]) if len(sys.argv) > 1 else 1_000_000
    rows = [size for size in (1_000, 10_000, 100_000, 1_000_000) if size <= largest]
    people = [size for size in rows if size <= 100_000]
    tasks: list[tuple[str, Callable[[int], Work], list[int], int]] = [
        ("reading, rows", read_rows, rows, 1),
        ("reading, columns", read_columns, list(WIDTHS), 1),
        ("pairing, columns", pair, list(WIDTHS), 2),
        ("likeness, people", know, people, 1),
        ("likeness, all alike", know_alike, people, 1),
        ("the whole, rows", whole, rows, 1),
    ]
    steep = []
    for name, make, sizes, usual in tasks:
        took: list[tuple[int, float]] = []
        told = []
        for size in sizes:
            work = make(size)
            took.append(
                (size, min(_time(work) for _ in range(3 if not took or took[-1][1] < 2 else 1)))
            )
            if len(took) > 1:
                told.append(f"^{_power(took[-2], took[-1]):.2f}")
            told.append(f"{size:,}: {took[-1][1]:.2f} s")
        print(f"{name:20} {'  '.join(told)}", flush=True)
        if len(took) > 2 and took[-1][1] > 1 and _power(took[-3], took[-1]) > usual - 1 + MOST:
            steep.append(name)
    if steep:
        raise SystemExit(f"steeper than {MOST}: {', '.join(steep)}")


def _power(one: tuple[int, float], other: tuple[int, float]) -> float:
    """With which power of the size the time grows from one to the other."""
    return math.log(other[1] / one[1]) / math.log(other[0] / one[0])


def _time(work: Work) -> float:
    begun = time.perf_counter()
    work()
    return time.perf_counter() - begun


if __name__ == "__main__":
    main()
