"""What catches mails: it takes everything, but for what an address asks it to do.

`nobody@…` is refused for good, `busy@…` for now and taken at the second try, `full@…` is refused
after the whole mail was sent.
"""

from __future__ import annotations

import itertools
import re
from email import message_from_bytes
from email.message import EmailMessage
from email.policy import default
from pathlib import Path
from typing import Any

from aiosmtpd.controller import Controller

__all__ = ["Catcher", "serve"]


class Catcher:
    """Catches mails into a folder; one file each.

    Args:
        folder: Where they are kept.
    """

    def __init__(self, folder: Path) -> None:
        folder.mkdir(parents=True, exist_ok=True)
        self._folder = folder
        known = [int(path.stem) for path in folder.glob("*.eml") if path.stem.isdecimal()]
        self._numbers = itertools.count(max(known, default=0) + 1)
        self._tried: set[str] = set()

    async def handle_RCPT(
        self, server: Any, session: Any, envelope: Any, address: str, options: Any
    ) -> str:
        """Take whoever a mail is for, or not."""
        name = address.partition("@")[0].lower()
        if name == "nobody":
            return "550 5.1.1 There is nobody of that name here"
        if name == "busy" and address not in self._tried:
            self._tried.add(address)
            return "451 4.3.2 Try again in a while"
        envelope.rcpt_tos.append(address)
        return "250 OK"

    async def handle_DATA(self, server: Any, session: Any, envelope: Any) -> str:
        """Take a mail."""
        if any(one.lower().startswith("full@") for one in envelope.rcpt_tos):
            return "452 4.2.2 The mailbox is full"
        number = next(self._numbers)
        (self._folder / f"{number}.eml").write_bytes(envelope.content)
        return f"250 Caught as {number}"

    def mails(self) -> list[tuple[int, EmailMessage]]:
        """List what was caught, the last first."""
        paths = [path for path in self._folder.glob("*.eml") if re.fullmatch(r"\d+", path.stem)]
        found = sorted(((int(path.stem), path) for path in paths), reverse=True)
        return [
            (number, message_from_bytes(path.read_bytes(), policy=default))
            for number, path in found
        ]


def serve(catcher: Catcher, port: int) -> Controller:
    """Listen on loopback; `stop` of what is given ends it."""
    controller = Controller(catcher, hostname="127.0.0.1", port=port, enable_SMTPUTF8=True)
    controller.start()
    return controller
