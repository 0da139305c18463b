"""Intakes: a file from every side, and what it would do."""

__all__: list[str] = []
