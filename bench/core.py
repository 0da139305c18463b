"""The core beside a pandas script that does the same checks and the same diff.

`python bench/core.py [ROWS] [RUNS] [SHAPE ...]`; the shapes are those of `shapes.py` and `keyed`
(three times the records, ten columns, three keys, half of the rows unknown: `keyed.py`), all of
them when none is named.

Who the rows are is told by key on both sides; likeness is measured by `bench/matching.py`. Both are
run in turn as processes of their own, on the same files. Within: the work is timed in each process,
without the imports. From outside: `nevefield check --json` against the script, from start to end,
as it is installed: without pandas, which Arrow would load (`without/`). Printed are the ratios of
the medians, peak memory, and that both found the same.
"""

from __future__ import annotations

import json
import os
import resource
import statistics
import subprocess
import sys
import time
from pathlib import Path

ROOT = Path(__file__).parents[1]
MADE = Path(__file__).parent / "made"
sys.path[:0] = [str(ROOT / "demo"), str(Path(__file__).parent)]

from keyed import make_keyed  # noqa: E402
from make_large import make_large  # noqa: E402
from shapes import SHAPES, make_shape  # noqa: E402


def run(
    command: list[object], *, is_ours: bool = True, is_quiet: bool = False
) -> tuple[dict[str, object], float, float]:
    """Run a command; return its answer, its seconds from start to end, and its peak memory in
    MB.
    """
    begun = time.perf_counter()
    to = subprocess.DEVNULL if is_quiet else subprocess.PIPE
    environment = (
        {**os.environ, "PYTHONPATH": str(Path(__file__).parent / "without")} if is_ours else None
    )
    process = subprocess.Popen([str(one) for one in command], stdout=to, env=environment)
    said = process.stdout.read() if process.stdout else b""
    _, status, usage = os.wait4(process.pid, 0)
    if status not in ((0, 256) if is_quiet else (0,)):  # 1: something stops
        raise SystemExit(f"{command[1]} failed")
    return json.loads(said or "{}"), time.perf_counter() - begun, usage.ru_maxrss / 1024


def measure(shape: str, rows: int, runs: int, paths: tuple[Path, Path, Path]) -> bool:
    """Measure one shape; tell whether both found the same."""
    here, codes = Path(__file__).parent, ROOT / "demo" / "codes.csv"
    file, roster, definition = paths
    plain = here / ("keyed.py" if shape == "keyed" else "plain.py")
    options = [
        "--definition",
        definition,
        "--codes",
        codes,
        "--against",
        roster,
        "--coverage",
        "everybody",
    ]
    outside = [
        Path(sys.executable).with_name("nevefield"),
        "check",
        file,
        *options,
        "--today",
        "2026-09-01",
        "--json",
    ]
    found: dict[str, list[tuple[dict[str, object], float, float]]] = {
        "ours": [],
        "plain": [],
        "check": [],
    }
    for _ in range(runs):
        found["ours"].append(
            run([sys.executable, here / "ours.py", file, roster, codes, definition])
        )
        found["plain"].append(run([sys.executable, plain, file, roster, codes], is_ours=False))
        found["check"].append(run(outside, is_quiet=True))
    within = {
        name: statistics.median(float(str(one[0]["seconds"])) for one in found[name])
        for name in ("ours", "plain")
    }
    whole = {name: statistics.median(one[1] for one in answers) for name, answers in found.items()}
    memory = {name: statistics.median(one[2] for one in answers) for name, answers in found.items()}
    same = [{**found[name][0][0], "seconds": 0} for name in ("ours", "plain")]
    size = file.stat().st_size / 1e6
    print(f"{shape}: {rows:,} rows ({size:.0f} MB) against the roster, median of {runs}:")
    print(
        f"  within   {within['ours']:.2f} s / {within['plain']:.2f} s ="
        f" {within['ours'] / within['plain']:.2f}"
    )
    print(
        f"  outside  {whole['check']:.2f} s / {whole['plain']:.2f} s ="
        f" {whole['check'] / whole['plain']:.2f}"
    )
    print(
        f"  memory   {memory['ours']:.0f} MB / {memory['plain']:.0f} MB ="
        f" {memory['ours'] / memory['plain']:.2f}",
        end="",
    )
    print(
        f" ({memory['ours'] / size:.1f} times the file); outside"
        f" {memory['check'] / memory['plain']:.2f}"
    )
    print(f"  found the same: {'yes' if same[0] == same[1] else 'NO'}", flush=True)
    if same[0] != same[1]:
        print("   ", same[0], "\n   ", same[1])
    return same[0] == same[1]


def main() -> None:
    """Measure."""
    rows = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
    runs = int(sys.argv[2]) if len(sys.argv) > 2 else 5
    definition = MADE / "cadets.json"
    document = json.loads((ROOT / "demo" / "definitions" / "cadets.json").read_text())
    document["nevefield"]["checks"] = [
        one for one in document["nevefield"]["checks"] if one["check"] != "home-area"
    ]
    document["nevefield"]["likeness"] = {"off": True}
    is_same = True
    for shape in sys.argv[3:] or (*SHAPES, "keyed"):
        if shape == "keyed":
            is_same &= measure(shape, rows * 3, runs, make_keyed(rows * 3, MADE))
            continue
        size = rows // 5 if shape == "wide" else rows
        roster, file = MADE / f"roster-{size}.csv", MADE / f"big-{size}.csv"
        if not file.exists():
            make_large(size, MADE)
        definition.write_text(json.dumps(document))
        is_same &= measure(shape, size, runs, make_shape(shape, file, roster, definition))
    if not is_same:
        raise SystemExit(1)


if __name__ == "__main__":
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    main()
