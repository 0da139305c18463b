"""What somebody outside writes of a person, in our fields: a layout read backwards.

What is composed, or the same for everybody, cannot be told from what they write, and is theirs to
read alone.
"""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING

from nevefield.core.passing.outgoing import LETTERS
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Mapping, Sequence

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition
    from nevefield.core.passing.destination import Membership, Put, Share

__all__ = ["is_writable", "read_groups", "read_said"]

DAYS = {"01.09.2026": "%d.%m.%Y", "09/01/2026": "%m/%d/%Y", "20260901": "%Y%m%d"}


def is_writable(put: Put) -> bool:
    """Tell whether a value of ours can be told from theirs."""
    return bool(put.source) and len(set(put.codes.values())) == len(put.codes)


def read_said(
    share: Share,
    before: Callable[[str], Sequence[str]],
    after: Callable[[str], Sequence[str]],
    definition: Definition,
    codes: Mapping[str, CodeList],
) -> dict[str, str]:
    """Read what was written of a person: the fields of ours of which they say otherwise.

    Args:
        share: The layout.
        before: Gives their values of one of their fields, as they were given out.
        after: Gives them as they were written.
        definition: Of the roster.
        codes: The code lists.
    """
    said: dict[str, str] = {}
    for put in share.puts:
        if not is_writable(put) or put.source in said:
            continue
        was, is_now = list(before(put.to)), list(after(put.to))
        if was == is_now:
            continue
        field = definition.by_name[put.source]
        texts = [_read(text, put, codes.get(field.code_list)) for text in is_now]
        said[put.source] = field.several.join(texts) if field.several else next(iter(texts), "")
    return said


def _read(text: str, put: Put, known: CodeList | None) -> str:
    for ours, theirs in put.codes.items():
        if theirs == text:
            return ours
    if put.form == "label":
        return _by_label(text, known)
    if put.form in LETTERS:
        yes, no = (one.casefold() for one in LETTERS[put.form])
        return {yes: "true", no: "false"}.get(text.casefold(), text)
    if put.form in DAYS:
        try:
            return datetime.strptime(text, DAYS[put.form]).date().isoformat()
        except ValueError:
            return text
    return text


def _by_label(text: str, known: CodeList | None) -> str:
    """Find the code that a label is of; of several, none."""
    found = [one.code for one in known.codes if (one.label or one.code) == text] if known else []
    return found[0] if len(found) == 1 else text


def read_groups(
    share: Share,
    gained: Collection[str],
    lost: Collection[str],
    had: Callable[[str], str],
    definition: Definition,
    codes: Mapping[str, CodeList],
) -> dict[str, str]:
    """Read which groups somebody is to come into and to leave, as values of our fields.

    Args:
        share: The layout.
        gained: Groups by name.
        lost: Groups by name.
        had: Gives the value of a field of theirs as it is kept.
        definition: Of the roster.
        codes: The code lists.
    """
    said: dict[str, str] = {}
    names = [(one, name, True) for name in gained for one in _leads(share, name)[:1]]
    names += [(one, name, False) for name in lost for one in _leads(share, name)]
    for one, name, comes in names:
        field = definition.by_name[one.source]
        value = _value_of(one, name, codes.get(field.code_list))
        texts = said.get(one.source, had(one.source)).split(SEVERAL)
        texts = [text for text in texts if text]
        if comes and value not in texts:
            texts = [*texts, value] if field.several else [value]
        if not comes:
            texts = [text for text in texts if text != value]
        said[one.source] = SEVERAL.join(texts)
    return {
        name: definition.by_name[name].typed(text)
        for name, text in said.items()
        if text != had(name)
    }


def _leads(share: Share, name: str) -> list[Membership]:
    """List the fields that a group's name may be of, those with the longest words before first."""
    fitting = [one for one in share.groups if name.startswith(one.before) and name != one.before]
    return sorted(fitting, key=lambda one: -len(one.before))


def _value_of(one: Membership, name: str, known: CodeList | None) -> str:
    text = name[len(one.before) :]
    for ours, theirs in one.codes.items():
        if theirs == text:
            return ours
    return _by_label(text, known) if one.form == "label" else text
