"""Give up root: what answers strangers and reads their files has no business with the whole
machine.
"""

from __future__ import annotations

import os
import pwd
import sys
from pathlib import Path

__all__ = ["OURS", "give_up_root"]

ACCOUNT = "nevefield"
# What stands in a data directory of ours; whatever else is there is somebody's.
OURS = frozenset(
    {
        "begin.sql",
        "begun",
        "brought-back",
        "copies",
        "data",
        "demo",
        "lock",
        "mails",
        "mariadb.log",
        "mariadb.pid",
        "mariadb.sock",
        "outbox",
        "owner-password",
        "password",
        "practice-password",
        "data-old",
        "registry",
        "directory",
        "gates",
        "renewed",
        "renewing",
        "step-key",
        "times",
        "tmp",
    }
)


def give_up_root(data: Path, program: Path, wanted: str = "") -> str:
    """Go on as another account, with the data directory as its own, when this was started as root.

    Args:
        data: The data directory; it is made when it is missing.
        program: Where the product itself is, which the account must be able to read.
        wanted: The account's name; "" for `nevefield`, if there is one.

    Returns:
        A warning why it goes on as root; "" when it does not.
    """
    if os.getuid() != 0:
        return ""
    name = wanted or ACCOUNT
    try:
        account = pwd.getpwnam(name)
    except KeyError:
        return (
            f"Started as root, and there is no account “{name}”: whatever goes wrong in it could do"
            f" anything on this machine. Make one (adduser --system --group {name}), or start it as"
            " another account."
        )
    strangers = (
        [path.name for path in data.iterdir() if path.name not in OURS] if data.is_dir() else []
    )
    if strangers:
        return (
            f"Started as root, and stays so: {data} holds what is not Nevefield's ({strangers[0]});"
            f" {name} did not get it."
        )
    if account.pw_uid == 0 or not _may_read(account, (Path(sys.executable), program)):
        return (
            f"Started as root, and stays so: {name} may not read {program} or {sys.executable}."
            " Install it where it may."
        )
    data.mkdir(mode=0o700, parents=True, exist_ok=True)
    for place in (data, *data.rglob("*")):
        os.lchown(place, account.pw_uid, account.pw_gid)
    _become(account)
    os.environ |= {"HOME": account.pw_dir, "USER": name, "LOGNAME": name}
    return ""


def _become(account: pwd.struct_passwd) -> None:
    os.initgroups(account.pw_name, account.pw_gid)
    os.setgid(account.pw_gid)
    os.setuid(account.pw_uid)


def _may_read(account: pwd.struct_passwd, places: tuple[Path, ...]) -> bool:
    """Try, as the account, in a process that ends with it."""
    child = os.fork()
    if child == 0:
        try:
            _become(account)
            os._exit(0 if all(os.access(place, os.R_OK) for place in places) else 1)
        except OSError:
            os._exit(1)
    return os.waitstatus_to_exitcode(os.waitpid(child, 0)[1]) == 0
