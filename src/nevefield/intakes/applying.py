"""Apply an intake: the plan that was looked at, in one transaction, with a receipt read back
from the database.
"""

from __future__ import annotations

import time
from typing import TYPE_CHECKING, Any

import numpy as np

from nevefield.core.changes.acts import acts_of, digest_acts
from nevefield.core.changes.ending import find_ends
from nevefield.core.changes.guards import guards_of
from nevefield.core.changes.plan import plan_changes
from nevefield.core.changes.taking import taken_away
from nevefield.core.checking.causes import iter_findings
from nevefield.core.keeping import keep_moment
from nevefield.core.people.recognising import likeness_of
from nevefield.core.tally import HELD, LEFT_OUT, OUTCOMES, SAME, count_outcomes
from nevefield.intakes.errors import NeedsNumber, NeedsYes, NothingToApply, NotThrown, OutOfDate
from nevefield.intakes.evaluating import Opened, open_intake
from nevefield.intakes.moving import does_the_same
from nevefield.intakes.sources import learn_from
from nevefield.intakes.waivers import keep_waivers
from nevefield.rosters.errors import (
    NeedsAgreement,
    NoSuchChangeSet,
    NotAgreed,
    NotReconciled,
    NotScheduled,
    RosterMoved,
)
from nevefield.rosters.undoing import take_back_records
from nevefield.rosters.writing import alter_roster
from nevefield.store import intakes as store
from nevefield.store import jobs as job_store
from nevefield.store import records as record_store
from nevefield.store.proposals import decide_proposal, finish_proposal, get_proposal
from nevefield.store.said import replace_said
from nevefield.store.scheduled import call_off, finish_scheduled, get_scheduled, lock_scheduled
from nevefield.store.writing import OutcomeRow, Write, insert_outcomes

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.context import Context
    from nevefield.core.changes.plan import Plan
    from nevefield.core.checking.causes import Cause
    from nevefield.core.evaluate import Evaluation
    from nevefield.rosters.undoing import Choice
    from nevefield.store.connection import Connection

__all__ = [
    "altered_by",
    "apply_intake",
    "messages_by_row",
    "raised_by",
    "request_apply",
    "require_agreed",
    "require_fit",
    "take_back",
    "waits_of",
]

# seconds before it is worked out again on a roster that does not stand still
REPEATS = (0.0, 0.05, 0.1, 0.2, 0.4, 0.8, 1.6, 3.2)


def request_apply(
    context: Context,
    intake_id: int,
    steps: int,
    roster_version: int,
    account_id: int | None,
    typed: int | None = None,
) -> tuple[int, int]:
    """Queue the applying of a plan that somebody looked at.

    Args:
        context: Database and clock.
        intake_id: The intake.
        steps: Its number of steps as looked at.
        roster_version: The roster's version as looked at.
        account_id: Who.
        typed: The number of rows as somebody typed it, where so much changes that it is asked for.

    Returns:
        The job's number, or 0 and the change set's number when exactly this was applied before.

    Raises:
        OutOfDate, RosterMoved, NothingToApply: The plan is another by now, or does nothing.
        NeedsNumber: So much changes that the number must be typed.
        NeedsAgreement: A second account has to agree first.
    """
    with context.database.transaction() as connection:
        done = record_store.get_change_set_of(connection, intake_id, steps)
    if done is not None:
        return 0, done.id
    opened = open_intake(context, intake_id)
    require_fit(context, opened, steps, roster_version, typed)
    if why := opened.evaluation.definition.approval.why(
        opened.evaluation.altering, raised_by(opened.evaluation)
    ):
        raise NeedsAgreement(why)
    with context.database.transaction() as connection:
        store.lock_intake(connection, intake_id)  # so that two clicks at once queue one job
        for job in job_store.list_running(connection, "apply"):
            if job.arguments["intake"] == intake_id:
                return job.id, 0
        arguments = {"intake": intake_id, "steps": steps, "version": roster_version}
        return (
            job_store.insert_job(
                connection, "apply", opened.roster.id, arguments, account_id, context.now()
            ),
            0,
        )


def require_fit(
    context: Context, opened: Opened, steps: int, roster_version: int, typed: int | None
) -> None:
    """See that an intake's plan does what was looked at, that this is something, and that it is
    meant.

    Raises:
        OutOfDate, RosterMoved, NothingToApply, NeedsYes, NeedsNumber: When not.
    """
    _require_same(context, opened, steps, roster_version)
    number = opened.evaluation.altering
    if not number:
        raise NothingToApply
    if typed != number and (said := guards_of(opened.evaluation)):
        raise NeedsNumber(said, number)


