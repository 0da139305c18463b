"""The file of a copy: a line that says what it is, a line that says when and of what, then chunks,
each compressed, encrypted where there is a key, and sealed with a digest of all before it.

```
NEVEFIELD COPY 1
{"at": …, "version": …, "migration": …, "salt": …}
[4 bytes: length][32 bytes: SHA-256 of the seal before and the chunk][chunk] …
```

The last chunk is the trailer: how many rows each table has, and the digest of all text. The key is
made of a text with scrypt (RFC 7914); chunks are encrypted with AES-256-GCM (NIST SP 800-38D), the
chunk's number for a nonce: a key is made for one file alone, by its salt.
"""

from __future__ import annotations

import hashlib
import json
import zlib
from dataclasses import asdict, dataclass
from typing import TYPE_CHECKING

from cryptography.exceptions import InvalidTag
from cryptography.hazmat.primitives.ciphers.aead import AESGCM

from nevefield.core.errors import WrongCopy

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator
    from typing import BinaryIO

__all__ = ["CopyHead", "Trailer", "read_copy", "read_head", "write_copy"]

MAGIC = b"NEVEFIELD COPY 1\n"
CHUNK = 1 << 20  # bytes of text in one
LARGEST = 1 << 24  # bytes of a chunk that is read: compressed text is never so much longer
LONGEST_HEAD = 4_096
SEAL = 32  # bytes
DAMAGED = "The beginning of this copy is damaged."
SCRYPT = {"n": 1 << 15, "r": 8, "p": 1, "maxmem": 1 << 26}  # about 0.1 s and 32 MB


@dataclass(frozen=True)
class CopyHead:
    """What a copy says of itself before its content.

    Args:
        at: When it was made, ISO 8601 in UTC.
        version: Of the product.
        migration: The last one that the database had.
        salt: By which its key is made, hexadecimal; "" where it is not encrypted.
    """

    at: str
    version: str
    migration: str
    salt: str = ""


@dataclass(frozen=True)
class Trailer:
    """What a copy says at its end.

    Args:
        rows: Of each table.
        digest: SHA-256 of the whole text, hexadecimal.
        size: Bytes of the text.
    """

    rows: dict[str, int]
    digest: str
    size: int


def write_copy(out: BinaryIO, head: CopyHead, parts: Iterator[bytes], key: str = "") -> Trailer:
    """Write a copy.

    Args:
        out: Where to.
        head: With a salt where there is a key.
        parts: The text of the database in pieces, as the dump has it: one row a line.
        key: A text by which it is encrypted; "" for none.

    Returns:
        What stands at its end.
    """
    lines = json.dumps(asdict(head)).encode() + b"\n"
    out.write(MAGIC + lines)
    lock = _lock(key, head.salt)
    seal, number = hashlib.sha256(MAGIC + lines).digest(), 0
    counter, digest, size = _Counter(), hashlib.sha256(), 0
    for text in _chunks(parts):
        counter.hear(text)
        digest.update(text)
        size += len(text)
        seal = _put(out, lock, seal, number, zlib.compress(b"T" + text, 6))
        number += 1
    trailer = Trailer(counter.rows, digest.hexdigest(), size)
    _put(out, lock, seal, number, zlib.compress(b"E" + json.dumps(asdict(trailer)).encode()))
    return trailer


def _lock(key: str, salt: str) -> AESGCM | None:
    if not key or not salt:
        return None
    try:
        made = hashlib.scrypt(key.encode(), salt=bytes.fromhex(salt), dklen=32, **SCRYPT)
    except ValueError as error:
        raise WrongCopy(DAMAGED) from error
    return AESGCM(made)


def _chunks(parts: Iterator[bytes]) -> Iterator[bytes]:
    held = b""
    for part in parts:
        held += part
        while len(held) >= CHUNK:
            yield held[:CHUNK]
            held = held[CHUNK:]
    if held:
        yield held


