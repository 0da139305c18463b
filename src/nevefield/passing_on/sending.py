"""Tell a destination: asked for by hand, or due by itself; told once whatever breaks.

What was sent is kept after each few records, so that who is told again after a kill are those few:
they are looked up there first, and found in step.
"""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from typing import TYPE_CHECKING, Any

from croniter import croniter

from nevefield.core.passing.destination import AskedWay, FileWay
from nevefield.core.passing.standing import Act, Place
from nevefield.core.states import JobKind
from nevefield.destinations.errors import DestinationError, Unreachable
from nevefield.passing_on.comparing import compare
from nevefield.passing_on.errors import (
    DestinationMoved,
    NothingToTell,
    OthersSend,
    PassingError,
    StaysHere,
    TooManyEnds,
)
from nevefield.passing_on.filing import make_file
from nevefield.passing_on.holding import hold_ready
from nevefield.passing_on.keeping import (
    list_destinations,
    open_destination,
    require_destination,
    require_level,
)
from nevefield.passing_on.looking import content_of, look_at
from nevefield.passing_on.ways import Item, make_sender
from nevefield.store import jobs as job_store
from nevefield.store import passing as store
from nevefield.store.audit import insert_audit
from nevefield.store.sight import Level

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator

    from nevefield.context import Context
    from nevefield.core.passing.destination import Destination
    from nevefield.passing_on.keeping import OpenDestination
    from nevefield.passing_on.looking import Look
    from nevefield.store.connection import Connection

__all__ = ["do_job", "queue_due", "request_comparing", "request_telling", "tell"]

BATCH = 40  # records of which it is kept at once what became of them
FIRST_WAIT, LONGEST_WAIT = 20.0, 3_600.0  # seconds before a destination is asked again
MINUTE = 60.0
UNFORESEEN = "It could not be told; what happened stands in the log."
GUARDED = "More would be switched off than goes by itself"


def request_telling(
    context: Context, name: str, seen: int, ends: int | None, account_id: int | None
) -> int:
    """Queue that a destination is told of everything that is to be sent.

    Args:
        context: Database and clock.
        name: Of the destination.
        seen: How many records would be sent, as somebody saw it.
        ends: How many would be switched off, as somebody typed it; None where nobody was asked.
        account_id: Who.

    Returns:
        The job's number.

    Raises:
        NoSuchDestination: There is none.
        StaysHere: This is the practice copy.
        NothingToTell, OthersSend: It cannot be now.
        DestinationMoved: Others would be sent by now.
        TooManyEnds: So many would be switched off that it wants the number.
    """
    _refuse_practice(context)
    look = look_at(context, name)
    if look.sendable != seen:
        raise DestinationMoved
    if not look.sendable and not isinstance(look.opened.destination.way, FileWay):
        raise NothingToTell
    going = look.counts[Place.TO_END]
    if look.is_guarded and ends != going:
        raise TooManyEnds(going, look.there)
    with context.database.transaction() as connection:
        require_level(connection, look.opened, Level.APPROVE)
        store.lock(connection, look.opened.row.id)
        if name in _under_way(connection):
            raise OthersSend
        job = _queue(context, connection, look.opened, account_id, ends=going)
        insert_audit(
            connection,
            "destination-told",
            look.opened.destination.title,
            account_id,
            context.now(),
            records=look.sendable,
            ends=going,
        )
    return job


def request_comparing(context: Context, name: str, account_id: int | None) -> int:
    """Queue that what a destination holds is read back and compared; return the job's number.

    Raises:
        NoSuchDestination: There is none.
        StaysHere: This is the practice copy.
        OthersSend: It cannot be now.
    """
    _refuse_practice(context)
    with context.database.transaction() as connection:
        opened = require_destination(connection, name)
        require_level(connection, opened, Level.PREPARE)
        store.lock(connection, opened.row.id)
        if name in _under_way(connection):
            raise OthersSend
        arguments = {"destination": name, "compare": True}
        job = job_store.insert_job(
            connection,
            JobKind.TELL,
            opened.row.roster_id,
            arguments,
            account_id,
            context.now(),
        )
        title = opened.destination.title
        insert_audit(connection, "destination-compared", title, account_id, context.now())
    return job


def do_job(
    context: Context,
    arguments: dict[str, Any],
    job_id: int,
    account_id: int | None,
    progress: Callable[[str, int, int], None],
) -> dict[str, Any]:
    """Do what a job asks for: compare, or tell."""
    name = arguments["destination"]
    if arguments.get("compare"):
        return compare(context, name, job_id, _lease(context), progress)
    return tell(
        context,
        name,
        job_id,
        account_id,
        progress,
        ends=arguments["ends"],
        by_itself=arguments["by_itself"],
    )


