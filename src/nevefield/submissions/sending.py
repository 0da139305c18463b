"""Send a round, wait for its answer, take it in, and let its numbers into the roster; every stage
is kept, and can be done again.

A round has a key of its own from the moment that it is kept: whatever is broken off and begun
again, it is sent once.
"""

from __future__ import annotations

import base64
import csv
import io
import json
from datetime import timedelta
from typing import TYPE_CHECKING, Any

from nevefield.authority.errors import AuthorityError, Refused
from nevefield.core.states import JobKind, RoundState
from nevefield.core.submitting.answers import said_of_changes, say_strays, take_in
from nevefield.core.texts import safe_cell
from nevefield.intakes.applying import apply_intake
from nevefield.intakes.errors import IntakeError, NothingToApply
from nevefield.intakes.evaluating import open_intake
from nevefield.proposals.changing import MadeRows, keep_rows
from nevefield.rosters.errors import RosterError, RosterMoved
from nevefield.store import jobs as job_store
from nevefield.store import submissions as store
from nevefield.store.audit import insert_audit
from nevefield.submissions.errors import (
    NoAuthority,
    NoSuchRound,
    NothingToSend,
    RoundUnderWay,
    WrongDecision,
)
from nevefield.submissions.looking import (
    UNDER_WAY,
    OpenSubmission,
    load_submission,
    open_submission,
    ready_of,
    references,
    require_open,
)
from nevefield.submissions.opening import authority_of, refuse_live

if TYPE_CHECKING:
    from collections.abc import Callable, Collection

    from nevefield.authority.client import Authority
    from nevefield.context import Context
    from nevefield.core.submitting.standing import Line
    from nevefield.store.connection import Connection
    from nevefield.store.submissions import Round, StepRow

__all__ = [
    "advance",
    "build_round",
    "put_round",
    "queue_rounds",
    "send_again",
    "take_in_and_number",
    "write_body",
]

# seconds between questions to the authority; the wait grows by half each time
FIRST_WAIT, LONGEST_WAIT = 0.5, 60.0
# as what a round sends a record
KINDS = ("first", "corrected", "changes", "numbers", "changed", "again")

AT_AUTHORITY = (RoundState.BUILT, RoundState.SENT)  # or on its way there


def build_round(
    context: Context,
    number: int,
    account_id: int | None,
    key: str,
    *,
    seen: int | None = None,
    by_hand: bool = False,
    part: tuple[str, str] | None = None,
) -> int:
    """Keep a round with all that is ready, or with what is ready of a part.

    Ready are records never sent, corrections, changes asked for, numbers decided.

    Args:
        context: Database and clock.
        number: Of the submission.
        account_id: Who sends.
        key: 32 signs that no other round has; made by the caller.
        seen: The submission's count as somebody saw it.
        by_hand: Whether it goes as a file that somebody takes there.
        part: A field of ours and its value: only those; None for all.

    Returns:
        The round's number in the store.

    Raises:
        NoSuchSubmission: There is none.
        NothingToSend, RoundUnderWay: It cannot be now.
        WrongDecision: Something was decided meanwhile.
        NoAuthority, OnlyPractice: The settings name none, or nothing may go to the live side.
    """
    if not by_hand and not context.settings.registry_url:
        raise NoAuthority
    opened = open_submission(context, number)
    refuse_live(context, opened.submission.side)
    require_open(opened.submission)
    records = ready_of(opened, part)
    with context.database.transaction() as connection:
        touched = store.lock_submission(connection, number)
        rounds = store.list_rounds(connection, number)
        if waiting := next((round_ for round_ in rounds if round_.state in UNDER_WAY), None):
            raise RoundUnderWay(waiting.number)
        if touched != opened.submission.touched or (seen is not None and seen != touched):
            raise WrongDecision(
                "Somebody has decided something meanwhile: look again at what would be sent."
            )
        if not records:
            raise NothingToSend
        body, counts = _body_of(connection, opened, records)
        data = json.dumps(body, ensure_ascii=False).encode()
        following = max((round_.number for round_ in rounds), default=0) + 1
        made = store.insert_round(
            connection,
            store.NewRound(
                submission_id=number,
                number=following,
                key=key,
                body=data,
                records=len(records),
                counts=counts,
                account_id=account_id,
                at=context.now(),
            ),
        )
        if by_hand:
            store.move_round(connection, made, RoundState.BYHAND)
        store.touch(connection, number)
        title = f"{opened.submission.title}, round {following}"
        insert_audit(
            connection,
            "round",
            title,
            account_id,
            context.now(),
            submission=number,
            records=len(records),
            by_hand=by_hand,
        )
    return made


