"""Settings from the environment."""

from __future__ import annotations

from dataclasses import replace

import pytest

from nevefield.settings import Settings


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
