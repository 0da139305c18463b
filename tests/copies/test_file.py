"""The file of a copy: what went in comes out, and whatever is damaged is told."""

from __future__ import annotations

import io

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nevefield.core.copying import CopyHead, read_copy, write_copy
from nevefield.core.errors import WrongCopy

HEAD = CopyHead("2026-11-30T03:00:00", "0.7.0", "0060_audit_seal.sql")
SALT = "00112233445566778899aabbccddeeff"
TEXT = (
    b"CREATE TABLE `code` (\n  `a` int\n);\nINSERT INTO `code` VALUES\n"
    b"(1,'(x'),\n(2,'a\\nb');\nCREATE TABLE `empty` (\n);\n"
)


def write(text: bytes, key: str = "", pieces: int = 7) -> bytes:
    out = io.BytesIO()
    parts = (text[place : place + pieces] for place in range(0, len(text), pieces))
    head = CopyHead(HEAD.at, HEAD.version, HEAD.migration, SALT if key else "")
    write_copy(out, head, parts, key)
    return out.getvalue()


def read(data: bytes, key: str = "") -> bytes:
    heard: list[bytes] = []
    read_copy(io.BytesIO(data), key, heard.append)
    return b"".join(heard)


@given(st.binary(max_size=3000), st.sampled_from(["", "a key"]), st.integers(1, 500))
@settings(deadline=None, max_examples=30)
def test_what_went_in_comes_out(text, key, pieces):
    """With a key and without one, however the text comes."""
    assert read(write(text, key, pieces), key) == text


@pytest.mark.parametrize("key", ["", "a key"])
def test_rows_are_counted(key):
    """Each table's rows, however their values look; one without rows has none."""
    _, trailer = read_copy(io.BytesIO(write(TEXT, key)), key)
    assert (trailer.rows, trailer.size) == ({"code": 2, "empty": 0}, len(TEXT))


@pytest.mark.parametrize("key", ["", "a key"])
def test_every_flipped_byte_is_found(key):
    """Whichever byte of a copy is another than it was."""
    data = write(TEXT, key)
    for place in range(0, len(data), 5 if key else 1):  # a key takes its time
        spoilt = data[:place] + bytes([data[place] ^ 1]) + data[place + 1 :]
        with pytest.raises(WrongCopy):
            read(spoilt, key)


@pytest.mark.parametrize("key", ["", "a key"])
def test_every_cut_is_found(key):
    """Wherever a copy ends too soon, and when something stands behind its end."""
    data = write(TEXT * 40, key)
    for end in range(0, len(data), 31 if key else 3):
        with pytest.raises(WrongCopy):
            read(data[:end], key)
    with pytest.raises(WrongCopy, match="behind the end"):
        read(data + b"x", key)


def test_another_key():
    """Without the key, or with another, nothing is given out; what is inside is not readable."""
    data = write(TEXT, "a key")
    assert b"INSERT" not in data
    with pytest.raises(WrongCopy, match="encrypted"):
        read(data)
    with pytest.raises(WrongCopy, match="not the one"):
        read(data, "another")
