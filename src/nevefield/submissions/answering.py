"""Answers that somebody brings as a file: whole or in parts, read, refused where they cannot be,
taken in.
"""

from __future__ import annotations

import csv
import io
import json
import re
from typing import TYPE_CHECKING, Any

from nevefield.store import submissions as store
from nevefield.store.audit import insert_audit
from nevefield.submissions.errors import NoSuchRound, WrongAnswer
from nevefield.submissions.looking import load_submission, open_submission, references
from nevefield.submissions.sending import (
    OUTCOMES,
    line_of,
    put_round,
    said_of_changes,
    say_strays,
    take_in_and_number,
)

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.store.submissions import Round

__all__ = ["bring_answer", "end_by_hand", "read_answer"]

SEPARATORS = (",", ";", "\t")  # of an answer as CSV
# of a result
SHAPES = {
    "ref": str | int,
    "outcome": str,
    "number": str | int,
    "rules": list,
    "held": dict,
    "candidates": list,
}
OF_LISTS = {"rules": str, "candidates": dict}  # what stands in its lists
LARGEST = 60_000_000  # bytes of an answer that somebody brings


def read_answer(context: Context, round_id: int) -> bytes:
    """Give the answer to a round as it came.

    Raises:
        NoSuchRound: There is none, or it has no answer.
    """
    with context.database.transaction() as connection:
        found = store.get_answer(connection, round_id)
    if not found:
        raise NoSuchRound(round_id)
    return found


def bring_answer(context: Context, round_id: int, data: bytes, account_id: int | None) -> str:
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
        if one is None or one.state not in ("byhand", "built", "sent", "refused"):
            raise NoSuchRound(round_id)
        sent = json.loads(store.get_body(connection, round_id))
        reference = load_submission(connection, one.submission_id).layout["reference"]["to"]
    answer = _read_answer(data)
    _refuse_outcomes(answer)
    mine = {row[reference] for row in sent["records"]}
    told = {str(found.get("ref", "")) for found in answer["results"]}
    if not told & mine:
        shown = ", ".join(one[:60] for one in sorted(told)[:3]) or "no reference at all"
        raise WrongAnswer(
            f"None of its records was sent in round {one.number}: this is the answer to something"
            f" else. It speaks of {shown}."
        )
    if one.state == "byhand" and (open_still := mine - told - _answered(context, one)):
        return _take_part_in(context, one, answer, len(open_still), account_id)
    written = json.dumps(answer, ensure_ascii=False).encode()
    values = {
        "state": "answered",
        "answer": written,
        "answered_at": context.now(),
        "done": one.records,
        "problem": "",
    }
    put_round(context, one, "byhand", "built", "sent", "refused", **values)
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


