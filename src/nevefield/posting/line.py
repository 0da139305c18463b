"""A line to a mail server, over which mails are handed one after the other.

Sources: RFC 5321 (SMTP; 4.2 replies, 4.5.3.2 times, 6.1 who answers for a mail), RFC 3207
(STARTTLS), RFC 8314 (TLS).
"""

from __future__ import annotations

import smtplib
import socket
import ssl
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal, Self

from nevefield.posting.errors import Later, Never, ServerAway, ServerDenies, Unclear

if TYPE_CHECKING:
    from collections.abc import Callable
    from types import TracebackType

__all__ = ["Line", "Server"]

SECONDS = 20.0  # until a server counts as away
MOST_SAID = 200  # letters of an answer that are kept
ACCEPTED = range(200, 300)
GO_AHEAD = 354


@dataclass(frozen=True)
class Server:
    """Where mails are handed over."""

    host: str
    port: int
    security: Literal["starttls", "tls", "none"]
    user: str = ""
    password: str = ""


class Line:
    """A line that is open; used with `with`.

    Args:
        server: Where it leads.
        seconds: Until the server counts as away.
        trust: Which certificates are taken; those of the machine when left out.
    """

    def __init__(
        self, server: Server, *, seconds: float = SECONDS, trust: ssl.SSLContext | None = None
    ) -> None:
        self._server = server
        trust = trust or ssl.create_default_context()
        try:
            if server.security == "tls":
                self._smtp: smtplib.SMTP = smtplib.SMTP_SSL(
                    server.host, server.port, timeout=seconds, context=trust
                )
            else:
                self._smtp = smtplib.SMTP(server.host, server.port, timeout=seconds)
        except ssl.SSLError as error:
            raise ServerDenies(_not_safe(error)) from error
        except (OSError, smtplib.SMTPException) as error:
            raise ServerAway(_why(error)) from error
        try:
            self._smtp.ehlo_or_helo_if_needed()
            if server.security == "starttls":
                self._smtp.starttls(context=trust)
                self._smtp.ehlo()
            if server.user:
                self._smtp.login(server.user, server.password)
        except smtplib.SMTPAuthenticationError as error:
            self.close()
            raise ServerDenies(
                f"The mail server does not take our name and password ({error.smtp_code})."
            ) from error
        except smtplib.SMTPNotSupportedError as error:
            self.close()
            raise ServerDenies(
                "The mail server does not offer this way of talking: choose another under"
                " security, or leave name and password empty."
            ) from error
        except ssl.SSLError as error:
            self.close()
            raise ServerDenies(_not_safe(error)) from error
        except (OSError, smtplib.SMTPException) as error:
            self.close()
            raise ServerAway(_why(error)) from error

    def __enter__(self) -> Self:
        return self

    def __exit__(
        self,
        kind: type[BaseException] | None,
        error: BaseException | None,
        trace: TracebackType | None,
    ) -> None:
        self.close()

    def close(self) -> None:
        """Hang up, without waiting for an answer."""
        self._smtp.close()

    def hand(self, sender: str, to: str, message: bytes, about_to: Callable[[], None]) -> str:
        """Hand a mail over, and return what the server said when it took it.

        Args:
            sender: The address that failures go back to.
            to: Whom it is for.
            message: The mail.
            about_to: Called when everything but the mail itself is said: from then on until the
                server answers nobody knows whether it has it.

        Raises:
            ServerAway: The line is gone; the mail was not handed over.
            Later, Never: The server does not take it.
            Unclear: The line is gone after the whole mail was sent.
        """
        try:
            options = ["smtputf8"] if not to.isascii() else []
            if options and not self._smtp.has_extn("smtputf8"):
                raise Never(550, "The mail server takes no addresses with such letters.")
            self._see(*self._smtp.mail(sender, options))
            self._see(*self._smtp.rcpt(to))
            code, said = self._smtp.docmd("DATA")
            if code != GO_AHEAD:
                self._see(code, said)
        except (OSError, smtplib.SMTPException) as error:
            raise ServerAway(_why(error)) from error
        about_to()
        try:
            self._smtp.send(_dotted(message))
            code, said = self._smtp.getreply()
        except (OSError, smtplib.SMTPException) as error:
            raise Unclear from error
        self._see(code, said)
        return _words(code, said)

    def _see(self, code: int, said: bytes) -> None:
        if code in ACCEPTED:
            return
        if code == 421:  # it hangs up
            raise ServerAway(_words(code, said))
        try:
            self._smtp.rset()
        except (OSError, smtplib.SMTPException):
            self._smtp.close()
        kind = Later if 400 <= code < 500 else Never
        raise kind(code, said.decode("utf-8", "replace")[:MOST_SAID])


def _dotted(message: bytes) -> bytes:
    """End a mail with a line of one dot, and double those that its lines begin with (4.5.2)."""
    body = message if message.endswith(b"\r\n") else message + b"\r\n"
    body = b"." + body if body.startswith(b".") else body
    return body.replace(b"\r\n.", b"\r\n..") + b".\r\n"


def _words(code: int, said: bytes) -> str:
    return f"{code} {said.decode('utf-8', 'replace')}"[:MOST_SAID]


def _why(error: Exception) -> str:
    if isinstance(error, socket.gaierror):
        return "there is no such host"
    if isinstance(error, TimeoutError):
        return f"nothing in {SECONDS:.0f} seconds"
    if isinstance(error, ConnectionRefusedError):
        return "nobody listens there"
    if isinstance(error, smtplib.SMTPResponseException):
        return _words(error.smtp_code, _bytes(error.smtp_error))
    return "the line broke"


def _bytes(said: bytes | str) -> bytes:
    return said if isinstance(said, bytes) else said.encode()


def _not_safe(error: ssl.SSLError) -> str:
    reason = getattr(error, "verify_message", "") or error.reason or "no TLS"
    return f"The line to the mail server is not safe ({reason}); nothing was said over it."
