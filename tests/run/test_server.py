"""The private server's own directory: nobody else's, and never emptied when it is not ours."""

from __future__ import annotations

import stat

import pytest

from nevefield.run.server import PrivateServer, ServerFailed


def test_what_is_not_ours_is_not_touched(tmp_path):
    """A folder of somebody's that happens to stand where the data would be: refused, and every file is there."""
    home = tmp_path / "home"
    (home / "data" / "letters").mkdir(parents=True)
    (home / "data" / "letters" / "dear.txt").write_text("mine")
    server = PrivateServer(home, durable=False)
    with pytest.raises(ServerFailed, match="nothing of it was touched"):
        server.start()
    server.stop()
    assert (home / "data" / "letters" / "dear.txt").read_text() == "mine"


def test_what_was_not_finished_is_made_anew(tmp_path):
    """A first start that was broken off leaves a part of a database: the next one begins again, where nobody else may look."""
    home = tmp_path / "home"
    PrivateServer(home)._clear(home / "data")
    (home / "data").mkdir()
    (home / "data" / "ibdata1").write_bytes(b"half")
    server = PrivateServer(home, durable=False)
    try:
        assert server.start().startswith("mysql://nevefield:")
        assert stat.S_IMODE(home.stat().st_mode) == 0o700
        assert not (home / "begun").exists()
    finally:
        server.stop()
