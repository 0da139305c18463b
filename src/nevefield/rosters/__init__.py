"""Rosters: their records now and on other days, their history, code lists."""

__all__: list[str] = []
