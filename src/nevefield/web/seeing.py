"""Open an intake as who is signed in may see it."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from nevefield.core.masking import cover_evaluation, sensitive_fields
from nevefield.intakes.evaluating import open_intake
from nevefield.web.access import context, is_masked

if TYPE_CHECKING:
    from nevefield.intakes.evaluating import Opened

__all__ = ["KEPT", "is_covered", "see"]

KEPT = "It may name what is kept from you."  # in place of words that hold values, written when they were there to see


def see(intake_id: int) -> Opened:
    """Open an intake; sensitive fields are covered for who may only look."""
    opened = open_intake(context(), intake_id)
    return replace(opened, evaluation=cover_evaluation(opened.evaluation)) if is_covered(opened) else opened


def is_covered(opened: Opened) -> bool:
    """Tell whether something of an intake is kept from who is signed in."""
    return is_masked(opened.intake.roster_id) and bool(sensitive_fields(opened.evaluation.definition))
