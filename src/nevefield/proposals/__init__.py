"""Proposals: what is done to a roster only once a second person has agreed to exactly that."""

__all__: list[str] = []
