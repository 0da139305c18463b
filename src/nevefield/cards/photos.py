"""Photographs: taken in from files and zip archives, looked at, framed, forgotten."""

from __future__ import annotations

import hashlib
import io
import zipfile
from contextlib import ExitStack
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np

from nevefield.cards.designs import require_design
from nevefield.cards.errors import NoSuchPicture, WrongPicture
from nevefield.cards.pictures import MOST_BYTES, propose_frame, read_photo, read_picture
from nevefield.core.cards.design import Photo as PhotoPlace
from nevefield.core.cards.portraits import Portraits
from nevefield.rosters.snapshots import load_snapshot
from nevefield.store import cards as store
from nevefield.store.audit import insert_audit
from nevefield.store.records import get_record_roster

if TYPE_CHECKING:
    from collections.abc import Callable, Iterator, Sequence

    from nevefield.cards.designs import OpenDesign
    from nevefield.cards.pictures import Frame
    from nevefield.context import Context
    from nevefield.core.cards.design import Face
    from nevefield.store.connection import Connection

__all__ = [
    "Brought",
    "bring_photos",
    "bring_picture",
    "forget_photo",
    "give_photo",
    "give_picture",
    "set_frame",
]

MOST_FILES = 20_000  # in an archive
MOST_UNPACKED = 4_000_000_000  # bytes of all together
RATIO = 200  # of unpacked to packed, beyond which an entry is none of a camera
DOTS_PER_INCH = 150  # below which a photograph prints coarsely
TOO_LARGE = "It becomes too large when it is unpacked."
_PASSED = ("__MACOSX/", ".DS_Store", "Thumbs.db", "desktop.ini")


@dataclass(frozen=True)
class Said:
    """What was said of a file."""

    file: str
    why: str


@dataclass(frozen=True)
class File:
    """A file as it came, read when it is wanted."""

    path: str
    read: Callable[[], bytes]

    def digest(self) -> bytes:
        """Tell its content from others; of one that cannot be read, its name."""
        try:
            return hashlib.sha256(self.read()).digest()
        except WrongPicture:
            return self.path.encode()


@dataclass
class Brought:
    """What became of each file that was brought."""

    taken: list[tuple[str, int]] = field(default_factory=list)  # file and record
    same: list[str] = field(default_factory=list)  # that was there already
    nobody: list[str] = field(default_factory=list)  # no identifier in its name
    several: list[Said] = field(default_factory=list)  # may be of several people
    doubles: list[Said] = field(default_factory=list)  # a second file of one person
    coarse: list[Said] = field(default_factory=list)  # taken, and few points
    wrong: list[Said] = field(default_factory=list)  # no picture that can be taken
    left: list[str] = field(default_factory=list)  # no files of people

    @property
    def total(self) -> int:
        """How many files there were; each stands in one place, and coarse ones are taken too."""
        places: list[Sequence[object]] = [
            self.taken,
            self.same,
            self.nobody,
            self.several,
            self.doubles,
            self.wrong,
            self.left,
        ]
        return sum(len(files) for files in places)


def bring_photos(
    context: Context,
    name: str,
    files: Sequence[tuple[str, bytes]],
    account_id: int | None,
    progress: Callable[[str, int, int], None] = lambda doing, done, total: None,
) -> Brought:
    """Take photographs in: each file is whose identifier stands in its name.

    Args:
        context: Database and clock.
        name: Of a design, whose people they are of.
        files: Names and contents of pictures and zip archives.
        account_id: Who brings them.
        progress: Hears how far it is.

    Returns:
        What became of each file; nothing is lost without being told.

    Raises:
        NoSuchDesign: There is none.
        WrongPicture: An archive is damaged, or no camera's: nothing is taken.
    """
    with context.database.transaction() as connection:
        opened = require_design(connection, name)
        portraits, faces = _portraits(connection, opened)
    brought = Brought()
    chosen: dict[int, File] = {}
    # pictures are read one at a time: together they may be larger than the machine's memory
    with ExitStack() as open_archives:
        for file in _each(files, brought, open_archives):
            _sort(portraits, file, chosen, brought)
        _keep(context, chosen, faces, brought, account_id, progress)
    with context.database.transaction() as connection:
        insert_audit(
            connection,
            "photos-brought",
            name,
            account_id,
            context.now(),
            files=brought.total,
            taken=len(brought.taken),
        )
    return brought


