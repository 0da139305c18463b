"""Destinations: kept, looked at, told what rosters say."""

__all__: list[str] = []
