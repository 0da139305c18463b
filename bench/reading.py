"""Reading a CSV with its line numbers, against pandas' own reader on the same file: `python
bench/reading.py [ROWS]`.

Both run in processes of their own, one after the other, three times; the ratio is of the medians.
"""

from __future__ import annotations

import json
import statistics
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).parents[1]
OURS = """
import resource, sys, time
from pathlib import Path
from nevefield.core.reading import read_file
data = Path(sys.argv[1]).read_bytes()
begun = time.perf_counter()
table, _ = read_file(data)
seconds = time.perf_counter() - begun
print(seconds, len(table), int(table.lines[-1]), resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024)
"""  # noqa: E501
PANDAS = """
import io, resource, sys, time
from pathlib import Path
import pandas
data = Path(sys.argv[1]).read_bytes()
begun = time.perf_counter()
frame = pandas.read_csv(io.BytesIO(data), dtype=str, keep_default_na=False)
seconds = time.perf_counter() - begun
print(seconds, len(frame), len(frame) + 1, resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024)
"""  # noqa: E501


def main() -> None:
    """Make the file, run both, print the figures as JSON."""
    rows = int(sys.argv[1]) if len(sys.argv) > 1 else 1_000_000
    sys.path.insert(0, str(ROOT / "demo"))
    from make_large import make_large

    with tempfile.TemporaryDirectory() as place:
        _, file = make_large(rows, Path(place))
        runs: dict[str, list[list[float]]] = {"ours": [], "pandas": []}
        for _ in range(3):
            for name, script in (("ours", OURS), ("pandas", PANDAS)):
                done = subprocess.run(
                    [sys.executable, "-c", script, str(file)],
                    check=True,
                    capture_output=True,
                    text=True,
                )
                runs[name].append([float(one) for one in done.stdout.split()])
        if runs["ours"][0][1:3] != runs["pandas"][0][1:3]:
            raise SystemExit(f"The two read another number of rows: {runs}")
        seconds = {name: statistics.median(one[0] for one in found) for name, found in runs.items()}
        memory = {name: max(one[3] for one in found) for name, found in runs.items()}
        print(
            json.dumps(
                {
                    "rows": rows,
                    "file_mb": file.stat().st_size // 1_000_000,
                    "seconds": {name: round(one, 2) for name, one in seconds.items()},
                    "peak_mb": memory,
                    "ratio": round(seconds["ours"] / seconds["pandas"], 2),
                },
                indent=1,
            )
        )


if __name__ == "__main__":
    main()
