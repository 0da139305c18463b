"""Plain SQL, one module a subject. Queries never commit: the caller opens the transaction."""

__all__: list[str] = []
