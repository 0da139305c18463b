"""Call a program of somebody's at its address: what changed, as JSON, signed.

Sources: RFC 9421 (HTTP Message Signatures) with HMAC-SHA256, RFC 9530 (Content-Digest); our
`docs/calls.md`.
"""

from __future__ import annotations

import json
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from http_message_signatures import HTTPMessageSigner, MappingKeyResolver
from http_message_signatures.algorithms import HMAC_SHA256

from nevefield.destinations.asking import Answer, Asking
from nevefield.destinations.errors import Gone, Unreachable, Unsigned

if TYPE_CHECKING:
    from collections.abc import Callable
    from datetime import datetime

    import httpx

__all__ = ["KEY", "LEAST_SECRET", "Calls"]

KEY = "nevefield"  # by which they know which secret it is
LEAST_SECRET = 16  # letters
MEDIA = "application/json"
COVERED = ("@method", "@target-uri", "content-type")  # and the content, by its digest


@dataclass
class _Message:
    """What is signed."""

    method: str
    url: str
    headers: dict[str, str] = field(default_factory=dict)


class Calls:
    """Calls one program.

    Args:
        address: Where it answers.
        secret: Known to it and to us.
        transport: How calls travel; None for the network.
        pause: Waits some seconds; None for the clock.

    Raises:
        Unsigned: There is no secret, or it is too short.
    """

    def __init__(
        self,
        address: str,
        secret: str,
        transport: httpx.BaseTransport | None = None,
        pause: Callable[[float], None] | None = None,
    ) -> None:
        if len(secret) < LEAST_SECRET:
            raise Unsigned(LEAST_SECRET)
        self._address = address
        self._asking = Asking(address, "", transport, pause, media=MEDIA, reads=False)
        known = {KEY: secret.encode()}
        self._signer = HTTPMessageSigner(
            signature_algorithm=HMAC_SHA256,
            key_resolver=MappingKeyResolver(private_keys=known, public_keys=known),
        )

    def call(self, document: dict[str, Any], at: datetime) -> Answer:
        """Call it once, or again where its answer was lost: what is said has a number by which it
        is known again.

        Args:
            document: What changed.
            at: When it is signed, with its zone.

        Raises:
            Refused: It takes this one not.
            DestinationError: It does not answer.
        """
        content = json.dumps(document, ensure_ascii=False).encode()
        message = _Message("POST", self._address, {"content-type": MEDIA})
        self._signer.sign(
            message,
            key_id=KEY,
            created=at,
            label="sig",
            covered_component_ids=COVERED,
            body=content,
        )
        try:
            return self._asking.ask("POST", self._address, content, headers=message.headers)
        except Gone as error:
            raise Unreachable("nothing is there under that address (404)") from error

    def close(self) -> None:
        """Let go of the connections."""
        self._asking.close()
