"""Card designs and their versions, runs, the cards that were made in them, photographs."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Collection, Sequence
    from datetime import datetime

    from nevefield.store.connection import Connection

__all__ = [
    "DesignRow",
    "Image",
    "MadeCard",
    "NewRun",
    "Photo",
    "Run",
    "VersionRow",
    "copy_photo",
    "delete_photo",
    "get_design",
    "get_image",
    "get_photo",
    "get_run",
    "get_version",
    "insert_design",
    "insert_image",
    "insert_run",
    "insert_version",
    "keep_gone",
    "list_designs",
    "list_made",
    "list_made_of",
    "list_photos",
    "list_runs",
    "list_used",
    "list_versions",
    "lock_design",
    "put_photo",
    "set_handed",
    "set_printed",
    "set_spoiled",
]

_DESIGN = (
    "SELECT d.id, d.name, d.register_id, d.version, v.document, v.at"
    " FROM card_design d"
    " JOIN card_design_version v ON v.design_id = d.id AND v.number = d.version"
)
_RUN = (
    "SELECT r.id, r.design_id, r.version, r.change_set_id, r.cards, r.at, r.printed_at,"
    " COALESCE(a.name, ''), u.id"
    " FROM card_run r"
    " LEFT JOIN account a ON a.id = r.account_id"
    " LEFT JOIN change_set u ON u.undoes = r.change_set_id"
)
_MADE = (
    "SELECT m.card_id, m.run_id, m.place, m.record_id, m.face, m.texts, m.rests, m.photo,"
    " m.spoiled_at, m.handed_at, COALESCE(a.name, '')"
    " FROM card_made m"
    " LEFT JOIN account a ON a.id = m.handed_by"
)
# Versions of records that are over, but for those of a run that was taken back before its sheets
# were given out.
_LEFT = (
    " FROM record_version v"
    " JOIN change_set c ON c.roster_id = v.roster_id AND c.version = v.valid_to"
    " LEFT JOIN card_run r ON r.change_set_id = c.undoes"
    " WHERE v.roster_id = %s AND v.valid_to IS NOT NULL"
    " AND (r.id IS NULL OR r.printed_at IS NOT NULL)"
)
BATCH = 1_000
LONGEST = 100  # letters of a number that is kept after its card was erased


@dataclass(frozen=True)
class DesignRow:
    """A design as it is in force."""

    id: int
    name: str
    register_id: int
    version: int
    document: Any
    since: datetime


@dataclass(frozen=True)
class VersionRow:
    """A version of a design."""

    number: int
    document: Any
    at: datetime
    by: str


@dataclass(frozen=True)
class Run:
    """Cards that were made together."""

    id: int
    design_id: int
    version: int
    change_set_id: int
    cards: int
    at: datetime
    printed_at: datetime | None
    by: str
    undone_by: int | None  # the change set with which its numbers were taken back


@dataclass(frozen=True)
class NewRun:
    """A run that is to be kept."""

    design_id: int
    version: int
    change_set_id: int
    account_id: int | None
    at: datetime


@dataclass(frozen=True)
class MadeCard:
    """A card that was made in a run."""

    card_id: int  # its record in the register
    run_id: int
    place: int
    record_id: int  # whose it is
    face: str
    texts: dict[str, str]
    rests: dict[str, Any]
    photo: bytes | None
    spoiled_at: datetime | None = None
    handed_at: datetime | None = None
    handed_by: str = ""


@dataclass(frozen=True)
class Image:
    """A picture."""

    digest: bytes
    content: bytes
    kind: str
    width: int
    height: int


@dataclass(frozen=True)
class Photo:
    """Whose photograph is which picture, and what of it is shown."""

    record_id: int
    digest: bytes
    file_name: str
    frame: tuple[float, float, float, float]  # x, y, width, height as shares
    width: int
    height: int
    at: datetime


def insert_design(
    connection: Connection,
    name: str,
    register_id: int,
    document: Any,
    account_id: int | None,
    at: datetime,
) -> int:
    """Add a design with its first version.

    Raises:
        KeyTaken: There is one of the name.
    """
    number = connection.insert(
        "INSERT INTO card_design (name, register_id, version, at) VALUES (%s, %s, 1, %s)",
        (name, register_id, at),
    )
    insert_version(connection, number, 1, document, account_id, at)
    return number


def insert_version(
    connection: Connection,
    design_id: int,
    number: int,
    document: Any,
    account_id: int | None,
    at: datetime,
) -> None:
    """Add a version of a design and put it in force."""
    connection.run(
        "INSERT INTO card_design_version (design_id, number, document, account_id, at)"
        " VALUES (%s, %s, %s, %s, %s)",
        (design_id, number, json.dumps(document, ensure_ascii=False), account_id, at),
    )
    connection.run("UPDATE card_design SET version = %s WHERE id = %s", (number, design_id))


def get_design(connection: Connection, name: str) -> DesignRow | None:
    """Find a design whose register may be seen."""
    row = connection.row(f"{_DESIGN} WHERE d.name = %s", (name,))
    design = _design(row) if row else None
    return design if design and connection.sight.sees(design.register_id) else None


def lock_design(connection: Connection, design_id: int) -> int:
    """Lock a design and return the number of its version in force."""
    row = connection.row("SELECT version FROM card_design WHERE id = %s FOR UPDATE", (design_id,))
    return int(row[0]) if row else 0


def list_designs(connection: Connection) -> list[DesignRow]:
    """List the designs whose register may be seen, by name."""
    rows = connection.rows(f"{_DESIGN} ORDER BY d.name")
    return [one for one in map(_design, rows) if connection.sight.sees(one.register_id)]


def get_version(connection: Connection, design_id: int, number: int) -> Any:
    """Give the document of a version; None when there is none."""
    row = connection.row(
        "SELECT document FROM card_design_version WHERE design_id = %s AND number = %s",
        (design_id, number),
    )
    return json.loads(row[0]) if row else None


def list_versions(connection: Connection, design_id: int) -> list[VersionRow]:
    """List the versions of a design, the newest first."""
    rows = connection.rows(
        "SELECT v.number, v.document, v.at, COALESCE(a.name, '')"
        " FROM card_design_version v"
        " LEFT JOIN account a ON a.id = v.account_id"
        " WHERE v.design_id = %s"
        " ORDER BY v.number DESC",
        (design_id,),
    )
    return [VersionRow(number, json.loads(text), at, by) for number, text, at, by in rows]


def insert_run(connection: Connection, new: NewRun, cards: Sequence[MadeCard]) -> int:
    """Add a run with its cards, whose number of a run is not looked at, and return its number."""
    run_id = connection.insert(
        "INSERT INTO card_run (design_id, version, change_set_id, cards, account_id, at)"
        " VALUES (%s, %s, %s, %s, %s, %s)",
        (new.design_id, new.version, new.change_set_id, len(cards), new.account_id, new.at),
    )
    for first in range(0, len(cards), BATCH):
        connection.run_many(
            "INSERT INTO card_made (card_id, run_id, place, record_id, face, texts, rests, photo)"
            " VALUES (%s, %s, %s, %s, %s, %s, %s, %s)",
            [
                (
                    card.card_id,
                    run_id,
                    card.place,
                    card.record_id,
                    card.face,
                    json.dumps(card.texts, ensure_ascii=False),
                    json.dumps(card.rests, ensure_ascii=False),
                    card.photo,
                )
                for card in cards[first : first + BATCH]
            ],
        )
    return run_id


def get_run(connection: Connection, run_id: int) -> Run | None:
    """Find a run."""
    row = connection.row(f"{_RUN} WHERE r.id = %s", (run_id,))
    return Run(*row) if row else None


def list_runs(connection: Connection, design_id: int) -> list[Run]:
    """List the runs of a design, the newest first."""
    rows = connection.rows(f"{_RUN} WHERE r.design_id = %s ORDER BY r.id DESC", (design_id,))
    return [Run(*row) for row in rows]


def list_made(connection: Connection, run_id: int) -> list[MadeCard]:
    """List the cards of a run, in their order."""
    rows = connection.rows(f"{_MADE} WHERE m.run_id = %s ORDER BY m.place", (run_id,))
    return [_made(row) for row in rows]


def list_made_of(
    connection: Connection, *, design_id: int | None = None, record_id: int | None = None
) -> list[MadeCard]:
    """List the cards that were made with a design, or for a person, the first first."""
    join = " JOIN card_run r ON r.id = m.run_id"
    condition, value = (
        ("r.design_id = %s", design_id) if record_id is None else ("m.record_id = %s", record_id)
    )
    rows = connection.rows(f"{_MADE}{join} WHERE {condition} ORDER BY m.card_id", (value,))
    return [_made(row) for row in rows]


def set_printed(connection: Connection, run_id: int, at: datetime) -> None:
    """Keep when the sheets of a run were first given out."""
    connection.run(
        "UPDATE card_run SET printed_at = %s WHERE id = %s AND printed_at IS NULL", (at, run_id)
    )


def set_spoiled(connection: Connection, cards: Collection[int], at: datetime) -> None:
    """Keep that cards were spoiled."""
    connection.run_many(
        "UPDATE card_made SET spoiled_at = %s WHERE card_id = %s AND spoiled_at IS NULL",
        [(at, card) for card in cards],
    )


def set_handed(
    connection: Connection, cards: Collection[int], account_id: int | None, at: datetime | None
) -> None:
    """Keep that cards were handed over, by whom and when, of each the first time; None: they were
    not after all.
    """
    first = " AND handed_at IS NULL" if at else ""
    connection.run_many(
        f"UPDATE card_made SET handed_at = %s, handed_by = %s WHERE card_id = %s{first}",  # noqa: S608
        [(at, account_id if at else None, card) for card in cards],
    )


def list_used(
    connection: Connection, roster_id: int, number: str, facility: str, since: datetime
) -> list[tuple[str, str]]:
    """List the numbers of cards that left a register after a moment, also of such as were erased
    since: facility and number of each.

    Those of a run that was taken back before its sheets were given out are not among them: there
    never was a card.

    Args:
        connection: Inside a transaction.
        roster_id: The register.
        number: Its field of the number.
        facility: Its field of the facility; "" for none.
        since: The moment, in UTC.
    """
    rows = connection.rows(
        f"SELECT DISTINCT JSON_VALUE(v.content, %s), JSON_VALUE(v.content, %s) {_LEFT}"
        " AND c.at > %s",
        (_path(facility or number), _path(number), roster_id, since),
    )
    erased = connection.rows(
        "SELECT facility, number FROM card_number_gone WHERE roster_id = %s AND at > %s",
        (roster_id, since),
    )
    return [
        (str(one or "") if facility else "", str(other))
        for one, other in [*rows, *erased]
        if other is not None
    ]


def keep_gone(
    connection: Connection, roster_id: int, record_id: int, number: str, facility: str
) -> None:
    """Keep the numbers of a card that left a register, and when, before it is erased: they rest
    like any other, and say nothing of whose they were.

    Args:
        connection: Inside a transaction.
        roster_id: The register.
        record_id: The card's record.
        number: The register's field of the number.
        facility: Its field of the facility; "" for none.
    """
    rows = connection.rows(
        "SELECT JSON_VALUE(v.content, %s), JSON_VALUE(v.content, %s), MAX(c.at)"
        f" {_LEFT} AND v.record_id = %s GROUP BY 1, 2",
        (_path(facility or number), _path(number), roster_id, record_id),
    )
    kept = [
        (roster_id, str(one or "") if facility else "", str(other), at)
        for one, other, at in rows
        if other is not None
    ]
    connection.run_many(
        "INSERT INTO card_number_gone (roster_id, facility, number, at) VALUES (%s, %s, %s, %s)"
        " ON DUPLICATE KEY UPDATE at = GREATEST(at, VALUES(at))",
        # what is longer is no number that could be given
        [one for one in kept if max(map(len, one[1:3])) <= LONGEST],
    )


def insert_image(connection: Connection, image: Image, at: datetime) -> None:
    """Keep a picture, once."""
    connection.run(
        "INSERT IGNORE INTO card_image (digest, content, kind, width, height, at)"
        " VALUES (%s, %s, %s, %s, %s, %s)",
        (image.digest, image.content, image.kind, image.width, image.height, at),
    )


def get_image(connection: Connection, digest: bytes) -> Image | None:
    """Find a picture by its digest."""
    row = connection.row(
        "SELECT digest, content, kind, width, height FROM card_image WHERE digest = %s", (digest,)
    )
    return Image(*row) if row else None


def put_photo(
    connection: Connection,
    record_id: int,
    digest: bytes,
    file_name: str,
    frame: tuple[float, float, float, float],
    account_id: int | None,
    at: datetime,
) -> None:
    """Keep which picture is somebody's photograph, in the place of the one before."""
    connection.run(
        "INSERT INTO card_photo (record_id, digest, file_name, frame, account_id, at)"
        " VALUES (%s, %s, %s, %s, %s, %s)"
        " ON DUPLICATE KEY UPDATE digest = VALUES(digest), file_name = VALUES(file_name),"
        " frame = VALUES(frame), account_id = VALUES(account_id), at = VALUES(at)",
        (record_id, digest, file_name[:200], json.dumps(frame), account_id, at),
    )


