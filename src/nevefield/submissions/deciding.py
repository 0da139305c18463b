"""Decide of records that an authority rejected or asks about: ours is right, ours is wrong, not
this person, which number.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.submitting.layout import means_same, our_value
from nevefield.core.submitting.standing import DECISIONS, NEW
from nevefield.intakes.evaluating import open_intake
from nevefield.proposals.changing import MadeRows, keep_rows
from nevefield.store import submissions as store
from nevefield.store.audit import insert_audit
from nevefield.submissions.errors import WrongDecision
from nevefield.submissions.looking import OpenSubmission, open_submission, require_open

if TYPE_CHECKING:
    from collections.abc import Collection

    from nevefield.context import Context

__all__ = ["Said", "decide", "take_theirs"]

MOST_ATTACHED = 5_000_000  # bytes


@dataclass(frozen=True)
class Said:
    """What is decided of some records."""

    kind: str  # of DECISIONS
    value: str = ""  # number: the number, or NEW
    rule: str = ""  # right: the rule that rejected it
    reason: str = ""
    attached: str = ""  # right: name of an attachment
    attachment: bytes = b""


def decide(
    context: Context, number: int, records: Collection[int], said: Said, account_id: int | None
) -> int:
    """Decide of records; what was decided of them before counts no more.

    Args:
        context: Database and clock.
        number: Of the submission.
        records: By number.
        said: What is decided.
        account_id: Who.

    Returns:
        Of how many it was decided.

    Raises:
        NoSuchSubmission: There is none.
        WrongDecision: It does not fit one of the records; then nothing is decided.
    """
    opened = open_submission(context, number)
    require_open(opened.submission)
    known = set(opened.records)
    chosen = [record for record in dict.fromkeys(records) if record in known]
    if not chosen:
        raise WrongDecision("None of these records is in the submission.")
    for record in chosen:
        _refuse(opened, record, said)
    if len(said.attachment) > MOST_ATTACHED:
        raise WrongDecision(f"An attachment has at most {MOST_ATTACHED // 1_000_000} MB.")
    with context.database.transaction() as connection:
        store.lock_submission(connection, number)
        after = max(
            (
                round_.number
                for round_ in store.list_rounds(connection, number)
                if round_.answered_at is not None
            ),
            default=0,
        )
        step = {
            "kind": said.kind,
            "value": said.value,
            "rule": said.rule,
            "reason": said.reason.strip(),
            "after_round": after,
            "attached": said.attached[:200],
            "attachment": said.attachment or None,
        }
        store.insert_steps(connection, number, chosen, step, account_id, context.now())
        title = opened.submission.title
        insert_audit(
            connection,
            f"decided-{said.kind}",
            title,
            account_id,
            context.now(),
            submission=number,
            records=len(chosen),
        )
    return len(chosen)


def _refuse(opened: OpenSubmission, record: int, said: Said) -> None:
    """See that a decision fits a record.

    Raises:
        WrongDecision: With what would.
    """
    line, state = opened.lines.get(record), opened.standings[record].state
    if said.kind not in DECISIONS:
        raise WrongDecision(
            f"“{said.kind}” is nothing that can be decided; it is one of {', '.join(DECISIONS)}."
        )
    if said.kind in ("right", "question", "hold", "let") and not said.reason.strip():
        raise WrongDecision(
            "Say why: the reason is kept, and goes with it where the authority is asked."
        )
    if said.kind in ("right", "question") and (line is None or line.outcome != "rejected"):
        raise WrongDecision(
            "Only a record that was rejected can be right, or under a wrong number."
        )
    if said.kind == "right" and line is not None and line.held is None:
        raise WrongDecision("The authority holds no record that could be changed: correct ours.")
    if said.kind == "question" and line is not None and not line.sent.get(opened.layout.number.to):
        raise WrongDecision("It was sent without a number; there is none to question.")
    if said.kind == "number":
        if line is None or line.outcome != "to number":
            raise WrongDecision("No number was asked for.")
        offered = {str(candidate["number"]) for candidate in line.candidates}
        if said.value != NEW and said.value not in offered:
            raise WrongDecision(
                f"“{said.value}” is none of the holders that the authority named:"
                f" {', '.join(sorted(offered)) or 'nobody'}."
            )
        taken = next(
            (
                one
                for one in opened.records
                if one != record and said.value != NEW and said.value == _number_of(opened, one)
            ),
            None,
        )
        if taken is not None:
            raise WrongDecision(
                f"{said.value} is the number of another record of this submission already."
            )
    if (
        said.kind == "let"
        and state != "not_sent"
        and not opened.standings[record].why.startswith("breaks")
    ):
        raise WrongDecision("Nothing keeps this record back.")


def _number_of(opened: OpenSubmission, record: int) -> str:
    """Return the number that a record has or is about to get."""
    step, line = opened.steps.get(record), opened.lines.get(record)
    if (
        step is not None
        and step.kind == "number"
        and (line is None or step.after_round >= line.round)
    ):
        return step.value
    return opened.rows.get(record, {}).get(opened.layout.number.to, "")


def take_theirs(
    context: Context,
    number: int,
    records: Collection[int],
    fields: Collection[str],
    account_id: int | None,
) -> int:
    """Take over what the authority holds, as an intake that somebody looks at and applies: ours is
    wrong.

    Args:
        context: Database and clock.
        number: Of the submission.
        records: By number.
        fields: The authority's, such as those that the rule reads; those that mean the same, or are
            no field of ours, stay.
        account_id: Who.

    Returns:
        The intake's number.

    Raises:
        NoSuchSubmission: There is none.
        WrongDecision: Nothing would be taken over.
    """
    opened = open_submission(context, number)
    require_open(opened.submission)
    if opened.submission.side == "practice":
        raise WrongDecision(
            "This is the practice side: nothing of it goes into the roster. Put it right there by"
            " hand."
        )
    rows = _rows_of_theirs(opened, records, fields)
    with context.database.transaction() as connection:
        intake = keep_rows(context, connection, opened.roster, opened.snapshot, rows, account_id)
        insert_audit(
            connection,
            "took-theirs",
            opened.submission.title,
            account_id,
            context.now(),
            submission=number,
            intake=intake,
        )
    open_intake(context, intake)
    return intake


def _rows_of_theirs(
    opened: OpenSubmission, records: Collection[int], fields: Collection[str]
) -> MadeRows:
    """Make rows of what the authority holds in some fields and the roster has otherwise.

    Raises:
        WrongDecision: There are none.
    """
    snapshot, definition = opened.snapshot, opened.snapshot.definition
    puts = [
        put
        for name in dict.fromkeys(fields)
        if (put := opened.layout.put_of(name)) is not None and put.source
    ]
    names = [put.source for put in puts if put.source not in definition.primary_key]
    rows, places = [], []
    for record in dict.fromkeys(records):
        line = opened.lines.get(record)
        if record not in opened.place or line is None or line.held is None:
            continue
        now = opened.rows[record]
        theirs = {
            put.source: our_value(put, str(line.held.get(put.to, "")))
            for put in puts
            if put.source in names and not means_same(str(line.held.get(put.to, "")), now[put.to])
        }
        if not theirs:
            continue
        place = opened.place[record]
        had = {
            name: snapshot.columns[name].at(place) or ""
            for name in (*definition.primary_key, *names)
        }
        rows.append(json.dumps(had | theirs, ensure_ascii=False))
        places.append(place)
    if not rows:
        raise WrongDecision(
            "The authority holds nothing else in these fields: there is nothing to take over."
        )
    who = f"{len(rows):,} record{'s' * (len(rows) != 1)}"
    title = f"As {opened.published.authority} holds it: {who}"
    data = ("\n".join(rows) + "\n").encode()
    return MadeRows(data=data, places=places, fields=names, title=title)
