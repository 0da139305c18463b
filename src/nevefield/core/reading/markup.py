"""Tables in documents of markup: pages of the web, workbooks written as XML, records as XML.

Sources: HTML Living Standard 4.9 (tabular data); XML 1.0 (fifth edition). Entities of a document's
own are refused, and nothing is ever fetched.
"""

from __future__ import annotations

import html
import re
from dataclasses import dataclass, field
from xml.parsers import expat

from nevefield.core.borders import Foreign
from nevefield.core.errors import UnreadableFile
from nevefield.core.reading.blocks import worth_of
from nevefield.core.reading.delimited import Rows

__all__ = ["is_page", "is_xml", "read_page", "read_xml"]

_SEND_TABLE = "Ask for a workbook (.xlsx) or a CSV file."
MOST_CELLS = 20_000_000
DEEPEST = 100
MOST_COLUMNS = 2_000


def is_page(head: str) -> bool:
    """Tell whether a text begins as a page of the web, or a part of one that has a table."""
    begins = re.match(
        r"\s*(?:<!--.{0,2000}?-->\s*)?<(?:!doctype\s+html|html|head|body|table|meta|div)\b",
        head[:4_000],
        re.IGNORECASE | re.DOTALL,
    )
    return begins is not None or (
        "<table" in head[:20_000].casefold() and head.lstrip()[:1] == "<" and not is_xml(head)
    )


def is_xml(head: str) -> bool:
    """Tell whether a text begins as XML."""
    return (
        re.match(r"\s*<\?xml\b|\s*<[A-Za-z_][\w.:-]{0,60}[\s>]", head[:500]) is not None
        and "<html" not in head[:2_000].casefold()
    )


@dataclass
class _Sheet:
    values: list[list[str]] = field(default_factory=list)
    lines: list[int] = field(default_factory=list)
    name: str = ""


_SCRIPT_ENDS = re.compile("</script", re.IGNORECASE)
_STYLE_ENDS = re.compile("</style", re.IGNORECASE)
_TAG = re.compile(r"""<(/?)([A-Za-z][A-Za-z0-9]{0,30})((?:[^<>"']++|"[^"]*+"|'[^']*+')*+)>""")
_SPAN = re.compile(r"""\bcolspan\s{0,9}=\s{0,9}["']?(\d{1,3})\b""", re.IGNORECASE)


class _Page:
    """Collects the tables of a page; a cell ends where another begins, as browsers have it.

    It goes once through the text, whatever stands in it: the parser of the standard library does
    not on broken pages.
    """

    def __init__(self, text: str) -> None:
        self.text = text
        self.line, self.at = 1, 0  # a line, and the place up to which lines are counted
        self.tables: list[_Sheet] = []
        self.open: list[_Sheet] = []
        self.cell: list[str] | None = None
        self.span = 1
        self.cells = 0
        place = 0
        while (begin := text.find("<", place)) >= 0:
            self._add(text[place:begin])
            place = self._markup(begin)
        self._add(text[place:])
        self._close()

    def _markup(self, begin: int) -> int:
        """Read what begins with a sign, and say where the text goes on; a sign that begins
        nothing is text.
        """
        if self.text.startswith(("<!", "<?"), begin):
            ends = "-->" if self.text.startswith("<!--", begin) else ">"
            end = self.text.find(ends, begin + 2)
            return end + len(ends) if end >= 0 else len(self.text)
        tag = _TAG.match(self.text, begin)
        if tag is None:
            self._add("<")
            return begin + 1
        name = tag[2].lower()
        if name in ("script", "style") and not tag[1]:
            closing = (_SCRIPT_ENDS if name == "script" else _STYLE_ENDS).search(
                self.text, tag.end()
            )
            return closing.start() if closing else len(self.text)
        self._end(name) if tag[1] else self._begin(name, tag[3], begin)
        return tag.end()

    def _begin(self, name: str, text: str, place: int) -> None:
        if name == "table":
            self._close()
            self.open.append(_Sheet())
            self.tables.append(self.open[-1])
        elif self.open and name in ("tr", "td", "th"):
            self._close()
            if name == "tr" or not self.open[-1].values:
                self.line += self.text.count("\n", self.at, place)
                self.at = place
                self.open[-1].values.append([])
                self.open[-1].lines.append(self.line)
            if name != "tr":
                self.cell = []
                span = _SPAN.search(text[:2_000])
                self.span = max(1, min(int(span[1]), 100)) if span else 1
        elif name == "br" and self.cell is not None:
            self.cell.append("\n")

    def _end(self, name: str) -> None:
        if name in ("td", "th", "tr"):
            self._close()
        elif name == "table" and self.open:
            self._close()
            self.open.pop()

    def _add(self, text: str) -> None:
        if self.cell is not None and text:
            self.cell.append(re.sub(r"[ \t\r\n\f]+", " ", html.unescape(text)))

    def _close(self) -> None:
        if self.cell is not None and self.open:
            text = "\n".join(part.strip(" ") for part in "".join(self.cell).split("\n")).strip("\n")
            row = self.open[-1].values[-1]
            row += [text, *[""] * (self.span - 1)]
            self.cells += self.span
            if self.cells > MOST_CELLS or len(row) > MOST_COLUMNS * 10:
                raise UnreadableFile("The table of the page has too many cells.", _SEND_TABLE)
        self.cell = None


