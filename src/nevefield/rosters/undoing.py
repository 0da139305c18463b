"""Take back: a whole change set, or chosen people or fields of it, as far as nothing later rests
on it.
"""

from __future__ import annotations

import hashlib
import json
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING, Any

from nevefield.core.checking.privileges import count_raised, has_privileges
from nevefield.core.columns.titles import name_person
from nevefield.core.masking import cover_values
from nevefield.rosters.errors import NoSuchChangeSet, NotTakenBack
from nevefield.rosters.snapshots import load_definition
from nevefield.rosters.writing import alter_roster, make_writes
from nevefield.store import records as store
from nevefield.store import rosters as roster_store
from nevefield.store.records import NewChangeSet

if TYPE_CHECKING:
    from collections.abc import Collection, Sequence

    from nevefield.context import Context
    from nevefield.core.definition import Definition
    from nevefield.store.connection import Connection
    from nevefield.store.rosters import Roster

__all__ = [
    "Choice",
    "Turned",
    "UndoPlan",
    "look_at_undo",
    "plan_undo",
    "take_back_records",
]

PEOPLE_KEPT = 200  # that a receipt names of each kind
NAMES_SHOWN = 20
LATER_SHOWN = 200  # records of which the later changes are named
Content = dict[str, Any]


@dataclass(frozen=True)
class Choice:
    """What of a change set is to be taken back; None for all."""

    records: frozenset[int] | None = None
    fields: frozenset[str] | None = None
    but: frozenset[int] = frozenset()  # records that stay as they are

    @property
    def is_whole(self) -> bool:
        """Whether nothing was chosen."""
        return self.records is None and self.fields is None and not self.but

    def takes(self, record: int) -> bool:
        """Tell whether a record is chosen."""
        return record not in self.but and (self.records is None or record in self.records)


@dataclass(frozen=True)
class Turned:
    """What taking back does to one record, and what it leaves because something later rests on
    it.
    """

    record: int
    name: str
    key: str
    does: str  # leaves, returns, values; "" when nothing of it can be taken back
    content: str | None  # the whole content afterwards as JSON text; None when it leaves
    # field, value now, value afterwards
    fields: list[tuple[str, Any, Any]] = field(default_factory=list)
    # fields that were changed again later; "" for the record as a whole
    rests: list[str] = field(default_factory=list)
    # the later change sets: number and title
    later: list[tuple[int, str]] = field(default_factory=list)


@dataclass(frozen=True)
class UndoPlan:
    """What taking back would do, as a change plan of its own."""

    change_set: store.ChangeSet
    roster: Roster
    version: int  # of the roster, for which it was worked out
    people: list[Turned]  # those who would be altered
    kept: list[Turned]  # those of whom something or everything stays, with what rests on it
    raised: int = 0  # of those who would be altered, who gain a privilege back

    def digest(self) -> str:
        """Return a digest of exactly what would be written."""
        made = hashlib.sha256()
        for person in self.people:
            made.update(f"{person.record}\t{person.content}\n".encode())
        return made.hexdigest()


def look_at_undo(
    context: Context, change_set_id: int, choice: Choice
) -> tuple[UndoPlan, Definition]:
    """Plan to take a change set or a part of it back, and give the definition of its roster.

    Raises:
        NoSuchChangeSet, NotTakenBack: As `plan_undo`.
    """
    with context.database.transaction() as connection:
        plan = plan_undo(connection, change_set_id, choice)
        return plan, load_definition(connection, plan.roster)


def plan_undo(connection: Connection, change_set_id: int, choice: Choice | None = None) -> UndoPlan:
    """Work out what taking a change set back, or a part of it, would do to the roster as it stands.

    Args:
        connection: Inside a transaction.
        change_set_id: Which.
        choice: What of it.

    Raises:
        NoSuchChangeSet: There is none.
        NotTakenBack: It is the opening, or was taken back as a whole already.
    """
    choice = choice or Choice()
    found = store.find_change_set(connection, change_set_id)
    roster = roster_store.get_roster_by_id(connection, found[0].roster_id) if found else None
    if found is None or roster is None:
        raise NoSuchChangeSet(change_set_id)
    change_set, _, undone_by = found
    if change_set.kind == "opening":
        raise NotTakenBack(
            "This is the opening of the roster; there is nothing before it to go back to."
        )
    if change_set.kind == "erase":
        raise NotTakenBack("Somebody was erased with this: there is nothing left to take back.")
    if undone_by is not None:
        raise NotTakenBack("This was taken back already.")
    definition = load_definition(connection, roster)
    touched = store.list_touched(connection, roster.id, change_set.version)
    wanted = [one for one in touched if choice.takes(one[0])]
    now = dict(store.list_contents(connection, roster.id, [one[0] for one in wanted]))
    covers = connection.sight.covers(roster.id)
    turned = [
        _turn(definition, *one, now.get(one[0]), choice.fields, covers=covers) for one in wanted
    ]
    kept = [person for person in turned if person.rests]
    later = store.list_later(
        connection, [person.record for person in kept[:LATER_SHOWN]], change_set.version
    )
    for one in kept:
        one.later.extend(later.get(one.record, []))
    people = [person for person in turned if person.does]
    pairs = (
        [(_read(now.get(person.record)), _read(person.content)) for person in people]
        if has_privileges(definition)
        else []
    )
    raised = count_raised(definition, pairs)
    if covers:
        people, kept = ([_cover(definition, person) for person in some] for some in (people, kept))
    return UndoPlan(change_set, roster, roster.version, people, kept, raised)


def _cover(definition: Definition, turned: Turned) -> Turned:
    """Cover the kept values of one record; what it would become is not there."""

    def covered(name: str, value: Any) -> Any:
        return cover_values(definition, {name: value})[name]

    fields = [(name, covered(name, now), covered(name, then)) for name, now, then in turned.fields]
    return replace(turned, content=None, fields=fields)


