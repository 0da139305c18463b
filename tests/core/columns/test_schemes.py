"""Check characters, against published examples and against the slips that each scheme promises
to catch.
"""

from __future__ import annotations

import random

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from nevefield.core.columns.identifiers import _is_right, add_check, mend_identifier
from nevefield.core.columns.schemes import SCHEMES, alphabet_of, check_length
from nevefield.core.definition import Identifier

PURE = [name for name in SCHEMES if name != "weighted"]
DIGITS = "0123456789"
HYBRID = ("iso7064-mod11-10", "iso7064-mod27-26", "iso7064-mod37-36")


@pytest.mark.parametrize(
    ("scheme", "whole"),
    [
        ("luhn", "79927398713"),  # the usual example of ISO/IEC 7812-1
        ("luhn", "4539578763621486"),
        ("damm", "5724"),  # Damm 2004
        ("verhoeff", "2363"),  # Verhoeff 1969
        ("verhoeff", "123451"),
        ("iso7064-mod11-2", "07940"),  # ISO 7064:2003, 7.2
        ("iso7064-mod11-2", "079X"),
        # an ORCID of the documentation: 0000-0002-1825-0097
        ("iso7064-mod11-2", "0000000218250097"),
        ("iso7064-mod11-10", "07945"),  # ISO 7064:2003, 9
        ("iso7064-mod97-10", "079444"),
        ("iso7064-mod37-2", "G123489654321Y"),  # ISO 7064:2003, a blood donation number
        ("iso7064-mod37-36", "A12425GABC1234002M"),  # ISO 15706
    ],
)
def test_published_examples(scheme, whole):
    """Examples from the standards and papers hold, and with another last character do not."""
    identifier = Identifier(check=scheme)
    assert _is_right(identifier, whole)
    others = [one for one in alphabet_of(scheme)[1] if one != whole[-1]]
    assert not any(_is_right(identifier, whole[:-1] + one) for one in others)


def bodies(scheme: str):
    known = alphabet_of(scheme)[0]
    letters = known if len(known) < 30 else DIGITS + "ABCXYZ"
    return st.text(letters, min_size=3, max_size=9)


@pytest.mark.parametrize("scheme", PURE)
@given(data=st.data())
def test_completed_identifiers_hold(scheme, data):
    """Whatever the body, the completed identifier is right and needs no mending."""
    body = data.draw(bodies(scheme))
    whole = add_check(Identifier(prefix="TQ", check=scheme), body)
    assert whole[: 2 + len(body)] == "TQ" + body
    assert len(whole) == 2 + len(body) + check_length(scheme)
    assert mend_identifier(Identifier(len(whole), "TQ", "", scheme), whole).repair == ""


@pytest.mark.parametrize("scheme", PURE)
@given(data=st.data())
def test_catches_one_wrong_character(scheme, data):
    """One wrong character is always caught."""
    body = data.draw(bodies(scheme))
    whole = add_check(Identifier(check=scheme), body)
    place = data.draw(st.integers(0, len(body) - 1))
    known = DIGITS if alphabet_of(scheme)[0][0] == "0" else alphabet_of(scheme)[0]
    wrong = data.draw(st.sampled_from([one for one in known if one != whole[place]]))
    # there a letter stands for two digits
    assume(whole[place].isdigit() or scheme != "iso7064-mod97-10")
    assert not _is_right(Identifier(check=scheme), whole[:place] + wrong + whole[place + 1 :])


@pytest.mark.parametrize("scheme", [name for name in PURE if name not in ("luhn", *HYBRID)])
@given(data=st.data())
def test_catches_swapped_neighbours(scheme, data):
    """Two swapped neighbours are always caught by these schemes, and the swap is offered back."""
    known = DIGITS if alphabet_of(scheme)[0][0] == "0" else alphabet_of(scheme)[0]
    body = data.draw(st.text(known, min_size=3, max_size=9))
    identifier = Identifier(check=scheme)
    whole = add_check(identifier, body)
    place = data.draw(st.integers(0, len(body) - 2))
    assume(whole[place] != whole[place + 1])
    broken = whole[:place] + whole[place + 1] + whole[place] + whole[place + 2 :]
    assert not _is_right(identifier, broken)
    assert whole in mend_identifier(
        Identifier(len(whole), check=scheme), broken
    ).suggestions or _more_than_three(identifier, broken)


def _more_than_three(identifier: Identifier, broken: str) -> bool:
    return (
        len(mend_identifier(Identifier(len(broken), check=identifier.check), broken).suggestions)
        == 3
    )


def test_weighted_scheme():
    """Own weights and modulus: an ISBN-10, whose 10 is written X."""
    isbn = Identifier(10, "", DIGITS, "weighted", False, (10, 9, 8, 7, 6, 5, 4, 3, 2), 11)
    assert _is_right(isbn, "0306406152")
    assert _is_right(isbn, "097522980X")
    assert not _is_right(isbn, "0306406153")


@pytest.mark.parametrize(
    ("text", "value", "repair", "problem"),
    [
        ("TQ2044104", "TQ2044104", "", ""),
        ("tq2044104", "TQ2044104", "case", ""),
        ("TQ 204-4104", "TQ2044104", "spaces", ""),
        ("2044104", "2044104", "", "does not begin with TQ"),
        ("TQ20441", "TQ20441", "", "has 7 characters, not 9"),
        ("TQ20A4104", "TQ20A4104", "", "has A, which cannot stand there"),
        ("TQ2044105", "TQ2044105", "", "check character does not fit"),
    ],
)
def test_mends_cadet_numbers(text, value, repair, problem):
    """Spaces and case are mended with certainty; all else is said."""
    mended = mend_identifier(Identifier(9, "TQ", DIGITS, "iso7064-mod11-2"), text)
    assert (mended.value, mended.repair, mended.problem) == (value, repair, problem)


