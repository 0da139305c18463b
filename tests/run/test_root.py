"""Started as root it goes on as another account, with its own data only; where it cannot, it
says why.
"""

from __future__ import annotations

import os
import pwd
import tempfile
from pathlib import Path

import pytest

from nevefield.run import root
from nevefield.run.root import give_up_root

NOBODY = pwd.getpwnam("nobody")
needs_root = pytest.mark.skipif(os.getuid() != 0, reason="who is not root has nothing to give up")


@pytest.fixture
def open_folder():
    """A folder that every account may enter."""
    with tempfile.TemporaryDirectory() as made:
        place = Path(made)
        place.chmod(0o755)
        yield place


def in_child(work) -> int:
    """Do something in a process of its own; return the status with which it ends."""
    child = os.fork()
    if child == 0:
        try:
            os._exit(work())
        except BaseException:
            os._exit(99)
    return os.waitstatus_to_exitcode(os.waitpid(child, 0)[1])


@needs_root
def test_goes_on_as_another(open_folder, monkeypatch):
    """The data are the account's, and nothing else is; there is no way back."""
    monkeypatch.setattr(root.sys, "executable", "/bin/sh")
    data = open_folder / "data dir"
    (data / "data").mkdir(parents=True)
    (data / "password").write_text("x")
    (open_folder / "else").write_text("mine")
    (data / "data" / "link").symlink_to(open_folder / "else")

    def work() -> int:
        assert give_up_root(data, Path("/usr"), "nobody") == ""
        assert (os.getuid(), os.geteuid(), os.getgid()) == (
            NOBODY.pw_uid,
            NOBODY.pw_uid,
            NOBODY.pw_gid,
        )
        assert 0 not in os.getgroups()
        assert (data / "password").read_text() == "x"
        (data / "lock").write_text("")
        with pytest.raises(PermissionError):
            os.setuid(0)
        with pytest.raises(PermissionError):
            (open_folder / "else").write_text("yours")
        return 7

    assert in_child(work) == 7
    assert (open_folder / "else").stat().st_uid == 0


@needs_root
@pytest.mark.parametrize("why", ["no account", "cannot read", "something else's", "root itself"])
def test_says_why_it_cannot(open_folder, monkeypatch, why):
    """Then it stays root, says why and what to do, and nothing is given to anybody."""
    monkeypatch.setattr(root.sys, "executable", "/bin/sh")
    data, program, name = open_folder / "data", Path("/usr"), "nobody"
    if why == "no account":
        name = "nobody-of-that-name"
    elif why == "root itself":
        name = "root"
    elif why == "cannot read":
        program = open_folder / "closed"
        program.mkdir(mode=0o700)
    else:
        data.mkdir()
        (data / "letters.txt").write_text("mine")

    def work() -> int:
        said = give_up_root(data, program, name)
        assert said.startswith("Started as root")
        assert {"no account": "adduser", "something else's": "letters.txt"}.get(
            why, "may not read"
        ) in said
        return os.getuid()

    assert in_child(work) == 0
    assert not data.exists() or data.stat().st_uid == 0
