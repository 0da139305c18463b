"""Waivers that last: what was approved of whom, and is not asked again."""

from __future__ import annotations

from datetime import date
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.accounts import Level
from nevefield.core.columns.days import say_day
from nevefield.core.columns.titles import name_person
from nevefield.core.masking import COVER
from nevefield.core.snapshot import say_key
from nevefield.core.texts import SEVERAL
from nevefield.intakes.waivers import open_waivers, withdraw
from nevefield.web import common
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.rosters import shapes_waivers

if TYPE_CHECKING:
    from nevefield.core.definition import Field
    from nevefield.intakes import WaiverRow
    from nevefield.intakes.waivers import OpenWaivers, State

__all__ = ["waiver_api"]

waiver_api = Api("waivers", __name__)


@waiver_api.get("/rosters/<name>/waivers", responses={200: shapes_waivers.WaiverList})
@needs(Level.LOOK, of="roster")
def get_waivers(path: common.NamePath, query: shapes_waivers.WaiversQuery) -> Any:
    """List what was approved of whom, the last first, and whether it still counts."""
    waivers = open_waivers(
        context(), path.name, record=query.record, start=query.start, limit=query.limit
    )
    listed = [_waiver(waiver, state, waivers) for waiver, state in waivers.listed]
    return answer(
        shapes_waivers.WaiverList(total=waivers.total, standing=waivers.standing, waivers=listed)
    )


@waiver_api.post("/waivers/<int:waiver_id>/withdraw", responses={204: None})
@needs(Level.PREPARE, of="waiver")
def post_withdraw(path: shapes_waivers.WaiverPath) -> Any:
    """Withdraw a waiver: from now on it is asked again."""
    withdraw(context(), path.waiver_id, account().id)
    return "", 204


def _waiver(waiver: WaiverRow, state: State, found: OpenWaivers) -> shapes_waivers.WaiverOut:
    snapshot, definition = found.snapshot, found.snapshot.definition
    place = snapshot.places().get(waiver.record_id)
    is_kept = bool(
        found.covered & {waiver.field, *waiver.values}
    )  # its words may say what they are
    values = [
        f"{definition.title_of(name)} {_word(definition.by_name[name], text)}"
        for name, text in waiver.values.items()
        if text is not None and name in definition.by_name
    ]
    asked = (
        f"{definition.title_of(waiver.field)}, which is kept from you" if is_kept else waiver.title
    )
    return shapes_waivers.WaiverOut(
        id=waiver.id,
        record=waiver.record_id,
        key=say_key(snapshot.keys(np.array([place]))[0]) if place is not None else "",
        name=(
            name_person(definition, lambda field: snapshot.columns[field].at(place))
            if place is not None
            else ""
        ),
        asked=asked,
        field=definition.title_of(waiver.field)
        if waiver.field in definition.by_name
        else waiver.field,
        values=values,
        reason=waiver.reason,
        until=waiver.until,
        intake=waiver.intake,
        line=waiver.line,
        receipt=waiver.change_set,
        by=waiver.by,
        at=waiver.at,
        state=state,
        withdrawn=(
            f"by {waiver.withdrawn_by or 'somebody'} on {say_day(waiver.withdrawn_at.date())}"
            if waiver.withdrawn_at
            else ""
        ),
    )


def _word(field: Field, text: str) -> str:
    return (
        say_day(date.fromisoformat(text))
        if field.type == "date" and text != COVER
        else text.replace(SEVERAL, "; ")
    )
