"""Open a submission: who is in it, where everybody stands, what is known to be wrong before it
is sent.
"""

from __future__ import annotations

import json
from collections import Counter, defaultdict
from dataclasses import dataclass, field, replace
from itertools import groupby
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.conditions import holds
from nevefield.core.masking import COVER, cover_snapshot, sensitive_fields
from nevefield.core.states import RoundState
from nevefield.core.submitting.layout import Layout, read_layout, write_records
from nevefield.core.submitting.published import Published, find_known, read_published, root_rules
from nevefield.core.submitting.standing import Decision, Line, Policy, Standing, Tally, count, stand
from nevefield.rosters.snapshots import Cache, load_definition, load_snapshot
from nevefield.store import records as record_store
from nevefield.store import rosters as roster_store
from nevefield.store import submissions as store
from nevefield.submissions.errors import NoSuchSubmission, WrongDecision

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping, Sequence
    from datetime import date, datetime

    from nevefield.context import Context
    from nevefield.core.snapshot import Snapshot
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster
    from nevefield.store.submissions import Round, StepRow, Submission

__all__ = [
    "Changed",
    "OpenSubmission",
    "RoundTold",
    "answered_at",
    "find_places",
    "last_changed",
    "list_submissions",
    "load_submission",
    "open_submission",
    "open_with_rounds",
    "outcomes_by_round",
    "parts_of",
    "places_on",
    "ready_of",
    "references",
    "require_open",
    "title_of",
]

ON_WAY = "on its way"
# not answered, or not taken in to its end
UNDER_WAY = (
    RoundState.BUILT,
    RoundState.SENT,
    RoundState.ANSWERED,
    RoundState.TAKEN,
    RoundState.BYHAND,
)
_OPEN = Cache(6)
TRIES = 5  # to find a moment at which nothing ends between two looks


@dataclass(frozen=True)
class OpenSubmission:
    """A submission as it stands."""

    submission: Submission
    roster: Roster
    snapshot: Snapshot
    layout: Layout
    published: Published
    records: tuple[int, ...]  # by number
    # record -> its place in the roster; those who have left it are not there
    place: Mapping[int, int]
    # record -> in the authority's layout, as the roster has it now
    rows: Mapping[int, dict[str, str]]
    lines: Mapping[int, Line]  # record -> what was answered of it last
    steps: Mapping[int, StepRow]  # record -> what was decided of it last
    broken: Mapping[str, tuple[int, ...]]  # rule -> records that are known to break it as they are
    standings: Mapping[int, Standing]
    tally: Tally
    told: Mapping[int, RoundTold]  # by round that was answered
    joining: tuple[int, ...]  # records that belong into it by now and are not in it
    listed: Sequence[store.LineRow]  # everything that was answered, in the order of the rounds
    # record -> changes of theirs that were asked for, the last last
    requests: Mapping[int, tuple[StepRow, ...]]
    # record -> the round that it was sent in, or is about to be, and that has no answer yet
    on_way: Mapping[int, int]

    def why(self, record: int) -> str:
        """Say why a record stands where it does, or that it is on its way."""
        number = self.on_way.get(record)
        return f"{ON_WAY} in round {number}" if number is not None else self.standings[record].why

    @property
    def ready(self) -> list[int]:
        """The records that the next round takes."""
        return [record for record in self.records if self.standings[record].is_sendable]

    def kind_of(self, record: int) -> str:
        """Say what the next round sends a record as.

        first; corrected (it was rejected, and differs now); changes (theirs is asked to change);
        numbers; changed (it was accepted, and the roster has changed since); again (the answer said
        nothing of it, or it goes as it was).
        """
        line, step, standing = (
            self.lines.get(record),
            self.steps.get(record),
            self.standings[record],
        )
        if line is None:
            return "first"
        if step is not None and step.kind == "right" and step.after_round >= line.round:
            return "changes"
        if standing.asked:
            return "numbers"
        if line.outcome in ("accepted", "warned"):
            return "changed"
        return (
            "corrected" if standing.moved and line.outcome in ("rejected", "to number") else "again"
        )

    def told_of(self, number: int) -> list[store.LineRow]:
        """List what was answered in a round, by its number."""
        return [line for line in self.listed if line.round == number]

    def roots(self, record: int) -> list[str]:
        """List the rules by which a record was rejected, without mere consequences."""
        line = self.lines.get(record)
        rejecting = (
            [rule for rule in line.rules if self.published.rule(rule).weight == "reject"]
            if line
            else []
        )
        return root_rules(self.published, rejecting)

    def rejected(self) -> dict[str, list[int]]:
        """List by rule the rejected records there is something to do about; the most first."""
        found: dict[str, list[int]] = defaultdict(list)
        for record in self.records:
            if self.standings[record].state == "rejected":
                for rule in self.roots(record):
                    found[rule].append(record)
        return dict(sorted(found.items(), key=lambda item: (-len(item[1]), item[0])))

    def following(self) -> dict[str, int]:
        """Count by rule the rejected records of which it is a mere consequence."""
        counter: Counter[str] = Counter()
        for record in self.records:
            if self.standings[record].state == "rejected":
                counter.update(set(self.lines[record].rules) - set(self.roots(record)))
        return {
            rule: size
            for rule, size in sorted(counter.items())
            if self.published.rule(rule).weight == "reject"
        }

    def warned(self) -> dict[str, list[int]]:
        """List by rule the records with warnings that nobody let pass."""
        found: dict[str, list[int]] = defaultdict(list)
        for record in self.records:
            line, step = self.lines.get(record), self.steps.get(record)
            is_let = (
                step is not None
                and step.kind == "pass"
                and line is not None
                and step.after_round >= line.round
            )
            for rule in line.rules if line is not None and not is_let else ():
                if self.published.rule(rule).weight == "warn":
                    found[rule].append(record)
        return dict(sorted(found.items()))


