"""Columns to fields, texts to values."""

__all__: list[str] = []
