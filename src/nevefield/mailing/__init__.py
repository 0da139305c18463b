"""Mails: where they are handed over, what waits, what is written to whom."""

__all__: list[str] = []
