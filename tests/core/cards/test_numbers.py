"""Numbers: never twice, and the bits that a reader sends; sheets; names of files."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.cards.design import Numbering, Range, Size
from nevefield.core.cards.fitting import tidy
from nevefield.core.cards.numbers import (
    count_left,
    find_unlike,
    give_numbers,
    read_number,
    wiegand,
    write_number,
)
from nevefield.core.cards.portraits import Portraits
from nevefield.core.cards.sheets import PAPERS, arrange, cutting_marks, per_sheet
from nevefield.core.cards.symbols import Modules, Unencoded, code_size, encode, reads_back
from nevefield.core.errors import CardTooLarge, NoNumbersLeft


@given(st.integers(0, 255), st.integers(0, 65_535))
def test_wiegand_26(facility, number):
    """26 bits: the first makes the first thirteen even, the last makes the others odd."""
    bits = wiegand(facility, number, Numbering())
    assert len(bits) == 26
    assert bits[:13].count("1") % 2 == 0
    assert bits[13:].count("1") % 2 == 1
    assert int(bits[1:9], 2) == facility
    assert int(bits[9:25], 2) == number


@given(
    st.integers(0, 2**48),
    st.text("ABz019-./ ", max_size=20).map(str.lstrip),
    st.integers(0, 18),
    st.integers(0, 4),
)
def test_a_number_is_read_as_it_is_written(number, before, digits, zeros):
    """With whatever stands before it, in any case, and with more zeros or fewer."""
    numbering = Numbering(before=before, digits=digits)
    text = write_number(number, numbering)
    assert text.startswith(before)
    assert len(text) >= len(before) + digits
    assert read_number(text, before) == number
    assert read_number(f" {before.lower()}{'0' * zeros}{number} ", before) == number
    assert find_unlike(["?", text], numbering) == ""


@given(st.text(max_size=30), st.text("ABz-", max_size=3))
def test_what_is_no_number_is_none(text, before):
    """Whatever stands in a register."""
    read = read_number(text, before)
    if read is not None:
        assert text.strip().casefold().startswith(before.casefold())
        assert text.strip()[len(before) :].isdecimal()


@pytest.mark.parametrize(
    ("there", "numbering", "unlike"),
    [
        ([], {}, ""),
        (["11", "7"], {}, ""),
        (["004512"], {}, "004512"),
        (["004512"], {"digits": 6}, ""),
        (["004512"], {"digits": 1}, ""),  # somebody has said that they are written otherwise
        (["LIB-1", "LIB-2"], {}, "LIB-1"),
        (["old 7"], {"before": "LIB-"}, ""),
        (["old 7", "1"], {}, ""),
        (["²", "9" * 5000], {}, "²"),
    ],
)
def test_numbers_of_another_form_are_told(there, numbering, unlike):
    """When no number that there is, is written as the next would be."""
    assert find_unlike(there, Numbering(**numbering)) == unlike


def test_longer_formats():
    """Longer ones are built alike, without a facility too."""
    bits = wiegand(7, 70_000, Numbering(facility_bits=12, number_bits=20))
    assert (len(bits), int(bits[1:13], 2), int(bits[13:33], 2)) == (34, 7, 70_000)
    assert len(wiegand(0, 5, Numbering(facility_bits=0, number_bits=32))) == 34


ranges = st.lists(
    st.tuples(st.integers(0, 2), st.integers(0, 30), st.integers(0, 12), st.sampled_from("AB ")),
    min_size=1,
    max_size=4,
).map(
    lambda parts: tuple(
        Range(facility=facility, first=first, last=first + more, site=site.strip())
        for facility, first, more, site in parts
    )
)


@given(
    st.lists(st.sampled_from(["A", "B", "C", ""]), max_size=30),
    ranges,
    st.dictionaries(st.integers(0, 2), st.sets(st.integers(0, 45)), max_size=3),
)
def test_numbers_are_given_once(sites, given_ranges, used):
    """Each gets a free number of a range of theirs, none twice; or it is told that there are too
    few, and then there are.
    """
    try:
        numbers = give_numbers(sites, given_ranges, used)
    except NoNumbersLeft as error:
        own = [one for one in given_ranges if one.site and one.site == error.site]
        free = {
            (one.facility, number)
            for one in own or [one for one in given_ranges if not one.site]
            for number in range(one.first, one.last + 1)
            if number not in used.get(one.facility, ())
        }
        # others whose ranges have the same numbers may have taken some of them
        assert len(free) < len(sites)
        return
    assert len(numbers) == len(set(numbers)) == len(sites)
    for site, (facility, number) in zip(sites, numbers, strict=True):
        own = [one for one in given_ranges if one.site and one.site == site]
        allowed = own or [one for one in given_ranges if not one.site]
        assert any(one.facility == facility and one.first <= number <= one.last for one in allowed)
        assert number not in used.get(facility, ())


def test_left_is_counted():
    """What is left of a range is what nobody has of it."""
    (left,) = count_left([Range(facility=3, first=10, last=19)], {3: {9, 10, 19, 20}, 4: {11}})
    assert (left.total, left.left) == (10, 8)


@pytest.mark.parametrize(
    ("symbol", "text"),
    [
        ("code 128", "TQ197000X"),
        ("code 128", "a lower~ case"),
        ("code 39", "ABC-12 34"),
        ("EAN-13", "5901234123457"),
        ("EAN-13", "590123412345"),
        ("QR", "https://found.example/Žofie/王"),
        ("data matrix", "003400"),
        ("code 128", "9912"),
        ("QR", "明1"),
        ("QR", "字カ"),
    ],
)
def test_codes_are_read_back(symbol, text):
    """What is written in a code is what a reader reads; and not another text."""
    modules = encode(symbol, text)
    assert isinstance(modules, Modules)
    assert reads_back(modules, text)
    other = encode(symbol, "4006381333931" if symbol == "EAN-13" else "ANOTHER")
    assert isinstance(other, Modules)
    assert not reads_back(other, text)


SAID = {
    "code 128": st.one_of(
        st.text("0123456789", min_size=1, max_size=20),
        st.text("0123456789Ab-", min_size=1, max_size=20),
        st.text([chr(code) for code in range(32, 127)], min_size=1, max_size=48),
    ),
    "code 39": st.text("0123456789ABCXYZ-. $/+%", min_size=1, max_size=32),
    "EAN-13": st.text("0123456789", min_size=12, max_size=12),
    "QR": st.one_of(
        st.text("0123456789", min_size=1, max_size=60),
        st.text("0189ABZ $%*+-./:", min_size=1, max_size=60),
        st.text("abc019 Žńřøß王明字カ1ナДжΩ\u0301😀~", min_size=1, max_size=60),
    ),
    "data matrix": st.one_of(
        st.text("0123456789", min_size=1, max_size=40),
        st.text([chr(code) for code in range(32, 127)], min_size=1, max_size=60),
        st.text("abc019 Žńřøß王", min_size=1, max_size=30),
    ),
}


@given(st.sampled_from(sorted(SAID)).flatmap(lambda one: st.tuples(st.just(one), SAID[one])))
def test_whatever_a_code_takes_is_read_back(said):
    """Numbers of any shape that an institution may give; their size is known without drawing."""
    symbol, text = said[0], tidy(said[1])
    modules = encode(symbol, text) if text else Unencoded("")
    if isinstance(modules, Modules):
        assert reads_back(modules, text)
        assert code_size(symbol, text) == (len(modules.rows[0]), len(modules.rows))
    elif text:
        assert code_size(symbol, text) == modules


@pytest.mark.parametrize(
    ("symbol", "text", "why"),
    [
        ("code 39", "tq1", "Code 39 has no “tq”"),
        ("code 128", "Žofie", "Code 128 has no “Ž”"),
        ("EAN-13", "5901234123450", "would be 7"),
        ("EAN-13", "12", "12 digits"),
        ("QR", "x" * 500, "500 letters"),
    ],
)
def test_what_no_code_takes_is_told(symbol, text, why):
    """What cannot be written in a code is told, with which letters."""
    found = encode(symbol, text)
    assert isinstance(found, Unencoded)
    assert why in found.why


@given(
    st.integers(1, 40),
    st.sampled_from(["A4", "Letter"]),
    st.booleans(),
    st.floats(40, 100),
    st.floats(40, 100),
)
def test_sheets(count, paper, has_back, width, height):
    """Every side of every card stands once, inside of the paper, apart from the others; a back
    stands behind its front when the sheet is turned about its long edge; marks lie on no card.
    """
    size = Size(width=width, height=height)
    pages = list(arrange(count, size, paper, has_back=has_back))
    across, down = per_sheet(paper, size)
    slots = [(slot.card, slot.side) for page in pages for slot in page.slots]
    sides = ("front", "back") if has_back else ("front",)
    assert sorted(slots) == sorted((card, side) for card in range(count) for side in sides)
    wide, high = PAPERS[paper]
    for page in pages:
        assert len(page.slots) <= across * down
        for slot in page.slots:
            assert 10 <= slot.x <= wide - 10 - width + 1e-6
            assert 10 <= slot.y <= high - 10 - height + 1e-6
            for x1, y1, x2, y2 in cutting_marks(slot, size):
                for other in page.slots:
                    middle = ((x1 + x2) / 2, (y1 + y2) / 2)
                    assert not (
                        other.x < middle[0] < other.x + width
                        and other.y < middle[1] < other.y + height
                    )
    if has_back:
        for front, back in zip(pages[::2], pages[1::2], strict=True):
            behind = {slot.card: slot for slot in back.slots}
            for slot in front.slots:
                assert behind[slot.card].x == pytest.approx(wide - slot.x - width)
                assert behind[slot.card].y == slot.y


def test_card_by_card():
    """A card printer gets a page for each side, of the card's own size."""
    pages = list(arrange(2, Size(), "", has_back=True))
    assert [(page.slots[0].card, page.slots[0].side) for page in pages] == [
        (0, "front"),
        (0, "back"),
        (1, "front"),
        (1, "back"),
    ]
    assert {(page.width, page.height) for page in pages} == {(85.6, 53.98)}