def raised_by(evaluation: Evaluation) -> int:
    """Count the rows that go in with a privilege above the lowest that their record did not
    have.
    """
    rows = [cause.hit.rows for cause in evaluation.causes if cause.hit.check == "raised"]
    going = np.unique(np.concatenate(rows)) if rows else np.zeros(0, np.intp)
    return int(evaluation.going[going].sum())


def altered_by(evaluation: Evaluation) -> dict[str, int]:
    """Count what applying would do to the roster."""
    absences = evaluation.absences.counts()
    tally = evaluation.ready
    ended = absences["end"] + len(evaluation.absences.beside)
    return {
        "joined": tally.new,
        "changed": tally.changed,
        "ended": ended,
        "left": absences["leave"],
    }


def _require_same(context: Context, opened: Opened, steps: int, version: int | None) -> None:
    if opened.intake.thrown_at is not None:
        raise NotThrown("this file was thrown away; take it back first")
    if len(opened.steps) != steps:
        raise OutOfDate(steps, len(opened.steps))
    moved = version is not None and opened.roster.version != version
    if version is not None and moved and not does_the_same(context, opened.intake.id, version):
        raise RosterMoved(version, opened.roster.version)
    if whole := waits_of(opened.evaluation):
        raise NeedsYes([one.hit.title for one in whole])


def waits_of(evaluation: Evaluation) -> list[Cause]:
    """List what about groups and the whole file is not settled: nothing is applied before."""
    return [
        cause
        for cause in evaluation.causes
        if cause.hit.whole and cause.is_open and cause.hit.weight != "note"
    ]


def apply_intake(
    context: Context,
    intake_id: int,
    steps: int,
    roster_version: int | None,
    account_id: int | None,
    progress: Callable[[str, int, int], None] = lambda doing, done, total: None,
    proposal: int | None = None,
    scheduled: int | None = None,
) -> int:
    """Apply an intake: all of its plan or nothing; doing it twice does nothing the second time.

    Where the roster moved since the plan was looked at, it is worked out again: when it does the
    same to the same records, it is applied to the roster as it is, and the receipt says so.

    Args:
        context: Database and clock.
        intake_id: The intake.
        steps: Its number of steps as looked at.
        roster_version: The roster's version as looked at; None for the one that it has now, where
            it was put off to a day.
        account_id: Who.
        progress: Hears how far it is.
        proposal: The number of the proposal that a second account agreed to.
        scheduled: The number under which it was put off to this day.

    Returns:
        The change set's number.

    Raises:
        RosterMoved: It does something else by now, or the roster does not stand still.
        NeedsAgreement: A second account has to agree first, or did not agree to this.
    """
    with context.database.transaction() as connection:
        done = record_store.get_change_set_of(connection, intake_id, steps)
    if done is not None:
        return done.id
    last: RosterMoved | None = None
    for pause in REPEATS:
        time.sleep(pause)
        progress("Working out the changes", 0, 0)
        opened = open_intake(context, intake_id)
        _require_same(context, opened, steps, roster_version)
        try:
            return _apply(
                context, opened, steps, roster_version, account_id, progress, proposal, scheduled
            )
        except RosterMoved as moved:  # between looking at it and locking it
            last = moved
    raise last or RosterMoved(roster_version or 0, 0)


