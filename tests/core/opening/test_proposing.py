"""What is proposed for files that nobody made for it."""

from __future__ import annotations

import json
import re
from dataclasses import dataclass
from datetime import date
from functools import cache
from itertools import combinations
from random import Random

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nevefield.core.codes import CodeList, read_codes, write_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate
from nevefield.core.opening import Proposal, document_with_seen, propose
from nevefield.core.opening.lists import group_values
from nevefield.core.opening.schemes import find_scheme
from nevefield.core.reading import read_file
from nevefield.core.snapshot import Snapshot
from nevefield.core.table import Table
from nevefield.core.texts import fold
from tests.data.openings.making import Office, luhn
from tests.data.openings.offices import OFFICES

TODAY = date(2026, 11, 30)


@dataclass(frozen=True)
class Opened:
    """An office's file, and what was proposed for it."""

    office: Office
    proposal: Proposal

    def own(self, heading: str) -> dict:
        """What the proposal says of a column's field beside the standard's properties."""
        name = self.field(heading)
        return next(
            one.get("nevefield", {})
            for one in self.proposal.document["fields"]
            if one["name"] == name
        )

    def field(self, heading: str) -> str:
        return next(one.field for one in self.proposal.seen if one.column == heading)


@cache
def opened(make) -> Opened:
    office = make()
    table, reading = read_file(office.data)
    assert len(table) == len(office.columns[0].texts)
    return Opened(office, propose(table, TODAY, secrets=reading.secrets))


ALL = pytest.mark.parametrize("make", OFFICES, ids=lambda make: make.__name__)


def test_kinds_of_all_offices():
    """Of all columns of all offices 97 in 100 are of the kind that they were made of."""
    right = wrong = 0
    for make in OFFICES:
        seen = {one.column: one.kind for one in opened(make).proposal.seen}
        for column in opened(make).office.columns:
            fits = seen[column.heading] == column.kind
            right, wrong = right + fits, wrong + (not fits)
    assert right >= 0.97 * (right + wrong)


@ALL
def test_key_is_the_number_of_people(make):
    """The key is the column that numbers people; where none does, there is none."""
    found = opened(make).proposal.document.get("primaryKey")
    key = opened(make).office.key
    assert found == (opened(make).field(key) if key else None)


@ALL
def test_identifiers_as_they_were_made(make):
    """Length, prefix and check are those by which the identifiers were made; no check is said of
    others.
    """
    office = opened(make).office
    for column in office.columns:
        if column.kind == "identifier" and column.heading != office.refers[0]:
            scheme = opened(make).own(column.heading).get("identifier", {})
            said = (scheme.get("check", ""), scheme.get("length", 0), scheme.get("prefix", ""))
            length = column.length or scheme.get("length", 0)
            assert said == (column.check, length, column.prefix or said[2])


@ALL
def test_relations_between_columns(make):
    """Days that do not cross, references, parents and several values are as they were made."""
    office, proposal = opened(make).office, opened(make).proposal
    checks = proposal.document.get("nevefield", {}).get("checks", [])
    assert [one["fields"] for one in checks] == [
        [opened(make).field(first), opened(make).field(last)] for first, last in office.orders
    ]
    references = [
        (one["fields"], one["reference"]["fields"])
        for one in proposal.document.get("foreignKeys", [])
    ]
    column, key = office.refers
    assert references == ([(opened(make).field(column), opened(make).field(key))] if column else [])
    for column in office.columns:
        if column.kind == "code":
            own = opened(make).own(column.heading)
            above = opened(make).field(column.parent) if column.parent else ""
            assert (own.get("parent", ""), own["several"] if column.several else "") == (
                above,
                column.several,
            )


def _code_of(listed: CodeList, way: str) -> str:
    """The code under which a way of writing stands; itself where it stands under none."""
    words = {
        fold(word): one.code
        for one in listed.codes
        for word in (one.code, one.label, *one.aliases)
        if word
    }
    return words.get(fold(way), way)


def test_codes_written_in_several_ways():
    """Pairs of ways of writing are one code where they were made so: F1 is at least 0.97."""
    both = only_found = only_made = 0
    for make in OFFICES:
        for column in opened(make).office.columns:
            name = opened(make).own(column.heading).get("codeList") if column.groups else None
            if name is None:
                continue
            listed = opened(make).proposal.lists[name]
            for way, other in combinations(column.groups, 2):
                made = column.groups[way] == column.groups[other]
                found = _code_of(listed, way) == _code_of(listed, other)
                both, only_found = both + (made and found), only_found + (found and not made)
                only_made += made and not found
    assert 2 * both / (2 * both + only_found + only_made) >= 0.97


