"""Groups, placement rules, spreading people over groups."""

__all__: list[str] = []
