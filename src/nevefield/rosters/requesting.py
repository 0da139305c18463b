"""The request sheet: a sheet to send to an office to ask for its data."""

from __future__ import annotations

import csv
import io
from typing import TYPE_CHECKING, Any

import xlsxwriter

from nevefield.core.columns.days import say_day
from nevefield.core.columns.identifiers import add_check
from nevefield.core.reading.layout import ABOUT, EXAMPLE, MADE_FOR
from nevefield.rosters.errors import UnknownFields
from nevefield.rosters.looking import Export
from nevefield.rosters.snapshots import load_codes, load_definition, require_roster

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping
    from datetime import date

    from nevefield.context import Context
    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition, Field

__all__ = ["make_request_sheet", "write_request_sheet"]

ROWS = 2_000  # rows below the heading that offer choices
_XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"
_LONGEST_NOTE = 900  # characters; longer notes are hard to read in a spreadsheet


def make_request_sheet(context: Context, name: str, **wanted: Any) -> Export:
    """Write a request sheet for a roster as it is defined today.

    Args:
        context: Database and clock.
        name: Of the roster.
        wanted: What `write_request_sheet` takes by name.

    Raises:
        NoSuchRoster: There is none.
        UnknownFields: A chosen field is none of the roster's.
    """
    with context.database.transaction() as connection:
        definition = load_definition(connection, require_roster(connection, name))
        codes = load_codes(connection)
    return write_request_sheet(definition, codes, context.today(), **wanted)


def write_request_sheet(
    definition: Definition,
    codes: Mapping[str, CodeList],
    today: date,
    *,
    owner: str = "",
    chosen: Collection[str] = (),
    made_for: str = "",
    kind: str = "xlsx",
) -> Export:
    """Write a request sheet.

    Args:
        definition: Of the roster.
        codes: Code lists by name.
        today: Codes must be in use then.
        owner: Only the fields that an office owns, beside the key; "" for all.
        chosen: Only these fields, beside the key; none for all.
        made_for: The source that it is made for: the sheet says so, and by that it is known when it
            comes back.
        kind: `xlsx` with notes, choices and a look-up sheet, or `csv` with headings and the example
            row.

    Raises:
        UnknownFields: A chosen field is none of the roster's.
    """
    if strange := [name for name in chosen if name not in definition.by_name]:
        raise UnknownFields(strange, definition)
    wanted = [field for field in definition.fields if not chosen or field.name in chosen]
    fields = [
        field
        for field in definition.fields
        if field.name in definition.primary_key
        or (field in wanted and (not owner or field.owner == owner))
    ]
    used = {
        field.code_list: [code for code in codes[field.code_list].codes if code.is_used(today)]
        for field in fields
        if field.code_list
    }
    example = [f"{EXAMPLE} {_example(field, used, definition)}" for field in fields]
    if kind == "csv":
        out = io.StringIO(newline="")
        said = [[MADE_FOR + made_for]] if made_for else []
        csv.writer(out, lineterminator="\r\n").writerows(
            [*said, [field.title for field in fields], example]
        )
        return Export(
            b"\xef\xbb\xbf" + out.getvalue().encode(),
            "text/csv; charset=utf-8",
            f"{definition.name}-request.csv",
        )
    return Export(
        _workbook(definition, fields, used, example, made_for, today),
        _XLSX,
        f"{definition.name}-request.xlsx",
    )


