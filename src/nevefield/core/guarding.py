"""What changes from one definition to another, in words; and which of it nobody does alone where
two have to agree.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.borders import Json

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.core.definition import Definition, Field

__all__ = ["changes_between", "why_two"]


def _keys(one: Definition) -> Json:
    return (
        one.primary_key,
        one.keys,
        sorted(one.unique_keys),
        sorted(field.name for field in one.fields if field.unique),
    )


def _kept(one: Definition) -> Json:
    return sorted(field.name for field in one.fields if field.sensitive)


def _gives(one: Definition) -> Json:
    # What a group gives hangs on the fields that say who is in it, too.
    groups = [
        (kind.name, kind.by, kind.each, kind.person, dict(kind.grants))
        for kind in one.groups
        if kind.grants
    ]
    return groups, [check for check in one.checks if check.check in PRIVILEGES]


PRIVILEGES = ("raised", "never-together")  # checks that say what privileges are
# What the rule of two rests on: whoever could change it alone could go round the rule.
_GUARDED: dict[str, Callable[[Definition], Json]] = {
    "when a second person is needed": lambda one: one.approval,
    "the keys": _keys,
    "which fields are kept from who may only look": _kept,
    "what gives privileges": _gives,
}


def why_two(old: Definition, new: Definition) -> str:
    """Say why a second person has to agree to a change of definition; "" when none has to.

    Where a roster has a rule of two, what the rule rests on is not changed by one either: the rule
    itself, the keys by which records are told apart, what is kept from whom, what gives privileges.
    """
    if old.approval.least is None and not old.approval.raising:
        return ""
    found = [title for title, part in _GUARDED.items() if part(old) != part(new)]
    return f"changing {_listed(found)} of this roster needs a second person" if found else ""


def changes_between(old: Definition, new: Definition) -> list[str]:
    """List in words what is another from one definition to another, the parts that are guarded
    first.
    """
    said = [
        f"{title[0].upper()}{title[1:]}"
        for title, part in _GUARDED.items()
        if part(old) != part(new)
    ]
    if old.approval != new.approval:
        said[0] += f": {_say_rule(old)}; then {_say_rule(new)}"
    said += [f"new field {one.title}" for one in new.fields if one.name not in old.by_name]
    said += [f"field {one.title} goes" for one in old.fields if one.name not in new.by_name]
    for one in new.fields:
        before = old.by_name.get(one.name)
        if before is not None and before != one:
            said.append(f"{one.title}: {_listed(_altered(before, one))}")
    rest = {
        "title": "the title",
        "checks": "checks",
        "groups": "kinds of group",
        "placement": "placement rules",
    }
    rest |= {
        "foreign_keys": "references",
        "missing_values": "what counts as empty",
        "limits": "limits of likeness",
    }
    said += [title for name, title in rest.items() if getattr(old, name) != getattr(new, name)]
    return said


def _say_rule(one: Definition) -> str:
    said = [f"from {one.approval.least:,} records on" if one.approval.least is not None else ""]
    said.append("when somebody gains a privilege" if one.approval.raising else "")
    return " and ".join(filter(None, said)) or "never"


def _altered(before: Field, after: Field) -> list[str]:
    return [
        name.replace("_", " ")
        for name in before.__dataclass_fields__
        if getattr(before, name) != getattr(after, name)
    ]


def _listed(words: list[str]) -> str:
    return " and ".join([", ".join(words[:-1]), words[-1]] if len(words) > 1 else words)
