"""The gate card of the college: its design, its crest, and photographs that nobody can take for
somebody: flat figures in few colours, with the number on the coat.
"""

from __future__ import annotations

import io
import random
import zipfile
from typing import Any

from PIL import Image, ImageDraw

__all__ = ["make_design", "make_photos"]

LAST_DAY = "2026-09-01"
WITHOUT_PHOTO = 3
SIZE = (180, 230)
SKIN = ("#f0d3b8", "#d9a983", "#b07b54", "#7d5236", "#5a3a26")
HAIR = ("#2b2320", "#5b3d28", "#8d6a3f", "#c7a15a", "#7a7a78", "#9c4a2c")
COAT = ("#14484a", "#1f4f82", "#5b4390", "#5f4629", "#4a5964")
WALL = ("#dfe6e4", "#d5dee6", "#e6e1d6")
NAME = [{"field": "given_names"}, {"field": "family_name"}]


BAND = {
    "kind": "band",
    "name": "band",
    "height": 10.5,
    "fill": "spruce",
    "picture": "crest.png",
    "pieces": [{"text": "Tarn Quay Maritime College"}],
}
BARS = {"kind": "symbol", "name": "bars", "symbol": "code 128", "height": 7.5}
NAMED = {
    "kind": "line",
    "name": "name",
    "pieces": NAME,
    "letters": {"size": 15, "least": 10, "lines": 2, "bold": True},
    "is_needed": True,
}
CADETS = [
    BAND,
    {"kind": "photo", "name": "photo"},
    NAMED,
    {
        "kind": "line",
        "name": "programme",
        "pieces": [{"field": "programme"}, {"text": "· year"}, {"field": "year"}],
        "letters": {"size": 9, "least": 7, "colour": "slate"},
    },
    {
        "kind": "line",
        "name": "until",
        "pieces": [{"text": "valid until"}, {"card": "until"}],
        "letters": {"size": 8.5, "least": 7, "colour": "slate"},
    },
    {
        "kind": "line",
        "name": "captain",
        "pieces": [{"text": "Watch captain"}],
        "letters": {"size": 9, "least": 7, "bold": True, "colour": "harbour"},
        "where": {"field": "watch_position", "is": "CAPT"},
        "above": 1,
    },
    {**BARS, "pieces": [{"field": "cadet_number"}]},
]
STAFF = [
    {**BAND, "fill": "harbour"},
    {"kind": "photo", "name": "photo"},
    NAMED,
    {
        "kind": "line",
        "name": "position",
        "pieces": [{"field": "position", "form": "capitals"}],
        "letters": {"size": 14, "least": 13, "colour": "slate"},
    },
    {**BARS, "pieces": [{"field": "staff_number"}]},
]
FOUND = (
    "Found? Hand it in at any gatehouse, or post it to the Registrar, Tarn Quay Maritime College."
)
BACK = [
    {"kind": "band", "name": "strip", "height": 6, "fill": "spruce"},
    {
        "kind": "symbol",
        "name": "square",
        "symbol": "QR",
        "height": 16,
        "edge": "right",
        "pieces": [{"text": "https://found.tarnquay.example/"}],
    },
    {
        "kind": "line",
        "name": "found",
        "pieces": [{"text": FOUND}],
        "letters": {"size": 8, "least": 6.5, "lines": 4},
    },
    {
        "kind": "line",
        "name": "number",
        "pieces": [{"text": "Card"}, {"card": "facility"}, {"text": "·"}, {"card": "number"}],
        "letters": {"size": 9, "least": 7, "bold": True},
        "above": 2,
    },
]
REGISTER = {
    "roster": "gate-passes",
    "facility": "facility_code",
    "number": "card_number",
    "holder": "holder",
    "state": "pass_state",
    "until": "valid_until",
    "name": "door_name",
    "in_use": ["ACTIVE"],
    "lost": "LOST",
    "spoiled": "BLOCKED",
    "returned": "RETURNED",
    "replaced": "BLOCKED",
}
RANGES = [
    {"facility": 17, "first": 1, "last": 1120, "site": "NQ"},
    {"facility": 42, "first": 1, "last": 1120, "site": "CH"},
    {"facility": 91, "first": 1, "last": 60, "site": "TSM"},
    {"facility": 17, "first": 60_001, "last": 60_400},
]


