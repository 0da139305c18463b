"""Waivers that last: what was let in of whom, and is not asked again."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING, Any, Literal

import numpy as np
from flask_openapi3 import APIBlueprint

from nevefield.accounts import Level
from nevefield.core.columns.days import say_day
from nevefield.core.columns.titles import name_person
from nevefield.core.masking import COVER, cover_snapshot, sensitive_fields
from nevefield.core.snapshot import say_key
from nevefield.core.texts import SEVERAL
from nevefield.intakes.waivers import is_as_it_was, withdraw
from nevefield.rosters.looking import open_roster
from nevefield.store.waivers import list_standing, list_waivers
from nevefield.web import models
from nevefield.web import waiver_models as shapes
from nevefield.web.access import account, context, is_masked, needs
from nevefield.web.answering import answer

if TYPE_CHECKING:
    from nevefield.core.definition import Field
    from nevefield.core.snapshot import Snapshot
    from nevefield.store.waivers import WaiverRow

__all__ = ["waiver_api"]

waiver_api = APIBlueprint("waivers", __name__, url_prefix="/api")


@waiver_api.get("/rosters/<name>/waivers", responses={200: shapes.WaiverList})
@needs(Level.LOOK, of="roster")
def get_waivers(path: models.NamePath, query: shapes.WaiversQuery) -> Any:
    """List what was let in of whom, the last first, and whether it still counts."""
    roster, snapshot = open_roster(context(), path.name)
    today = context().today()
    with context().database.transaction() as connection:
        total, found = list_waivers(
            connection, roster.id, record_id=query.record, start=query.start, limit=query.limit
        )
        standing = list_standing(connection, roster.id, today)
    places, covers = snapshot.places(), is_masked(roster.id)
    shown = cover_snapshot(snapshot) if covers else snapshot
    standing = [one for one in standing if query.record in (None, one.record_id) and is_as_it_was(one, snapshot, places)]
    listed = [_waiver(one, snapshot, shown, places, today, covers=covers) for one in found]
    return answer(shapes.WaiverList(total=total, standing=len(standing), waivers=listed))


@waiver_api.post("/waivers/<int:waiver_id>/withdraw", responses={204: None})
@needs(Level.PREPARE, of="waiver")
def post_withdraw(path: shapes.WaiverPath) -> Any:
    """Withdraw a waiver: from now on it is asked again."""
    withdraw(context(), path.waiver_id, account().id)
    return "", 204


def _waiver(
    one: WaiverRow, snapshot: Snapshot, shown: Snapshot, places: dict[int, int], today: date, *, covers: bool
) -> shapes.WaiverOut:
    place = places.get(one.record_id)
    definition = snapshot.definition
    hidden = sensitive_fields(definition) if covers else frozenset()
    values = [
        f"{definition.title_of(name)} {COVER if name in hidden else _word(definition.by_name[name], text)}"
        for name, text in one.values.items()
        if text is not None and name in definition.by_name
    ]
    asked = f"{definition.title_of(one.field)}, which is kept from you" if one.field in hidden else one.title
    return shapes.WaiverOut(
        id=one.id,
        record=one.record_id,
        key=say_key(snapshot.keys(np.array([place]))[0]) if place is not None else "",
        name=name_person(definition, lambda field: shown.columns[field].at(place)) if place is not None else "",
        asked=asked,
        field=definition.title_of(one.field) if one.field in definition.by_name else one.field,
        values=values,
        reason=one.reason,
        until=one.until,
        intake=one.intake,
        line=one.line,
        receipt=one.change_set,
        by=one.by,
        at=one.at,
        state=_state(one, snapshot, places, today),
        withdrawn=f"by {one.withdrawn_by or 'somebody'} on {say_day(one.withdrawn_at.date())}" if one.withdrawn_at else "",
    )


def _word(field: Field, text: str) -> str:
    return say_day(date.fromisoformat(text)) if field.type == "date" else text.replace(SEVERAL, "; ")


def _state(
    one: WaiverRow, snapshot: Snapshot, places: dict[int, int], today: date
) -> Literal["stands", "changed", "over", "taken back", "gone", "withdrawn"]:
    if one.withdrawn_at is not None:
        return "withdrawn"
    if one.taken_back:
        return "taken back"
    if one.record_id not in places:
        return "gone"
    if one.until is not None and one.until < today:
        return "over"
    return "stands" if is_as_it_was(one, snapshot, places) else "changed"
