"""Say from the first bytes what kind of file this is, and refuse plainly what is no table."""

from __future__ import annotations

import io
import struct
import zipfile
import zlib

from nevefield.core.errors import UnreadableFile

__all__ = ["BROKEN_ARCHIVE", "MOST_IN_ALL", "MOST_TIMES", "MOST_UNPACKED", "kind_of"]

# What the library of archives raises on one that is damaged, encrypted, or packed in a way that it
# does not know.
BROKEN_ARCHIVE = (
    zipfile.BadZipFile,
    zlib.error,
    EOFError,
    OSError,
    KeyError,
    IndexError,
    ValueError,
    RuntimeError,
    struct.error,
)
# bytes that a packed file may unpack to, unless it packs by less than MOST_TIMES
MOST_UNPACKED = 200_000_000
MOST_TIMES = 100
MOST_IN_ALL = 2_000_000_000  # bytes that any packed file may unpack to
_SEND_TABLE = "Ask for a workbook (.xlsx) or a CSV file."
_MAGIC = [
    (b"\x89PNG\r\n\x1a\n", "a picture (PNG)"),
    (b"\xff\xd8\xff", "a picture (JPEG)"),
    (b"GIF8", "a picture (GIF)"),
    (b"%PDF-", "a PDF document"),
    (b"\x7fELF", "a program"),
    (b"MZ", "a program"),
    (b"{\\rtf", "a text document (RTF)"),
    (b"7z\xbc\xaf\x27\x1c", "a 7z archive"),
    (b"Rar!", "a RAR archive"),
    (b"SQLite format 3\0", "a database file"),
]


def kind_of(data: bytes) -> str:
    """Tell the kind of a file from its bytes; its name counts for nothing.

    Returns:
        `csv` (any text), `xlsx`, `xls` or `ods`.

    Raises:
        UnreadableFile: It is empty, encrypted, packed beyond reason, or something else than a
            table.
    """
    if not data.strip(b"\0 \t\r\n\xef\xbb\xbf"):
        raise UnreadableFile(
            "The file is empty.", "Ask for it again; perhaps the export had not finished."
        )
    for magic, name in _MAGIC:
        if data.startswith(magic) and not (magic == b"MZ" and _is_text(data[:4000])):
            raise UnreadableFile(f"This is {name}, not a table.", _SEND_TABLE)
    if data.startswith(b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1"):
        if "EncryptedPackage".encode("utf-16-le") in data:
            raise UnreadableFile(
                "The workbook is encrypted with a password.",
                "Save it again without the password, then drop it here.",
            )
        return "xls"
    if data.startswith(b"PK"):
        return _kind_of_zip(data)
    return "csv"


def _kind_of_zip(data: bytes) -> str:
    try:
        members = zipfile.ZipFile(io.BytesIO(data)).infolist()
    except BROKEN_ARCHIVE as error:
        raise UnreadableFile(
            "The file is damaged: it begins like a workbook, but the rest is missing or broken.",
            "Copy or send it once more.",
        ) from error
    unpacked = sum(member.file_size for member in members)
    if unpacked > MOST_IN_ALL or (unpacked > MOST_UNPACKED and unpacked > MOST_TIMES * len(data)):
        more = (
            f"{MOST_IN_ALL // 1_000_000:,} MB"
            if unpacked > MOST_IN_ALL
            else f"{MOST_TIMES} times its size"
        )
        raise UnreadableFile(
            f"The file unpacks to {unpacked // 1_000_000:,} MB, over {more}; it was not opened.",
            "Ask for a plain export of the table.",
        )
    names = {member.filename for member in members}
    if "xl/workbook.xml" in names:
        return "xlsx"
    if "content.xml" in names and _is_spreadsheet(data):
        return "ods"
    if any(member.flag_bits & 1 for member in members):
        raise UnreadableFile("The archive is encrypted with a password.", "Send the table itself.")
    if "word/document.xml" in names:
        raise UnreadableFile("This is a text document, not a table.", _SEND_TABLE)
    raise UnreadableFile(
        "This is an archive or a workbook of a kind that is not read yet.", _SEND_TABLE
    )


def _is_spreadsheet(data: bytes) -> bool:
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            return b"spreadsheet" in archive.read("mimetype")[:200]
    except BROKEN_ARCHIVE:
        return True  # some programs leave the type out; the content will say


def _is_text(data: bytes) -> bool:
    return b"\0" not in data
