"""Opening rosters: from a file with what is proposed for it, or from nothing."""

from nevefield.store.openings import Opening

__all__ = ["Opening"]
