"""The web: a JSON API under /api/, and the built front end."""

from nevefield.web.app import create_app

__all__ = ["create_app"]