def end_by_hand(context: Context, round_id: int, account_id: int | None) -> str:
    """End a round by hand of which a part was answered: nothing more comes, what has no answer goes
    again.

    Raises:
        NoSuchRound: There is none that waits for the rest of its answer.
    """
    with context.database.transaction() as connection:
        one = store.get_round(connection, round_id)
    if one is None or one.state != "byhand" or one.answered_at is None:
        raise NoSuchRound(round_id)
    written = json.dumps({"results": [], "changes": []}).encode()
    put_round(
        context, one, "byhand", state="answered", answer=written, done=one.records, problem=""
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


def _answered(context: Context, one: Round) -> set[str]:
    """List the references of a round that a part of its answer has spoken of before."""
    opened = open_submission(context, one.submission_id)
    name = opened.layout.reference.to
    return {line.sent.get(name, "") for line in opened.told_of(one.number)}


def _take_part_in(
    context: Context, one: Round, answer: dict[str, Any], rest: int, account_id: int | None
) -> str:
    """Keep a part of the answer to a round by hand, and leave the round open for the rest."""
    opened = open_submission(context, one.submission_id)
    number, refs = opened.layout.number.to, references(opened.layout, opened.rows, opened.lines)
    with context.database.transaction() as connection:
        sent = {
            row[opened.layout.reference.to]: row
            for row in json.loads(store.get_body(connection, one.id))["records"]
        }
    results = {str(found.get("ref", "")): found for found in answer["results"]}
    mine = [ref for ref in results if ref in sent and ref in refs]
    strays = [ref for ref in results if ref not in sent]
    lines = [line_of(refs[ref], sent[ref], results[ref], number) for ref in mine]
    done = one.records - rest
    with context.database.transaction() as connection:
        if store.lock_round(connection, one.id) != "byhand":
            raise NoSuchRound(one.id)
        store.insert_lines(connection, one.id, lines)
        store.set_step_answers(connection, one.submission_id, said_of_changes(answer))
        store.set_round(
            connection,
            one.id,
            done=done,
            answered_at=context.now(),
            problem=say_strays(strays)[:500],
        )
        store.touch(connection, one.submission_id)
        title = f"round {one.number}"
        insert_audit(
            connection,
            "answer-by-hand",
            title,
            account_id,
            context.now(),
            submission=one.submission_id,
            records=len(lines),
        )
    return "byhand"


def _refuse_outcomes(answer: dict[str, Any]) -> None:
    """See that an answer that somebody brings knows only outcomes that there are.

    Raises:
        WrongAnswer: With those that are none, and of which references.
    """
    strange: dict[str, list[str]] = {}
    for found in answer["results"]:
        outcome = str(found.get("outcome", ""))
        if outcome not in OUTCOMES:
            strange.setdefault(outcome, []).append(str(found.get("ref", "")))
    if strange:
        shown = [
            f"{outcome[:40]!r} of"
            f" {', '.join(one[:40] for one in refs[:3])}{' …' if len(refs) > 3 else ''}"
            for outcome, refs in list(strange.items())[:5]
        ]
        said = "; ".join(shown) + (f"; and {len(strange) - 5:,} more" if len(strange) > 5 else "")
        raise WrongAnswer(
            f"These outcomes are none: {said}. There are {', '.join(OUTCOMES)}. Nothing of the file"
            " was taken."
        )


def _refuse_shapes(answer: dict[str, Any]) -> None:
    """See that an answer as JSON is made as the authority's are.

    Raises:
        WrongAnswer: With the first thing that is not, and of which result.
    """
    if not isinstance(answer.get("results"), list):
        raise WrongAnswer("An answer has results.")
    if not isinstance(answer.get("changes") or [], list):
        raise WrongAnswer("What an answer says to changes is a list.")
    for number, one in enumerate(answer["results"], 1):
        if not isinstance(one, dict):
            raise WrongAnswer(f"Result {number} is no object with a ref and an outcome.")
        for name, value in one.items():
            fits = value is None or isinstance(value, SHAPES.get(name, object))
            if not fits or (
                value
                and name in OF_LISTS
                and not all(isinstance(part, OF_LISTS[name]) for part in value)
            ):
                of = str(one.get("ref", ""))[:60] or "no reference"
                raise WrongAnswer(f"Result {number} (of {of}) has {name} of another shape.")


def _read_answer(data: bytes) -> dict[str, Any]:
    """Read an answer.

    Raises:
        WrongAnswer: It is none.
    """
    if len(data) > LARGEST:
        raise WrongAnswer(f"An answer has at most {LARGEST // 1_000_000} MB.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise WrongAnswer("An answer is JSON or CSV in UTF-8.") from error
    if text.lstrip()[:1] == "{":
        try:
            found = json.loads(text)
            json.dumps(found, ensure_ascii=False).encode()  # as it is kept
        except json.JSONDecodeError as error:
            raise WrongAnswer(
                f"This JSON breaks off or is damaged at line {error.lineno}."
            ) from error
        except (ValueError, RecursionError) as error:
            said = (
                "This JSON has what no answer has: lists in lists without end, half a letter or an"
                " endless number."
            )
            raise WrongAnswer(said) from error
        _refuse_shapes(found)
        return {"results": found["results"], "changes": found.get("changes") or []}
    separator = max(SEPARATORS, key=(text.splitlines() or [""])[0].count)
    try:
        rows = [
            {
                (name or "").strip().upper(): value
                for name, value in row.items()
                if isinstance(value, str) or value is None
            }
            for row in csv.DictReader(io.StringIO(text), delimiter=separator)
        ]
    except csv.Error as error:
        raise WrongAnswer("This CSV is damaged: write it again.") from error
    if not rows or not {"REF", "OUTCOME"} <= set(rows[0]):
        heads = ", ".join((text.splitlines() or [""])[0].split(separator)[:6])[:200]
        raise WrongAnswer(
            "An answer as CSV has the columns REF, OUTCOME, NUMBER and RULES; this one has"
            f" {heads or 'none'}."
        )
    results = [
        {
            "ref": (row["REF"] or "").strip(),
            "outcome": (row["OUTCOME"] or "").strip().lower(),
            "number": (row.get("NUMBER") or "").strip(),
            "rules": (
                re.split(r"[;,\s]+", (row.get("RULES") or "").strip(" ;,"))
                if (row.get("RULES") or "").strip(" ;,")
                else []
            ),
        }
        for row in rows
    ]
    return {"results": results, "changes": []}
