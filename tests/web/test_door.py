"""The door: tries counted before they are made, waits that grow, devices that are known,
proxies, idle sessions, other places.
"""

from __future__ import annotations

import threading
from dataclasses import replace

import pytest

from nevefield.accounts import signing
from nevefield.web import create_app
from nevefield.web.proxies import BehindProxies, read_networks
from tests.conftest import APPROVES, LOOKS, PASSWORDS

WRONG = "wrong-wrong-1"


class Caller:
    """Somebody who signs in from an address, with a browser that keeps its cookies."""

    def __init__(self, app, address: str = "192.0.2.1") -> None:
        self.client = app.test_client()
        self.address, self.token = address, ""

    def sign_in(self, name: str = APPROVES, password: str = "", **more):
        body = {"name": name, "password": password or PASSWORDS[name]}
        answer = self.send("POST", "/api/session", json=body, **more)
        self.token = answer.json.get("token", self.token)
        return answer

    def send(self, method: str, path: str, **more):
        headers = {"X-Nevefield-Token": self.token, **more.pop("headers", {})}
        place = {"environ_base": {"REMOTE_ADDR": self.address}}
        return self.client.open(path, method=method, headers=headers, **place, **more)


@pytest.fixture
def caller(desk):
    apps = {}

    def make(address: str = "192.0.2.1", **settings) -> Caller:
        chosen = replace(desk.settings, **settings)
        if chosen not in apps:
            apps[chosen] = create_app(chosen, replace(desk, settings=chosen))
        return Caller(apps[chosen], address)

    return make


def test_fifty_at_once(desk, caller, monkeypatch):
    """Of fifty tries at once exactly the allowed number is made; meanwhile the right person gets
    in on their own device.
    """
    own = caller("198.51.100.7")
    assert own.sign_in().status_code == 200
    tried = []
    monkeypatch.setattr(
        signing,
        "fits",
        lambda hashed, password, fits=signing.fits: tried.append(1) or fits(hashed, password),
    )
    strangers = [caller() for _ in range(50)]
    start = threading.Barrier(50)
    statuses = []

    def knock(one: Caller) -> None:
        start.wait()
        statuses.append(one.sign_in(password=WRONG).status_code)
        desk.database.close()

    threads = [threading.Thread(target=knock, args=(one,)) for one in strangers]
    for thread in threads:
        thread.start()
    right = own.sign_in().status_code
    for thread in threads:
        thread.join()
    assert right == 200
    assert (statuses.count(401), statuses.count(429)) == (5, 45)
    assert len(tried) == 5 + 1


def test_waits_grow_and_end(caller, clock):
    """Each try that does not fit doubles the wait, to a quarter of an hour and no more; the
    right words are let in after it.
    """
    stranger = caller()
    for _ in range(5):
        assert stranger.sign_in(password=WRONG).status_code == 401
    waits = []
    for _ in range(13):
        refused = stranger.sign_in(password=WRONG)
        assert (refused.status_code, refused.headers["Retry-After"]) == (
            429,
            str(refused.json["seconds"]),
        )
        waits.append(refused.json["seconds"])
        clock.move(seconds=waits[-1] - 1)
        assert stranger.sign_in().status_code == 429  # not a second earlier, whoever it is
        clock.move(seconds=1)
        assert stranger.sign_in(password=WRONG).status_code == 401
    assert waits == [1, 2, 4, 8, 16, 32, 64, 128, 256, 512, 900, 900, 900]
    assert "Try again in 15 minutes" in stranger.sign_in().json["detail"]
    clock.move(seconds=900)
    assert stranger.sign_in().status_code == 200
    assert stranger.sign_in(password=WRONG).status_code == 401  # it begins anew


def test_nobody_is_kept_out_by_others(caller, clock):
    """Tries from everywhere keep a name waiting for half a minute at most, and not at all on a
    device that is known.
    """
    known = caller("198.51.100.7")
    known.sign_in()
    for place in range(40):
        clock.move(seconds=31)
        caller(f"203.0.113.{place}").sign_in(password=WRONG)
    fresh = caller("198.51.100.99")
    assert known.sign_in().status_code == 200  # whatever others did
    assert fresh.sign_in().json["seconds"] <= 30
    clock.move(seconds=30)
    assert fresh.sign_in().status_code == 200


def test_known_device_is_counted_too(desk, caller):
    """Who has somebody's device guesses no faster on it than others elsewhere; another's name is
    not known there.
    """
    own = caller()
    own.sign_in()
    statuses = [own.sign_in(password=WRONG).status_code for _ in range(7)]
    assert statuses == [401] * 5 + [429] * 2
    statuses = [own.sign_in(LOOKS, WRONG).status_code for _ in range(7)]
    assert statuses == [401] * 5 + [429] * 2
    assert caller("198.51.100.4").sign_in(LOOKS).status_code == 200


def test_one_name_however_written(caller):
    """Capitals and spaces make no other name of an account; one customer's many addresses are
    one.
    """
    tries = [
        APPROVES,
        APPROVES.upper(),
        f"{APPROVES} ",
        APPROVES.title(),
        APPROVES,
        APPROVES.swapcase(),
    ]
    stranger = caller("2001:db8::1")
    statuses = []
    for place, name in enumerate(tries):
        stranger.address = f"2001:db8::{place + 1}"
        statuses.append(stranger.sign_in(name, WRONG).status_code)
    assert statuses == [401] * 5 + [429]


