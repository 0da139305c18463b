"""What makes editing fast; its contract is in the README beside it."""

__all__: list[str] = []
