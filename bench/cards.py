"""Cards: `bench/cards.py [COUNT]`. Sheets of a run as PDF, who needs one among many, and one change
of a design; each against a plain script that does the same with the same packages, in this run.
"""

from __future__ import annotations

import io
import resource
import sys
import time
from datetime import date

import numpy as np
from PIL import Image
from reportlab.graphics.barcode.code128 import Code128
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from nevefield.cards.looking import lay_one
from nevefield.cards.printing import write_pdf
from nevefield.cards.typefaces import load_typefaces
from nevefield.core.cards.design import Design
from nevefield.core.cards.faces import Faces
from nevefield.core.cards.needing import Held, find_needed
from nevefield.core.cards.reading import read_design
from nevefield.core.cards.trying import find_hardest, fit_all
from nevefield.core.defining.reading import read_definition
from nevefield.core.snapshot import Snapshot
from nevefield.store.cards import MadeCard

COUNT = int(sys.argv[1]) if len(sys.argv) > 1 else 5_000
MANY = 50_000
TODAY = date(2026, 9, 1)
GIVEN = ("Ada", "Małgorzata", "Γιώργος", "Ольга", "Nguyễn Thị", "Bartholomea Wilhelmina")
FAMILY = (
    "Li",
    "Oyelaran-Vik",
    "Παπαδόπουλος",
    "Гончаренко",
    "Rostrevor-Featherstonehaugh",
    "Strand",
)
ENDINGS = [f"{first}{last}" for first in "aeiouáéíóú" for last in ("n", "ska", "ri", "mond")]
DEFINITION = read_definition(
    {
        "name": "people",
        "title": "People",
        "primaryKey": "number",
        "fields": [
            {"name": name, "title": name, "type": "string"}
            for name in ("number", "given", "family", "office", "year")
        ],
    }
)


def design_of(*, photo: bool):
    letters = {"size": 14, "least": 8, "lines": 2, "bold": True}
    return read_design(
        {
            "name": "d",
            "title": "D",
            "register": {"roster": "cards", "number": "n", "holder": "h"},
            "faces": [
                {
                    "name": "all",
                    "roster": "people",
                    "holder": "number",
                    "front": [
                        {"kind": "band", "name": "band", "pieces": [{"text": "An institution"}]},
                        {"kind": "photo", "name": "photo", "is_needed": photo},
                        {
                            "kind": "line",
                            "name": "name",
                            "pieces": [{"field": "given"}, {"field": "family"}],
                            "letters": letters,
                        },
                        {"kind": "line", "name": "office", "pieces": [{"field": "office"}]},
                        {
                            "kind": "line",
                            "name": "year",
                            "pieces": [{"text": "year"}, {"field": "year"}],
                        },
                        {"kind": "symbol", "name": "bars", "pieces": [{"field": "number"}]},
                    ],
                    "back": [
                        {
                            "kind": "line",
                            "name": "found",
                            "pieces": [{"text": "Found? Hand it in at any gate."}],
                        }
                    ],
                }
            ],
        }
    )


def design_of_another():
    """Another hand's: numbers in a square with what it says below, conditions, a photograph that
    not everybody has, both sides full.
    """
    letters = {"size": 16, "least": 7, "lines": 3}
    line = {"kind": "line", "letters": letters}
    return read_design(
        {
            "name": "d",
            "title": "D",
            "size": {"width": 70, "height": 45},
            "register": {"roster": "cards", "number": "n", "holder": "h"},
            "faces": [
                {
                    "name": "all",
                    "roster": "people",
                    "holder": "number",
                    "front": [
                        {"kind": "photo", "width": 18, "height": 20},
                        {
                            "kind": "symbol",
                            "name": "square",
                            "symbol": "QR",
                            "height": 12,
                            "is_written": True,
                            "pieces": [{"text": "https://x.example/"}, {"field": "number"}],
                        },
                        line | {"name": "family", "pieces": [{"field": "family"}]},
                        line
                        | {"name": "given", "pieces": [{"field": "given", "form": "capitals"}]},
                        line
                        | {
                            "name": "first",
                            "pieces": [{"text": "First year"}],
                            "where": {"field": "year", "is": "0"},
                        },
                    ],
                    "back": [
                        line | {"name": "office", "pieces": [{"field": "office"}]},
                        {"kind": "symbol", "name": "bars", "pieces": [{"card": "number"}]},
                        {
                            "kind": "symbol",
                            "name": "matrix",
                            "symbol": "data matrix",
                            "pieces": [{"field": "number"}],
                        },
                    ],
                }
            ],
        }
    )


