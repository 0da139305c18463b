"""Sheets as PDF: texts, sizes and places read back by another package, codes by two readers."""

from __future__ import annotations

import io
import re
import subprocess

import pypdfium2
import pytest
import zxingcpp
from pypdf import PdfReader

from nevefield.cards.looking import lay_one
from nevefield.cards.printing import write_pdf
from nevefield.cards.typefaces import load_typefaces
from nevefield.core.cards.faces import Faces
from nevefield.core.cards.laying import Image, Squares, Words
from nevefield.core.cards.reading import read_design
from nevefield.core.cards.sheets import arrange
from nevefield.store.cards import MadeCard
from tests.cards.house import TODAY, photo_of

POINT = 25.4 / 72
WITHIN = 0.2  # mm
NAMES = (
    "Una Isla Sandvik",
    "Γιώργος Παπαδόπουλος",
    "Małgorzata Żółkiewska-Brzęczyszczykiewicz-Rostrevor",
    "Ольга Гончаренко",
    "Nguyễn Thị Ánh",
)
PHOTO = bytes(range(32))


def design_of(**size):
    line = {"kind": "line", "pieces": [{"field": "f"}]}
    return read_design(
        {
            "name": "d",
            "title": "Try",
            "size": size or {"width": 85.6, "height": 53.98},
            "register": {"roster": "r", "number": "n", "holder": "h"},
            "faces": [
                {
                    "name": "all",
                    "roster": "p",
                    "holder": "f",
                    "front": [
                        {"kind": "band", "name": "band", "pieces": [{"text": "Club"}]},
                        {"kind": "photo", "name": "photo", "width": 18, "height": 20},
                        {
                            **line,
                            "name": "name",
                            "letters": {"size": 13, "least": 8, "lines": 2, "bold": True},
                        },
                        {**line, "name": "right", "letters": {"size": 8.5, "align": "right"}},
                        {"kind": "symbol", "name": "bars", "pieces": [{"field": "f"}], "height": 7},
                        {
                            "kind": "symbol",
                            "name": "matrix",
                            "symbol": "data matrix",
                            "pieces": [{"field": "f"}],
                            "height": 12,
                            "edge": "left",
                        },
                    ],
                    "back": [
                        {
                            "kind": "symbol",
                            "name": "square",
                            "symbol": "QR",
                            "pieces": [{"field": "f"}],
                            "height": 20,
                        },
                        {"kind": "symbol", "name": "old", "symbol": "code 39", "height": 6},
                        {"kind": "symbol", "name": "shop", "symbol": "EAN-13", "height": 8},
                        {**line, "name": "behind"},
                    ],
                }
            ],
        }
    )


def cards_of(count: int) -> list[MadeCard]:
    cards = []
    for number in range(count):
        name = NAMES[number % len(NAMES)]
        texts = {
            "band": "Club",
            "name": name,
            "right": f"year {number}",
            "bars": f"K{number:05}",
            "matrix": f"M{number:04}",
            "square": f"https://club.example/{name}/{number}",
            "old": f"OLD{number}",
            "shop": "4006381333931",
            "behind": f"behind {number}",
        }
        rests = {"stands": [*texts, "photo"]}
        photo = PHOTO if number % 2 == 0 else None
        cards.append(MadeCard(100 + number, 1, number, number, "all", texts, rests, photo))
    return cards


def write(design, cards, paper) -> bytes:
    out = io.BytesIO()
    frames = {PHOTO: (0.1, 0.0, 0.8, 1.0)}
    write_pdf(design, cards, paper, out, {PHOTO: photo_of(300, 320)}.get, frames)
    return out.getvalue()


def laid_of(design, card):
    faces = Faces(design, {}, {}, load_typefaces(), TODAY)
    stands = set(card.rests["stands"])
    return lay_one(faces, design.faces[0], card.texts, stands, has_photo=card.photo is not None)


def texts_of(page) -> list[tuple[str, float, float, float]]:
    """Each text of a page: what, its size in points, x and base line in mm from the upper left."""
    found = []
    height = float(page.mediabox.height)

    def visit(text, _, place, font, size):
        if text.strip():
            found.append((text.strip(), size, place[4] * POINT, (height - place[5]) * POINT))

    page.extract_text(visitor_text=visit)
    return found


