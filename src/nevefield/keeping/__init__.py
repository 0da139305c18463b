"""Keeping: what is held about one person, for them to see; erasing it; keeping it from being
erased.
"""

__all__: list[str] = []
