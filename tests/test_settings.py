"""Settings from the environment."""

from __future__ import annotations

import os
import subprocess
import sys
from dataclasses import replace
from datetime import datetime
from pathlib import Path

import pytest

from nevefield.context import Context
from nevefield.settings import Settings, WrongSetting, with_file


def test_defaults_without_variables():
    """Without variables every setting has its default, and the front end is the one that is
    built here.
    """
    found = Settings.from_environment({})
    assert replace(found, front_end="") == Settings()
    assert found.front_end.endswith("frontend/dist")


@pytest.mark.parametrize(
    ("variable", "given", "name", "value"),
    [
        ("NEVEFIELD_DATABASE_URL", "mysql://a:b@h/n", "database_url", "mysql://a:b@h/n"),
        ("NEVEFIELD_MAX_UPLOAD_MB", "12", "max_upload_mb", 12),
        ("NEVEFIELD_SESSION_HOURS", "", "session_hours", 12),
        ("NEVEFIELD_SECURE_COOKIES", "yes", "secure_cookies", True),
        ("NEVEFIELD_SECURE_COOKIES", "0", "secure_cookies", False),
        ("NEVEFIELD_PRACTICE", "ON", "practice", True),
        ("NEVEFIELD_ATTEMPTS", "3", "attempts", 3),
        ("NEVEFIELD_LEASE_SECONDS", "7", "lease_seconds", 7),
    ],
)
def test_reads_variables(variable, given, name, value):
    """Each variable sets its own setting, and an empty one leaves the default."""
    assert getattr(Settings.from_environment({variable: given}), name) == value


@pytest.mark.parametrize(
    ("variable", "given", "wanted"),
    [
        ("NEVEFIELD_ATTEMPTS", "many", "a whole number from 1 to 1,000"),
        ("NEVEFIELD_ATTEMPTS", "0", "a whole number from 1 to 1,000"),
        ("NEVEFIELD_LEASE_SECONDS", "-3", "a whole number from 2 to 3,600"),
        ("NEVEFIELD_MAX_UPLOAD_MB", "12.5", "a whole number from 1 to 4,000"),
        ("NEVEFIELD_SESSION_HOURS", "٤", "a whole number from 1 to 720"),
        ("NEVEFIELD_PRACTICE", "ja", "one of 1, yes, true, on, 0, no, false, off"),
        ("NEVEFIELD_OUTBOX", "out", "a directory by its whole path, such as /srv/nevefield/out"),
        ("NEVEFIELD_ZONE", "Moon/Tycho", "a time zone by its name, such as Europe/Prague"),
    ],
)
def test_refuses_in_words(variable, given, wanted):
    """What cannot be is refused with the variable, what it says and what it may be."""
    with pytest.raises(WrongSetting) as error:
        Settings.from_environment({variable: given})
    assert str(error.value) == f"{variable} is “{given}”; it has to be {wanted}."


def test_a_wrong_setting_is_one_line():
    """Whoever starts the product with one reads a sentence and no trace."""
    program = Path(sys.executable).with_name("nevefield")
    wrong = os.environ | {"NEVEFIELD_ATTEMPTS": "many"}
    for command in (["serve"], ["worker"], ["account", "list"]):
        done = subprocess.run([program, *command], env=wrong, capture_output=True, text=True)
        assert (done.returncode, done.stdout) == (2, "")
        assert done.stderr == (
            "nevefield: NEVEFIELD_ATTEMPTS is “many”; it has to be a whole number from 1 to"
            " 1,000.\n"
        )


@pytest.mark.parametrize(
    ("zone", "day"),
    [("Europe/Prague", 1), ("UTC", 31), ("America/St_Johns", 31), ("Pacific/Kiritimati", 1)],
)
def test_today_is_the_institutions(zone, day):
    """What waits for its day is done by the institution's midnight, not by that of UTC."""
    settings = Settings.from_environment({"NEVEFIELD_ZONE": zone})
    context = Context(None, settings, now=lambda: datetime(2026, 8, 31, 22, 30))
    assert context.today().day == day


def test_secrets_are_not_shown():
    """What opens the database or the authority is in no text of the settings."""
    given = {"NEVEFIELD_REGISTRY_TOKEN": "hush", "NEVEFIELD_DATABASE_URL": "mysql://a:hush@h/n"}
    assert "hush" not in repr(Settings.from_environment(given))


def test_a_file_with_settings(tmp_path):
    """Settings stand in a file; the environment counts before it; what is none is refused with its
    line, and what may have been meant.
    """
    place = tmp_path / "nevefield.conf"
    place.write_text("# ours\n\nNEVEFIELD_ZONE = Europe/Prague\nNEVEFIELD_COPY_HOUR='5'\n")
    found = Settings.from_environment(
        {"NEVEFIELD_SETTINGS": str(place), "NEVEFIELD_COPY_HOUR": "4"}
    )
    assert (found.zone, found.copy_hour) == ("Europe/Prague", 4)
    for text, said in (
        ("NEVEFIELD_ZONE=Europe/Prague\nNEVEFIELD_ZOME=x\n", "Line 2 .*mean NEVEFIELD_ZONE"),
        ("just words\n", "Line 1 "),
        ("NEVEFIELD_COPY_HOUR=99\n", "NEVEFIELD_COPY_HOUR"),
        ("PATH=/x\n", "Line 1 "),
    ):
        place.write_text(text)
        with pytest.raises(WrongSetting, match=said):
            Settings.from_environment({"NEVEFIELD_SETTINGS": str(place)})
    with pytest.raises(WrongSetting, match="can be read"):
        Settings.from_environment({"NEVEFIELD_SETTINGS": str(tmp_path / "none.conf")})
    assert "NEVEFIELD_SETTINGS" not in with_file({"NEVEFIELD_SETTINGS": "", "A": "b"})
