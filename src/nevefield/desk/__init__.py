"""The desk: what is open anywhere, and finding what is looked for."""

__all__: list[str] = []