def queue_due(context: Context) -> int:
    """Queue a job for every destination that is to be told by itself now; return how many."""
    if context.settings.practice:
        return 0
    queued = 0
    for one in list_destinations(context):
        if not _is_due(context, one):
            continue
        with context.database.transaction() as connection:
            store.lock(connection, one.row.id)  # several workers look at the same moment
            if one.destination.name not in _under_way(connection):
                _queue(context, connection, one, None, ends=0)
                queued += 1
    return queued


def _is_due(context: Context, opened: OpenDestination) -> bool:
    row, when = opened.row, opened.destination.when
    if not row.is_on or when.kind == "by hand":
        return False
    if row.busy_until is not None and row.busy_until > context.now():
        return False
    is_early = row.next_at is not None and row.next_at > context.now()
    if when.kind == "at a time":
        if row.next_at is None:
            _put_off(context, opened)
        return row.next_at is not None and not is_early
    if is_early and row.tries:
        return False  # it did not answer, and is left alone for a while
    return row.seen != _state(context, opened) or (row.next_at is not None and not is_early)


def _put_off(context: Context, opened: OpenDestination) -> None:
    with context.database.transaction() as connection:
        store.set_destination(
            connection,
            opened.row.id,
            touches=False,
            next_at=next_time(context, opened.destination),
        )


def next_time(context: Context, destination: Destination) -> datetime | None:
    """Tell when a destination is told by itself next, in UTC; None where no clock says it."""
    if destination.when.kind != "at a time":
        return None
    local = croniter(destination.when.rule, context.local(context.now())).get_next(datetime)
    found: datetime = local.astimezone(UTC).replace(tzinfo=None)
    return found


def _state(context: Context, opened: OpenDestination) -> str:
    """Say in which state the rosters are: in the same one there is nothing else to tell."""
    versions = ".".join(
        f"{one.id}-{one.version}-{one.definition}" for _, one in sorted(opened.rosters.items())
    )
    return f"{context.today().isoformat()} {opened.row.version} {versions}"[:200]


def _under_way(connection: Connection) -> set[str]:
    return {
        job.arguments["destination"] for job in job_store.list_running(connection, JobKind.TELL)
    }


def _queue(
    context: Context,
    connection: Connection,
    opened: OpenDestination,
    account_id: int | None,
    *,
    ends: int,
) -> int:
    arguments = {
        "destination": opened.destination.name,
        "ends": ends,
        "by_itself": account_id is None,
    }
    return job_store.insert_job(
        connection, JobKind.TELL, opened.row.roster_id, arguments, account_id, context.now()
    )


def tell(
    context: Context,
    name: str,
    job_id: int,
    account_id: int | None,
    progress: Callable[[str, int, int], None] = lambda doing, done, total: None,
    *,
    ends: int = 0,
    by_itself: bool = False,
) -> dict[str, Any]:
    """Tell a destination of everything that is to be sent.

    Args:
        context: Database, clock and the way there.
        name: Of the destination.
        job_id: The job that does it.
        account_id: Who asked for it; None for itself.
        progress: Hears how far it is.
        ends: How many may be switched off although they are many.
        by_itself: Whether it was due rather than asked for.

    Returns:
        How many were sent, how many refused, and how many stayed behind.

    Raises:
        NoSuchDestination, OthersSend, StaysHere, NoKey: It cannot be.
        TooManyEnds: More would be switched off by now.
        DestinationError: It does not answer; what was sent before is kept.
    """
    _refuse_practice(context)
    opened = open_destination(context, name)
    with context.database.transaction() as connection:
        if not store.claim(connection, opened.row.id, job_id, context.now(), _lease(context)):
            raise OthersSend
    try:
        look = look_at(context, name)
        state = _state(context, look.opened)
        if look.is_guarded and look.counts[Place.TO_END] > ends:
            error = TooManyEnds(look.counts[Place.TO_END], look.there)
            if by_itself:
                _note(context, look.opened, state, f"{GUARDED}: {error}")
                return {"sent": 0, "refused": 0, "left": look.sendable}
            raise error
        if isinstance(opened.destination.way, FileWay):
            answer = make_file(context, look, account_id, progress)
        elif isinstance(opened.destination.way, AskedWay):
            answer = hold_ready(context, look, account_id, progress)
        else:
            answer = _tell_each(context, look, job_id, account_id, progress)
        _note(context, look.opened, state, answer.get("problem", ""))
        return answer
    except DestinationError as error:
        _wait(context, opened, error)
        if by_itself:
            return {"sent": 0, "refused": 0, "left": 0, "problem": str(error)}
        raise
    except TooManyEnds:
        raise
    except PassingError as error:
        _wait(context, opened, error)
        raise
    except Exception:
        # whatever it is: told by itself, it would be tried again without end
        _wait(context, opened, PassingError(UNFORESEEN))
        raise
    finally:
        with context.database.transaction() as connection:
            store.release(connection, opened.row.id, job_id)


