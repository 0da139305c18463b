"""All that is held about one person, as a file for them: JSON, and a page that can be read."""

from __future__ import annotations

import base64
import json
from dataclasses import dataclass
from html import escape
from typing import TYPE_CHECKING, Any

from nevefield.core.columns.pairing import known_headings
from nevefield.core.columns.titles import name_person
from nevefield.core.erasing import telling_of
from nevefield.core.errors import CoreError
from nevefield.core.steps import decide, read_step
from nevefield.intakes.evaluating import read_stored
from nevefield.rosters.looking import open_life
from nevefield.store import erasing as store
from nevefield.store import intakes as intake_store
from nevefield.store import waivers as waiver_store
from nevefield.store.audit import insert_audit
from nevefield.store.cards import get_image, get_photo, list_made_of
from nevefield.store.submissions import list_of_record

if TYPE_CHECKING:
    from collections.abc import Iterator

    from nevefield.context import Context
    from nevefield.rosters.looking import Life

__all__ = ["Held", "gather_held", "write_page"]


@dataclass(frozen=True)
class Held:
    """What is held about somebody."""

    name: str
    roster: str
    document: dict[str, Any]


def gather_held(context: Context, record_id: int, account_id: int) -> Held:
    """Gather all that is held about somebody; that it was taken out is in the trail.

    Args:
        context: As seen by who asks, who administers the roster.
        record_id: Their record.
        account_id: Who asks.

    Raises:
        NoSuchRecord: There is none.
    """
    life = open_life(context, record_id)
    title = life.definition.title_of
    with context.database.transaction() as connection:
        _, waivers = waiver_store.list_waivers(connection, life.roster.id, records=[record_id])
        submitted = list_of_record(connection, record_id)
        cards = list_made_of(connection, record_id=record_id)
        photo = get_photo(connection, record_id)
        image = get_image(connection, photo.digest) if photo else None
        insert_audit(
            connection,
            "held-taken-out",
            life.roster.name,
            account_id,
            context.now(),
            record=record_id,
        )
    document = {
        "roster": life.roster.title,
        "now": {title(name): value for name, value in life.values.items()},
        "life": [
            {
                "at": context.day_of(one.change_set.at).isoformat(),
                "what": one.change_set.title,
                "by": one.by,
                "file": one.file,
                "line": one.version.line,
                "values": {title(name): value for name, value in one.values.items()},
            }
            for one in life.versions
        ],
        "files": list(_rows(context, life)),
        "approvals": [
            {
                "of": waiver.title,
                "reason": waiver.reason,
                "by": waiver.by,
                "at": context.day_of(waiver.at).isoformat(),
            }
            for waiver in waivers
        ],
        "submitted": [
            {"submission": one.title, "round": one.round, "sent": one.sent, "answer": one.told}
            for one in submitted
        ],
        "cards": [
            {
                "run": card.run_id,
                **card.texts,
                "handed over": context.day_of(card.handed_at).isoformat() if card.handed_at else "",
            }
            for card in cards
        ],
        "photograph": [
            {
                "file": photo.file_name,
                "at": context.day_of(photo.at).isoformat(),
                "JPEG": base64.b64encode(image.content).decode(),
            }
        ]
        if photo and image
        else [],
    }
    name = name_person(life.definition, life.values.get) or f"record {record_id}"
    return Held(name, life.roster.title, document)


def _rows(context: Context, life: Life) -> Iterator[dict[str, Any]]:
    """Give the rows of files that are about somebody, as the files have them: those that went to
    their record, and those that carry what tells who they are.
    """
    known = known_headings(life.definition)
    telling = telling_of(life.definition, [one.values for one in life.versions])
    with context.database.transaction() as connection:
        lines = store.list_lines(connection, life.record_id)
        files = store.list_files(connection, life.roster.id)
    for file in files:
        with context.database.transaction() as connection:
            intake = intake_store.get_intake(connection, file.intakes[0])
            steps = intake_store.list_steps(connection, file.intakes[0])
            content, is_kept = intake_store.get_file(connection, file.file_hash)
        if intake is None:
            continue
        theirs = {line for number in file.intakes for line in lines.get(number, ())}
        choice = decide([read_step(step.step) for step in steps]).reading
        try:
            table, _ = read_stored(context, content, is_kept, choice, known)
        except CoreError:
            continue
        for row, line in enumerate(table.lines.tolist()):
            cells = table.row(row)
            if line in theirs or telling.are_of(cells):
                values = dict(zip(table.headings, cells, strict=True))
                yield {"file": intake.file_name, "line": line, "values": values}


def write_page(held: Held, institution: str, day: str) -> str:
    """Write what is held as a page that stands alone: nothing in it is a script or is loaded."""
    title = escape(f"What {institution or 'we'} holds about {held.name}")
    style = (
        "body{font:16px/1.5 sans-serif;max-width:46em;margin:2em auto;padding:0 1em}"
        "table{border-collapse:collapse;margin:0 0 1.5em}"
        "td,th{border-bottom:1px solid #bbb;padding:.2em 1em .2em 0;text-align:left;"
        "vertical-align:top;overflow-wrap:anywhere}"
    )
    body = [f"<h1>{title}</h1><p>{escape(held.roster)}, {escape(day)}</p>"]
    body.append(f"<h2>Now</h2>{_table(held.document['now'])}")
    body.append("<h2>How it became so</h2>")
    for one in held.document["life"]:
        where = f", {one['file']} line {one['line']}" if one["file"] and one["line"] else ""
        by = f", by {one['by']}" if one["by"] else ""
        words = escape(f"{one['at']}: {one['what']}{where}{by}")
        body.append(f"<h3>{words}</h3>{_table(one['values'])}")
    for part, heading in (
        ("files", "Rows of files"),
        ("approvals", "What was approved with a reason"),
        ("submitted", "What was sent to an authority, and what came back"),
        ("cards", "Cards that were made"),
    ):
        if held.document[part]:
            body.append(f"<h2>{heading}</h2>")
            body += [_table(one) for one in held.document[part]]
    for one in held.document["photograph"]:
        body.append(
            '<h2>Photograph</h2><img alt="" width="180"'
            f' src="data:image/jpeg;base64,{one["JPEG"]}">'
        )
    return (
        '<!doctype html><html lang="en"><head><meta charset="utf-8">'
        f"<title>{title}</title><style>{style}</style></head><body>{''.join(body)}</body></html>"
    )


def _table(values: dict[str, Any]) -> str:
    rows = "".join(
        f"<tr><th>{escape(str(name))}</th><td>{_cell(value)}</td></tr>"
        for name, value in values.items()
        if value not in (None, "", [], {})
    )
    return f"<table>{rows}</table>"


def _cell(value: Any) -> str:
    if isinstance(value, dict):
        return _table(value)
    if isinstance(value, list):
        return "<br>".join(_cell(one) for one in value)
    return escape(value if isinstance(value, str) else json.dumps(value, ensure_ascii=False))
