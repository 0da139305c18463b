"""Records that go into a file."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.passing.standing import Act

if TYPE_CHECKING:
    from nevefield.core.passing.destination import Share
    from nevefield.core.passing.outgoing import Content

__all__ = ["Entry"]


@dataclass(frozen=True)
class Entry:
    """A record that goes into a file."""

    record: int
    share: Share
    after: Content | None  # None: it leaves
    before: Content | None = None
    act: Act = Act.NONE
