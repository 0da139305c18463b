"""Letters: what is written to people, who has answered, what they say by their links."""

__all__: list[str] = []
