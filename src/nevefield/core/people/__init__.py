"""Who is this row: by key, later by likeness."""

__all__: list[str] = []