def copy_photo(
    connection: Connection, record_id: int, other: int, account_id: int | None, at: datetime
) -> None:
    """Let a record have another's photograph, unless it has one."""
    connection.run(
        "INSERT IGNORE INTO card_photo (record_id, digest, file_name, frame, account_id, at)"
        " SELECT %s, digest, file_name, frame, %s, %s FROM card_photo WHERE record_id = %s",
        (record_id, account_id, at, other),
    )


def get_photo(connection: Connection, record_id: int) -> Photo | None:
    """Find somebody's photograph."""
    row = connection.row(
        "SELECT p.record_id, p.digest, p.file_name, p.frame, i.width, i.height, p.at"
        " FROM card_photo p"
        " JOIN card_image i ON i.digest = p.digest"
        " WHERE p.record_id = %s",
        (record_id,),
    )
    return _photo(row) if row else None


def list_photos(connection: Connection, roster_ids: Collection[int]) -> dict[int, Photo]:
    """List the photographs of people of rosters, by record."""
    if not roster_ids:
        return {}
    rows = connection.rows(
        "SELECT p.record_id, p.digest, p.file_name, p.frame, i.width, i.height, p.at"  # noqa: S608
        " FROM card_photo p"
        " JOIN card_image i ON i.digest = p.digest"
        " JOIN record r ON r.id = p.record_id"
        f" WHERE r.roster_id IN ({', '.join(['%s'] * len(roster_ids))})",
        tuple(roster_ids),
    )
    return {int(row[0]): _photo(row) for row in rows}


def delete_photo(connection: Connection, record_id: int) -> int:
    """Forget somebody's photograph, and pictures that are nobody's any more; return how many
    photographs there were.
    """
    count = connection.run("DELETE FROM card_photo WHERE record_id = %s", (record_id,))
    connection.run(
        "DELETE i FROM card_image i"
        " LEFT JOIN card_photo p ON p.digest = i.digest"
        " LEFT JOIN card_made m ON m.photo = i.digest"
        " WHERE p.digest IS NULL AND m.photo IS NULL AND i.kind = 'jpeg'"
    )
    return count


def _path(field: str) -> str:
    escaped = field.replace("\\", "\\\\").replace('"', '\\"')
    return f'$."{escaped}"'


def _design(row: tuple[Any, ...]) -> DesignRow:
    return DesignRow(row[0], row[1], row[2], row[3], json.loads(row[4]), row[5])


def _made(row: tuple[Any, ...]) -> MadeCard:
    values = list(row)
    values[5], values[6] = json.loads(values[5]), json.loads(values[6])
    return MadeCard(*values)


def _photo(row: tuple[Any, ...]) -> Photo:
    values = list(row)
    values[3] = tuple(json.loads(values[3]))
    return Photo(*values)
