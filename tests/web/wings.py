"""Two wings of one house: a roster of which some have a part alone, the near wing; the far wing is
the other part. Both have something of every kind, made by somebody of that wing.

Every word of the far wing has a sign in it that stands nowhere else, and all that was made there is
kept under one number, which nothing of the near wing has.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from nevefield.accounts import Level, add_account
from nevefield.accounts.signing import sight_of
from nevefield.context import Context
from nevefield.core.codes import Code
from nevefield.rosters.opening import open_roster_with
from nevefield.store import accounts, records, rosters
from nevefield.store.parts import ensure_part
from tests.web.houses import (
    PEOPLE,
    THEIRS,
    House,
    Maker,
    count_from,
    count_records_from,
    fill,
    submit,
)

__all__ = ["Wing", "open_wings"]

LAYOUT = {
    "reference": {"from": "nr", "to": "REF"},
    "number": {"from": "note", "to": "NUMBER", "asked": "ASKED"},
    "fields": [{"to": "NAME", "from": "family"}, {"to": "MAIL", "from": "mail"}],
}


@dataclass(frozen=True)
class Wing(Maker):
    """Makes the words of a wing: codes are the same in both, all else of the far one is signed."""

    def key(self, place: int) -> str:
        return f"{'ZQ0B' if self.sign else 'NEAR'}-{place:03d}"

    def person(self, place: int) -> dict[str, str]:
        return {
            **super().person(place),
            "team": f"ot{place % 3 + 1}",
            "creed": f"zsxac{place % 2 + 1}",
            "site": "far" if self.sign else "near",
        }

    def document(self) -> dict[str, Any]:
        document = super().document()
        document["fields"].append({"name": "site", "title": "Site", "nevefield": {}})
        by_site = {"kind": "site", "title": "Sites", "by": ["site", "team"]}
        document["nevefield"]["groups"].append(by_site)
        return document


def open_wings(context: Context, passwords: Callable[[str], str]) -> tuple[House, House]:
    """Open the house with both wings, and accounts: who may do what in the near wing is their
    name; `all` approves in the whole house.
    """
    keeper = add_account(context, "keeper", "The keeper", passwords("keeper"), Level.ADMINISTER)
    near, far = (Wing("ownfolk", *words, None, False) for words in (("", "zsxa"), ("zq0b", "zsxb")))
    with context.database.transaction() as connection:
        for kind, word in (("team", "o"), ("creed", "zsxa")):
            codes = [Code(f"{word}{kind[0]}{at}", f"{kind} {word} {at}") for at in range(1, 5)]
            rosters.replace_code_list(connection, f"ownfolk{kind}", codes)
    count_records_from(context, THEIRS)
    everybody = [wing.person(place) for wing in (far, near) for place in range(PEOPLE)]
    roster = open_roster_with(context, near.document(), everybody)
    with context.database.transaction() as connection:
        numbers = [number for number, _ in records.list_current(connection, roster)]
        parts = {
            site: ensure_part(connection, roster, {"field": "site", "is": site})
            for site in ("near", "far")
        }
    whole = submit(context, far, keeper, LAYOUT)
    for name in ("look", "prepare", "approve"):
        level = {roster: Level[name.upper()]}
        of = {roster: parts["near"]}
        add_account(context, name, name, passwords(name), Level.NONE, level, of)
    add_account(context, "all", "all", passwords("all"), Level.NONE, {roster: Level.APPROVE})
    hidden = add_account(
        context,
        "zqx-keeper",
        "Keeper zq0b",
        passwords("zqx-keeper"),
        Level.NONE,
        {roster: Level.APPROVE},
        {roster: parts["far"]},
    )
    found = fill(
        _seen_by(context, "approve"), near, _number(context, "approve"), roster, numbers[PEOPLE]
    )
    count_from(context, THEIRS)
    theirs = fill(_seen_by(context, "zqx-keeper"), far, hidden, roster, numbers[0])
    own = House("ownfolk", "", "zsxa", roster, {**whole, **found}, near.document(), LAYOUT)
    return own, House("ownfolk", "zq0b", "zsxb", roster, theirs, near.document(), LAYOUT)


def _number(context: Context, sign_in: str) -> int:
    with context.database.transaction() as connection:
        return accounts.get_account(connection, sign_in).id


def _seen_by(context: Context, sign_in: str) -> Context:
    with context.database.transaction() as connection:
        account = accounts.get_account(connection, sign_in)
    return context.seen_by(sight_of(context, account))