@ALL
def test_planted_errors_are_found(make):
    """Checking the file with what was proposed finds each planted error, and little else."""
    office, proposal = opened(make).office, opened(make).proposal
    definition = read_definition(proposal.document)
    evaluation = evaluate(
        Inputs(office.data, [], definition, proposal.lists, Snapshot.empty(definition), TODAY)
    )
    told = {
        int(row)
        for cause in evaluation.causes
        if cause.hit.weight != "note"
        for row in cause.hit.rows
    }
    planted = {row for column in office.columns for row in column.wrong}
    assert planted <= told
    assert len(told - planted) <= 0.02 * len(evaluation.table)


@ALL
def test_proposal_is_a_definition(make):
    """What is proposed is read back as a definition, its code lists as code lists, and a secret's
    values stand nowhere.
    """
    proposal = opened(make).proposal
    document = json.loads(json.dumps(document_with_seen(proposal)))
    assert len(document["nevefield"]["seen"]) == len(opened(make).office.columns)
    definition = read_definition(document)
    lists = read_codes(write_codes(proposal.lists))
    for one in definition.fields:
        assert re.fullmatch("[a-z][a-z_]*", one.name)
        assert not one.code_list or one.code_list in lists
    for column in opened(make).office.columns:
        if column.kind == "secret":
            told = json.dumps(document) + write_codes(proposal.lists)
            assert not any(f'"{text}"' in told for text in column.texts)


@given(
    st.integers(0, 10**6),
    st.integers(1, 30),
    st.integers(8, 300),
    st.sampled_from(["", "M", "TQ-", "20"]),
    st.integers(0, 5),
)
@settings(max_examples=300, deadline=None)
def test_no_check_in_counted_numbers(first, step, count, prefix, width):
    """Numbers that are counted, with any step and prefix, have no check character."""
    texts = [f"{prefix}{first + step * place:0{width}}" for place in range(count)]
    assert find_scheme(texts).scheme.check == ""


@given(st.integers(0, 2**32), st.integers(4, 14), st.integers(8, 400))
@settings(max_examples=200, deadline=None)
def test_no_check_in_numbers_by_chance(seed, length, count):
    """Numbers by chance have no check character."""
    random = Random(seed)
    texts = list(
        {"".join(random.choice("0123456789") for _ in range(length)) for _ in range(count)}
    )
    assert find_scheme(texts).scheme.check == ""


