"""Letters to people of a roster, by mail or on paper; what they are asked by a link of their own,
and what came back.
"""

__all__: list[str] = []