def _apply(
    context: Context,
    opened: Opened,
    steps: int,
    roster_version: int | None,
    account_id: int | None,
    progress: Callable[[str, int, int], None],
    proposal: int | None,
    scheduled: int | None,
) -> int:
    intake_id = opened.intake.id
    evaluation = opened.evaluation
    plan = plan_changes(evaluation)
    if not len(plan):
        raise NothingToApply
    why = evaluation.definition.approval.why(len(plan), raised_by(evaluation))
    if why and proposal is None and scheduled is None:
        raise NeedsAgreement(why)
    record_of_row = _number_rows(context, evaluation, plan)
    with context.database.transaction() as connection:
        if scheduled is not None:
            proposal = _require_scheduled(
                connection, scheduled, digest_acts(acts_of(evaluation, plan))
            )
            if why and proposal is None:
                raise NeedsAgreement(why)
        elif proposal is not None:
            require_agreed(connection, proposal, plan.digest(evaluation.snapshot))
        change_set_id, version, receipt = alter_roster(
            context,
            connection,
            opened.roster,
            _writes_of(evaluation, plan, record_of_row),
            seen=opened.roster.version,
            kind="intake" if opened.intake.kind in ("file", "rules") else "hand",
            title=opened.intake.title,
            account_id=account_id,
            intake_id=intake_id,
            steps=steps,
            agreed=proposal is not None,
            progress=progress,
        )
        if proposal is not None and not finish_proposal(connection, proposal, change_set_id):
            raise NotAgreed("Somebody else has decided on this proposal meanwhile.")
        if scheduled is not None:
            finish_scheduled(connection, scheduled, change_set_id)
        else:
            call_off(connection, intake_id, "It was applied before its day.", account_id)
        for end in find_ends(evaluation):
            gaining = sorted({int(record_of_row[row]) for row in end.rows})
            ends = {
                "change_set": change_set_id,
                "day": end.day.isoformat(),
                "field": end.field,
                "codes": end.codes,
            }
            job_store.insert_job(
                connection,
                "end",
                opened.roster.id,
                ends | {"records": gaining},
                account_id,
                context.now(),
            )
        receipt["version"] = version
        if roster_version is not None and opened.roster.version != roster_version:
            receipt["looked_at"] = roster_version
        _keep_receipt(
            context, connection, opened, change_set_id, receipt, record_of_row, account_id
        )
        after = store.lock_intake(connection, intake_id) + 1
        records, counted = (
            _joined_without_key(evaluation, plan, record_of_row),
            _counted(evaluation),
        )
        step: dict[str, Any] = {
            "kind": "applied",
            "change_set": change_set_id,
            "records": records,
            "counted": counted,
        }
        step |= keep_moment(evaluation)
        store.insert_step(connection, intake_id, after, step, account_id, context.now())
    return change_set_id


def _number_rows(context: Context, evaluation: Evaluation, plan: Plan) -> np.ndarray:
    """Find each row's record by its number in the store; those who join get new ones."""
    joins = plan.records < 0
    with context.database.transaction() as connection:
        first = record_store.reserve_numbers(connection, int(joins.sum())) if joins.any() else 0
    ids = evaluation.snapshot.ids
    record_of_row = np.where(
        evaluation.known.record >= 0, ids[evaluation.known.record] if len(ids) else 0, 0
    )
    record_of_row[plan.rows[joins]] = first + np.arange(joins.sum())
    # rows that are one person are one record
    return np.asarray(record_of_row[evaluation.facts.joined.lead])


def _writes_of(evaluation: Evaluation, plan: Plan, record_of_row: np.ndarray) -> list[Write]:
    ids, joins = evaluation.snapshot.ids, plan.records < 0
    writes = [
        Write(number, document, line, is_new, keys)
        for number, document, line, is_new, keys in zip(
            record_of_row[plan.rows].tolist(),
            plan.documents,
            plan.lines.tolist(),
            joins.tolist(),
            plan.keys,
            strict=True,
        )
    ]
    writes += [Write(int(ids[record]), None) for record in plan.leaving.tolist()]
    ending = zip(plan.ending.tolist(), plan.ended, plan.ended_keys, strict=True)
    return writes + [
        Write(int(ids[record]), document, None, False, keys) for record, document, keys in ending
    ]


def _keep_receipt(
    context: Context,
    connection: Connection,
    opened: Opened,
    change_set_id: int,
    receipt: dict[str, Any],
    record_of_row: np.ndarray,
    account_id: int | None,
) -> None:
    """Keep where every line ended up, what was learnt and said, and the receipt with what was read
    back.

    Raises:
        NotReconciled: The lines' outcomes as they stand in the database are not the tally.
    """
    evaluation, intake = opened.evaluation, opened.intake
    counts = insert_outcomes(connection, change_set_id, _outcome_rows(evaluation, record_of_row))
    tally = count_outcomes(
        _outcomes_now(evaluation), len(evaluation.table), evaluation.tally.absent
    ).to_json()
    found = {name: int(counts.get(name, 0)) for name in OUTCOMES}
    if found != {name: tally[name] for name in OUTCOMES} or not evaluation.tally.adds_up:
        raise NotReconciled({name: tally[name] for name in OUTCOMES}, found)
    receipt |= {"tally": tally, "rows": found, "fields": _count_fields(evaluation)}
    title = evaluation.definition.title_of
    receipt["taken_away"] = {
        title(name): len(rows)
        for name in evaluation.changes
        if len(rows := taken_away(evaluation, name))
    }
    receipt |= {"absent": evaluation.absences.counts(), "coverage": evaluation.decisions.coverage}
    receipt["learnt"] = learn_from(
        context, connection, intake, opened.roster, evaluation, account_id
    )
    record_store.set_receipt(connection, change_set_id, receipt)
    keep_waivers(connection, opened, change_set_id, record_of_row)
    replace_said(
        connection, opened.roster.id, _said(evaluation, record_of_row), intake.id, context.now()
    )
    store.set_tally(
        connection,
        intake.id,
        evaluation.tally.to_json()
        | {"absent_held": evaluation.absences.counts()["hold"], "ready": 0},
    )


