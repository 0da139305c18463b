"""Run the Registry: `python -m stand_ins.registry --people FILE --data DIR --port N`."""

from __future__ import annotations

import argparse
import json
import logging
import os
from pathlib import Path

from stand_ins.registry.app import make_app


def main() -> None:
    """Serve on loopback until told to stop."""
    asked = argparse.ArgumentParser(
        description="The Registry of Mariners, an invented authority for trying returns."
    )
    asked.add_argument(
        "--people", type=Path, required=True, help="JSON: the records that it begins with"
    )
    asked.add_argument("--data", type=Path, required=True, help="where it keeps what it has")
    asked.add_argument("--port", type=int, default=8418)
    given = asked.parse_args()
    given.data.mkdir(parents=True, exist_ok=True)
    accounts = {os.environ.get("REGISTRY_TOKEN", "tarn-quay-practice"): ("tarn-quay", "TQMC")}
    people = json.loads(given.people.read_text())["people"]
    logging.getLogger("werkzeug").setLevel(logging.ERROR)
    app = make_app(
        people, accounts, folder=given.data, control=os.environ.get("REGISTRY_CONTROL", "")
    )
    app.run("127.0.0.1", given.port, threaded=True)


if __name__ == "__main__":
    main()
