"""What threads write at one moment goes out in one request, and comes to what each would alone."""

from __future__ import annotations

import json
import random
import threading
from concurrent.futures import ThreadPoolExecutor

import httpx
import pytest

from nevefield.destinations.asking import Asking
from nevefield.destinations.bundling import Bundle, read_offer
from nevefield.destinations.errors import (
    DestinationError,
    Gone,
    Lost,
    Refused,
    Unintelligible,
    Unreachable,
)
from nevefield.passing_on.keeping import begin_destination, keep_token
from nevefield.passing_on.looking import look_at
from nevefield.passing_on.sending import tell
from tests.passing.house import TOKEN, Line, directory_of, open_clinic

REFUSED = {"detail": "It is taken.", "scimType": "uniqueness"}


class Server:
    """Holds users by name; how it answers bundles can be strange."""

    def __init__(self, strange: str = "") -> None:
        self.strange = strange
        self.users: dict[str, str] = {}
        self.sizes: list[int] = []  # of each request: how many operations
        self.bytes: list[int] = []
        self.lock = threading.Lock()

    def __call__(self, request: httpx.Request) -> httpx.Response:
        body = json.loads(request.content or "{}")
        path = request.url.raw_path.decode()
        with self.lock:
            if path != "/Bulk":
                self.sizes.append(1)
                status, answer = self.do(request.method, path, body)
                return httpx.Response(status, json=answer)
            self.sizes.append(len(body["Operations"]))
            self.bytes.append(len(request.content))
            return self.bulk(body["Operations"])

    def do(self, method: str, path: str, body: dict) -> tuple[int, dict]:
        if method == "POST":
            name = body["userName"]
            if name in self.users:
                return 409, REFUSED
            self.users[name] = name
            return 201, {"id": f"id of {name}"}
        name = path.removeprefix("/Users/id%20of%20")
        if name not in self.users:
            return 404, {}
        if method == "DELETE":
            del self.users[name]
            return 204, {}
        self.users[name] = body["nickName"]
        return 200, {}

    def bulk(self, operations: list[dict]) -> httpx.Response:
        if self.strange == "too large":
            return httpx.Response(413, json={"detail": "too large"})
        if self.strange == "lost before":
            raise httpx.ReadError("lost")
        said = []
        for one in operations:
            if self.strange == "busy" and one["path"] == "/Users":
                said.append({"method": "POST", "bulkId": one["bulkId"], "status": "429"})
                continue
            status, body = self.do(one["method"], one["path"], one.get("data", {}))
            result = {"method": one["method"], "bulkId": one["bulkId"], "status": str(status)}
            if status >= 400:
                result["response"] = body
            elif "id" in body:
                place = body["id"].replace(" ", "%20")
                result["location"] = f"http://there.example/v2/Users/{place}"
            said.append(result)
        if self.strange == "lost after":
            raise httpx.ReadError("lost")
        if self.strange == "other order":
            random.Random(0).shuffle(said)
        if self.strange in ("no numbers", "too few"):
            said = [{k: v for k, v in one.items() if k != "bulkId"} for one in said]
        if self.strange == "too few":
            said = said[:-1]
        if self.strange == "some":
            said = said[:1]
        if self.strange == "no list":
            return httpx.Response(200, json={"Operations": ["done", 3]})
        if self.strange == "code":
            said = [{**one, "status": {"code": one["status"]}} for one in said]
        return httpx.Response(200, json={"Operations": said})


def write_all(server: Server, writes, *, most: int = 5, largest: int = 10**6):
    """Write each in a thread of its own, all at one moment; give for each what came of it."""
    begun = threading.Barrier(len(writes))
    asking = Asking(
        "http://there.example", "", httpx.MockTransport(server), lambda _: None, at_once=2
    )
    bundle = Bundle(asking, most, largest)

    def write(one):
        with bundle.part():
            begun.wait()
            try:
                answer = bundle.ask(*one)
                return str(answer.body.get("id", answer.status))
            except DestinationError as error:
                return type(error), getattr(error, "code", "")

    with ThreadPoolExecutor(len(writes)) as pool:
        return list(pool.map(write, writes))


NAMES = [f"p{number}" for number in range(23)]
MADE = [("POST", "/Users", {"userName": name}) for name in NAMES]


@pytest.mark.parametrize("strange", ["", "other order", "no numbers", "code", "busy"])
def test_each_has_its_own_answer(strange):
    """However they answer: made, refused, not there; each writer hears what is about its own."""
    server = Server(strange)
    server.users = {"p3": "", "p4": ""}
    found = write_all(server, MADE)
    assert found == [
        (Refused, "uniqueness") if name in ("p3", "p4") else f"id of {name}" for name in NAMES
    ]
    assert set(server.users) == set(NAMES)
    changes = [("PATCH", f"/Users/id%20of%20{name}", {"nickName": name}) for name in NAMES]
    ends = [("DELETE", f"/Users/id%20of%20{name}") for name in ("left", "nobody")]
    server.users["left"] = ""
    found = write_all(server, [*changes, *ends])
    assert found == ["200"] * 23 + ["204", (Gone, "")]
    assert server.users == {name: name for name in NAMES}


