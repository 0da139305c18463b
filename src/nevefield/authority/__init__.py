"""Talking to an outside authority over HTTP."""

__all__: list[str] = []
