"""Run Nevefield on three database nodes with two sets of web server and worker, all on loopback:
`deploy/cluster/start`.

Kill a node or a set, and look: what has ended is started again after a while.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import threading
import urllib.error
import urllib.request
from pathlib import Path

import click
from nodes import Cluster

from nevefield.run.server import ServerFailed
from nevefield.run.supervise import REGISTRY_TOKEN

DOWN_SECONDS = 10  # that a node which ended stays away: long enough to see that the others go on


def start_set(
    url: str, owner: str, port: int, data: Path, *, empty: bool, registry: str = ""
) -> subprocess.Popen[bytes]:
    """Start a web server and a worker on the cluster."""
    command = [
        str(Path(sys.executable).with_name("nevefield")),
        "serve",
        "--port",
        str(port),
        "--data",
        str(data),
    ]
    environment = {**os.environ, "NEVEFIELD_DATABASE_URL": url, "NEVEFIELD_OWNER_URL": owner}
    if registry:
        environment |= {
            "NEVEFIELD_REGISTRY_URL": registry,
            "NEVEFIELD_REGISTRY_TOKEN": REGISTRY_TOKEN,
        }
    return subprocess.Popen([*command, *(["--empty"] if empty else [])], env=environment)


def answers(port: int) -> bool:
    """Tell whether a web server answers."""
    try:
        with urllib.request.urlopen(f"http://127.0.0.1:{port}/api/health", timeout=2) as answer:
            return bool(answer.status == 200)
    except (urllib.error.URLError, OSError):
        return False


@click.command()
@click.option("--port", default=8417, help="Of the first set; the second has ten more.")
@click.option("--data", type=click.Path(path_type=Path), default=Path("var/cluster"))
@click.option("--empty", is_flag=True, help="Without the demo.")
def main(port: int, data: Path, empty: bool) -> None:
    """Run it until a signal says stop."""
    stop = threading.Event()
    for number in (signal.SIGINT, signal.SIGTERM):
        signal.signal(number, lambda *_: stop.set())
    click.echo("Starting three nodes ...", err=True)
    try:
        cluster = Cluster(data.resolve())
        owner = cluster.start()
    except ServerFailed as error:
        raise click.ClickException(str(error)) from error
    sets: list[subprocess.Popen[bytes]] = []
    try:
        for place in range(2):
            registry = f"http://127.0.0.1:{port + 1}" if place and not empty else ""
            own = port + 10 * place
            sets.append(
                start_set(
                    cluster.url(place),
                    owner,
                    own,
                    data / f"set{place + 1}",
                    empty=empty,
                    registry=registry,
                )
            )
            while not answers(own) and not stop.wait(0.5) and sets[-1].poll() is None:
                pass
        for node in cluster.nodes:
            click.echo(
                f"{node.name}: process {node.process.pid if node.process else '-'}, port"
                f" {node.port}",
                err=True,
            )
        while not stop.wait(1):
            for node in cluster.nodes:
                if node.process is not None and node.process.poll() is not None:
                    click.echo(
                        f"{node.name} has ended; it comes back in {DOWN_SECONDS} s.", err=True
                    )
                    stop.wait(DOWN_SECONDS)
                    node.launch()
    finally:
        for one in sets:
            one.terminate()
        for one in sets:
            one.wait()
        cluster.stop()


if __name__ == "__main__":
    main()
