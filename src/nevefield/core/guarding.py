"""What changes from one definition to another, in words; and which of it nobody does alone where
two have to approve.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from nevefield.core.borders import Json

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.core.definition import Definition, Field

__all__ = ["changes_between", "why_two"]


def _keys(definition: Definition) -> Json:
    return (
        definition.primary_key,
        definition.keys,
        sorted(definition.unique_keys),
        sorted(field.name for field in definition.fields if field.unique),
    )


def _kept(definition: Definition) -> Json:
    return sorted(field.name for field in definition.fields if field.sensitive)


def _gives(definition: Definition) -> Json:
    # What a group gives hangs on the fields that say who is in it, too.
    groups = [
        (kind.name, kind.by, kind.each, kind.person, dict(kind.grants))
        for kind in definition.groups
        if kind.grants
    ]
    return groups, [check for check in definition.checks if check.check in PRIVILEGES]


PRIVILEGES = ("raised", "never-together")  # checks that say what privileges are
# What the rule of two rests on: whoever could change it alone could go round the rule.
_GUARDED: dict[str, Callable[[Definition], Json]] = {
    "when a second person is needed": lambda one: one.approval,
    "the keys": _keys,
    "which fields are kept from who may only look": _kept,
    "what gives privileges": _gives,
}


def why_two(old: Definition, new: Definition) -> str:
    """Say why a second person has to approve a change of definition; "" when none has to.

    Where a roster has a rule of two, what the rule rests on is not changed by one either: the rule
    itself, the keys by which records are told apart, what is kept from whom, what gives privileges.
    """
    if old.approval.least is None and not old.approval.raising:
        return ""
    texts = [title for title, part in _GUARDED.items() if part(old) != part(new)]
    return f"changing {_listed(texts)} of this roster needs a second person" if texts else ""


def changes_between(old: Definition, new: Definition) -> list[str]:
    """List in words what is another from one definition to another, the parts that are guarded
    first.
    """
    messages = [
        f"{title[0].upper()}{title[1:]}"
        for title, part in _GUARDED.items()
        if part(old) != part(new)
    ]
    if old.approval != new.approval:
        messages[0] += f": {_say_rule(old)}; then {_say_rule(new)}"
    messages += [
        f"new field {field.title}" for field in new.fields if field.name not in old.by_name
    ]
    messages += [
        f"field {field.title} goes" for field in old.fields if field.name not in new.by_name
    ]
    for field in new.fields:
        before = old.by_name.get(field.name)
        if before is not None and before != field:
            messages.append(f"{field.title}: {_listed(_altered(before, field))}")
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
    messages += [title for name, title in rest.items() if getattr(old, name) != getattr(new, name)]
    return messages


def _say_rule(definition: Definition) -> str:
    messages = [
        f"from {definition.approval.least:,} records on"
        if definition.approval.least is not None
        else ""
    ]
    messages.append("when somebody gains a privilege" if definition.approval.raising else "")
    return " and ".join(filter(None, messages)) or "never"


def _altered(before: Field, after: Field) -> list[str]:
    return [
        name.replace("_", " ")
        for name in before.__dataclass_fields__
        if getattr(before, name) != getattr(after, name)
    ]


def _listed(words: list[str]) -> str:
    return " and ".join([", ".join(words[:-1]), words[-1]] if len(words) > 1 else words)
