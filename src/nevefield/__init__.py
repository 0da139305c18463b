"""Nevefield: the desk of the person who keeps an institution's rosters true."""

__all__ = ["__version__"]

__version__ = "0.13.0"
