"""Each line of the trail is sealed with a digest of it and of the digest before: whoever alters,
removes, reorders or adds a line would have to write all later digests anew, and then the last one
is another than people noted.

Source: S. Haber, W. S. Stornetta, "How to Time-Stamp a Digital Document", CRYPTO '90.
"""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping

__all__ = ["BEGIN", "CUT", "Broken", "Line", "Seal", "check_chain", "digest_of"]

CUT = "trail-cut"  # the act by which the trail says that its beginning was deleted by its time
BEGIN = bytes(32)  # before the first line
# before the last sealing, that a line may be of and yet not have been there: of long transactions
LATE = timedelta(hours=1)


@dataclass(frozen=True)
class Line:
    """One line of the trail, as it is kept."""

    id: int
    at: datetime
    account_id: int | None
    act: str
    subject: str
    detail: str  # JSON, as it is kept
    address: str


@dataclass(frozen=True)
class Seal:
    """The digest of a line, in the order of sealing."""

    number: int
    audit_id: int
    at: datetime  # when it was sealed; the same of all that were sealed together
    digest: bytes


@dataclass(frozen=True)
class Broken:
    """A place at which the trail is not what it was.

    Args:
        kind: `altered`, `removed`, `added` or `cut` (seals are missing).
        audit_id: The line's number.
        said: In words.
    """

    kind: str
    audit_id: int
    said: str


def _begin(lines: Mapping[int, Line], sealed: set[int]) -> tuple[int, bytes]:
    """Find where the trail begins: behind the last seal that it says itself was deleted by its
    time, in a line that is sealed as every other.
    """
    through, digest = 0, BEGIN
    for line in lines.values():
        if line.act != CUT or line.id not in sealed:
            continue
        try:
            said = json.loads(line.detail)
            if said["through"] > through:
                through, digest = int(said["through"]), bytes.fromhex(said["digest"])
        except (ValueError, KeyError, TypeError):
            continue  # no line of ours: what it would hide is found missing
    return through, digest


def digest_of(before: bytes, line: Line, at: datetime) -> bytes:
    """Seal a line.

    Args:
        before: The digest before, 32 bytes; `BEGIN` for the first line.
        line: Which.
        at: When it is sealed.

    Returns:
        SHA-256 of all, 32 bytes.
    """
    parts = [
        at.isoformat(timespec="microseconds"),
        line.id,
        line.at.isoformat(timespec="microseconds"),
        line.account_id,
        line.act,
        line.subject,
        line.detail,
        line.address,
    ]
    return hashlib.sha256(before + json.dumps(parts, ensure_ascii=False).encode()).digest()


def check_chain(
    seals: Iterable[Seal], lines: Mapping[int, Line], *, unsealed_since: datetime | None = None
) -> list[Broken]:
    """Find where the trail is not what it was.

    Args:
        seals: All, in the order of their numbers.
        lines: All lines, by number.
        unsealed_since: Lines without a seal that are older were put in past the product; None to
            let them be.

    Returns:
        The places, in the order of the chain.
    """
    found: list[Broken] = []
    seals = list(seals)
    number, before = _begin(lines, {seal.audit_id for seal in seals})
    # when lines were sealed before those that are looked at; none of the first
    earlier: datetime | None = None
    sealing: datetime | None = None
    sealed: set[int] = set()
    for seal in seals:
        number += 1
        sealed.add(seal.audit_id)
        if seal.at != sealing:
            earlier, sealing = sealing, seal.at
        if seal.number != number:
            gone = seal.number - number
            found.append(
                Broken(
                    "cut",
                    seal.audit_id,
                    f"{gone:,} line{'s' * (gone != 1)} before line {seal.audit_id} were removed"
                    " with their seals.",
                )
            )
            number = seal.number
        line = lines.get(seal.audit_id)
        if line is None:
            found.append(Broken("removed", seal.audit_id, f"Line {seal.audit_id} was removed."))
        elif digest_of(before, line, seal.at) != seal.digest:
            # after a gap the digest before is not known: that was told already
            if not (found and found[-1].kind == "cut" and found[-1].audit_id == seal.audit_id):
                said = f"Line {seal.audit_id} was altered, or is not in its place."
                found.append(Broken("altered", seal.audit_id, said))
        elif earlier is not None and line.at < earlier - LATE:
            said = (
                f"Line {seal.audit_id} says a time at which it was not there yet: it was added"
                " later."
            )
            found.append(Broken("added", seal.audit_id, said))
        before = seal.digest
    if unsealed_since is not None:
        for line in lines.values():
            if line.id not in sealed and line.at < unsealed_since:
                said = f"Line {line.id} has no seal: it was added past the product."
                found.append(Broken("added", line.id, said))
    return found
