"""Bars and square codes: a text into dark and light modules, and read back before it is printed.

Sources: ISO/IEC 15417 (Code 128), ISO/IEC 16388 (Code 39), ISO/IEC 15420 (EAN-13), ISO/IEC 18004
(QR), ISO/IEC 16022 (Data Matrix ECC 200): which letters there are, and the quiet zones. The
modules are made by packages that know the standards.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import segno
import zxingcpp
from barcode.codex import Code39
from barcode.ean import EAN13
from segno.encoder import DataOverflowError

__all__ = [
    "DOT_MM",
    "LEAST_MODULE_MM",
    "Modules",
    "Unencoded",
    "code_size",
    "encode",
    "module_width",
    "quiet_zones",
    "reads_back",
]

DOT_MM = 25.4 / 300  # modules are whole dots of a printer of 300 to the inch
LEAST_MODULE_MM = 0.25
LARGEST_MODULE_MM = 0.6
# empty modules that must stand before and behind
QUIET = {
    "code 128": (10, 10),
    "code 39": (10, 10),
    "EAN-13": (11, 7),
    "QR": (4, 4),
    "data matrix": (2, 2),
}
_FORMATS = {
    "code 128": zxingcpp.Code128,
    "code 39": zxingcpp.Code39,
    "EAN-13": zxingcpp.EAN13,
    "QR": zxingcpp.QRCode,
    "data matrix": zxingcpp.DataMatrix,
}
_CODE_39 = re.compile(r"[0-9A-Z .$/+%-]+")
_PAIR = re.compile(r"[$%/+][A-Z]")  # the "full ASCII" feature of ISO/IEC 16388, annex A
LONGEST = {"code 128": 48, "code 39": 32, "EAN-13": 13, "QR": 400, "data matrix": 400}
# Letters that take as much room as each other, in each code: one of them stands for all
_ALIKE: dict[str, dict[str, str | list[str]]] = {
    "code 128": {"0": "123456789", "a": [chr(code) for code in range(32, 127)]},
    "QR": {
        "0": "123456789",
        "A": "BCDEFGHIJKLMNOPQRSTUVWXYZ $%*+-./:",
        "a": [chr(code) for code in range(128)],
    },
    "data matrix": {
        "0": "123456789",
        "A": "BCDEFGHIJKLMNOPQRSTUVWXYZ",
        "a": "bcdefghijklmnopqrstuvwxyz",
        "*": ">",
        "`": "{|}~",
        "!": "\"#$%&'()+,-./:;<=?@[\\]^",
    },
}
_SHAPES = {
    symbol: {
        ord(letter): one
        for one, letters in reversed(list(kinds.items()))
        for letter in (one, *letters)
    }
    for symbol, kinds in _ALIKE.items()
}
PIXELS = 4  # of a module, when it is read back


@dataclass(frozen=True)
class Modules:
    """The modules of a code, row by row; bars are one row. Quiet zones are not among them."""

    symbol: str
    rows: tuple[str, ...]  # of "1", dark, and "0"

    @property
    def across(self) -> int:
        """How many stand side by side, quiet zones counted."""
        return len(self.rows[0]) + quiet_zones(self.symbol)

    @property
    def quiet(self) -> int:
        """How many are empty before the first."""
        return QUIET[self.symbol][0]


@dataclass(frozen=True)
class Unencoded:
    """Why a text cannot be written in a code, as a sentence."""

    why: str


def quiet_zones(symbol: str) -> int:
    """Tell how many empty modules must stand before and behind a code, together."""
    return sum(QUIET[symbol])


@lru_cache(20_000)
def encode(symbol: str, text: str) -> Modules | Unencoded:
    """Write a text in a code.

    Args:
        symbol: One of `design.SYMBOLS`.
        text: What a machine is to read.
    """
    if len(text) > LONGEST[symbol]:
        return Unencoded(
            f"“{text[:20]}…” has {len(text)} letters, and {symbol} takes {LONGEST[symbol]} here."
        )
    if symbol == "EAN-13":
        return _encode_ean(text)
    if symbol == "code 39":
        if not _CODE_39.fullmatch(text):
            lacks = "".join(dict.fromkeys(_CODE_39.sub("", text)))
            return Unencoded(f"Code 39 has no “{lacks}”; code 128 or QR may.")
        if pair := _PAIR.search(text):
            return Unencoded(
                f"Readers may take “{pair.group()}” in code 39 for one other letter; code 128 and"
                " QR say it as it is."
            )
        return Modules(symbol, tuple(Code39(text, add_checksum=False).build()))
    if symbol == "code 128":
        lacks = "".join(dict.fromkeys(letter for letter in text if not " " <= letter <= "~"))
        if lacks:
            return Unencoded(f"Code 128 has no “{lacks}”; QR has.")
        return _write(symbol, text, zxingcpp.Code128)
    if symbol == "QR":
        return _encode_qr(text)
    return _encode_matrix(text)


def _encode_ean(text: str) -> Modules | Unencoded:
    if not re.fullmatch(r"[0-9]{12,13}", text):
        return Unencoded(f"EAN-13 takes 12 digits and a check digit, not “{text}”.")
    made = EAN13(text[:12])
    if text != made.get_fullcode()[: len(text)]:
        return Unencoded(
            f"The check digit of “{text}” is not right: it would be {made.get_fullcode()[-1]}."
        )
    return Modules("EAN-13", tuple(made.build()))


def _encode_qr(text: str) -> Modules | Unencoded:
    if text.isascii():
        # the same size as below, and twenty times as fast
        return _write("QR", text, zxingcpp.QRCode, ec_level="M")
    try:
        # other letters than those of ISO 8859-1 are said to be UTF-8, or readers guess
        code = segno.make(
            text,
            error="m",
            mode="byte",  # else some texts are taken for what is packed two bytes a letter
            micro=False,
            boost_error=False,
            eci=True,
            encoding="utf-8",
        )
    except (DataOverflowError, ValueError):
        return Unencoded("That is too much for a QR code.")
    return Modules(
        "QR", tuple("".join("1" if dark else "0" for dark in row) for row in code.matrix)
    )


def _encode_matrix(text: str) -> Modules | Unencoded:
    modules = _write("data matrix", text, zxingcpp.DataMatrix)
    # the package writes some few texts of other letters than ASCII as no reader reads them
    if not text.isascii() and isinstance(modules, Modules) and not reads_back(modules, text):
        return Unencoded(f"Readers do not read “{text}” from a data matrix code; QR says it.")
    return modules


def _write(
    symbol: str, text: str, kind: zxingcpp.BarcodeFormat, **options: str
) -> Modules | Unencoded:
    try:
        code = zxingcpp.create_barcode(text, kind, **options)
        pixels = np.array(zxingcpp.write_barcode_to_image(code, scale=1, add_quiet_zones=False))
    except ValueError:
        return Unencoded(f"That is too much for a {symbol} code, or nothing.")
    dark = pixels < 128
    rows = dark[:1] if symbol == "code 128" else dark  # of bars the image repeats the one row
    return Modules(symbol, tuple("".join("1" if one else "0" for one in row) for row in rows))


def code_size(symbol: str, text: str) -> tuple[int, int] | Unencoded:
    """Tell how large a code of a text is.

    Args:
        symbol: One of `design.SYMBOLS`.
        text: What a machine is to read.

    Returns:
        How many modules stand side by side, quiet zones not counted, and how many below each
        other; or why there is no such code.

    >>> code_size("code 128", "P000001"), code_size("EAN-13", "5901234123457")
    ((90, 1), (95, 1))
    """
    modules = encode(symbol, _shape(symbol, text))
    if isinstance(modules, Unencoded):
        modules = encode(symbol, text)
    if isinstance(modules, Unencoded):
        return modules
    return len(modules.rows[0]), len(modules.rows)


def _shape(symbol: str, text: str) -> str:
    """Give a text of which a code is as large; so few are drawn to know the size of many."""
    if len(text) > LONGEST[symbol] or symbol == "EAN-13":
        return text
    if symbol == "code 39":
        is_written = _CODE_39.fullmatch(text) and not _PAIR.search(text)
        return "0" * len(text) if is_written else text
    if text.isascii():
        if symbol == "QR" or text.isprintable():
            return text.translate(_SHAPES[symbol])
    elif symbol == "QR":  # by bytes, see `_encode_qr`
        length = len(text.encode("utf-8", "surrogatepass"))
        return "é" * (length // 2) if length % 2 == 0 else "é" * ((length - 3) // 2) + "中"
    return text


def module_width(across: int, room: float) -> float | None:
    """Tell how wide a module becomes, in mm: whole dots of a printer, at least `LEAST_MODULE_MM`;
    None when there is not room enough.

    Args:
        across: How many modules stand side by side, quiet zones counted.
        room: In mm.

    >>> round(module_width(143, 54), 4), module_width(143, 20)
    (0.3387, None)
    """
    dots = int(room / across / DOT_MM + 1e-9)
    width = min(dots, int(LARGEST_MODULE_MM / DOT_MM)) * DOT_MM
    return width if width >= LEAST_MODULE_MM else None


@lru_cache(20_000)
def reads_back(modules: Modules, text: str) -> bool:
    """Tell whether a reader finds the very text in the modules."""
    rows = np.array([[dark == "1" for dark in row] for row in modules.rows])
    before, behind = QUIET[modules.symbol]
    above = before if len(rows) > 1 else 0
    field = np.pad(rows, ((above, above), (before, behind)))
    tall = PIXELS if len(rows) > 1 else 40
    pixels = np.where(np.kron(field, np.ones((tall, PIXELS), bool)), 0, 255).astype(np.uint8)
    found = zxingcpp.read_barcodes(
        np.ascontiguousarray(pixels),
        formats=zxingcpp.BarcodeFormats([_FORMATS[modules.symbol]]),
        # of what is drawn as exactly as this, half the size would be less
        try_downscale=False,
        try_rotate=False,
        try_invert=False,
    )
    return [code.text for code in found] == [text if modules.symbol != "EAN-13" else _full(text)]


def _full(text: str) -> str:
    full: str = EAN13(text[:12]).get_fullcode()
    return full