@pytest.mark.parametrize("paper", ["", "A4", "Letter"])
def test_what_stands_where(paper):
    """Every line of every card stands on its page with its letters, its size and at its place; the
    photograph fills its place; pages have the size of the paper.
    """
    design, cards = design_of(), cards_of(11)
    reader = PdfReader(io.BytesIO(write(design, cards, paper)))
    pages = list(arrange(len(cards), design.size, paper, has_back=True))
    assert len(reader.pages) == len(pages)
    for page, wanted in zip(reader.pages, pages, strict=True):
        size = (float(page.mediabox.width) * POINT, float(page.mediabox.height) * POINT)
        assert size == pytest.approx((wanted.width, wanted.height), abs=0.01)
        found = texts_of(page)
        letters = {re.sub(r"\s", "", text): (size, x, y) for text, size, x, y in found}
        for slot in wanted.slots:
            for mark in laid_of(design, cards[slot.card])[slot.side].marks:
                if not isinstance(mark, Words):
                    continue
                # the first run of letters of one typeface begins where the line does
                _, first = next(iter(load_typefaces().runs(mark.text, bold=mark.bold)))
                places = [
                    one
                    for text, *one in found
                    if text.startswith(first.strip()[:6]) and one[0] == pytest.approx(mark.size)
                ]
                assert any(
                    abs(x - slot.x - mark.box.x) < WITHIN and abs(y - slot.y - mark.base) < WITHIN
                    for _, x, y in places
                ), (mark, places, letters)
        whole = re.sub(r"\s", "", page.extract_text())
        for slot in wanted.slots:
            if slot.side == "front":
                assert re.sub(r"\s", "", cards[slot.card].texts["name"]) in whole


def test_typefaces_are_embedded():
    """A sheet needs nothing of the machine that prints it."""
    reader = PdfReader(io.BytesIO(write(design_of(), cards_of(5), "A4")))
    fonts = [
        font.get_object()
        for page in reader.pages
        for font in page["/Resources"]["/Font"].get_object().values()
    ]
    used = [font for font in fonts if "Helvetica" not in str(font["/BaseFont"])]
    assert used
    assert all("/FontFile2" in font["/FontDescriptor"].get_object() for font in used)


def pictures_of(content: bytes):
    document = pypdfium2.PdfDocument(content)
    return [page.render(scale=300 / 72).to_pil() for page in document]


def test_codes_are_read_from_paper(tmp_path):
    """Every code on a sheet at 300 dots to the inch is read by two readers, and says what it
    should; what the second one does not know (Data Matrix) by the first alone.
    """
    design, cards = design_of(), cards_of(9)
    read_by_both: list[set[str]] = [set(), set()]
    for number, picture in enumerate(pictures_of(write(design, cards, "A4"))):
        read_by_both[0] |= {code.text for code in zxingcpp.read_barcodes(picture)}
        path = tmp_path / f"{number}.png"
        picture.save(path)
        told = subprocess.run(
            ["zbarimg", "-q", "--raw", "--nodbus", str(path)],
            capture_output=True,
            text=True,
            check=False,
        )
        read_by_both[1] |= set(told.stdout.splitlines())
    wanted = {
        name: {card.texts[name] for card in cards}
        for name in ("bars", "square", "old", "shop", "matrix")
    }
    assert read_by_both[0] == set().union(*wanted.values())
    del wanted["matrix"]
    assert set().union(*wanted.values()) <= read_by_both[1]


def test_what_is_seen(tmp_path):
    """On the page that is printed, the photograph is seen in its place and nowhere else, and what
    has no photograph is left white.
    """
    design, cards = design_of(), cards_of(2)
    first, _, second, _ = pictures_of(write(design, cards, ""))
    (place,) = [
        mark.box for mark in laid_of(design, cards[0])["front"].marks if isinstance(mark, Image)
    ]
    dots = 300 / 25.4

    def colour(picture, x, y):
        return picture.getpixel((round(x * dots), round(y * dots)))

    assert max(colour(first, place.x + 2, place.y + 2)) < 60
    assert colour(first, place.x + 2, place.bottom - 2)[2] > 120
    assert colour(second, place.x + 2, place.y + 2) == (255, 255, 255)
    assert colour(first, place.x - 1, place.y + 2) == (255, 255, 255)
    (bars,) = [
        mark
        for mark in laid_of(design, cards[0])["front"].marks
        if isinstance(mark, Squares) and mark.item == "bars"
    ]
    assert colour(first, bars.box.x + bars.width / 2, bars.box.y + 2) == (0, 0, 0)
    assert colour(first, bars.box.x - bars.width, bars.box.y + 2) == (255, 255, 255)


def test_the_same_run_gives_the_same_bytes():
    """A run printed again is the same file."""
    assert write(design_of(), cards_of(3), "A4") == write(design_of(), cards_of(3), "A4")
