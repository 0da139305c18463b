"""Where copies lie, for tests that bring one back."""

from __future__ import annotations

import pytest

from nevefield.copies.making import Place
from nevefield.store.connection import Database


@pytest.fixture
def place(database_url, tmp_path, server):
    """A place for copies; what is kept beside after one was brought back goes afterwards."""
    yield Place(database_url, database_url, tmp_path / "copies")
    maker = Database(server)
    with maker.transaction() as connection:
        for (name,) in connection.rows("SHOW DATABASES"):
            if name.startswith("nevefield_before"):
                connection.run(f"DROP DATABASE `{name}`")
    maker.close()
