"""Two data directories change places: wherever that is broken off, one whole one is there."""

from __future__ import annotations

import shutil
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from pathlib import Path

__all__ = ["BESIDE", "OLD", "WHOLE", "recover"]

BESIDE, OLD, WHOLE = "renewing", "data-old", "complete"


def recover(home: Path) -> None:
    """Bring what was broken off to its end, or back to its beginning; before a server starts."""
    beside, old, data = home / BESIDE, home / OLD, home / "data"
    if old.exists() and not data.exists():
        whole = (beside / WHOLE).exists() and (beside / "data").exists()
        (beside / "data" if whole else old).rename(data)
    # what is left beside a whole directory is of no use any more
    shutil.rmtree(old, ignore_errors=True)
    shutil.rmtree(beside, ignore_errors=True)
    shutil.rmtree(home / "tmp", ignore_errors=True)
