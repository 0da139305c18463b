"""The process that reads: one request after another, each within its own limits; what exceeds them
ends the process.

`python -m nevefield.readers.child COMES GOES`: two inherited pipes, over which pickled requests
come and answers go. Only our own processes stand at both ends.
"""

from __future__ import annotations

import os
import resource
import sys
import traceback
from multiprocessing.connection import Connection
from typing import TYPE_CHECKING, Any

import nevefield.core.recipes  # noqa: F401  # all that answers are made of
from nevefield.core.errors import CoreError, UnreadableFile
from nevefield.core.reading import keep_without_people, keep_without_secrets, read_file, read_kept
from nevefield.core.reading.workbook import first_texts

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.core.erasing import Telling
    from nevefield.core.reading import ReadingChoice

__all__ = ["main"]


def _keep_without_people(
    data: bytes,
    choice: ReadingChoice | None,
    known: frozenset[str],
    lines: frozenset[int],
    telling: Telling,
    is_kept: bool,
) -> tuple[bytes, int] | None:
    return keep_without_people(data, choice, known, lines=lines, telling=telling, is_kept=is_kept)


WORK: dict[str, Callable[..., Any]] = {
    "read": read_file,
    "read_kept": read_kept,
    "keep": keep_without_secrets,
    "keep_without_people": _keep_without_people,
    "first_texts": first_texts,
}


def main() -> None:
    """Answer requests until the pipe closes."""
    os.nice(5)  # who waits for a page comes before who waits for a file
    comes, goes = (Connection(int(text)) for text in sys.argv[1:3])
    goes.send("ready")
    while True:
        try:
            what, given, seconds, memory = comes.recv()
        except EOFError:
            return
        _limit(seconds, memory)
        goes.send(_answer(what, given))


def _limit(seconds: int, memory: int) -> None:
    """Allow so much more processor time, and so many bytes of data in all."""
    used = resource.getrusage(resource.RUSAGE_SELF)
    soft = int(used.ru_utime + used.ru_stime) + 1 + seconds
    resource.setrlimit(resource.RLIMIT_CPU, (soft, resource.RLIM_INFINITY))
    resource.setrlimit(resource.RLIMIT_DATA, (memory, resource.RLIM_INFINITY))


def _answer(what: str, given: tuple[Any, ...]) -> tuple[str, Any]:
    try:
        return "made", WORK[what](*given)
    except CoreError as error:
        return "refused", error
    except MemoryError:
        return "memory", None
    # a file decides what happens here: whatever it is, the file is not read, and the log says why
    except Exception:
        traceback.print_exc()
        remedy = "Save it again in another form, as CSV or as a workbook, and drop that here."
        return "refused", UnreadableFile(
            "The file is written in a way that could not be read.", remedy
        )


if __name__ == "__main__":
    main()