def list_submissions(context: Context) -> list[Submission]:
    """List the submissions of the rosters that may be seen."""
    with context.database.transaction() as connection:
        return store.list_submissions(connection)


def title_of(context: Context, number: int | None) -> str:
    """Tell the title of a submission; "" where there is none, or none that may be seen."""
    if number is None:
        return ""
    with context.database.transaction() as connection:
        submission = store.get_submission(connection, number)
    return submission.title if submission is not None else ""


def answered_at(context: Context, submission_id: int, number: int) -> datetime | None:
    """Tell when a round was answered; None when it was not."""
    with context.database.transaction() as connection:
        rounds = store.list_rounds(connection, submission_id)
    return next((round_.answered_at for round_ in rounds if round_.number == number), None)


@dataclass(frozen=True)
class Changed:
    """What gave a field its value."""

    change_set: int
    title: str
    by: str
    line: int | None


def last_changed(context: Context, record: int) -> dict[str, Changed]:
    """Find by field what gave each value of a record that it has had."""
    found: dict[str, Changed] = {}
    before: dict[str, Any] = {}
    with context.database.transaction() as connection:
        life = record_store.list_life(connection, record)
    for version, change_set, _, by in life:
        values = json.loads(version.content)
        for name in {*values, *before}:
            if values.get(name) != before.get(name):
                found[name] = Changed(change_set.id, change_set.title, by, version.line)
        before = values
    return found


def load_submission(connection: Connection, number: int) -> Submission:
    """Find a submission.

    Raises:
        NoSuchSubmission: There is none.
    """
    submission = store.get_submission(connection, number)
    if submission is None:
        raise NoSuchSubmission(number)
    return submission


def require_open(submission: Submission) -> Submission:
    """See that a submission was not closed.

    Raises:
        WrongDecision: It was.
    """
    if submission.closed_at is not None:
        raise WrongDecision("This submission is closed. Open it again, then it goes on.")
    return submission


def find_places(snapshot: Snapshot, chosen: Any, submission: Submission) -> np.ndarray:
    """Find the places of the records of which a submission's condition holds on its day."""
    return places_on(snapshot, chosen, submission.day)


def places_on(snapshot: Snapshot, chosen: Any, day: date) -> np.ndarray:
    """Find the places of the records of which a condition holds on a day; all for no condition."""
    if chosen is None:
        return np.arange(len(snapshot))
    return np.flatnonzero(holds(chosen, lambda name: snapshot.columns[name], len(snapshot), day))


