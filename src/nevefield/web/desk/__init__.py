"""Signing in, the desk, jobs, finding."""

__all__: list[str] = []
