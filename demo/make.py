"""Write the demo world: `python demo/make.py OUT`. The same seed gives the same bytes."""

from __future__ import annotations

import json
import random
import sys
from pathlib import Path
from typing import Any

HERE = Path(__file__).parent
sys.path.insert(0, str(HERE))

from autumn import make_autumn  # noqa: E402
from corrected import make_corrected  # noqa: E402
from fellows import make_fellows, make_renewals  # noqa: E402
from gatecards import make_design, make_photos  # noqa: E402
from gates import make_dump, make_passes  # noqa: E402
from history import make_history  # noqa: E402
from payroll import make_payroll  # noqa: E402
from regatta import make_regatta  # noqa: E402
from registry import make_registry  # noqa: E402
from september import make_september  # noqa: E402
from stations import make_memberships, make_stations  # noqa: E402
from world import Namer, make_cadets, make_staff  # noqa: E402

from nevefield.core.codes import read_codes  # noqa: E402
from passing import DOORS, make_destinations  # noqa: E402

__all__ = ["main", "make"]

SEED = 20260901
CADETS, STAFF, FELLOWS = 1240, 186, 2610


def make(out: Path, seed: int = SEED) -> None:
    """Write rosters, code lists, sample files and truth files into a directory."""
    out.mkdir(parents=True, exist_ok=True)
    chance = random.Random(seed)
    namer = Namer(chance, "tarnquay.example")
    cadets = make_cadets(chance, namer, CADETS)
    text = (HERE / "codes.csv").read_text()
    codes = read_codes(text)
    staff = make_staff(random.Random(seed + 2), STAFF)
    fellows = make_fellows(random.Random(seed + 4), FELLOWS)
    passes, who = make_passes(random.Random(seed + 5), cadets, staff)
    rosters = {"cadets": cadets, "staff": staff, "fellows": fellows, "gate-passes": passes}
    rosters["memberships"] = make_memberships(random.Random(seed + 12), cadets)
    definitions = {}
    for name, people in rosters.items():
        definitions[name] = json.loads((HERE / "definitions" / f"{name}.json").read_text())
        _write(out / f"roster-{name}.json", {"definition": definitions[name], "records": people})
    _write(out / "history-cadets.json", make_history(random.Random(seed + 3), cadets, codes))
    registry, held = make_registry(random.Random(seed + 13), cadets)
    _write(out / "registry.json", registry)
    _write(out / "registry.truth.json", held)
    (out / "codes.csv").write_text(text)
    crest, design = make_design()
    (out / "crest.png").write_bytes(crest)
    _write(out / "gate-card.json", design)
    photos, cards = make_photos(random.Random(seed + 14), cadets, staff, who)
    (out / "gate-photos.zip").write_bytes(photos)
    _write(out / "gate-card.truth.json", cards)
    destinations, accounts, told = make_destinations(random.Random(seed + 15), cadets)
    _write(out / "destinations.json", destinations)
    _write(out / "directory.json", {"accounts": accounts})
    _write(out / "directory.truth.json", told)
    _write(out / "gates.json", {"doors": DOORS})
    workbook, joiners, truth = make_september(random.Random(seed + 1), namer, cadets, text)
    (out / "september-joiners.csv").write_bytes(joiners)
    files = {
        "september-joiners.xlsx": (workbook, truth),
        "cadets-full-autumn.csv": make_autumn(random.Random(seed + 6), cadets),
        "hr-staff-extract.csv": make_payroll(random.Random(seed + 7), staff, codes),
        "fellows-renewals.xls": make_renewals(random.Random(seed + 8), fellows, codes),
        "gate-dump.txt": make_dump(random.Random(seed + 9), passes, cadets, codes),
        "stations-castle-hill.csv": make_stations(random.Random(seed + 10), cadets),
        "regatta-crew.csv": make_regatta(random.Random(seed + 11), cadets),
        "joiners-corrected.xlsx": make_corrected(
            workbook, truth, definitions["cadets"], cadets, codes
        ),
    }
    for name, (content, document) in files.items():
        (out / name).write_bytes(content)
        _write(out / f"{name.rsplit('.', 1)[0]}.truth.json", document)


def _write(path: Path, document: Any) -> None:
    path.write_text(json.dumps(document, ensure_ascii=False, indent=1))


def main() -> None:
    """Make the world where the first argument says."""
    make(Path(sys.argv[1]) if len(sys.argv) > 1 else HERE / "made")


if __name__ == "__main__":
    main()
