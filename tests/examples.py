"""How many examples a property is tried on, where each takes long."""

from __future__ import annotations

from hypothesis import settings

__all__ = ["part"]


def part(share: float) -> settings:
    """Give settings with a share of the examples that others get, here and in `./test --long`
    alike.
    """
    return settings(max_examples=max(10, round(settings.default.max_examples * share)))
