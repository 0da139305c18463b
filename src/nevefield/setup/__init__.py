"""What keeps an installation going."""

from nevefield.store.unforeseen import Unforeseen

__all__ = ["Unforeseen"]
