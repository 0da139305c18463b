"""Columns whose texts grow: whatever is put behind which of them, each goes on saying what it
said.
"""

import threading

import pyarrow as pa
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.edits.growing import Growing
from nevefield.core.edits.limits import ROOM

TEXTS = st.one_of(st.text(max_size=5), st.sampled_from(["", "ż", "Łódź", "日本", "\U0001f600"]))
# Of which array made so far, and what is put behind it; now and then more than there is room for.
APPENDS = st.lists(
    st.tuples(
        st.integers(0, 20),
        st.lists(st.one_of(TEXTS, st.just("w" * (ROOM // 2 + 1))), min_size=1, max_size=3),
    ),
    max_size=12,
)


@given(st.lists(TEXTS, max_size=6), st.integers(0, 3), APPENDS)
def test_as_a_list(texts, cut, appends):
    """An array is made of the buffers, or refused; those made before are not altered, refused
    ones alter nothing.
    """
    # a part of an array begins in the middle of its buffers
    first = pa.array(texts, pa.string())[cut:]
    growing = Growing(first)
    made = [(growing.values, list(texts[cut:]))]
    length = len(made[0][1])
    for place, added in appends:
        values, plain = made[place % len(made)]
        longer = growing.append(values, added)
        assert longer is None or len(plain) == length  # only the longest goes on
        if longer is not None:
            made.append((longer, [*plain, *added]))
            length += len(added)
    for values, plain in made:
        assert values.to_pylist() == plain
        values.validate(full=True)
    assert first.to_pylist() == texts[cut:]


def test_no_room():
    """Without room for the characters or for their number, nothing is written."""
    first = pa.array(["a", "b"])
    growing = Growing(first)
    assert growing.append(growing.values, ["x" * (ROOM + 1)]) is None
    assert growing.append(growing.values, ["y"] * (ROOM + 1)) is None
    longer = growing.append(growing.values, ["c"])
    assert longer is not None
    assert longer.to_pylist() == ["a", "b", "c"]


def test_at_once():
    """Of many who put something behind the same array at once, one does; the others are told to
    take buffers of their own.
    """
    growing = Growing(pa.array([f"v{place}" for place in range(100)]))
    start, gate, found = growing.values, threading.Barrier(8), []

    def put(who: int) -> None:
        gate.wait()
        found.append((who, growing.append(start, [f"by {who}"])))

    threads = [threading.Thread(target=put, args=(who,)) for who in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    ((who, values),) = [one for one in found if one[1] is not None]
    assert values.to_pylist()[100:] == [f"by {who}"]
