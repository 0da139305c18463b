"""The product as a whole: started, killed, started again, stopped."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import httpx
import pytest

from nevefield.run.root import OURS
from nevefield.run.server import free_port
from tests.jobs.test_worker import wait_for

PROGRAM = Path(sys.executable).with_name("nevefield")


class Served:
    """A product that was started in a directory of its own."""

    def __init__(self, data: Path, *options: str) -> None:
        self.data, self.port = data, free_port()
        self.log = (data.parent / f"log-{self.port}").open("wb+")
        command = [PROGRAM, "serve", "--port", str(self.port), "--data", str(data), *options]
        self.process = subprocess.Popen(command, stdout=self.log, stderr=self.log)

    def said(self) -> str:
        return Path(self.log.name).read_text()

    def answers(self) -> bool:
        try:
            return (
                urllib.request.urlopen(f"http://127.0.0.1:{self.port}/api/health", timeout=2).status
                == 200
            )
        except OSError:
            return False

    def wait(self) -> Served:
        wait_for(lambda: self.answers() or self.process.poll() is not None, 120)
        assert self.process.poll() is None, self.said()
        wait_for(lambda: "answers at" in self.said())
        return self

    def stop(self) -> int:
        self.process.send_signal(signal.SIGTERM)
        return self.process.wait(60)


@pytest.fixture
def data(tmp_path):
    """A directory for the product's data; whatever still runs there afterwards is killed."""
    yield tmp_path / "var"
    for pid in filter(str.isdigit, os.listdir("/proc")):
        try:
            if str(tmp_path).encode() in Path(f"/proc/{pid}/cmdline").read_bytes():
                os.kill(int(pid), signal.SIGKILL)
        except (OSError, ProcessLookupError):
            continue


def test_starts_again_after_a_crash(data):
    """Killed without warning, it starts again on the same data; a second one on that data is
    refused in a sentence.
    """
    first = Served(data, "--empty").wait()
    assert "/join#" in first.said()
    second = Served(data, "--empty")
    assert second.process.wait(60) == 1
    assert "running already" in second.said()
    first.process.kill()
    first.process.wait()
    deadline = time.monotonic() + 20
    while first.answers() and time.monotonic() < deadline:
        time.sleep(0.2)
    assert not first.answers()  # what it had started ends with it
    again = Served(data, "--empty").wait()
    assert again.stop() == 0
    assert "Stopping" in again.said()
    assert not again.answers()


def test_database_that_dies_is_started_again(data):
    """When the database is killed, it comes back and the product answers as before; nothing
    committed is lost.
    """
    served = Served(data, "--empty").wait()
    environment = {**os.environ, "NEVEFIELD_PASSWORD": "a long enough one"}
    subprocess.run(
        [PROGRAM, "account", "add", "petrel", "--data", data],
        env=environment,
        check=True,
        capture_output=True,
    )
    os.kill(int((data / "mariadb.pid").read_text()), signal.SIGKILL)
    wait_for(lambda: "starting it again" in served.said())

    def listed() -> str:
        done = subprocess.run(
            [PROGRAM, "account", "list", "--data", data],
            capture_output=True,
            text=True,
            check=False,
        )
        time.sleep(0.2)
        return done.stdout

    wait_for(lambda: "petrel" in listed())
    assert served.stop() == 0


def test_taken_port_is_said(data):
    """A port that something else has is said in one line with what to do."""
    with socket.socket() as other:
        other.bind(("127.0.0.1", 0))
        other.listen()
        command = [
            PROGRAM,
            "serve",
            "--empty",
            "--data",
            str(data),
            "--port",
            str(other.getsockname()[1]),
        ]
        done = subprocess.run(command, capture_output=True, text=True, timeout=120, check=False)
    assert done.returncode == 1
    assert "Try --port" in done.stderr


def test_no_database_is_said(tmp_path):
    """Without a database the commands say how to get one; an address that does not answer is
    said too.
    """
    done = subprocess.run(
        [PROGRAM, "account", "list", "--data", tmp_path],
        capture_output=True,
        text=True,
        check=False,
    )
    assert (done.returncode, done.stdout) == (2, "")
    assert "Run ./start first" in done.stderr
    environment = {**os.environ, "NEVEFIELD_DATABASE_URL": "mysql://x:y@127.0.0.1:1/none"}
    done = subprocess.run(
        [PROGRAM, "account", "list"], env=environment, capture_output=True, text=True, check=False
    )
    assert done.returncode == 2
    assert "does not answer" in done.stderr


def test_practice_copy_runs_while_there_is_one(data):
    """Ordered in the browser, the practice copy answers at its own address with the same sign-ins;
    a session of the real one is none there; thrown away, it answers no more.
    """
    served = Served(data, "--empty").wait()
    environment = {**os.environ, "NEVEFIELD_PASSWORD": "a long enough one"}
    subprocess.run(
        [PROGRAM, "account", "add", "petrel", "--level", "administer", "--data", data],
        env=environment,
        check=True,
        capture_output=True,
    )
    real = httpx.Client(base_url=f"http://127.0.0.1:{served.port}")
    signed = {"name": "petrel", "password": "a long enough one"}
    real.headers["X-Nevefield-Token"] = real.post("/api/session", json=signed).json()["token"]
    assert real.get("/api/session").json()["practice"] is False
    assert real.post("/api/practice").status_code == 202
    wait_for(lambda: real.get("/api/practice").json()["answers"], 60)
    told = real.get("/api/practice").json()
    assert (told["state"], told["differs"], told["said"]) == ("ready", [], "")
    # its first answer comes when it has begun
    practice = httpx.Client(base_url=told["address"], cookies=dict(real.cookies), timeout=60)
    wait_for(lambda: practice.get("/api/health").status_code == 200)
    assert practice.get("/api/links/first").json()["practice"] is True
    assert practice.get("/api/session").status_code == 204
    token = practice.post("/api/session", json=signed).json()["token"]
    practice.headers["X-Nevefield-Token"] = token
    assert practice.post("/api/practice").status_code == 409
    assert real.get("/api/session").json()["sign_in"] == "petrel"

    # whoever starts it as root hands over what is ours, and nothing of a stranger's
    assert {path.name for path in data.iterdir()} <= OURS
    assert real.delete("/api/practice").status_code == 200
    wait_for(lambda: not real.get("/api/practice").json()["answers"], 60)
    assert served.stop() == 0
