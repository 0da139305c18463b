"""The practice copy: the same rosters with made-up people, beside the real ones."""

__all__: list[str] = []
