"""LDIF loads into a directory server that we did not write, and comes back as it is; so do
changes.
"""

from __future__ import annotations

import re
import socket
import subprocess
import time
from pathlib import Path

import pytest

from nevefield.passing_on.filing import give_file
from nevefield.passing_on.keeping import begin_destination
from nevefield.passing_on.looking import look_at
from nevefield.passing_on.sending import tell
from tests.passing.house import PEOPLE, WORKING, file_of, open_clinic
from tests.passing.ldif import read_ldif
from tests.passing.test_files import ENTRIES, LDIF, alter

PLACE = Path(__file__).parents[2] / ".venv/slapd"
LIBRARIES = ":".join(
    sorted({str(one.parent) for one in PLACE.glob("usr/lib/**/lib*.so*")})  # its own
)
TOP = "dc=clinic,dc=example"
BASE = f"""version: 1

dn: {TOP}
objectClass: dcObject
objectClass: organization
dc: clinic
o: Clinic

dn: {ENTRIES["base"]}
objectClass: organizationalUnit
ou: people
"""


class Directory:
    """A directory server, as its own programs see it."""

    def __init__(self, place: Path, port: int) -> None:
        schemas = "".join(
            f"include {PLACE}/etc/ldap/schema/{name}.schema\n"
            for name in ("core", "cosine", "inetorgperson")
        )
        (place / "data").mkdir()
        (place / "slapd.conf").write_text(
            f"{schemas}modulepath {PLACE}/usr/lib/ldap\nmoduleload back_mdb\n"
            f"pidfile {place}/pid\ndatabase mdb\nsuffix {TOP}\ndirectory {place}/data\n"
            f"rootdn cn=admin,{TOP}\nrootpw of-the-clinic\nmaxsize 104857600\n"
        )
        self.address = f"ldap://127.0.0.1:{port}"
        self.process = subprocess.Popen(
            [
                *(PLACE / "usr/sbin/slapd", "-f", place / "slapd.conf"),
                *("-h", self.address, "-d", "0"),
            ],
            env={"LD_LIBRARY_PATH": LIBRARIES},
        )
        for _ in range(100):
            with socket.socket() as line:
                if line.connect_ex(("127.0.0.1", port)) == 0:
                    return
            time.sleep(0.1)
        raise TimeoutError

    def run(self, name: str, *options: str, data: bytes = b"") -> bytes:
        """Run one of its programs; what it finds wrong is an error."""
        who = ("-x", "-H", self.address, "-D", f"cn=admin,{TOP}", "-w", "of-the-clinic")
        done = subprocess.run(
            [PLACE / "usr/bin" / name, *who, *options], input=data, capture_output=True, check=False
        )
        assert done.returncode == 0, done.stderr.decode()
        return done.stdout

    def entries(self) -> dict[str, dict[str, list[str]]]:
        """What it holds of people, read back by its own program."""
        found = self.run(
            "ldapsearch", "-LLL", "-o", "ldif-wrap=76", "-b", ENTRIES["base"], "-s", "one"
        )
        read = read_ldif(b"version: 1\n\n" + found, {})
        return _plain(read)


def _plain(entries: dict[str, dict[str, list[str]]]) -> dict[str, dict[str, list[str]]]:
    """Entries by names without escapes, which may be written in two ways (RFC 4514, 2.4)."""
    return {
        re.sub(
            r"\\([0-9A-Fa-f]{2}|.)",
            lambda found: chr(int(found[1], 16)) if len(found[1]) == 2 else found[1],
            dn,
        ): _sorted(entry)
        for dn, entry in entries.items()
    }


def _sorted(entry: dict[str, list[str]]) -> dict[str, list[str]]:
    return {name: sorted(values) for name, values in entry.items()}


@pytest.fixture
def directory(tmp_path):
    with socket.socket() as found:
        found.bind(("127.0.0.1", 0))
        port = found.getsockname()[1]
    made = Directory(tmp_path, port)
    made.run("ldapadd", data=BASE.encode())
    yield made
    made.process.kill()
    made.process.wait()


def file(context, name: str) -> bytes:
    answer = tell(context, name, 1, None, ends=99)
    return give_file(context, look_at(context, name).opened.row.id, answer["file"])[1]


def test_loaded_and_changed(bare, directory):
    """Everybody, in four scripts, with commas and quotes in their names; then those who changed,
    moved to another number, left.
    """
    open_clinic(bare)
    for name, more in (("whole", {}), ("changes", {"only_changes": True})):
        document = file_of("ldif", LDIF, **ENTRIES, **more) | {"name": name}
        document["shares"][0]["where"] = WORKING
        begin_destination(bare, document, None)
    whole = file(bare, "whole")
    directory.run("ldapadd", data=whole)
    first = directory.entries()
    assert first == _plain(read_ldif(whole, {}))
    names = {entry["uid"][0]: entry["sn"][0] for entry in first.values()}
    assert names == {one[0]: one[1] for one in PEOPLE if one[0] != "D-07"}
    file(bare, "changes")  # from here on

    alter(bare, "A-01", surname=" Ødegård-Łącki: #1 ", mail=None, wards=["E"])
    alter(bare, "B-03", badge="B, #3+")
    alter(bare, "C-06", until="2026-08-30")
    directory.run("ldapmodify", data=file(bare, "changes"))
    wanted = _plain(read_ldif(file(bare, "whole"), {}))
    assert directory.entries() == wanted
    assert len(wanted) == len(first) - 1
