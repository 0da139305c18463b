"""The sheets of a run as PDF: exact sizes, embedded typefaces, cutting marks, backs behind fronts.

Source: ISO 32000-2 (PDF), written by reportlab; one unit is 1/72 inch, and y goes up.
"""

from __future__ import annotations

import io
from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING, Any

from reportlab import rl_config
from reportlab.lib.colors import HexColor
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from nevefield.cards.designs import require_design
from nevefield.cards.errors import NoSuchRun, WrongAct
from nevefield.cards.looking import lay_one
from nevefield.cards.pictures import cut
from nevefield.cards.typefaces import register_typefaces
from nevefield.core.cards.design import COLOURS
from nevefield.core.cards.faces import Faces
from nevefield.core.cards.fitting import MM_PER_POINT
from nevefield.core.cards.laying import Fill, Image, Squares, Words
from nevefield.core.cards.reading import read_design
from nevefield.core.cards.sheets import arrange, cutting_marks
from nevefield.store import cards as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Mapping, Sequence
    from typing import BinaryIO

    from nevefield.cards.typefaces import Typefaces
    from nevefield.context import Context
    from nevefield.core.cards.design import Design
    from nevefield.core.cards.laying import Laid, Mark
    from nevefield.core.cards.sheets import Page

__all__ = ["Sheets", "dark_runs", "print_run", "write_pdf"]

# Pictures stand in the file as they are, not written as text: a fifth smaller, and most of the time
rl_config.useA85 = 0
HAIRLINE = 0.25  # points
DOTS_PER_MM = 300 / 25.4  # of photographs


@dataclass(frozen=True)
class Sheets:
    """What is to be printed."""

    run: int
    paper: str  # A4, Letter, or "" for card by card
    # the cards that are wanted, by their records in the register; None for all
    only: frozenset[int] | None = None


def print_run(
    context: Context,
    name: str,
    sheets: Sheets,
    out: BinaryIO,
    account_id: int | None,
    progress: Callable[[str, int, int], None] = lambda doing, done, total: None,
) -> int:
    """Write the sheets of a run, as its cards were made.

    Args:
        context: Database and clock.
        name: Of the design.
        sheets: Of which run, and on what.
        out: Where the PDF goes.
        account_id: Who asks.
        progress: Hears how far it is.

    Returns:
        How many cards there are.

    Raises:
        NoSuchDesign, NoSuchRun: There is none.
        WrongAct: Something on the sheets is kept from who asks.
        CardTooLarge: A card is larger than the paper.
    """
    with context.database.transaction() as connection:
        opened = require_design(connection, name)
        run = store.get_run(connection, sheets.run)
        if run is None or run.design_id != opened.row.id or run.undone_by is not None:
            raise NoSuchRun(sheets.run)
        if any(connection.sight.covers(roster.id) for roster in opened.rosters.values()):
            # an older version may have said more, and photographs are kept as sensitive fields are
            raise WrongAct(
                "Sheets show photographs and what is kept from you; they are given to who prepares"
                " in all rosters of the design."
            )
        design = read_design(store.get_version(connection, opened.row.id, run.version))
        cards = [
            card
            for card in store.list_made(connection, sheets.run)
            if sheets.only is None or card.card_id in sheets.only
        ]
        frames = {
            photo.digest: photo.frame
            for photo in store.list_photos(
                connection,
                {roster.id for roster in opened.rosters.values()},
            ).values()
        }

        def picture(digest: bytes) -> bytes | None:
            image = store.get_image(connection, digest)
            return image.content if image else None

        write_pdf(design, cards, sheets.paper, out, picture, frames, progress)
        store.set_printed(connection, sheets.run, context.now())
        insert_audit(
            connection,
            "card-sheets",
            name,
            account_id,
            context.now(),
            run=sheets.run,
            cards=len(cards),
        )
    return len(cards)


def write_pdf(
    design: Design,
    cards: Sequence[store.MadeCard],
    paper: str,
    out: BinaryIO,
    picture: Callable[[bytes], bytes | None],
    frames: Mapping[bytes, tuple[float, float, float, float]],
    progress: Callable[[str, int, int], None] = lambda doing, done, total: None,
) -> None:
    """Write cards as PDF.

    Args:
        design: The version with which they were made.
        cards: The cards, in their order.
        paper: A4, Letter, or "" for a page for each side.
        out: Where it goes.
        picture: Gives the content of a picture by its digest.
        frames: What is shown of photographs, by digest.
        progress: Hears how many are done.
    """
    typefaces = register_typefaces()
    faces = {face.name: face for face in design.faces}
    has_back = any(faces[card.face].back for card in cards)
    canvas = Canvas(out, pageCompression=1, invariant=1)
    canvas.setTitle(design.title)
    canvas.setCreator("Nevefield")
    pen = _Pen(canvas, typefaces, picture, frames)
    laid: dict[int, dict[str, Laid]] = {}
    done = 0
    for page in arrange(len(cards), design.size, paper, has_back=has_back):
        canvas.setPageSize((page.width / MM_PER_POINT, page.height / MM_PER_POINT))
        pen.height = page.height
        for slot in page.slots:
            card = cards[slot.card]
            if slot.card not in laid:
                laid[slot.card] = lay_one(
                    Faces(design, {}, {}, typefaces, date.min),
                    faces[card.face],
                    card.texts,
                    set(card.rests.get("stands", card.texts)),
                    has_photo=card.photo is not None,
                )
                done += 1
                progress("Setting the cards", done, len(cards))
            side = laid[slot.card].get(slot.side)
            for mark in side.marks if side else ():
                pen.draw(mark, slot.x, slot.y, card.photo)
            if slot.side == "back" or not has_back:
                laid.pop(slot.card, None)
        _draw_cutting(pen, page, design)
        canvas.showPage()
    canvas.save()