def test_too_large_for_the_paper():
    """A card that is larger than the paper is told, and what to do."""
    with pytest.raises(CardTooLarge, match="print card by card"):
        list(arrange(1, Size(width=250, height=60), "A4", has_back=False))


PEOPLE = Portraits(
    {
        1: ["TQ197000X"],
        2: ["003400"],
        3: ["К-77/2", "anna.k@club.example"],
        4: ["12"],
        5: ["M 100-200"],
        6: ["100"],
    }
)


@pytest.mark.parametrize(
    ("file", "record"),
    [
        ("TQ197000X.jpg", 1),
        ("photos/2026/tq-197000-x (2).JPEG", 1),
        ("Oyelaran, Senan TQ 197000X copy.png", 1),
        ("3400.jpg", 2),
        ("IMG_003400_crop.heic", 2),
        ("anna.k@club.example.jpg", 3),
        ("m100200.jpg", 5),
        ("M-100 200 portrait.jpg", 5),
        ("12.jpg", 4),
        ("year 12 class.jpg", None),  # two digits in a name are no number of anybody
        ("IMG_0001.jpg", None),
        ("TQ197000X and 003400.jpg", None),
        (".jpg", None),
    ],
)
def test_whose_a_file_is(file, record):
    """A file is whose identifier stands in its name, spelt in any usual way; of two it is
    nobody's.
    """
    assert PEOPLE.sort(file).record == record


def test_file_of_two_is_told():
    """A file that may be of two people names both."""
    assert PEOPLE.sort("TQ197000X and 003400.jpg").several == (1, 2)
