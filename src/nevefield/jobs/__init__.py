"""Long work, done by workers."""

__all__: list[str] = []
