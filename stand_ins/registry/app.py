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

from flask import Flask, Response, jsonify, request

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
    app.config["sides"] = sides

    def no(status: int, text: str) -> Answer:
        return jsonify({"problem": text}), status

    def who() -> tuple[str, str] | None:
        token = request.headers.get("Authorization", "").removeprefix("Bearer ")
        return next((account for one, account in accounts.items() if secrets.compare_digest(one, token)), None)

    @app.before_request
    def before() -> Answer | None:
        if request.path == "/control":
            return None if control and secrets.compare_digest(request.headers.get("X-Control", ""), control) else no(403, "No.")
        side = sides.get(request.path.split("/")[1])
        if side is None:
            return no(404, "There are two sides: practice and live.")
        side.today = today()
        if who() is None:
            return no(401, "This account is not known here.")
        for fault, status in (("fail500", 500), ("fail503", 503)):
            if side.faults[fault] > 0:
                side.faults[fault] -= 1
                return no(status, "The Registry is out of order; try again later.")
        return None

    @app.post("/control")
    def post_control() -> Answer:
        for side in sides.values():
            side.faults.update({name: value for name, value in (request.get_json() or {}).items() if name in FAULTS})
        return jsonify(sides["live"].faults), 200

    @app.get("/<side>/layout")
    def get_layout(side: str) -> Answer:
        return jsonify(published(today())), 200

    @app.post("/<side>/returns")
    def post_return(side: str) -> Answer:
        registry, account = sides[side], who() or ("", "")
        key = request.headers.get("Idempotency-Key", "")
        if not key:
            return no(400, "A return carries an Idempotency-Key.")
        if registry.faults["refuse"] > 0:
            registry.faults["refuse"] -= 1
            return no(403, "Returns of your college are not taken today.")
        if request.mimetype == "text/csv":
            rows = csv.DictReader(io.StringIO(request.get_data(as_text=True).removeprefix("\ufeff")))
            body: dict[str, Any] = {"records": list(rows)}
        else:
            body = request.get_json(silent=True) or {}
        if not isinstance(body.get("records"), list):
            return no(422, "A return has records.")
        made = registry.take(account[0], account[1], key, body)
        if registry.faults["drop"] > 0:
            registry.faults["drop"] -= 1
            if isinstance(connection := request.environ.get("werkzeug.socket"), socket.socket):
                connection.shutdown(socket.SHUT_RDWR)
        return jsonify({"receipt": made["receipt"], "records": made["total"], "state": made["state"]}), 202

    def mine(side: str, receipt: str) -> dict[str, Any] | None:
        made = sides[side].returns.get(receipt)
        return made if made is not None and made["account"] == (who() or ("",))[0] else None

    @app.get("/<side>/returns/<receipt>")
    def get_return(side: str, receipt: str) -> Answer:
        made = mine(side, receipt)
        if made is None:
            return no(404, "There is no such return of yours.")
        return jsonify({name: made[name] for name in ("receipt", "state", "done", "total")}), 200

    @app.get("/<side>/returns/<receipt>/answer")
    def get_answer(side: str, receipt: str) -> Answer:
        made = mine(side, receipt)
        if made is None or made["state"] != "answered":
            return no(404, "There is no answer yet.")
        start = request.args.get("start", 0, int)
        results = made["results"][start : start + PAGE]
        more = start + PAGE if start + PAGE < len(made["results"]) else None
        return jsonify(
            {"receipt": receipt, "results": results, "changes": made["decided"] if not start else [], "next": more}
        ), 200

    @app.get("/<side>/mariners/<number>")
    def get_mariner(side: str, number: str) -> Answer:
        held = sides[side].people.get(number)
        return (jsonify(shown(held)), 200) if held else no(404, "There is no mariner of that number.")

    return app


def _copy(one: Record) -> Record:
    return one | {"ENROLMENTS": [dict(each) for each in one["ENROLMENTS"]]}
