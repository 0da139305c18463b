"""Answers about passing on."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.passing.reading import write_destination
from nevefield.core.passing.standing import Act
from nevefield.core.passing.wording import say_cause, say_way, say_when
from nevefield.web.passing import shapes

if TYPE_CHECKING:
    from collections.abc import Iterable

    from nevefield.core.passing.outgoing import Content
    from nevefield.core.passing.standing import Moved
    from nevefield.passing_on.looking import Look, Looked, Row
    from nevefield.passing_on.tracing import Went

__all__ = ["brief", "destination_answer", "rows_answer", "went_answer"]

PARTS = "\x1f"


def brief(look: Look) -> shapes.DestinationBrief:
    """Shape a destination for a list."""
    row, destination = look.opened.row, look.opened.destination
    return shapes.DestinationBrief(
        name=destination.name,
        title=destination.title,
        way=say_way(destination),
        told=say_when(destination),
        rosters=[look.opened.rosters[share.roster].title for share in destination.shares],
        counts={place.value: count for place, count in look.counts.items()},
        records=look.records,
        is_on=row.is_on,
        problem=row.problem,
        sent_at=row.sent_at,
        next_at=row.next_at if row.is_on else None,
    )


def destination_answer(looked: Looked) -> shapes.DestinationOut:
    """Shape a destination and where everybody stands."""
    look, row = looked.look, looked.look.opened.row
    destination = look.opened.destination
    causes = []
    for cause in look.causes:
        said = say_cause(cause, destination)
        causes.append(
            shapes.DestinationCause(
                code=cause.code,
                title=said.title,
                text=said.text,
                records=list(cause.records),
                names=[looked.names.get(record, ("", ""))[1] for record in cause.records[:3]],
                anew=[looked.anew[record] for record in cause.records[:3] if record in looked.anew],
                remedies=[one for one in said.remedies if one != "anew" or looked.anew],
            )
        )
    return shapes.DestinationOut(
        **brief(look).model_dump(exclude={"rosters"}),
        document=write_destination(destination),
        version=row.version,
        since=row.since,
        shares=[
            shapes.SharedOut(roster=one.roster, title=one.title, fields=one.fields, where=one.where)
            for one in looked.shares
        ],
        there=look.there,
        ends_names=[_called(looked, record) for record in looked.ends],
        takes=len(look.takes),
        takes_names=[_called(looked, record) for record in look.takes if record in looked.names],
        is_guarded=look.is_guarded,
        causes=causes,
        files=[
            shapes.PassedFile(
                file=one.id,
                file_name=one.file_name,
                records=one.records,
                is_kept=one.has_content,
                at=one.at,
                by=one.by,
                fetched_at=one.fetched_at,
                waits=one.waits,
                laid_at=one.laid_at,
                laid_as=one.laid_as,
                trouble=one.trouble,
            )
            for one in looked.files
        ],
        doors=[shapes.DoorOut(**one, late=looked.late.get(one["title"], 0)) for one in row.doors],
        has_token=row.token is not None,
        has_address=row.has_address,
        asked_at=row.asked_at,
        proposed=looked.proposed,
        proposed_in=[
            shapes.ProposedIntake(intake=number, title=title)
            for number, title in looked.proposed_in
        ],
        job=looked.job,
        may_decide=looked.may_decide,
        may_tell=looked.may_tell,
        may_change=looked.may_change,
    )


def _called(looked: Looked, record: int) -> str:
    key, name = looked.names.get(record, ("", ""))
    return name or key


def rows_answer(total: int, rows: Iterable[Row]) -> shapes.DestinationRows:
    """Shape a page of records."""
    return shapes.DestinationRows(
        total=total,
        rows=[
            shapes.PassedRow(
                record=row.record,
                roster=row.roster,
                key=row.key,
                name=row.name,
                place=row.standing.place.value,
                act=row.standing.act.value,
                moved=_moved(row.moved),
                takes_privileges=row.takes_privileges,
                because=row.because,
                receipt=row.reason.change_set if row.reason else None,
                at=row.reason.at if row.reason else None,
                code=row.standing.code,
                problem=row.standing.problem,
                held_reason=row.held_reason,
            )
            for row in rows
        ],
    )


def went_answer(found: Iterable[Went]) -> shapes.WentList:
    """Shape where a record has gone."""
    return shapes.WentList(
        destinations=[
            shapes.WentOut(
                destination=one.opened.destination.name,
                title=one.opened.destination.title,
                place=one.standing.place.value,
                act=one.standing.act.value,
                moved=_moved(one.moved),
                because=one.because,
                receipt=one.reason.change_set if one.reason else None,
                problem=one.standing.problem or (one.held.problem if one.held else ""),
                told=say_when(one.opened.destination),
                gets=_gets(one),
                never=list(one.never),
                sent=[
                    shapes.PassedAct(
                        act=act.act,
                        moved=act.moved,
                        answer=act.answer,
                        ms=act.ms,
                        at=act.at,
                        by=act.by,
                    )
                    for act in one.acts
                ],
                at=one.acts[0].at if one.acts else None,
            )
            for one in found
        ]
    )


def _gets(one: Went) -> list[shapes.PassedMove]:
    """List what a destination should hold of a record, each beside what it holds."""
    held = one.held.content if one.held is not None and one.held.is_there else None
    wanted = one.wanted if one.standing.act != Act.END else None
    names = dict.fromkeys((*(wanted.fields if wanted else ()), *(held.fields if held else ())))
    rows = [
        shapes.PassedMove(what=name, before=_values(held, name), after=_values(wanted, name))
        for name in names
    ]
    groups = list(held.groups if held else ()), list(wanted.groups if wanted else ())
    if any(groups):
        rows.append(shapes.PassedMove(what="", before=groups[0], after=groups[1]))
    return rows


def _values(content: Content | None, name: str) -> list[str]:
    return content.values(name) if content is not None else []


def _moved(moved: Iterable[Moved]) -> list[shapes.PassedMove]:
    return [
        shapes.PassedMove(what=one.what, before=list(one.before), after=list(one.after))
        for one in moved
    ]
