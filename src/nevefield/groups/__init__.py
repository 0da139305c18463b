"""Groups: what they come to on a day, moving people between them, spreading people over them."""

__all__: list[str] = []
