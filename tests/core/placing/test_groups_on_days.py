"""Groups on a day: memberships with first and last days, groups that are there without anybody,
and those out of use.
"""

from __future__ import annotations

from datetime import date

from nevefield.core.codes import Code
from nevefield.core.defining.reading import read_definition
from nevefield.core.placing.groups import find_groups
from nevefield.core.snapshot import Snapshot

DAYS = ("first", "last")
KIND = {
    "kind": "each",
    "by": ["group"],
    "each": "kind",
    "person": "who",
    "from": "first",
    "to": "last",
    "least": 2,
    "most": 2,
}
DEFINITION = read_definition(
    {
        "name": "x",
        "primaryKey": ["who", "kind", "group"],
        "fields": [
            *({"name": name} for name in ("who", "kind", "group")),
            *({"name": name, "type": "date"} for name in DAYS),
        ],
        "nevefield": {"groups": [KIND]},
    }
)
ROWS = [
    ("1", "S", "A", "2026-01-01", ""),
    ("2", "S", "A", "2026-03-01", "2026-03-31"),
    ("3", "S", "A", "2026-03-15", ""),
    ("1", "T", "A", "2026-01-01", ""),
    ("4", "S", "OLD", "2026-01-01", ""),
]
SNAPSHOT = Snapshot.of_values(
    DEFINITION,
    list(range(5)),
    [
        {
            name: text
            for name, text in zip(("who", "kind", "group", "first", "last"), row, strict=True)
            if text
        }
        for row in ROWS
    ],
    1,
)
CODES = [
    Code("A"),
    Code("B"),
    Code("OLD", last_day=date(2026, 2, 1)),
    Code("LATER", first_day=date(2027, 1, 1)),
]


def test_on_days():
    """First and last day count, both inclusive; a group without anybody is there, one out of use
    is told, one to come is not.
    """
    who = SNAPSHOT.columns["who"]

    def on(day: date) -> dict[str, tuple[list[str | None], tuple[str, ...]]]:
        found = find_groups(DEFINITION.groups[0], SNAPSHOT, day, "S", CODES)
        return {one.key[0]: (who.rows(one.members), one.troubles) for one in found.groups}

    few, over = ("1 too few",), ("1 over",)
    out = ("not in use on this day", "1 too few")
    assert on(date(2026, 1, 1)) == {
        "A": (["1"], few),
        "B": ([], ("2 too few",)),
        "OLD": (["4"], few),
    }
    assert on(date(2026, 3, 15))["A"] == (["1", "2", "3"], over)
    assert on(date(2026, 3, 31))["A"] == (["1", "2", "3"], over)
    assert on(date(2026, 4, 1)) == {
        "A": (["1", "3"], ()),
        "B": ([], ("2 too few",)),
        "OLD": (["4"], out),
    }
    assert set(on(date(2027, 1, 1))) == {"A", "B", "OLD", "LATER"}