def test_leading_zeros():
    """Lost zeros are given back when a check character agrees; without one they are only
    offered.
    """
    number = add_check(Identifier(6, "", DIGITS, "luhn"), "00417")
    assert mend_identifier(Identifier(6, "", DIGITS, "luhn"), number.lstrip("0")).value == number
    plain = mend_identifier(Identifier(6, "", DIGITS), "417")
    assert plain.problem
    assert plain.suggestions == ("000417",)


# A second implementation of every scheme, one identifier at a time and as the papers tell it, to
# hold the first one to.
def naive_luhn(text: str) -> bool:
    total = 0
    for place, letter in enumerate(reversed(text)):
        doubled = int(letter) * (2 if place % 2 else 1)
        total += doubled // 10 + doubled % 10
    return total % 10 == 0


QUASIGROUP = (
    *("0317598642", "7092154863", "4206871359", "1750983426", "6123045978"),
    *("3674209581", "5869720134", "8945362017", "9438617205", "2581436790"),
)


def naive_damm(text: str) -> bool:
    state = 0
    for letter in text:
        state = int(QUASIGROUP[state][int(letter)])
    return state == 0


def naive_verhoeff(text: str) -> bool:
    """The dihedral group as turns and flips of a pentagon's corners, multiplied by doing one
    after the other.
    """

    def corners(number: int) -> list[int]:
        return (
            [(number + one) % 5 for one in range(5)]
            if number < 5
            else [(number - one) % 5 for one in range(5)]
        )

    elements = [corners(number) for number in range(10)]
    permutation = [1, 5, 7, 6, 2, 8, 3, 0, 9, 4]
    state = 0
    for place, letter in enumerate(reversed(text)):
        value = int(letter)
        for _ in range(place):
            value = permutation[value]
        state = elements.index([elements[state][one] for one in elements[value]])
    return state == 0


def naive_pure(modulus: int, radix: int, letters: str):
    def right(text: str) -> bool:
        return (
            sum(letters.index(letter) * radix**power for power, letter in enumerate(reversed(text)))
            % modulus
            == 1
        )

    return right


def naive_97(text: str) -> bool:
    return int("".join(str(int(letter, 36)) for letter in text)) % 97 == 1


def naive_hybrid(base: int, letters: str):
    def right(text: str) -> bool:
        product = base
        for letter in text[:-1]:
            product = (product + letters.index(letter)) % base or base
            product = product * 2 % (base + 1)
        return (product + letters.index(text[-1])) % base == 1

    return right


ALL = DIGITS + "ABCDEFGHIJKLMNOPQRSTUVWXYZ"
NAIVE = {
    "luhn": naive_luhn,
    "damm": naive_damm,
    "verhoeff": naive_verhoeff,
    "iso7064-mod11-2": naive_pure(11, 2, DIGITS + "X"),
    "iso7064-mod37-2": naive_pure(37, 2, ALL + "*"),
    "iso7064-mod97-10": naive_97,
    "iso7064-mod661-26": naive_pure(661, 26, ALL[10:]),
    "iso7064-mod1271-36": naive_pure(1271, 36, ALL),
    "iso7064-mod11-10": naive_hybrid(10, DIGITS),
    "iso7064-mod27-26": naive_hybrid(26, ALL[10:]),
    "iso7064-mod37-36": naive_hybrid(36, ALL),
}


@pytest.mark.parametrize("scheme", PURE)
def test_agrees_with_a_second_implementation(scheme):
    """Of 4,000 random identifiers, right and wrong ones, both implementations say the same; and
    some are right.
    """
    chance = random.Random(scheme)
    body, check = alphabet_of(scheme)
    texts = []
    for _ in range(2_000):
        text = "".join(chance.choices(body, k=chance.randint(3, 12)))
        texts.append(text + "".join(chance.choices(check, k=check_length(scheme))))
        texts.append(
            add_check(Identifier(check=scheme), text)
            if len(texts) % 10 == 1
            else text + chance.choice(check) * check_length(scheme)
        )
    identifier = Identifier(check=scheme)
    ours = [_is_right(identifier, text) for text in texts]
    assert ours == [NAIVE[scheme](text) for text in texts]
    assert 150 < sum(ours) < len(texts)


@pytest.mark.parametrize("scheme", [name for name in PURE if name not in ("luhn", *HYBRID)])
def test_every_slip_of_many_is_caught(scheme):
    """Of 60 identifiers, every single wrong character and every swap of neighbours is caught."""
    chance = random.Random(scheme)
    known = DIGITS if alphabet_of(scheme)[0][0] == "0" else alphabet_of(scheme)[0]
    identifier = Identifier(check=scheme)
    for _ in range(60):
        whole = add_check(identifier, "".join(chance.choices(known, k=6)))
        for place in range(6):
            for wrong in known:
                if wrong != whole[place]:
                    assert not _is_right(identifier, whole[:place] + wrong + whole[place + 1 :]), (
                        whole,
                        place,
                        wrong,
                    )
        for place in range(5):
            if whole[place] != whole[place + 1]:
                assert not _is_right(
                    identifier, whole[:place] + whole[place + 1] + whole[place] + whole[place + 2 :]
                )