def open_submission(context: Context, number: int) -> OpenSubmission:
    """Open a submission as it may be seen; worked out once for as long as neither it nor the roster
    changes.

    Args:
        context: Database and clock.
        number: Of the submission.

    Raises:
        NoSuchSubmission: There is none.
    """
    with context.database.transaction() as connection:
        submission = load_submission(connection, number)
        roster = roster_store.get_roster_by_id(connection, submission.roster_id)
        if roster is None:
            raise NoSuchSubmission(number)
        key = (
            context.settings.database_url,
            number,
            submission.touched,
            roster.version,
            roster.definition,
            roster.erased,
        )
        opened: OpenSubmission = _OPEN.get(
            key, lambda: _work_out(connection.whole(), submission, roster)
        )
        return _cover(opened) if connection.sight.covers(roster.id) else opened


def _cover(opened: OpenSubmission) -> OpenSubmission:
    """Cover kept fields, in our words and in those of the authority."""
    kept = sensitive_fields(opened.snapshot.definition)
    layout = opened.layout
    theirs = {
        put.to for put in (layout.reference, layout.number, *layout.puts) if put.source in kept
    }

    def cover(row: Mapping[str, Any]) -> dict[str, Any]:
        return {name: COVER if name in theirs and value else value for name, value in row.items()}

    def cover_line(line: Line) -> Line:
        number = COVER if line.number and layout.number.to in theirs else line.number
        held = cover(line.held) if line.held else line.held
        return replace(
            line,
            sent=cover(line.sent),
            number=number,
            held=held,
            candidates=({},) * len(line.candidates),
        )

    return replace(
        opened,
        snapshot=cover_snapshot(opened.snapshot),
        rows={record: cover(row) for record, row in opened.rows.items()},
        lines={record: cover_line(line) for record, line in opened.lines.items()},
        listed=[
            replace(line, sent={}, told={"rules": line.told.get("rules", ())})
            for line in opened.listed
        ],
    )


def open_with_rounds(context: Context, number: int) -> tuple[OpenSubmission, list[Round]]:
    """Open a submission and its rounds as they are at one and the same moment.

    A round that ends between the two would else be told as ended beside where the records stood
    before.

    Args:
        context: Database and clock.
        number: Of the submission.

    Raises:
        NoSuchSubmission: There is none.
    """
    for _ in range(TRIES):
        opened = open_submission(context, number)
        with context.database.transaction() as connection:
            rounds = store.list_rounds(connection, number)
            touched = load_submission(connection, number).touched
        if touched == opened.submission.touched:
            break
    return opened, rounds


def _work_out(connection: Connection, submission: Submission, roster: Roster) -> OpenSubmission:
    snapshot = load_snapshot(connection, roster)
    definition = load_definition(connection, roster)
    layout = read_layout(submission.layout, definition.by_name)
    published = read_published(submission.published)
    records = tuple(store.list_records(connection, submission.id))
    where = snapshot.places()
    there = [record for record in records if record in where]
    written = write_records(
        layout, snapshot, np.array([where[record] for record in there], np.intp)
    )
    rows = dict(zip(there, written, strict=True))
    listed = store.list_lines(connection, submission.id)
    answered = {(line.round, line.record) for line in listed}
    lines = {line.record: _line(line) for line in listed}
    decided = store.list_steps(connection, submission.id)
    steps = {step.record: step for step in decided}
    requests: dict[int, list[StepRow]] = defaultdict(list)
    for step in decided:
        if step.kind == "right":
            requests[step.record].append(step)
    broken = {
        rule: tuple(there[place] for place in some)
        for rule, some in find_known(published, written, submission.day).items()
    }
    rejecting = _rejecting(published, broken)
    policy = Policy(submission.policy.get("none") == "new", submission.policy.get("one"))
    standings = {
        record: stand(
            layout,
            lines.get(record),
            _decision(steps.get(record)),
            rows.get(record),
            rejecting.get(record, ()),
            policy,
        )
        for record in records
    }
    inside = find_places(snapshot, submission.chosen, submission)
    known = set(records)
    joining = tuple(int(one) for one in snapshot.ids[inside].tolist() if one not in known)
    tally = count(len(records), (standing.state for standing in standings.values()))
    return OpenSubmission(
        submission,
        roster,
        snapshot,
        layout,
        published,
        records,
        where,
        rows,
        lines,
        steps,
        broken,
        standings,
        tally,
        outcomes_by_round(listed),
        joining,
        listed,
        {record: tuple(some) for record, some in requests.items()},
        _find_on_way(
            connection,
            submission.id,
            layout.reference.to,
            references(layout, rows, lines),
            answered,
        ),
    )


