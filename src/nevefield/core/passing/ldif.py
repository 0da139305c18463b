"""Entries and their changes in the LDAP Data Interchange Format.

Sources: RFC 2849 (the format), RFC 4514 (distinguished names).
"""

from __future__ import annotations

import base64
import re
from typing import TYPE_CHECKING

from nevefield.core.passing.standing import Act, find_moved

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

    from nevefield.core.passing.destination import FileWay, Share
    from nevefield.core.passing.entries import Entry
    from nevefield.core.passing.outgoing import Content

__all__ = ["write_ldif"]

FOLD_AT = 76  # columns
# what may stand as it is (RFC 2849, SAFE-STRING)
_SAFE = re.compile(
    r"[\x01-\x09\x0b\x0c\x0e-\x1f\x21-\x39\x3b\x3d-\x7f][\x01-\x09\x0b\x0c\x0e-\x7f]*"
)
_SPECIAL = re.compile(r'([,+"\\<>;=])')


def write_ldif(way: FileWay, entries: Sequence[Entry]) -> str:
    """Write entries, or with `only_changes` what becomes of them (RFC 2849, change records); the
    first field of the layout names an entry.
    """
    parts = ["version: 1\n"]
    for entry in entries:
        if way.only_changes:
            parts.append("".join(f"\n{record}" for record in _change_records(way, entry)))
        elif entry.after is not None:
            parts.append("\n" + _add_record(way, entry.share, entry.after, ""))
    return "".join(parts)


def _change_records(way: FileWay, entry: Entry) -> Iterator[str]:
    share, before, after = entry.share, entry.before, entry.after
    if entry.act == Act.JOIN and after is not None:
        yield _add_record(way, share, after, "add")
    elif entry.act == Act.END and before is not None:
        yield _line("dn", _dn(way, share, before)) + "changetype: delete\n"
    elif entry.act == Act.CHANGE and before is not None and after is not None:
        old, new = _dn(way, share, before), _dn(way, share, after)
        if old != new:
            yield (
                _line("dn", old)
                + "changetype: modrdn\n"
                + _line("newrdn", _rdn(share, after))
                + "deleteoldrdn: 1\n"
            )
        name = share.puts[0].to
        lines = []
        for moved in find_moved(before, after):
            if moved.what in ("", name):
                continue
            verb = "replace" if moved.after else "delete"
            lines.append(f"{verb}: {moved.what}\n")
            lines += [_line(moved.what, value) for value in moved.after]
            lines.append("-\n")
        if lines:
            yield _line("dn", new) + "changetype: modify\n" + "".join(lines)


def _add_record(way: FileWay, share: Share, content: Content, change: str) -> str:
    lines = [_line("dn", _dn(way, share, content))]
    if change:
        lines.append(f"changetype: {change}\n")
    lines += [_line("objectClass", name) for name in way.classes]
    for put in share.puts:
        lines += [_line(put.to, value) for value in content.values(put.to)]
    return "".join(lines)


def _rdn(share: Share, content: Content) -> str:
    name = share.puts[0].to
    return f"{name}={_escape_dn((content.values(name) or ['?'])[0])}"


def _dn(way: FileWay, share: Share, content: Content) -> str:
    return f"{_rdn(share, content)},{way.base}"


def _escape_dn(text: str) -> str:
    """Escape a value of a distinguished name (RFC 4514, 2.4)."""
    escaped = _SPECIAL.sub(r"\\\1", text).replace("\x00", "\\00")
    if escaped[:1] in (" ", "#"):
        escaped = "\\" + escaped
    if escaped.endswith(" ") and not escaped.endswith("\\ "):
        escaped = escaped[:-1] + "\\ "
    return escaped


def _line(name: str, value: str) -> str:
    if _SAFE.fullmatch(value) and not value.endswith(" "):
        whole = f"{name}: {value}"
    else:
        whole = f"{name}:: {base64.b64encode(value.encode()).decode()}"
    first, rest = whole[:FOLD_AT], whole[FOLD_AT:]
    folded = [first]
    while rest:
        folded.append(" " + rest[: FOLD_AT - 1])
        rest = rest[FOLD_AT - 1 :]
    return "\n".join(folded) + "\n"
