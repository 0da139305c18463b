"""Comparing, held to what a loop over rows and fields would say; and ordering records."""

from __future__ import annotations

import csv
import io
import json

from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.changes.compare import find_absent
from nevefield.core.changes.plan import plan_changes
from nevefield.core.changes.states import compare_states
from nevefield.core.defining.reading import read_definition
from nevefield.core.edits.memo import Memo
from nevefield.core.snapshot import Snapshot
from nevefield.core.tally import OUTCOMES
from tests.core.world import work_out

PLAIN = read_definition(
    {
        "name": "plain",
        "primaryKey": "no",
        "fields": [
            "no",
            "name",
            {"name": "born", "type": "date"},
            {"name": "credits", "type": "number"},
            {"name": "ports", "nevefield": {"several": ";"}},
        ],
    }
)
# Each value as a file may write it, and as the roster stores it.
NAMES = [("Ines", "Ines"), (" Ines  M ", "Ines M"), ("ines", "ines"), ("", None)]
BORN = [
    ("14.3.2008", "2008-03-14"),
    ("2008-03-14", "2008-03-14"),
    ("1.1.2009", "2009-01-01"),
    ("", None),
]
CREDITS = [("12,50", "12.5"), ("12.5", "12.5"), ("0", "0"), ("", None)]
PORTS = [("A;B", ["A", "B"]), ("B; A", ["B", "A"]), ("A", ["A"]), ("", None)]
ROWS = st.dictionaries(
    st.sampled_from("123456"),
    st.tuples(
        st.sampled_from(NAMES),
        st.sampled_from(BORN),
        st.sampled_from(CREDITS),
        st.sampled_from(PORTS),
    ),
    max_size=6,
)
FIELDS = ["name", "born", "credits", "ports"]
FILE_WINS = [{"kind": "update", "field": name, "rule": "file"} for name in FIELDS]


def same(field: str, old, new) -> bool:
    if field == "ports":
        return sorted(old or []) == sorted(new or [])
    return (" ".join(old.split()) if old else None) == (" ".join(new.split()) if new else None)


@given(ROWS, ROWS)
def test_compares_as_a_loop_would(file, roster):
    """What joins, changes, is the same and is absent is what comparing every field of every
    person by hand gives.
    """
    records = [
        {
            "no": number,
            **{
                field: stored
                for field, (_, stored) in zip(FIELDS, values, strict=True)
                if stored is not None
            },
        }
        for number, values in roster.items()
    ]
    snapshot = Snapshot.of_values(PLAIN, list(range(len(records))), records, 1)
    out = io.StringIO(newline="")
    csv.writer(out).writerows(
        [
            ["no", *FIELDS],
            *([number, *(text for text, _ in values)] for number, values in file.items()),
        ]
    )
    evaluation = work_out(
        out.getvalue(), *FILE_WINS, snapshot=snapshot, definition=PLAIN, coverage="everybody"
    )
    changes, outcomes = set(), {}
    for row, (number, values) in enumerate(file.items()):
        if number not in roster:
            outcomes[number] = "new"
            continue
        differing = {
            field
            for field, (_, new), (_, old) in zip(FIELDS, values, roster[number], strict=True)
            if not same(field, old, new)
        }
        changes |= {(row, field) for field in differing}
        outcomes[number] = "changed" if differing else "same"
    assert {
        number: OUTCOMES[one] for number, one in zip(file, evaluation.outcomes, strict=True)
    } == outcomes
    assert {
        (int(row), field) for field, rows in evaluation.changes.items() for row in rows
    } == changes
    assert {
        snapshot.keys(evaluation.absent)[place] for place in range(len(evaluation.absent))
    } == set(roster) - set(file)
    assert find_absent(evaluation.known, snapshot, Memo()).tolist() == evaluation.absent.tolist()


@given(
    st.lists(
        st.none() | st.integers(-50, 50).map(str) | st.sampled_from(["2.5", "1e1"]), max_size=20
    ),
    st.booleans(),
)
def test_orders_numbers_by_size(values, down):
    """Records are ordered by size, each once, empty ones last either way."""
    records = [
        {"no": str(place), "credits": value} if value is not None else {"no": str(place)}
        for place, value in enumerate(values)
    ]
    snapshot = Snapshot.of_values(PLAIN, list(range(len(records))), records, 1)
    order = snapshot.order("credits", down=down).tolist()
    assert sorted(order) == list(range(len(values)))
    filled = [float(values[place]) for place in order if values[place] is not None]
    assert filled == sorted(filled, reverse=down)
    assert all(values[place] is None for place in order[len(filled) :])