@pytest.mark.parametrize(
    ("strange", "made"), [("too large", 23), ("lost before", 0), ("lost after", 23)]
)
def test_what_is_not_known_is_said(strange, made):
    """Who takes no bundle after all is told one by one; of what was lost nothing new is tried
    again, and what can be done twice is.
    """
    server = Server(strange)
    found = write_all(server, MADE)
    assert len(server.users) == made
    lost = [one for one in found if isinstance(one, tuple)]
    assert set(lost) <= {(Lost, "")}
    assert bool(lost) == strange.startswith("lost")
    server.users = dict.fromkeys(NAMES, "")
    changes = [("PATCH", f"/Users/id%20of%20{name}", {"nickName": "x"}) for name in NAMES]
    assert write_all(server, changes) == ["200"] * 23


def test_what_is_no_answer():
    """Of what was done and answered with nonsense nothing new is written again, by nobody."""
    server = Server("no list")
    found = write_all(server, MADE)
    assert {one for one in found if isinstance(one, tuple)} == {(Unintelligible, "")}
    assert (Refused, "uniqueness") not in found
    assert set(server.users) == set(NAMES)


@pytest.mark.parametrize("strange", ["some", "too few"])
def test_what_is_left_out_of_an_answer(strange):
    """What is not told of counts as lost where it is new, and is done by itself where it is not."""
    server = Server(strange)
    found = write_all(server, MADE)
    assert {one for one in found if isinstance(one, tuple)} == {(Lost, "")}
    assert all(one == f"id of {n}" for one, n in zip(found, NAMES, strict=True) if one[0] != Lost)
    ends = [("DELETE", f"/Users/id%20of%20{name}") for name in NAMES]
    assert set(write_all(server, ends)) <= {"204", (Gone, "")}
    assert not server.users


def test_few_requests_within_their_limits():
    """No request has more operations or bytes than they take; what is larger goes by itself."""
    server = Server()
    huge = ("POST", "/Users", {"userName": "huge", "nickName": "x" * 5_000})
    found = write_all(server, [*MADE, huge], most=8, largest=3_000)
    assert found == [f"id of {name}" for name in (*NAMES, "huge")]
    assert max(server.sizes) <= 8
    assert max(server.bytes) <= 3_000
    assert len(server.sizes) <= 8  # of 24 writes: bundles of up to 8, and one alone


@pytest.mark.parametrize(
    "config",
    [{}, {"bulk": None}, {"bulk": {"supported": False, "maxOperations": 9, "maxPayloadSize": 99}}]
    + [
        {"bulk": {"supported": True, "maxOperations": most, "maxPayloadSize": size}}
        for most, size in [(0, 99), (1, 99), (None, 99), ("9", 99), (9, 0)]
    ],
)
def test_what_is_no_offer(config):
    assert read_offer(config) == (0, 0)


@pytest.mark.parametrize("bad", [0.0, 0.3])
def test_a_roster_is_told_in_fewer_requests(bare, monkeypatch, bad):
    """Of a hundred people each is made once and in their groups, over a bad line too, and on a
    good one in less than half as many requests.
    """
    monkeypatch.setattr("time.sleep", lambda _: None)
    people = [
        (f"A-{n:03}", f"Ng{n}", "Li", f"n{n}@clinic.example", ["N", "S"], [], "2001-05-05", "")
        for n in range(100)
    ]
    open_clinic(bare, people)
    asked = {}
    for name, bundles in (("alone", False), ("together", True)):
        line = Line(bundles=bundles)
        context = type(bare)(
            bare.database,
            type(bare.settings)(**{**vars(bare.settings), "step_key": "k" * 32}),
            bare.now,
            line,
        )
        begin_destination(context, {**directory_of(), "name": name}, None)
        keep_token(context, name, TOKEN, None)
        line.bad = bad
        for _ in range(200):
            try:
                tell(context, name, 1, None)
            except Unreachable:
                continue
            break
        line.bad = 0.0
        look = look_at(context, name)
        assert {str(place): n for place, n in look.counts.items() if n} == {"in step": 100}
        users = line.users()
        assert len(users) == 100
        assert all(one["in"] == ["North ward", "Süd"] for one in users.values())
        asked[name] = len(line.asked)
    if not bad:
        assert asked["together"] * 2 < asked["alone"]
