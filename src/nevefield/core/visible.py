"""Texts of files as they may be shown where signs act: at a terminal, in a sentence.

Source: ECMA-48 (control functions), Unicode Standard Annex 9 (overrides of direction).
"""

from __future__ import annotations

from unicodedata import category

__all__ = ["visible"]

# embeddings, overrides and isolates; marks and joiners, which names are written with, are none
TURNS = frozenset(map(chr, (*range(0x202A, 0x202F), *range(0x2066, 0x206A))))


def visible(text: str) -> str:
    r"""Write out what steers a terminal or turns a line round, in what files gave: controls,
    overrides of direction, halves of characters. Line ends and letters of every script stay.

    >>> visible("Ki\x1b]0;mine\x07t"), visible("a\u202eb"), visible("Łódź שלום\n")
    ('Ki\\x1b]0;mine\\x07t', 'a\\u202eb', 'Łódź שלום\n')
    """
    if text.isprintable():
        return text
    return "".join(repr(one)[1:-1] if _steers(one) else one for one in text)


def _steers(one: str) -> bool:
    return one in TURNS or (one != "\n" and category(one) in ("Cc", "Cs"))
