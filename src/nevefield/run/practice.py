"""The processes of the practice copy: started when one was made, again when it is renewed, and
stopped when it is thrown away.
"""

from __future__ import annotations

import time
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from nevefield.practising.ordering import made_at
from nevefield.store.errors import StoreError
from nevefield.timing import FOLDER

if TYPE_CHECKING:
    import subprocess
    from collections.abc import Callable, Mapping
    from datetime import datetime

    from nevefield.context import Context

__all__ = ["PracticeProcesses"]

LOOK_SECONDS = 2.0
# What the practice copy has no business with: the real database, copies, keys.
KEPT_BACK = (
    "NEVEFIELD_OWNER_URL",
    "NEVEFIELD_PRACTICE_URL",
    "NEVEFIELD_COPY_KEY",
    "NEVEFIELD_STEP_KEY",
    FOLDER,  # its times are not those of the real one
)


@dataclass
class PracticeProcesses:
    """What runs of the practice copy.

    Args:
        context: The real database, with the address of the practice copy's.
        commands: What is run.
        environment: In which the real one's processes run.
        start: Starts a process.
        stop: Stops some.
    """

    context: Context
    commands: list[list[str]]
    environment: Mapping[str, str]
    start: Callable[[list[str], dict[str, str]], subprocess.Popen[bytes]]
    stop: Callable[[list[subprocess.Popen[bytes]]], None]
    running: list[subprocess.Popen[bytes]] = field(default_factory=list)
    _of: datetime | None = None  # when the one that runs was made
    _looked: float = -LOOK_SECONDS

    def look(self) -> None:
        """Start, stop, and start again as the practice copy is made, thrown away or renewed."""
        if time.monotonic() - self._looked < LOOK_SECONDS:
            return
        self._looked = time.monotonic()
        try:
            there = made_at(self.context)
        except StoreError:  # the database is away for a moment: what runs goes on
            return
        if there != self._of:
            # what its processes remember is of the one before
            self.end()
        if there is not None:
            self._keep_running()
        self._of = there

    def _keep_running(self) -> None:
        if not self.running:
            self.running = [self.start(one, self._own()) for one in self.commands]
            return
        for place, child in enumerate(self.running):
            if child.poll() is not None:
                self.running[place] = self.start(self.commands[place], self._own())

    def _own(self) -> dict[str, str]:
        kept = {name: text for name, text in self.environment.items() if name not in KEPT_BACK}
        url = self.context.settings.practice_url
        return kept | {"NEVEFIELD_DATABASE_URL": url, "NEVEFIELD_PRACTICE": "1"}

    def end(self) -> None:
        """Stop what runs."""
        self.stop(self.running)
        self.running = []
