"""Run it: `python -m stand_ins.mail --data DIR --smtp N --port N`."""

from __future__ import annotations

import argparse
import logging
from pathlib import Path

from stand_ins.mail.app import make_app
from stand_ins.mail.catching import Catcher, serve


def main() -> None:
    """Serve on loopback until told to stop."""
    asked = argparse.ArgumentParser(description="A mail server that catches everything.")
    asked.add_argument("--data", type=Path, required=True, help="where mails are kept")
    asked.add_argument("--smtp", type=int, default=8425, help="on which mails are taken")
    asked.add_argument("--port", type=int, default=8426, help="on which they are shown")
    given = asked.parse_args()
    logging.getLogger("werkzeug").setLevel(logging.ERROR)
    catcher = Catcher(given.data)
    controller = serve(catcher, given.smtp)
    try:
        make_app(catcher).run("127.0.0.1", given.port, threaded=True)
    finally:
        controller.stop()


if __name__ == "__main__":
    main()
