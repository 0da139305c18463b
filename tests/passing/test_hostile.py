"""Outside systems that lie, and people who would send to where they should not."""

from __future__ import annotations

import httpx
import pytest

from nevefield.accounts import Level, add_account
from nevefield.accounts.signing import sight_of
from nevefield.core.errors import WrongDestination
from nevefield.destinations import asking
from nevefield.destinations.asking import Asking
from nevefield.destinations.errors import DestinationError, Unintelligible
from nevefield.destinations.gates import Gates
from nevefield.destinations.scim import Scim
from nevefield.passing_on.errors import NoSuchDestination
from nevefield.passing_on.keeping import begin_destination, open_destination
from nevefield.passing_on.sending import request_telling
from nevefield.store.accounts import get_account
from nevefield.web.app import create_app
from tests.passing.house import directory_of, file_of, open_clinic


def asked(answer) -> tuple[Asking, list[httpx.Request]]:
    seen: list[httpx.Request] = []

    def handle(request: httpx.Request) -> httpx.Response:
        seen.append(request)
        return answer(request) if callable(answer) else answer

    return Asking("http://d.example", "t", httpx.MockTransport(handle), lambda _: None), seen


@pytest.mark.parametrize(
    "answer",
    [
        httpx.Response(200, text="<html>"),
        httpx.Response(200, json=[1]),
        httpx.Response(200, json={"Resources": "none"}),
        httpx.Response(302, headers={"Location": "http://inside.example/"}),
        httpx.Response(200, content=b'{"a": "' + b"x" * 3_000 + b'"}'),
        httpx.Response(200, json={"id": 7}),
    ],
)
def test_what_cannot_be_understood(answer, monkeypatch):
    """No page, no list, no redirect and nothing endless is taken for an answer, or followed."""
    monkeypatch.setattr(asking, "MOST_BYTES", 2_000)
    way, seen = asked(answer)
    client = Scim(way, ("externalId",), takes_out=False)
    with pytest.raises(DestinationError):
        client.put("", "1", {"userName": ["a"]})
    assert {request.url.host for request in seen} == {"d.example"}


@pytest.mark.parametrize("ref", ["../../admin", "a/b", "x?y=1", "%2e%2e"])
def test_an_id_is_one_step_of_a_path(ref):
    """What they gave as an id leads to nothing else of theirs."""
    way, seen = asked(lambda request: httpx.Response(404, json={}))
    Scim(way, ("externalId",), takes_out=True).end(ref)
    assert all(request.url.raw_path.decode().split("?")[0].count("/") == 2 for request in seen), [
        request.url for request in seen
    ]


@pytest.mark.parametrize("door", ["", "a b", "../x", "a" * 41, None, 7.5])
def test_doors_without_a_name(door):
    way, _ = asked(httpx.Response(200, json={"doors": [{"door": door}]}))
    with pytest.raises(Unintelligible):
        Gates(way).doors()


def test_where_we_send_is_for_who_administers_everything(bare):
    """Who administers one roster gives its files out, and sends nothing to an address; who has a
    part, or may only look, has no destination where something that is kept leaves.
    """
    roster = open_clinic(bare)
    for name, level in (("one", Level.ADMINISTER), ("looker", Level.LOOK)):
        add_account(bare, name, name, f"password-of-{name}", Level.NONE, {roster: level})

    def seen_by(name: str):
        with bare.database.transaction() as connection:
            account = get_account(connection, name)
        return bare.seen_by(sight_of(bare, account))

    with pytest.raises(WrongDestination, match="administers everything"):
        begin_destination(seen_by("one"), directory_of(), None)
    with pytest.raises(WrongDestination, match="administers everything"):
        begin_destination(seen_by("one"), file_of("csv", into_folder=True), None)
    kept = [{"to": "Born", "from": "born", "because": "they asked for it"}]
    document = file_of("csv", kept)
    begin_destination(seen_by("one"), document, None)
    begin_destination(seen_by("one"), {**file_of("csv"), "name": "open"}, None)
    with pytest.raises(NoSuchDestination):
        open_destination(seen_by("looker"), "list")
    assert open_destination(seen_by("looker"), "open")
    with pytest.raises(WrongDestination):
        begin_destination(seen_by("looker"), {**file_of("csv"), "name": "mine"}, None)
    with pytest.raises(Exception, match="approve"):
        request_telling(seen_by("looker"), "open", 7, None, None)
    client = create_app(bare.settings, bare).test_client()
    assert client.get("/api/fetch/anything").status_code == 404
    assert client.get("/api/destinations").status_code == 401
