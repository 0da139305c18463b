"""Columns of secrets: known by their heading, or by what their values look like. Their values
are never taken.
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.texts import key_of, trim

if TYPE_CHECKING:
    from nevefield.core.table import Column, Table

__all__ = ["find_secrets"]

LEAST = 8  # values, before their looks are trusted
SAMPLE = 200
_NAMED = re.compile(
    r"pass(word|wd|code|phrase|wort)?|pwd\d?|.*(password|passwd|passwort|passcode|passphrase).*"
    r"|(.*[^a-z])?pin( ?(code|number|no))?"
    r"|.*(secret|credential|api ?key|auth ?token).*|kennwort|mot de passe|contrasena"
)
# What passwords become in a system's own tables: bcrypt, Argon2, crypt(3), LDAP's schemes, plain
# digests in hexadecimal.
_HASHED = re.compile(
    r"\$(2[aby]|argon2\w*|1|5|6|y)\$.{8,}|\{(S?SHA|S?MD5|CRYPT|SSHA\d+)\}.{8,}|[0-9a-f]{40}|[0-9a-f]{64}|[0-9a-f]{128}",
    re.IGNORECASE,
)
_CLASSES = (
    re.compile("[a-z]"),
    re.compile("[A-Z]"),
    re.compile("[0-9]"),
    re.compile(r"[!?%+$&*#^~=<>|]"),
)


def find_secrets(table: Table, known: frozenset[str]) -> list[int]:
    """Find the columns of secrets.

    Args:
        table: The file's texts.
        known: Headings of the roster's own fields, as `key_of` has them; their values' looks are
            not judged.

    Returns:
        The places of the columns.
    """
    return [
        place
        for place, (heading, column) in enumerate(zip(table.headings, table.columns, strict=True))
        if _NAMED.fullmatch(_words(heading))
        or (key_of(heading) not in known and _looks_secret(column))
    ]


def _looks_secret(column: Column) -> bool:
    """Tell whether nearly all values are digests, or mixed as people and machines mix passwords."""
    distinct = [trim(text) for text in column.values[: SAMPLE * 2].to_pylist()]
    values = [text for text in distinct if text][:SAMPLE]
    if len(values) < LEAST or len(column.values) < 0.7 * int((column.codes >= 0).sum()):
        return False
    if np.mean([_HASHED.fullmatch(text) is not None for text in values]) >= 0.9:
        return True
    mixed = [
        6 <= len(text) <= 64 and not re.search(r"[\s@,;]", text) and _classes(text) >= 3
        for text in values
    ]
    special = [_CLASSES[3].search(text) is not None for text in values]
    return bool(np.mean(mixed) >= 0.8 and np.mean(special) >= 0.5)


def _classes(text: str) -> int:
    return sum(one.search(text) is not None for one in _CLASSES)


def _words(heading: str) -> str:
    """Lower-case words with single spaces, so that "Portal-PIN" and "portal_pin" are one."""
    spaced = re.sub(r"(?<=[a-z])(?=[A-Z])", " ", heading)
    return " ".join(key_of(word) for word in re.split(r"[\W_]+", spaced) if word)
