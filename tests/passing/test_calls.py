"""Programs that are called with what changed: signed so that they can tell, one after the other by
rising numbers, over a line that loses what it likes.
"""

from __future__ import annotations

import base64
import dataclasses
import hashlib
import hmac
import json
import random
import re

import httpx
import pytest
from cryptography.fernet import Fernet

from nevefield.destinations.errors import DestinationError, Unsigned
from nevefield.passing_on.keeping import begin_destination, keep_token
from nevefield.passing_on.looking import look_at
from nevefield.passing_on.sending import tell
from nevefield.passing_on.tracing import list_delivered
from tests.passing.house import PEOPLE, open_clinic
from tests.passing.test_scim import alter

SECRET = "söme sécret of the canteen"
ADDRESS = "https://canteen.example/in?from=nevefield"
PUTS = [
    {"to": "badge", "from": "badge"},
    {"to": "name", "from": "surname"},
    {"to": "wards", "from": "wards"},
]
CALLED = {
    "name": "canteen",
    "title": "Canteen",
    "way": {"kind": "called", "address": ADDRESS},
    "shares": [{"roster": "clinic", "puts": PUTS, "groups": [{"from": "keys"}]}],
}


def is_signed(request: httpx.Request, secret: str) -> bool:
    """Read a signature as RFC 9421 (2.5, 3.2) and RFC 9530 have it, by nothing of ours."""
    digest = base64.b64encode(hashlib.sha256(request.content).digest()).decode()
    if request.headers["Content-Digest"] != f"sha-256=:{digest}:":
        return False
    label, params = request.headers["Signature-Input"].split("=", 1)
    names = re.findall(r'"([^"]+)"', params.split(")")[0])
    assert {"@method", "@target-uri", "content-digest"} <= set(names)
    values = {"@method": request.method, "@target-uri": str(request.url)}
    lines = [f'"{name}": {values.get(name) or request.headers[name]}' for name in names]
    base = "\n".join([*lines, f'"@signature-params": {params}'])
    made = hmac.new(secret.encode(), base.encode(), hashlib.sha256).digest()
    return request.headers["Signature"] == f"{label}=:{base64.b64encode(made).decode()}:"


class Canteen(httpx.BaseTransport):
    """Somebody's program, at the end of a line that can be bad; it answers with no JSON."""

    def __init__(self) -> None:
        self.chance = random.Random(4)
        self.bad = 0.0
        self.refuses = ""  # the badge of somebody whom it does not take
        self.took: list[dict] = []
        self.forged = 0

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        request.read()
        trouble = self.chance.random() < self.bad and self.chance.choice("nal5")
        if trouble == "n":
            raise httpx.ConnectError("no")
        if trouble == "5":
            return httpx.Response(503, headers={"Retry-After": "0"})
        if not is_signed(request, SECRET):
            self.forged += 1
            return httpx.Response(403, text="not ours")
        said = json.loads(request.content)
        if self.refuses and said["fields"].get("badge") == [self.refuses]:
            return httpx.Response(422, json={"detail": "no lunch"})
        self.took.append(said)
        if trouble in ("a", "l"):
            raise httpx.ReadError("lost")
        return httpx.Response(200, text="thanks")

    def holds(self) -> dict[int, dict]:
        """What it has of each: the first of what it was told under one name counts."""
        held: dict[int, dict] = {}
        seen: set[str] = set()
        for one in self.took:
            if one["id"] in seen:
                continue
            seen.add(one["id"])
            if one["act"] == "end":
                held.pop(one["record"], None)
            else:
                held[one["record"]] = {**one["fields"], "groups": one["groups"]}
        return held


@pytest.fixture
def canteen():
    return Canteen()


@pytest.fixture
def clinic(bare, canteen, monkeypatch):
    monkeypatch.setattr("time.sleep", lambda _: None)
    settings = dataclasses.replace(bare.settings, step_key=Fernet.generate_key().decode())
    context = dataclasses.replace(bare, settings=settings, transport=canteen)
    open_clinic(context)
    begin_destination(context, CALLED, None)
    return context


def expected(people=PEOPLE) -> dict[str, tuple]:
    return {one[0]: (one[1], one[4], sorted(one[5])) for one in people}


def held(canteen) -> dict[str, tuple]:
    """By badge what it has."""
    keys = {"Poisons": "P", "Quarantine": "Q"}
    return {
        one["badge"][0]: (one["name"][0], one["wards"], [keys[name] for name in one["groups"]])
        for one in canteen.holds().values()
    }


def test_called_and_signed(clinic, canteen):
    """Everybody is told, each call signed over its content; what is altered or ends follows, and
    what was sent is listed, the newest first.
    """
    keep_token(clinic, "canteen", SECRET, None)
    tell(clinic, "canteen", 1, None)
    assert held(canteen) == expected()
    assert canteen.forged == 0
    alter(clinic, "A-02", surname="Brien")
    tell(clinic, "canteen", 1, None)
    assert canteen.took[-1]["fields"]["name"] == ["Brien"]
    assert canteen.took[-1]["changed"] == ["name"]
    numbers = [one["sequence"] for one in canteen.took]
    assert numbers == sorted(set(numbers))
    sent = list_delivered(clinic, "canteen", limit=3)
    assert [(row.act, row.answer, key) for _, row, (key, _) in sent[:1]] == [
        ("changes", "200", "A-02")
    ]
    assert len(list_delivered(clinic, "canteen", sent[-1][0])) == len(PEOPLE) + 1 - 3


@pytest.mark.parametrize("seed", range(4))
def test_over_a_bad_line(clinic, canteen, seed):
    """Whatever the line loses: afterwards it has everybody as they are, and nothing of what it was
    told under one name counts twice.
    """
    keep_token(clinic, "canteen", SECRET, None)
    canteen.chance, canteen.bad = random.Random(seed), 0.5
    for surname in ("Brien", "O'Brien", "Brien", "Yılmaz"):
        alter(clinic, "A-02", surname=surname)
        for _ in range(3):
            tell(clinic, "canteen", 1, None)
    canteen.bad = 0.0
    tell(clinic, "canteen", 1, None)
    wanted = expected()
    wanted["A-02"] = ("Yılmaz", *wanted["A-02"][1:])
    assert held(canteen) == wanted
    assert {place.value for place, count in look_at(clinic, "canteen").counts.items() if count} == {
        "in step"
    }
    numbers = [one["sequence"] for one in canteen.took]
    assert numbers == sorted(numbers)


def test_refused_and_without_a_secret(clinic, canteen):
    """One who is not taken is a cause, and the others go; without a secret, or with one that is too
    short, nobody is called, and it is said.
    """
    with pytest.raises(DestinationError, match="no secret"):
        tell(clinic, "canteen", 1, None)
    keep_token(clinic, "canteen", "short", None)
    with pytest.raises(Unsigned):
        tell(clinic, "canteen", 1, None)
    assert canteen.took == []
    keep_token(clinic, "canteen", SECRET, None)
    canteen.refuses = "B-03"
    assert tell(clinic, "canteen", 1, None)["refused"] == 1
    (cause,) = look_at(clinic, "canteen").causes
    assert (cause.code, len(cause.records)) == ("422", 1)
    assert set(held(canteen)) == set(expected()) - {"B-03"}
    keep_token(clinic, "canteen", "another secret than theirs", None)
    alter(clinic, "A-01", surname="Aas")
    assert tell(clinic, "canteen", 1, None)["refused"] == 1
    assert canteen.forged == 1