@given(st.integers(0, 2**32), st.integers(4, 12), st.integers(40, 200), st.integers(0, 4))
@settings(max_examples=100, deadline=None)
def test_check_is_found_with_slips(seed, length, count, slips):
    """A check character is found although a few have a slip, and is said of the right number."""
    random = Random(seed)
    bodies = {"".join(random.choice("0123456789") for _ in range(length)) for _ in range(count)}
    texts = [body + luhn(body) for body in sorted(bodies)]
    slips = min(slips, len(texts) // 20)
    for place in range(slips):
        wrong = str((int(texts[place][-1]) + 1) % 10)
        texts[place] = texts[place][:-1] + wrong
    built = find_scheme(texts)
    assert (built.scheme.check, built.checked, built.of) == ("luhn", len(texts) - slips, len(texts))


@pytest.mark.parametrize(
    ("counts", "codes"),
    [
        ({"Year 1": 40, "Year 2": 3, "year 1": 2}, [["Year 1", "year 1"], ["Year 2"]]),
        ({"A": 20, "A-": 18, "B+": 7, "a": 1}, [["A", "a"], ["A-"], ["B+"]]),
        ({"Team A": 30, "Team B": 1}, [["Team A"], ["Team B"]]),
        ({"North": 30, "Noth": 1, "South": 22}, [["North", "Noth"], ["South"]]),
        ({"NAV": 30, "Navigation": 2, "MEN": 25}, [["MEN"], ["NAV", "Navigation"]]),
        ({"Désert": 9, "desert": 8, "DÉSERT ": 7}, [["Désert", "desert", "DÉSERT "]]),
        ({"Hot": 30, "Hat": 28}, [["Hat"], ["Hot"]]),
        (
            {"Dept. of Arts": 40, "Department of Arts": 90},
            [["Department of Arts"], ["Dept. of Arts"]],
        ),
        ({"東京": 9, "大阪": 8}, [["大阪"], ["東京"]]),
    ],
)
def test_groups_of_values(counts, codes):
    """What is one code comes together, and what may be two stays two."""
    assert [[way.text for way in ways] for ways in group_values(counts).codes] == codes


def table_of(**columns: list[str]) -> Table:
    rows = list(zip(*columns.values(), strict=True))
    return Table.of(
        [name.replace("_", " ") for name in columns], rows, list(range(2, len(rows) + 2))
    )


def kinds_of(table: Table) -> dict[str, str]:
    return {one.column: one.kind for one in propose(table, TODAY).seen}


def test_empty_and_odd_tables():
    """A table without rows, with empty columns, with one row, with headings that say nothing."""
    assert kinds_of(table_of(a=[], b=[])) == {"a": "empty", "b": "empty"}
    assert propose(table_of(Member_no=["", ""]), TODAY).document["fields"] == []
    one_row = propose(table_of(Member_no=["7"], Name=["Ada"]), TODAY)
    assert [one.field for one in one_row.seen] == ["member_no", "name"]
    for heading in ("No", "Year", "Seats", "Born"):
        for hostile in ("²", "9" * 5000, "-" + "9" * 5000, "٣", "1e999999"):
            few = [*map(str, range(1, 60)), hostile]
            for texts in (few, [hostile] * 60):
                table = table_of(**{heading: texts, "Name": ["Ada"] * 60})
                assert propose(table, TODAY).document["fields"]
    odd = propose(Table.of(["***", "", "№"], [["a", "b", "c"]] * 3, [2, 3, 4]), TODAY)
    names = [one["name"] for one in odd.document["fields"]]
    assert len(set(names)) == 3
    assert all(name.isascii() for name in names)


def test_what_looks_like_numbers():
    """What begins with zeros or is too long is no number; years and amounts are what they are."""
    count = 60
    kinds = kinds_of(
        table_of(
            Tax_code=[f"{place:06}" for place in range(count)],
            Long=["9" * 14 + f"{place:03}" for place in range(count)],
            Started=[str(1990 + place % 30) for place in range(count)],
            Shoe_size=[str(36 + place % 9) for place in range(count)],
            Postcode=[str(2000 + place % 40) for place in range(count)],
            Card=["x" if place % 3 else "" for place in range(count)],
        )
    )
    assert kinds == {
        "Tax code": "identifier",
        "Long": "identifier",
        "Started": "year",
        "Shoe size": "integer",
        "Postcode": "text",
        "Card": "boolean",
    }


def test_two_columns_of_one_list():
    """First and second choice share one list."""
    values = ["Tea room", "Gardens", "Archive"]
    table = table_of(
        First_choice=[values[place % 3] for place in range(60)],
        Second_choice=[values[(place + 1) % 3] for place in range(60)],
    )
    proposal = propose(table, TODAY)
    assert [one["nevefield"]["codeList"] for one in proposal.document["fields"]] == [
        "first_choice"
    ] * 2
    assert list(proposal.lists) == ["first_choice"]


def test_people_above_and_beside():
    """A reference to a manager is a hierarchy; one to a sibling that leads back is none."""
    numbers = [f"S{place:04}" for place in range(100)]
    boss = ["" if place < 5 else numbers[place % 5] for place in range(100)]
    sibling = [numbers[place ^ 1] for place in range(100)]
    document = propose(table_of(Staff_no=numbers, Manager=boss, Sibling=sibling), TODAY).document
    assert document["foreignKeys"] == [
        {
            "fields": "manager",
            "reference": {"resource": "", "fields": "staff_no"},
            "nevefield": {"hierarchy": True},
        },
        {"fields": "sibling", "reference": {"resource": "", "fields": "staff_no"}},
    ]


def seen_of(columns: dict[str, list[str]]) -> dict[str, dict]:
    """What is proposed for each column's field, with the kind that was seen."""
    rows = list(zip(*columns.values(), strict=True))
    proposal = propose(Table.of(list(columns), rows, list(range(2, len(rows) + 2))), TODAY)
    fields = {one["name"]: one for one in proposal.document["fields"]}
    return {
        one.column: {"kind": one.kind, **fields.get(one.field, {}).get("nevefield", {})}
        for one in proposal.seen
    } | {"": proposal.document}


def test_numbers_with_signs_are_no_phones():
    """123-45-6789 and 978-1-2345-0000-1 number people and books; phone numbers are told by their
    heading, a sign of the country, or many shapes.
    """
    random = Random(3)

    def digits(count: int) -> str:
        return "".join(random.choice("0123456789") for _ in range(count))

    seen = seen_of(
        {
            "Payroll": [f"{digits(3)}-{digits(2)}-{digits(4)}" for _ in range(80)],
            "Work": [f"+49 30 {digits(6)}" for _ in range(80)],
            "Téléphone": [f"0{digits(1)} {digits(2)} {digits(2)} {digits(2)}" for _ in range(80)],
            "Pays": ["FR"] * 70 + ["BE"] * 10,
        }
    )
    assert {name: one["kind"] for name, one in seen.items() if name} == {
        "Payroll": "identifier",
        "Work": "phone",
        "Téléphone": "phone",
        "Pays": "code",
    }
    # where numbers say no country, the column beside them does
    assert (seen["Work"]["region"], seen["Téléphone"]["region"]) == ("DE", "FR")


@pytest.mark.parametrize(
    ("first", "last"),
    [("Hire Date", "Term Date"), ("Beginn", "Ende"), ("Joined", "Left"), ("Début", "Date de fin")],
)
def test_begin_and_end_in_several_tongues(first, last):
    """Days under headings that say begin and end, and hardly cross, are checked from now on."""
    days = [f"20{10 + place % 9}-0{1 + place % 9}-11" for place in range(80)]
    later = [f"20{20 + place % 9}-0{1 + place % 9}-11" for place in range(80)]
    seen = seen_of({first: days, last: later})
    (check,) = seen[""]["nevefield"]["checks"]
    assert check["check"] == "order"
    assert [one["title"] for one in seen[""]["fields"]] == [first, last]


def test_moments_with_the_day_first():
    """Days with a clock in the order of the column are moments, and are read as such."""
    texts = [f"{1 + place % 28:02}/0{1 + place % 9}/2026 {place % 24:02}:05" for place in range(60)]
    data = (
        "Card,Last login\n" + "\n".join(f"C{n:04},{text}" for n, text in enumerate(texts))
    ).encode()
    table, _ = read_file(data)
    proposal = propose(table, TODAY)
    assert [one.kind for one in proposal.seen] == ["identifier", "datetime"]
    definition = read_definition(proposal.document)
    evaluation = evaluate(
        Inputs(data, [], definition, proposal.lists, Snapshot.empty(definition), TODAY)
    )
    assert evaluation.tally.new == 60
    assert evaluation.facts.typed["last_login"].stored.at(13) == "2026-05-14T13:05:00"


def test_numbers_that_lost_their_zeros():
    """Under a heading that names the people digits of several lengths number them, and are no
    amounts: no zero can be given back without a check, but none more is lost.
    """
    texts = [str(7 + place * 13) for place in range(300)]
    seen = seen_of({"Member": texts, "Surname": ["Abbot"] * 300})
    assert seen[""]["primaryKey"] == "member"
    assert seen["Member"]["kind"] == "identifier"
    assert "length" not in seen["Member"]["identifier"]


def test_identifiers_of_many_looks():
    """Capitals and digits in any order, digits in groups, and a heading that says nothing: each
    numbers people; its check is found where it has one. Names and remarks do not.
    """
    random = Random(11)

    def some(letters: str, count: int) -> str:
        return "".join(random.choice(letters) for _ in range(count))

    bodies = [some("0123456789", 15) for _ in range(120)]
    seen = seen_of(
        {
            "Pass": [some("ABCDEFGHJKLMNPQRSTUVWXYZ23456789", 8) for _ in range(120)],
            "Spaced": [
                " ".join((body + luhn(body))[place : place + 4] for place in range(0, 16, 4))
                for body in bodies
            ],
            "Who": [f"Ann {some('bcdfg', 5)} {place}th" for place in range(120)],
            "Said": [f"seen {place} May, {some('xyz', 4)}" for place in range(120)],
        }
    )
    assert {name: one["kind"] for name, one in seen.items() if name} == {
        "Pass": "identifier",
        "Spaced": "identifier",
        "Who": "text",
        "Said": "text",
    }
    assert seen["Spaced"]["identifier"]["check"] == "luhn"
    assert "check" not in seen["Pass"]["identifier"]
    assert "I" not in seen["Pass"]["identifier"]["alphabet"]