def people(count: int) -> Snapshot:
    """People of whom hardly two have the same name."""
    records = [
        {
            "number": f"P{place:06}",
            "given": GIVEN[place % 6],
            "family": " ".join(FAMILY[place // 6 % 6 :][: 2 if place % 7 == 0 else 1])
            + ENDINGS[place // 36 % 40]
            + ENDINGS[place // 1_440 % 40],
            "office": f"Office {place % 40}",
            "year": str(place % 4),
        }
        for place in range(count)
    ]
    return Snapshot.of_values(DEFINITION, list(range(1, count + 1)), records, 1)


def photos(count: int) -> dict[bytes, bytes]:
    """Photographs, all different, of some 20 kB."""
    noise = np.random.default_rng(7)
    made = {}
    for place in range(count):
        rows = noise.integers(0, 255, (40, 30, 3), np.uint8)
        out = io.BytesIO()
        Image.fromarray(rows).resize((360, 480)).save(out, "JPEG", quality=80)
        made[place.to_bytes(32, "big")] = out.getvalue()
    return made


def timed(work):
    begun = time.perf_counter()
    result = work()
    return time.perf_counter() - begun, result


def sheets() -> None:
    design, pictures = design_of(photo=True), photos(min(COUNT, 500))
    snapshot = people(COUNT)
    faces = Faces(design, {"people": snapshot}, {}, load_typefaces(), TODAY)
    (face,) = design.faces
    digests = list(pictures)
    cards = [
        MadeCard(
            place,
            1,
            place,
            place,
            "all",
            faces.texts(face, place, faces.card(face, place)),
            {"stands": [item.name for item in face.items()]},
            digests[place % len(digests)],
        )
        for place in range(COUNT)
    ]
    frames = dict.fromkeys(digests, (0.05, 0.0, 0.9, 0.86))

    def ours() -> int:
        out = io.BytesIO()
        write_pdf(design, cards, "A4", out, pictures.get, frames)
        return len(out.getvalue())

    def plain() -> int:
        """The same things at fixed places, as somebody would who has names that fit."""
        out = io.BytesIO()
        canvas = Canvas(out, pageCompression=1)
        fonts = {font.fontName: font for font in load_typefaces().fonts()}
        bold, usual = (
            next(name for name in fonts if "latin-" in name and name.endswith(weight))
            for weight in ("700", "400")
        )
        for font in fonts.values():
            pdfmetrics.registerFont(font)
        for first in range(0, COUNT, 8):
            for place in range(first, min(first + 8, COUNT)):
                card = cards[place]
                x, y = 20 + place % 2 * 255, 40 + place % 8 // 2 * 165
                canvas.rect(x, y + 125, 242, 28, stroke=0, fill=1)
                canvas.drawImage(
                    ImageReader(io.BytesIO(pictures[card.photo])), x + 8, y + 40, 62, 79
                )
                canvas.setFont(bold, 12)
                canvas.drawString(x + 80, y + 100, card.texts["name"])
                canvas.setFont(usual, 9)
                canvas.drawString(x + 80, y + 85, card.texts["office"])
                canvas.drawString(x + 80, y + 70, card.texts["year"])
                Code128(card.texts["bars"], barHeight=22, barWidth=0.72).drawOn(
                    canvas, x + 80, y + 10
                )
            canvas.showPage()
            for place in range(first, min(first + 8, COUNT)):
                canvas.setFont(usual, 9)
                canvas.drawString(20 + place % 2 * 255, 60 + place % 8 // 2 * 165, "Found?")
            canvas.showPage()
        canvas.save()
        return len(out.getvalue())

    (mine, size), (theirs, other) = timed(ours), timed(plain)
    most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    print(
        f"{COUNT:,} cards to PDF, both sides on A4: ours {mine:.1f} s ({size / 1e6:.0f} MB), plain"
        f" {theirs:.1f} s ({other / 1e6:.0f} MB): {mine / theirs:.2f}; most memory {most:.0f} MB"
    )


def needed(design: Design, shape: str) -> None:
    snapshot, pictures = people(MANY), dict.fromkeys(range(1, MANY, 3), "ab")
    held = [Held(place, str(place), f"P{place:06}") for place in range(0, MANY, 2)]
    typefaces = load_typefaces()

    def ours() -> int:
        faces = Faces(design, {"people": snapshot}, {}, typefaces, TODAY)
        return len(find_needed(faces, held, {}, pictures).people)

    def plain() -> int:
        """Who has none, and whether the name fits on two lines at the least size."""
        has = {card.holder for card in held}
        rows = zip(
            *(snapshot.columns[name].rows(np.arange(MANY)) for name in snapshot.columns),
            strict=True,
        )
        wanting = 0
        for number, given, family, _, _ in rows:
            if number in has:
                continue
            text = f"{given} {family}"
            width = typefaces.width(text, bold=True) * 8 * 25.4 / 72
            wanting += width < 2 * 54 and not typefaces.missing(text)
        return wanting

    (mine, _), (theirs, _) = timed(ours), timed(plain)
    print(
        f"who needs one of {MANY:,}, {shape}: ours {mine:.2f} s, plain {theirs:.2f} s:"
        f" {mine / theirs:.1f}"
    )


def change(design: Design, many: int) -> None:
    snapshot = people(many)
    typefaces = load_typefaces()
    faces = Faces(design, {"people": snapshot}, {}, typefaces, TODAY)
    (face,) = design.faces

    def card() -> None:
        texts = faces.texts(face, 7, faces.card(face, 7))
        lay_one(faces, face, texts, faces.shown(face, 7), has_photo=True)

    one = min(timed(card)[0] for _ in range(20))
    everybody, _ = timed(lambda: find_hardest(fit_all(faces, ())))
    print(
        f"one change: the card {one * 1000:.1f} ms; the hardest of {many:,}"
        f" {everybody * 1000:.0f} ms"
    )


if __name__ == "__main__":
    sheets()
    needed(design_of(photo=False), "bars")
    needed(design_of_another(), "squares and conditions")
    change(design_of(photo=False), 1_571)
    change(design_of_another(), MANY)
