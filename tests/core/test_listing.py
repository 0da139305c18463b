"""Files of codes, compared with the list that they are for."""

from __future__ import annotations

from datetime import date

import pytest

from nevefield.core.codes import Code
from nevefield.core.errors import UnreadableFile, WrongCodes
from nevefield.core.listing import LIST_HEADINGS, compare_codes
from nevefield.core.reading import read_file

DAY = date(2026, 9, 1)
NOW = (
    Code("NQ", "North Quay", aliases=("North",)),
    Code("CH", "Castle Hill", last_day=date(2027, 1, 31)),
)


def compare(text: str):
    return compare_codes(read_file(text.encode(), known=LIST_HEADINGS), "campus", NOW, DAY)


def test_what_differs():
    """What is new, altered and gone is said by code; columns that the file lacks stay as they
    are.
    """
    found = compare("Code;Name\nNQ;North Quays\nEQ;East Quay\n")
    assert (found.added, found.altered, found.gone, found.problems) == (
        ("EQ",),
        ("NQ",),
        ("CH",),
        (),
    )
    assert found.codes[0] == Code("NQ", "North Quays", aliases=("North",))


def test_days_and_aliases_are_read():
    """Days in any way of writing, and several aliases in a cell."""
    found = compare(
        "code,label,aliases,valid until\nCH,Castle Hill,Hill;The Hill,28/02/2027\nNQ,North"
        " Quay,North,\n"
    )
    assert found.codes[0] == Code(
        "CH", "Castle Hill", aliases=("Hill", "The Hill"), last_day=date(2027, 2, 28)
    )
    assert found.altered == ("CH",)


def test_rows_of_other_lists_are_passed_over():
    """Of a file with several lists only the rows of this one count; without any, that is said."""
    found = compare("list,code,label\nwatch,SKUA,Skua\ncampus,NQ,North Quay\n")
    assert ([one.code for one in found.codes], found.gone) == (["NQ"], ("CH",))
    assert compare("list,code,label\nwatch,SKUA,Skua\n").problems == (
        "There is no code of the list “campus” in the file.",
    )


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("code,label\nNQ,North\nNQ,South\n", "Lines 2 and 3 are one person"),
        (
            "code,label,first day,last day\nNQ,North,2026-09-01,2026-01-01\n",
            "Last day (1 Jan 2026) is before First day",
        ),
        ("code,label,last day\nNQ,North,someday\n", "“someday” is no day"),
    ],
)
def test_wrong_codes_stay_out(text, said):
    """One wrong row stops the whole list, with its line: half a list would be worse than none."""
    found = compare(text)
    assert found.codes == ()
    assert any(said in one for one in found.problems), found.problems


def test_refused_whole():
    """Parents in a circle, and what is no table, are refused in a sentence."""
    with pytest.raises(WrongCodes, match="A → B → A"):
        compare("code,label,parent\nA,a,B\nB,b,A\n")
    with pytest.raises(UnreadableFile):
        compare("")