def _sort(portraits: Portraits, file: File, chosen: dict[int, File], brought: Brought) -> None:
    """Find whose a file is by its name."""
    sorted_ = portraits.sort(file.path)
    if sorted_.record is None:
        if sorted_.several:
            why = f"It may be of {len(sorted_.several)} people; name it for one."
            brought.several.append(Said(file.path, why))
        else:
            brought.nobody.append(file.path)
    elif sorted_.record in chosen:
        first = chosen[sorted_.record]
        if first.digest() == file.digest():
            brought.same.append(file.path)
        else:
            why = f"{first.path} is of the same person, and was looked at first."
            brought.doubles.append(Said(file.path, why))
    else:
        chosen[sorted_.record] = file


def _keep(
    context: Context,
    chosen: dict[int, File],
    faces: dict[int, Face],
    brought: Brought,
    account_id: int | None,
    progress: Callable[[str, int, int], None],
) -> None:
    for done, (record, file) in enumerate(chosen.items(), 1):
        progress("Reading the pictures", done, len(chosen))
        try:
            image = read_photo(file.read(), file.path)
        except WrongPicture as error:
            brought.wrong.append(Said(file.path, str(error)))
            continue
        across, high = _place_of(faces[record])
        frame = propose_frame(image.width, image.height, across, high)
        with context.database.transaction() as connection:
            before = store.get_photo(connection, record)
            if before is not None and before.digest == image.digest:
                brought.same.append(file.path)
                continue
            store.insert_image(connection, image, context.now())
            store.put_photo(
                connection, record, image.digest, file.path, frame, account_id, context.now()
            )
        brought.taken.append((file.path, record))
        dots = image.width * frame[2] / (across / 25.4)
        if dots < DOTS_PER_INCH:
            why = f"It has {dots:.0f} points to the inch on the card; {DOTS_PER_INCH} look well."
            brought.coarse.append(Said(file.path, why))


def _each(
    files: Sequence[tuple[str, bytes]], brought: Brought, open_archives: ExitStack
) -> Iterator[File]:
    """Give the files, those in archives one by one."""
    for name, content in files:
        if not zipfile.is_zipfile(io.BytesIO(content)):
            yield File(name, lambda content=content: content)  # type: ignore[misc]
            continue
        try:
            archive = open_archives.enter_context(zipfile.ZipFile(io.BytesIO(content)))
        except (zipfile.BadZipFile, EOFError, OSError, NotImplementedError) as error:
            raise WrongPicture(f"{name} is a damaged archive; make it anew.") from error
        yield from _list(name, archive, brought)


def _list(name: str, archive: zipfile.ZipFile, brought: Brought) -> Iterator[File]:
    """List the pictures of an archive; what cannot be one is told."""
    entries = [entry for entry in archive.infolist() if not entry.is_dir()]
    if len(entries) > MOST_FILES:
        raise WrongPicture(f"{name} holds {len(entries):,} files; {MOST_FILES:,} may be.")
    if sum(entry.file_size for entry in entries) > MOST_UNPACKED:
        raise WrongPicture(f"{name} becomes too large when it is unpacked; bring it in parts.")
    for entry in entries:
        path = entry.filename
        if any(part in path for part in _PASSED) or path.rsplit("/", 1)[-1].startswith("."):
            brought.left.append(path)
        elif entry.flag_bits & 0x1:
            brought.wrong.append(Said(path, "It is locked with a password."))
        elif entry.file_size > MOST_BYTES or entry.file_size > RATIO * max(entry.compress_size, 1):
            brought.wrong.append(Said(path, TOO_LARGE))
        else:
            yield File(path, lambda entry=entry: _unpack(archive, entry))  # type: ignore[misc]


def _unpack(archive: zipfile.ZipFile, entry: zipfile.ZipInfo) -> bytes:
    """Unpack one file, whatever it says of its size.

    Raises:
        WrongPicture: It is damaged, or larger than a picture may be.
    """
    try:
        with archive.open(entry) as file:
            content = file.read(MOST_BYTES + 1)
    except (zipfile.BadZipFile, EOFError, OSError, NotImplementedError, ValueError) as error:
        raise WrongPicture("It is damaged in the archive.") from error
    if len(content) > MOST_BYTES:
        raise WrongPicture(TOO_LARGE)
    return content


