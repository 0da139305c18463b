"""Submissions: who is in them, their rounds as sent and answered, and what was decided."""

from __future__ import annotations

import json
import zlib
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any, ClassVar

from nevefield.core.states import ROUND_CHANGES, RoundState, before
from nevefield.store.sight import only_seen

if TYPE_CHECKING:
    from collections.abc import Collection, Iterable, Sequence
    from datetime import date, datetime

    from nevefield.store.connection import Connection

__all__ = [
    "GOING_ON",
    "LineRow",
    "NewRound",
    "Round",
    "SentOf",
    "StepRow",
    "Submission",
    "claim_rounds",
    "close_submission",
    "get_answer",
    "get_attachment",
    "get_body",
    "get_round",
    "get_submission",
    "insert_lines",
    "insert_round",
    "insert_steps",
    "insert_submission",
    "list_lines",
    "list_of_record",
    "list_records",
    "list_rounds",
    "list_steps",
    "list_submissions",
    "lock_round",
    "lock_submission",
    "move_round",
    "rename_submission",
    "set_layout",
    "set_policy",
    "set_records",
    "set_round",
    "set_step_answers",
    "start_from",
    "touch",
]

# rounds that a worker brings on
GOING_ON = (RoundState.BUILT, RoundState.SENT, RoundState.ANSWERED, RoundState.TAKEN)
MOST = 500  # submissions listed at once
BATCH = 2_000
_COLUMNS = (
    "s.id, s.roster_id, s.title, s.side, s.layout, s.published, s.chosen, s.day, s.due, s.policy,"
    " s.touched, s.account_id, s.at, s.closed_at, s.starts_from"
)
_ROUND = (
    "r.id, r.submission_id, r.number, r.round_key, r.state, r.records, r.counts, r.receipt, r.done,"
    " r.problem, r.tries, r.next_try, r.intake_id, r.account_id, r.at, r.sent_at, r.answered_at,"
    " COALESCE(a.name, '')"
)
_OF_ROUND = " FROM submission_round r LEFT JOIN account a ON a.id = r.account_id"


@dataclass(frozen=True)
class Submission:
    """Records that go to an authority, with all their rounds."""

    id: int
    roster_id: int
    title: str
    side: str  # practice or live
    layout: dict[str, Any]
    published: dict[str, Any]
    chosen: Any  # the condition by which records are in it; None for all
    day: date  # of reference
    due: date | None
    policy: dict[str, Any]
    touched: int
    account_id: int | None
    at: datetime
    closed_at: datetime | None
    starts_from: int | None  # of a practice: the live submission whose answers it begins with
    part_id: ClassVar[None] = None  # it is about all of its roster


@dataclass(frozen=True)
class Round:
    """One sending, and its answer."""

    id: int
    submission_id: int
    number: int
    key: str
    state: RoundState
    records: int
    counts: dict[str, int]
    receipt: str
    done: int
    problem: str
    tries: int
    next_try: datetime
    intake_id: int | None
    account_id: int | None
    at: datetime
    sent_at: datetime | None
    answered_at: datetime | None
    by: str


@dataclass(frozen=True)
class LineRow:
    """What was sent of a record in a round and what came back."""

    round: int  # its number
    record: int
    outcome: str
    number: str
    sent: dict[str, str]
    told: dict[str, Any]


@dataclass(frozen=True)
class StepRow:
    """What somebody decided of a record."""

    id: int
    record: int
    kind: str
    value: str
    rule: str
    reason: str
    after_round: int
    attached: str
    answer: str
    at: datetime
    by: str


def insert_submission(
    connection: Connection, made: dict[str, Any], account_id: int | None, at: datetime
) -> int:
    """Keep a new submission and return its number."""
    return connection.insert(
        "INSERT INTO submission (roster_id, title, side, layout, published, chosen, day, due,"
        " policy, account_id, at)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        (
            made["roster_id"],
            made["title"],
            made["side"],
            json.dumps(made["layout"], ensure_ascii=False),
            json.dumps(made["published"], ensure_ascii=False),
            json.dumps(made["chosen"], ensure_ascii=False) if made["chosen"] is not None else None,
            made["day"],
            made["due"],
            json.dumps(made["policy"]),
            account_id,
            at,
        ),
    )


def get_submission(connection: Connection, number: int) -> Submission | None:
    """Find a submission."""
    row = connection.row(f"SELECT {_COLUMNS} FROM submission s WHERE s.id = %s", (number,))  # noqa: S608
    return only_seen(connection.sight, _submission(row) if row else None)