def test_one_address_tries_many_names(caller):
    """From one address thirty tries are made, whatever the names; and a name that nobody has is
    refused like one that is.
    """
    stranger = caller()
    statuses = [stranger.sign_in(f"name-{place}", WRONG).status_code for place in range(31)]
    assert statuses == [401] * 30 + [429]
    assert caller("192.0.2.9").sign_in().status_code == 200


def test_signed_in_is_never_locked_out(caller):
    """A session goes on while its name and its address are refused."""
    own = caller()
    own.sign_in()
    stranger = caller()
    for _ in range(8):
        stranger.sign_in(password=WRONG)
    assert stranger.sign_in().status_code == 429
    assert own.send("GET", "/api/desk").status_code == 200


def test_told_of_other_places(caller, clock):
    """Who is signed in at a second place is told at both, and can end the other; pages there are
    refused from then on.
    """
    first, second = caller("192.0.2.1"), caller("198.51.100.7")
    assert first.sign_in().json["elsewhere"] == []
    clock.move(minutes=5)
    told = second.sign_in().json
    assert [one["address"] for one in told["elsewhere"]] == ["192.0.2.1"]
    assert [one["address"] for one in first.send("GET", "/api/session").json["elsewhere"]] == [
        "198.51.100.7"
    ]
    assert second.send("POST", "/api/session/others/end").json == {"done": True}
    assert first.send("GET", "/api/desk").status_code == 401
    assert second.send("GET", "/api/session").json["elsewhere"] == []


def test_one_session_where_wanted(caller):
    """Where the setting says so, signing in ends the older sessions of the account, and of no
    other.
    """
    first, second, other = (caller(one_session=True) for _ in range(3))
    other.sign_in(LOOKS)
    first.sign_in()
    second.sign_in()
    assert first.send("GET", "/api/desk").status_code == 401
    assert second.send("GET", "/api/desk").status_code == 200
    assert other.send("GET", "/api/desk").status_code == 200


def test_idle_session_ends(desk, caller, clock):
    """A session ends when nobody uses it; what pages ask by themselves is no use, what somebody
    does is.
    """
    own, left = caller(idle_minutes=30), caller(idle_minutes=30)
    own.sign_in()
    left.sign_in()
    for _ in range(4):
        clock.move(minutes=20)
        assert own.send("GET", "/api/desk").status_code == 200
        left.send("GET", f"/api/work/{'0' * 32}")
    assert left.send("GET", "/api/desk").status_code == 401
    clock.move(minutes=31)
    assert own.send("GET", "/api/desk").status_code == 401


def test_secure_by_itself(caller):
    """Over https the cookies never go over http, and browsers are told to stay with it; over
    http neither is said.
    """
    proxy = {"trusted_proxies": "10.0.0.0/8, ::1"}
    by_https = caller("10.1.2.3", **proxy).sign_in(
        headers={"X-Forwarded-Proto": "https", "X-Forwarded-For": "192.0.2.1"}
    )
    cookies = by_https.headers.getlist("Set-Cookie")
    assert len(cookies) == 2
    assert all(
        "; Secure" in one and "HttpOnly" in one and "SameSite=Strict" in one for one in cookies
    )
    assert by_https.headers["Strict-Transport-Security"].startswith("max-age=")
    # anybody can say so
    plain = caller("192.0.2.1", **proxy).sign_in(headers={"X-Forwarded-Proto": "https"})
    assert not any("Secure" in one for one in plain.headers.getlist("Set-Cookie"))
    assert "Strict-Transport-Security" not in plain.headers


@pytest.mark.parametrize(
    ("remote", "forwarded", "found"),
    [
        ("10.0.0.1", "192.0.2.7", "192.0.2.7"),
        ("10.0.0.1", "6.6.6.6, 192.0.2.7", "192.0.2.7"),  # the first was written by who asks
        ("10.0.0.1", "6.6.6.6, 192.0.2.7, 10.0.0.2", "192.0.2.7"),  # through two of ours
        ("10.0.0.1", "10.0.0.3", "10.0.0.3"),
        ("10.0.0.1", "nonsense, 192.0.2.7", "192.0.2.7"),
        ("10.0.0.1", "192.0.2.7, nonsense", "10.0.0.1"),
        ("10.0.0.1", "", "10.0.0.1"),
        ("192.0.2.1", "6.6.6.6", "192.0.2.1"),  # no proxy of ours
        ("::1", "2001:db8::5", "2001:db8::5"),
    ],
)
def test_only_trusted_proxies_are_believed(remote, forwarded, found):
    """The last address that is no trusted proxy's is who asks; nobody can write themselves
    another one.
    """
    seen = {}
    app = BehindProxies(
        lambda environ, start: seen.update(environ) or [], read_networks("10.0.0.0/8, ::1")
    )
    app(
        {
            "REMOTE_ADDR": remote,
            "HTTP_X_FORWARDED_FOR": forwarded,
            "HTTP_X_FORWARDED_HOST": "evil/host",
        },
        None,
    )
    assert seen["REMOTE_ADDR"] == found
    assert not [name for name in seen if "FORWARDED" in name]
    assert "HTTP_HOST" not in seen


def test_wrong_networks_are_said():
    """A setting that is no network is said with its name at the start."""
    with pytest.raises(ValueError, match=r"NEVEFIELD_TRUSTED_PROXIES: .*10\.0\.0\.0/99"):
        read_networks("10.0.0.0/99")