def _tell_each(
    context: Context,
    look: Look,
    job_id: int,
    account_id: int | None,
    progress: Callable[[str, int, int], None],
) -> dict[str, Any]:
    """Tell of one record after another, several at a time; each few are kept."""
    destination_id, title = look.opened.row.id, look.opened.destination.title
    sent = refused = 0
    sender = make_sender(context, look.opened)
    # what it said of itself may have altered what is to be sent
    look = look_at(context, look.opened.destination.name)
    items = list(_items(context, look))
    try:
        with ThreadPoolExecutor(sender.at_once() if items else 1) as pool:
            for first in range(0, len(items), BATCH):
                progress(f"Telling {title}", first, len(items))
                learnt, failed = _tell_some(pool, sender.send, items[first : first + BATCH])
                with context.database.transaction() as connection:
                    store.learn(connection, destination_id, learnt, account_id, context.now())
                    store.claim(connection, destination_id, job_id, context.now(), _lease(context))
                refused += sum(bool(one.tried) for one in learnt)
                sent += sum(not one.tried for one in learnt)
                if failed is not None:
                    raise failed
    finally:
        sender.close()
    answer = {"sent": sent, "refused": refused, "left": len(items) - sent - refused}
    return answer | ({"problem": late} if (late := sender.troubles()) else {})


def _tell_some(
    pool: ThreadPoolExecutor,
    send: Callable[[Item], store.Learnt],
    items: list[Item],
) -> tuple[list[store.Learnt], DestinationError | None]:
    """Tell of some records; of those told before one failed it is kept all the same."""
    learnt: list[store.Learnt] = []
    failed: DestinationError | None = None
    for future in [pool.submit(send, item) for item in items]:
        try:
            learnt.append(future.result())
        except DestinationError as error:
            failed = failed or error
    return learnt, failed


def _items(context: Context, look: Look) -> Iterator[Item]:
    """List what is to be sent: who ends first, so that what they had is free for others."""
    with context.database.transaction() as connection:
        for places in ((Place.TO_END,), (Place.TO_SEND,)):
            for shared in look.shared:
                mine = [one for one in shared.standings.values() if one.place in places]
                known = store.list_known(
                    connection, look.opened.row.id, [one.record for one in mine]
                )
                for standing in mine:
                    before = known.get(standing.record)
                    yield Item(
                        shared,
                        standing,
                        before.ref if before else "",
                        before.content if before and before.is_there else None,
                        content_of(shared, standing) if standing.act != Act.END else None,
                        before.version if before else 0,
                        bool(shared.told[standing.record].digest) if before else True,
                    )


def _note(context: Context, opened: OpenDestination, state: str, problem: str) -> None:
    after = next_time(context, opened.destination)
    if opened.destination.when.kind == "each minute" or (problem and not _is_guarded(problem)):
        after = context.now() + timedelta(seconds=MINUTE)
    values: dict[str, Any] = {
        "problem": problem[:500],
        "seen": state,
        "tries": 0,
        "next_at": after,
    }
    if not problem:
        values["sent_at"] = context.now()
    with context.database.transaction() as connection:
        store.set_destination(connection, opened.row.id, touches=False, **values)


def _is_guarded(problem: str) -> bool:
    return problem.startswith(GUARDED)


def _wait(context: Context, opened: OpenDestination, error: Exception) -> None:
    """Let a destination rest that does not answer, longer each time."""
    seconds = min(LONGEST_WAIT, FIRST_WAIT * 2**opened.row.tries)
    if isinstance(error, Unreachable) and error.after is not None:
        seconds = max(seconds, min(error.after, LONGEST_WAIT))
    with context.database.transaction() as connection:
        store.set_destination(
            connection,
            opened.row.id,
            touches=False,
            problem=str(error)[:500],
            tries=opened.row.tries + 1,
            next_at=context.now() + timedelta(seconds=seconds),
        )


def _lease(context: Context) -> datetime:
    return context.now() + timedelta(seconds=max(120, 4 * context.settings.lease_seconds))


def _refuse_practice(context: Context) -> None:
    if context.settings.practice:
        raise StaysHere
