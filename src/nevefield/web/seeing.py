"""Open an intake as who is signed in may see it."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from nevefield.accounts import Level
from nevefield.core.columns.titles import name_fields
from nevefield.core.masking import cover_evaluation, sensitive_fields
from nevefield.intakes.evaluating import open_intake
from nevefield.store.rosters import get_roster
from nevefield.web.access import context, is_masked, level_in

if TYPE_CHECKING:
    from collections.abc import Mapping

    from nevefield.core.snapshot import Snapshot
    from nevefield.intakes.evaluating import Opened

__all__ = ["KEPT", "is_covered", "see", "unnamed_of"]

KEPT = "It may name what is kept from you."  # in place of words that hold values, written when they were there to see


def see(intake_id: int) -> Opened:
    """Open an intake; sensitive fields are covered for who may only look, and so are people of rosters that are not theirs."""
    opened = open_intake(context(), intake_id)
    unnamed = unnamed_of(opened.evaluation.facts.others)
    if unnamed:
        facts = replace(opened.evaluation.facts, unnamed=unnamed)
        opened = replace(opened, evaluation=replace(opened.evaluation, facts=facts))
    return replace(opened, evaluation=cover_evaluation(opened.evaluation)) if is_covered(opened) else opened


def unnamed_of(others: Mapping[str, Snapshot]) -> frozenset[str]:
    """List the rosters whose people who is signed in may not see by name."""
    if not others:
        return frozenset()
    with context().database.transaction() as connection:
        rosters = {name: get_roster(connection, name) for name in others}
    hidden = set()
    for name, roster in rosters.items():
        definition = others[name].definition
        is_secret = bool(sensitive_fields(definition) & {*name_fields(definition)})
        if roster is None or level_in(roster.id) < Level.LOOK or (is_secret and is_masked(roster.id)):
            hidden.add(name)
    return frozenset(hidden)


def is_covered(opened: Opened) -> bool:
    """Tell whether something of an intake is kept from who is signed in."""
    return is_masked(opened.intake.roster_id) and bool(sensitive_fields(opened.evaluation.definition))
