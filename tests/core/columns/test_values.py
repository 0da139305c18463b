"""Texts to values, by the field's type, constraints and code list."""

from __future__ import annotations

from datetime import date

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.codes import Code, CodeList
from nevefield.core.columns.values import ValueContext, convert
from nevefield.core.definition import Field, Identifier
from nevefield.core.table import Column
from nevefield.core.texts import SEVERAL

PORTS = CodeList(
    "port",
    (
        Code("SKV", "Skarvholm", aliases=("Skarv",)),
        Code("DNS", "Dunsea"),
        Code("OLD", "Old harbour", last_day=date(2020, 12, 31)),
        Code("NW1", "Newport"),
        Code("NW2", "Newport"),
    ),
)
CONTEXT = ValueContext({"port": PORTS}, frozenset({"", "-", "n/a"}), date(2026, 9, 1))
NUMBER = Identifier(9, "TQ", "0123456789", "iso7064-mod11-2")


def read(one: Field, *texts: str | None, context: ValueContext = CONTEXT):
    """Return values, checks that failed and repairs, row by row."""
    typed = convert(one, Column.of(texts), context)
    rows = np.arange(len(texts))
    codes = typed.raw.codes.tolist()
    values = typed.stored.rows(rows)
    problems = [typed.problems[code].check if code in typed.problems else "" for code in codes]
    repairs = [typed.repairs[code].kind if code in typed.repairs else "" for code in codes]
    return list(zip(values, problems, repairs, strict=True))


def field(**parts) -> Field:
    return Field("one", "One", **parts)


@pytest.mark.parametrize(
    ("one", "text", "outcome"),
    [
        (field(), " Ines ", ("Ines", "", "spaces")),
        (field(), "\u00a0Ines\u200b", ("Ines", "", "spaces")),
        (field(), "-", (None, "", "")),
        (field(), " n/a ", (None, "", "")),
        (field(type="integer"), "12", ("12", "", "")),
        (field(type="integer"), "12.0", ("12", "", "")),
        (field(type="integer"), "12.5", ("12.5", "type", "")),
        (field(type="number"), "1.234,50", ("1234.5", "", "number")),
        (field(type="number"), "1,234.50", ("1234.5", "", "number")),
        (field(type="number"), "12,5", ("12.5", "", "number")),
        (field(type="number"), "twelve", ("twelve", "type", "")),
        (field(type="boolean"), "Yes", ("true", "", "")),
        (field(type="boolean"), "n", ("false", "", "")),
        (field(type="boolean"), "perhaps", ("perhaps", "type", "")),
        (field(type="year"), "2026", ("2026", "", "")),
        (field(type="date"), "14.3.2008", ("2008-03-14", "", "day")),
        (field(type="date"), "31/02/2027", ("31/02/2027", "type", "")),
        (field(type="date", maximum="2012-12-31"), "2013-01-01", ("2013-01-01", "maximum", "")),
        (field(type="integer", minimum="1"), "0", ("0", "minimum", "")),
        (field(max_length=3), "four", ("four", "maxLength", "")),
        (field(pattern="[A-D][0-9]{3}"), "E123", ("E123", "pattern", "")),
        (field(enum=("red", "blue")), "green", ("green", "enum", "")),
        (field(format="email"), "ines.ar@tarnquay.example", ("ines.ar@tarnquay.example", "", "")),
        (field(format="email"), "ines.ar@", ("ines.ar@", "format", "")),
        (field(format="email"), "siân@tarnquay.example", ("siân@tarnquay.example", "", "")),
        (field(kind="phone", region="GB"), "07700 900417", ("07700 900417", "", "")),
        (
            field(kind="phone", region="GB"),
            "ines@tarnquay.example",
            ("ines@tarnquay.example", "format", ""),
        ),
        (field(identifier=NUMBER), "TQ2044104", ("TQ2044104", "", "")),
        (field(identifier=NUMBER), "tq 204 4104", ("TQ2044104", "", "case")),
        (field(identifier=NUMBER), "TQ2044105", ("TQ2044105", "identifier", "")),
        (field(code_list="port"), "SKV", ("SKV", "", "")),
        (field(code_list="port"), "skv", ("SKV", "", "label")),
        (field(code_list="port"), "Skarv", ("SKV", "", "label")),
        (field(code_list="port"), "OLD", ("OLD", "code", "")),
        (field(code_list="port"), "Newport", ("Newport", "code", "")),
        (field(code_list="port"), "Skarvhollm", ("Skarvhollm", "code", "")),
        (field(several=";"), "one\x1ftwo; three", (f"one two{SEVERAL}three", "", "spaces")),
        (
            field(code_list="port", several=";"),
            "SKV; Dunsea;SKV",
            (f"SKV{SEVERAL}DNS", "", "label"),
        ),
    ],
)
def test_reads_by_type(one, text, outcome):
    """One text, one value: read, repaired, or a problem with the text kept."""
    assert read(one, text) == [outcome]


