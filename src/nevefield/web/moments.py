"""Moments as the API gives them: the database keeps them in UTC without a zone, outside each
carries it (RFC 3339).
"""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from pydantic import PlainSerializer, WithJsonSchema

__all__ = ["Moment"]


def _write(at: datetime) -> str:
    return at.replace(tzinfo=UTC).isoformat().replace("+00:00", "Z")


# A moment in UTC; when it is written, with its zone.
Moment = Annotated[
    datetime,
    PlainSerializer(_write, return_type=str, when_used="json"),
    WithJsonSchema({"type": "string", "format": "date-time"}),
]