def _body_of(
    connection: Connection, opened: OpenSubmission, records: list[int]
) -> tuple[dict[str, Any], dict[str, int]]:
    layout = opened.layout
    written, changes = [], []
    counts = dict.fromkeys(KINDS, 0)
    for record in records:
        row = opened.rows[record] | {layout.asked: opened.standings[record].asked}
        written.append(row)
        kind = opened.kind_of(record)
        counts[kind] += 1
        if kind == "changes":
            changes.append(
                _change(connection, opened, opened.steps[record], opened.lines[record], row)
            )
    body = {"day": opened.submission.day.isoformat(), "records": written, "changes": changes}
    return body, counts


def _change(
    connection: Connection, opened: OpenSubmission, step: StepRow, line: Line, row: dict[str, str]
) -> dict[str, Any]:
    """Write a change that is asked for: what the rule reads and is held otherwise, with the
    reason and what is attached.
    """
    held = line.held or {}
    reads = opened.published.rule(step.rule).reads or opened.layout.names
    fields = [
        {"field": name, "held": str(held.get(name, "")), "asked": row[name]}
        for name in reads
        if name in row and str(held.get(name, "")) != row[name]
    ]
    attachment = store.get_attachment(connection, step.id)
    attached = (
        {"name": step.attached, "base64": base64.b64encode(attachment).decode()}
        if attachment
        else None
    )
    number = row[opened.layout.number.to]
    return {
        "id": str(step.id),
        "mariner": number,
        "rule": step.rule,
        "fields": fields,
        "sent": {name: row[name] for name in reads if name in row},
        "reason": step.reason,
        "attachment": attached,
    }


def queue_rounds(context: Context) -> int:
    """Queue a job for every round that is to go on now; return how many."""
    until = context.now() + timedelta(seconds=max(2 * context.settings.lease_seconds, 5))
    with context.database.transaction() as connection:
        due = store.claim_rounds(connection, context.now(), until)
        under_way = (
            {job.arguments["round"] for job in job_store.list_running(connection, JobKind.ROUND)}
            if due
            else set()
        )
        due = [one for one in due if one[0] not in under_way]
        for number, roster_id, account_id in due:
            job_store.insert_job(
                connection, JobKind.ROUND, roster_id, {"round": number}, account_id, context.now()
            )
    return len(due)


def advance(
    context: Context,
    round_id: int,
    progress: Callable[[str, int, int], None] = lambda doing, done, total: None,
) -> RoundState | None:
    """Bring a round on as far as it goes now: built, sent, answered, taken in, done. Doing it twice
    does nothing twice.

    Args:
        context: Database, clock and the way to the authority.
        round_id: The round.
        progress: Hears how far it is.

    Returns:
        The round's state.

    Raises:
        NoSuchRound: There is none.
    """
    with context.database.transaction() as connection:
        one = store.get_round(connection, round_id)
        if one is None:
            raise NoSuchRound(round_id)
        submission = load_submission(connection, one.submission_id)
    try:
        if one.state in AT_AUTHORITY:
            client = authority_of(context, submission.side)
            try:
                _talk(context, client, one, progress)
            finally:
                client.close()
        return take_in_and_number(context, round_id, progress)
    except Refused as error:
        put_round(context, one, RoundState.REFUSED, problem=str(error)[:500])
    except AuthorityError as error:
        _wait(context, one, str(error))
    return _state(context, round_id)


