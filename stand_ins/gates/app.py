"""The gate controllers over HTTP; what they take and give is told in `docs/gates.md`."""

from __future__ import annotations

import hmac
import json
import re
import threading
import time
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from flask import Blueprint, Flask, Response, current_app, jsonify, request

__all__ = ["make_app"]

ROOM = 4_000  # cards that a door remembers
_CARD = re.compile(r"\d{1,10}-\d{1,20}")
gates_api = Blueprint("gates", __name__)
Answer = tuple[Response, int]


@dataclass
class Door:
    """One door, and the cards that it remembers."""

    door: str
    title: str
    zones: list[str]
    room: int = ROOM
    answers: bool = True
    slow: float = 0.0
    cards: dict[str, dict[str, Any]] = field(default_factory=dict)

    def shown(self) -> dict[str, Any]:
        """Say what it is and how it is."""
        return {
            "door": self.door,
            "title": self.title,
            "zones": self.zones,
            "room": self.room,
            "answers": self.answers,
            "holds": len(self.cards),
        }


class Gates:
    """All doors, kept in a journal.

    Args:
        doors: Each with its name, title and zones.
        journal: A file with a line for each alteration; None to keep nothing.
    """

    def __init__(self, doors: list[dict[str, Any]], journal: Path | None) -> None:
        self.lock = threading.RLock()
        self.doors = {one["door"]: Door(**one) for one in doors}
        self._journal = journal
        if journal is not None and journal.exists():
            for line in journal.read_text("utf-8").splitlines():
                name, card, what = json.loads(line)
                if name in self.doors:
                    self._set(name, card, what)

    def set(self, name: str, card: str, what: dict[str, Any] | None) -> None:
        """Let a door remember a card, or forget it; "" for all of them."""
        with self.lock:
            self._set(name, card, what)
            if self._journal is not None:
                with self._journal.open("a", encoding="utf-8") as file:
                    file.write(json.dumps([name, card, what], ensure_ascii=False) + "\n")

    def _set(self, name: str, card: str, what: dict[str, Any] | None) -> None:
        cards = self.doors[name].cards
        if not card:
            cards.clear()
        elif what is None:
            cards.pop(card, None)
        else:
            cards[card] = what


def make_app(
    doors: list[dict[str, Any]], token: str, *, folder: Path | None = None, control: str = ""
) -> Flask:
    """Make the controllers.

    Args:
        doors: Each with its name, title and zones.
        token: Of who may tell them.
        folder: Where they keep what they remember; None to keep nothing.
        control: The token with which a door can be told to do wrong; "" for nobody.
    """
    app = Flask("gates")
    app.config["MAX_CONTENT_LENGTH"] = 1_000_000
    gates = Gates(doors, folder / "gates.jsonl" if folder else None)
    app.config.update(gates=gates, token=token, control=control)
    app.before_request(_let_in)
    app.register_blueprint(gates_api)
    return app


def _no(status: int, code: str, problem: str) -> Answer:
    return jsonify({"code": code, "problem": problem}), status


def _gates() -> Gates:
    found: Gates = current_app.config["gates"]
    return found


def _let_in() -> Answer | None:
    config = current_app.config
    given = request.headers.get("Authorization", "").removeprefix("Bearer ").encode()
    if request.path == "/control":
        known = config["control"].encode()
        return None if known and hmac.compare_digest(given, known) else _no(403, "no", "Nobody.")
    if request.path == "/":
        return None
    if not hmac.compare_digest(given, config["token"].encode()):
        return _no(401, "token", "The token is not known here.")
    return None


def _door(name: str) -> Door | Answer:
    found = _gates().doors.get(name)
    if found is None:
        return _no(404, "door", "There is no such door.")
    if found.slow:
        time.sleep(found.slow)
    if not found.answers:
        return _no(503, "offline", f"{found.title} does not answer.")
    return found


@gates_api.get("/doors")
def list_doors() -> Answer:
    """List the doors, each with its zones and how many cards it remembers."""
    return jsonify({"doors": [one.shown() for one in _gates().doors.values()]}), 200


@gates_api.get("/doors/<name>/cards")
def list_cards(name: str) -> Answer:
    """List the cards that a door remembers."""
    found = _door(name)
    if not isinstance(found, Door):
        return found
    cards = [{"card": card, **what} for card, what in sorted(found.cards.items())]
    return jsonify({"cards": cards}), 200


@gates_api.put("/doors/<name>/cards/<card>")
def put_card(name: str, card: str) -> Answer:
    """Let a door remember a card, with the name beside it and the last day on which it opens."""
    found = _door(name)
    if not isinstance(found, Door):
        return found
    if not _CARD.fullmatch(card):
        return _no(400, "card", "A card is its facility, a hyphen and its number.")
    body = request.get_json(force=True)
    if not isinstance(body, dict) or set(body) - {"name", "until"}:
        return _no(400, "body", "A card has a name and an until.")
    name_of = str(body.get("name", ""))
    if len(name_of) > 40 or not name_of.isascii():
        return _no(400, "name", "A name has at most 40 letters without accents.")
    if card not in found.cards and len(found.cards) >= found.room:
        return _no(507, "full", f"{found.title} has no room for another card.")
    _gates().set(name, card, {"name": name_of, "until": str(body.get("until", ""))})
    return jsonify({}), 200


@gates_api.delete("/doors/<name>/cards/<card>")
def drop_card(name: str, card: str) -> Answer:
    """Let a door forget a card; one that it does not remember is that already."""
    found = _door(name)
    if not isinstance(found, Door):
        return found
    _gates().set(name, card, None)
    return jsonify({}), 200


@gates_api.post("/control")
def control() -> Answer:
    """Let a door be offline, slow or full, or forget everything."""
    asked = request.get_json(force=True)
    found = _gates().doors.get(asked.get("door", ""))
    if found is None:
        return _no(404, "door", "There is no such door.")
    found.answers = bool(asked.get("answers", True))
    found.slow = float(asked.get("slow", 0))
    found.room = int(asked.get("room", ROOM))
    if asked.get("forget"):
        _gates().set(found.door, "", None)
    return jsonify(found.shown()), 200


@gates_api.get("/")
def page() -> Response:
    """Show the doors, for who looks at the demo."""
    lines = [
        f"{one.title}\t{'answers' if one.answers else 'does not answer'}\t"
        f"{len(one.cards)} of {one.room} cards\t{', '.join(one.zones)}"
        for one in _gates().doors.values()
    ]
    return Response("\n".join(lines) + "\n", mimetype="text/plain")
