"""Letters: what was written to several people of a roster, who of them answered, their links."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Collection, Iterable, Mapping, Sequence
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "ANSWERED",
    "Addressee",
    "LetterRow",
    "Stand",
    "answer",
    "begin_answer",
    "break_off_answer",
    "count_stands",
    "count_try",
    "end_letter",
    "find_link",
    "forget_letters",
    "get_letter",
    "insert_addressees",
    "insert_links",
    "list_addressees",
    "list_letters",
    "list_of_record",
    "list_untaken",
    "lock_letter",
    "set_paper",
    "set_printed",
    "set_seen",
    "take_in",
]

BATCH = 1_000
ANSWERED = ("confirmed", "corrected")


@dataclass(frozen=True)
class LetterRow:
    """A letter; reminders of it are no letters of their own."""

    id: int
    title: str
    roster_id: int
    template: Mapping[str, str]
    field: str
    asks: Mapping[str, Any] | None
    ended_at: datetime | None
    by: str
    at: datetime


@dataclass(frozen=True)
class Stand:
    """How somebody stands to whom a letter was written."""

    answer: str
    has_looked: bool
    on_paper: bool
    is_printed: bool
    mail: str  # the state of the last one; "" for none


@dataclass(frozen=True)
class Addressee:
    """Somebody to whom a letter was written."""

    id: int
    batch_id: int
    record_id: int
    on_paper: bool
    printed_at: datetime | None
    seen_at: datetime | None
    tries: int
    answered_at: datetime | None
    answer: str
    said: Mapping[str, str] | None
    fields: tuple[str, ...]
    intake_id: int | None
    intake: str  # open, applied or thrown; "" for none
    mail: str  # the state of the last mail; "" for none
    mail_answer: str

    @property
    def stand(self) -> Stand:
        """Tell how they stand."""
        return Stand(
            self.answer,
            self.seen_at is not None,
            self.on_paper,
            self.printed_at is not None,
            self.mail,
        )


_LETTER = (
    "SELECT b.id, b.title, b.roster_id, b.template, b.field, b.asks, b.ended_at,"
    " COALESCE(a.name, ''), b.at FROM mail_batch b LEFT JOIN account a ON a.id = b.account_id"
)
_ADDRESSEE = (
    "SELECT p.id, p.batch_id, p.record_id, p.on_paper, p.printed_at, p.seen_at, p.tries,"
    " p.answered_at, p.answer, p.said, p.fields, p.intake_id,"
    " CASE WHEN i.id IS NULL THEN '' WHEN i.thrown_at IS NOT NULL THEN 'thrown'"
    " WHEN EXISTS (SELECT 1 FROM change_set c WHERE c.intake_id = i.id) THEN 'applied'"
    " ELSE 'open' END, COALESCE(m.state, ''), COALESCE(m.answer, '')"
)
_STAND = (
    "SELECT p.answer, p.seen_at IS NOT NULL, p.on_paper, p.printed_at IS NOT NULL,"
    " COALESCE(m.state, '')"
)


def _with_mails(batches: Sequence[int], *, one: bool = False) -> str:
    """Join addressees with the last mail of each, of the letter itself or of what reminds of it;
    takes the batches, and the record where it is about one.
    """
    some = ", ".join(["%s"] * len(batches))
    only = " AND n.record_id = %s" if one else ""
    return (
        " FROM letter_addressee p LEFT JOIN intake i ON i.id = p.intake_id"  # noqa: S608
        " LEFT JOIN (SELECT n.record_id, MAX(n.id) AS id FROM mail n"
        f" WHERE n.batch_id IN ({some}){only} GROUP BY n.record_id) l ON l.record_id = p.record_id"
        " LEFT JOIN mail m ON m.id = l.id"
    )


def _batches(connection: Connection, batch_id: int) -> list[int]:
    rows = connection.rows(
        "SELECT id FROM mail_batch WHERE id = %s OR reminds = %s", (batch_id, batch_id)
    )
    return [int(row[0]) for row in rows]


def _letter(row: tuple[Any, ...]) -> LetterRow:
    number, title, roster_id, template, field, asks, *rest = row
    return LetterRow(
        number,
        title,
        roster_id,
        json.loads(template),
        field,
        None if asks is None else json.loads(asks),
        *rest,
    )


def _addressee(row: tuple[Any, ...]) -> Addressee:
    said, fields = row[9], row[10]
    values: list[Any] = list(row)
    values[3] = bool(row[3])
    values[9] = None if said is None else json.loads(said)
    values[10] = () if fields is None else tuple(json.loads(fields))
    return Addressee(*values)


def get_letter(connection: Connection, number: int) -> LetterRow | None:
    """Give a letter; None where there is none that may be seen."""
    row = connection.row(f"{_LETTER} WHERE b.id = %s AND b.reminds IS NULL", (number,))
    if row is None or row[2] is None or not connection.sight.sees(row[2]):
        return None
    return _letter(row)


def list_letters(connection: Connection, roster_id: int) -> list[LetterRow]:
    """List the letters to people of a roster, the last first."""
    rows = connection.rows(
        f"{_LETTER} WHERE b.roster_id = %s AND b.reminds IS NULL ORDER BY b.id DESC", (roster_id,)
    )
    return [_letter(row) for row in rows]


def lock_letter(connection: Connection, number: int) -> None:
    """Let nobody else write to a letter until the transaction ends."""
    connection.row("SELECT id FROM mail_batch WHERE id = %s FOR UPDATE", (number,))


def end_letter(connection: Connection, number: int, at: datetime) -> bool:
    """Withdraw the links of a letter; False when they were before."""
    return bool(
        connection.run(
            "UPDATE mail_batch SET ended_at = %s WHERE id = %s AND ended_at IS NULL", (at, number)
        )
    )


def insert_addressees(
    connection: Connection, batch_id: int, records: Iterable[tuple[int, bool]]
) -> dict[int, int]:
    """Keep to whom a letter is written.

    Args:
        connection: The connection.
        batch_id: The letter.
        records: To whom, and whether it is on paper.

    Returns:
        By record the addressee's number; of those who were there before too.
    """
    rows = [(batch_id, record, on_paper) for record, on_paper in records]
    for first in range(0, len(rows), BATCH):
        connection.run_many(
            "INSERT IGNORE INTO letter_addressee (batch_id, record_id, on_paper)"
            " VALUES (%s, %s, %s)",
            rows[first : first + BATCH],
        )
    found = connection.rows(
        "SELECT record_id, id FROM letter_addressee WHERE batch_id = %s", (batch_id,)
    )
    return {int(record): int(number) for record, number in found}


def insert_links(connection: Connection, links: Iterable[tuple[bytes, int]], at: datetime) -> None:
    """Keep links by their digests, each of an addressee; earlier ones still work."""
    rows = [(digest, addressee, at) for digest, addressee in links]
    for first in range(0, len(rows), BATCH):
        connection.run_many(
            "INSERT INTO letter_link (digest, addressee_id, at) VALUES (%s, %s, %s)",
            rows[first : first + BATCH],
        )


def list_addressees(
    connection: Connection, batch_id: int, record_id: int | None = None
) -> list[Addressee]:
    """List to whom a letter was written, or one of them."""
    batches = _batches(connection, batch_id)
    only = () if record_id is None else (record_id,)
    rows = connection.rows(
        f"{_ADDRESSEE}{_with_mails(batches, one=bool(only))} WHERE p.batch_id = %s"
        f"{' AND p.record_id = %s' if only else ''} ORDER BY p.id",
        (*batches, *only, batch_id, *only),
    )
    return [_addressee(row) for row in rows]


def count_stands(connection: Connection, batch_id: int) -> tuple[dict[Stand, int], int]:
    """Count those to whom a letter was written by how they stand; and the corrections that are in
    no intake.
    """
    batches = _batches(connection, batch_id)
    rows = connection.rows(
        f"{_STAND}, COUNT(*), SUM(p.said IS NOT NULL){_with_mails(batches)} WHERE p.batch_id = %s"
        " GROUP BY 1, 2, 3, 4, 5",
        (*batches, batch_id),
    )
    counts = {
        Stand(answer, bool(looked), bool(paper), bool(printed), mail): int(count)
        for answer, looked, paper, printed, mail, count, _ in rows
    }
    return counts, sum(int(row[6]) for row in rows)


def list_of_record(connection: Connection, record_id: int) -> list[tuple[LetterRow, Addressee]]:
    """List the letters to one person, the last first."""
    found = []
    for (batch_id,) in connection.rows(
        "SELECT batch_id FROM letter_addressee WHERE record_id = %s ORDER BY batch_id DESC",
        (record_id,),
    ):
        letter = get_letter(connection, batch_id)
        if letter is not None:
            found += [(letter, one) for one in list_addressees(connection, batch_id, record_id)]
    return found


def find_link(connection: Connection, digest: bytes) -> Addressee | None:
    """Find whose a link is, and let nobody else answer by it until the transaction ends."""
    row = connection.row(
        "SELECT addressee_id FROM letter_link WHERE digest = %s FOR UPDATE", (digest,)
    )
    whose = row and connection.row(
        "SELECT batch_id, record_id FROM letter_addressee WHERE id = %s FOR UPDATE", row
    )
    return list_addressees(connection, *whose)[0] if whose else None


def set_seen(connection: Connection, number: int, at: datetime) -> None:
    """Keep when somebody opened their link first."""
    connection.run(
        "UPDATE letter_addressee SET seen_at = COALESCE(seen_at, %s) WHERE id = %s", (at, number)
    )


def count_try(connection: Connection, number: int) -> None:
    """Count that somebody did not show that it is they."""
    connection.run("UPDATE letter_addressee SET tries = tries + 1 WHERE id = %s", (number,))


def begin_answer(connection: Connection, number: int, now: datetime, until: datetime) -> bool:
    """Say that an answer is under way until a moment; False when one is already."""
    return bool(
        connection.run(
            "UPDATE letter_addressee SET busy_until = %s"
            " WHERE id = %s AND (busy_until IS NULL OR busy_until <= %s)",
            (until, number, now),
        )
    )


def break_off_answer(connection: Connection, number: int) -> None:
    """Say that an answer came to nothing."""
    connection.run("UPDATE letter_addressee SET busy_until = NULL WHERE id = %s", (number,))


def answer(
    connection: Connection, number: int, answer: str, said: Mapping[str, str], at: datetime
) -> None:
    """Keep what somebody answered."""
    connection.run(
        "UPDATE letter_addressee SET answer = %s, said = %s, fields = %s, answered_at = %s,"
        " busy_until = NULL WHERE id = %s",
        (
            answer,
            json.dumps(said, ensure_ascii=False) if said else None,
            json.dumps(list(said), ensure_ascii=False),
            at,
            number,
        ),
    )


def set_paper(connection: Connection, numbers: Collection[int]) -> None:
    """Say of addressees that they are written to on paper too."""
    connection.run_many(
        "UPDATE letter_addressee SET on_paper = TRUE WHERE id = %s",
        [(number,) for number in numbers],
    )


def set_printed(connection: Connection, numbers: Collection[int], at: datetime) -> None:
    """Keep when letters were printed."""
    connection.run_many(
        "UPDATE letter_addressee SET printed_at = %s WHERE id = %s",
        [(at, number) for number in numbers],
    )


def list_untaken(connection: Connection) -> list[tuple[int, datetime, datetime, bool]]:
    """List the letters with corrections that are in no intake yet: when the first and the last of
    them came, and whether an earlier intake of the letter is undecided.
    """
    rows = connection.rows(
        "SELECT p.batch_id, MIN(p.answered_at), MAX(p.answered_at), EXISTS (SELECT 1 FROM"
        " letter_addressee q JOIN intake i ON i.id = q.intake_id WHERE q.batch_id = p.batch_id"
        " AND i.thrown_at IS NULL"
        " AND NOT EXISTS (SELECT 1 FROM change_set c WHERE c.intake_id = i.id))"
        " FROM letter_addressee p WHERE p.answer = 'corrected' AND p.intake_id IS NULL"
        " AND p.said IS NOT NULL GROUP BY p.batch_id"
    )
    return [(int(one), first, last, bool(waits)) for one, first, last, waits in rows]


def take_in(connection: Connection, intake_id: int | None, numbers: Collection[int]) -> None:
    """Keep in which intake corrections are looked at by now; what they say stands there."""
    connection.run_many(
        "UPDATE letter_addressee SET intake_id = %s, said = NULL WHERE id = %s",
        [(intake_id, number) for number in numbers],
    )


def forget_letters(connection: Connection, record_id: int) -> int:
    """Forget that letters were written to somebody; their links work no more. Return how many."""
    return connection.run("DELETE FROM letter_addressee WHERE record_id = %s", (record_id,))
