"""The core on a file and a roster: `python bench/ours.py FILE ROSTER CODES DEFINITION`."""

from __future__ import annotations

import json
import sys
import time
from datetime import date
from pathlib import Path

from nevefield.cli.memory import give_back
from nevefield.core.beside import both
from nevefield.core.codes import read_codes
from nevefield.core.columns.pairing import known_headings
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate, read_snapshot
from nevefield.core.reading import read_file

TODAY = date(2026, 9, 1)


def main() -> None:
    """Do the work and print what was found and how long it took."""
    give_back()  # as the command does
    file, roster, codes_path, document = (Path(one) for one in sys.argv[1:5])
    begin = time.perf_counter()
    definition = read_definition(json.loads(document.read_text()))
    codes = read_codes(codes_path.read_text())
    data = file.read_bytes()
    prior, read = both(
        lambda: read_snapshot(roster.read_bytes(), definition, codes, TODAY),
        lambda: read_file(data, known=known_headings(definition)),
    )
    evaluation = evaluate(
        Inputs(data, [], definition, codes, prior, TODAY, coverage="everybody", read=read)
    )
    found: dict[str, int] = {}
    for cause in evaluation.causes:
        if cause.hit.weight == "stop":
            name = f"{cause.hit.check} {cause.hit.field}"
            found[name] = found.get(name, 0) + len(cause.hit.rows)
    tally = evaluation.tally
    answer = {
        "seconds": time.perf_counter() - begin,
        "read": tally.read,
        "stopped": tally.stopped,
        "new": tally.new,
        "changed": tally.changed,
        "absent": tally.absent,
        "changes": {name: len(rows) for name, rows in evaluation.changes.items()},
        "findings": found,
    }
    print(json.dumps(answer))


if __name__ == "__main__":
    main()
