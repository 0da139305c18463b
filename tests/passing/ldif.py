"""A reader of LDIF for tests, written from RFC 2849 alone: entries, or changes done to entries."""

from __future__ import annotations

import base64
import re

__all__ = ["read_ldif"]

Entries = dict[str, dict[str, list[str]]]


def read_ldif(data: bytes, before: Entries) -> Entries:
    """Read entries; of change records, do them to those before."""
    entries = {dn: {name: list(one) for name, one in entry.items()} for dn, entry in before.items()}
    assert all(len(line) <= 76 for line in data.split(b"\n"))
    text = re.sub(r"\r?\n ", "", data.decode("ascii"))
    first, *blocks = re.split(r"\n{2,}", text.strip())
    assert first == "version: 1"
    for block in blocks:
        lines = [_line(line) for line in block.split("\n")]
        (dn_name, dn), *rest = lines
        assert dn_name == "dn"
        kind = "entry"
        if rest and rest[0][0] == "changetype":
            kind = rest.pop(0)[1]
        if kind in ("entry", "add"):
            assert dn not in entries
            entries[dn] = {}
            for name, value in rest:
                entries[dn].setdefault(name, []).append(value)
        elif kind == "delete":
            del entries[dn]
        elif kind == "modrdn":
            (_, new), (_, goes) = rest
            entry = entries.pop(dn)
            old_name, _, old_value = _unescape(dn.split(",ou=")[0]).partition("=")
            if goes == "1":
                entry[old_name].remove(old_value)
            new_name, _, new_value = _unescape(new).partition("=")
            entry[new_name].append(new_value)
            entries[new + dn[dn.index(",ou=") :]] = entry
        else:
            _modify(entries[dn], rest)
    return entries


def _modify(entry: dict[str, list[str]], lines: list[tuple[str, str]]) -> None:
    while lines:
        verb, name = lines.pop(0)
        values = []
        while lines[0] != ("-", ""):
            assert lines[0][0] == name
            values.append(lines.pop(0)[1])
        lines.pop(0)
        assert verb in ("replace", "delete")
        entry.pop(name, None)
        if values:
            entry[name] = values


def _line(line: str) -> tuple[str, str]:
    if line == "-":
        return "-", ""
    name, sign, value = line.partition(":")
    assert sign
    if value.startswith(":"):
        return name, base64.b64decode(value[1:].strip()).decode()
    return name, value.removeprefix(" ")


def _unescape(text: str) -> str:
    return re.sub(r"\\(.)", r"\1", text)
