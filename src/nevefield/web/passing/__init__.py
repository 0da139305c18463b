"""Passing on: destinations, where each record stands with them, what is sent."""

__all__: list[str] = []
