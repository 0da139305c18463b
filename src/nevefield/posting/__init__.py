"""The way to a mail server."""

__all__: list[str] = []
