"""Begin a submission, take in who belongs to it by now, and change how it is written."""

from __future__ import annotations

import dataclasses
from collections import Counter
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from nevefield.authority.client import Authority
from nevefield.core.columns.days import say_day
from nevefield.core.conditions import check_condition
from nevefield.core.submitting.layout import read_layout, translate
from nevefield.core.submitting.proposing import propose_layout
from nevefield.core.submitting.published import read_published
from nevefield.rosters.snapshots import load_codes, load_definition, load_snapshot, require_roster
from nevefield.store import rosters as roster_store
from nevefield.store import submissions as store
from nevefield.store.audit import insert_audit
from nevefield.submissions.errors import NoAuthority, OnlyPractice, WrongDecision
from nevefield.submissions.looking import (
    UNDER_WAY,
    find_places,
    load_submission,
    open_submission,
    places_on,
    require_open,
)

if TYPE_CHECKING:
    from datetime import date

    from nevefield.context import Context
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster
    from nevefield.store.submissions import Submission

__all__ = [
    "MOST_PARTS",
    "Beginning",
    "authority_of",
    "begin_submission",
    "change_layout",
    "close",
    "count_records",
    "find_like",
    "join_conditions",
    "plan_layout",
    "refuse_live",
    "rename",
    "set_policy",
    "take_in",
    "translate_code",
]

SIDES = ("practice", "live")
MOST_PARTS = 40  # values of a field by which records are counted


def authority_of(context: Context, side: str) -> Authority:
    """Make the client of the authority that the settings name.

    Raises:
        NoAuthority: They name none.
        OnlyPractice: This is the practice copy, and that is the live side.
    """
    settings = context.settings
    refuse_live(context, side)
    if not settings.registry_url:
        raise NoAuthority
    return Authority(settings.registry_url, settings.registry_token, side, context.transport)


def refuse_live(context: Context, side: str) -> None:
    """See that nothing of the practice copy goes where it would count.

    Raises:
        OnlyPractice: It would.
    """
    if context.settings.practice and side != "practice":
        raise OnlyPractice


def find_like(context: Context, number: int, roster_name: str) -> Submission:
    """Find an earlier submission of the same roster, which is followed.

    Raises:
        NoSuchSubmission, NoSuchRoster: There is none.
        WrongDecision: It is of another roster.
    """
    with context.database.transaction() as connection:
        like = load_submission(connection, number)
        if like.roster_id != require_roster(connection, roster_name).id:
            raise WrongDecision("The earlier submission is of another roster; choose one of this.")
    return like


@dataclass(frozen=True)
class Beginning:
    """What a submission is begun with."""

    roster: str
    title: str  # for people
    side: str  # practice or live
    day: date  # of reference
    layout: dict[str, Any]  # where our fields go
    chosen: Any = None  # the condition of which records belong to it; None for all
    due: date | None = None  # by when it must be accepted
    # what is decided of numbers without asking: `{"none": "new", "one": 95}`
    policy: dict[str, Any] = dataclasses.field(default_factory=dict)
    published: dict[str, Any] | None = None  # by the authority; asked of it when None
    # of a practice: the live submission of the roster whose last answers it begins with
    starts_from: int | None = None
    key: str = ""  # 32 signs that no round has, for the round by which it begins so


