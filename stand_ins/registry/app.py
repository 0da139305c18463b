"""The Registry over HTTP; what it takes and gives is told in `docs/registry.md`."""

from __future__ import annotations

import csv
import io
import secrets
import socket
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

from flask import Blueprint, Flask, Response, current_app, jsonify, request

from stand_ins.registry.judging import Record, shown
from stand_ins.registry.keeping import FAULTS, Registry
from stand_ins.registry.layout import published

__all__ = ["SIDES", "make_app"]

SIDES = ("practice", "live")
PAGE = 5_000
Answer = tuple[Response, int]


def make_app(
    people: list[Record],
    accounts: dict[str, tuple[str, str]],
    *,
    folder: Path | None = None,
    today: Callable[[], date] = date.today,
    control: str = "",
) -> Flask:
    """Make the Registry.

    Args:
        people: The records that both sides begin with.
        accounts: By token: the account's name, and its college.
        folder: Where it keeps what it has; None to keep nothing.
        today: Tells the day by which it judges.
        control: The token with which it can be told to do wrong; "" for nobody.
    """
    app = Flask("registry")
    app.config["MAX_CONTENT_LENGTH"] = 200_000_000
    kept = {side: folder / f"{side}.json" if folder else None for side in SIDES}
    sides = {side: Registry([_copy(one) for one in people], today(), kept[side]) for side in SIDES}
    app.config.update(sides=sides, accounts=accounts, today=today, control=control)
    app.before_request(_let_in)
    app.register_blueprint(registry_api)
    return app


registry_api = Blueprint("registry", __name__)


def _no(status: int, text: str) -> Answer:
    return jsonify({"problem": text}), status


def _who() -> tuple[str, str] | None:
    token = request.headers.get("Authorization", "").removeprefix("Bearer ")
    accounts = current_app.config["accounts"].items()
    return next((account for one, account in accounts if secrets.compare_digest(one, token)), None)


def _side(side: str) -> Registry:
    found: Registry = current_app.config["sides"][side]
    return found


def _let_in() -> Answer | None:
    """Let a request through: a side that there is, an account that is known, and no fault that
    it was told to have.
    """
    config = current_app.config
    if request.path == "/control":
        given = request.headers.get("X-Control", "")
        return (
            None
            if config["control"] and secrets.compare_digest(config["control"], given)
            else _no(403, "No.")
        )
    side = config["sides"].get(request.path.split("/")[1])
    if side is None:
        return _no(404, "There are two sides: practice and live.")
    side.today = config["today"]()
    if _who() is None:
        return _no(401, "This account is not known here.")
    for fault, status in (("fail500", 500), ("fail503", 503)):
        if side.faults[fault] > 0:
            side.faults[fault] -= 1
            return _no(status, "The Registry is out of order; try again later.")
    return None


@registry_api.post("/control")
def post_control() -> Answer:
    """Be told to do wrong."""
    for side in current_app.config["sides"].values():
        side.faults.update(
            {name: value for name, value in (request.get_json() or {}).items() if name in FAULTS}
        )
    return jsonify(_side("live").faults), 200


@registry_api.get("/<side>/layout")
def get_layout(side: str) -> Answer:
    """Publish fields, codes and rules; they are the same on both sides."""
    return jsonify(published(_side(side).today)), 200


@registry_api.post("/<side>/returns")
def post_return(side: str) -> Answer:
    """Take a return."""
    registry, (name, college) = _side(side), _who() or ("", "")
    key = request.headers.get("Idempotency-Key", "")
    if not key:
        return _no(400, "A return carries an Idempotency-Key.")
    if registry.faults["refuse"] > 0:
        registry.faults["refuse"] -= 1
        return _no(403, "Returns of your college are not taken today.")
    body = _body()
    if not isinstance(body.get("records"), list):
        return _no(422, "A return has records.")
    made = registry.take(name, college, key, body)
    if registry.faults["drop"] > 0:
        registry.faults["drop"] -= 1
        if isinstance(connection := request.environ.get("werkzeug.socket"), socket.socket):
            connection.shutdown(socket.SHUT_RDWR)
    return (
        jsonify({"receipt": made["receipt"], "records": made["total"], "state": made["state"]}),
        202,
    )


def _body() -> dict[str, Any]:
    if request.mimetype == "text/csv":
        rows = csv.DictReader(io.StringIO(request.get_data(as_text=True).removeprefix("\ufeff")))
        return {"records": list(rows)}
    found = request.get_json(silent=True)
    return found if isinstance(found, dict) else {}


def _mine(side: str, receipt: str) -> dict[str, Any] | None:
    made = _side(side).returns.get(receipt)
    return made if made is not None and made["account"] == (_who() or ("",))[0] else None


@registry_api.get("/<side>/returns/<receipt>")
def get_return(side: str, receipt: str) -> Answer:
    """Say how far a return is."""
    made = _mine(side, receipt)
    if made is None:
        return _no(404, "There is no such return of yours.")
    return jsonify({name: made[name] for name in ("receipt", "state", "done", "total")}), 200


@registry_api.get("/<side>/returns/<receipt>/answer")
def get_answer(side: str, receipt: str) -> Answer:
    """Give an answer, page by page."""
    made = _mine(side, receipt)
    if made is None or made["state"] != "answered":
        return _no(404, "There is no answer yet.")
    start = request.args.get("start", 0, int)
    results = made["results"][start : start + PAGE]
    more = start + PAGE if start + PAGE < len(made["results"]) else None
    decided = made["decided"] if not start else []
    return jsonify({"receipt": receipt, "results": results, "changes": decided, "next": more}), 200


@registry_api.get("/<side>/mariners/<number>")
def get_mariner(side: str, number: str) -> Answer:
    """Show the record that is held under a number."""
    held = _side(side).people.get(number)
    return (jsonify(shown(held)), 200) if held else _no(404, "There is no mariner of that number.")


def _copy(one: Record) -> Record:
    return one | {"ENROLMENTS": [dict(each) for each in one["ENROLMENTS"]]}
