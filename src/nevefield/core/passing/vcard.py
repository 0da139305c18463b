"""A record as a card of an address book: vCard 4.0 (RFC 6350)."""

from __future__ import annotations

from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from nevefield.core.passing.entries import Entry

__all__ = ["as_card"]

FOLD_AT = 75  # octets
# the parts of a structured name (RFC 6350, 6.2.2), in their order
NAME_PARTS = ("family", "given", "additional", "prefix", "suffix")
ADDRESS_PARTS = ("box", "extended", "street", "locality", "region", "code", "country")


def as_card(entry: Entry) -> str:
    """Write a record as a card: fields are its properties, `N.family` and the like the parts of a
    name or an address, groups its categories.
    """
    content = entry.after
    if content is None:
        return ""
    lines = ["BEGIN:VCARD", "VERSION:4.0"]
    parts: dict[str, dict[str, str]] = {"N": {}, "ADR": {}}
    for put in entry.share.puts:
        name, _, part = put.to.partition(".")
        if part and name in parts:
            parts[name][part] = ",".join(map(_escape_card, content.values(put.to)))
            continue
        lines += [f"{put.to}:{_escape_card(value)}" for value in content.values(put.to)]
    for name, order in (("N", NAME_PARTS), ("ADR", ADDRESS_PARTS)):
        if any(parts[name].values()):
            lines.append(f"{name}:" + ";".join(parts[name].get(part, "") for part in order))
    if content.groups:
        lines.append("CATEGORIES:" + ",".join(map(_escape_card, content.groups)))
    lines.append("END:VCARD")
    return "".join(_fold_card(line) for line in lines)


def _escape_card(text: str) -> str:
    """Escape a value (RFC 6350, 3.4)."""
    for plain, escaped in (("\\", "\\\\"), (",", "\\,"), (";", "\\;"), ("\n", "\\n")):
        text = text.replace(plain, escaped)
    return text.replace("\r", "")


def _fold_card(line: str) -> str:
    """Fold a line at 75 octets, never within a letter (RFC 6350, 3.2)."""
    parts, room = [""], FOLD_AT
    for letter in line:
        octets = len(letter.encode())
        if octets > room:
            parts.append(" ")
            room = FOLD_AT - 1
        parts[-1] += letter
        room -= octets
    return "\r\n".join(parts) + "\r\n"
