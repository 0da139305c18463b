"""Submissions to an authority."""

__all__: list[str] = []
