"""A worker that is killed at a stage: `python dying.py DATABASE REGISTRY TOKEN NOW ROUND STAGE
WHEN`, as kill -9 would.
"""

from __future__ import annotations

import os
import signal
import sys
import time
from datetime import datetime
from typing import Any

from nevefield.authority.client import Authority
from nevefield.context import Context
from nevefield.settings import Settings
from nevefield.store import submissions as store
from nevefield.store.connection import Database
from nevefield.submissions import sending

PLACES: dict[str, Any] = {
    "send": Authority,
    "answer": Authority,
    "insert_lines": store,
    "_take_answer_in": sending,
    "keep_rows": sending,
    "apply_intake": sending,
}


def die(*_: Any) -> None:
    """Be gone at once."""
    os.kill(os.getpid(), signal.SIGKILL)


def main() -> None:
    """Bring the round on until the stage comes."""
    url, registry, token, now, number, stage, when = sys.argv[1:]
    real = getattr(PLACES[stage], stage)

    def instead(*given: Any, **more: Any) -> Any:
        if when == "before":
            die()
        real(*given, **more)
        die()

    setattr(PLACES[stage], stage, instead)
    settings = Settings(database_url=url, registry_url=registry, registry_token=token)
    context = Context(Database(url), settings, lambda: datetime.fromisoformat(now))
    while sending.advance(context, int(number)) != "done":
        time.sleep(0.05)


if __name__ == "__main__":
    main()
