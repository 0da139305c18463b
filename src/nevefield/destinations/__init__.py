"""Clients of outside systems that are told what rosters say; they know no roster and no store."""

__all__: list[str] = []