def read_page(text: str, known: frozenset[str]) -> tuple[Rows, str]:
    """Read the table of a page that has the people.

    Returns:
        The rows, with the lines of the page, and what is said of it.

    Raises:
        UnreadableFile: The page has no table.
    """
    page = _Page(text)
    return _best([table for table in page.tables if len(table.values) > 1], known, "page", "table")


def _best(found: list[_Sheet], known: frozenset[str], where: str, what: str) -> tuple[Rows, str]:
    tables = [sheet for sheet in found if any(any(row) for row in sheet.values)]
    if not tables:
        raise UnreadableFile(
            f"This is a {'web page' if where == 'page' else where}, not a table.", _SEND_TABLE
        )
    worth = [worth_of(table.values, known) for table in tables]
    chosen = tables[worth.index(max(worth))]
    remarks = []
    if len(tables) > 1:
        remarks.append(
            f"The {where} has {len(tables)} {what}s; read is the one that begins on line"
            f" {chosen.lines[0]}."
        )
    return Rows(chosen.values, chosen.lines, remarks), chosen.name


@dataclass
class _Node:
    """An element: only as much of it as records need."""

    tag: str
    line: int
    attributes: dict[str, str]
    text: list[str] = field(default_factory=list)
    children: list[_Node] = field(default_factory=list)


def _parse(data: bytes) -> _Node:
    parser = expat.ParserCreate(namespace_separator=None)
    parser.buffer_text = True
    root = _Node("", 0, {})
    path = [root]
    count = 0

    def refuse(*_: Foreign) -> None:
        raise UnreadableFile(
            "The XML document defines entities of its own, which are not followed.", _SEND_TABLE
        )

    def start(tag: str, attributes: dict[str, str]) -> None:
        nonlocal count
        count += 1
        if len(path) > DEEPEST or count > MOST_CELLS:
            raise UnreadableFile("The XML document is too deep or too large.", _SEND_TABLE)
        node = _Node(
            tag.rpartition(":")[2],
            parser.CurrentLineNumber,
            {
                name.rpartition(":")[2]: value
                for name, value in attributes.items()
                if not name.startswith("xmlns")
            },
        )
        path[-1].children.append(node)
        path.append(node)

    def text(part: str) -> None:
        path[-1].text.append(part)

    parser.EntityDeclHandler = refuse
    parser.StartElementHandler = start
    parser.EndElementHandler = lambda _: path.pop()
    parser.CharacterDataHandler = text
    try:
        parser.Parse(data, True)
    except expat.ExpatError as error:
        raise UnreadableFile(
            f"The XML document breaks on line {error.lineno}.", "Ask for the export again."
        ) from error
    return root