def _talk(
    context: Context, client: Authority, round_: Round, progress: Callable[[str, int, int], None]
) -> None:
    """Send what is not sent yet, and fetch the answer when there is one.

    Raises:
        AuthorityError: It does not answer, or refuses.
    """
    receipt = round_.receipt
    if round_.state == RoundState.BUILT:
        progress("Sending", 0, round_.records)
        with context.database.transaction() as connection:
            body = store.get_body(connection, round_.id)
        receipt = client.send(round_.key, body)
        values: dict[str, Any] = {
            "receipt": receipt[:100],
            "sent_at": context.now(),
            "problem": "",
            "tries": 0,
        }
        put_round(context, round_, RoundState.SENT, **values)
    state, done, total = client.state(receipt)
    progress("The authority is at work", done, total)
    if state != "answered":
        with context.database.transaction() as connection:
            store.set_round(connection, round_.id, done=done)
        _wait(context, round_, "")
        return
    answer = client.answer(receipt)
    data = json.dumps(answer, ensure_ascii=False).encode()
    values = {
        "answer": data,
        "answered_at": context.now(),
        "done": round_.records,
        "problem": "",
    }
    put_round(context, round_, RoundState.ANSWERED, only_from=AT_AUTHORITY, **values)


def put_round(
    context: Context,
    round_: Round,
    state: RoundState,
    only_from: Collection[RoundState] = (),
    **values: Any,
) -> None:
    """Bring a round into another state, set columns of it, and let everybody look at it anew.

    Two workers may bring the same round on when one of them waits long for the authority: the later
    never puts it back.
    """
    with context.database.transaction() as connection:
        moved = store.move_round(
            connection, round_.id, state, only_from, next_try=context.now(), **values
        )
        if moved:
            store.touch(connection, round_.submission_id)


def _wait(context: Context, round_: Round, problem: str) -> None:
    with context.database.transaction() as connection:
        if store.lock_round(connection, round_.id) not in store.GOING_ON:
            return  # somebody else has brought it to its end meanwhile
        now = store.get_round(connection, round_.id) or round_
        seconds = min(LONGEST_WAIT, FIRST_WAIT * 1.5**now.tries)
        after = context.now() + timedelta(seconds=seconds)
        store.set_round(
            connection, round_.id, tries=now.tries + 1, next_try=after, problem=problem[:500]
        )
        if problem != now.problem:
            store.touch(connection, round_.submission_id)


def _state(context: Context, round_id: int) -> RoundState | None:
    with context.database.transaction() as connection:
        one = store.get_round(connection, round_id)
    return one.state if one is not None else None


def take_in_and_number(
    context: Context, round_id: int, progress: Callable[[str, int, int], None]
) -> RoundState | None:
    """Take in the answer of a round that has one, then let its numbers into the roster; return
    its state.
    """
    state = _state(context, round_id)
    if state == RoundState.ANSWERED:
        progress("Taking the answer in", 0, 0)
        _take_answer_in(context, round_id)
        state = RoundState.TAKEN
    if state == RoundState.TAKEN:
        progress("Numbers into the roster", 0, 0)
        _let_numbers_in(context, round_id)
        state = _state(context, round_id)
    return state


def _take_answer_in(context: Context, round_id: int) -> None:
    """Keep what came back of each record, all in one transaction; an answer that comes twice is
    taken once.
    """
    with context.database.transaction() as connection:
        one = store.get_round(connection, round_id)
        if one is None or store.lock_round(connection, round_id) != RoundState.ANSWERED:
            return
        store.lock_submission(connection, one.submission_id)
        sent = json.loads(store.get_body(connection, round_id))
        answer = json.loads(store.get_answer(connection, round_id))
    opened = open_submission(context, one.submission_id)
    reference = opened.layout.reference.to
    taken = take_in(
        answer["results"],
        {row[reference]: row for row in sent["records"]},
        references(opened.layout, opened.rows, opened.lines),
        opened.lines,
        {line.record: line.outcome for line in opened.told_of(one.number)},
        opened.layout.number.to,
    )
    values: dict[str, Any] = {
        "counts": {**one.counts, **taken.counts},
        "problem": say_strays(taken.strays),
        "next_try": context.now(),
        "tries": 0,
    }
    with context.database.transaction() as connection:
        if not store.move_round(connection, round_id, RoundState.TAKEN, **values):
            return
        store.insert_lines(connection, round_id, taken.lines)
        store.set_step_answers(connection, one.submission_id, said_of_changes(answer))
        store.touch(connection, one.submission_id)


