"""Files for destinations in the folder of a server, from which others carry them on."""

from __future__ import annotations

import os
import stat
from dataclasses import replace

import pytest

from nevefield.core.errors import WrongDestination
from nevefield.destinations.errors import NotLaid
from nevefield.destinations.folders import lay
from nevefield.passing_on.keeping import begin_destination, keep_destination
from nevefield.passing_on.laying import lay_due
from nevefield.passing_on.looking import look_at
from nevefield.passing_on.sending import tell
from nevefield.store.passed_files import list_files
from nevefield.store.passing import forget_passed
from tests.passing.house import file_of, open_clinic
from tests.passing.ldif import read_ldif
from tests.passing.test_files import ENTRIES, LDIF
from tests.passing.test_scim import alter

JOB = 1


@pytest.fixture
def outbox(tmp_path):
    place = tmp_path / "for others"
    place.mkdir()
    return place


@pytest.fixture
def clinic(bare, outbox):
    open_clinic(bare)
    return replace(bare, settings=replace(bare.settings, outbox=str(outbox)))


def begin(context, form: str = "csv", puts=None, **way) -> None:
    begin_destination(context, file_of(form, puts, into_folder=True, **way), None)


def files(context):
    with context.database.transaction() as connection:
        return list_files(connection, look_at(context, "list").opened.row.id)


def test_each_takes_the_place_of_the_one_before(clinic, outbox):
    """Whoever looks finds one file, whole, for the account and its group alone; nothing else."""
    begin(clinic, file_name="people")
    tell(clinic, "list", JOB, None)
    assert not any(outbox.iterdir())
    assert lay_due(clinic) == 1
    place = outbox / "list" / "people.csv"
    first = place.read_bytes()
    assert "Παπαδοπούλου".encode() in first
    assert first.count(b"\r\n") == 8
    assert not stat.S_IMODE(place.stat().st_mode) & 0o027
    assert lay_due(clinic) == 0
    alter(clinic, "A-01", surname="Łącki")
    tell(clinic, "list", JOB, None)
    assert lay_due(clinic) == 1
    assert place.read_bytes() == first.replace("Ødegård".encode(), "Łącki".encode())
    assert [one.name for one in place.parent.iterdir()] == ["people.csv"]
    assert [(one.waits, one.laid_as) for one in files(clinic)] == [(False, "people.csv")] * 2


def test_changes_are_never_lost(clinic, outbox):
    """Whoever applies what lies there, in the order of the numbers, has what the roster says; also
    where laying was broken off, and where some were taken away meanwhile.
    """
    begin(clinic, "ldif", LDIF, **ENTRIES, only_changes=True, file_name="changes")
    held = {}
    place = outbox / "list"

    def apply(names):
        nonlocal held
        for name in names:
            held = read_ldif((place / name).read_bytes(), held)
            (place / name).unlink()

    tell(clinic, "list", JOB, None)
    lay_due(clinic)
    alter(clinic, "B-03", mail=None)
    tell(clinic, "list", JOB, None)
    lay_due(clinic)
    with clinic.database.transaction() as connection:  # as if nobody had been told that it was laid
        connection.run(
            "UPDATE passed_file SET waits = 1, laid_at = NULL, next_at = NULL"
            " ORDER BY id DESC LIMIT 1"
        )
    lay_due(clinic)
    lay_due(clinic)
    assert sorted(one.name for one in place.iterdir()) == ["changes 2.ldif", "changes.ldif"]
    apply(["changes.ldif", "changes 2.ldif"])
    alter(clinic, "C-06", surname="Nguyễn")
    tell(clinic, "list", JOB, None)
    alter(clinic, "C-06", surname="Nguyen", wards=[])
    tell(clinic, "list", JOB, None)
    assert lay_due(clinic) == 2
    apply(["changes.ldif", "changes 2.ldif"])
    whole = {**file_of("ldif", LDIF, **ENTRIES), "name": "whole"}
    begin_destination(clinic, {**whole, "way": {**whole["way"], "into_folder": True}}, None)
    tell(clinic, "whole", JOB, None)
    lay_due(clinic)
    (only,) = (outbox / "whole").iterdir()
    assert held == read_ldif(only.read_bytes(), {})
    assert held[f"uid=C-06,{ENTRIES['base']}"]["sn"] == ["Nguyen"]


def test_numbers_are_their_order(outbox):
    """What alters something, back, and again is three files though two are alike; where some were
    taken, who goes by the numbers still applies them in the order in which they were made.
    """

    def put(content: bytes) -> str:
        return lay(str(outbox), "list", "changes.csv", content, keeps=True)

    assert [put(one) for one in (b"to X", b"to Y", b"to X")] == [
        "changes.csv",
        "changes 2.csv",
        "changes 3.csv",
    ]
    assert put(b"to X") == "changes 3.csv"  # broken off before anybody was told
    (outbox / "list" / "changes.csv").unlink()
    assert put(b"to Z") == "changes 4.csv"
    for one in (outbox / "list").iterdir():
        one.unlink()
    assert put(b"to Z") == "changes.csv"


