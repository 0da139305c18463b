"""The institution: what it is called, and the colour of its mark."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from nevefield.store.connection import Connection

__all__ = ["Institution", "get_institution", "put_institution"]


@dataclass(frozen=True)
class Institution:
    """What it is called, and the colour of its mark as `#rrggbb`."""

    name: str = ""
    colour: str = "#17494d"


def get_institution(connection: Connection) -> Institution:
    """Give the institution; one without a name where nobody said it."""
    row = connection.row("SELECT name, colour FROM institution WHERE id = 1")
    return Institution(*row) if row else Institution()


def put_institution(connection: Connection, institution: Institution) -> None:
    """Write the institution."""
    connection.run(
        "INSERT INTO institution (id, name, colour) VALUES (1, %s, %s)"
        " ON DUPLICATE KEY UPDATE name = VALUES(name), colour = VALUES(colour)",
        (institution.name, institution.colour),
    )
