"""Shape what is answered about people and programs that work here."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.rosters.looking import list_seen
from nevefield.rosters.parts import name_parts
from nevefield.web.setup import shapes_people as shapes

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping

    from nevefield.accounts import Person
    from nevefield.context import Context
    from nevefield.rosters import Roster

__all__ = ["account_answer", "rosters_by_number"]


def rosters_by_number(context: Context) -> dict[int, Roster]:
    """List the rosters that may be seen, by number."""
    return {roster.id: roster for roster in list_seen(context)}


def account_answer(
    context: Context,
    person: Person,
    rosters: Mapping[int, Roster],
    *,
    own: int,
    second: Collection[int],
) -> shapes.AccountOut:
    """Shape somebody who works here.

    Args:
        context: Database and clock.
        person: Who.
        rosters: By number.
        own: The account that asks.
        second: Accounts that sign in with a second step.
    """
    account, today = person.account, context.today()
    return shapes.AccountOut(
        id=account.id,
        sign_in=account.sign_in,
        name=account.name,
        level=account.level,
        rosters={rosters[number].name: level for number, level in person.levels.items()},
        parts={
            rosters[number].name: shapes.AccountPartOut(
                when=part.when, words=name_parts(context, rosters[number], part.id)
            )
            for number, part in person.parts.items()
        },
        last_day=account.last_day,
        is_closed=account.closed_at is not None,
        is_over=account.last_day is not None and account.last_day < today,
        has_password=bool(account.password_hash),
        link_until=person.invited_until,
        since=person.created_at,
        password_at=person.password_at,
        seen_at=person.seen_at,
        sessions=person.sessions,
        may_uncover=account.may_uncover,
        second_step=account.id in second,
        is_you=account.id == own,
    )
