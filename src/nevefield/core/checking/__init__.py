"""Checks, identifier schemes, causes."""

__all__: list[str] = []