def _put(out: BinaryIO, lock: AESGCM | None, seal: bytes, number: int, chunk: bytes) -> bytes:
    if lock is not None:
        chunk = lock.encrypt(number.to_bytes(12, "big"), chunk, None)
    seal = hashlib.sha256(seal + chunk).digest()
    out.write(len(chunk).to_bytes(4, "big") + seal + chunk)
    return seal


class _Counter:
    """Count the rows of each table in the text of a dump."""

    def __init__(self) -> None:
        self.rows: dict[str, int] = {}
        self._table = ""
        self._held = b""

    def hear(self, text: bytes) -> None:
        *lines, self._held = (self._held + text).split(b"\n")
        for line in lines:
            if line.startswith(b"(") and self._table:
                self.rows[self._table] += 1
            elif line.startswith(b"INSERT INTO `"):
                self._table = line.split(b"`")[1].decode()
                self.rows.setdefault(self._table, 0)
            elif line.startswith(b"CREATE TABLE `"):
                self.rows.setdefault(line.split(b"`")[1].decode(), 0)
            if line.endswith(b";"):
                self._table = ""


def read_head(source: BinaryIO) -> CopyHead:
    """Read what a copy says of itself.

    Raises:
        WrongCopy: It is none.
    """
    if source.read(len(MAGIC)) != MAGIC:
        raise WrongCopy("This is no copy of Nevefield, or its beginning is damaged.")
    line = source.readline(LONGEST_HEAD)
    try:
        return CopyHead(**json.loads(line))
    except (ValueError, TypeError) as error:
        raise WrongCopy(DAMAGED) from error


def read_copy(
    source: BinaryIO, key: str = "", hear: Callable[[bytes], None] = lambda text: None
) -> tuple[CopyHead, Trailer]:
    """Read a copy through, and give its text piece by piece to a listener.

    Args:
        source: At its beginning.
        key: By which it was encrypted.
        hear: Hears the text, in order.

    Returns:
        What it says at its beginning and at its end, which holds for what was heard.

    Raises:
        WrongCopy: It is none, it is damaged or cut short, or the key is another.
    """
    head = read_head(source)
    begun = source.tell()
    source.seek(0)
    lines = source.read(begun)
    if head.salt and not key:
        raise WrongCopy(
            "This copy is encrypted: set NEVEFIELD_COPY_KEY to the key it was made with."
        )
    lock = _lock(key, head.salt)
    seal, number = hashlib.sha256(lines).digest(), 0
    counter, digest, size = _Counter(), hashlib.sha256(), 0
    while True:
        seal, kind, text = _take(source, lock, seal, number)
        number += 1
        if kind == b"E":
            break
        counter.hear(text)
        digest.update(text)
        size += len(text)
        hear(text)
    if source.read(1):
        raise WrongCopy("Something stands behind the end of this copy; it is damaged.")
    trailer = Trailer(**json.loads(text))
    if trailer != Trailer(counter.rows, digest.hexdigest(), size):
        raise WrongCopy("This copy does not hold what it says at its end; it is damaged.")
    return head, trailer


def _take(
    source: BinaryIO, lock: AESGCM | None, seal: bytes, number: int
) -> tuple[bytes, bytes, bytes]:
    """Read one chunk: its seal, its kind and its text."""
    place = source.tell()
    length = source.read(4)
    count = int.from_bytes(length, "big")
    told, chunk = source.read(SEAL), source.read(min(count, LARGEST + 1))
    if len(length) < 4 or len(told) < SEAL or len(chunk) < count:
        raise WrongCopy(f"This copy is cut short: it ends in the part at byte {place:,}.")
    if count > LARGEST or hashlib.sha256(seal + chunk).digest() != told:
        raise WrongCopy(f"This copy is damaged in the part at byte {place:,}.")
    try:
        if lock is not None:
            chunk = lock.decrypt(number.to_bytes(12, "big"), chunk, None)
        text = zlib.decompressobj().decompress(chunk, 4 * CHUNK)
    except InvalidTag as error:
        raise WrongCopy("The key is not the one that this copy was made with.") from error
    except zlib.error as error:
        raise WrongCopy(f"This copy is damaged in the part at byte {place:,}.") from error
    return told, text[:1], text[1:]
