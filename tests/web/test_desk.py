"""The desk through the API: what is due first stands first, with how much there is to settle and
whose hands are on it.
"""

from __future__ import annotations

from datetime import timedelta

from tests.conftest import APPROVES, LOOKS, PREPARES

ROWS = b"Cadet number,Family name,Given names,Date of birth\n"


def test_what_is_due_first_stands_first(browser, desk, joiners, truth):
    """Among all that is open, whatever weighs more: what is due tomorrow before what is due in a
    week, what is over before both, and what is due on no day last; taken off again it is last.
    """
    own = browser(PREPARES)
    today = desk.today()
    days = {
        own.drop(joiners).json["intake"]: days
        for days in (timedelta(7), None, timedelta(-1), timedelta(1))
    }
    for intake, due in days.items():
        day = due and (today + due).isoformat()
        answer = own.send("PUT", f"/api/intakes/{intake}/due", json={"day": day})
        assert answer.json == {"day": day}
        own.get(f"/api/intakes/{intake}/causes")  # it is worked out when it is looked at
        assert own.get(f"/api/intakes/{intake}")["due"] == day
    items = [one for one in own.get("/api/desk")["open"] if "stopped" in one["lead"]]
    assert [one["days"] for one in items] == [-1, 1, 7, None]
    assert all(f"{truth['tally']['stopped']} rows stopped" == one["lead"] for one in items)
    everything = own.get("/api/desk")["open"]
    assert [one["days"] for one in everything if one["due"]] == sorted(
        one["days"] for one in everything if one["due"]
    )
    first = next(intake for intake, due in days.items() if due == timedelta(-1))
    own.send("PUT", f"/api/intakes/{first}/due", json={"day": None})
    items = [one for one in own.get("/api/desk")["open"] if "stopped" in one["lead"]]
    assert [one["days"] for one in items] == [1, 7, None, None]


def test_how_much_and_whose(browser, joiners, truth):
    """How many causes stop rows, how far the largest goes, and who made the last step: oneself is
    “you”. Who may only look says nothing of days.
    """
    own, other = browser(PREPARES), browser(APPROVES)
    intake = own.drop(joiners).json["intake"]
    causes = [
        one
        for one in own.get(f"/api/intakes/{intake}/causes")["causes"]
        if one["weight"] == "stop" and not one["follows"]
    ]
    step = {"kind": "hold", "lines": [6], "reason": "asked the office"}
    assert own.send("POST", f"/api/intakes/{intake}/steps", json={"step": step}).status_code == 201
    own.get(f"/api/intakes/{intake}")

    def detail(who) -> str:
        return next(
            one["detail"] for one in who.get("/api/desk")["open"] if "stopped" in one["lead"]
        )

    largest = max(one["rows"] for one in causes)
    settle = f"{len(causes)} causes; the largest has {largest} of them"
    assert detail(own) == f"{settle} · you are on it"
    assert detail(other).startswith(f"{settle} · ")
    assert detail(other).endswith(" is on it")
    looks = browser(LOOKS).send("PUT", f"/api/intakes/{intake}/due", json={"day": "2026-12-01"})
    assert looks.status_code == 403
    wrong = own.send("PUT", f"/api/intakes/{intake}/due", json={"day": "soon"})
    assert wrong.status_code == 422
    assert own.get(f"/api/intakes/{intake}")["due"] is None