def _portraits(connection: Connection, opened: OpenDesign) -> tuple[Portraits, dict[int, Face]]:
    """List by what everybody of a design is known."""
    identifiers: dict[int, list[str]] = {}
    faces: dict[int, Face] = {}
    for face in opened.design.faces:
        snapshot = load_snapshot(connection, opened.rosters[face.roster])
        definition = snapshot.definition
        names = dict.fromkeys(
            [
                face.holder,
                *(name for key in definition.keys if len(key) == 1 for name in key),
                *(definition.primary_key if len(definition.primary_key) == 1 else ()),
                *(field.name for field in definition.fields if field.unique),
            ]
        )
        everybody = np.arange(len(snapshot))
        columns = [
            snapshot.columns[name].rows(everybody) for name in names if name in snapshot.columns
        ]
        for record, *texts in zip(snapshot.ids.tolist(), *columns, strict=True):
            identifiers.setdefault(record, []).extend(text for text in texts if text)
            faces.setdefault(record, face)
    return Portraits(identifiers), faces


def _place_of(face: Face) -> tuple[float, float]:
    for item in face.items():
        if isinstance(item, PhotoPlace):
            return item.width, item.height
    place = PhotoPlace()
    return place.width, place.height


def give_photo(context: Context, record_id: int) -> tuple[bytes, Frame]:
    """Give somebody's photograph and what of it is shown.

    Raises:
        NoSuchPicture: There is none, or it is kept from who asks, as sensitive fields are.
    """
    with context.database.transaction() as connection:
        photo = _require(connection, record_id)
        image = store.get_image(connection, photo.digest)
    if image is None:
        raise NoSuchPicture
    return image.content, photo.frame


def set_frame(context: Context, record_id: int, frame: Frame, account_id: int | None) -> None:
    """Set what of somebody's photograph is shown.

    Raises:
        NoSuchPicture: There is none.
        WrongPicture: The frame is not within the picture.
    """
    x, y, width, height = frame
    inside = 0 <= x <= 1 and 0 <= y <= 1 and x + width <= 1.0001 and y + height <= 1.0001
    if not inside or width < 0.02 or height < 0.02:
        raise WrongPicture("The frame is not within the picture.")
    with context.database.transaction() as connection:
        photo = _require(connection, record_id)
        store.put_photo(
            connection, record_id, photo.digest, photo.file_name, frame, account_id, context.now()
        )


def forget_photo(context: Context, record_id: int, account_id: int | None) -> None:
    """Forget somebody's photograph; a card that was made with it keeps it.

    Raises:
        NoSuchPicture: There is none.
    """
    with context.database.transaction() as connection:
        _require(connection, record_id)
        store.delete_photo(connection, record_id)
        insert_audit(connection, "photo-forgotten", str(record_id), account_id, context.now())


def bring_picture(context: Context, file_name: str, content: bytes) -> str:
    """Take a picture in that stands on all cards.

    Returns:
        Its digest.

    Raises:
        WrongPicture: It is none that can be taken.
    """
    image = read_picture(content, file_name)
    with context.database.transaction() as connection:
        store.insert_image(connection, image, context.now())
    return image.digest.hex()


def give_picture(context: Context, digest: str) -> bytes:
    """Give a picture that stands on all cards; photographs are not given so.

    Raises:
        NoSuchPicture: There is none.
    """
    try:
        wanted = bytes.fromhex(digest)
    except ValueError as error:
        raise NoSuchPicture from error
    with context.database.transaction() as connection:
        image = store.get_image(connection, wanted)
    if image is None or image.kind != "png":
        raise NoSuchPicture
    return image.content


def _require(connection: Connection, record_id: int) -> store.Photo:
    roster_id = get_record_roster(connection, record_id)
    if roster_id is None or connection.sight.covers(roster_id):
        raise NoSuchPicture
    photo = store.get_photo(connection, record_id)
    if photo is None:
        raise NoSuchPicture
    return photo
