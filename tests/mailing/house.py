"""The clinic writes: its mail server, what waits, what was caught."""

from __future__ import annotations

import socket
from collections import Counter

from nevefield.core.mailing.template import Template
from nevefield.letters.writing import Letter
from nevefield.mailing.sending import send_due
from nevefield.mailing.serving import look_at_post
from nevefield.posting.line import Line

__all__ = ["caught", "document", "free_port", "letter", "send", "states"]


def free_port() -> int:
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        return int(found.getsockname()[1])


def document(port: int, **more):
    return {
        "host": "127.0.0.1",
        "port": port,
        "security": "none",
        "address": "office@clinic.example",
        "name": "Clinic, Ødegård",
        "per_minute": 1_000,
    } | more


def letter(context, records=None, text="Dear {forename} {surname}, of {wards}.\n\nBye.") -> Letter:
    return Letter("clinic", records or range(1, 100), "mail", Template("For {badge}", text))


def send(context, dial=Line) -> None:
    """Send everything that is due."""
    while send_due(context, dial):
        pass


def caught(catcher) -> Counter:
    return Counter(str(mail["To"]) for _, mail in catcher.mails())


def states(context) -> dict[str, int]:
    return {state: count for state, count in look_at_post(context).counts.items() if count}
