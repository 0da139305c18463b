"""Opening rosters, over HTTP."""

__all__: list[str] = []