def _outcomes_now(evaluation: Evaluation) -> np.ndarray:
    """Give every row the outcome of this time: what went in earlier is the same."""
    return np.where(evaluation.is_in, np.int8(SAME), evaluation.outcomes)


def _joined_without_key(
    evaluation: Evaluation, plan: Plan, record_of_row: np.ndarray
) -> list[dict[str, int]]:
    """List who joined without a key by which the same file would know them again."""
    rows = plan.rows[plan.records < 0].tolist()
    keys = evaluation.facts.keys
    chosen = evaluation.decisions.people
    lines = evaluation.table.lines
    return [
        {"line": int(lines[row]), "record": int(record_of_row[row])}
        for row in rows
        if int(lines[row]) in chosen
        or all(any(evaluation.facts.value(row, name) is None for name in key) for key in keys)
    ]


def _counted(evaluation: Evaluation) -> dict[str, list[int]]:
    """List by field the lines that went in, for which something was added to or subtracted from
    what the roster had.
    """
    decisions = evaluation.decisions
    went_in = evaluation.table.lines[(evaluation.outcomes <= SAME) & ~evaluation.is_in].tolist()
    counted = {}
    for one in evaluation.definition.fields:
        if one.several:  # what is there already is not added again
            continue
        rule = decisions.rules.get(one.name) or one.rule
        single = decisions.row_rules.get(one.name, {})
        lines = [line for line in went_in if single.get(line, rule) in ("add", "remove")]
        if lines and one.name in evaluation.facts.typed:
            counted[one.name] = lines
    return counted


def _said(evaluation: Evaluation, record_of_row: np.ndarray) -> list[tuple[bytes, int, bool]]:
    """List what was said here of who is who: the record that a row is, and the candidates that
    it is not.
    """
    people, ids = evaluation.facts.people, evaluation.snapshot.ids
    said: list[tuple[bytes, int, bool]] = []
    for line in evaluation.decisions.people:
        row = evaluation.row_of(line)
        if (
            row is None
            or people is None
            or evaluation.outcomes[row] > SAME
            or evaluation.is_in[row]
        ):
            continue
        likeness = likeness_of(evaluation.definition, people.typed, row)
        if not likeness:
            continue
        own = int(evaluation.known.record[row])
        said.append((likeness, int(record_of_row[row]), True))
        said += [
            (likeness, int(ids[record]), False)
            for record, _, _ in people.candidates(row)
            if record != own
        ]
    return said


def _count_fields(evaluation: Evaluation) -> dict[str, int]:
    return {name: len(rows) for name, rows in evaluation.changes.items()}


def _outcome_rows(evaluation: Evaluation, record_of_row: np.ndarray) -> list[OutcomeRow]:
    messages = messages_by_row(evaluation)
    return [
        OutcomeRow(line, OUTCOMES[outcome], int(record) or None, messages.get(row, ""))
        for row, (line, outcome, record) in enumerate(
            zip(
                evaluation.table.lines.tolist(),
                _outcomes_now(evaluation).tolist(),
                record_of_row.tolist(),
                strict=True,
            )
        )
    ]


