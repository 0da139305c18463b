"""Three MariaDB nodes of one Galera cluster on loopback: to try what an installation with
several nodes does, and to test it.
"""

from __future__ import annotations

import os
import time
from pathlib import Path

import pymysql

from nevefield.run.server import PrivateServer, ServerFailed, free_port

__all__ = ["Cluster", "Node"]

ROOT = Path(__file__).resolve().parents[2]
PROVIDER = Path("/usr/lib/galera/libgalera_smm.so")
# by which one node copies itself to another; put there by scripts/setup.sh
SCRIPTS = ROOT / ".venv" / "cluster" / "usr" / "bin"
READY_SECONDS = 90


class Node(PrivateServer):
    """One node: a MariaDB of our own that takes part in a cluster."""

    def __init__(self, home: Path, name: str, *, durable: bool = True) -> None:
        super().__init__(home, durable=durable)
        self.name = name
        self.group_port, self.copy_port = _pair_of_ports()
        self.peers: list[str] = []
        self.is_first = False  # it begins the cluster, and asks nobody

    def _options(self) -> list[str]:
        options = [
            one
            for one in super()._options()
            if "buffer-pool" not in one and one != "--skip-log-bin"
        ]
        address = "gcomm://" if self.is_first else f"gcomm://{','.join(self.peers)}"
        provider = [
            f"base_host=127.0.0.1;base_port={self.group_port}",
            f"gmcast.listen_addr=tcp://127.0.0.1:{self.group_port}",
            f"ist.recv_addr=127.0.0.1:{self.group_port + 1}",
            "gcache.size=128M",
        ]
        return [
            *options,
            "--innodb-buffer-pool-size=256M",
            "--binlog-format=ROW",
            "--innodb-autoinc-lock-mode=2",
            "--wsrep-on=ON",
            f"--wsrep-provider={PROVIDER}",
            "--wsrep-cluster-name=nevefield",
            f"--wsrep-cluster-address={address}",
            f"--wsrep-node-name={self.name}",
            f"--wsrep-node-address=127.0.0.1:{self.group_port}",
            "--wsrep-sst-method=rsync",
            f"--wsrep-sst-receive-address=127.0.0.1:{self.copy_port}",
            f"--wsrep-provider-options={';'.join(provider)}",
            *(["--wsrep-new-cluster"] if self.is_first else []),
        ]

    def _environment(self) -> dict[str, str] | None:
        return {
            **os.environ,
            "PATH": os.pathsep.join([str(SCRIPTS), os.environ.get("PATH", ""), "/usr/sbin"]),
        }

    def launch(self) -> None:
        """Start its process; it does not answer yet."""
        if not self.port:
            self.home.mkdir(mode=0o700, parents=True, exist_ok=True)
            self.port = free_port()
        self._launch(self.home / "data")

    def begin(self) -> str:
        """Start it as the first of a new cluster, with its accounts.

        Returns:
            The URL for the account that owns the database, on this node.
        """
        self.is_first = True
        url = self.start()
        self.is_first = False
        return url

    def join(self) -> None:
        """Make it ready to be one more node: the others' data comes to it by itself."""
        data = self.home / "data"
        if not data.exists():
            self.home.mkdir(mode=0o700, parents=True, exist_ok=True)
            self._install(data)
        self.launch()


def _account_of(url: str) -> str:
    return url.partition("://")[2].rpartition("@")[0]


def _pair_of_ports() -> tuple[int, int]:
    return free_port(), free_port()


class Cluster:
    """Three nodes.

    Args:
        home: Directory that holds them.
        durable: Whether every commit survives a crash of a node.
    """

    def __init__(self, home: Path, *, nodes: int = 3, durable: bool = True) -> None:
        if not PROVIDER.exists() or not (SCRIPTS / "wsrep_sst_rsync").exists():
            raise ServerFailed(
                "What a cluster needs is not installed; run: . scripts/setup.sh; ensure_cluster"
            )
        self.nodes = [
            Node(home / f"node{number}", f"node{number}", durable=durable)
            for number in range(1, nodes + 1)
        ]
        self.account = self.owner = ""

    def start(self) -> str:
        """Start all nodes, one after the other.

        Returns:
            The URL for the account that owns the database, with all nodes; see `url` for the
            application's.
        """
        for node in self.nodes:
            node.peers = [f"127.0.0.1:{one.group_port}" for one in self.nodes]
        first, *others = self.nodes
        self.owner = _account_of(first.begin())
        self.account = _account_of(first.account_url)
        for node in others:
            node.join()
            self.wait_for(node)
        return self.url(account=self.owner)

    def url(self, first: int = 0, account: str = "") -> str:
        """Give the URL with all nodes, a certain one first."""
        turned = self.nodes[first:] + self.nodes[:first]
        return f"mysql://{account or self.account}@{','.join(f'127.0.0.1:{one.port}' for one in turned)}/nevefield"  # noqa: E501

    def url_of(self, node: Node) -> str:
        """Give the URL of one node alone."""
        return f"mysql://{self.account}@127.0.0.1:{node.port}/nevefield"

    def wait_for(self, node: Node, seconds: float = READY_SECONDS) -> None:
        """Wait until a node has caught up with the others, and takes questions.

        Raises:
            ServerFailed: It does not in that time.
        """
        user, _, password = self.account.partition(":")
        until = time.monotonic() + seconds
        while time.monotonic() < until:
            if node.process is None or node.process.poll() is not None:
                raise ServerFailed(
                    f"{node.name} has ended; the end of {node.home / 'mariadb.log'} says:"
                    f" {node._log_end()}"
                )
            try:
                raw = pymysql.connect(
                    host="127.0.0.1",
                    port=node.port,
                    user=user,
                    password=password,
                    connect_timeout=2,
                )
                with raw, raw.cursor() as cursor:
                    cursor.execute("SHOW STATUS LIKE 'wsrep_local_state_comment'")
                    found = cursor.fetchone()
                    if found is not None and found[1] == "Synced":
                        return
            except pymysql.err.MySQLError:
                pass
            time.sleep(0.2)
        raise ServerFailed(
            f"{node.name} did not come up within {seconds:.0f} s; see {node.home / 'mariadb.log'}."
        )

    def stop(self) -> None:
        """Stop all, the first last."""
        for node in reversed(self.nodes):
            node.stop()
