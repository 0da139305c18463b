"""A question of an outside system and its answer, whatever carries them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from collections.abc import Mapping

__all__ = ["MEDIA", "Answer", "Question"]

MEDIA = "application/scim+json"


@dataclass(frozen=True)
class Question:
    """What they ask, whatever brought it here."""

    method: str
    base: str  # the address below which everything is, as they see it
    path: str
    query: Mapping[str, str]
    headers: Mapping[str, str]
    body: bytes


@dataclass(frozen=True)
class Answer:
    """What they are answered."""

    status: int
    body: bytes
    headers: Mapping[str, str]
