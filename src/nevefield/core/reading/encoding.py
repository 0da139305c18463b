"""Decide a text's encoding from its bytes."""

from __future__ import annotations

import codecs

from nevefield.core.errors import UnreadableFile

__all__ = ["decode"]

_MARKS = [
    (codecs.BOM_UTF8, "utf-8"),
    (codecs.BOM_UTF16_LE, "utf-16-le"),
    (codecs.BOM_UTF16_BE, "utf-16-be"),
]
_CONTROLS = bytes(range(0, 9)) + bytes(range(14, 27)) + bytes(range(28, 32))
_NAMES = {"utf-8": "UTF-8", "windows-1252": "Windows-1252", "utf-16-le": "UTF-16", "utf-16-be": "UTF-16"}


def decode(data: bytes, wanted: str = "") -> tuple[str, str, str]:
    """Decode text.

    Args:
        data: The bytes.
        wanted: An encoding that a person named; "" to decide here.

    Returns:
        The text without its byte order mark, the encoding's name as Python knows it, and its name for a person.

    Raises:
        UnreadableFile: The bytes are no text, or not in the encoding named.
    """
    if wanted:
        try:
            return data.decode(wanted).removeprefix("\ufeff"), wanted, _NAMES.get(wanted, wanted)
        except (UnicodeDecodeError, LookupError) as error:
            raise UnreadableFile(f"The file is not written in {wanted}.", "Choose another encoding.") from error
    for mark, name in _MARKS:
        if data.startswith(mark):
            body = data[len(mark) :]
            return body.decode(name, errors="replace"), name, _NAMES[name]
    head = data[:4000]
    if head.count(0) > len(head) // 4:
        # Every second byte of Latin text in UTF-16 is zero; which one tells the byte order.
        name = "utf-16-le" if head[1::2].count(0) > head[::2].count(0) else "utf-16-be"
        try:
            return data.decode(name), name, _NAMES[name]
        except UnicodeDecodeError:
            pass
    if len(head.translate(None, _CONTROLS)) < 0.95 * len(head):
        raise UnreadableFile(
            "This is not text: the file holds bytes of a program's own format.", "Ask for a workbook (.xlsx) or a CSV file."
        )
    try:
        return data.decode("utf-8"), "utf-8", "UTF-8"
    except UnicodeDecodeError:
        # The bytes that Windows-1252 leaves undefined become replacement marks rather than refusing the file.
        return data.decode("windows-1252", errors="replace"), "windows-1252", "Windows-1252"
