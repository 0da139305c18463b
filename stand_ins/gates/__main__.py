"""Run the gate controllers: `python -m stand_ins.gates --doors FILE --data DIR --port N`."""

from __future__ import annotations

import argparse
import json
import logging
import os
from pathlib import Path

from stand_ins.gates.app import make_app


def main() -> None:
    """Serve on loopback until told to stop."""
    asked = argparse.ArgumentParser(description="Gate controllers, invented.")
    asked.add_argument("--doors", type=Path, required=True, help="JSON: the doors, with zones")
    asked.add_argument("--data", type=Path, required=True, help="where they keep cards")
    asked.add_argument("--port", type=int, default=8420)
    given = asked.parse_args()
    given.data.mkdir(parents=True, exist_ok=True)
    logging.getLogger("werkzeug").setLevel(logging.ERROR)
    app = make_app(
        json.loads(given.doors.read_text())["doors"],
        os.environ.get("GATES_TOKEN", "tarn-quay-gates"),
        folder=given.data,
        control=os.environ.get("GATES_CONTROL", ""),
    )
    app.run("127.0.0.1", given.port, threaded=True)


if __name__ == "__main__":
    main()
