"""Mails: texts with fields, and messages as they are handed over."""

__all__: list[str] = []
