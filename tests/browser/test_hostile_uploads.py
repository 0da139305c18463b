"""The worst files, eight at once, by three people: the product goes on answering everybody, and refuses each in a sentence."""

from __future__ import annotations

import threading
import time

import httpx

from tests.conftest import PASSWORDS
from tests.hostile_files import HOSTILE

WORST = [
    "nine million strings",
    "odd quotes",
    "a row of a million cells",
    "30 million lines",
    "a quoted cell of 30 MB",
    "20 million separators",
    "tags in tags",
    "lists in lists",
]
WAIT = 20  # seconds: what is looked for is an answer that does not come at all while files are read


def signed_in(site: str, name: str) -> httpx.Client:
    client = httpx.Client(base_url=site, timeout=900)
    said = client.post("/api/session", json={"name": name, "password": PASSWORDS[name]})
    assert said.status_code in (200, 201), said.text
    client.headers["X-CSRF-Token"] = said.json()["csrf"]
    return client


def test_everybody_goes_on(site):
    """While the files are read, the product says that it is well, and somebody else opens the desk and gets a file in."""
    clients = [signed_in(site, name) for name in ("quernmore", "okell", "tamm")]
    answers: dict[str, httpx.Response] = {}

    def upload(number: int, name: str) -> None:
        answers[name] = clients[number % 3].post("/api/intakes", files={"file": ("roster.xlsx", HOSTILE[name]())})

    threads = [threading.Thread(target=upload, args=(number, name)) for number, name in enumerate(WORST)]
    for thread in threads:
        thread.start()
    asked, slowest = 0, 0.0
    with httpx.Client(base_url=site, timeout=WAIT) as anybody:
        while any(thread.is_alive() for thread in threads) or not asked:
            began = time.perf_counter()
            assert anybody.get("/api/health").status_code == 200
            slowest = max(slowest, time.perf_counter() - began)
            asked += 1
            time.sleep(0.1)
    print(f"health was asked {asked} times; the slowest answer took {slowest:.2f} s")
    for thread in threads:
        thread.join()
    for name, said in answers.items():
        assert said.status_code in (400, 409, 422), (name, said.status_code, said.text[:300])
        assert "Traceback" not in said.text
    mine = b"Cadet number,Family name,Given names\nTQ0000017,Probe,Ann\n"
    assert clients[0].post("/api/intakes", files={"file": ("probe.csv", mine)}).status_code in (201, 400, 409, 422)
    for client in clients:
        client.close()
