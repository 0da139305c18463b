"""The client of an authority that takes returns: send once, ask how far it is, fetch the answer;
the transport is passed in.
"""

from __future__ import annotations

import json
from typing import Any

import httpx

from nevefield.authority.errors import Refused, Unintelligible, Unreachable
from nevefield.unanswered import why_unanswered

__all__ = ["Authority"]

CONNECT_SECONDS, ANSWER_SECONDS = 5.0, 120.0
MOST_PAGES = 10_000


class Authority:
    """An authority, as one account on one side of it.

    Args:
        url: Where it answers.
        token: Of the account; sent, and neither kept nor logged.
        side: practice or live.
        transport: How requests travel; None for the network.
    """

    def __init__(
        self, url: str, token: str, side: str, transport: httpx.BaseTransport | None = None
    ) -> None:
        timeout = httpx.Timeout(ANSWER_SECONDS, connect=CONNECT_SECONDS)
        headers = {"Authorization": f"Bearer {token}"}
        self._client = httpx.Client(
            base_url=f"{url.rstrip('/')}/{side}",
            headers=headers,
            timeout=timeout,
            transport=transport,
        )

    def layout(self) -> dict[str, Any]:
        """Fetch what the authority publishes: fields, codes, rules.

        Raises:
            AuthorityError: It does not answer, refuses, or says what cannot be understood.
        """
        return self._ask("GET", "/layout")

    def send(self, key: str, body: bytes) -> str:
        """Send a return; the same key again is the same return, whatever became of the first
        answer.

        Args:
            key: Of the round (RFC draft "The Idempotency-Key HTTP Header Field").
            body: JSON.

        Returns:
            The authority's receipt.

        Raises:
            AuthorityError: As for `layout`.
        """
        answer = self._ask(
            "POST", "/returns", body, {"Idempotency-Key": key, "Content-Type": "application/json"}
        )
        if not isinstance(answer.get("receipt"), str):
            raise Unintelligible("it gave no receipt")
        return str(answer["receipt"])

    def state(self, receipt: str) -> tuple[str, int, int]:
        """Ask how far it is with a return: received, working or answered; records done, and of how
        many.

        Raises:
            AuthorityError: As for `layout`.
        """
        answer = self._ask("GET", f"/returns/{receipt}")
        return str(answer.get("state", "")), int(answer.get("done", 0)), int(answer.get("total", 0))

    def answer(self, receipt: str) -> dict[str, Any]:
        """Fetch the whole answer, page by page.

        Raises:
            AuthorityError: As for `layout`.
        """
        results: list[Any] = []
        changes: list[Any] = []
        start: int | None = 0
        for _ in range(MOST_PAGES):
            page = self._ask("GET", f"/returns/{receipt}/answer?start={start}")
            if not isinstance(page.get("results"), list):
                raise Unintelligible("its answer has no results")
            results += page["results"]
            changes += page.get("changes", [])
            start = page.get("next")
            if start is None:
                return {"receipt": receipt, "results": results, "changes": changes}
        raise Unintelligible("its answer has no end")

    def look_up(self, number: str) -> dict[str, Any] | None:
        """Look somebody up by the authority's number; None when it has nobody under it.

        Raises:
            AuthorityError: As for `layout`.
        """
        try:
            return self._ask("GET", f"/mariners/{number}")
        except Refused as error:
            if error.status == 404:
                return None
            raise

    def close(self) -> None:
        """Let go of the connections."""
        self._client.close()

    def _ask(
        self,
        method: str,
        path: str,
        body: bytes | None = None,
        headers: dict[str, str] | None = None,
    ) -> dict[str, Any]:
        try:
            answer = self._client.request(method, path, content=body, headers=headers)
        except httpx.HTTPError as error:
            raise Unreachable(why_unanswered(error)) from error
        if answer.status_code >= 500:
            raise Unreachable(f"it says {answer.status_code}")
        try:
            found = answer.json()
        except (json.JSONDecodeError, UnicodeDecodeError) as error:
            raise Unintelligible("it answers with no JSON") from error
        if not isinstance(found, dict):
            raise Unintelligible("it answers with something else than an object")
        if answer.status_code >= 400:
            raise Refused(answer.status_code, str(found.get("problem", ""))[:300])
        return found