def _read(text: str | None) -> Content | None:
    return None if text is None else json.loads(text)


def _turn(
    definition: Definition,
    record: int,
    before: str | None,
    after: str | None,
    now: str | None,
    fields: Collection[str] | None,
    *,
    covers: bool,
) -> Turned:
    """Work out what becomes of one record; `covers`: its name and key may be kept."""
    old, new, current = (
        None if text is None else json.loads(text) for text in (before, after, now)
    )
    shown = current or new or old or {}
    shown = cover_values(definition, shown) if covers else shown
    who = (
        record,
        name_person(definition, shown.get),
        " ".join(str(shown.get(name, "")) for name in definition.primary_key),
    )
    if old is None or new is None:  # it joined, or it left
        if fields is not None or current == old:
            return Turned(*who, "", None)
        if current != new:
            names = [] if current is None or new is None else _differing(definition, new, current)
            return Turned(*who, "", None, rests=names or [""])
        return Turned(*who, "leaves" if old is None else "returns", before)
    touched = [
        name for name in _differing(definition, old, new) if fields is None or name in fields
    ]
    if current is None:
        return Turned(*who, "", None, rests=[""] if touched else [])
    back = [
        name
        for name in touched
        if current.get(name) == new.get(name) and current.get(name) != old.get(name)
    ]
    rests = [name for name in touched if current.get(name) not in (new.get(name), old.get(name))]
    if not back:
        return Turned(*who, "", None, rests=rests)
    turned = {name: value for name, value in current.items() if name not in back or name in old}
    turned |= {name: old[name] for name in back if name in old}
    moves = [(name, current.get(name), old.get(name)) for name in back]
    # A record that is wholly as it was gets its text of then back, letter by letter.
    text = (
        before if turned == old else json.dumps(turned, ensure_ascii=False, separators=(",", ":"))
    )
    return Turned(*who, "values", text, moves, rests)


def _differing(definition: Definition, content: Content, other: Content) -> list[str]:
    """List the fields in which two contents differ, in the definition's order, fields that it
    has no more at the end.
    """
    names = dict.fromkeys([*definition.by_name, *content, *other])
    return [name for name in names if content.get(name) != other.get(name)]


def take_back_records(
    context: Context,
    connection: Connection,
    change_set: store.ChangeSet,
    account_id: int | None,
    *,
    choice: Choice | None = None,
    as_far: bool = False,
    digest: str = "",
) -> tuple[int, bool]:
    """Take a change set back, or a part of it, as a change set of its own, inside the caller's
    fresh transaction.

    Args:
        context: Clock.
        connection: Inside a fresh transaction.
        change_set: Which.
        account_id: Who.
        choice: What of it.
        as_far: Whether what later changes rest on may be left as it is; otherwise nothing is done
            when there is any.
        digest: Of the plan that a second account approved; "" when none had to.

    Returns:
        The new change set's number, and whether the whole of the old one is taken back with it.

    Raises:
        NotTakenBack: It was taken back already, later changes rest on it, or there is nothing left
            to take back.
        NeedsApproval: A second account has to approve first.
    """
    choice = choice or Choice()
    # The lock comes before the first plain read, which fixes what the transaction sees: it must be
    # what the lock guards.
    now = roster_store.lock_roster(connection, change_set.roster_id)
    plan = plan_undo(connection, change_set.id, choice)
    _refuse_undo(plan, digest, as_far=as_far)
    is_whole = choice.is_whole and not plan.kept
    definition = load_definition(connection, plan.roster)
    returning = {person.record for person in plan.people if person.does == "returns"}
    writes = make_writes(
        definition, [(person.record, person.content, None, False) for person in plan.people]
    )
    number, _, receipt = alter_roster(
        connection,
        plan.roster,
        writes,
        NewChangeSet(
            kind="undo",
            title=change_set.title,
            account_id=account_id,
            undoes=change_set.id if is_whole else None,
            part_of=None if is_whole else change_set.id,
            at=context.now(),
        ),
        seen=now,
        approved=bool(digest),
    )
    counts = {
        "returned": len(returning),
        "values": sum(person.does == "values" for person in plan.people),
        "left": sum(person.does == "leaves" for person in plan.people),
        "kept": len(plan.kept),
    }
    who = {
        word: _named(plan.people, does)
        for word, does in (("returned", "returns"), ("left", "leaves"), ("values", "values"))
    }
    store.set_receipt(connection, number, {**receipt, "undone": counts, "who": who})
    return number, is_whole


def _refuse_undo(plan: UndoPlan, digest: str, *, as_far: bool) -> None:
    """See that a plan takes something back, all that is wanted, and what was approved.

    Raises:
        NotTakenBack: When not.
    """
    if plan.kept and not as_far:
        count = len(plan.kept)
        said = "record was" if count == 1 else "records were"
        names = [f"{one.name} {one.key}".strip() for one in plan.kept][:NAMES_SHOWN]
        raise NotTakenBack(
            f"{count} {said} changed again later, so this can no longer be taken back as a whole.",
            names,
        )
    if not plan.people:
        raise NotTakenBack("There is nothing left of this to take back.")
    if digest and digest != plan.digest():
        raise NotTakenBack(
            "What taking back would do is another thing by now than what was approved; propose it"
            " again."
        )


def _named(people: Sequence[Turned], does: str) -> list[tuple[int, str, str]]:
    """Name those of whom the same becomes, for the receipt: record, name and key; the first of
    many.
    """
    return [(person.record, person.name, person.key) for person in people if person.does == does][
        :PEOPLE_KEPT
    ]
