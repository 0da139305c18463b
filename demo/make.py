"""Write the demo world: `python demo/make.py OUT`. The same seed gives the same bytes."""

from __future__ import annotations

import json
import random
import sys
from pathlib import Path

HERE = Path(__file__).parent
sys.path.insert(0, str(HERE))

from history import make_history  # noqa: E402
from september import make_september  # noqa: E402
from world import Namer, make_cadets, make_staff  # noqa: E402

__all__ = ["main", "make"]

SEED = 20260901
CADETS, STAFF = 1240, 186


def make(out: Path, seed: int = SEED) -> None:
    """Write rosters, code lists, sample files and truth files into a directory."""
    out.mkdir(parents=True, exist_ok=True)
    chance = random.Random(seed)
    namer = Namer(chance, "tarnquay.example")
    cadets = make_cadets(chance, namer, CADETS)
    codes = (HERE / "codes.csv").read_text()
    workbook, text, truth = make_september(random.Random(seed + 1), namer, cadets, codes)
    rosters = {"cadets": cadets, "staff": make_staff(random.Random(seed + 2), STAFF)}
    for name, people in rosters.items():
        document = json.loads((HERE / "definitions" / f"{name}.json").read_text())
        content = {"definition": document, "records": people}
        (out / f"roster-{name}.json").write_text(json.dumps(content, ensure_ascii=False, indent=1))
    history = make_history(random.Random(seed + 3), cadets)
    (out / "history-cadets.json").write_text(json.dumps(history, ensure_ascii=False, indent=1))
    (out / "codes.csv").write_text(codes)
    (out / "september-joiners.xlsx").write_bytes(workbook)
    (out / "september-joiners.csv").write_bytes(text)
    (out / "september-joiners.truth.json").write_text(json.dumps(truth, indent=1))


def main() -> None:
    """Make the world where the first argument says."""
    make(Path(sys.argv[1]) if len(sys.argv) > 1 else HERE / "made")


if __name__ == "__main__":
    main()
