"""Whose file it is: one table of sources and files, and what each file is credited to."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.crediting import Candidate, credit_file
from nevefield.core.reading import read_file
from nevefield.core.recipes import Expects, Recipe, stem_of
from nevefield.core.texts import key_of

# what the roster itself calls its columns
OWN = frozenset(map(key_of, ("Number", "Family name", "Mail", "Team")))


def source(name: str, file: str, *headings: str, named: bool = True) -> Candidate:
    expects = Expects(headings=headings, separator=";", named=named)
    return Candidate(
        name,
        Recipe(roster="club", source=name, learnt="2026-01-01", file=file, expects=expects),
        OWN,
    )


NORTH = source("North", "north-2026-01.csv", "Number", "Surname N", "Mail", "Shirt")
SOUTH = source("South", "south-2026-01.csv", "Number", "Surname S", "Mail", "Hall")
PLAIN = source("Plain", "plain-january.csv", "Number", "Family name", "Mail", "Team")
BARE = source("Bare", "turnstile 7.csv", "Column 1", "Column 2", "Column 3", named=False)
FRESH = Candidate("Fresh", None, OWN)
ALL = [NORTH, SOUTH, PLAIN, BARE, FRESH]


def credited(headings: str, file: str, candidates=ALL) -> str:
    """The name of the source that a file with these headings is credited to; "" for none."""
    data = (
        f"{headings}\n1;Ødegård;a@q.example;x\n2;Åse;b@q.example;y\n3;Bø;c@q.example;z\n".encode()
    )
    found = credit_file(candidates, *read_file(data), file)
    return candidates[found.place].name if found else ""


@pytest.mark.parametrize(
    ("headings", "file", "expected"),
    [
        # Headings that only one has, in whatever order and letters; a column that came or went is
        # no matter.
        ("Number;Surname N;Mail;Shirt", "x.csv", "North"),
        ("SHIRT;mail;surname n;number", "x.csv", "North"),
        ("Number;Surname S;Mail;Hall;Remarks", "x.csv", "South"),
        # The roster's own tell nobody, though they are all of one source's; with its file's name
        # they do.
        ("Number;Family name;Mail;Team", "x.csv", ""),
        ("Number;Family name;Mail;Team", "plain-march.csv", "Plain"),
        ("Number;Family name;Mail;Team", "north-2026-02.csv", ""),
        # Half of two sources is neither.
        ("Number;Surname N;Mail;Hall", "x.csv", ""),
        # Too little is alike, whatever the name says.
        ("Number;A;B;C", "north-2026-02.csv", ""),
    ],
)
def test_by_what_tells(headings, file, expected):
    """Each file goes to the source that its evidence tells, or to none."""
    assert credited(headings, file) == expected


def test_twins_are_told_by_name_alone():
    """Two offices with one system's headings: neither by headings, either by its own file's
    name.
    """
    twins = [NORTH, source("Twin", "twin-1.csv", *NORTH.recipe.expects.headings)]
    headings = ";".join(NORTH.recipe.expects.headings)
    assert credited(headings, "export.csv", twins) == ""
    assert credited(headings, "twin-2.csv", twins) == "Twin"
    assert credited(headings, "north-2026-09.csv", twins) == "North"


def test_without_headings_only_a_name_tells():
    """Columns that have no names are as many everywhere: the file's own name has to be like the
    last one's.
    """
    data = b"1;2;3\n4;5;6\n7;8;9\n"
    for file, expected in (("turnstile 8.csv", "Bare"), ("something.csv", "")):
        found = credit_file([BARE], *read_file(data), file)
        assert (["Bare"][found.place] if found else "") == expected


@pytest.mark.parametrize(
    ("made_for", "expected"),
    [("South", "South"), ("SOUTH ", "South"), ("Fresh", "Fresh"), ("Elsewhere", "North")],
)
def test_our_sheet_says_so_itself(made_for, expected):
    """The sheet's own word counts before everything; a name that nobody has counts for nothing."""
    data = f"Request sheet made for {made_for}\nNumber;Surname N;Mail;Shirt\n1;a;b;c\n2;d;e;f\n".encode()  # noqa: E501
    found = credit_file(ALL, *read_file(data), "x.csv")
    assert ALL[found.place].name == expected
    assert found.by == ("guess" if expected == "North" else "sheet")


def test_of_one_office_for_two_rosters():
    """A sheet of an office that sends two rosters goes to the one whose columns it has."""
    staff = Candidate("North", None, frozenset(map(key_of, ("Staff number", "Post", "Grade"))))
    data = b"Request sheet made for North\nStaff number;Post;Grade\n1;a;b\n2;c;d\n"
    assert credit_file([NORTH, staff], *read_file(data), "x.csv").place == 1


@given(
    st.permutations(ALL), st.sampled_from(["x.csv", "north-2.csv", "plain-3.csv", "turnstile.csv"])
)
def test_order_of_sources_is_nothing(candidates, file):
    """Whoever is listed first has no advantage."""
    for headings in ("Number;Surname N;Mail;Shirt", "Number;Family name;Mail;Team", "a;b;c;d"):
        assert credited(headings, file, candidates) == credited(headings, file)


@pytest.mark.parametrize(
    ("name", "stem"),
    [
        ("north-2026-01.csv", "north"),
        ("North 3 March.XLSX", "north"),
        ("2026.csv", ""),
        ("członkowie_07.ods", "członkowie"),
        ("export", "export"),
        ("", ""),
    ],
)
def test_what_stays_of_a_name(name, stem):
    """Numbers, months and the ending go from file to file; what stays is compared."""
    assert stem_of(name) == stem