def begin_submission(context: Context, begin: Beginning, account_id: int | None) -> int:
    """Begin a submission with the records of which its condition holds.

    Args:
        context: Database, clock and the way to the authority.
        begin: What it begins with.
        account_id: Who.

    Returns:
        Its number.

    Raises:
        NoSuchRoster: There is none.
        WrongLayout, WrongDefinition: The layout or the condition says something that cannot be.
        AuthorityError, NoAuthority: What it publishes cannot be had.
        WrongDecision: Nobody would be in it.
        OnlyPractice: This is the practice copy, and that is the live side.
    """
    refuse_live(context, begin.side)
    published = begin.published
    if published is None:
        published = _ask_published(context, begin.side)
    theirs = read_published(published)
    with context.database.transaction() as connection:
        roster = require_roster(connection, begin.roster)
        definition = load_definition(connection, roster)
        snapshot = load_snapshot(connection, roster)
        read_layout(begin.layout, definition.by_name, theirs.titles)
        if begin.chosen is not None:
            check_condition(begin.chosen, "chosen", definition.by_name)
        made = {
            "roster_id": roster.id,
            "title": begin.title.strip() or f"Return of {roster.title}",
            "side": begin.side,
            "layout": begin.layout,
            "published": published,
            "chosen": begin.chosen,
            "day": begin.day,
            "due": begin.due,
            "policy": begin.policy,
        }
        number = store.insert_submission(connection, made, account_id, context.now())
        places = find_places(snapshot, begin.chosen, load_submission(connection, number))
        if not len(places):
            raise WrongDecision(
                f"It would take in nobody: the condition holds of no record of {roster.title} on"
                f" {say_day(begin.day)}."
            )
        store.set_records(connection, number, snapshot.ids[places].tolist())
        if begin.starts_from is not None:
            _require_live(connection, begin, roster)
            store.start_from(
                connection, number, begin.starts_from, begin.key, account_id, context.now()
            )
        insert_audit(
            connection,
            "submission",
            made["title"],
            account_id,
            context.now(),
            submission=number,
            records=len(places),
        )
    return number


def _ask_published(context: Context, side: str) -> dict[str, Any]:
    client = authority_of(context, side)
    try:
        return client.layout()
    finally:
        client.close()


def _require_live(connection: Connection, begin: Beginning, roster: Roster) -> None:
    """See that a practice begins with what the live side of the same roster holds."""
    live = load_submission(connection, begin.starts_from or 0)
    if begin.side != "practice" or live.side != "live" or live.roster_id != roster.id:
        raise WrongDecision(
            "Only a practice begins with what the live side holds, of the same roster."
        )


def join_conditions(earlier: Any, more: Any, *, instead: bool) -> Any:
    """Put a condition beside the earlier one, so that both must hold; or in its place.

    >>> join_conditions({"field": "site", "is": "N"}, {"field": "year", "is": "1"}, instead=False)
    {'all': [{'field': 'site', 'is': 'N'}, {'field': 'year', 'is': '1'}]}
    """
    if more is None or earlier is None or instead:
        return earlier if more is None else more
    parts = earlier["all"] if list(earlier) == ["all"] else [earlier]
    return {"all": [*parts, more]}


def count_records(
    context: Context, roster_name: str, chosen: Any, day: date
) -> tuple[int, dict[str, dict[str, int]]]:
    """Count whom a submission would take in, and by the coded fields that part people, before it is
    begun.

    Returns:
        How many; and by field how many of each value.

    Raises:
        NoSuchRoster: There is none.
        WrongDefinition: The condition says something that cannot be.
    """
    with context.database.transaction() as connection:
        roster = require_roster(connection, roster_name)
        definition, snapshot = (
            load_definition(connection, roster),
            load_snapshot(connection, roster),
        )
    if chosen is not None:
        check_condition(chosen, "chosen", definition.by_name)
    places = places_on(snapshot, chosen, day)
    parts = {}
    for field in definition.fields:
        if field.code_list and not field.several:
            counts = Counter(text for text in snapshot.columns[field.name].rows(places) if text)
            if 1 < len(counts) <= MOST_PARTS:
                parts[field.name] = dict(sorted(counts.items()))
    return len(places), parts


def rename(context: Context, number: int, title: str, account_id: int | None) -> None:
    """Give a submission another title.

    Raises:
        NoSuchSubmission: There is none.
        WrongDecision: The title is empty.
    """
    if not title.strip():
        raise WrongDecision("A submission needs a title.")
    with context.database.transaction() as connection:
        before = load_submission(connection, number)
        store.rename_submission(connection, number, title.strip()[:200])
        insert_audit(
            connection,
            "submission-renamed",
            title.strip(),
            account_id,
            context.now(),
            submission=number,
            before=before.title,
        )


