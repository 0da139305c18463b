"""Submissions: records sent to an authority in rounds, what it rejects, and the numbers that it
gives.
"""

__all__: list[str] = []
