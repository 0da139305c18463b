"""What is sent to an authority: records in its layout, its rules as far as they can be known,
and where each record stands.
"""

__all__: list[str] = []
