"""Put people into groups: what the groups of a kind come to, and spreading people over them."""

__all__: list[str] = []
