"""Files that were damaged on their way: each is read or refused in a sentence, never anything
else.
"""

from __future__ import annotations

import io
import zipfile
from functools import cache
from pathlib import Path

from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.errors import UnreadableFile
from nevefield.core.reading import read_file
from tests.conftest import ROOT

ANSWERS = (".csv.json", ".txt.json")
STRANGE = sorted(
    path
    for path in (ROOT / "tests" / "data" / "strange").iterdir()
    if not path.name.endswith(ANSWERS)
)
SMALL = [path for path in STRANGE if path.stat().st_size < 60_000]
INSERTED = [
    b'"',
    b"\0",
    b"<",
    b">",
    b"\xff",
    b"\n",
    b"{",
    b"999999999999",
    b"-1",
    b"&",
    b"\xef\xbb\xbf",
]
PLACE = st.floats(0, 1, exclude_max=True)
DAMAGE = st.one_of(
    st.tuples(st.just("other"), PLACE, st.binary(min_size=1, max_size=4)),
    st.tuples(st.just("gone"), PLACE, st.sampled_from([1, 4, 50, 1000])),
    st.tuples(st.just("again"), PLACE, st.sampled_from([1, 8, 200])),
    st.tuples(st.just("more"), PLACE, st.sampled_from(INSERTED)),
)


@cache
def content(path: Path) -> bytes:
    return path.read_bytes()


def damage(data: bytes, harms) -> bytes:
    """Alter, drop, repeat or put in some bytes."""
    made = bytearray(data)
    for kind, place, what in harms:
        at = int(place * len(made))
        if kind == "other":
            made[at : at + len(what)] = what
        elif kind == "gone":
            del made[at : at + what]
        elif kind == "again":
            made[at:at] = made[at : at + what] * 3
        else:
            made[at:at] = what
    return bytes(made)


def damage_within(data: bytes, place: float, harms) -> bytes:
    """Damage one part of an archive, and pack it again so that the archive itself is whole."""
    out = io.BytesIO()
    with zipfile.ZipFile(io.BytesIO(data)) as before, zipfile.ZipFile(out, "w") as after:
        names = before.namelist()
        chosen = names[int(place * len(names))]
        for name in names:
            part = before.read(name)
            after.writestr(name, damage(part, harms) if name == chosen else part)
    return out.getvalue()


@given(
    st.sampled_from(SMALL), st.lists(DAMAGE, min_size=1, max_size=6), st.one_of(st.none(), PLACE)
)
def test_damaged_files(path, harms, within):
    data = content(path)
    try:
        if within is not None and zipfile.is_zipfile(io.BytesIO(data)):
            data = damage_within(data, within, harms)
        else:
            data = damage(data, harms)
    # one of the strange files is broken or encrypted already
    except (zipfile.BadZipFile, RuntimeError):
        data = damage(data, harms)
    try:
        table, reading = read_file(data)
    except UnreadableFile as error:
        read = error
    else:
        read = None
        assert len(table.lines) == len(table)
        assert reading.sentence
    assert read is None or read.reason.endswith((".", "?"))