def list_submissions(connection: Connection) -> list[Submission]:
    """List all submissions, the newest first."""
    seen, values = connection.sight.where("s.roster_id", "NULL")
    rows = connection.rows(
        f"SELECT {_COLUMNS} FROM submission s WHERE {seen} ORDER BY s.id DESC LIMIT {MOST}",  # noqa: S608
        values,
    )
    return [_submission(row) for row in rows]


def _submission(row: Sequence[Any]) -> Submission:
    values = list(row)
    for place in (4, 5, 9):
        values[place] = json.loads(values[place])
    values[6] = json.loads(values[6]) if values[6] else None
    return Submission(*values)


def lock_submission(connection: Connection, number: int) -> int:
    """Hold a submission until the transaction ends; return the count that grows with everything
    that happens to it.
    """
    row = connection.row("SELECT touched FROM submission WHERE id = %s FOR UPDATE", (number,))
    return int(row[0]) if row else -1


def touch(connection: Connection, number: int) -> None:
    """Say that something was decided or answered."""
    connection.run("UPDATE submission SET touched = touched + 1 WHERE id = %s", (number,))


def set_layout(connection: Connection, number: int, layout: dict[str, Any]) -> None:
    """Keep another layout."""
    connection.run(
        "UPDATE submission SET layout = %s, touched = touched + 1 WHERE id = %s",
        (json.dumps(layout, ensure_ascii=False), number),
    )


def rename_submission(connection: Connection, number: int, title: str) -> None:
    """Give a submission another title."""
    connection.run(
        "UPDATE submission SET title = %s, touched = touched + 1 WHERE id = %s", (title, number)
    )


def close_submission(connection: Connection, number: int, at: datetime | None) -> None:
    """Close a submission at a moment; None opens it again."""
    connection.run(
        "UPDATE submission SET closed_at = %s, touched = touched + 1 WHERE id = %s", (at, number)
    )


def start_from(
    connection: Connection, number: int, live: int, key: str, account_id: int | None, at: datetime
) -> int:
    """Let a practice begin with the last answers of a live submission, as a round 0 of its own.

    Args:
        connection: Inside a transaction.
        number: The practice, with its records.
        live: The live one.
        key: 32 signs that no round has.
        account_id: Who.
        at: When.

    Returns:
        Of how many records something is held.
    """
    body = zlib.compress(b'{"records": [], "changes": []}', 1)
    made = connection.insert(
        "INSERT INTO submission_round (submission_id, number, round_key, state, records, counts,"
        " body, next_try, account_id, at, answered_at)"
        " VALUES (%s, 0, %s, 'done', 0, '{}', %s, %s, %s, %s, %s)",
        (number, key, body, at, account_id, at, at),
    )
    held = connection.run(
        "INSERT INTO submission_line (round_id, record_id, outcome, number, sent, told)"
        " SELECT %s, l.record_id, l.outcome, l.number, l.sent, l.told"
        " FROM submission_line l"
        " JOIN submission_round r ON r.id = l.round_id"
        " JOIN submission_record m ON m.record_id = l.record_id AND m.submission_id = %s"
        " WHERE r.submission_id = %s"
        " AND r.number = (SELECT MAX(q.number) FROM submission_line k JOIN submission_round q ON"
        " q.id = k.round_id WHERE q.submission_id = r.submission_id"
        " AND k.record_id = l.record_id)",
        (made, number, live),
    )
    connection.run("UPDATE submission_round SET records = %s WHERE id = %s", (held, made))
    connection.run("UPDATE submission SET starts_from = %s WHERE id = %s", (live, number))
    return held


def set_policy(connection: Connection, number: int, policy: dict[str, Any]) -> None:
    """Keep what is decided without asking."""
    connection.run(
        "UPDATE submission SET policy = %s, touched = touched + 1 WHERE id = %s",
        (json.dumps(policy), number),
    )


def set_records(connection: Connection, number: int, records: Iterable[int]) -> None:
    """Put records into a submission; those that are in it stay."""
    rows = [(number, record) for record in records]
    for start in range(0, len(rows), BATCH):
        connection.run_many(
            "INSERT IGNORE INTO submission_record (submission_id, record_id) VALUES (%s, %s)",
            rows[start : start + BATCH],
        )


def list_records(connection: Connection, number: int) -> list[int]:
    """List the records that are in a submission, by their numbers, rising."""
    rows = connection.rows(
        "SELECT record_id FROM submission_record WHERE submission_id = %s ORDER BY record_id",
        (number,),
    )
    return [int(one) for (one,) in rows]


