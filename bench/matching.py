"""People without keys against a roster, at full size: `python bench/matching.py [ROWS] [--write]`.

Made people with realistic errors (`tests/core/people/maker.py`); printed are time, peak memory, and per kind of error how many
were settled rightly, wrongly, or left to a person. `--write` puts the figures into `docs/matching.md`.
"""

from __future__ import annotations

import resource
import sys
import time
from pathlib import Path

import numpy as np

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))

from tests.core.people.maker import DEFINITION, KNOWN, STRANGERS, make_people  # noqa: E402

from nevefield.core.people.matching import CERTAIN, NOBODY, POSSIBLE, learn_people, settle_likely, sides_of  # noqa: E402

PAGE = ROOT / "docs" / "matching.md"
MARK = "<!-- figures: written by bench/matching.py -->\n"


def main() -> None:
    """Measure."""
    numbers = [one for one in sys.argv[1:] if one.isdigit()]
    rows = int(numbers[0]) if numbers else 100_000
    made = make_people(rows, 5, blank=0.2)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    begun = time.perf_counter()
    learnt = learn_people(DEFINITION, made.ours, sides_of(DEFINITION, made.theirs), np.arange(rows))
    found = settle_likely(learnt.found)
    seconds = time.perf_counter() - begun
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    text = tell(made, learnt, found, rows)
    print(f"{rows:,} rows without keys against {rows:,} records: {seconds:.1f} s, peak {peak:.0f} MB ({before:.0f} MB before)")
    print(text)
    if "--write" in sys.argv:
        head = PAGE.read_text().split(MARK)[0]
        said = f"Seed 5, {rows:,} rows and records, a fifth of mail, phone and postcode cells empty."
        PAGE.write_text(f"{head}{MARK}\n{said}\n\n{text}")


def tell(made, learnt, found, rows: int) -> str:
    """Write the figures as a table."""
    truth, kinds = np.array(made.truth), np.array(made.kinds)
    certain, asked = found.decision == CERTAIN, found.decision == POSSIBLE
    wrong = certain & (found.record != truth)
    offered = np.zeros(rows, bool)
    pairs = learnt.found
    offered[pairs.rows[pairs.records == truth[pairs.rows]]] = True
    reached = np.where(certain, ~wrong, asked & offered)
    known = truth >= 0
    lines = [
        f"Precision of certain {1 - wrong.sum() / certain.sum():.4%}; recall as certain or possible {reached[known].mean():.4%}; "
        f"left to a person {asked.mean():.2%}.\n",
        "| rows that are | rows | certain | of them wrong | left to a person | nobody | missed |",
        "|---|---:|---:|---:|---:|---:|---:|",
    ]
    for kind in (*KNOWN, *STRANGERS):
        of = kinds == kind
        missed = int((~reached & known & of).sum())
        counts = [of.sum(), *((one & of).sum() for one in (certain, wrong, asked, found.decision == NOBODY)), missed]
        lines.append(f"| {kind} | {' | '.join(map(str, counts))} |")
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    main()
