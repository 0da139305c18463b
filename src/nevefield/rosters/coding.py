"""Add one code to a list, beside whatever others do to it."""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.codes import refuse_loops
from nevefield.core.errors import WrongCodes
from nevefield.rosters.errors import NoSuchRoster
from nevefield.store import rosters as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.core.codes import Code

__all__ = ["add_code"]


def add_code(context: Context, name: str, code: Code, account_id: int) -> None:
    """Put a code at the end of a list.

    Args:
        context: Database and clock.
        name: Of the list.
        code: The new one.
        account_id: Who.

    Raises:
        NoSuchRoster: There is no such list.
        WrongCodes: It has the code already, or its parent is no code of it, or it ends before it begins.
    """
    with context.database.transaction() as connection:
        if not store.lock_code_list(connection, name):
            raise NoSuchRoster(name)
        lists = store.list_code_lists(connection)
        codes = lists[name].codes if name in lists else ()
        line = len(codes) + 1
        if not code.code:
            raise WrongCodes(line, "the code is empty.")
        for place, one in enumerate(codes, 1):
            if one.code == code.code:
                lasts = f", with {one.last_day} as its last day" if one.last_day else ""
                raise WrongCodes(place, f"{one.code!r} is in the list already ({one.label or 'no label'}){lasts}.")
        if code.first_day and code.last_day and code.first_day > code.last_day:
            raise WrongCodes(line, f"{code.code!r} ends before it begins.")
        refuse_loops((*codes, code))
        store.replace_code_list(connection, name, (*codes, code))
        insert_audit(connection, "code-added", name, account_id, context.now(), code=code.code)
