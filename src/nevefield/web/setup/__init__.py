"""What keeps an installation going."""

__all__: list[str] = []
