"""Made-up words and numbers: of the same shape, none of the real ones, and told apart as those."""

from __future__ import annotations

from random import Random

import numpy as np
import pyarrow as pa
import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.columns.identifiers import add_check, plain_identifiers
from nevefield.core.columns.schemes import SCHEMES
from nevefield.core.definition import Identifier
from nevefield.core.practice.numbers import make_numbers
from nevefield.core.practice.words import BETWEEN, Words, kind_of, runs_of
from nevefield.core.texts import plain_letters

# letters of several scripts, with accents that stand by themselves, digits and what is between
LETTERS = "abcdeklmnorstuvzåéłøßñαβγδεικλνοςτόίжкилнорстёمحدع王小明李가나다라देवनगरी"
TEXT = st.text(st.sampled_from(LETTERS + LETTERS.upper() + "0123456789 -'.,/"), max_size=24)


@given(st.lists(TEXT, min_size=1, max_size=30), st.integers(0, 99))
def test_shape_stays_and_no_word_does(texts, seed):
    """Of any texts, in any script: what is between words stays, words stay words and numbers
    numbers, none of them is one that any of the texts has, and two texts become the same only
    where they are the same but for case and accents.
    """
    words = Words(texts, Random(seed))
    made = {text: words.text(text) for text in texts}
    real = {key(run) for text in texts for kind, run in runs_of(text) if kind != BETWEEN}
    for text, other in made.items():
        before, after = list(runs_of(text)), list(runs_of(other))
        assert [kind for kind, _ in before] == [kind for kind, _ in after]
        assert [run for kind, run in before if kind == BETWEEN] == [
            run for kind, run in after if kind == BETWEEN
        ]
        for (kind, run), (_, new) in zip(before, after, strict=True):
            if kind != BETWEEN and key(run):
                assert key(new) != key(run)
                # single letters and short numbers change places, as there is no room for others
                assert len(key(run)) <= 3 or key(new) not in real
        assert words.text(text) == other
    told = {key(text) for text in texts}
    assert len({key(other) for other in made.values()}) == len(told)


def key(text: str) -> str:
    return plain_letters(text).casefold()


def test_case_and_mail_go_with_the_name():
    """A name is the same made-up one in capitals, without its accents, and in a mail address;
    addresses lead nowhere (RFC 2606), and a domain that one person has is no real word either.
    """
    real = ["Łukasz Świątek", "ŚWIĄTEK", "lukasz.swiatek@klub.pl", "jan@swiatek.pl"]
    words = Words(real, Random(3), shared_domains=["klub.pl"])
    given, family = words.text(real[0]).split()
    assert words.text("ŚWIĄTEK") == family.upper()
    plain = f"{plain_letters(given)}.{plain_letters(family)}".casefold()
    assert words.mail(real[2]) == f"{plain}@klub-pl.example"
    alone = words.mail(real[3])
    assert alone.endswith("-pl.example")
    assert "swiatek" not in alone
    assert words.mail("a@club.example").endswith("@club.example")


@pytest.mark.parametrize("check", [*SCHEMES, ""])
def test_numbers_are_right_where_the_real_ones_are(check):
    """Under every scheme: as many other numbers, all right where the real one is, wrong where it
    is wrong, and none of them real.
    """
    random = Random(check)
    body, _ = SCHEMES.get(check, ("0123456789", ""))
    weights = {"weights": (7, 3, 1, 7, 3, 1, 7), "modulus": 11} if check == "weighted" else {}
    size = 10 if check in ("iso7064-mod97-10", "iso7064-mod661-26", "iso7064-mod1271-36") else 9
    scheme = Identifier(
        length=size if check else 8, prefix="Q", alphabet=body, check=check, **weights
    )
    real = set()
    while len(real) < 150:
        real.add(add_check(scheme, "".join(random.choices(body, k=7))))
    real.discard("")
    # as somebody mistyped them
    wrong = {text[:-1] + ("0" if text[-1] != "0" else "1") for text in sorted(real)[:20] if check}
    values = sorted(real | wrong)

    def right(texts: list[str]) -> np.ndarray:
        return plain_identifiers(scheme, pa.array(texts, pa.string()))

    made = make_numbers(values, right, random, scheme)
    assert made.given_on == 0
    assert set(made.made) == set(values)
    assert len(set(made.made.values())) == len(values)
    assert not set(made.made.values()) & set(values)
    assert right([made.made[text] for text in values]).tolist() == right(values).tolist()


def test_no_room_is_said():
    """Where all numbers that there can be are taken, they change places: nobody keeps the own one,
    and how many it are is told.
    """
    values = [str(number) for number in range(10)]
    made = make_numbers(values, lambda texts: np.array([len(one) == 1 for one in texts]), Random(1))
    assert made.given_on == 10
    assert sorted(made.made.values()) == values
    assert all(real != other for real, other in made.made.items())


def test_kinds_of_characters():
    """Marks of an accent, and vowel signs, belong to the word."""
    assert [kind_of(one) for one in "é\u0301ि７ -"] == ["word"] * 3 + ["number"] + [BETWEEN] * 2


def test_crowded_numbers_get_longer():
    """Where everybody's number is the next one, made-up ones are longer, and none is real."""
    values = [str(number) for number in range(1, 3001)]

    def right(texts: list[str]) -> np.ndarray:
        return np.array([text.isdecimal() and text[0] != "0" for text in texts])

    made = make_numbers(values, right, Random(8))
    assert (made.given_on, len(set(made.made.values()))) == (0, 3000)
    assert not set(made.made.values()) & set(values)
