"""Where records stand: always in one place, by what was decided last and after the answer; and
never a holder of several.
"""

from __future__ import annotations

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.submitting.forecast import rounds_left
from nevefield.core.submitting.layout import read_layout
from nevefield.core.submitting.standing import (
    DECISIONS,
    STATES,
    Decision,
    Line,
    Policy,
    count,
    stand,
)

LAYOUT = read_layout(
    {
        "reference": {"from": "no", "to": "REF"},
        "number": {"from": "mariner", "to": "MARINER", "asked": "NUMBER"},
        "fields": [{"to": "BORN", "from": "born"}],
    },
    ["no", "mariner", "born"],
)
ROWS = st.fixed_dictionaries(
    {
        "REF": st.just("1"),
        "MARINER": st.sampled_from(["", "M1", "M2"]),
        "NUMBER": st.just(""),
        "BORN": st.sampled_from(["2000-01-02", "2000-02-01"]),
    }
)
HOLDERS = st.lists(
    st.fixed_dictionaries(
        {"number": st.sampled_from(["M3", "M4", "M5"]), "score": st.integers(70, 100)}
    ),
    max_size=3,
)
LINES = st.builds(
    Line,
    st.integers(1, 3),
    ROWS,
    st.sampled_from(["accepted", "warned", "rejected", "to number", ""]),
    st.sampled_from(["", "M1"]),
    st.sampled_from([(), ("B3", "Z0")]),
    candidates=HOLDERS.map(tuple),
)
MADE = st.builds(
    Decision,
    st.sampled_from(DECISIONS),
    st.sampled_from(["M3", "NEW"]),
    st.just("why"),
    st.integers(0, 3),
)
RECORDS = st.tuples(
    st.none() | LINES, st.none() | MADE, st.none() | ROWS, st.sampled_from([(), ("H1",)])
)


@given(
    st.lists(RECORDS, max_size=8),
    st.builds(Policy, st.booleans(), st.none() | st.integers(80, 100).map(float)),
)
def test_one_place_each(records, policy):
    """Every record stands in one place; none that was never sent stands elsewhere; what is not
    ready is not sent.
    """
    found = [
        stand(LAYOUT, line, decision, now, broken, policy)
        for line, decision, now, broken in records
    ]
    assert count(len(records), (one.state for one in found)).adds_up
    for one, (line, _, now, _) in zip(found, records, strict=True):
        assert one.state in STATES
        assert (one.state == "not_sent") == (line is None)
        assert not one.is_sendable or (now is not None and one.state in ("ready", "not_sent"))
        if (
            one.asked not in ("", "NEW", "QUESTION")
            and line is not None
            and len(line.candidates) > 1
        ):
            assert "policy" not in one.why, "of several nobody is taken without asking"


@given(LINES, MADE, ROWS)
def test_answered_decisions_are_spent(line, decision, now):
    """What was decided before the last answer counts no more, but for keeping back; after it, it
    counts.
    """
    if decision.kind in ("hold", "let"):
        return
    spent = replace(decision, round=line.round - 1)
    assert stand(LAYOUT, line, spent, now) == stand(LAYOUT, line, None, now)


@given(LINES, ROWS)
def test_the_roster_is_looked_at(line, now):
    """A rejected record is ready again once the roster differs from what was sent, and only then
    or by a decision.
    """
    rejected = replace(line, outcome="rejected")
    moved = any(now[name] != rejected.sent[name] for name in ("REF", "BORN"))
    moved |= now["MARINER"] not in (rejected.sent["MARINER"], rejected.number)
    assert stand(LAYOUT, rejected, None, now).state == ("ready" if moved else "rejected")


@given(st.lists(st.integers(0, 500), max_size=6))
def test_forecast_ends(left):
    """A forecast says when it ends or nothing; what is all done needs no round."""
    rounds = rounds_left(left)
    assert rounds is None or rounds >= 0
    if left and left[-1] == 0:
        assert rounds == 0


@given(LINES, ROWS, st.sampled_from(["right", "question"]))
def test_no_dead_end(line, now, kind):
    """A record that breaks a known rule was let, was rejected, and is decided: it goes, without
    being let once more.
    """
    rejected = replace(line, outcome="rejected")
    found = stand(LAYOUT, rejected, Decision(kind, reason="why", round=line.round), now, ("H1",))
    assert (found.state, found.is_sendable) == ("ready", True)
