"""The core beside a pandas script that does the same checks and the same diff: `python bench/core.py [ROWS] [RUNS]`.

Who the rows are is told by key on both sides; likeness is measured by `bench/matching.py`.
Both are run in turn as processes of their own, on the same files; the work is timed within each, without the imports. Printed
are the ratio of the medians, peak memory, and that both found the same.
"""

from __future__ import annotations

import json
import os
import resource
import statistics
import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parents[1]
MADE = Path(__file__).parent / "made"
sys.path.insert(0, str(ROOT / "demo"))

from make_large import make_large  # noqa: E402


def run(script: str, *arguments: Path) -> tuple[dict[str, object], float]:
    """Run a script and return its answer and its peak memory in MB."""
    process = subprocess.Popen([sys.executable, Path(__file__).parent / script, *arguments], stdout=subprocess.PIPE)
    said = process.stdout.read() if process.stdout else b""
    _, status, usage = os.wait4(process.pid, 0)
    if status:
        raise SystemExit(f"{script} failed")
    return json.loads(said), usage.ru_maxrss / 1024


def main() -> None:
    """Measure."""
    rows = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
    runs = int(sys.argv[2]) if len(sys.argv) > 2 else 5
    roster, file = MADE / f"roster-{rows}.csv", MADE / f"big-{rows}.csv"
    if not file.exists():
        make_large(rows, MADE)
    definition = MADE / "cadets.json"
    document = json.loads((ROOT / "demo" / "definitions" / "cadets.json").read_text())
    document["nevefield"]["checks"] = [one for one in document["nevefield"]["checks"] if one["check"] != "home-area"]
    document["nevefield"]["likeness"] = {"off": True}
    definition.write_text(json.dumps(document))
    codes = ROOT / "demo" / "codes.csv"
    ours, plain = [], []
    for _ in range(runs):
        ours.append(run("ours.py", file, roster, codes, definition))
        plain.append(run("plain.py", file, roster, codes))
    same = [{**ours[0][0], "seconds": 0}, {**plain[0][0], "seconds": 0}]
    medians = [statistics.median(float(str(one["seconds"])) for one, _ in answers) for answers in (ours, plain)]
    memory = [statistics.median(peak for _, peak in answers) for answers in (ours, plain)]
    size = file.stat().st_size / 1e6
    print(f"{rows:,} rows x 24 columns ({size:.0f} MB) against the roster, median of {runs}:")
    print(f"  Nevefield {medians[0]:.2f} s, {memory[0]:.0f} MB ({memory[0] / size:.1f} times the file)")
    print(f"  pandas    {medians[1]:.2f} s, {memory[1]:.0f} MB")
    print(f"  ratio     {medians[0] / medians[1]:.2f}")
    print(f"  found the same: {'yes' if same[0] == same[1] else 'NO'}")
    if same[0] != same[1]:
        print("   ", same[0], "\n   ", same[1])
        raise SystemExit(1)


if __name__ == "__main__":
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    main()