def test_what_cannot_be_laid_waits(clinic, outbox, clock):
    """It is said where and why, nothing is left behind, and the rest follows in its order as soon
    as that is mended; of files of everything the newest alone.
    """
    begin(clinic, "ldif", LDIF, **ENTRIES, only_changes=True, file_name="{day} {time}")
    outbox.rmdir()
    for surname in ("Łącki", "Ødegård", "Sør"):
        tell(clinic, "list", JOB, None)
        clock.move(minutes=1)
        alter(clinic, "A-01", surname=surname)
        assert lay_due(clinic) == 0
    newest, _, oldest = files(clinic)
    assert look_at(clinic, "list").opened.row.problem == oldest.trouble
    assert oldest.trouble == (
        f"It is not in the folder yet ({outbox}/list is not there). It is tried again by itself."
    )
    assert newest.waits
    assert not newest.trouble
    outbox.mkdir()
    (outbox / "list").write_text("a file")
    clock.move(minutes=6)
    assert lay_due(clinic) == 0
    assert "is no folder" in files(clinic)[-1].trouble
    (outbox / "list").unlink()
    assert lay_due(clinic) == 0  # not before its time
    clock.move(minutes=6)
    assert lay_due(clinic) == 3
    assert [(one.waits, one.trouble) for one in files(clinic)] == [(False, "")] * 3
    assert look_at(clinic, "list").opened.row.problem == ""
    times = [one.laid_at for one in files(clinic)]
    assert times == sorted(times, reverse=True)
    begin_destination(
        clinic, {**file_of("csv", into_folder=True, file_name="all"), "name": "all"}, None
    )
    outbox.rename(outbox.with_name("away"))
    for _ in range(12):
        tell(clinic, "all", JOB, None)
    outbox.with_name("away").rename(outbox)
    assert lay_due(clinic) == 1


def test_nothing_that_others_put_there_is_followed(clinic, outbox, tmp_path):
    """A link in the place of the folder or the file leads nowhere; a folder in the file's place
    stays.
    """
    away = tmp_path / "away"
    away.mkdir()
    secret = tmp_path / "secret"
    secret.write_text("mine")
    (outbox / "list").symlink_to(away)
    with pytest.raises(NotLaid, match="no folder"):
        lay(str(outbox), "list", "people.csv", b"1", keeps=False)
    (outbox / "list").unlink()
    (outbox / "list").mkdir()
    for keeps in (False, True):
        (outbox / "list" / "people.csv").symlink_to(secret)
        name = lay(str(outbox), "list", "people.csv", b"mine", keeps=keeps)
        assert not (outbox / "list" / name).is_symlink()
        (outbox / "list" / "people.csv").unlink()
    (outbox / "list" / "people.csv").mkdir()
    with pytest.raises(NotLaid, match="folder called"):
        lay(str(outbox), "list", "people.csv", b"1", keeps=False)
    os.mkfifo(outbox / "list" / "pipe.csv")
    assert lay(str(outbox), "list", "pipe.csv", b"1", keeps=True) == "pipe 2.csv"
    for name in ("..", "", "a/b", "x" * 300):
        with pytest.raises(NotLaid):
            lay(str(outbox), "list", name, b"1", keeps=False)
    assert not any(one.name.startswith(".") for one in (outbox / "list").iterdir())
    assert (secret.read_text(), list(away.iterdir())) == ("mine", [])


def test_who_was_erased_is_not_laid(clinic, outbox):
    """A file that waits and holds somebody who is erased never gets there."""
    begin(clinic)
    tell(clinic, "list", JOB, None)
    with clinic.database.transaction() as connection:
        forget_passed(connection, look_at(clinic, "list").shared[0].standings.popitem()[0])
    assert lay_due(clinic) == 0
    assert [(one.waits, one.has_content) for one in files(clinic)] == [(False, False)]


def test_where_it_is_not_wanted(clinic, outbox):
    """Without a folder it is refused with the remedy; the practice copy lays nothing; what waits
    when it is not wanted any more does not wait.
    """
    bare = replace(clinic, settings=replace(clinic.settings, outbox=""))
    with pytest.raises(WrongDestination, match="NEVEFIELD_OUTBOX"):
        begin(bare)
    begin(clinic)
    tell(clinic, "list", JOB, None)
    assert lay_due(replace(clinic, settings=replace(clinic.settings, practice=True))) == 0
    assert lay_due(bare) == 0
    assert "NEVEFIELD_OUTBOX" in files(clinic)[0].trouble
    keep_destination(clinic, "list", file_of("csv"), 1, None)
    assert lay_due(clinic) == 0
    assert not files(clinic)[0].waits
    assert not any(outbox.iterdir())
