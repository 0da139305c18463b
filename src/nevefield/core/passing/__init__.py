"""What outside systems are told of the rosters: layouts, where each record stands, what to send."""

__all__: list[str] = []
