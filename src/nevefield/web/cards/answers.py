"""Cards as the API gives them."""

from __future__ import annotations

from collections import Counter
from dataclasses import replace
from typing import TYPE_CHECKING, Any

from nevefield.cards.looking import choose_people, choose_take_in
from nevefield.core.cards.design import COLOURS
from nevefield.core.cards.laying import Fill, Image, Squares, Words
from nevefield.core.cards.needing import Need
from nevefield.core.cards.numbers import read_number, wiegand
from nevefield.core.cards.reading import name_troubles, write_design
from nevefield.core.conditions import say_condition
from nevefield.web.cards import shapes_designs, shapes_runs

if TYPE_CHECKING:
    from collections.abc import Collection

    from nevefield.cards.holding import CardsOf
    from nevefield.cards.looking import LaidCard, Standing, Tried
    from nevefield.cards.running import MadeCard, OpenRun, Run
    from nevefield.core.cards.design import Design, Numbering
    from nevefield.core.cards.laying import Laid, Mark
    from nevefield.core.cards.needing import Held, Person
    from nevefield.core.cards.numbers import Left
    from nevefield.core.definition import Definition

__all__ = [
    "card_answer",
    "cards_of_answer",
    "design_answer",
    "made_answer",
    "page_answer",
    "run_row",
    "tried_answer",
    "troubles_answer",
]


def design_answer(
    standing: Standing, left: list[Left], runs: int, *, may_change: bool
) -> shapes_designs.DesignOut:
    """Give a design and where everybody stands."""
    opened, faces = standing.opened, standing.faces
    design = opened.design
    register = faces.snapshots[design.register_.roster].definition
    people = Counter(person.face for person in standing.needed.people)
    return shapes_designs.DesignOut(
        name=design.name,
        title=design.title,
        document=write_design(design),
        version=opened.row.version,
        since=opened.row.since,
        may_change=may_change,
        register_title=register.title,
        register_version=opened.rosters[design.register_.roster].version,
        faces=[
            shapes_designs.FaceOut(
                name=face.name,
                roster=face.roster,
                roster_title=faces.snapshots[face.roster].definition.title,
                fields=_fields(faces.snapshots[face.roster].definition),
                people=people[face.name],
                where=say_condition(face.where, faces.snapshots[face.roster].definition.title_of)
                if face.where
                else "",
            )
            for face in design.faces
        ],
        register_fields=_fields(register),
        counts={need.value: count for need, count in standing.needed.counts().items()},
        people=len(standing.needed.people),
        left=[
            shapes_designs.LeftOut(
                facility=one.range.facility,
                first=one.range.first,
                last=one.range.last,
                site=one.range.site,
                total=one.total,
                left=one.left,
                is_low=one.left <= design.numbering.warns,
            )
            for one in left
        ],
        runs=runs,
        troubles=troubles_answer(design),
        colours=COLOURS,
    )


def troubles_answer(design: Design) -> list[shapes_designs.DesignTrouble]:
    """Give what in a design is allowed and yet not well."""
    return [
        shapes_designs.DesignTrouble(face=face.name, item=item, text=text)
        for face in design.faces
        for item, text in name_troubles(face)
    ]


def _fields(definition: Definition) -> list[dict[str, Any]]:
    fields: list[dict[str, Any]] = definition.document["fields"]
    return fields


def page_answer(
    standing: Standing, query: shapes_designs.NeedQuery, only: Collection[int] | None = None
) -> shapes_designs.CardsOut:
    """Give a page of the people of a design; of some records alone where they are given."""
    made = {card.card_id: card for card in standing.made}
    page = slice(query.start, query.start + query.limit)
    if query.need == Need.TAKE_IN.value:
        cards = choose_take_in(standing, query.text)
        rows = [_take_in(standing, card, made) for card in cards[page]]
        total = len(cards)
    else:
        people = choose_people(standing, query.need, query.text, only)
        rows = [_person(standing, person, made) for person in people[page]]
        total = len(people)
    return shapes_designs.CardsOut(total=total, people=rows, causes=_causes(standing))


def _take_in(
    standing: Standing, card: Held, made: dict[int, MadeCard]
) -> shapes_designs.CardPerson:
    return shapes_designs.CardPerson(
        record=0,
        face="",
        name="",
        key=card.holder,
        need=Need.TAKE_IN,
        why=["in use, and its holder is nobody who gets one"],
        cards=[_in_words(standing, card, made)],
        has_photo=False,
    )


def _person(
    standing: Standing, person: Person, made: dict[int, MadeCard]
) -> shapes_designs.CardPerson:
    face = standing.opened.design.face(person.face)
    return shapes_designs.CardPerson(
        record=person.record,
        face=person.face,
        name=standing.name(face.roster, person.place),
        key=person.key,
        need=person.need,
        why=list(person.why),
        cards=[_in_words(standing, card, made) for card in person.cards],
        has_photo=person.record in standing.photos,
    )


def _in_words(standing: Standing, card: Held, made: dict[int, MadeCard]) -> shapes_designs.HeldCard:
    said = replace(card, state=standing.faces.say_state(card.state))
    return _held(said, made, standing.opened.design.numbering)


