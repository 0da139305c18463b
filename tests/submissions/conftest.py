"""The stand-in of the authority in a thread of the tests', over real HTTP, and the college with
a return to it.
"""

from __future__ import annotations

import json
import threading
from collections.abc import Iterator
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

import httpx
import pytest
from stand_ins.registry.app import make_app
from werkzeug.serving import make_server

from nevefield.submissions.opening import Beginning, begin_submission
from nevefield.submissions.sending import advance

TOKEN, CONTROL = "tarn-quay-tests", "for-the-tests"


@dataclass
class Standing:
    """The stand-in while it runs."""

    url: str
    app: Any

    @property
    def live(self) -> Any:
        """What its live side keeps."""
        return self.app.config["sides"]["live"]

    def tell(self, **faults: Any) -> None:
        """Tell it to do wrong."""
        httpx.post(
            f"{self.url}/control", json=faults, headers={"X-Control": CONTROL}
        ).raise_for_status()


@pytest.fixture
def registry(made) -> Iterator[Standing]:
    """The Registry of Mariners with the people that the demo gives it."""
    people = json.loads((made / "registry.json").read_text())["people"]
    accounts = {TOKEN: ("tarn-quay", "TQMC"), "holm-sound": ("holm-sound", "HSNA")}
    app = make_app(people, accounts, today=lambda: date(2026, 10, 1), control=CONTROL)
    server = make_server("127.0.0.1", 0, app, threaded=True)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    yield Standing(f"http://127.0.0.1:{server.server_port}", app)
    server.shutdown()
    thread.join()


@pytest.fixture
def held(made) -> dict[str, Any]:
    """What is planted in the Registry."""
    return json.loads((made / "registry.truth.json").read_text())


@pytest.fixture
def sender(desk, registry):
    """The college's context with the way to the stand-in."""
    return replace(
        desk, settings=replace(desk.settings, registry_url=registry.url, registry_token=TOKEN)
    )


@pytest.fixture
def autumn(sender, made) -> int:
    """The autumn return, begun."""
    began = json.loads((made / "registry.json").read_text())
    policy = {"none": "new", "one": None}
    return begin_submission(
        sender,
        Beginning(
            roster="cadets",
            title="Autumn return",
            side="live",
            day=date.fromisoformat(began["day"]),
            layout=began["layout"],
            chosen=began["chosen"],
            policy=policy,
        ),
        None,
    )


def bring_on(context, round_id: int, clock) -> str:
    """Bring a round on until it is through or refused; the clock goes on with every question."""
    from datetime import timedelta

    for _ in range(400):
        state = advance(context, round_id)
        if state in ("done", "refused"):
            return state
        clock.at += timedelta(seconds=61)
        threading.Event().wait(0.02)
    raise AssertionError(f"the round does not end: {state}")
