"""What waits: for a second person, or for its day."""

__all__: list[str] = []
