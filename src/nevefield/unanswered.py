"""Why an outside system gave no answer over HTTP, in words for who keeps its address."""

from __future__ import annotations

import socket
import ssl

import httpx

__all__ = ["why_unanswered"]

_CAUSES: tuple[tuple[type[BaseException], str], ...] = (
    (ssl.SSLCertVerificationError, "its certificate is not valid"),
    (ssl.SSLError, "it does not speak TLS as it should"),
    (socket.gaierror, "no machine is known by the name in its address"),
)
_KINDS: tuple[tuple[type[httpx.HTTPError], str], ...] = (
    (httpx.ConnectTimeout, "its machine cannot be reached"),
    (httpx.TimeoutException, "it takes too long"),
    (httpx.ConnectError, "nothing listens at its address"),
    (httpx.UnsupportedProtocol, "its address is not one of http or https"),
    (httpx.ProxyError, "the proxy on the way does not let it through"),
)


def why_unanswered(error: httpx.HTTPError) -> str:
    """Say why there is no answer, as what follows “because”."""
    cause: BaseException | None = error
    while cause is not None:
        for kind, said in _CAUSES:
            if isinstance(cause, kind):
                return said
        cause = cause.__cause__ or cause.__context__
    return next((said for kind, said in _KINDS if isinstance(error, kind)), "it hung up")
