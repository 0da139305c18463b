"""The folder of the server in which files for destinations are laid, for others to carry on.

Each destination has a folder of its own in it. A file is there whole or not at all: it is written
under a name that begins with a dot, and renamed. Whoever takes files from there may take them away,
and may have put anything there: no link is followed.
"""

from __future__ import annotations

import errno
import os
import re
import stat
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import TYPE_CHECKING

from nevefield.destinations.errors import NotLaid

if TYPE_CHECKING:
    from collections.abc import Iterator

__all__ = ["lay"]

FOLDER_MODE, FILE_MODE = 0o750, 0o640
MOST_BESIDE = 100  # files that others lay under a name at the same moment
_NUMBERED = re.compile(r"(?: ([1-9]\d{0,8}))?")
REASONS = {
    errno.EACCES: "may not be written in",
    errno.EPERM: "may not be written in",
    errno.EROFS: "may not be written in",
    errno.ENOSPC: "has no room left on its disk",
    errno.EDQUOT: "has no room left on its disk",
    errno.ENOENT: "is not there",
    errno.ENOTDIR: "is no folder",
    errno.ELOOP: "is no folder",
    errno.ENAMETOOLONG: "takes no name as long as the file’s; call it something shorter",
}


def lay(outbox: str, folder: str, name: str, content: bytes, *, keeps: bool) -> str:
    """Lay a file in the folder of a destination; laid twice it comes to the same.

    Args:
        outbox: The folder of the installation, which must be there.
        folder: Of the destination, made where there is none.
        name: Of the file, without a path.
        content: Of the file.
        keeps: Whether another file of the name stays, and this one has a number; otherwise it
            takes the other's place.

    Returns:
        The name under which it lies there.

    Raises:
        NotLaid: It cannot be; nothing is left behind.
    """
    if not outbox or not Path(outbox).is_absolute():
        raise NotLaid("the installation has none: whoever runs it sets NEVEFIELD_OUTBOX")
    if name != os.path.basename(name) or name in ("", ".", ".."):
        raise NotLaid("the file has no name that a folder takes")
    try:
        with _opened(outbox, folder) as place:
            return _put(place, name, content, keeps=keeps)
    except OSError as error:
        why = REASONS.get(error.errno or 0, f"does not take it: {error.strerror}")
        raise NotLaid(f"{Path(outbox) / folder} {why}") from error


@contextmanager
def _opened(outbox: str, folder: str) -> Iterator[int]:
    """Open the folder of a destination, and see that it is one and no link."""
    flags = os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC
    above = os.open(outbox, flags)
    try:
        with suppress(FileExistsError):
            os.mkdir(folder, FOLDER_MODE, dir_fd=above)
        place = os.open(folder, flags | os.O_NOFOLLOW, dir_fd=above)
    finally:
        os.close(above)
    try:
        yield place
    finally:
        os.close(place)


def _put(place: int, name: str, content: bytes, *, keeps: bool) -> str:
    _refuse_folder(place, name)
    draft = f".{os.getpid()}-{os.urandom(6).hex()}.part"
    flags = os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC
    try:
        with os.fdopen(os.open(draft, flags, FILE_MODE, dir_fd=place), "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        if keeps:
            found = _link(place, draft, name, content)
        else:
            os.replace(draft, name, src_dir_fd=place, dst_dir_fd=place)
            found = name
        os.fsync(place)
        return found
    finally:
        with suppress(FileNotFoundError):
            os.unlink(draft, dir_fd=place)


def _refuse_folder(place: int, name: str) -> None:
    with suppress(FileNotFoundError):
        if stat.S_ISDIR(os.stat(name, dir_fd=place, follow_symlinks=False).st_mode):
            raise NotLaid(f"there is a folder called “{name}” already")


def _link(place: int, draft: str, name: str, content: bytes) -> str:
    """Give a file the name after those that lie there, so that their numbers are their order;
    unless it is the last of them already, laid and broken off before anybody was told.
    """
    stem, end = os.path.splitext(name)
    last = max((_number_of(one, stem, end) for one in os.listdir(place)), default=0)

    def name_of(number: int) -> str:
        return name if number == 1 else f"{stem} {number}{end}"

    if last and _has(place, name_of(last), content):
        return name_of(last)
    for number in range(last + 1, last + MOST_BESIDE):
        with suppress(FileExistsError):
            os.link(
                draft, name_of(number), src_dir_fd=place, dst_dir_fd=place, follow_symlinks=False
            )
            return name_of(number)
    raise NotLaid(f"others lay files called “{name}” there at the same moment")


def _number_of(name: str, stem: str, end: str) -> int:
    """Tell which of the files of a name one is: 1 without a number, 0 where it is another's."""
    if len(name) < len(stem) + len(end) or not (name.startswith(stem) and name.endswith(end)):
        return 0
    between = name[len(stem) : len(name) - len(end)]
    number = _NUMBERED.fullmatch(between)
    return int(number[1] or 1) if number else 0


def _has(place: int, name: str, content: bytes) -> bool:
    try:
        opened = os.open(name, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK, dir_fd=place)
    except OSError:
        return False
    with os.fdopen(opened, "rb") as file:
        about = os.fstat(file.fileno())
        if not stat.S_ISREG(about.st_mode) or about.st_size != len(content):
            return False
        return file.read(len(content) + 1) == content
