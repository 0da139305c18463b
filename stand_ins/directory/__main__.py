"""Run the directory: `python -m stand_ins.directory --data DIR --port N`."""

from __future__ import annotations

import argparse
import json
import logging
import os
from pathlib import Path

from stand_ins.directory.app import make_app


def main() -> None:
    """Serve on loopback until told to stop."""
    asked = argparse.ArgumentParser(description="A directory, invented, that is told by SCIM 2.0.")
    asked.add_argument("--data", type=Path, required=True, help="where it keeps what it holds")
    asked.add_argument("--accounts", type=Path, help="JSON: the accounts that it begins with")
    asked.add_argument("--port", type=int, default=8419)
    given = asked.parse_args()
    given.data.mkdir(parents=True, exist_ok=True)
    logging.getLogger("werkzeug").setLevel(logging.ERROR)
    app = make_app(
        os.environ.get("DIRECTORY_TOKEN", "tarn-quay-directory"),
        folder=given.data,
        accounts=json.loads(given.accounts.read_text())["accounts"] if given.accounts else [],
        control=os.environ.get("DIRECTORY_CONTROL", ""),
    )
    app.run("127.0.0.1", given.port, threaded=True)


if __name__ == "__main__":
    main()
