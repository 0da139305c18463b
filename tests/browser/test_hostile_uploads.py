"""The worst files, eight at once, by three people: the product goes on answering everybody, and
refuses each in a sentence.
"""

from __future__ import annotations

import subprocess
import sys
import threading

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
    client.headers["X-Nevefield-Token"] = said.json()["token"]
    return client


ASKING = """
import sys, time, urllib.request
asked, slowest = 0, 0.0
while not sys.stdin.closed and asked < 100_000:
    began = time.perf_counter()
    with urllib.request.urlopen(sys.argv[1] + "/api/health", timeout=float(sys.argv[2])) as answer:
        assert answer.status == 200
    asked, slowest = asked + 1, max(slowest, time.perf_counter() - began)
    print(asked, round(slowest, 3), flush=True)
    time.sleep(0.1)
"""


def test_everybody_goes_on(site):
    """While the files are read, the product says to somebody else that it is well, and takes a
    next file in.
    """
    files = {name: HOSTILE[name]() for name in WORST}
    clients = [signed_in(site, name) for name in ("quernmore", "okell", "tamm")]
    answers: dict[str, httpx.Response] = {}

    def upload(number: int, name: str) -> None:
        answers[name] = clients[number % 3].post(
            "/api/intakes", files={"file": ("roster.xlsx", files[name])}
        )

    # Asked from another process: in this one the uploads would be waited for.
    somebody = subprocess.Popen(
        [sys.executable, "-c", ASKING, site, str(WAIT)], stdout=subprocess.PIPE, text=True
    )
    threads = [
        threading.Thread(target=upload, args=(number, name)) for number, name in enumerate(WORST)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert somebody.poll() is None, "an answer did not come"
    somebody.kill()
    asked, slowest = somebody.communicate()[0].splitlines()[-1].split()
    print(f"health was asked {asked} times; the slowest answer took {slowest} s")
    for name, said in answers.items():
        assert said.status_code in (400, 409, 422, 429), (name, said.status_code, said.text[:300])
        assert said.json()["detail"].strip().endswith((".", "?")), name
    mine = b"Cadet number,Family name,Given names\nTQ0000017,Probe,Ann\n"
    assert clients[0].post("/api/intakes", files={"file": ("probe.csv", mine)}).status_code == 201
    for client in clients:
        client.close()
