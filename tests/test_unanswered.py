"""What an outside system did not answer is told in words, whatever went wrong below them."""

from __future__ import annotations

import socket
import threading
from contextlib import contextmanager

import httpx
import pytest

from nevefield.unanswered import why_unanswered


@contextmanager
def listener(says: bytes | None):
    """Listens, and says something to whoever comes before it hangs up; nothing at all for None."""
    held = []
    with socket.create_server(("127.0.0.1", 0)) as server:

        def serve():
            while True:
                try:
                    line, _ = server.accept()
                except OSError:
                    return
                held.append(line)
                if says is not None:
                    line.recv(4096)
                    line.sendall(says)
                    line.close()

        threading.Thread(target=serve, daemon=True).start()
        yield server.getsockname()[1]
    for line in held:
        line.close()


def why(address: str) -> str:
    """Why nothing answers there."""
    with pytest.raises(httpx.HTTPError) as found, httpx.Client(trust_env=False) as client:
        client.get(address, timeout=httpx.Timeout(2.0, read=0.3))
    return why_unanswered(found.value)


def test_each_way_not_to_answer():
    """Nothing there, no such name, one that is slow, hangs up, or speaks something else."""
    with listener(b"") as port:
        assert why(f"http://127.0.0.1:{port}") == "it hung up"
    with socket.create_server(("127.0.0.1", 0)) as server:
        port = server.getsockname()[1]
    assert why(f"http://127.0.0.1:{port}") == "nothing listens at its address"
    assert why("http://doors.invalid") == "no machine is known by the name in its address"
    with listener(None) as port:
        assert why(f"http://127.0.0.1:{port}") == "it takes too long"
    with listener(b"220 mail.example\r\n" * 9) as port:
        assert why(f"https://127.0.0.1:{port}") == "it does not speak TLS as it should"
    assert why("ftp://127.0.0.1") == "its address is not one of http or https"
