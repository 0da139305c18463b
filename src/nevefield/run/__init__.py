"""Run everything on one machine: the private database, the web server, the workers."""

__all__: list[str] = []