def references(
    layout: Layout, rows: Mapping[int, Mapping[str, str]], lines: Mapping[int, Line]
) -> dict[str, int]:
    """Find records by the reference that they are sent under, of those that have left the roster
    the one that they were.
    """
    name = layout.reference.to
    found = {row[name]: record for record, row in rows.items()}
    return found | {line.sent.get(name, ""): record for record, line in lines.items()}


def _find_on_way(
    connection: Connection,
    submission_id: int,
    reference: str,
    refs: Mapping[str, int],
    answered: Collection[tuple[int, int]],
) -> dict[int, int]:
    """List the records that a round is sending and has no answer to, with its number; once it is
    taken in, none is on its way.
    """
    found: dict[int, int] = {}
    for round_ in store.list_rounds(connection, submission_id):
        if round_.state in UNDER_WAY and round_.state != RoundState.TAKEN:
            sent = json.loads(store.get_body(connection, round_.id))["records"]
            mine = (refs[row[reference]] for row in sent if row.get(reference) in refs)
            found |= {
                record: round_.number for record in mine if (round_.number, record) not in answered
            }
    return found


def _line(row: store.LineRow) -> Line:
    return Line(
        row.round,
        row.sent,
        row.outcome,
        row.number,
        tuple(row.told.get("rules", ())),
        row.told.get("held"),
        tuple(row.told.get("candidates", ())),
    )


def _rejecting(published: Published, broken: Mapping[str, Collection[int]]) -> dict[int, list[str]]:
    """List by record the rules for which it would be rejected as it is."""
    found: dict[int, list[str]] = defaultdict(list)
    for rule, records in broken.items():
        if published.rule(rule).weight == "reject":
            for record in records:
                found[record].append(rule)
    return found


def _decision(step: StepRow | None) -> Decision | None:
    return (
        Decision(step.kind, step.value, step.reason, step.after_round) if step is not None else None
    )


def parts_of(opened: OpenSubmission, name: str) -> list[tuple[str, int, int, int]]:
    """Count by the values of a field the records that are accepted, all, and those that are
    ready; in the order of the values.
    """
    column = opened.snapshot.columns[name]
    found: dict[str, list[int]] = {}
    for record in opened.records:
        if record in opened.place:
            sizes = found.setdefault(column.at(opened.place[record]) or "", [0, 0, 0])
            sizes[0] += opened.standings[record].state == "accepted"
            sizes[1] += 1
            sizes[2] += opened.standings[record].is_sendable
    return [(value, done, size, ready) for value, (done, size, ready) in sorted(found.items())]


def ready_of(opened: OpenSubmission, part: tuple[str, str] | None) -> list[int]:
    """List the records that the next round takes: all that are ready, or those of a part: a field
    and its value.

    Raises:
        WrongDecision: The roster has no such field.
    """
    if part is None:
        return opened.ready
    name, value = part
    if name not in opened.snapshot.columns:
        raise WrongDecision(
            f"There is no field “{name}” in {opened.roster.title}; choose another part."
        )
    column = opened.snapshot.columns[name]
    return [
        number
        for number in opened.ready
        if number in opened.place and (column.at(opened.place[number]) or "") == value
    ]


@dataclass
class RoundTold:
    """What became of a round's records."""

    outcomes: Counter[str] = field(default_factory=Counter)
    # rejected in it and in one before: record, rules of both
    again: list[dict[str, Any]] = field(default_factory=list)
    # records that were rejected or without a number when it was answered, those of earlier rounds
    # too
    left: int = 0


def outcomes_by_round(lines: Sequence[store.LineRow]) -> dict[int, RoundTold]:
    """Say of each round that was answered, by its number, what became of its records.

    Args:
        lines: Of all rounds, in their order.
    """
    outcomes: dict[int, RoundTold] = {}
    last: dict[int, store.LineRow] = {}
    for number, some in groupby(lines, key=lambda line: line.round):
        told = outcomes[number] = RoundTold()
        for one in some:
            told.outcomes[one.outcome or "unanswered"] += 1
            before = last.get(one.record)
            if before is not None and before.outcome == one.outcome == "rejected":
                rules = {
                    "record": one.record,
                    "before": before.told.get("rules", []),
                    "now": one.told.get("rules", []),
                }
                told.again.append(rules)
            last[one.record] = one
        told.left = sum(line.outcome in ("rejected", "to number") for line in last.values())
    return outcomes
