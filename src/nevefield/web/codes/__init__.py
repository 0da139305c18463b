"""Code lists."""

__all__: list[str] = []