def messages_by_row(evaluation: Evaluation) -> dict[int, str]:
    """Word why rows did not go in, or why they go aside."""
    decisions = evaluation.decisions
    found: dict[int, list[str]] = {}
    for cause in evaluation.causes:
        if cause.hit.weight == "note" and not cause.hit.left_out:
            continue
        wanted = cause.open_rows if cause.hit.weight != "note" else cause.hit.rows
        for finding in iter_findings(cause, evaluation.facts, wanted):
            if evaluation.outcomes[finding.row] > SAME:
                found.setdefault(finding.row, []).append(finding.message)
    for row in np.flatnonzero(evaluation.outcomes >= HELD).tolist():
        line = int(evaluation.table.lines[row])
        reasons = decisions.held if evaluation.outcomes[row] == HELD else decisions.left_out
        if line in reasons:
            found[row] = [reasons[line]]
    changed: dict[int, list[str]] = {}
    for name, rows in evaluation.changes.items():
        for row in rows.tolist():
            changed.setdefault(row, []).append(evaluation.definition.title_of(name))
    for row, names in changed.items():
        if evaluation.going[row]:
            found[row] = [f"{', '.join(names)} changed."]
    return {
        row: " ".join(said) for row, said in found.items() if evaluation.outcomes[row] <= LEFT_OUT
    }


def require_agreed(connection: Connection, proposal_id: int, digest: str) -> None:
    """See, inside the transaction that does it, that a second account has agreed to exactly this.

    Raises:
        NotAgreed: It has not.
    """
    proposal = get_proposal(connection, proposal_id)
    if proposal is None or proposal.state != "agreed" or proposal.decided_by == proposal.account_id:
        raise NotAgreed("Nobody else has agreed to this. Nothing was changed.")
    if proposal.digest != digest:
        raise NotAgreed(
            "What was agreed to is not what would be done by now. Nothing was changed; it has to be"
            " proposed again."
        )


def _require_scheduled(connection: Connection, scheduled_id: int, digest: str) -> int | None:
    """See, inside the transaction that does it, that exactly this was put off; return the proposal
    that was agreed to.

    Raises:
        NotScheduled: It was called off, or what would be done today is another thing.
        NotAgreed: It was put off with a proposal that nobody else agreed to.
    """
    state = lock_scheduled(connection, scheduled_id)
    found = get_scheduled(connection, scheduled_id)
    if found is None or state != "due":
        raise NotScheduled("This does not wait any more: it was done, or called off.")
    if found.digest != digest:
        raise NotScheduled(
            "What it would do today is not what was put off to today: the roster, the codes or the"
            " definition changed meanwhile. Nothing was changed. Look at what it would do now, and"
            " apply it or put it off again."
        )
    if found.proposal_id is not None:
        proposal = get_proposal(connection, found.proposal_id)
        if (
            proposal is None
            or proposal.state != "agreed"
            or proposal.decided_by == proposal.account_id
        ):
            raise NotAgreed("Nobody else has agreed to this. Nothing was changed.")
    return found.proposal_id


def take_back(
    context: Context,
    change_set_id: int,
    account_id: int | None,
    *,
    choice: Choice | None = None,
    as_far: bool = False,
    proposal: int | None = None,
    digest: str = "",
) -> int:
    """Take a change set, or a part of it, back; the intake that it came from can be worked on and
    applied again.

    Args:
        context: Database and clock.
        change_set_id: Which.
        account_id: Who.
        choice: What of it.
        as_far: Whether what later changes rest on may be left as it is.
        proposal: The proposal that is agreed to with this.
        digest: Of its plan.

    Returns:
        The new change set's number.

    Raises:
        NoSuchChangeSet, NotTakenBack, NeedsAgreement: See `take_back_records`.
        NotAgreed: The proposal was decided on meanwhile.
    """
    with context.database.transaction() as connection:
        change_set = record_store.get_change_set(connection, change_set_id)
    if change_set is None:
        raise NoSuchChangeSet(change_set_id)
    with context.database.transaction() as connection:
        number, is_whole = take_back_records(
            context, connection, change_set, account_id, choice=choice, as_far=as_far, digest=digest
        )
        if proposal is not None:
            is_open = decide_proposal(connection, proposal, "agreed", account_id, "", context.now())
            if not is_open or not finish_proposal(connection, proposal, number):
                raise NotAgreed("Somebody else has decided on this proposal meanwhile.")
        if change_set.intake_id is not None and is_whole:
            # In the same transaction: without the step, the intake would count as applied for good.
            after = store.lock_intake(connection, change_set.intake_id) + 1
            step: dict[str, Any] = {"kind": "taken_back", "change_set": change_set_id}
            store.insert_step(
                connection, change_set.intake_id, after, step, account_id, context.now()
            )
            tally = change_set.receipt["tally"]
            store.set_tally(
                connection, change_set.intake_id, tally | {"ready": tally["new"] + tally["changed"]}
            )
    return number
