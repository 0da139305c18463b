"""Who asks, where proxies stand before the product: only the word of trusted ones is taken."""

from __future__ import annotations

import ipaddress
import re
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from collections.abc import Iterable
    from wsgiref.types import StartResponse, WSGIApplication, WSGIEnvironment

__all__ = ["BehindProxies", "read_networks"]

FORWARDED = (
    "HTTP_X_FORWARDED_FOR",
    "HTTP_X_FORWARDED_PROTO",
    "HTTP_X_FORWARDED_HOST",
    "HTTP_FORWARDED",
)
_HOST = re.compile(r"[A-Za-z0-9.-]{1,253}(:[0-9]{1,5})?")
Network = ipaddress.IPv4Network | ipaddress.IPv6Network


def read_networks(text: str) -> tuple[Network, ...]:
    """Read addresses and networks, such as `127.0.0.1, 10.0.0.0/8`.

    Raises:
        ValueError: One is none.
    """
    try:
        return tuple(
            ipaddress.ip_network(part.strip(), strict=False)
            for part in text.split(",")
            if part.strip()
        )
    except ValueError as error:
        raise ValueError(
            f"NEVEFIELD_TRUSTED_PROXIES: {error}. Write addresses and networks with commas between."
        ) from error


class BehindProxies:
    """Take from trusted proxies who asks, by which scheme and under which name; what others say of
    it is dropped.

    Of `X-Forwarded-For` the last address counts that is no trusted proxy's: what stands before it,
    anybody may have written.
    """

    def __init__(self, app: WSGIApplication, trusted: tuple[Network, ...]) -> None:
        self._app = app
        self._trusted = trusted

    def __call__(self, environ: WSGIEnvironment, start_response: StartResponse) -> Iterable[bytes]:
        """Answer a request (PEP 3333)."""
        told = {name: environ.pop(name, "") for name in FORWARDED}
        if self._is_trusted(environ.get("REMOTE_ADDR", "")):
            self._follow(environ, told)
        return self._app(environ, start_response)

    def _follow(self, environ: WSGIEnvironment, told: dict[str, Any]) -> None:
        asked = [part.strip() for part in told["HTTP_X_FORWARDED_FOR"].split(",")]
        for address in reversed(asked):
            if _read(address) is None:
                break
            environ["REMOTE_ADDR"] = address
            if not self._is_trusted(address):
                break
        scheme = told["HTTP_X_FORWARDED_PROTO"].split(",")[-1].strip()
        if scheme in ("http", "https"):
            environ["wsgi.url_scheme"] = scheme
        host = told["HTTP_X_FORWARDED_HOST"].split(",")[-1].strip()
        if _HOST.fullmatch(host):
            environ["HTTP_HOST"] = host

    def _is_trusted(self, address: str) -> bool:
        found = _read(address)
        return found is not None and any(
            found in one for one in self._trusted if one.version == found.version
        )


def _read(text: str) -> ipaddress.IPv4Address | ipaddress.IPv6Address | None:
    try:
        return ipaddress.ip_address(text)
    except ValueError:
        return None
