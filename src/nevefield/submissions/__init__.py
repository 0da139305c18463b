"""Submissions: records sent to an authority in rounds, what it rejects, and the numbers that it
gives.
"""

from nevefield.store.submissions import Round, StepRow, Submission

__all__ = ["Round", "StepRow", "Submission"]