def _workbook(
    definition: Definition,
    fields: list[Field],
    used: Mapping[str, list[Any]],
    example: list[str],
    made_for: str,
    today: date,
) -> bytes:
    out = io.BytesIO()
    book = xlsxwriter.Workbook(
        out,
        {
            "in_memory": True,
            "strings_to_formulas": False,
            "strings_to_urls": False,
            "strings_to_numbers": False,
        },
    )
    sheet, lists = book.add_worksheet("Data"), book.add_worksheet("Codes")
    must = book.add_format({"bold": True, "bottom": 2, "bg_color": "#DDEBE8", "num_format": "@"})
    may = book.add_format({"bottom": 1, "num_format": "@"})
    text, faint = (
        book.add_format({"num_format": "@"}),
        book.add_format({"italic": True, "font_color": "#51616B", "num_format": "@"}),
    )
    places = _write_lists(lists, used, must)
    for column, field in enumerate(fields):
        sheet.set_column(column, column, max(14, len(field.title) + 4), text)
        sheet.write_string(
            0,
            column,
            f"{field.title} *" if field.required else field.title,
            must if field.required else may,
        )
        sheet.write_comment(
            0, column, _note(field, definition)[:_LONGEST_NOTE], {"x_scale": 2, "y_scale": 1.5}
        )
        sheet.write_string(1, column, example[column], faint)
        if field.code_list and not field.several and places[field.code_list][1]:
            place, count = places[field.code_list]
            choice = {
                "validate": "list",
                "source": f"=Codes!${place}$2:${place}${count + 1}",
                "error_type": "warning",
            }
            sheet.data_validation(1, column, ROWS, column, choice)
    sheet.freeze_panes(1, 0)
    if made_for:
        about = book.add_worksheet(ABOUT)
        about.set_column(0, 0, 90)
        about.write_string(0, 0, MADE_FOR + made_for, book.add_format({"bold": True}))
        about.write_string(
            1,
            0,
            f"{definition.title}, {say_day(today)}. Write below the headings of the sheet Data.",
        )
        about.write_string(
            2,
            0,
            "Leave this sheet in: by it we know where the file comes from. The example row is"
            " ignored.",
        )
    book.close()
    return out.getvalue()


def _write_lists(
    lists: Any, used: Mapping[str, list[Any]], bold: Any
) -> dict[str, tuple[str, int]]:
    """Write the codes and what they mean side by side; return each list's column letter and
    length.
    """
    places = {}
    for number, (name, found) in enumerate(used.items()):
        column = 2 * number
        lists.write_string(0, column, name.replace("_", " "), bold)
        lists.write_string(0, column + 1, "means", bold)
        lists.set_column(column, column + 1, 18)
        for row, code in enumerate(found, 1):
            lists.write_string(row, column, code.code)
            lists.write_string(row, column + 1, code.label)
        letter = (chr(64 + column // 26) if column >= 26 else "") + chr(65 + column % 26)
        places[name] = (letter, len(found))
    lists.freeze_panes(1, 0)
    return places


def _note(field: Field, definition: Definition) -> str:
    messages = ["Required." if field.required else "May stay empty."]
    if field.name in definition.primary_key:
        messages.append("By this we know the person.")
    if field.identifier:
        parts = [
            f"begins with {field.identifier.prefix}" if field.identifier.prefix else "",
            f"{field.identifier.length} characters" if field.identifier.length else "",
        ]
        messages.append(
            "An identifier:"
            f" {', '.join(filter(None, [*parts, 'with a check character' if field.identifier.check else '']))}."  # noqa: E501
        )
    kinds = {
        "date": "A day, such as 2026-09-01.",
        "boolean": "yes or no.",
        "integer": "A whole number.",
        "number": "A number.",
    }
    messages.append(kinds.get(field.type, ""))
    if field.code_list:
        messages.append("One of the codes of the sheet Codes; their names are understood too.")
    if field.several:
        messages.append(f"Several may stand in one cell, with “{field.several}” between.")
    if field.is_mail:
        messages.append("A mail address.")
    if field.minimum or field.maximum:
        messages.append(f"From {field.minimum or '…'} to {field.maximum or '…'}.")
    return " ".join(filter(None, messages))


def _example(field: Field, used: Mapping[str, list[Any]], definition: Definition) -> str:
    if field.identifier:
        body = "0" * max(
            1, field.identifier.length - len(field.identifier.prefix) - bool(field.identifier.check)
        )
        if any(key.fields == (field.name,) for key in definition.foreign_keys):
            body = body[:-1] + "1"  # somebody else: nobody refers to themselves
        return add_check(field.identifier, body) or field.title
    if field.code_list:
        return used[field.code_list][0].code if used[field.code_list] else ""
    if field.kind == "phone" or field.is_mail:
        return "+44 7700 900417" if field.kind else "ines.rask@q.example"
    meant = {"family-name": "Rask", "given-name": "Ines", "birth-date": "2008-03-14"}
    kinds = {
        "date": "2026-09-01",
        "boolean": "yes",
        "integer": "1",
        "number": "12.5",
        "year": "2026",
    }
    return meant.get(field.means) or kinds.get(field.type) or field.title.casefold()
