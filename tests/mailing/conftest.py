"""The clinic, whose mails go to the stand-in."""

from __future__ import annotations

import dataclasses
from contextlib import suppress

import pytest
from cryptography.fernet import Fernet
from stand_ins.mail.catching import Catcher, serve

from nevefield.mailing.serving import keep_server
from tests.mailing.house import document, free_port
from tests.passing.house import open_clinic


@pytest.fixture
def catcher(tmp_path):
    return Catcher(tmp_path / "mails")


@pytest.fixture
def post(catcher):
    controller = serve(catcher, free_port())
    yield controller
    with suppress(AssertionError):  # it was stopped
        controller.stop()


@pytest.fixture
def office(bare, post):
    """The clinic, whose mails go to the stand-in."""
    settings = dataclasses.replace(bare.settings, step_key=Fernet.generate_key().decode())
    context = dataclasses.replace(bare, settings=settings)
    open_clinic(context)
    keep_server(context, document(post.port), None, None)
    return context
