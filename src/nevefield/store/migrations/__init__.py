"""The numbered migrations."""

__all__: list[str] = []
