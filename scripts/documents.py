"""Write the documents that are made from the code: `.venv/bin/python scripts/documents.py`."""

from __future__ import annotations

import re
from pathlib import Path

from nevefield.core.checking.documents import write_documents
from nevefield.core.stages import draw_stages

ROOT = Path(__file__).parents[1]
STAGES = re.compile(r"(<!-- stages -->\n).*?(<!-- /stages -->\n)", re.DOTALL)


def main() -> None:
    """Write them."""
    (ROOT / "docs" / "checks.md").write_text(write_documents())
    page = ROOT / "ARCHITECTURE.md"
    page.write_text(STAGES.sub(lambda block: block[1] + draw_stages() + block[2], page.read_text()))


if __name__ == "__main__":
    main()
