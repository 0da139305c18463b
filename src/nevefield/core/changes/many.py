"""Change many: what acts such as set, add, take out and replace make of chosen records, written as
a file of those records.

The file goes the way of every other: checks, plan, guards, approval, receipt, undo.
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from datetime import date, timedelta
from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.errors import WrongStep
from nevefield.core.texts import SEVERAL, near

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from nevefield.core.definition import Definition, Field
    from nevefield.core.snapshot import Snapshot

__all__ = ["ACTS", "Act", "check_acts", "say_act", "write_rows"]

ACTS = ("set", "blank", "add", "take", "plus", "minus", "replace")


@dataclass(frozen=True)
class Act:
    """What becomes of one field of each chosen record."""

    field: str
    act: str  # of ACTS
    # set: the value; add, take: one of several; plus, minus: a number, or days; replace: what is
    # put
    value: str = ""
    find: str = ""  # replace: what is looked for


def check_acts(definition: Definition, acts: Sequence[Act]) -> None:
    """See that acts can be done.

    Raises:
        WrongStep: With what is wrong and what would be right.
    """
    if not acts:
        raise WrongStep("Say what is to be changed: a field, and what becomes of it.")
    names = [act.field for act in acts]
    for act in acts:
        if act.field not in definition.by_name:
            raise WrongStep(
                f"There is no field “{act.field}” in {definition.title};"
                f" {near(act.field, definition.by_name)}"
            )
        field = definition.by_name[act.field]
        if act.act not in ACTS:
            raise WrongStep(f"“{act.act}” is nothing that can be done; {near(act.act, ACTS)}")
        if names.count(act.field) > 1:
            raise WrongStep(f"{field.title} is to be changed twice; say once what becomes of it.")
        if act.field in definition.primary_key:
            raise WrongStep(
                f"{field.title} says which record it is; it is not changed for many at once."
            )
        _check_act(field, act)


def _check_act(field: Field, act: Act) -> None:
    if act.act == "blank" and field.required:
        raise WrongStep(f"{field.title} must be filled; it cannot be emptied.")
    if act.act in ("set", "add", "take") and not act.value.strip():
        raise WrongStep(f"Say the value of {field.title}.")
    if act.act in ("add", "take") and not field.several:
        raise WrongStep(f"{field.title} takes one value; set it instead.")
    if act.act in ("plus", "minus"):
        if field.type not in ("integer", "number", "year", "date"):
            raise WrongStep(
                f"{field.title} is no number and no day: nothing can be added to it or subtracted"
                " from it."
            )
        if _number(act.value) is None or (
            field.type == "date" and not float(act.value).is_integer()
        ):
            raise WrongStep(
                f"“{act.value}” is no {'number of days' if field.type == 'date' else 'number'}."
            )
    if act.act == "replace" and not act.find:
        raise WrongStep(f"Say which text of {field.title} is to be replaced.")


def write_rows(snapshot: Snapshot, records: Sequence[int], acts: Sequence[Act]) -> bytes:
    """Write chosen records with what becomes of them, as JSON lines: the key and the fields that
    acts are about.

    Args:
        snapshot: The roster.
        records: Places in it.
        acts: See `check_acts`.
    """
    definition = snapshot.definition
    names = [*definition.primary_key, *(act.field for act in acts)]
    columns = {name: snapshot.columns[name] for name in names}
    lines = []
    for record in records:
        had = {name: column.at(record) for name, column in columns.items()}
        row = {name: had[name] or "" for name in definition.primary_key} | _after(
            definition, had, acts
        )
        lines.append(json.dumps(row, ensure_ascii=False))
    return ("\n".join(lines) + "\n").encode()


def _after(
    definition: Definition, had: Mapping[str, str | None], acts: Sequence[Act]
) -> dict[str, str]:
    found = {}
    for act in acts:
        field = definition.by_name[act.field]
        text = _done(field, had[act.field], act)
        found[act.field] = field.typed(text)
    return found


def _done(field: Field, had: str | None, act: Act) -> str:
    if act.act == "set":
        return act.value
    if act.act == "blank":
        return ""
    if had is None:
        return act.value if act.act == "add" else ""
    if act.act in ("add", "take"):
        wanted = [part.strip() for part in act.value.split(field.several)]
        parts = [part for part in had.split(SEVERAL) if part not in wanted]
        return SEVERAL.join([*parts, *(wanted if act.act == "add" else ())])
    if act.act == "replace":
        return had.replace(act.find, act.value)
    return _shifted(field, had, act)


def _shifted(field: Field, had: str, act: Act) -> str:
    by = float(act.value) * (1 if act.act == "plus" else -1)
    if field.type == "date":
        try:
            return (date.fromisoformat(had[:10]) + timedelta(days=int(by))).isoformat()
        except (ValueError, OverflowError):
            return had  # the checks say what is wrong with it
    number = _number(had)
    if number is None:
        return had
    total = number + by
    return str(int(total)) if total.is_integer() else repr(round(total, 9))


def _number(text: str) -> float | None:
    try:
        return float(text)
    except ValueError:
        return None


def say_act(definition: Definition, act: Act) -> str:
    """Word an act for a title: "Watch = SKUA"."""
    title = definition.title_of(act.field)
    words: dict[str, Json] = {
        "set": f"{title} = {act.value}",
        "blank": f"{title} emptied",
        "add": f"{title} + {act.value}",
        "take": f"{title} − {act.value}",
        "plus": f"{title} + {act.value}",
        "minus": f"{title} − {act.value}",
        "replace": f"“{act.find}” in {title} → “{act.value}”",
    }
    return str(words[act.act])