def _let_numbers_in(context: Context, round_id: int) -> None:
    """Let the numbers that the authority gave into the roster, as a change set with a receipt."""
    with context.database.transaction() as connection:
        one = store.get_round(connection, round_id)
    if one is None:
        return
    intake, problem = one.intake_id, one.problem
    try:
        if intake is None:
            intake = _keep_numbers(context, one)
        if intake is not None:
            opened = open_intake(context, intake)
            if not any(row.step["kind"] == "applied" for row in opened.steps):
                apply_intake(
                    context, intake, len(opened.steps), opened.roster.version, one.account_id
                )
    except RosterMoved:
        _wait(context, one, "")
        return
    except NothingToApply:
        pass
    except (IntakeError, RosterError) as error:
        problem = f"Its numbers wait as an intake of their own, on the desk: {error}"
    put_round(context, one, RoundState.DONE, problem=problem[:500])


def _keep_numbers(context: Context, round_: Round) -> int | None:
    """Keep the numbers that the roster has not yet as an intake; None when there are none."""
    opened = open_submission(context, round_.submission_id)
    if opened.submission.side == "practice":
        return None  # nothing of the practice side goes into a roster
    name, to = opened.layout.number.source, opened.layout.number.to
    rows, places = [], []
    for record, line in opened.lines.items():
        if (
            line.round != round_.number
            or line.outcome not in ("accepted", "warned")
            or record not in opened.place
        ):
            continue
        if line.number and line.number != opened.rows[record][to]:
            place = opened.place[record]
            key = {
                each: opened.snapshot.columns[each].at(place) or ""
                for each in opened.snapshot.definition.primary_key
            }
            rows.append(json.dumps(key | {name: line.number}, ensure_ascii=False))
            places.append(place)
    if not rows:
        return None
    title = (
        f"Numbers of {opened.published.authority}: {opened.submission.title}, round {round_.number}"
    )
    data = ("\n".join(rows) + "\n").encode()
    with context.database.transaction() as connection:
        store.lock_round(connection, round_.id)
        now = store.get_round(connection, round_.id)
        if now is not None and now.intake_id is not None:
            return now.intake_id
        snapshot = opened.snapshot
        intake = keep_rows(
            context,
            connection,
            opened.roster,
            snapshot,
            MadeRows(data=data, places=places, fields=[name], title=title),
            round_.account_id,
        )
        store.set_round(connection, round_.id, intake_id=intake)
    return intake


def send_again(context: Context, round_id: int, account_id: int | None) -> None:
    """Send a round again that the authority refused: the same round under the same key.

    Raises:
        NoSuchRound: There is none that was refused.
    """
    with context.database.transaction() as connection:
        one = store.get_round(connection, round_id)
        if one is None or not store.move_round(
            connection, round_id, RoundState.BUILT, problem="", tries=0, next_try=context.now()
        ):
            raise NoSuchRound(round_id)
        store.touch(connection, one.submission_id)
        insert_audit(
            connection,
            "round-again",
            f"round {one.number}",
            account_id,
            context.now(),
            submission=one.submission_id,
        )


def write_body(context: Context, round_id: int, kind: str) -> bytes:
    """Write what a round sends as a file: JSON with everything, or CSV with the records, safe to
    open in a spreadsheet.

    Raises:
        NoSuchRound: There is none.
    """
    with context.database.transaction() as connection:
        body = store.get_body(connection, round_id)
    if not body:
        raise NoSuchRound(round_id)
    if kind != "csv":
        return body
    records = json.loads(body)["records"]
    text = io.StringIO()
    writer = csv.DictWriter(text, list(records[0]))
    writer.writeheader()
    writer.writerows({name: safe_cell(value) for name, value in row.items()} for row in records)
    return b"\xef\xbb\xbf" + text.getvalue().encode()
