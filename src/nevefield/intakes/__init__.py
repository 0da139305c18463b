"""Intakes: one file each, on its way into one roster."""

from nevefield.store.intakes import Intake, StepRow
from nevefield.store.waivers import WaiverRow

__all__ = ["Intake", "StepRow", "WaiverRow"]
