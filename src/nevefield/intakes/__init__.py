"""Intakes: one file each, on its way into one roster."""

__all__: list[str] = []
