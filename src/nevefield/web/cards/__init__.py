"""Cards: designs, who needs one, runs, photographs."""

__all__: list[str] = []
