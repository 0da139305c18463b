"""Outside systems ask us, by SCIM 2.0: they read what is held for them, and may propose."""

__all__: list[str] = []
