"""A file that is packed alone in a .zip or .gz: unpack it, within limits."""

from __future__ import annotations

import io
import zipfile
import zlib

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.kinds import BROKEN_ARCHIVE, MOST_IN_ALL, MOST_TIMES, MOST_UNPACKED

__all__ = ["unpack"]

_ONE = "Pack one table alone, or send it unpacked."


def unpack(data: bytes) -> tuple[bytes, str]:
    """Unpack a file once; what is not packed, or is a workbook, comes back as it is.

    Returns:
        The bytes, and a remark for the reading ("" when nothing was unpacked).

    Raises:
        UnreadableFile: It is packed beyond reason, encrypted, damaged, or holds several files or
            none.
    """
    if data.startswith(b"\x1f\x8b"):
        return _gunzip(data), "The file was packed (gzip); it was unpacked."
    if data.startswith(b"PK\x05\x06"):
        raise UnreadableFile("The archive is empty.", _ONE)
    if not data.startswith(b"PK\x03\x04"):
        return data, ""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            members = [
                one
                for one in archive.infolist()
                if not one.is_dir() and not _is_clutter(one.filename)
            ]
            names = {member.filename for member in members}
            if names & {
                "[Content_Types].xml",
                "mimetype",
                "xl/workbook.xml",
                "content.xml",
                "word/document.xml",
            }:
                return data, ""  # a document of its own, not an archive
            if len(members) != 1:
                raise UnreadableFile(
                    f"The archive holds {len(members)} files; which one is meant?", _ONE
                )
            (member,) = members
            if member.flag_bits & 1:
                raise UnreadableFile(
                    "The archive is encrypted with a password.", "Send the table itself."
                )
            _refuse_bomb(member.file_size, len(data))
            with archive.open(member) as stream:
                content = stream.read(_most(len(data)) + 1)
            _refuse_bomb(len(content), len(data))
            return content, f"The file was packed; read is “{member.filename}” in it."
    except zipfile.BadZipFile:
        return data, ""  # said by `kind_of`, which knows what it begins like
    except BROKEN_ARCHIVE as error:
        raise UnreadableFile("The archive is damaged or packed in an unusual way.", _ONE) from error


def _is_clutter(name: str) -> bool:
    return name.startswith("__MACOSX/") or name.rsplit("/", 1)[-1].startswith(".")


def _most(packed: int) -> int:
    return min(max(MOST_UNPACKED, MOST_TIMES * packed), MOST_IN_ALL)


def _refuse_bomb(unpacked: int, packed: int) -> None:
    if unpacked > _most(packed):
        raise UnreadableFile(
            f"The file unpacks to {unpacked // 1_000_000:,} MB or more, over {MOST_TIMES} times its"
            " size; it was not opened.",
            "Ask for a plain export of the table.",
        )


def _gunzip(data: bytes) -> bytes:
    unpacker = zlib.decompressobj(wbits=31)
    try:
        content = unpacker.decompress(data, _most(len(data)) + 1)
        whole = unpacker.eof
    except zlib.error as error:
        raise UnreadableFile(
            "The file is damaged: it begins like a gzip archive, but cannot be unpacked.",
            "Send it once more.",
        ) from error
    _refuse_bomb(len(content), len(data))
    if not whole:
        raise UnreadableFile(
            "The file is cut off: the end of the gzip archive is missing.",
            "Copy or send it once more.",
        )
    return content
