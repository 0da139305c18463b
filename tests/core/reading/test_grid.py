"""Text cut into columns by array operations, against the slow reader that goes cell by cell."""

from __future__ import annotations

from itertools import zip_longest

from hypothesis import example, given
from hypothesis import strategies as st

from nevefield.core.reading import grid
from nevefield.core.reading.delimited import read_rows
from nevefield.core.reading.grid import cut_text

# Few letters, so that quotes, separators and line ends of every kind meet in every way.
PIECES = st.sampled_from(
    [
        "a",
        "b c",
        "é",
        "",
        "",
        '"',
        '""',
        ",",
        ",",
        ";",
        "\n",
        "\n",
        "\r\n",
        "\r",
        '"x"',
        '"x,y"',
        '"x\ny"',
        '"q""q"',
        "\ufeff",
        "\0",
    ]
)
# Tables as programs write them, with a few lines that are not so among many that are.
CELLS = st.sampled_from(
    ["1", "Ana Luz", "", '"a,b"', '"a ""b"" c"', '"two\nlines"', 'five "inches', "x", " "]
)


@given(st.lists(PIECES, max_size=80).map("".join), st.sampled_from([1, 7, 64, 1 << 24]))
@example('a,"b\nc,d\n', 1)
@example('"a"b,c\n1,2\n', 64)
@example("\r\r\n\n", 64)
def test_any_text(text, part):
    """Every row, its line and what is remarked are those of the slow reader, in however many
    parts it is looked at.
    """
    usual, grid.PART = grid.PART, part
    try:
        slow, fast = read_rows(text, ","), cut_text(text.encode(), ",")
    finally:
        grid.PART = usual
    assert fast.rows(range(len(fast))) == slow.values
    assert fast.lines.tolist() == slow.lines
    assert fast.remarks == slow.remarks


@given(
    st.lists(st.lists(CELLS, min_size=1, max_size=5), max_size=30),
    st.sampled_from(["\n", "\r\n", "\r"]),
    st.booleans(),
)
def test_any_table(rows, end, is_ended):
    """Also of ragged tables, whatever ends their lines."""
    text = end.join(",".join(row) for row in rows) + (end if is_ended else "")
    slow, fast = read_rows(text, ","), cut_text(text.encode(), ",")
    assert fast.rows(range(len(fast))) == slow.values
    assert fast.lines.tolist() == slow.lines
    widest = max((len(row) for row in slow.values), default=0)
    assert [column.rows(range(len(fast))) for column in fast.columns][:widest] == [
        list(column) for column in zip_longest(*slow.values, fillvalue="")
    ]
