"""The client of an authority, against one that answers in every way that it should not."""

from __future__ import annotations

import httpx
import pytest

from nevefield.authority.client import Authority
from nevefield.authority.errors import Refused, Unintelligible, Unreachable

URL = "http://authority.example/api/"


def authority(*answers: httpx.Response | Exception) -> tuple[Authority, list[httpx.Request]]:
    """An authority that gives some answers in turn, and what it was asked."""
    asked: list[httpx.Request] = []
    left = list(answers)

    def answer(request: httpx.Request) -> httpx.Response:
        asked.append(request)
        given = left.pop(0)
        if isinstance(given, Exception):
            raise given
        return given

    return Authority(URL, "hush", "practice", httpx.MockTransport(answer)), asked


def told(document: object, status: int = 200) -> httpx.Response:
    return httpx.Response(status, json=document)


def test_sends_once_under_its_key():
    """With the token and the key in the head, to the side that is meant; the body as it is."""
    client, asked = authority(told({"receipt": "R-7"}))
    assert client.send("k" * 32, b'{"records": []}') == "R-7"
    (request,) = asked
    assert (request.method, str(request.url)) == ("POST", f"{URL}practice/returns")
    assert request.headers["Authorization"] == "Bearer hush"
    assert request.headers["Idempotency-Key"] == "k" * 32
    assert request.content == b'{"records": []}'


def test_the_whole_answer_page_by_page():
    """Every page, in order, each from where the one before said."""
    client, asked = authority(
        told({"results": [1, 2], "changes": ["a"], "next": 2}),
        told({"results": [3], "next": None}),
    )
    assert client.answer("R") == {"receipt": "R", "results": [1, 2, 3], "changes": ["a"]}
    assert [request.url.query for request in asked] == [b"start=0", b"start=2"]


@pytest.mark.parametrize(
    ("answer", "error"),
    [
        (httpx.ConnectError("no route"), Unreachable),
        (httpx.ReadTimeout("too long"), Unreachable),
        (httpx.RemoteProtocolError("gone"), Unreachable),
        (httpx.Response(503, text="later"), Unreachable),
        (httpx.Response(200, text="<html>"), Unintelligible),
        (httpx.Response(200, content=b"\xff\xfe"), Unintelligible),
        (told([1, 2]), Unintelligible),
        (told({"results": "none"}), Unintelligible),
        (told({"problem": "The key is unknown."}, 401), Refused),
        (told({}, 422), Refused),
    ],
    ids=lambda given: type(given).__name__,
)
def test_what_goes_wrong_has_a_name(answer, error):
    """Each way to go wrong is one of three, and none shows the token."""
    client, _ = authority(answer)
    with pytest.raises(error) as found:
        client.answer("R")
    assert "hush" not in str(found.value)


def test_an_answer_without_an_end_ends(monkeypatch):
    """Pages that lead back to themselves are not followed for ever."""
    monkeypatch.setattr("nevefield.authority.client.MOST_PAGES", 3)
    client, asked = authority(*(told({"results": [1], "next": 0}) for _ in range(9)))
    with pytest.raises(Unintelligible, match="no end"):
        client.answer("R")
    assert len(asked) == 3


def test_nobody_under_a_number_is_no_error():
    """But a refusal is."""
    client, _ = authority(
        told({}, 404), told({"problem": "not yours"}, 403), told({"number": "M1"})
    )
    assert client.look_up("M9") is None
    with pytest.raises(Refused):
        client.look_up("M8")
    assert client.look_up("M1") == {"number": "M1"}


def test_state_is_counted():
    """What is missing counts as nothing."""
    client, _ = authority(told({"state": "working", "done": 3, "total": 9}), told({}))
    assert client.state("R") == ("working", 3, 9)
    assert client.state("R") == ("", 0, 0)
