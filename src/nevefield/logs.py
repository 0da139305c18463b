"""The log of a process: as text for people, or one JSON object a line for machines.

Nothing personal stands in it: of a request its number, method, the shape of its address, status and
time; no name, no value, no address of whoever asks.

Source: structlog, "JSONRenderer" and "Context Variables".
"""

from __future__ import annotations

import structlog

__all__ = ["JSON", "configure"]

JSON = "json"


def configure(kind: str) -> None:
    """Let this process log as a setting says: `json`, or "" for text."""
    if kind != JSON:
        return
    structlog.configure(
        processors=[
            structlog.contextvars.merge_contextvars,
            structlog.processors.add_log_level,
            structlog.processors.TimeStamper(fmt="iso", utc=True),
            structlog.processors.format_exc_info,
            structlog.processors.JSONRenderer(ensure_ascii=False),
        ]
    )
