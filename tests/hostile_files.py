"""Files that are small, or look like nothing much, and take a machine's time or memory when they
are read without limits.
"""

from __future__ import annotations

import gzip
import io
import zipfile
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Callable

__all__ = ["HOSTILE", "workbook"]

MAIN = 'xmlns="http://schemas.openxmlformats.org/spreadsheetml/2006/main"'
OFFICE = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
PACKAGE = "http://schemas.openxmlformats.org/package/2006"
TYPE = "application/vnd.openxmlformats-officedocument.spreadsheetml"
KINDS = {
    "workbook.xml": "sheet.main",
    "worksheets/sheet1.xml": "worksheet",
    "sharedStrings.xml": "sharedStrings",
}
SHEET = (
    '<row r="1"><c t="inlineStr"><is><t>Name</t></is></c><c'
    ' t="inlineStr"><is><t>Born</t></is></c></row><row r="2"><c'
    ' t="inlineStr"><is><t>Ada</t></is></c><c><v>1</v></c></row>'
)


def workbook(rows: str, strings: str = "") -> bytes:
    """Pack a workbook (ISO/IEC 29500) of one sheet."""
    parts = {
        "[Content_Types].xml": (
            f'<Types xmlns="{PACKAGE}/content-types"><Default Extension="xml"'
            ' ContentType="application/xml"/><Default Extension="rels"'
            ' ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
            + "".join(
                f'<Override PartName="/xl/{part}" ContentType="{TYPE}.{kind}+xml"/>'
                for part, kind in KINDS.items()
            )
            + "</Types>"
        ),
        "_rels/.rels": (
            f'<Relationships xmlns="{PACKAGE}/relationships"><Relationship Id="a"'
            f' Type="{OFFICE}/officeDocument" Target="xl/workbook.xml"/></Relationships>'
        ),
        "xl/workbook.xml": (
            f'<workbook {MAIN} xmlns:r="{OFFICE}"><sheets><sheet name="A" sheetId="1"'
            ' r:id="a"/></sheets></workbook>'
        ),
        "xl/_rels/workbook.xml.rels": (
            f'<Relationships xmlns="{PACKAGE}/relationships"><Relationship Id="a"'
            f' Type="{OFFICE}/worksheet" Target="worksheets/sheet1.xml"/><Relationship Id="b"'
            f' Type="{OFFICE}/sharedStrings" Target="sharedStrings.xml"/></Relationships>'
        ),
        "xl/worksheets/sheet1.xml": f"<worksheet {MAIN}><sheetData>{rows}</sheetData></worksheet>",
        "xl/sharedStrings.xml": f"<sst {MAIN}>{strings}</sst>",
    }
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        for name, text in parts.items():
            archive.writestr(name, text)
    return made.getvalue()


HOSTILE: dict[str, Callable[[], bytes]] = {
    "a row of a million cells": lambda: workbook(
        SHEET + '<row r="3">' + "<c><v>1</v></c>" * 1_000_000 + "</row>"
    ),
    "nine million strings": lambda: workbook(SHEET, "<si><t>a</t></si>" * 9_000_000),
    "a hidden row that never ends": lambda: workbook(
        SHEET + '<row r="3" ' + " " * 2_000_000 + 'hidden="1'
    ),
    "tags in tags": lambda: workbook("<a>" * 500_000),
    "a packed gigabyte": lambda: gzip.compress(b"Name,Born\n" + b"a,1\n" * 300_000_000, 1),
    "a cell of 30 MB": lambda: b"Name,Born\n" + b"x" * 30_000_000 + b",1\n",
    "a quoted cell of 30 MB": lambda: b'Name,Born\n"' + b"x\n" * 15_000_000 + b'",1\n',
    "20 million separators": lambda: b"," * 20_000_000,
    "30 million lines": lambda: b"Name,Born\n" + b"\n" * 30_000_000,
    "odd quotes": lambda: b"Name,Born\n" + b'x"y,"z\n' * 2_000_000,
    "lists in lists": lambda: b"[" * 2_000_000,
    "tables in tables": lambda: b"<table>" * 300_000,
    "entities": lambda: (
        b'<?xml version="1.0"?><!DOCTYPE a [<!ENTITY a "aaaaaaaaaa">'
        + b"".join(
            b'<!ENTITY %c "%s">' % (letter, b"&%c;" % (letter - 1) * 10)
            for letter in range(ord("b"), ord("n"))
        )
        + b"]><a>&m;</a>"
    ),
}
