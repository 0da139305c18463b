"""Where every record of a submission stands, from what was sent and answered, what was decided
since, and the roster as it is.

Each record stands in exactly one place; the places add up to the records. Nothing of it is kept: it
is worked out when asked.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.submitting.layout import means_same

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping, Sequence

    from nevefield.core.submitting.layout import Layout

__all__ = [
    "DECISIONS",
    "NEW",
    "QUESTION",
    "STATES",
    "Decision",
    "Line",
    "Policy",
    "Standing",
    "Tally",
    "count",
    "stand",
]

STATES = ("accepted", "to_number", "ready", "rejected", "not_sent")
# What somebody may decide of a record: that ours is right (asked of the authority), that the number
# is not this person's, which number it is, to let what is known send it all the same, to keep it
# back, to let a warning be; or to take that back.
DECISIONS = ("right", "question", "number", "let", "hold", "pass", "clear")
NEW, QUESTION = "NEW", "QUESTION"


@dataclass(frozen=True)
class Line:
    """What was sent of a record in a round, and what came back."""

    round: int
    sent: Mapping[str, str]
    outcome: str  # accepted, warned, rejected, to number; "" when the answer says nothing of it
    number: str = ""
    rules: tuple[str, ...] = ()
    held: Mapping[str, str] | None = None  # the authority's own record
    candidates: tuple[Mapping[str, Json], ...] = ()


@dataclass(frozen=True)
class Decision:
    """What somebody decided of a record."""

    kind: str  # of DECISIONS
    value: str = ""  # number: the number, or NEW
    reason: str = ""
    round: int = 0  # the last round that was answered then


@dataclass(frozen=True)
class Policy:
    """What is decided without asking: a new number where nobody is near, the only holder from a
    score on. Never of several.
    """

    none: bool = False
    one: float | None = None


@dataclass(frozen=True)
class Standing:
    """Where a record stands."""

    state: str  # of STATES
    is_sendable: bool  # whether the next round takes it
    asked: str = ""  # what the next round asks of its number: "", NEW, QUESTION, or a number
    why: str = ""  # why it is ready, or stays behind
    # the authority's fields in which the roster differs from what was sent
    moved: tuple[str, ...] = ()


@dataclass(frozen=True)
class Tally:
    """Where all records stand."""

    records: int
    accepted: int
    to_number: int
    ready: int
    rejected: int
    not_sent: int

    @property
    def adds_up(self) -> bool:
        """Whether every record stands in one place."""
        return (
            self.records
            == self.accepted + self.to_number + self.ready + self.rejected + self.not_sent
        )


def count(records: int, states: Iterable[str]) -> Tally:
    """Count where records stand, against how many there are by another count."""
    counter = Counter(states)
    return Tally(records, *(counter[name] for name in STATES))


def stand(
    layout: Layout,
    line: Line | None,
    decision: Decision | None,
    now: Mapping[str, str] | None,
    broken: Sequence[str] = (),
    policy: Policy | None = None,
) -> Standing:
    """Say where a record stands.

    Args:
        layout: Ours for the authority.
        line: The last that was answered of it; None when it was never sent.
        decision: The last about it; what was decided before the line's round counts no more, but
            for keeping it back.
        now: The record in the layout as the roster has it; None when it has left.
        broken: Numbers of rejecting rules that it is known to break as it is.
        policy: What is decided without asking.
    """
    if decision is not None and decision.kind == "clear":
        decision = None
    held = decision is not None and decision.kind == "hold"
    # Who has said since the answer that ours is right, or whose number it is, means it to go,
    # whatever it is known to break.
    is_fresh = decision is not None and line is not None and decision.round >= line.round
    let = decision is not None and (
        decision.kind == "let" or (is_fresh and decision.kind in ("right", "question", "number"))
    )
    if now is None:
        state = (
            "not_sent"
            if line is None
            else "accepted"
            if line.outcome in ("accepted", "warned")
            else "rejected"
        )
        return Standing(state, False, why="has left the roster")
    if held:
        return Standing(_rest(line), False, why=f"kept back: {decision.reason}" if decision else "")
    if line is None:
        if broken and not let:
            return Standing("not_sent", False, why=f"breaks {', '.join(broken)}")
        return Standing("not_sent", True)
    fresh = decision if decision is not None and decision.round >= line.round else None
    moved = tuple(
        name
        for name in layout.names
        if name != layout.asked and _has_moved(layout, line, now, name)
    )
    state, asked, why = _after(layout, line, fresh, moved, now, policy or Policy())
    if state == "ready" and broken and not let:
        return Standing(_rest(line), False, why=f"breaks {', '.join(broken)}", moved=moved)
    return Standing(state, state == "ready", asked, why, moved)


def _rest(line: Line | None) -> str:
    """Say where a record stands that does not go on."""
    if line is None:
        return "not_sent"
    return {"accepted": "accepted", "warned": "accepted", "to number": "to_number"}.get(
        line.outcome, "rejected"
    )


def _has_moved(layout: Layout, line: Line, now: Mapping[str, str], name: str) -> bool:
    ours, sent = now.get(name, ""), line.sent.get(name, "")
    if name == layout.number.to and ours == line.number:
        return False  # it is the number that the authority gave
    return not means_same(ours, sent)


def _after(
    layout: Layout,
    line: Line,
    fresh: Decision | None,
    moved: tuple[str, ...],
    now: Mapping[str, str],
    policy: Policy,
) -> tuple[str, str, str]:
    """Say where a record stands that was answered: its place, what is asked of its number, and
    why.
    """
    if line.outcome in ("accepted", "warned"):
        return ("ready", "", "the roster has changed since") if moved else ("accepted", "", "")
    if line.outcome == "to number":
        return _number_of(layout, line, fresh, moved, now, policy)
    if fresh is not None and fresh.kind == "question":
        return "ready", QUESTION, "the number is questioned"
    if fresh is not None and fresh.kind == "right":
        return "ready", "", "ours is right: asked to change theirs"
    if moved:
        return "ready", "", "corrected"
    return (
        ("rejected", "", "")
        if line.outcome == "rejected"
        else ("ready", "", "the answer said nothing of it")
    )


def _number_of(
    layout: Layout,
    line: Line,
    fresh: Decision | None,
    moved: tuple[str, ...],
    now: Mapping[str, str],
    policy: Policy,
) -> tuple[str, str, str]:
    # A number that was questioned is in the roster still; another one there counts.
    if layout.number.to in moved and now.get(layout.number.to):
        return "ready", "", "the roster has a number now"
    if fresh is not None and fresh.kind == "number":
        return (
            "ready",
            fresh.value,
            "a new number" if fresh.value == NEW else f"the number {fresh.value}",
        )
    if not line.candidates and policy.none:
        return "ready", NEW, "nobody is near: a new number, by policy"
    if (
        len(line.candidates) == 1
        and policy.one is not None
        and float(line.candidates[0]["score"]) >= policy.one
    ):
        return "ready", str(line.candidates[0]["number"]), "the only holder, by policy"
    return "to_number", "", ""