@dataclass(frozen=True)
class NewRound:
    """What is to be kept of a round that is to be sent."""

    submission_id: int
    number: int  # within the submission
    key: str  # 32 signs that no other round has
    body: bytes  # all that it sends
    records: int
    counts: dict[str, int]  # by kind of sending
    account_id: int | None
    at: datetime


def insert_round(connection: Connection, new: NewRound) -> int:
    """Keep a round that is to be sent, and return its number in the store."""
    return connection.insert(
        "INSERT INTO submission_round (submission_id, number, round_key, state, records, counts,"
        " body, next_try, account_id, at)"
        " VALUES (%s, %s, %s, 'built', %s, %s, %s, %s, %s, %s)",
        (
            new.submission_id,
            new.number,
            new.key,
            new.records,
            json.dumps(new.counts),
            zlib.compress(new.body, 1),
            new.at,
            new.account_id,
            new.at,
        ),
    )


def get_round(connection: Connection, round_id: int) -> Round | None:
    """Find a round."""
    row = connection.row(f"SELECT {_ROUND}{_OF_ROUND} WHERE r.id = %s", (round_id,))
    return _round(row) if row else None


def list_rounds(connection: Connection, submission_id: int) -> list[Round]:
    """List the rounds of a submission in their order."""
    rows = connection.rows(
        f"SELECT {_ROUND}{_OF_ROUND} WHERE r.submission_id = %s ORDER BY r.number", (submission_id,)
    )
    return [_round(row) for row in rows]


def _round(row: Sequence[Any]) -> Round:
    values = list(row)
    values[4] = RoundState(values[4])
    values[6] = json.loads(values[6])
    return Round(*values)


def lock_round(connection: Connection, round_id: int) -> RoundState | None:
    """Hold a round until the transaction ends, and return its state."""
    row = connection.row("SELECT state FROM submission_round WHERE id = %s FOR UPDATE", (round_id,))
    return RoundState(row[0]) if row else None


def get_body(connection: Connection, round_id: int) -> bytes:
    """Return what a round sends."""
    row = connection.row("SELECT body FROM submission_round WHERE id = %s", (round_id,))
    return zlib.decompress(row[0]) if row else b""


def get_answer(connection: Connection, round_id: int) -> bytes:
    """Return the answer as it came; empty when there is none."""
    row = connection.row("SELECT answer FROM submission_round WHERE id = %s", (round_id,))
    return zlib.decompress(row[0]) if row and row[0] is not None else b""


def set_round(connection: Connection, round_id: int, **values: Any) -> None:
    """Set columns of a round; the answer is given as it came, and a state by `move_round`."""
    if "answer" in values:
        values["answer"] = zlib.compress(values["answer"], 1)
    if "counts" in values:
        values["counts"] = json.dumps(values["counts"])
    told = ", ".join(f"{name} = %s" for name in values)
    connection.run(
        f"UPDATE submission_round SET {told} WHERE id = %s",  # noqa: S608
        (*values.values(), round_id),
    )


def move_round(
    connection: Connection,
    round_id: int,
    state: RoundState,
    only_from: Collection[RoundState] = (),
    **values: Any,
) -> bool:
    """Bring a round into another state, and set columns of it; tell whether it was in one that
    may become this.

    Args:
        connection: Inside a transaction.
        round_id: The round.
        state: From now on.
        only_from: Fewer states than those that may become it; none for all of them.
        values: By column.
    """
    allowed = before(ROUND_CHANGES, state)
    if strange := set(only_from) - set(allowed):
        raise ValueError(f"A round never becomes {state} from {', '.join(sorted(strange))}.")
    if lock_round(connection, round_id) not in (only_from or allowed):
        return False
    set_round(connection, round_id, state=state, **values)
    return True


def claim_rounds(
    connection: Connection, now: datetime, until: datetime
) -> list[tuple[int, int, int | None]]:
    """Claim the rounds that are to go on now, so that nobody else takes them before a moment.

    Returns:
        Of each its number, its roster, and the account that sends it.
    """
    rows = connection.rows(
        "SELECT r.id, s.roster_id, r.account_id"
        " FROM submission_round r"
        " JOIN submission s ON s.id = r.submission_id"
        " WHERE r.state IN %s AND r.next_try <= %s"
        " ORDER BY r.id"
        " LIMIT 20",
        (GOING_ON, now),
    )
    claimed = []
    for number, roster_id, account_id in rows:
        won = connection.run(
            "UPDATE submission_round"
            " SET next_try = %s"
            " WHERE id = %s AND next_try <= %s"
            " AND state IN %s",
            (until, number, now, GOING_ON),
        )
        if won:
            claimed.append((int(number), int(roster_id), account_id))
    return claimed


