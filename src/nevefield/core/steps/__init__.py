"""What people do to an intake, as a list that only ever grows.

Undoing is one more step, and so is doing again what was undone (an undo of the undo). `kinds` has
what a step says, `deciding` what all of them add up to, `refusing` what is wrong with one.
"""

from nevefield.core.steps.deciding import Decisions, active_steps, decide, last_receipt
from nevefield.core.steps.kinds import RecipeStep, SourceSteps, Step, read_step
from nevefield.core.steps.refusing import (
    must_end,
    reasons_for,
    refuse_moving,
    refuse_past,
    refuse_reason,
    refuse_unknown,
)

__all__ = [
    "Decisions",
    "RecipeStep",
    "SourceSteps",
    "Step",
    "active_steps",
    "decide",
    "last_receipt",
    "must_end",
    "read_step",
    "reasons_for",
    "refuse_moving",
    "refuse_past",
    "refuse_reason",
    "refuse_unknown",
]
