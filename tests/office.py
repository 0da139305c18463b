"""A spreadsheet program without a window, as the people have it who send files: opens a sheet,
alters cells, saves it.
"""

from __future__ import annotations

import shutil
import subprocess
from pathlib import Path
from xml.sax.saxutils import escape

import pytest

PROGRAM = shutil.which("soffice") or shutil.which("libreoffice")
needs_office = pytest.mark.skipif(
    PROGRAM is None, reason="no spreadsheet program; ./test installs one"
)
SECONDS = 180
FILTERS = {
    "xlsx": ("Calc MS Excel 2007 XML", ""),
    "csv": ("Text - txt - csv (StarCalc)", "44,34,76,1"),
}
# In the program's own macro language: every line of the list is a row, a column (from 0) and a
# text, separated by tabs.
MACRO = """
Function Said(sName, vValue)
  Dim oOne As New com.sun.star.beans.PropertyValue
  oOne.Name = sName
  oOne.Value = vValue
  Said = oOne
End Function

Sub Correct(sSource, sCells, sTarget, sFilter, sOptions)
  Dim oDocument, oSheet, sLine, vParts, nFile
  oDocument = StarDesktop.loadComponentFromURL(sSource, "_blank", 0, Array(Said("Hidden", True)))
  oSheet = oDocument.Sheets.getByIndex(0)
  nFile = FreeFile()
  Open sCells For Input As #nFile
  Do While Not Eof(nFile)
    Line Input #nFile, sLine
    vParts = Split(sLine, Chr(9))
    If UBound(vParts) = 2 Then
      oSheet.getCellByPosition(CLng(vParts(1)), CLng(vParts(0))).String = vParts(2)
    End If
  Loop
  Close #nFile
  oDocument.storeToURL(sTarget, Array(Said("FilterName", sFilter), Said("FilterOptions", sOptions)))
  oDocument.close(True)
End Sub
"""
MODULE = """<?xml version="1.0" encoding="UTF-8"?>
<!DOCTYPE script:module PUBLIC "-//OpenOffice.org//DTD OfficeDocument 1.0//EN" "module.dtd">
<script:module xmlns:script="http://openoffice.org/2000/script"
 script:name="Module1" script:language="StarBasic">{}</script:module>
"""


def _run(profile: Path, *arguments: str) -> str:
    command = [
        str(PROGRAM),
        f"-env:UserInstallation={profile.as_uri()}",
        "--headless",
        "--norestore",
        *arguments,
    ]
    done = subprocess.run(command, capture_output=True, text=True, timeout=SECONDS, check=False)
    return done.stdout + done.stderr


def _profile(home: Path) -> Path:
    """Make a user's profile that has the macro; the program itself makes the rest of it first,
    and would put it over ours.
    """
    _run(home, "--terminate_after_init")
    (home / "user" / "basic" / "Standard" / "Module1.xba").write_text(MODULE.format(escape(MACRO)))
    return home


def open_and_save(
    content: bytes,
    ending: str,
    home: Path,
    cells: list[tuple[int, int, str]] = (),
    saved: str = "xlsx",
) -> bytes:
    """Open a file, put texts into cells (row and column from 0), and save it.

    Args:
        content: The file.
        ending: Of its name.
        home: An empty directory.
        cells: What is altered.
        saved: The form in which it is saved.
    """
    home.mkdir(parents=True, exist_ok=True)
    source, listed, target = home / f"in.{ending}", home / "cells.txt", home / f"out.{saved}"
    source.write_bytes(content)
    listed.write_text("".join(f"{row}\t{column}\t{text}\n" for row, column, text in cells))
    kind, options = FILTERS[saved]
    said = ",".join(
        f'"{one}"' for one in (source.as_uri(), str(listed), target.as_uri(), kind, options)
    )
    output = _run(_profile(home / "profile"), f"macro:///Standard.Module1.Correct({said})")
    assert target.exists(), output
    return target.read_bytes()
