"""Write the documents that are made from the code: `.venv/bin/python scripts/documents.py`."""

from __future__ import annotations

from pathlib import Path

from nevefield.core.checking.documents import write_documents

DOCS = Path(__file__).parents[1] / "docs"


def main() -> None:
    """Write them."""
    (DOCS / "checks.md").write_text(write_documents())


if __name__ == "__main__":
    main()
