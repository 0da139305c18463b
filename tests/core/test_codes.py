"""Code lists: read, written, named, suggested."""

from __future__ import annotations

from datetime import date

import pytest

from nevefield.core.codes import read_codes, write_codes
from nevefield.core.errors import WrongCodes

TEXT = (
    "list,code,label,parent,aliases,first_day,last_day\nport,SKV,Skarvholm,,Skarv;The"
    " rock,,\nport,DNS,Dunsea,,,2020-01-01,2026-08-31\nprog,DECK,Deck department,NAV,,,\n"
)


def test_round_trip(made):
    """What is read is written as it was, the demo's lists included."""
    assert write_codes(read_codes(TEXT)) == TEXT
    demo = (made / "codes.csv").read_text()
    assert read_codes(write_codes(read_codes(demo))) == read_codes(demo)


def test_days_are_inclusive():
    """A code may be used on its first and last day and on no day outside."""
    code = read_codes(TEXT)["port"].by_code["DNS"]
    days = [date(2019, 12, 31), date(2020, 1, 1), date(2026, 8, 31), date(2026, 9, 1)]
    assert [code.is_used(day) for day in days] == [False, True, True, False]


@pytest.mark.parametrize("text", ["skv", "SKARVHOLM", "the  rock", "Skarv"])
def test_named_in_other_words(text):
    """A code is named by itself in another case, its label, or an alias."""
    assert [code.code for code in read_codes(TEXT)["port"].named(text)] == ["SKV"]


def test_suggests_what_leads_clearly():
    """A misspelt label suggests its code; nonsense suggests nothing; a retired code is not
    suggested.
    """
    port = read_codes(TEXT)["port"]
    assert [code.code for code in port.suggest("Skarvolm", date(2026, 9, 1))] == ["SKV"]
    assert port.suggest("xyzzy", date(2026, 9, 1)) == ()
    assert port.suggest("Dunse", date(2026, 9, 1)) == ()


@pytest.mark.parametrize(
    ("text", "line", "said"),
    [
        ("list,label\nport,Skarvholm\n", 1, "“code” is missing"),
        ("list,code,lable\nport,SKV,x\n", 1, "did you mean label?"),
        ("list,code\nport,SKV\nport,SKV\n", 3, "twice"),
        ("list,code\nport,\n", 2, "must be filled"),
        ("list,code,last_day\nport,SKV,31.8.2026\n", 2, "write it as 2026-09-01"),
    ],
)
def test_refuses_with_the_line(text, line, said):
    """A wrong list is refused with its line."""
    with pytest.raises(WrongCodes, match=said) as refused:
        read_codes(text)
    assert refused.value.line == line


def test_suggestions_by_the_keys():
    """A code that a hand slips from easily is offered, however short; one that takes two slips
    is not.
    """
    watches = read_codes("list,code,label\nwatch,SKUA,Skua\nwatch,STOA,Stoa\nwatch,SKEA,Skea\n")[
        "watch"
    ]
    texts = ("Skia", "Ksua", "Skka", "Skwa", "Xyz")
    offered = {
        text: [one.code for one in watches.suggest(text, date(2026, 9, 1))] for text in texts
    }
    assert offered == {"Skia": ["SKUA"], "Ksua": ["SKUA"], "Skka": [], "Skwa": ["SKEA"], "Xyz": []}
