"""Files made to take all memory or all time are refused in a sentence, within limits that the
system enforces here.
"""

from __future__ import annotations

import io
import os
import resource
import subprocess
import sys
import zipfile
from pathlib import Path

import openpyxl
import pytest

# bytes of address space, of which the libraries take 900 million before anything is read
MEMORY = 2_000_000_000
SECONDS = 40  # of processor time
READ = """
import resource, sys
resource.setrlimit(resource.RLIMIT_AS, ({memory}, {memory}))
resource.setrlimit(resource.RLIMIT_CPU, ({seconds}, {seconds}))
from pathlib import Path
from nevefield.core.errors import UnreadableFile
from nevefield.core.reading import read_file
try:
    table, reading = read_file(Path(sys.argv[1]).read_bytes())
    print("read", len(table), len(table.headings))
except UnreadableFile as error:
    print("refused:", error)
"""


def workbook(rows: bytes, tail_zeros: int = 0) -> bytes:
    """A workbook whose sheet has these rows, and so many million bytes of nothing behind them."""
    out = io.BytesIO()
    openpyxl.Workbook().save(out)
    again = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(out.getvalue())) as source,
        zipfile.ZipFile(again, "w", zipfile.ZIP_DEFLATED) as target,
    ):
        for name in source.namelist():
            if name != "xl/worksheets/sheet1.xml":
                target.writestr(name, source.read(name))
        with target.open("xl/worksheets/sheet1.xml", "w", force_zip64=True) as sheet:
            head = (
                b"<worksheet"
                b' xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"><sheetData>'
            )
            sheet.write(head + rows)
            for _ in range(tail_zeros):
                sheet.write(b" " * 1_000_000)
            sheet.write(b"</sheetData></worksheet>")
    return again.getvalue()


def cell(place: str, text: str) -> bytes:
    return f'<c r="{place}" t="inlineStr"><is><t>{text}</t></is></c>'.encode()


def bomb() -> bytes:
    """Six hundred megabytes of blanks in a workbook of less than one."""
    return workbook(b'<row r="1">' + cell("A1", "Name") + b"</row>", tail_zeros=600)


def wide() -> bytes:
    """A row with a million empty cells."""
    cells = b"".join(b"<c/>" for _ in range(1_000_000))
    return workbook(
        b'<row r="1">'
        + cell("A1", "Name")
        + b'</row><row r="2">'
        + cells
        + cell("XFD2", "x")
        + b"</row>"
    )


def sparse() -> bytes:
    """A value in the first and in the last cell that a sheet can have: 17 thousand million
    cells, all but two empty.
    """
    return workbook(
        b'<row r="1">'
        + cell("A1", "Name")
        + b'</row><row r="1048576">'
        + cell("XFD1048576", "x")
        + b"</row>"
    )


def zip_of_zeros() -> bytes:
    """A packed CSV that unpacks to three hundred megabytes."""
    out = io.BytesIO()
    with (
        zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as target,
        target.open("x.csv", "w", force_zip64=True) as member,
    ):
        for _ in range(300):
            member.write(b"0,0\n" * 250_000)
    return out.getvalue()


@pytest.mark.parametrize(
    ("make", "said"),
    [
        (bomb, "unpacks to"),
        (wide, "columns wide"),
        (sparse, "columns wide"),
        (zip_of_zeros, "unpacks to"),
    ],
)
def test_refused_within_limits(make, said, tmp_path):
    """Refused by name, in a process that may use two gigabytes of addresses and forty seconds."""
    path = tmp_path / "hostile"
    path.write_bytes(make())
    script = READ.format(memory=MEMORY, seconds=SECONDS)
    environment = {**os.environ, "OPENBLAS_NUM_THREADS": "1", "ARROW_DEFAULT_MEMORY_POOL": "system"}
    done = subprocess.run(
        [sys.executable, "-c", script, str(path)], capture_output=True, text=True, env=environment
    )
    assert done.stdout.startswith("refused:"), (done.stdout, done.stderr[-500:])
    assert said in done.stdout


def test_two_gigabytes_of_nothing(tmp_path):
    """A sparse file of two gigabytes is refused by its size before a byte of it is looked at."""
    path = tmp_path / "sparse.csv"
    with path.open("wb") as file:
        file.truncate(2_000_000_000)
    command = [Path(sys.executable).with_name("nevefield"), "inspect", str(path), "--json"]
    limit = (3_000_000_000, 3_000_000_000)
    done = subprocess.run(
        command,
        capture_output=True,
        text=True,
        preexec_fn=lambda: resource.setrlimit(resource.RLIMIT_AS, limit),
    )
    assert (done.returncode, done.stdout) == (2, "")
    assert "at most 250 MB" in done.stderr
