"""Reading a roster's definition from its JSON document."""

__all__: list[str] = []