def test_suggests_one_code():
    """A misspelt code is a stop with the one code that it may mean; a word for two codes offers
    both.
    """
    typed = convert(field(code_list="port"), Column.of(["Skarvhollm", "Newport"]), CONTEXT)
    assert [typed.problems[code].suggestions for code in (0, 1)] == [("SKV",), ("NW1", "NW2")]


def test_retired_code_says_since():
    """A code outside its days says since when."""
    typed = convert(field(code_list="port"), Column.of(["OLD"]), CONTEXT)
    assert "2020-12-31" in typed.problems[0].message


def test_translations_hold_everywhere():
    """What a text means is said once and holds in all of its rows, and is no repair."""
    context = ValueContext(
        {"port": PORTS}, frozenset({""}), date(2026, 9, 1), {("one", "the rock"): "SKV"}
    )
    assert read(field(code_list="port"), "the rock", "DNS", "the rock", context=context) == [
        ("SKV", "", ""),
        ("DNS", "", ""),
        ("SKV", "", ""),
    ]


@given(
    st.lists(
        st.sampled_from(["Ines", " Ines", "Tove ", "", "-", "A\u00a0", "Ünal"]),
        min_size=1,
        max_size=200,
    ),
    st.booleans(),
)
def test_kernels_agree(texts, wide):
    """Values are the same whether a column is long enough for the kernels over its whole
    dictionary or not.
    """
    padding = [f"text {number}" for number in range(80)] if wide else []
    assert read(field(), *texts, *padding)[: len(texts)] == read(field(), *texts)


def test_long_text_short_message():
    """A cell of megabytes is a problem that can still be read."""
    typed = convert(field(type="integer"), Column.of(["x" * 2_000_000]), CONTEXT)
    assert len(typed.problems[0].message) < 500


@pytest.mark.parametrize(
    ("limits", "text", "value", "likely"),
    [
        ({"means": "birth-date"}, "14.03.38", "1938-03-14", ()),
        ({"means": "birth-date"}, "14.03.08", "2008-03-14", ()),
        ({"maximum": "2012-12-31"}, "14.03.38", "14.03.38", ("1938-03-14", "2038-03-14")),
        ({"minimum": "2000-01-01"}, "01/02/99", "01/02/99", ()),
        ({"maximum": "2012-12-31"}, "14.03.2038", "14.03.2038", ()),
        ({}, "14.03.38", "2038-03-14", ()),
    ],
)
def test_which_century(limits, text, value, likely):
    """A year of two digits is in the century that fits; where the usual one does not, both are
    offered, the file quoted.
    """
    typed = convert(field(type="date", **limits), Column.of([text, "25/12/2001"]), CONTEXT)
    assert typed.stored.at(0) == value
    problems = list(typed.problems.values())
    assert [one.suggestions for one in problems] == ([likely] if value == text else [])
    assert all(f"“{text}”" in one.message for one in problems)


@pytest.mark.parametrize(
    ("pattern", "text", "likely"),
    [
        ("[0-9]{6}", "4711", ("004711",)),
        ("K[0-9]{5}", "K42", ("K00042",)),
        ("0[0-9]{3}", "42", ("0042",)),
        ("[0-9]{6}", "4711x", ()),
        ("[0-9]{6}", "4711111", ()),
        ("[1-9][0-9]{5}", "4711", ()),
        ("[A-Z]{2}[0-9]{3}", "K42", ()),
    ],
)
def test_lost_zeros_of_a_form(pattern, text, likely):
    """A number shorter than its form is offered with the zeros that a spreadsheet took, where
    the form then fits.
    """
    typed = convert(field(pattern=pattern), Column.of([text]), CONTEXT)
    (problem,) = typed.problems.values()
    assert (problem.check, problem.suggestions) == ("pattern", likely)


