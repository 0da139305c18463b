"""Answers that somebody brings as a file: whole or in parts, read, refused where they cannot be,
taken in.
"""

from __future__ import annotations

import json
from typing import TYPE_CHECKING, Any

from nevefield.core.errors import WrongAnswer
from nevefield.core.states import ROUND_CHANGES, RoundState, before
from nevefield.core.submitting.answers import (
    read_answer,
    refuse_outcomes,
    said_of_changes,
    say_strays,
    take_part_in,
)
from nevefield.store import submissions as store
from nevefield.store.audit import insert_audit
from nevefield.submissions.errors import NoSuchRound
from nevefield.submissions.looking import load_submission, open_submission, references
from nevefield.submissions.sending import put_round, take_in_and_number

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.store.submissions import Round

__all__ = ["bring_answer", "end_by_hand", "open_answer"]

# in which somebody may bring the answer of a round
BRINGABLE = before(ROUND_CHANGES, RoundState.ANSWERED)


def open_answer(context: Context, round_id: int) -> bytes:
    """Give the answer to a round as it came.

    Raises:
        NoSuchRound: There is none, or it has no answer.
    """
    with context.database.transaction() as connection:
        answer = store.get_answer(connection, round_id)
    if not answer:
        raise NoSuchRound(round_id)
    return answer


def bring_answer(
    context: Context, round_id: int, data: bytes, account_id: int | None
) -> RoundState | None:
    """Take an answer that somebody brings as a file: the authority's JSON, or CSV with REF,
    OUTCOME, NUMBER, RULES.

    An answer that speaks of some records alone leaves the others open: the round waits for the
    rest.

    Returns:
        The round's state.

    Raises:
        NoSuchRound: There is none that waits for it.
        WrongAnswer: It is no answer to this round.
    """
    with context.database.transaction() as connection:
        one = store.get_round(connection, round_id)
        if one is None or one.state not in BRINGABLE:
            raise NoSuchRound(round_id)
        sent = json.loads(store.get_body(connection, round_id))
        reference = load_submission(connection, one.submission_id).layout["reference"]["to"]
    answer = read_answer(data)
    refuse_outcomes(answer)
    mine = {row[reference] for row in sent["records"]}
    messages = {str(found.get("ref", "")) for found in answer["results"]}
    if not messages & mine:
        shown = ", ".join(text[:60] for text in sorted(messages)[:3]) or "no reference at all"
        raise WrongAnswer(
            f"None of its records was sent in round {one.number}: this is the answer to something"
            f" else. It speaks of {shown}."
        )
    if one.state == RoundState.BYHAND and (open_still := mine - messages - _answered(context, one)):
        return _take_part_in(context, one, answer, len(open_still), account_id)
    written = json.dumps(answer, ensure_ascii=False).encode()
    values: dict[str, Any] = {
        "answer": written,
        "answered_at": context.now(),
        "done": one.records,
        "problem": "",
    }
    put_round(context, one, RoundState.ANSWERED, **values)
    with context.database.transaction() as connection:
        insert_audit(
            connection,
            "answer-by-hand",
            f"round {one.number}",
            account_id,
            context.now(),
            submission=one.submission_id,
        )
    return take_in_and_number(context, round_id, lambda doing, done, total: None)


def end_by_hand(context: Context, round_id: int, account_id: int | None) -> RoundState | None:
    """End a round by hand of which a part was answered: nothing more comes, what has no answer goes
    again.

    Raises:
        NoSuchRound: There is none that waits for the rest of its answer.
    """
    with context.database.transaction() as connection:
        one = store.get_round(connection, round_id)
    if one is None or one.state != RoundState.BYHAND or one.answered_at is None:
        raise NoSuchRound(round_id)
    written = json.dumps({"results": [], "changes": []}).encode()
    put_round(
        context,
        one,
        RoundState.ANSWERED,
        only_from=(RoundState.BYHAND,),
        answer=written,
        done=one.records,
        problem="",
    )
    with context.database.transaction() as connection:
        insert_audit(
            connection,
            "round-ended",
            f"round {one.number}",
            account_id,
            context.now(),
            submission=one.submission_id,
        )
    return take_in_and_number(context, round_id, lambda doing, done, total: None)


def _answered(context: Context, round_: Round) -> set[str]:
    """List the references of a round that a part of its answer has spoken of before."""
    opened = open_submission(context, round_.submission_id)
    name = opened.layout.reference.to
    return {line.sent.get(name, "") for line in opened.told_of(round_.number)}


def _take_part_in(
    context: Context, round_: Round, answer: dict[str, Any], rest: int, account_id: int | None
) -> RoundState:
    """Keep a part of the answer to a round by hand, and leave the round open for the rest."""
    opened = open_submission(context, round_.submission_id)
    number, refs = opened.layout.number.to, references(opened.layout, opened.rows, opened.lines)
    with context.database.transaction() as connection:
        sent = {
            row[opened.layout.reference.to]: row
            for row in json.loads(store.get_body(connection, round_.id))["records"]
        }
    taken = take_part_in(answer["results"], sent, refs, number)
    done = round_.records - rest
    with context.database.transaction() as connection:
        if store.lock_round(connection, round_.id) != RoundState.BYHAND:
            raise NoSuchRound(round_.id)
        store.insert_lines(connection, round_.id, taken.lines)
        store.set_step_answers(connection, round_.submission_id, said_of_changes(answer))
        store.set_round(
            connection,
            round_.id,
            done=done,
            answered_at=context.now(),
            problem=say_strays(taken.strays)[:500],
        )
        store.touch(connection, round_.submission_id)
        title = f"round {round_.number}"
        insert_audit(
            connection,
            "answer-by-hand",
            title,
            account_id,
            context.now(),
            submission=round_.submission_id,
            records=len(taken.lines),
        )
    return RoundState.BYHAND
