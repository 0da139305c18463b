"""What files gave, where signs act."""

from __future__ import annotations

from unicodedata import category

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from nevefield.core.visible import visible


@pytest.mark.parametrize(
    "text",
    [
        "Łódź · Ærø · Đặng",
        "محمد\u200cرضا",  # Persian is written with a joiner
        "क्\u200dष",
        "שלום\u200f!",
        "名簿 九月",
        "a\u00a0b\nc",
        "👩\u200d🚒",
        "",
    ],
)
def test_names_stay(text):
    """What names are written with in any script is as it was."""
    assert visible(text) == text


@given(st.text())
@example("\x1b]0;mine\x07")
@example("inv\u202excod.exe")
@example("\ud800")
@example("a\rb\tc\x9bd")
def test_nothing_steers(text):
    """No control but the end of a line, no override, no half of a character is left, nothing is
    dropped, and shown again it is the same.
    """
    shown = visible(text)
    assert not any(category(one) in ("Cc", "Cs") and one != "\n" for one in shown)
    assert not set(shown) & set("\u202a\u202b\u202c\u202d\u202e\u2066\u2067\u2068\u2069")
    assert visible(shown) == shown
    assert len(shown) >= len(text)