def make_design() -> tuple[bytes, dict[str, Any]]:
    """Make the crest, as PNG, and the design, whose bands have the crest by its place as
    `crest.png`.
    """
    cadets = {
        "name": "cadets",
        "roster": "cadets",
        "holder": "cadet_number",
        "until": "enrolled_to",
        "site": "campus",
        "where": {"field": "enrolled_to", "from": LAST_DAY},
        "front": CADETS,
        "back": BACK,
    }
    staff = {
        "name": "staff",
        "roster": "staff",
        "holder": "staff_number",
        "front": STAFF,
        "back": BACK,
    }
    return _draw_crest(), {
        "name": "gate-card",
        "title": "Gate card",
        "register": REGISTER,
        "numbering": {"ranges": RANGES, "warns": 80},
        "faces": [cadets, staff],
    }


def make_photos(
    chance: random.Random,
    cadets: list[dict[str, Any]],
    staff: list[dict[str, Any]],
    who: dict[str, list[str]],
) -> tuple[bytes, dict[str, Any]]:
    """Draw a photograph of everybody who gets a card but three, named by their numbers in several
    ways, in a zip archive; and tell the truth about who needs a card.
    """
    enrolled = [one["cadet_number"] for one in cadets if one["enrolled_to"] >= LAST_DAY]
    people = [*enrolled, *(one["staff_number"] for one in staff)]
    missing = sorted(who["without"][:-1])[:WITHOUT_PHOTO]
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for number in people:
            if number in missing:
                continue
            entry = zipfile.ZipInfo(f"gate/{_spell(chance, number)}.jpg", (2026, 8, 20, 9, 0, 0))
            archive.writestr(entry, _draw(chance, number))
    unfit = who["without"][-1:]
    truth = {
        "make": sorted(set(who["without"]) - set(missing) - set(unfit)),
        "anew": sorted(who["lost"]),
        "photo": missing,
        "unfit": unfit,
        "has": sorted(set(people) - set(who["without"]) - set(who["lost"])),
        "take in": sorted(who["kept"]),
    }
    return out.getvalue(), truth


def _spell(chance: random.Random, number: str) -> str:
    return chance.choice(
        [number, number.lower(), f"{number[:2]}-{number[2:]}", f"IMG {number} (1)"]
    )


def _draw(chance: random.Random, number: str) -> bytes:
    """Draw a figure: a wall, a coat, a neck, a head, hair, two eyes, and the number."""
    width, height = SIZE
    picture = Image.new("RGB", SIZE, chance.choice(WALL))
    pen = ImageDraw.Draw(picture)
    skin, middle = chance.choice(SKIN), width // 2 + chance.randrange(-6, 7)
    head, top = chance.randrange(34, 42), chance.randrange(38, 52)
    hair = chance.choice(HAIR)
    if chance.random() < 0.45:
        pen.ellipse((middle - head - 8, top - 10, middle + head + 8, top + 3 * head), fill=hair)
    pen.rounded_rectangle(
        (middle - 66, top + int(head * 2.6), middle + 66, height + 40),
        radius=40,
        fill=chance.choice(COAT),
    )
    pen.rectangle((middle - 13, top + 2 * head, middle + 13, top + int(head * 2.8)), fill=skin)
    pen.ellipse((middle - head, top, middle + head, top + int(head * 2.5)), fill=skin)
    pen.chord((middle - head - 3, top - 8, middle + head + 3, top + head + 12), 180, 360, fill=hair)
    for eye in (-14, 14):
        pen.ellipse(
            (middle + eye - 3, top + head + 6, middle + eye + 3, top + head + 12), "#1b1b1b"
        )
    pen.text((middle - 3 * len(number), height - 22), number, fill="#ffffff")
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=70)
    return out.getvalue()


def _draw_crest() -> bytes:
    """Draw the crest: an anchor in a ring, white on nothing."""
    picture = Image.new("RGBA", (240, 240), (0, 0, 0, 0))
    pen = ImageDraw.Draw(picture)
    pen.ellipse((8, 8, 232, 232), outline="#ffffff", width=12)
    pen.ellipse((102, 44, 138, 80), outline="#ffffff", width=10)
    pen.line((120, 80, 120, 190), fill="#ffffff", width=14)
    pen.line((84, 104, 156, 104), fill="#ffffff", width=12)
    pen.arc((62, 90, 178, 196), 20, 160, fill="#ffffff", width=14)
    out = io.BytesIO()
    picture.save(out, "PNG", optimize=True)
    return out.getvalue()