@pytest.mark.parametrize(
    ("text", "first"),
    [
        ("SKV/DNS", "SKV;DNS"),
        ("SKV + DNS", "SKV;DNS"),
        ("Dunsea, SKV", "Dunsea;SKV"),
        ("SKV;DNS/SKV", "SKV;DNS;SKV"),
        ("DNS;Skarvhollm", "DNS;SKV"),
        ("Skarvhollm;DNS", "SKV;DNS"),
    ],
)
def test_no_value_is_lost_for_another(text, first):
    """Of several codes in one cell no suggestion loses one that is right; what may be two codes
    is offered as both first.
    """
    typed = convert(field(code_list="port", several=";"), Column.of([text, "SKV;DNS"]), CONTEXT)
    (problem,) = typed.problems.values()
    assert problem.suggestions[0] == first
    kept = [part for part in text.split(";") if part in ("SKV", "DNS")]
    assert all(set(kept) <= set(one.split(";")) for one in problem.suggestions)


@pytest.mark.parametrize(
    ("one", "same"),
    [
        (field(), ["New  Quay", " New Quay "]),
        (field(type="date"), ["3.4.2026", "2026-04-03"]),
        (field(type="number"), ["12,50", "12.5"]),
        (field(type="boolean"), ["yes", "TRUE"]),
        (field(format="email"), ["Ines@TarnQuay.example", "ines@tarnquay.example"]),
        (field(code_list="port", several=";"), ["SKV;DNS", "DNS; SKV"]),
    ],
)
def test_same_meaning_is_same(one, same):
    """Values that mean the same are the same when compared."""
    folded = convert(one, Column.of(same), CONTEXT).folded()
    assert folded.at(0) == folded.at(1)


def test_other_case_is_change():
    """Case in other text is a change."""
    folded = convert(field(), Column.of(["ADEYEMI", "Adeyemi"]), CONTEXT).folded()
    assert folded.at(0) != folded.at(1)


def test_free_text_is_as_written():
    """Curly marks, other alphabets and line ends stay; outer spaces go and inner ones are
    single.
    """
    field, context = Field("note", "Note"), ValueContext({}, frozenset({""}), date(2026, 9, 1))
    texts = ["O’Neill", "„Żuraw“", "  a\u00a0\u00a0b ", "one\n\ntwo", "می\u200cخواهم"]
    typed = convert(field, Column.of(texts), context)
    assert typed.stored.rows(np.arange(5)) == [
        "O’Neill",
        "„Żuraw“",
        "a b",
        "one\n\ntwo",
        "می\u200cخواهم",
    ]
    straight = convert(
        field, Column.of(["O'Neill", '"Żuraw"', "a b", "one two", "میخواهم"]), context
    )
    assert typed.folded().rows(np.arange(5)) == straight.folded().rows(np.arange(5))


NEARLY = st.one_of(
    st.from_regex(r"[0-9]{4}-[0-9]{2}-[0-9]{2}", fullmatch=True),
    st.dates(date(1890, 1, 1), date(2099, 12, 31)).map(date.isoformat),
    st.sampled_from(
        [
            "0000-01-01",
            "2023-02-29",
            "2024-02-29",
            "1900-02-29",
            "2000-13-01",
            "2000-00-10",
            "٢٠٢٤-٠١-٠١",
        ]
    ),
    st.from_regex(r"-?[0-9]{1,17}(?:[.,][0-9]{1,3})?", fullmatch=True),
    st.sampled_from(
        [
            "",
            "-",
            "n/a",
            "-0",
            "007",
            "1 234",
            "12/11/2024",
            "3.4.2020",
            "44927",
            " 12",
            "#N/A",
            "TRUE",
        ]
    ),
)
LIMITED = st.sampled_from(
    [
        field(type="date"),
        field(type="date", minimum="1950-01-01", maximum="2030-06-30"),
        field(type="date", means="birth-date"),
        field(type="integer"),
        field(type="integer", minimum="-3", maximum="1e30"),
        field(type="number", minimum="0.5", maximum="1000.25"),
    ]
)


@given(LIMITED, st.lists(NEARLY, max_size=40))
def test_many_values_are_read_as_each_is(one, texts):
    """What is told of a whole column at once is what looking at every text tells."""
    more = [
        f"20{year:02}-0{month}-15" if one.type == "date" else str(100 * year + month)
        for year in range(10)
        for month in range(1, 8)
    ]
    rows = [*texts, *more]
    together = read(one, *rows)
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(
            "nevefield.core.columns.values.plain_values",
            lambda one, values, *_: np.zeros(len(values), bool),
        )
        assert together == read(one, *rows)
