"""Open an intake as who is signed in may see it."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

from nevefield.core.masking import cover_evaluation
from nevefield.intakes.evaluating import open_intake
from nevefield.web.access import context, is_masked

if TYPE_CHECKING:
    from nevefield.intakes.evaluating import Opened

__all__ = ["see"]


def see(intake_id: int) -> Opened:
    """Open an intake; sensitive fields are covered for who may only look."""
    opened = open_intake(context(), intake_id)
    covers = is_masked(opened.intake.roster_id)
    return replace(opened, evaluation=cover_evaluation(opened.evaluation)) if covers else opened
