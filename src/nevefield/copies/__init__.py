"""Copies of everything: made while people work, tried, and brought back."""

__all__: list[str] = []
