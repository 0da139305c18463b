"""Cards: designs by lines and places, what fits, who needs one, numbers and sheets."""

__all__: list[str] = []
