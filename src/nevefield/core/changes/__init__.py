"""Comparing with the roster, and the plan of what applying would do."""

__all__: list[str] = []
