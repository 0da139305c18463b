"""Two states compared, as the API gives them."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.columns.titles import name_person
from nevefield.core.snapshot import say_key, to_json
from nevefield.web import common
from nevefield.web.rosters import shapes_records

if TYPE_CHECKING:
    from nevefield.core.changes.states import Difference
    from nevefield.core.snapshot import Snapshot
    from nevefield.intakes.comparing import State

__all__ = ["compared_answer"]


def compared_answer(
    first: State, second: State, difference: Difference, query: shapes_records.CompareQuery
) -> shapes_records.ComparedOut:
    """Give what differs: families with counts, and one family with a page of its people."""
    definition = difference.new.definition
    counts = {"joined": len(difference.joined), "absent": len(difference.absent)}
    counts |= {name: len(where) for name, where in difference.changes.items()}
    titles = {"joined": "only in the second", "absent": "only in the first"}
    families = [
        common.FamilyOut(
            key=key, title=titles.get(key) or definition.title_of(key), count=count, taken_away=0
        )
        for key, count in counts.items()
    ]
    largest = max(counts, key=lambda key: counts[key])
    family = query.family if query.family in counts else largest
    mine, theirs = difference.pairs
    page = slice(query.start, query.start + query.limit)
    people = []
    if family in ("joined", "absent"):
        state, source = (second, difference.new) if family == "joined" else (first, difference.old)
        places = (difference.joined if family == "joined" else difference.absent)[page]
        people = [_person(source, int(place), is_file=state.is_file) for place in places]
    else:
        for place in difference.changes[family][page].tolist():
            person = _person(difference.new, int(mine[place]), is_file=second.is_file)
            was, now = (
                difference.old.columns[family].at(int(theirs[place])),
                difference.new.columns[family].at(int(mine[place])),
            )
            values = {
                "old": to_json(definition, family, was),
                "new": to_json(definition, family, now),
            }
            people.append(person.model_copy(update=values))
    changed = len(difference.changed)
    return shapes_records.ComparedOut(
        old=first.title,
        new=second.title,
        families=families,
        changed=changed,
        same=len(mine) - changed,
        family=family,
        total=counts[family],
        people=people,
    )


def _person(snapshot: Snapshot, place: int, *, is_file: bool) -> shapes_records.ComparedPerson:
    number = int(snapshot.ids[place])
    key = snapshot.keys(np.array([place]))[0]
    return shapes_records.ComparedPerson(
        record=None if is_file else number,
        line=number if is_file else None,
        key=say_key(key),
        name=name_person(snapshot.definition, lambda field: snapshot.columns[field].at(place)),
        old=None,
        new=None,
    )