def insert_lines(
    connection: Connection,
    round_id: int,
    lines: Sequence[tuple[int, str, str, dict[str, str], dict[str, Any]]],
) -> None:
    """Keep what was sent of records in a round and what came back: record, outcome, number,
    sent, told.
    """
    rows = [
        (
            round_id,
            record,
            outcome,
            number,
            json.dumps(sent, ensure_ascii=False),
            json.dumps(told, ensure_ascii=False) if told else None,
        )
        for record, outcome, number, sent, told in lines
    ]
    for start in range(0, len(rows), BATCH):
        connection.run_many(
            "INSERT INTO submission_line (round_id, record_id, outcome, number, sent, told)"
            " VALUES (%s, %s, %s, %s, %s, %s)"
            " ON DUPLICATE KEY UPDATE outcome = VALUES(outcome), number = VALUES(number),"
            " told = VALUES(told)",
            rows[start : start + BATCH],
        )


@dataclass(frozen=True)
class SentOf:
    """What was sent of a record in a round, and what came back."""

    title: str  # of the submission
    round: int
    sent: dict[str, str]
    told: dict[str, Any]


def list_of_record(connection: Connection, record_id: int) -> list[SentOf]:
    """List what was sent of one record, in the order of the rounds."""
    rows = connection.rows(
        "SELECT s.title, r.number, l.sent, l.told"
        " FROM submission_line l"
        " JOIN submission_round r ON r.id = l.round_id"
        " JOIN submission s ON s.id = r.submission_id"
        " WHERE l.record_id = %s"
        " ORDER BY r.id",
        (record_id,),
    )
    return [
        SentOf(title, number, json.loads(sent), json.loads(told) if told else {})
        for title, number, sent, told in rows
    ]


def list_lines(connection: Connection, submission_id: int) -> list[LineRow]:
    """List what was sent and answered, in the order of the rounds."""
    rows = connection.rows(
        "SELECT r.number, l.record_id, l.outcome, l.number, l.sent, l.told"
        " FROM submission_line l"
        " JOIN submission_round r ON r.id = l.round_id"
        " WHERE r.submission_id = %s"
        " ORDER BY r.number, l.record_id",
        (submission_id,),
    )
    return [
        LineRow(
            round_number,
            int(record),
            outcome,
            number,
            json.loads(sent),
            json.loads(told) if told else {},
        )
        for round_number, record, outcome, number, sent, told in rows
    ]


def insert_steps(
    connection: Connection,
    submission_id: int,
    records: Collection[int],
    step: dict[str, Any],
    account_id: int | None,
    at: datetime,
) -> None:
    """Keep what somebody decided of records."""
    values = (
        step["kind"],
        step["value"],
        step["rule"],
        step["reason"],
        step["after_round"],
        step["attached"],
        step["attachment"],
    )
    connection.run_many(
        "INSERT INTO submission_step (submission_id, record_id, kind, value, rule, reason,"
        " after_round, attached, attachment, account_id, at)"
        " VALUES (%s, %s, %s, %s, %s, %s, %s, %s, %s, %s, %s)",
        [(submission_id, record, *values, account_id, at) for record in records],
    )
    touch(connection, submission_id)


def get_attachment(connection: Connection, step_id: int) -> bytes:
    """Return what was attached to a decision; empty when nothing was."""
    row = connection.row("SELECT attachment FROM submission_step WHERE id = %s", (step_id,))
    return bytes(row[0]) if row and row[0] is not None else b""


def list_steps(connection: Connection, submission_id: int) -> list[StepRow]:
    """List what was decided, in its order."""
    rows = connection.rows(
        "SELECT d.id, d.record_id, d.kind, d.value, d.rule, d.reason, d.after_round, d.attached,"
        " d.answer, d.at, COALESCE(a.name, '')"
        " FROM submission_step d"
        " LEFT JOIN account a ON a.id = d.account_id"
        " WHERE d.submission_id = %s"
        " ORDER BY d.id",
        (submission_id,),
    )
    return [StepRow(*row) for row in rows]


def set_step_answers(connection: Connection, submission_id: int, answers: dict[int, str]) -> None:
    """Keep what the authority said to changes that were asked for, by the number of the step."""
    for step_id, answer in answers.items():
        connection.run(
            "UPDATE submission_step SET answer = %s WHERE id = %s AND submission_id = %s",
            (answer[:500], step_id, submission_id),
        )
