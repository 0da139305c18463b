"""Who is this row: integer joins over folded keys, held to what a loop over all records would
say.
"""

from __future__ import annotations

import csv
import io

from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.defining.reading import read_definition
from nevefield.core.snapshot import Snapshot
from tests.core.world import work_out

# A key of one field, and one of two fields together; either is enough.
TWO = read_definition(
    {
        "name": "gate",
        "primaryKey": "no",
        "fields": [
            "no",
            {"name": "facility"},
            {"name": "card"},
            {"name": "mail", "format": "email"},
        ],
        "nevefield": {"keys": ["no", ["facility", "card"], "mail"]},
    }
)
NAMES = ["no", "facility", "card", "mail"]
VALUE = st.sampled_from(["", "1", "2", "3", " 2 "])
MAIL = st.sampled_from(["", "a@q.example", "A@Q.example", "b@q.example", "wrong@"])
ROW = st.tuples(VALUE, VALUE, VALUE, MAIL)
RECORD = st.tuples(VALUE, VALUE, VALUE, MAIL.filter(lambda text: text != "wrong@"))


def meaning(name: str, text: str) -> str:
    """What a text means as a key: nothing, when it is empty or no value."""
    text = " ".join(text.split())
    if name == "mail":
        return "" if text.endswith("@") else text.casefold()
    return text


def key_of(values, key) -> tuple[str, ...] | None:
    parts = tuple(meaning(name, values[NAMES.index(name)]) for name in key)
    return parts if all(parts) else None


def look_up(row, records) -> tuple[int, bool]:
    """The record of a row by each key in turn, the first that finds one; and whether a later key
    finds another.
    """
    found, disagrees = -1, False
    for key in TWO.keys:
        wanted = key_of(row, key)
        same = [
            place
            for place, record in enumerate(records)
            if wanted is not None and key_of(record, key) == wanted
        ]
        if same and found < 0:
            found = same[0]
        elif same and same[0] != found:
            disagrees = True
    return found, disagrees


@given(st.lists(ROW, min_size=1, max_size=6), st.lists(RECORD, max_size=6))
def test_matches_as_a_loop_would(rows, records):
    """Each row is the record that the first of its keys finds; keys that find different records
    are a finding.
    """
    rows = [row for row in rows if any(cell.strip() for cell in row)]
    values = [
        {name: text.strip() for name, text in zip(NAMES, record, strict=True) if text.strip()}
        for record in records
    ]
    snapshot = Snapshot.of_values(TWO, list(range(len(records))), values, 1)
    out = io.StringIO(newline="")
    csv.writer(out).writerows([NAMES, *rows])
    evaluation = work_out(out.getvalue(), snapshot=snapshot, definition=TWO)
    expected = [look_up(row, records) for row in rows]
    assert evaluation.known.record.tolist() == [record for record, _ in expected]
    assert sorted(evaluation.known.disagree) == [
        place for place, (_, disagrees) in enumerate(expected) if disagrees
    ]


def test_empty_roster_knows_nobody():
    """Against an empty roster every row is new."""
    evaluation = work_out(
        "no,mail\n1,a@q.example\n2,\n", snapshot=Snapshot.empty(TWO), definition=TWO
    )
    assert evaluation.known.record.tolist() == [-1, -1]
    assert evaluation.tally.new == 2


def test_file_without_keys_is_no_error():
    """A file without any key column is read, and all of its rows are nobody known."""
    snapshot = Snapshot.of_values(TWO, [1], [{"no": "1"}], 1)
    evaluation = work_out("card,other\n1,x\n2,y\n", snapshot=snapshot, definition=TWO)
    assert evaluation.known.record.tolist() == [-1, -1]
    assert evaluation.tally.read == 2
