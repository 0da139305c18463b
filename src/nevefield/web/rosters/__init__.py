"""Rosters: records, receipts, definitions, doubles, waivers, shortlists."""

__all__: list[str] = []
