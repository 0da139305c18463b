"""The keys by which somebody works: whether single ones act at all, and which take whose place.

Source: WCAG 2.2, 2.1.4 Character Key Shortcuts.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

from nevefield.store import accounts as store
from nevefield.store.audit import insert_audit

if TYPE_CHECKING:
    from nevefield.context import Context
    from nevefield.store.accounts import Account

__all__ = ["Keys", "WrongKeys", "choose_keys", "keys_of"]

MOST = 40


class WrongKeys(Exception):
    """Keys that cannot be chosen so; the text says why and what to do."""


@dataclass(frozen=True)
class Keys:
    """How somebody works with keys.

    Args:
        single: Whether letters, digits and signs act alone.
        changed: The key that is pressed in place of one of ours, by ours.
    """

    single: bool = True
    changed: Mapping[str, str] = field(default_factory=dict)


def keys_of(context: Context, account: Account) -> Keys:
    """Give the keys of an account."""
    with context.database.transaction() as connection:
        single, changed = store.get_keys(connection, account.id)
    return Keys(single, changed)


def choose_keys(context: Context, account: Account, keys: Keys) -> None:
    """Keep the keys of an account.

    Raises:
        WrongKeys: When one is no single character, or two acts would have the same.
    """
    if len(keys.changed) > MOST:
        raise WrongKeys(f"At most {MOST} keys can be changed.")
    for ours, pressed in keys.changed.items():
        if len(pressed) != 1 or not pressed.isprintable() or pressed.isspace():
            raise WrongKeys(
                f"In place of “{ours}” one letter, digit or sign is pressed, not “{pressed}”."
            )
    pressed_ones = [one.casefold() for one in keys.changed.values()]
    for one in pressed_ones:
        if pressed_ones.count(one) > 1:
            raise WrongKeys(f"“{one}” would do two things; choose another key for one of them.")
    with context.database.transaction() as connection:
        store.put_keys(connection, account.id, keys.single, dict(keys.changed))
        insert_audit(
            connection,
            "keys-chosen",
            account.sign_in,
            account.id,
            context.now(),
            single=keys.single,
            changed=len(keys.changed),
        )