@given(st.lists(st.sampled_from(["", "Å", "b", "B", "a", "Z"]), max_size=12), st.booleans())
def test_orders_texts_without_case(values, down):
    """Texts are ordered without regard to case."""
    records = [
        {"no": str(place), **({"name": value} if value else {})}
        for place, value in enumerate(values)
    ]
    snapshot = Snapshot.of_values(PLAIN, list(range(len(records))), records, 1)
    found = [
        values[place].casefold()
        for place in snapshot.order("name", down=down).tolist()
        if values[place]
    ]
    assert found == sorted(found, reverse=down)


@given(
    st.lists(
        st.dictionaries(
            st.sampled_from(["no", "name", "ports"]),
            st.text(
                st.characters(blacklist_categories=("Cs",), blacklist_characters="\x1f"), max_size=5
            ),
            max_size=3,
        ),
        max_size=6,
    )
)
def test_documents_read_back(records):
    """Records read from JSON text are those read from values."""
    import json

    wanted = [
        {name: [value] if name == "ports" else value for name, value in record.items() if value}
        for record in records
    ]
    one = Snapshot.of_values(PLAIN, list(range(len(wanted))), wanted, 1)
    two = Snapshot.of_documents(
        PLAIN, list(range(len(wanted))), [json.dumps(record) for record in wanted], 1
    )
    assert (
        [one.values(place) for place in range(len(wanted))]
        == [two.values(place) for place in range(len(wanted))]
        == wanted
    )


def snapshot_of(people: dict[str, tuple]) -> Snapshot:
    """A state of the roster with record numbers that are the keys'."""
    names = ("name", "born", "credits", "ports")
    values = [
        {"no": no, **{k: v[1] for k, v in zip(names, row, strict=True) if v[1] is not None}}
        for no, row in people.items()
    ]
    return Snapshot.of_values(PLAIN, [int(no) for no in people], values, 1)


def values_of(snapshot: Snapshot) -> dict[int, dict]:
    return {int(snapshot.ids[place]): snapshot.values(place) for place in range(len(snapshot))}


def carry_out(found, state: dict[int, dict]) -> dict[int, dict]:
    """Do to a state what a difference says."""
    after = {number: dict(values) for number, values in state.items()}
    for place in found.absent.tolist():
        del after[int(found.old.ids[place])]
    for place in found.joined.tolist():
        after[int(found.new.ids[place])] = found.new.values(place)
    mine, theirs = found.pairs
    for name, where in found.changes.items():
        for place in where.tolist():
            record = after[int(found.old.ids[theirs[place]])]
            record.pop(name, None)
            if (value := found.new.values(int(mine[place])).get(name)) is not None:
                record[name] = value
    return after


def folded(state: dict[int, dict]) -> dict[int, dict]:
    """What values mean: neither the order of several nor how many spaces stand between words is
    part of it.
    """
    return {
        number: {
            k: sorted(v) if isinstance(v, list) else " ".join(v.split()) for k, v in one.items()
        }
        for number, one in state.items()
    }


@given(ROWS, ROWS)
def test_difference_leads_there_and_back(before, after):
    """Carried out on the old state the difference gives the new one, and turned round on the new
    one the old; by key likewise.
    """
    old, new = snapshot_of(before), snapshot_of(after)
    for by_number in (True, False):
        found = compare_states(old, new, by_number=by_number)
        assert folded(carry_out(found, values_of(old))) == folded(values_of(new))
        assert folded(carry_out(found.turned(), values_of(new))) == folded(values_of(old))
        assert len(found.joined) + len(found.pairs[0]) == len(new)


@given(ROWS, ROWS)
def test_applied_plan_is_the_file(before, after):
    """Under "file wins", applying a file of everybody whose absent leave gives exactly the
    file's people and values.
    """
    old = snapshot_of(before)
    rows = "".join(f'{no};{n[0]};{b[0]};{c[0]};"{p[0]}"\n' for no, (n, b, c, p) in after.items())
    leave = {"kind": "absent", "act": "leave"}
    mark = {"kind": "decimal_mark", "field": "credits", "mark": ","}
    order = {"kind": "date_order", "field": "born", "order": "dmy"}
    text = "no;name;born;credits;ports\n" + rows
    evaluation = work_out(
        text, leave, mark, order, *FILE_WINS, snapshot=old, definition=PLAIN, coverage="everybody"
    )
    if not after or (evaluation.outcomes > 2).any():
        return
    plan = plan_changes(evaluation)
    done = values_of(old)
    for record in plan.leaving.tolist():
        del done[int(old.ids[record])]
    for record, document in zip(plan.records.tolist(), plan.documents, strict=True):
        values = json.loads(document)
        done[int(old.ids[record]) if record >= 0 else int(values["no"])] = values
    assert folded(done) == folded(values_of(snapshot_of(after)))
