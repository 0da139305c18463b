"""Letters on paper as PDF, each with a link of its own where something is asked.

Source: ISO 32000-2 (PDF), written by reportlab; one unit is 1/72 inch, and y goes up.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal

from reportlab.pdfgen.canvas import Canvas

from nevefield.accounts.signing import digest_of
from nevefield.cards.printing import dark_runs
from nevefield.cards.typefaces import register_typefaces
from nevefield.core.cards.fitting import MM_PER_POINT
from nevefield.core.columns.days import say_day
from nevefield.core.mailing.paper import PAPERS, lacking_letters, set_letter
from nevefield.core.mailing.template import Template
from nevefield.letters.errors import NobodyThere
from nevefield.letters.following import open_letter, still_open
from nevefield.letters.writing import Letter, link_to, may_answer, work_out
from nevefield.mailing.errors import MailStays
from nevefield.setup.institution import the_institution
from nevefield.store import letters as store
from nevefield.store.audit import insert_audit
from nevefield.store.rosters import get_roster_by_id

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence
    from typing import BinaryIO

    from nevefield.cards.typefaces import Typefaces
    from nevefield.context import Context
    from nevefield.core.mailing.paper import Page
    from nevefield.core.mailing.template import Filled

__all__ = ["Printing", "look_at_printing", "print_letters"]

NAMED = 10


@dataclass(frozen=True)
class Printing:
    """What is to be printed of a letter."""

    letter: int
    # for whom: those who get it on paper; or everybody who has not answered, also by mail
    who: Literal["paper", "silent"] = "paper"
    paper: str = "A4"


@dataclass(frozen=True)
class _Sheet:
    """What somebody gets on paper."""

    addressee: int
    name: str
    fill: Callable[[str], Filled]


def look_at_printing(context: Context, printing: Printing) -> tuple[int, list[str]]:
    """Tell how many letters would be printed, and in whose letters stand that cannot be set.

    Raises:
        NoSuchLetter: There is none.
        NoLinks: Nobody can answer it any more.
    """
    _, sheets = _find(context, printing)
    typefaces = register_typefaces()
    odd = [
        f"{one.name}: {lacking}"
        for one in sheets
        if (lacking := lacking_letters(one.fill(""), typefaces))
    ]
    return len(sheets), odd[:NAMED]


def print_letters(
    context: Context,
    printing: Printing,
    out: BinaryIO,
    origin: str,
    account_id: int | None,
    progress: Callable[[str, int, int], None] = lambda doing, done, total: None,
) -> int:
    """Print a letter; each time with other links, of which all work until somebody answers.

    Args:
        context: Database and clock.
        printing: What.
        out: Where the PDF goes.
        origin: Under which the product answers, as whoever prints sees it.
        account_id: Who.
        progress: Hears how far it is.

    Returns:
        How many letters there are.

    Raises:
        NoSuchLetter: There is none.
        NoLinks: Nobody can answer it any more.
        NobodyThere: Nobody gets one.
        MailStays: This is the practice copy.
    """
    if context.settings.practice:
        raise MailStays
    asks, sheets = _find(context, printing)
    if not sheets:
        raise NobodyThere
    typefaces = register_typefaces()
    size = PAPERS[printing.paper]
    head, day = the_institution(context).name, say_day(context.today())
    canvas = Canvas(out, pageCompression=1, pagesize=tuple(one / MM_PER_POINT for one in size))
    canvas.setTitle("Letters")
    canvas.setCreator("Nevefield")
    links: list[tuple[bytes, int]] = []
    for done, one in enumerate(sheets, 1):
        link = ""
        if asks:
            token, link = link_to(origin)
            links.append((digest_of(token), one.addressee))
        filled = one.fill(link)
        for page in set_letter(filled, head, day, typefaces, link, printing.paper):
            _draw(canvas, page, typefaces, size[1])
            canvas.showPage()
        progress("Setting the letters", done, len(sheets))
    canvas.save()
    with context.database.transaction() as connection:
        store.lock_letter(connection, printing.letter)
        store.insert_links(connection, links, context.now())
        store.set_printed(connection, [one.addressee for one in sheets], context.now())
        insert_audit(
            connection,
            "letter-printed",
            f"Letter {printing.letter}",
            account_id,
            context.now(),
            letter=printing.letter,
            papers=len(sheets),
        )
    return len(sheets)


def _find(context: Context, printing: Printing) -> tuple[bool, list[_Sheet]]:
    """Find who gets a letter on paper; and whether it asks something."""
    opened = open_letter(context, printing.letter)
    row = opened.row
    asks = may_answer(row, context.today()) if row.asks is not None else None
    people = still_open(opened)
    if printing.who == "paper":
        people = [one for one in people if one.row.on_paper]
    numbers = {one.row.record_id: one.row.id for one in people}
    with context.database.transaction() as connection:
        roster = get_roster_by_id(connection, row.roster_id)
        letter = Letter(
            roster.name if roster else "", numbers, "", Template(**row.template), asks, "all"
        )
        _, found = work_out(connection, letter, context.today())
    sheets = [_Sheet(numbers[one.record], one.name or one.key, one.fill) for one in found]
    return asks is not None, sheets


def _draw(canvas: Canvas, page: Page, typefaces: Typefaces, height: float) -> None:
    for line in page.lines:
        text = canvas.beginText(line.x / MM_PER_POINT, (height - line.base) / MM_PER_POINT)
        for font, run in typefaces.runs(line.text, bold=line.bold):
            text.setFont(font.fontName, line.size)
            text.textOut(run)
        canvas.drawText(text)
    for square in page.squares:
        _draw_square(canvas, square.x, height - square.y, square.side, square.modules.rows)


def _draw_square(canvas: Canvas, left: float, top: float, side: float, rows: Sequence[str]) -> None:
    """Draw the dark modules of a square code, those that touch side by side as one."""
    wide = side / len(rows) / MM_PER_POINT
    path = canvas.beginPath()
    for down, row in enumerate(rows, 1):
        for first, count in dark_runs(row):
            path.rect(
                left / MM_PER_POINT + first * wide,
                top / MM_PER_POINT - down * wide,
                count * wide,
                wide,
            )
    canvas.drawPath(path, stroke=0, fill=1)
