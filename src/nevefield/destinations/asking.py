"""Ask an outside system over HTTP, with patience: it may be slow, busy or gone for a while."""

from __future__ import annotations

import json
import threading
import time
from collections.abc import Callable, Mapping
from contextlib import nullcontext
from dataclasses import dataclass
from email.utils import parsedate_to_datetime
from typing import Any

import httpx

from nevefield.destinations.errors import Denied, Gone, Lost, Refused, Unintelligible, Unreachable
from nevefield.unanswered import why_unanswered

__all__ = ["LATER", "Answer", "Asking", "raise_for"]

CONNECT_SECONDS, ANSWER_SECONDS = 5.0, 30.0
# seconds before each further try of what was lost or is to be asked later
PAUSES = (0.2, 1.0, 3.0)
LONGEST_PAUSE = 20.0  # within which is waited here; longer, and it is left for later
MOST_BYTES = 50_000_000  # of an answer
FULL = 507  # no room for it: that is about what was sent (RFC 4918, 11.5)
LATER = (429, 502, 503, 504)


@dataclass(frozen=True)
class Answer:
    """What came back."""

    status: int
    body: dict[str, Any]
    etag: str
    ms: int
    location: str = ""


class Asking:
    """Asks one system.

    Args:
        address: Where it answers.
        token: By which we are known there; sent, and neither kept nor logged.
        transport: How requests travel; None for the network.
        pause: Waits some seconds; None for the clock.
        media: Of what is sent.
        reads: Whether what it answers is read; otherwise it counts alone that it took it.
        at_once: Requests that may be under way at a time; 0 for as many as are asked.
    """

    def __init__(
        self,
        address: str,
        token: str,
        transport: httpx.BaseTransport | None = None,
        pause: Callable[[float], None] | None = None,
        media: str = "application/json",
        *,
        reads: bool = True,
        at_once: int = 0,
    ) -> None:
        self._room = threading.BoundedSemaphore(at_once) if at_once else nullcontext()
        self._reads = reads
        self._pause = pause or (lambda seconds: time.sleep(seconds))
        headers = {"Accept": media, "Content-Type": media}
        if token:
            headers["Authorization"] = f"Bearer {token}"
        self._client = httpx.Client(
            base_url=address.rstrip("/"),
            headers=headers,
            timeout=httpx.Timeout(ANSWER_SECONDS, connect=CONNECT_SECONDS),
            transport=transport,
        )

    def ask(
        self,
        method: str,
        path: str,
        body: Any = None,
        *,
        query: dict[str, str] | None = None,
        headers: dict[str, str] | None = None,
        once: bool = False,
        patient: bool = True,
    ) -> Answer:
        """Ask something, and again when the answer was lost.

        Args:
            method: Of HTTP.
            path: Below the address.
            body: What JSON is made of, or content that is made already.
            query: Of the address.
            headers: Beside the usual ones.
            once: Whether it comes to something else when it is done twice: then it is not asked
                again when the answer was lost.
            patient: Whether it is asked again when it does not answer now.

        Raises:
            Lost: Once, and the answer was lost.
            Unreachable: It does not answer, or wants to be left alone for long.
            Denied: It does not take our token.
            Gone: It has nothing of the name.
            Refused: It refuses.
            Unintelligible: It answers no JSON.
        """
        content = body if isinstance(body, bytes) else None
        if content is None and body is not None:
            content = json.dumps(body, ensure_ascii=False).encode()
        for pause in (*(PAUSES if patient else ()), None):
            begun = time.perf_counter()
            try:
                found, data = self._request(method, path, content, query, headers)
            except httpx.HTTPError as error:
                if once:
                    raise Lost(why_unanswered(error)) from error
                if pause is None:
                    raise Unreachable(why_unanswered(error)) from error
                self._pause(pause)
                continue
            ms = round(1000 * (time.perf_counter() - begun))
            if found.status_code in LATER:
                after = _after(found)
                wait = pause if after is None else after
                if pause is None or wait is None or wait > LONGEST_PAUSE:
                    raise Unreachable(f"it says {found.status_code}", after)
                self._pause(wait)
                continue
            return _read(found, data if self._reads or found.status_code >= 400 else b"", ms)
        raise Unreachable("it does not answer")  # never come to: the last pause is None

    def _request(
        self,
        method: str,
        path: str,
        content: bytes | None,
        query: dict[str, str] | None,
        headers: dict[str, str] | None,
    ) -> tuple[httpx.Response, bytes]:
        """Ask, and read no more than a limit of what comes back."""
        data = bytearray()
        with (
            self._room,
            self._client.stream(
                method, path, content=content, params=query, headers=headers
            ) as found,
        ):
            for piece in found.iter_bytes():
                data += piece
                if len(data) > MOST_BYTES:
                    raise Unintelligible("its answer is too large")
        return found, bytes(data)

    def rest(self, seconds: float) -> None:
        """Wait for a while."""
        self._pause(seconds)

    def close(self) -> None:
        """Let go of the connections."""
        self._client.close()


def raise_for(status: int, body: Mapping[str, Any]) -> None:
    """Raise what a status means that is no success.

    Raises:
        Unreachable, Gone, Denied, Refused: By the status.
    """
    if status >= 500 and status != FULL:
        raise Unreachable(f"it says {status}")
    if status == 404:
        raise Gone
    if status == 401:
        raise Denied
    if status >= 400:
        problem = body.get("detail") or body.get("problem") or ""
        code = str(body.get("scimType") or body.get("code") or "")
        raise Refused(status, code, str(problem)[:400])


def _read(found: httpx.Response, data: bytes, ms: int) -> Answer:
    if 300 <= found.status_code < 400 and found.status_code != 304:
        raise Unintelligible(f"it sends us elsewhere ({found.status_code})")
    body: Any = {}
    if data:
        try:
            body = json.loads(data)
        except (json.JSONDecodeError, UnicodeDecodeError) as error:
            if found.status_code < 400:
                raise Unintelligible("it answers with no JSON") from error
    raise_for(found.status_code, body if isinstance(body, dict) else {})
    if not isinstance(body, dict):
        raise Unintelligible("it answers with something else than an object")
    return Answer(
        found.status_code,
        body,
        found.headers.get("ETag", ""),
        ms,
        found.headers.get("Location", ""),
    )


def _after(found: httpx.Response) -> float | None:
    """Read after how many seconds it may be asked again (RFC 9110, 10.2.3)."""
    text = found.headers.get("Retry-After", "").strip()
    if not text:
        return None
    if text.isdecimal():
        return float(text)
    try:
        then = parsedate_to_datetime(text)
    except ValueError:
        return None
    return max(0.0, then.timestamp() - time.time())