def close(context: Context, number: int, account_id: int | None, *, back: bool = False) -> None:
    """Close a submission, or open it again: a closed one is looked at, and nothing of it is sent or
    decided.

    Raises:
        NoSuchSubmission: There is none.
        WrongDecision: A round of it is under way.
    """
    with context.database.transaction() as connection:
        store.lock_submission(connection, number)
        submission = load_submission(connection, number)
        if not back and (
            waiting := next(
                (
                    round_
                    for round_ in store.list_rounds(connection, number)
                    if round_.state in UNDER_WAY
                ),
                None,
            )
        ):
            raise WrongDecision(
                f"Round {waiting.number} is under way: wait for its answer, then close it."
            )
        store.close_submission(connection, number, None if back else context.now())
        word = "submission-opened" if back else "submission-closed"
        insert_audit(
            connection, word, submission.title, account_id, context.now(), submission=number
        )


def plan_layout(
    context: Context, roster_name: str, side: str
) -> tuple[dict[str, Any], dict[str, Any]]:
    """Ask the authority what it publishes, and propose where our fields go.

    Returns:
        What it publishes, and the layout's JSON as far as it can be proposed.

    Raises:
        NoSuchRoster: There is none.
        AuthorityError, NoAuthority: What it publishes cannot be had.
    """
    client = authority_of(context, side)
    try:
        published = client.layout()
    finally:
        client.close()
    with context.database.transaction() as connection:
        definition = load_definition(connection, require_roster(connection, roster_name))
        codes = load_codes(connection)
    return published, propose_layout(definition, codes, read_published(published))


def change_layout(
    context: Context, number: int, layout: dict[str, Any], account_id: int | None
) -> None:
    """Write a submission otherwise from now on; what was sent before stays as it was sent.

    Raises:
        NoSuchSubmission: There is none.
        WrongLayout: The layout says something that cannot be.
    """
    with context.database.transaction() as connection:
        store.lock_submission(connection, number)
        submission = require_open(load_submission(connection, number))
        roster = roster_store.get_roster_by_id(connection, submission.roster_id)
        if roster is not None:
            definition = load_definition(connection, roster)
            read_layout(layout, definition.by_name, read_published(submission.published).titles)
        store.set_layout(connection, number, layout)
        insert_audit(
            connection, "layout", submission.title, account_id, context.now(), submission=number
        )


def take_in(context: Context, number: int, account_id: int | None) -> int:
    """Take in the records that belong to a submission by now; return how many.

    Raises:
        NoSuchSubmission: There is none.
    """
    opened = open_submission(context, number)
    require_open(opened.submission)
    with context.database.transaction() as connection:
        store.set_records(connection, number, opened.joining)
        store.touch(connection, number)
        title = opened.submission.title
        insert_audit(
            connection,
            "submission-took-in",
            title,
            account_id,
            context.now(),
            submission=number,
            records=len(opened.joining),
        )
    return len(opened.joining)


def translate_code(
    context: Context, number: int, to: str, ours: str, theirs: str, account_id: int | None
) -> None:
    """Send one of our codes as another of theirs from now on.

    Raises:
        NoSuchSubmission: There is none.
        WrongDecision: Nothing of ours goes to that field, or they have no such code.
    """
    with context.database.transaction() as connection:
        store.lock_submission(connection, number)
        submission = require_open(load_submission(connection, number))
        published = read_published(submission.published)
        if not any(one.get("to") == to and "from" in one for one in submission.layout["fields"]):
            raise WrongDecision(f"None of our fields goes to “{to}”.")
        if to in published.codes and theirs not in published.codes[to]:
            raise WrongDecision(
                f"{published.authority} has no {published.titles.get(to, to).lower()} “{theirs}”."
            )
        store.set_layout(connection, number, translate(submission.layout, to, ours, theirs))
        insert_audit(
            connection,
            "translated",
            submission.title,
            account_id,
            context.now(),
            submission=number,
            field=to,
        )


def set_policy(
    context: Context, number: int, none: bool, one: float | None, account_id: int | None
) -> None:
    """Say what is decided of numbers without asking; never of several holders.

    Raises:
        NoSuchSubmission: There is none.
        WrongDecision: The limit is none.
    """
    if one is not None and not 80 <= one <= 100:
        raise WrongDecision("The only holder is taken from a score of 80 to 100 on, or never.")
    with context.database.transaction() as connection:
        submission = require_open(load_submission(connection, number))
        store.set_policy(connection, number, {"none": "new" if none else "", "one": one})
        insert_audit(
            connection,
            "policy",
            submission.title,
            account_id,
            context.now(),
            submission=number,
            none=none,
            one=one,
        )
