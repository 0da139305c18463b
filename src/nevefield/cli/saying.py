"""Say something at a terminal: whatever a file gave can steer none."""

from __future__ import annotations

import click

from nevefield.core.visible import visible

__all__ = ["say", "say_beside"]


def say(text: str) -> None:
    """Print a line for people."""
    click.echo(visible(text))


def say_beside(text: str) -> None:
    """Print a line beside what is asked for: what went wrong, or how far it is."""
    click.echo(visible(text), err=True)
