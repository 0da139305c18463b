"""One edited cell, from the step to the new tally, beside the whole work from nothing: `python bench/edit.py [ROWS]`."""

from __future__ import annotations

import json
import statistics
import sys
import tempfile
import time
from datetime import date
from pathlib import Path

from nevefield.core.codes import read_codes
from nevefield.core.columns.pairing import known_headings
from nevefield.core.definition import read_definition
from nevefield.core.evaluate import evaluate, read_snapshot
from nevefield.core.reading import read_file
from nevefield.core.steps import read_step

ROOT = Path(__file__).parents[1]
TODAY = date(2026, 9, 1)
EDITS = 15


def main() -> None:
    """Make the file, edit cells one after the other, print the figures as JSON."""
    rows = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
    sys.path.insert(0, str(ROOT / "demo"))
    from make_large import make_large

    document = json.loads((ROOT / "demo" / "definitions" / "cadets.json").read_text())
    document["nevefield"]["checks"] = [one for one in document["nevefield"]["checks"] if one["check"] == "order"]
    definition, codes = read_definition(document), read_codes((ROOT / "demo" / "codes.csv").read_text())
    with tempfile.TemporaryDirectory() as place:
        roster, file = make_large(rows, Path(place))
        data = file.read_bytes()
        prior = read_snapshot(roster.read_bytes(), definition, codes, TODAY)
    begun = time.perf_counter()
    read = read_file(data, known=known_headings(definition))
    last = evaluate(b"", [], definition, codes, prior, TODAY, coverage="everybody", read=read)
    whole = time.perf_counter() - begun
    steps, times = [], []
    for number in range(EDITS):
        line = int(read[0].lines[number * 97 + 5])
        field, value = (("phone", f"+44 7700 900{number:03d}"), ("watch", "SKUA"), ("mail", f"x{number}@y.example"))[number % 3]
        steps.append(read_step({"kind": "set", "cells": [{"line": line, "field": field, "value": value}]}))
        begun = time.perf_counter()
        last = evaluate(b"", steps, definition, codes, prior, TODAY, coverage="everybody", read=read, before=last.memo)
        times.append(time.perf_counter() - begun)
    print(
        json.dumps(
            {
                "rows": rows,
                "whole_ms": round(1000 * whole),
                "edit_ms": {"median": round(1000 * statistics.median(times), 1), "worst": round(1000 * max(times), 1)},
                "share_of_the_whole": round(statistics.median(times) / whole, 4),
            },
            indent=1,
        )
    )


if __name__ == "__main__":
    main()
