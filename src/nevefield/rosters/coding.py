"""Write code lists: a list whole, or one code more; nothing that somebody else wrote meanwhile
is written over unseen.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.codes import Code, CodeList, refuse_loops
from nevefield.core.errors import WrongCodes
from nevefield.core.opening.naming import make_name
from nevefield.core.texts import SEVERAL
from nevefield.rosters.errors import CodesMoved, NoSuchList, UnknownFields
from nevefield.rosters.looking import code_users, count_uses
from nevefield.rosters.snapshots import load_codes, load_definition, load_snapshot, require_roster
from nevefield.store import rosters as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from nevefield.context import Context
    from nevefield.core.definition import Definition
    from nevefield.store.connection import Connection

__all__ = [
    "ListInUse",
    "Values",
    "add_code",
    "begin_list",
    "define_words",
    "list_codes",
    "list_in_use",
    "look_at_list",
    "look_at_values",
    "make_list_of",
    "write_list",
]


LONGEST_TITLE = 60  # letters
LONGEST_CODE = 60
MOST_MADE = 200  # codes of a list that is made of what a field has


@dataclass(frozen=True)
class ListInUse:
    """A code list, and what uses it."""

    list: CodeList
    version: int
    places: tuple[str, ...]  # in words: roster, field
    used: Mapping[str, int]  # code -> records that have it


def list_codes(context: Context) -> dict[str, CodeList]:
    """List the code lists by name."""
    with context.database.transaction() as connection:
        return load_codes(connection)


def define_words(context: Context, roster: str) -> tuple[Definition, dict[str, CodeList]]:
    """Give what says the values of a roster in words: its definition, and the code lists by name.

    Raises:
        NoSuchRoster: There is none.
    """
    with context.database.transaction() as connection:
        definition = load_definition(connection, require_roster(connection, roster))
        return definition, load_codes(connection)


def list_in_use(context: Context) -> dict[str, tuple[CodeList, tuple[str, ...]]]:
    """List the code lists by name, each with the places that use it."""
    with context.database.transaction() as connection:
        users = code_users(connection)
        return {
            name: (codes, tuple(place for place, _, _ in users.get(name, ())))
            for name, codes in load_codes(connection).items()
        }


def look_at_list(context: Context, name: str) -> ListInUse:
    """Look at a code list with its version, the places that use it, and how many records have
    each code.

    Raises:
        NoSuchList: There is no such list.
    """
    with context.database.transaction() as connection:
        lists = load_codes(connection)
        if name not in lists:
            raise NoSuchList(name)
        return ListInUse(
            lists[name],
            dict(store.get_code_versions(connection))[name],
            tuple(place for place, _, _ in code_users(connection).get(name, ())),
            count_uses(connection, name),
        )


def write_list(
    context: Context, name: str, codes: Sequence[Code], seen: int | None, account_id: int
) -> None:
    """Write a code list whole.

    Args:
        context: Database and clock.
        name: Of the list.
        codes: All its codes from now on.
        seen: The version that they were made of; None writes over whatever there is.
        account_id: Who.

    Raises:
        NoSuchList: There is no such list.
        CodesMoved: Somebody has written it meanwhile.
        WrongCodes: Something in it cannot be, or a code that records use would be gone.
    """
    with context.database.transaction() as connection:
        before, version = _take(connection, name)
        if seen is not None and seen != version:
            raise CodesMoved
        _refuse(codes, before, count_uses(connection, name))
        store.replace_code_list(connection, name, codes)
        insert_audit(connection, "codes-written", name, account_id, context.now(), codes=len(codes))


def begin_list(context: Context, title: str, account_id: int) -> str:
    """Begin a code list without codes.

    Args:
        context: Database and clock.
        title: What people call it.
        account_id: Who.

    Returns:
        Its name.

    Raises:
        WrongCodes: The title says nothing, or there is such a list.
    """
    title = " ".join(title.split())
    if not any(letter.isalnum() for letter in title) or len(title) > LONGEST_TITLE:
        raise WrongCodes(1, f"a list has a name of 1 to {LONGEST_TITLE} letters")
    name = make_name(title, [])
    with context.database.transaction() as connection:
        if name in load_codes(connection.whole()):
            raise WrongCodes(1, f"there is a code list “{name}” already")
        store.replace_code_list(connection, name, ())
        insert_audit(connection, "codes-begun", name, account_id, context.now())
    return name


@dataclass(frozen=True)
class Values:
    """The different values that a field has in the records, the commonest first."""

    counts: tuple[tuple[str, int], ...]
    why_no_list: str  # "" where a list can be made of them


def look_at_values(context: Context, roster: str, field: str) -> Values:
    """Look at the different values of a field, and whether a code list can be made of them.

    Raises:
        NoSuchRoster, UnknownFields: There is none.
    """
    with context.database.transaction() as connection:
        return _values(connection, roster, field)


def _values(connection: Connection, roster: str, name: str) -> Values:
    snapshot = load_snapshot(connection, require_roster(connection, roster))
    one = snapshot.definition.by_name.get(name)
    if one is None:
        raise UnknownFields([name], snapshot.definition)
    column, counts = snapshot.columns[name], Counter[str]()
    for text, count in zip(column.texts(), column.counts().tolist(), strict=True):
        for part in text.split(SEVERAL):
            counts[part] += count
    found = tuple(sorted(((text, n) for text, n in counts.items() if n), key=_commonest))
    why = ""
    if one.type != "string" or one.is_telling or one.identifier or one.code_list:
        why = "it holds something else than words of a list"
    elif len(found) < 2:
        why = "it has less than two different values"
    elif len(found) > MOST_MADE:
        why = f"a list is made of up to {MOST_MADE} values"
    elif any(len(text) > LONGEST_CODE for text, _ in found):
        why = f"a code has up to {LONGEST_CODE} letters"
    return Values(found, why)


def _commonest(one: tuple[str, int]) -> tuple[int, str]:
    return -one[1], one[0]


def make_list_of(context: Context, roster: str, field: str, account_id: int) -> str:
    """Make a code list of the values that a field has: each is a code as it stands, the commonest
    first. The field takes it when the definition says so.

    Returns:
        Its name.

    Raises:
        NoSuchRoster, UnknownFields: There is none.
        WrongCodes: No list can be made of them.
    """
    with context.database.transaction() as connection:
        values = _values(connection, roster, field)
        if values.why_no_list:
            raise WrongCodes(1, f"no list can be made of “{field}”: {values.why_no_list}")
        name = make_name(field, load_codes(connection.whole()))
        codes = [Code(text, text) for text, _ in values.counts]
        store.replace_code_list(connection, name, codes)
        insert_audit(
            connection,
            "codes-made",
            name,
            account_id,
            context.now(),
            roster=roster,
            field=field,
            codes=len(codes),
        )
    return name


def add_code(context: Context, name: str, code: Code, account_id: int) -> None:
    """Put a code at the end of a list, beside whatever others do to it.

    Args:
        context: Database and clock.
        name: Of the list.
        code: The new one.
        account_id: Who.

    Raises:
        NoSuchList: There is no such list.
        WrongCodes: It has the code already, or its parents go in a circle, or it ends before it
            begins.
    """
    with context.database.transaction() as connection:
        before, _ = _take(connection, name)
        for line, one in enumerate(before.codes, 1):
            if one.code == code.code:
                lasts = f", with {one.last_day} as its last day" if one.last_day else ""
                raise WrongCodes(
                    line, f"“{one.code}” is in the list already ({one.label or 'no label'}){lasts}."
                )
        _refuse((*before.codes, code), before, {})
        store.replace_code_list(connection, name, (*before.codes, code))
        insert_audit(connection, "code-added", name, account_id, context.now(), code=code.code)


def _take(connection: Connection, name: str) -> tuple[CodeList, int]:
    """Return a list as it stands and its version, and keep others from writing it until the
    transaction ends.
    """
    version = store.lock_code_list(connection, name)
    if version is None:
        raise NoSuchList(name)
    return store.list_code_lists(connection).get(name, CodeList(name, ())), version


def _refuse(codes: Sequence[Code], before: CodeList, used: Mapping[str, int]) -> None:
    seen: set[str] = set()
    refuse_loops(codes)
    for line, code in enumerate(codes, 1):
        if not code.code:
            raise WrongCodes(line, "the code is empty.")
        if code.code in seen:
            raise WrongCodes(line, f"“{code.code}” stands twice.")
        if code.first_day and code.last_day and code.first_day > code.last_day:
            raise WrongCodes(line, f"“{code.code}” ends before it begins.")
        seen.add(code.code)
    for line, code in enumerate(before.codes, 1):
        if code.code not in seen and used.get(code.code):
            raise WrongCodes(
                line,
                f"“{code.code}” is used by {used[code.code]} records; give it a last day instead of"
                " taking it away.",
            )
