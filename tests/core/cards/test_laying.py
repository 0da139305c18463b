"""Whatever stands on a card is inside its place, or is a finding; nothing is ever cut."""

from __future__ import annotations

import re
import unicodedata

import pytest
from hypothesis import given
from hypothesis import strategies as st

from nevefield.cards.typefaces import load_typefaces
from nevefield.core.cards.design import Band, Letters, Line, Photo, Picture, Piece, Size, Symbol
from nevefield.core.cards.fitting import MM_PER_POINT, Fitted, Unfit, fit, tidy
from nevefield.core.cards.laying import Box, Fill, Image, Squares, Words, lay
from nevefield.core.cards.symbols import DOT_MM, LEAST_MODULE_MM

# names as people have them, in scripts that the typefaces have and in some that they have not
ALPHABETS = (
    "abcdefghijklmnopqrstuvwxyzßæøåþðłžčřêéîïñ'-. ",
    "αβγδεζηθικλμνξοπρστυφχψωάέήίόύώϊ ",
    "абвгдежзийклмнопрстуфхцчшщыьэюяёіїєґ- ",
    "ăâđêôơưạảấầẩẫậắằẳẵặẹẻẽếềểễệ ",
    "王李張陳林黃吳",
    "שלוםאבגד ",
    "محمدعلي ",
    "\u200b\u0301\u202e\x00\t\n 😀",
)
names = st.one_of(
    *(st.text(st.sampled_from(letters), min_size=0, max_size=90) for letters in ALPHABETS),
    st.text(max_size=60),
)
letters = st.builds(
    lambda size, less, lines, bold, align: Letters(
        size=size, least=max(4, size - less), lines=lines, bold=bold, align=align
    ),
    st.floats(4, 40).map(lambda size: round(size, 1)),
    st.floats(0, 20),
    st.integers(1, 4),
    st.booleans(),
    st.sampled_from(["left", "middle", "right"]),
)
measure = load_typefaces()


def plain(text: str) -> str:
    """What a text is without where its lines were broken."""
    return re.sub(r"\s+", "", text)


@given(names, st.floats(2, 120), letters)
def test_a_text_fits_or_is_told(text, width, rule):
    """Each line is as wide as its place at most, all letters stand on some line in their order,
    no word is broken, and the sizes are those allowed.
    """
    text = tidy(text)
    if not text:
        return
    fitted = fit(text, width, rule, measure)
    if isinstance(fitted, Unfit):
        assert sum(map(bool, (fitted.letters, fitted.word, fitted.lines))) == 1
        assert set(fitted.letters) <= set(text)
        if fitted.lines:
            assert fitted.lines > rule.lines
        return
    assert not measure.missing(text)
    assert rule.least - 1e-9 <= fitted.size <= rule.size or fitted.size == min(
        rule.least, rule.size
    )
    assert 1 <= len(fitted.lines) <= rule.lines
    for line in fitted.lines:
        assert measure.width(line, bold=rule.bold) * fitted.size * MM_PER_POINT <= width + 1e-6
    assert plain("".join(fitted.lines)) == plain(text)
    words = set(re.split(r"[\s–—/-]", text))
    assert all(set(re.split(r"[\s–—/-]", line)) <= words for line in fitted.lines)


def test_smaller_then_lines_then_told():
    """A text becomes smaller down to the limit, then takes lines at that size, then is told."""
    rule = Letters(size=18, least=11, lines=2, bold=True)
    sizes = []
    for text in (
        "Una Sandvik",
        "Una Isla Sandvik-Rask",
        "Bartholomea Wilhelmina Constance Rostrevor-Featherstonehaugh",
        "Bartholomea Wilhelmina Constance Rostrevor-Featherstonehaugh of Underbarrow and Firth",
    ):
        fitted = fit(text, 55, rule, measure)
        sizes.append(
            (fitted.size, len(fitted.lines)) if isinstance(fitted, Fitted) else fitted.lines
        )
    assert sizes[0] == (18, 1)
    assert sizes[1][0] < 18
    assert sizes[1][1] == 1
    assert sizes[2] == (11, 2) or sizes[2] == 3
    assert sizes[3] == 3 or sizes[3] == 4


edges = st.sampled_from(["left", "right"])
codes = st.sampled_from(["code 128", "code 39", "EAN-13", "QR", "data matrix"])
KINDS = ("line", "line", "line", "band", "photo", "picture", "symbol")
PIECES = (Piece(field="f"),)


def item_of(draw, name: str):
    kind, height = draw(st.sampled_from(KINDS)), draw(st.floats(2, 25))
    if kind == "line":
        above = draw(st.floats(0, 6))
        return Line(name=name, pieces=PIECES, letters=draw(letters), above=above)
    if kind == "band":
        edge, picture = draw(st.sampled_from(["top", "bottom"])), draw(st.sampled_from(["", "ab"]))
        return Band(
            name=name,
            edge=edge,
            height=height,
            pieces=PIECES,
            letters=draw(letters),
            picture=picture,
        )
    if kind == "symbol":
        written = draw(st.booleans())
        return Symbol(
            name=name, symbol=draw(codes), height=height, edge=draw(edges), is_written=written
        )
    width = draw(st.floats(3, 60))
    if kind == "photo":
        return Photo(name=name, edge=draw(edges), width=width, height=height)
    return Picture(name=name, edge=draw(edges), width=width, height=height, picture="ab")


