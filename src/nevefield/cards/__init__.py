"""Cards: designs, who needs one, runs, sheets, photographs."""

__all__: list[str] = []
