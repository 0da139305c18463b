"""One group at a time, held against the plainest way to say it: every row beside every record
and every earlier row.
"""

from __future__ import annotations

from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.snapshot import Snapshot
from nevefield.core.tally import OUTCOMES
from tests.core.placing.test_memberships import CODES, DOCUMENT, TODAY

DEFINITION = read_definition({**DOCUMENT, "foreignKeys": []})
GROUPS = {"KAM": "CHOR", "JUG": "CHOR", "SCH": "AG", "IMK": "AG"}
FIRST = date(2026, 1, 1)
OPEN = date.max
DAYS = st.integers(0, 6).map(lambda months: FIRST + timedelta(days=31 * months))
MEMBERSHIPS = st.lists(
    st.tuples(
        st.sampled_from(["A1", "B2", "C3"]),
        st.sampled_from(list(GROUPS)),
        DAYS,
        st.one_of(st.none(), DAYS),
    ),
    max_size=6,
    unique_by=lambda one: one[:3],
)


def meets(one, other) -> bool:
    """Whether two memberships are of one person and kind, in two groups, on days that overlap."""
    return (
        one[0] == other[0]
        and GROUPS[one[1]] == GROUPS[other[1]] == "CHOR"
        and one[1] != other[1]
        and one[2] <= (other[3] or OPEN)
        and other[2] <= (one[3] or OPEN)
    )


def test_thousands_of_one_person():
    """A file that has one person thousands of times is worked out too: each on a day of its own,
    and one that meets another.
    """
    days = [FIRST + timedelta(days=place) for place in range(6000)]
    lines = [f"A1;CHOR;{['KAM', 'JUG'][place % 2]};{day};{day}" for place, day in enumerate(days)]
    data = "\n".join(
        ["nr;art;gruppe;von;bis", *lines, f"A1;CHOR;KAM;{FIRST};{FIRST + timedelta(days=1)}"]
    ).encode()
    evaluation = evaluate(Inputs(data, [], DEFINITION, CODES, Snapshot.empty(DEFINITION), TODAY))
    asked = [
        row
        for cause in evaluation.causes
        if cause.hit.check == "one-group"
        for row in cause.hit.rows.tolist()
    ]
    assert asked == [6000]


@given(MEMBERSHIPS, MEMBERSHIPS)
def test_against_every_pair(roster, rows):
    """Asked about are exactly the new memberships that meet one of the roster that the file does
    not have, or an earlier row.
    """
    records = [
        {"nr": who, "art": GROUPS[group], "gruppe": group, "von": first.isoformat()}
        | ({"bis": last.isoformat()} if last else {})
        for who, group, first, last in roster
    ]
    snapshot = Snapshot.of_values(DEFINITION, list(range(50, 50 + len(roster))), records, 1)
    lines = [
        f"{who};{GROUPS[group]};{group};{first};{last or ''}" for who, group, first, last in rows
    ]
    data = "\n".join(["nr;art;gruppe;von;bis", *lines]).encode() + b"\n"
    evaluation = evaluate(Inputs(data, [], DEFINITION, CODES, snapshot, TODAY))
    lasting = {one[:3]: one[3] for one in roster}
    # an empty cell keeps the record's last day
    rows = [(*one[:3], one[3] or lasting.get(one[:3])) for one in rows]
    keys = {one[:3] for one in rows}
    rest = [one for one in roster if one[:3] not in keys]
    known = {one[:3] for one in roster}
    expected = set()
    for place, row in enumerate(rows):
        with_records = row[:3] not in known and any(meets(row, one) for one in rest)
        with_rows = any(meets(row, one) and not {row[:3], one[:3]} <= known for one in rows[:place])
        if with_records or with_rows:
            expected.add(place)
    asked = {
        row
        for cause in evaluation.causes
        if cause.hit.check == "one-group"
        for row in cause.hit.rows.tolist()
    }
    assert asked == expected
    assert all(OUTCOMES[evaluation.outcomes[row]] in ("waiting", "stopped") for row in asked)
