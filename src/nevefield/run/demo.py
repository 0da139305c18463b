"""Load the demo: code lists, rosters, and the files by which the cadets' roster came to be what
it is.
"""

from __future__ import annotations

import base64
import json
from dataclasses import replace
from datetime import date, datetime, timedelta
from typing import TYPE_CHECKING, Any

from nevefield.cards.designs import begin_design
from nevefield.cards.photos import bring_photos, bring_picture
from nevefield.core.codes import CodeList, read_codes
from nevefield.intakes.applying import apply_intake
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, add_step, receive_file
from nevefield.mailing.serving import keep_server, look_at_post
from nevefield.passing_on.errors import NoSuchDestination
from nevefield.passing_on.keeping import (
    begin_destination,
    keep_destination,
    keep_token,
    open_destination,
)
from nevefield.rosters.opening import open_roster_with
from nevefield.store import rosters as store
from nevefield.submissions.opening import Beginning, begin_submission

if TYPE_CHECKING:
    from pathlib import Path

    from nevefield.context import Context

__all__ = ["load_demo", "point_destination", "point_mail"]

OPENED = "2025-09-01"  # when rosters without files of the past began


def load_demo(
    context: Context,
    made: Path,
    *,
    account_id: int | None = None,
    history: bool = False,
    only: frozenset[str] = frozenset(),
) -> None:
    """Load what the demo's maker wrote.

    Args:
        context: Database and clock.
        made: The directory.
        account_id: Who applied the files of the past.
        history: Whether to go through those files, each at its own day; without it the rosters open
            as they are today.
        only: Names of the rosters to load; all when empty.
    """
    lists: dict[str, CodeList] = read_codes((made / "codes.csv").read_text())
    with context.database.transaction() as connection:
        for name, codes in lists.items():
            store.replace_code_list(connection, name, codes.codes)
    for path in sorted(made.glob("roster-*.json")):
        if only and path.stem.removeprefix("roster-") not in only:
            continue
        content = json.loads(path.read_text())
        past = made / path.name.replace("roster-", "history-")
        if history and past.exists():
            _live_through(context, content["definition"], json.loads(past.read_text()), account_id)
        else:
            at = _on(context, OPENED) if history else context
            open_roster_with(at, content["definition"], content["records"], account_id)
    if not only:
        _begin_cards(context, made, account_id)
        for document in json.loads((made / "destinations.json").read_text()):
            begin_destination(context, document, account_id)
    if history:
        _begin_return(context, made, account_id)


def point_destination(context: Context, name: str, address: str, token: str) -> None:
    """Let a destination of the demo be where its stand-in answers today, if it still is one on this
    machine; whoever has put another address there keeps it.
    """
    try:
        opened = open_destination(context, name)
    except NoSuchDestination:
        return
    document = opened.row.document
    if not document["way"].get("address", "").startswith("http://127.0.0.1:"):
        return
    if document["way"]["address"] != address:
        moved = {**document, "way": {**document["way"], "address": address}}
        keep_destination(context, name, moved, opened.row.version, None)
    if opened.row.token is None and context.settings.step_key:
        keep_token(context, name, token, None)


def point_mail(context: Context, port: int, shown: str) -> None:
    """Let mails of the demo be handed to the stand-in, where it answers today; whoever has put
    another server there keeps it.
    """
    now = look_at_post(context).server
    if now is not None and now.host != "127.0.0.1":
        return
    document = {
        "host": "127.0.0.1",
        "port": port,
        "security": "none",
        "address": "office@tarnquay.example",
        "name": "Tarn Quay, registry",
        "shown_at": shown,
    }
    kept = now.model_dump(mode="json") if now is not None else {}
    keep_server(context, kept | document, None, None)


def _begin_cards(context: Context, made: Path, account_id: int | None) -> None:
    """Begin the gate card, with the crest and the photographs."""
    crest = bring_picture(context, "crest.png", (made / "crest.png").read_bytes())
    design = (made / "gate-card.json").read_text().replace("crest.png", crest)
    name = begin_design(context, json.loads(design), account_id)
    photos = (made / "gate-photos.zip").read_bytes()
    bring_photos(context, name, [("gate-photos.zip", photos)], account_id)


def _begin_return(context: Context, path: Path, account_id: int | None) -> None:
    """Begin the autumn return to the Registry of Mariners, from what the stand-in publishes."""
    held = json.loads((path / "registry.json").read_text())
    begin_submission(
        context,
        Beginning(
            roster="cadets",
            title="Autumn return",
            side="live",
            day=date.fromisoformat(held["day"]),
            layout=held["layout"],
            chosen=held["chosen"],
            due=context.today() + timedelta(days=6),
            policy={"none": "new", "one": None},
            published=held["published"],
        ),
        account_id,
    )


def _live_through(
    context: Context, document: dict[str, Any], past: dict[str, Any], account_id: int | None
) -> None:
    open_roster_with(_on(context, past["opened"]), document, past["records"], account_id)
    for file in past["files"]:
        then = _on(context, file["day"])
        intake = receive_file(
            then,
            file["name"],
            file["text"].encode() if "text" in file else base64.b64decode(file["base64"]),
            Claims(roster=document["name"], coverage=file["coverage"], source=file["source"]),
            account_id=account_id,
        )
        if file["stray"]:
            add_step(
                then,
                intake,
                {"kind": "leave_out", "lines": [file["stray"]], "reason": "not ours"},
                account_id,
            )
        for step in file["steps"]:
            add_step(then, intake, step, account_id)
        opened = open_intake(then, intake)
        apply_intake(then, intake, len(opened.steps), opened.roster.version, account_id)


def _on(context: Context, day: str) -> Context:
    """Set the clock to the morning of a day."""
    at = datetime.fromisoformat(f"{day}T09:12:00")
    return replace(context, now=lambda: at)