def _draw_cutting(pen: _Pen, page: Page, design: Design) -> None:
    if not page.is_marked:
        return
    pen.canvas.setLineWidth(HAIRLINE)
    pen.canvas.setStrokeColor(HexColor("#000000"))
    for slot in page.slots:
        for x1, y1, x2, y2 in cutting_marks(slot, design.size):
            pen.canvas.line(*pen.at(x1, y1), *pen.at(x2, y2))


class _Pen:
    """Draws marks on a page; takes mm from the upper left corner."""

    def __init__(
        self,
        canvas: Canvas,
        typefaces: Typefaces,
        picture: Callable[[bytes], bytes | None],
        frames: Mapping[bytes, tuple[float, float, float, float]],
    ) -> None:
        self.canvas = canvas
        self.height = 0.0  # of the page
        self._typefaces = typefaces
        self._picture = picture
        self._frames = frames
        self._shared: dict[tuple[Any, ...], ImageReader | None] = {}

    def at(self, x: float, y: float) -> tuple[float, float]:
        """Turn mm from the upper left corner into points from the lower left one."""
        return x / MM_PER_POINT, (self.height - y) / MM_PER_POINT

    def draw(self, mark: Mark, x: float, y: float, photo: bytes | None) -> None:
        """Draw a mark of a card that stands at x, y."""
        match mark:
            case Fill():
                self.canvas.setFillColor(HexColor(COLOURS[mark.colour]))
                self._rectangle(x + mark.box.x, y + mark.box.y, mark.box.width, mark.box.height)
            case Words():
                self._words(mark, x, y)
            case Squares():
                self._squares(mark, x, y)
            case Image():
                self._image(mark, x, y, photo)

    def _rectangle(self, x: float, y: float, width: float, height: float) -> None:
        left, lower = self.at(x, y + height)
        self.canvas.rect(left, lower, width / MM_PER_POINT, height / MM_PER_POINT, stroke=0, fill=1)

    def _words(self, mark: Words, x: float, y: float) -> None:
        left, base = self.at(x + mark.box.x, y + mark.base)
        text = self.canvas.beginText(left, base)
        text.setFillColor(HexColor(COLOURS[mark.colour]))
        for font, run in self._typefaces.runs(mark.text, bold=mark.bold):
            text.setFont(font.fontName, mark.size)
            text.textOut(run)
        self.canvas.drawText(text)

    def _squares(self, mark: Squares, x: float, y: float) -> None:
        """Draw the dark modules, those that touch side by side as one."""
        high = mark.box.height / len(mark.modules.rows)
        path = self.canvas.beginPath()
        for number, row in enumerate(mark.modules.rows):
            for first, count in dark_runs(row):
                left, lower = self.at(
                    x + mark.box.x + first * mark.width, y + mark.box.y + (number + 1) * high
                )
                path.rect(left, lower, count * mark.width / MM_PER_POINT, high / MM_PER_POINT)
        self.canvas.setFillColor(HexColor("#000000"))
        self.canvas.drawPath(path, stroke=0, fill=1)

    def _image(self, mark: Image, x: float, y: float, photo: bytes | None) -> None:
        is_photo = mark.of == "photo"
        digest = photo if is_photo else bytes.fromhex(mark.of) if mark.of else None
        if digest is None:
            return
        box = mark.box
        if is_photo:
            reader = self._read(digest, box.width, box.height)
        else:
            key = (digest, box.width, box.height)
            if key not in self._shared:
                self._shared[key] = self._read(digest, box.width, box.height)
            reader = self._shared[key]
        if reader is None:
            return
        left, lower = self.at(x + box.x, y + box.bottom)
        self.canvas.drawImage(
            reader,
            left,
            lower,
            box.width / MM_PER_POINT,
            box.height / MM_PER_POINT,
            mask="auto",
            preserveAspectRatio=not is_photo,
        )

    def _read(self, digest: bytes, width: float, height: float) -> ImageReader | None:
        content = self._picture(digest)
        if content is None:
            return None
        if digest in self._frames:
            size = (round(width * DOTS_PER_MM), round(height * DOTS_PER_MM))
            content = cut(content, self._frames[digest], size)
        return ImageReader(io.BytesIO(content))


def dark_runs(row: str) -> Iterator[tuple[int, int]]:
    """List the runs of dark modules of a row: the first, and how many.

    >>> list(dark_runs("1101"))
    [(0, 2), (3, 1)]
    """
    start = None
    for place, module in enumerate(f"{row}0"):
        if module == "1" and start is None:
            start = place
        elif module == "0" and start is not None:
            yield start, place - start
            start = None