def _causes(standing: Standing) -> list[shapes_designs.CardCause]:
    """Count why people stand where they do."""
    counted: Counter[tuple[str, str]] = Counter()
    for person in standing.needed.people:
        if person.need in (Need.PHOTO, Need.UNFIT, Need.ANEW):
            for why in person.why[:1]:
                counted[person.need, _plain_why(why)] += 1
    return [
        shapes_designs.CardCause(need=need, text=text, people=people)
        for (need, text), people in counted.most_common(20)
    ]


def _plain_why(why: str) -> str:
    """Leave away of a reason what is one person's own: from what, to what."""
    if " → " in why:
        return f"{why.split(':')[0]} changed"
    if why.startswith("card "):
        return f"the card {why.split(' ', 2)[2]}"
    return why


def _held(card: Held, made: dict[int, MadeCard], numbering: Numbering) -> shapes_designs.HeldCard:
    of_run = made.get(card.record)
    number = read_number(card.number, numbering.before)
    facility = read_number(card.facility or "0")
    return shapes_designs.HeldCard(
        card=card.record,
        number=card.number,
        facility=card.facility,
        state=card.state,
        until=card.until,
        is_good=card.is_good,
        bits="" if number is None or facility is None else wiegand(facility, number, numbering),
        run=of_run.run_id if of_run else None,
        handed_at=of_run.handed_at if of_run else None,
    )


def cards_of_answer(cards: CardsOf) -> shapes_designs.CardsOfOut:
    """Give somebody's cards."""
    return shapes_designs.CardsOfOut(
        designs=[
            shapes_designs.CardsOfDesign(
                design=one.design.design.name,
                title=one.design.design.title,
                key=one.key,
                cards=[
                    _held(replace(card, state=state), one.made, one.design.design.numbering)
                    for card, state in one.held
                ],
            )
            for one in cards.designs
        ],
        has_photo=cards.has_photo,
    )


def card_answer(card: LaidCard) -> shapes_designs.CardOut:
    """Give somebody's card."""
    photo = card.photo
    return shapes_designs.CardOut(
        record=card.record,
        name=card.name,
        face=card.face.name,
        has_photo=photo is not None,
        frame=list(photo.frame) if photo else None,
        front=_side(card.sides.get("front")),
        back=_side(card.sides.get("back")),
    )


def _side(laid: Laid | None) -> shapes_designs.SideOut:
    if laid is None:
        return shapes_designs.SideOut(marks=[], findings=[])
    return shapes_designs.SideOut(
        marks=[_mark(mark) for mark in laid.marks],
        findings=[
            shapes_designs.CardFinding(item=one.item, kind=one.kind, why=one.why)
            for one in laid.findings
        ],
    )


def _mark(mark: Mark) -> shapes_designs.MarkOut:
    box = mark.box
    out = shapes_designs.MarkOut(
        item=mark.item, kind="fill", x=box.x, y=box.y, width=box.width, height=box.height
    )
    match mark:
        case Fill():
            out.colour = COLOURS[mark.colour]
        case Words():
            out.kind, out.text, out.base = "words", mark.text, mark.base
            out.size, out.bold, out.colour = mark.size, mark.bold, COLOURS[mark.colour]
        case Image():
            out.kind, out.of = "image", mark.of
        case Squares():
            out.kind, out.rows, out.module = "squares", list(mark.modules.rows), mark.width
    return out


def tried_answer(tried: Tried) -> shapes_designs.DesignTried:
    """Give a design on everybody."""
    return shapes_designs.DesignTried(
        people=tried.people,
        hardest=[
            shapes_designs.HardOut(
                what=hard.what,
                people=hard.people,
                fails=hard.fails,
                side=hard.side,
                card=card_answer(card),
            )
            for hard, card in tried.hardest
        ],
        fits=[
            shapes_designs.FitsOut(
                face=face,
                item=one.item,
                plain=one.plain,
                smaller=one.smaller,
                lines=one.lines,
                fails=one.fails,
                empty=one.empty,
            )
            for face, counted in tried.fits.items()
            for one in counted
        ],
    )


def made_answer(opened: OpenRun) -> shapes_runs.RunOut:
    """Give a run and its cards."""
    return shapes_runs.RunOut(
        run=run_row(opened.run, [one.card for one in opened.cards]),
        cards=[
            shapes_runs.MadeOut(
                card=one.card.card_id,
                record=one.card.record_id,
                name=one.name,
                number=one.number,
                facility=one.facility,
                state=one.state,
                handed_at=one.card.handed_at,
                handed_by=one.card.handed_by,
                spoiled_at=one.card.spoiled_at,
            )
            for one in opened.cards
        ],
    )


def run_row(run: Run, cards: list[MadeCard]) -> shapes_runs.RunRow:
    """Give a run with what became of its cards."""
    return shapes_runs.RunRow(
        run=run.id,
        at=run.at,
        by=run.by,
        cards=run.cards,
        handed=sum(card.handed_at is not None for card in cards),
        spoiled=sum(card.spoiled_at is not None for card in cards),
        version=run.version,
        change_set=run.change_set_id,
        printed_at=run.printed_at,
        undone=run.undone_by is not None,
    )
