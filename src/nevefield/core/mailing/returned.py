"""What mail servers write back of a mail that they could not deliver.

Source: RFC 3464 (delivery status notifications), within RFC 6522 (reports).
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from email import message_from_bytes
from email.errors import MessageError
from email.message import Message

__all__ = ["MOST_BYTES", "Returned", "read_returned"]

MOST_BYTES = 10_000_000  # of one report: what was written may stand in it whole
DEEPEST = 6  # parts within parts: a report may be forwarded
MOST_PARTS = 200
STATUS = re.compile(r"[245]\.\d{1,3}\.\d{1,3}")
MESSAGE_ID = re.compile(rb"(?im)^message-id:[ \t\r\n]*<([^<>\s]{3,200})>")
WHOLE = ("message/rfc822", "text/rfc822-headers", "message/global", "message/global-headers")
REPORTS = ("message/delivery-status", "message/global-delivery-status")
LONGEST_WORDS = 200


@dataclass(frozen=True)
class Returned:
    """What is said of one mail."""

    message_id: str  # without its angle brackets
    is_final: bool  # it will not get there; else it is late
    status: str  # as 5.1.1 (RFC 3463); "" where none is said
    words: str  # theirs


def read_returned(data: bytes) -> list[Returned]:
    """Read what a message says of mails that were not delivered; nothing where it is no report of
    that, such as an answer that somebody's absence wrote.

    Args:
        data: The whole message.
    """
    if len(data) > MOST_BYTES:
        return []
    try:
        parts = _parts(message_from_bytes(data))
    except (MessageError, ValueError, LookupError, RecursionError):
        return []
    found: list[Returned] = []
    for place, part in enumerate(parts):
        if part.get_content_type() not in REPORTS:
            continue
        about = next((number for later in parts[place + 1 :] if (number := _id_of(later))), "")
        said = [one for block in _blocks(part) if (one := _read(block, about)) is not None]
        if about and said:
            found.append(max(said, key=lambda one: one.is_final))
    return found


def _parts(message: Message) -> list[Message]:
    """List the parts of a message in their order, of those that have parts too."""
    found: list[Message] = []
    waiting = [(message, 0)]
    while waiting and len(found) < MOST_PARTS:
        part, depth = waiting.pop()
        found.append(part)
        inner = part.get_payload()
        if depth < DEEPEST and isinstance(inner, list) and part.get_content_type() not in REPORTS:
            waiting += [(one, depth + 1) for one in reversed(inner) if isinstance(one, Message)]
    return found


def _blocks(part: Message) -> list[Message]:
    inner = part.get_payload()
    return [one for one in inner if isinstance(one, Message)] if isinstance(inner, list) else []


def _id_of(part: Message) -> str:
    """Give the number of the message that came back, which is whole, or its head alone."""
    if part.get_content_type() not in WHOLE:
        return ""
    inner = part.get_payload()
    if isinstance(inner, list) and inner and isinstance(inner[0], Message):
        return _bare(str(inner[0].get("Message-ID") or ""))
    head = part.get_payload(decode=True)
    found = MESSAGE_ID.search(head) if isinstance(head, bytes) else None
    return found[1].decode("ascii", "replace") if found else ""


def _bare(text: str) -> str:
    found = re.search(r"<([^<>\s]{3,200})>", text)
    return found[1] if found else ""


def _read(block: Message, about: str) -> Returned | None:
    """Read what is said of one recipient (RFC 3464, 2.3)."""
    action = str(block.get("Action") or "").strip().casefold()
    if action not in ("failed", "delayed"):
        return None
    status = STATUS.search(str(block.get("Status") or ""))
    words = str(block.get("Diagnostic-Code") or "")
    words = words.partition(";")[2] or words  # before it stands whose words they are
    return Returned(
        about,
        action == "failed",
        status[0] if status else "",
        " ".join(words.split())[:LONGEST_WORDS],
    )
