"""What several threads would write at one moment goes out in one request, where that is offered.

Source: RFC 7644, 3.7 (bulk operations).
"""

from __future__ import annotations

import json
import threading
from contextlib import contextmanager
from dataclasses import dataclass
from typing import TYPE_CHECKING, Any
from urllib.parse import unquote

from nevefield.destinations.asking import LATER, Answer, raise_for
from nevefield.destinations.errors import (
    DestinationError,
    Gone,
    Lost,
    Refused,
    Unintelligible,
)

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping, Sequence

    from nevefield.destinations.asking import Asking

__all__ = ["Bundle", "read_offer"]

BULK = "urn:ietf:params:scim:api:messages:2.0:BulkRequest"
TOGETHER = 32  # threads, and so writes, that wait for each other
LONGEST = 0.05  # seconds for which a write waits for others
FRAME = 400  # bytes of a request around its operations


@dataclass
class _Write:
    """One write, until it was answered."""

    method: str
    path: str
    body: Any
    match: str
    size: int
    is_sent: bool = False
    answer: Answer | DestinationError | None = None


def read_offer(config: Mapping[str, Any]) -> tuple[int, int]:
    """Read how many writes they take in one request, and of how many bytes (RFC 7643, 5); nothing
    where they offer none.
    """
    offer = config.get("bulk")
    if not isinstance(offer, dict) or offer.get("supported") is not True:
        return 0, 0
    most, largest = offer.get("maxOperations"), offer.get("maxPayloadSize")
    if not isinstance(most, int) or not isinstance(largest, int) or min(most, largest) < 2:
        return 0, 0
    return min(most, TOGETHER), largest


class Bundle:
    """Gathers what threads write until each of those that take part waits, or the request is full.

    A write comes to the same as one of its own: its answer, or its error, is that of its own.

    Args:
        asking: How it is asked.
        most: Writes in a request.
        largest: Bytes of a request.
    """

    def __init__(self, asking: Asking, most: int, largest: int) -> None:
        self._asking = asking
        self._most = most
        self._largest = largest
        self._changed = threading.Condition()
        self._taking_part = 0
        self._waiting: list[_Write] = []
        self._under_way = 0
        self._is_off = False

    @contextmanager
    def part(self) -> Iterator[None]:
        """Take part: others' writes wait until one comes of this thread, or it has left."""
        with self._changed:
            self._taking_part += 1
        try:
            yield
        finally:
            with self._changed:
                self._taking_part -= 1
                self._changed.notify_all()

    def ask(
        self, method: str, path: str, body: Any = None, headers: Mapping[str, str] | None = None
    ) -> Answer:
        """Write something; as `Asking.ask`, once where it is something new.

        Raises:
            DestinationError: As there.
        """
        data = b"" if body is None else json.dumps(body, ensure_ascii=False).encode()
        match = (headers or {}).get("If-Match", "")
        write = _Write(method, path, body, match, len(data) + len(path) + 200)
        if self._is_off or FRAME + write.size > self._largest:
            return self._alone(write)
        self._wait(write)
        if isinstance(write.answer, DestinationError):
            if isinstance(write.answer, Lost) and method != "POST":
                return self._alone(write)  # done twice it comes to the same
            raise write.answer
        return write.answer or self._alone(write)

    def _alone(self, write: _Write) -> Answer:
        headers = {"If-Match": write.match} if write.match else None
        is_new = write.method == "POST"
        return self._asking.ask(write.method, write.path, write.body, headers=headers, once=is_new)

    def _wait(self, write: _Write) -> None:
        """Wait until a write was sent; whoever finds that nobody else comes sends those waiting."""
        with self._changed:
            self._waiting.append(write)
            self._changed.notify_all()
        while not write.is_sent:
            with self._changed:
                self._changed.wait_for(
                    lambda: write.is_sent or (write in self._waiting and self._is_full()), LONGEST
                )
                sent = self._take() if write in self._waiting else []
            if sent:
                self._send(sent)

    def _is_full(self) -> bool:
        """Tell whether nobody who takes part would still come, or no more goes into one."""
        size = FRAME + sum(one.size for one in self._waiting)
        count = len(self._waiting)
        return (
            count >= self._most
            or size >= self._largest
            or count + self._under_way >= self._taking_part
        )

    def _take(self) -> list[_Write]:
        """Take what goes into one request, the first of it first."""
        taken: list[_Write] = []
        size = FRAME
        for one in self._waiting:
            if len(taken) == self._most or size + one.size > self._largest:
                break
            size += one.size
            taken.append(one)
        del self._waiting[: len(taken)]
        self._under_way += len(taken)
        return taken

    def _send(self, sent: Sequence[_Write]) -> None:
        try:
            if len(sent) > 1:
                self._send_together(sent)
        finally:  # what has no answer is written by itself
            with self._changed:
                self._under_way -= len(sent)
                for one in sent:
                    one.is_sent = True
                self._changed.notify_all()

    def _send_together(self, sent: Sequence[_Write]) -> None:
        operations = [_operation(str(number), one) for number, one in enumerate(sent)]
        body = {"schemas": [BULK], "Operations": operations}
        try:
            found = self._asking.ask("POST", "/Bulk", body, once=True)
            results = _results(found, sent)
        except (Gone, Refused):
            self._is_off = True  # it says that it takes several at once, and does not
            return
        except DestinationError as error:  # it may have been done: nothing new is written again
            for one in sent:
                one.answer = error
            return
        for one, result in zip(sent, results, strict=True):
            one.answer = _read(one, result, found.ms)


def _operation(number: str, write: _Write) -> dict[str, Any]:
    operation = {"method": write.method, "path": write.path, "bulkId": number}
    if write.match:
        operation["version"] = write.match
    return operation if write.body is None else {**operation, "data": write.body}


def _results(found: Answer, sent: Sequence[_Write]) -> list[Mapping[str, Any] | None]:
    """Give what became of each write: by its number, or where they give none back by its place;
    None where that is not said.
    """
    said = found.body.get("Operations") or []
    if not isinstance(said, list) or not all(isinstance(one, dict) for one in said):
        raise Unintelligible("its list has no operations")
    numbered = {str(one["bulkId"]): one for one in said if one.get("bulkId") is not None}
    if numbered:
        return [numbered.get(str(number)) for number in range(len(sent))]
    methods = [str(one.get("method", "")).upper() for one in said]
    if methods != [one.method for one in sent]:
        return [None] * len(sent)
    return list(said)


def _read(
    write: _Write, result: Mapping[str, Any] | None, ms: int
) -> Answer | DestinationError | None:
    """Read what became of one write; None where it is to be written by itself."""
    if result is None:
        return Lost("it does not say what became of it") if write.method == "POST" else None
    status = result.get("status")
    if isinstance(status, dict):
        status = status.get("code")
    if not str(status or "").isdecimal():
        return Unintelligible("an operation of its has no status")
    body = result.get("response")
    body = body if isinstance(body, dict) else {}
    location = str(result.get("location") or "")
    if int(str(status)) in LATER:
        return None
    try:
        raise_for(int(str(status)), body)
    except DestinationError as error:
        return error
    if write.method == "POST" and not body.get("id"):
        body = {**body, "id": unquote(location.rstrip("/").rsplit("/", 1)[-1])}
    return Answer(int(str(status)), body, str(result.get("version") or ""), ms, location)