@st.composite
def sides(draw):
    items = tuple(item_of(draw, f"i{number}") for number in range(draw(st.integers(0, 9))))
    texts = {
        item.name: tidy(
            draw(st.one_of(names, st.sampled_from(["TQ197000X", "5901234123457", "12"])))
        )
        for item in items
    }
    size = Size(
        width=draw(st.floats(30, 120)), height=draw(st.floats(30, 90)), margin=draw(st.floats(0, 6))
    )
    return items, texts, size


@given(sides())
def test_everything_is_inside_or_told(side):
    """On any card with any texts: each mark is inside of the card, no two things but those of
    bands lie on each other, every text stands there whole or its item has a finding, modules are
    wide enough, and the letters of each line keep within its box.
    """
    items, texts, size = side
    laid = lay(
        items, size, texts, {item.name for item in items}, measure, has_photo=True, read_back=False
    )
    card = Box(0, 0, size.width, size.height)
    told = {one.item for one in laid.findings}
    said: dict[str, list[str]] = {}
    solid: list[tuple[str, Box]] = []
    bands = {item.name for item in items if isinstance(item, Band)}
    for mark in laid.marks:
        assert card.holds(mark.box), mark
        if isinstance(mark, Words):
            said.setdefault(mark.item, []).append(mark.text)
            wide = measure.width(mark.text, bold=mark.bold) * mark.size * MM_PER_POINT
            assert wide <= mark.box.width + 1e-6
            assert mark.base - measure.ascent * mark.size * MM_PER_POINT >= mark.box.y - 1e-6
            deep = mark.base + measure.descent * mark.size * MM_PER_POINT
            assert deep <= mark.box.bottom + 1e-6
        if isinstance(mark, Squares):
            assert mark.width >= LEAST_MODULE_MM
            assert mark.width / DOT_MM == pytest.approx(round(mark.width / DOT_MM))
            quiet = mark.modules.quiet * mark.width
            around = Box(mark.box.x - quiet, mark.box.y, mark.box.width + 2 * quiet, 0)
            assert around.x >= -1e-6
            assert around.right <= size.width + 1e-6
        if mark.item not in bands or isinstance(mark, Fill):
            solid.append((mark.item, mark.box))
    for number, (name, box) in enumerate(solid):
        for other_name, other in solid[number + 1 :]:
            assert apart(box, other), (name, box, other_name, other)
    for item in items:
        if isinstance(item, (Line, Band)) and texts[item.name] and item.name not in told:
            assert plain("".join(said[item.name])) == plain(texts[item.name])
        if isinstance(item, (Photo, Picture)) and item.name not in told:
            assert any(mark.item == item.name for mark in laid.marks if isinstance(mark, Image))
        if isinstance(item, Symbol) and texts[item.name] and item.name not in told:
            assert any(mark.item == item.name for mark in laid.marks if isinstance(mark, Squares))


def apart(one: Box, other: Box) -> bool:
    slack = 1e-6
    return (
        one.right <= other.x + slack
        or other.right <= one.x + slack
        or one.bottom <= other.y + slack
        or other.bottom <= one.y + slack
    )


@pytest.mark.parametrize(
    ("text", "lacks"),
    [
        ("Žofie Ørsted-Þórsdóttir", ""),
        ("Γιώργος Παπαδόπουλος", ""),
        ("Ольга Ґонта-Їжак", ""),
        ("Nguyễn Thị Ánh Tuyết", ""),
        ("Łukasz Çelik Ğüneş Őri", ""),
        ("王小明", "王小明"),
        ("أحمد", "أحمد"),
        ("a\u0301bc\u0308", "\u0308"),  # the first is composed, the second has no letter of its own
    ],
)
def test_letters_of_the_typefaces(text, lacks):
    """Latin, Greek, Cyrillic and Vietnamese names are set in both weights; what is not is told by
    its letters.
    """
    assert measure.missing(tidy(text)) == lacks
    if not lacks:
        for bold in (False, True):
            assert all(measure.width(letter, bold=bold) > 0 for letter in tidy(text))
            assert "".join(run for _, run in measure.runs(tidy(text), bold=bold)) == tidy(text)


def test_both_weights_have_the_same_letters():
    """What is missing in one weight is missing in the other: it is asked of one."""
    letters_of = measure._letters
    assert letters_of[False].keys() == letters_of[True].keys()


def test_conditions_make_room():
    """An item that is not shown takes no room: what stands below it moves up."""
    items = tuple(
        Line(name=name, pieces=(Piece(text=name),), letters=Letters(size=9, least=9))
        for name in ("one", "two", "three")
    )
    texts = {item.name: item.name for item in items}

    def heights(shown):
        laid = lay(items, Size(), texts, shown, measure, has_photo=False)
        return {mark.item: mark.box.y for mark in laid.marks}

    everything = heights({"one", "two", "three"})
    without = heights({"one", "three"})
    assert without["three"] == everything["two"]
    assert "two" not in without


def test_unicode_is_composed():
    """The same name in either form of Unicode is set alike."""
    name = "Zoë Şahin"
    both = [
        fit(tidy(unicodedata.normalize(form, name)), 40, Letters(), measure)
        for form in ("NFC", "NFD")
    ]
    assert both[0] == both[1]
