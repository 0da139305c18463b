"""A message as a mail server takes it: plain text, and the same as HTML.

Sources: RFC 5322 (messages), RFC 2045 (MIME), RFC 3834 (messages that are sent by themselves).
"""

from __future__ import annotations

import html
import re
from dataclasses import dataclass
from email.headerregistry import Address
from email.message import EmailMessage
from email.policy import SMTP
from email.utils import format_datetime
from functools import lru_cache
from typing import TYPE_CHECKING

from email_validator import EmailNotValidError, validate_email

if TYPE_CHECKING:
    from datetime import datetime

__all__ = ["Outbound", "Sender", "read_address", "write_message"]

LINK = re.compile(r"https?://[^\s<>\"]{1,500}")


@dataclass(frozen=True)
class Sender:
    """Who writes."""

    address: str
    name: str = ""
    reply_to: str = ""


@dataclass(frozen=True)
class Outbound:
    """What is written to whom."""

    message_id: str  # without its angle brackets
    to: str
    subject: str
    text: str


@lru_cache(50_000)  # the same people are looked at again as a letter is written
def read_address(text: str) -> str:
    """Give an address as a mail server knows it, with the letters of its host spelt out.

    Raises:
        ValueError: It is none.

    >>> read_address(" Bo.Ng@Bücher.example ")
    'Bo.Ng@xn--bcher-kva.example'
    """
    try:
        found = validate_email(text.strip(), check_deliverability=False, test_environment=True)
    except EmailNotValidError as error:
        raise ValueError(str(error)) from error
    return f"{found.local_part}@{found.ascii_domain}"


def write_message(outbound: Outbound, sender: Sender, at: datetime) -> bytes:
    """Write a message, with lines as SMTP has them.

    Args:
        outbound: What is written to whom.
        sender: Who writes.
        at: When, with its zone.

    Raises:
        ValueError: An address is none.
    """
    made = EmailMessage(policy=SMTP)
    made["From"] = _address(sender.address, sender.name)
    made["To"] = _address(outbound.to)
    if sender.reply_to:
        made["Reply-To"] = _address(sender.reply_to)
    made["Subject"] = " ".join(outbound.subject.split())
    made["Date"] = format_datetime(at)
    made["Message-ID"] = f"<{outbound.message_id}>"
    made["Auto-Submitted"] = "auto-generated"
    text = outbound.text.rstrip() + "\n"
    made.set_content(text, charset="utf-8", cte="quoted-printable")
    made.add_alternative(_as_html(text), subtype="html", charset="utf-8", cte="quoted-printable")
    return made.as_bytes()


def _address(text: str, name: str = "") -> Address:
    local, _, host = read_address(text).rpartition("@")
    return Address(" ".join(name.split()), local, host)


def _as_html(text: str) -> str:
    """Write a text as HTML: paragraphs and links, and nothing that stands in it as a tag."""
    paragraphs = [part for part in re.split(r"\n{2,}", text.strip()) if part]
    shown = "".join(f"<p>{_linked(part)}</p>\n" for part in paragraphs)
    head = '<!doctype html>\n<html><head><meta charset="utf-8"></head><body>'
    return f"{head}\n{shown}</body></html>\n"


def _linked(text: str) -> str:
    parts, last = [], 0
    for found in LINK.finditer(text):
        address = html.escape(found[0].rstrip(".,;:)"))
        end = found.start() + len(found[0].rstrip(".,;:)"))
        parts += [html.escape(text[last : found.start()]), f'<a href="{address}">{address}</a>']
        last = end
    parts.append(html.escape(text[last:]))
    return "".join(parts).replace("\n", "<br>\n")