def read_xml(data: bytes, known: frozenset[str]) -> tuple[list[str] | None, Rows, str]:
    """Read a workbook written as XML, or the records of a document.

    Returns:
        The headings, where the records carry them (None for a sheet), the rows with the document's
        lines, and a sheet's name.

    Raises:
        UnreadableFile: It is broken, or has no records.
    """
    root = _parse(data)
    top = root.children[0] if root.children else root
    if top.tag == "Workbook":
        rows, name = _best(
            [_sheet(child) for child in top.children if child.tag == "Worksheet"],
            known,
            "workbook",
            "sheet",
        )
        return None, rows, name
    if top.tag == "html" or any(child.tag == "table" for child in top.children):
        raise UnreadableFile("This is a web page, not a table.", _SEND_TABLE)
    records = _records(root)
    if records is None:
        raise UnreadableFile("The XML document has no records that repeat.", _SEND_TABLE)
    headings: dict[str, int] = {}
    values: list[dict[str, str]] = []
    for node in records:
        cells: dict[str, str] = {}
        _flatten(node, "", cells)
        for name in cells:
            headings.setdefault(name, len(headings))
        values.append(cells)
    if len(headings) > MOST_COLUMNS:
        raise UnreadableFile(
            f"The records have {len(headings):,} fields; at most {MOST_COLUMNS:,} are read."
        )
    return (
        list(headings),
        Rows(
            [[row.get(name, "") for name in headings] for row in values],
            [record.line for record in records],
            [],
        ),
        "",
    )


def _sheet(node: _Node) -> _Sheet:
    sheet = _Sheet(name=node.attributes.get("Name", ""))
    table = next((child for child in node.children if child.tag == "Table"), None)
    line = 0
    for row in table.children if table is not None else ():
        if row.tag != "Row":
            continue
        at = row.attributes.get("Index", "")
        line = int(at) if at.isdecimal() and len(at) < 8 else line + 1
        cells: list[str] = []
        for cell in row.children:
            at = cell.attributes.get("Index", "")
            place = int(at) - 1 if at.isdecimal() and len(at) < 5 else len(cells)
            if place >= MOST_COLUMNS:
                raise UnreadableFile(
                    f"The sheet is over {MOST_COLUMNS:,} columns wide; at most so many are read."
                )
            cells += [""] * (place - len(cells))
            cells.append(
                _typed(next((child for child in cell.children if child.tag == "Data"), None))
            )
        sheet.values.append(cells)
        sheet.lines.append(line)
    return sheet


def _typed(data: _Node | None) -> str:
    if data is None:
        return ""
    text = "".join(data.text)
    kind = data.attributes.get("Type", "String")
    if kind == "DateTime":
        day, _, time = text.partition("T")
        return day if not time or time.startswith("00:00:00") else f"{day} {time[:8]}"
    if kind == "Boolean":
        return "true" if text == "1" else "false"
    if kind == "Number":
        return text.removesuffix(".0")
    return text


def _records(root: _Node) -> list[_Node] | None:
    """Find the elements that repeat below one parent and have parts of their own: the most of
    them, the highest up.
    """
    best: list[_Node] | None = None
    level = [root]
    while level:
        for parent in level:
            by_tag: dict[str, list[_Node]] = {}
            for child in parent.children:
                if child.children or len(child.attributes) > 1:
                    by_tag.setdefault(child.tag, []).append(child)
            for nodes in by_tag.values():
                if len(nodes) > (len(best) if best else 1):
                    best = nodes
        if best:
            return best
        level = [child for parent in level for child in parent.children]
    return best


def _flatten(node: _Node, prefix: str, cells: dict[str, str]) -> None:
    for name, value in node.attributes.items():
        _put(cells, f"{prefix}{name}", value)
    for child in node.children:
        if child.children or child.attributes:
            if text := "".join(child.text).strip():
                _put(cells, f"{prefix}{child.tag}", text)
            _flatten(child, f"{prefix}{child.tag}.", cells)
        else:
            _put(cells, f"{prefix}{child.tag}", "".join(child.text).strip())


def _put(cells: dict[str, str], name: str, value: str) -> None:
    cells[name] = f"{cells[name]};{value}" if cells.get(name) else value
