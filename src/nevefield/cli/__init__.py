"""The command line: the same work from a shell."""

__all__: list[str] = []
