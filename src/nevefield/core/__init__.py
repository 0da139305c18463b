"""The heart of the work: bytes and Tables in, Tables and findings out.

Nothing here knows of the interface, of SQL, of the clock or of randomness; `evaluate.py` is the
place to start reading.
"""

__all__: list[str] = []
