"""The keys by which somebody works."""

from __future__ import annotations

import pytest

from tests.conftest import APPROVES, LOOKS


def put(own, single, changed):
    return own.send("PUT", "/api/session/keys", json={"single": single, "changed": changed})


def test_keys_are_kept_for_the_account(browser):
    """Whoever signs in anywhere finds their keys; nobody else has them."""
    own = browser(LOOKS)
    assert own.get("/api/session")["keys"] == {"single": True, "changed": {}}
    assert put(own, False, {"h": "j", "n": "ß"}).status_code == 200
    assert browser(LOOKS).get("/api/session")["keys"] == {
        "single": False,
        "changed": {"h": "j", "n": "ß"},
    }
    assert browser(APPROVES).get("/api/session")["keys"]["changed"] == {}
    assert put(own, True, {}).status_code == 200


@pytest.mark.parametrize(
    ("changed", "said"),
    [
        ({"h": "jj"}, "not “jj”"),
        ({"h": ""}, "one letter"),
        ({"h": " "}, "one letter"),
        ({"h": "\u0007"}, "one letter"),
        ({"h": "j", "l": "J"}, "would do two things"),
        ({chr(200 + place): chr(300 + place) for place in range(41)}, "At most 40"),
    ],
)
def test_keys_that_cannot_be(browser, changed, said):
    """What is no key, or would be two things, is refused and changes nothing."""
    own = browser(LOOKS)
    answer = put(own, True, changed)
    assert answer.status_code == 422
    assert said in answer.json["detail"]
    assert own.get("/api/session")["keys"] == {"single": True, "changed": {}}
