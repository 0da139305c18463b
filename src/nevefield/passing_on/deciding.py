"""What somebody decides of records that were refused, or are to wait."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.passing.standing import Place
from nevefield.destinations.errors import Gone, Refused
from nevefield.passing_on.errors import WrongRemedy
from nevefield.passing_on.keeping import require_destination, require_level
from nevefield.passing_on.looking import content_of, load_look, look_at
from nevefield.passing_on.ways import make_scim
from nevefield.store import passing as store
from nevefield.store.audit import insert_audit
from nevefield.store.sight import Level

if TYPE_CHECKING:
    from collections.abc import Collection

    from nevefield.context import Context
    from nevefield.passing_on.looking import Look

__all__ = ["compose_anew", "hold", "say_same", "try_again"]


def hold(
    context: Context,
    name: str,
    records: Collection[int],
    reason: str | None,
    account_id: int | None,
) -> int:
    """Hold records back, or let them go again with None.

    Returns:
        How many.

    Raises:
        NoSuchDestination: There is none.
        WrongRemedy: None of them is of a roster that is shared.
    """
    with context.database.transaction() as connection:
        opened = require_destination(connection, name)
        require_level(connection, opened, Level.PREPARE)
        look = load_look(context, connection, opened)
        count = 0
        for shared in look.shared:
            mine = [record for record in records if record in shared.standings]
            store.set_held(connection, opened.row.id, shared.roster_id, mine, reason, context.now())
            count += len(mine)
        if not count:
            raise WrongRemedy("None of these is of a roster that this destination is told of.")
        act = "destination-let" if reason is None else "destination-hold"
        title = opened.destination.title
        insert_audit(
            connection, act, title, account_id, context.now(), records=sorted(records)[:50]
        )
    return count


def try_again(context: Context, name: str, records: Collection[int], account_id: int | None) -> int:
    """Let records be sent again that were refused.

    Returns:
        How many.

    Raises:
        NoSuchDestination: There is none.
        WrongRemedy: None of them was refused.
    """
    with context.database.transaction() as connection:
        opened = require_destination(connection, name)
        require_level(connection, opened, Level.PREPARE)
        look = load_look(context, connection, opened)
        chosen = _refused(look, records)
        store.try_again(connection, opened.row.id, chosen)
        insert_audit(
            connection,
            "destination-again",
            opened.destination.title,
            account_id,
            context.now(),
            records=sorted(chosen)[:50],
        )
    return len(chosen)


def compose_anew(
    context: Context, name: str, records: Collection[int], account_id: int | None
) -> list[str]:
    """Let what is composed be another where others have it there: it is known from now on that
    they do.

    Returns:
        What others have.

    Raises:
        NoSuchDestination: There is none.
        WrongRemedy: None of them was refused, or nothing of it is composed.
    """
    with context.database.transaction() as connection:
        opened = require_destination(connection, name)
        require_level(connection, opened, Level.PREPARE)
        store.lock(connection, opened.row.id)
        look = load_look(context, connection, opened)
        chosen = _refused(look, records)
        taken = {field: list(texts) for field, texts in opened.row.taken.items()}
        found = []
        for record in chosen:
            place = look.find(record)
            if place is None or place[1].at < 0:
                continue
            for field, text in place[0].outgoing.own(place[1].at).items():
                taken.setdefault(field, []).append(text)
                found.append(text)
        if not found:
            raise WrongRemedy("Nothing of what they refuse is composed, so it stays what it is.")
        store.set_destination(connection, opened.row.id, taken=taken)
        store.try_again(connection, opened.row.id, chosen)
        insert_audit(
            connection,
            "destination-anew",
            opened.destination.title,
            account_id,
            context.now(),
            records=sorted(chosen)[:50],
        )
    return found


def say_same(context: Context, name: str, records: Collection[int], account_id: int | None) -> int:
    """Say that the accounts that have the names of some records there are those people's: they
    are ours from now on.

    Returns:
        Of how many it was so.

    Raises:
        NoSuchDestination: There is none.
        WrongRemedy: Nobody there has the name of any of them.
        DestinationError: It does not answer.
    """
    look = look_at(context, name)
    chosen = _refused(look, records)
    try:
        client = make_scim(context, look.opened)
    except LookupError as error:
        raise WrongRemedy("Nobody is found by a name there.") from error
    found: dict[int, str] = {}
    try:
        for record in chosen:
            place = look.find(record)
            content = content_of(*place) if place is not None else None
            if content is None:
                continue
            try:
                found[record] = client.find_by("userName", content.fields.get("userName", ""))
            except (Gone, Refused):
                continue
    finally:
        client.close()
    found = {record: ref for record, ref in found.items() if ref}
    if not found:
        raise WrongRemedy("Nobody there has the name of any of these alone.")
    with context.database.transaction() as connection:
        opened = require_destination(connection, name)
        require_level(connection, opened, Level.PREPARE)
        for record, ref in found.items():
            store.set_ref(connection, opened.row.id, record, ref)
        store.try_again(connection, opened.row.id, list(found))
        insert_audit(
            connection,
            "destination-same",
            opened.destination.title,
            account_id,
            context.now(),
            records=sorted(found)[:50],
        )
    return len(found)


def _refused(look: Look, records: Collection[int]) -> list[int]:
    chosen = []
    for record in records:
        place = look.find(record)
        if place is not None and place[1].place == Place.REFUSED:
            chosen.append(record)
    if not chosen:
        raise WrongRemedy("None of these is refused any more: look again.")
    return chosen
