"""People without keys against a roster, at full size: `python bench/matching.py [ROWS] [--write]`.

Made people with realistic errors (`tests/core/people/maker.py`); printed are time, peak memory, and
per kind of error how many were settled rightly, wrongly, or left to a person. `--write` puts the
figures into `docs/matching.md`.
"""

from __future__ import annotations

import resource
import sys
import time
from pathlib import Path

import numpy as np

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))

from tests.core.people import crowd  # noqa: E402
from tests.core.people.maker import DEFINITION, KNOWN, STRANGERS, make_people  # noqa: E402

from nevefield.core.people.matching import learn_people, sides_of  # noqa: E402
from nevefield.core.people.settling import (  # noqa: E402
    CERTAIN,
    NOBODY,
    POSSIBLE,
    settle_likely,
)

PAGE = ROOT / "docs" / "matching.md"
CROWDS = (
    ("5,000 people born within 30 years, 1,200 rows, a tenth of the addresses empty:", 1, 30, 0.1),
    (
        "5,000 people born within 6 years, 1,200 rows, three tenths of the addresses empty:",
        2,
        6,
        0.3,
    ),
)
HARDER = """## Another crowd

People of seven languages with common names (`tests/core/people/crowd.py`), every kind of row as frequent as every other, but for
three that nothing could tell (married and moved; name and town alone; a stranger with somebody's given name and birth day).
Before November 2026 the first crowd, with those three as frequent as the rest, had 97.0% recall and 10.3% left to a person.
"""  # noqa: E501
MARK = "<!-- figures: written by bench/matching.py -->\n"


def main() -> None:
    """Measure."""
    numbers = [one for one in sys.argv[1:] if one.isdigit()]
    rows = int(numbers[0]) if numbers else 100_000
    made = make_people(rows, 5, blank=0.2)
    before = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    begun = time.perf_counter()
    learnt = learn_people(made.ours, sides_of(DEFINITION, made.theirs), np.arange(rows))
    found = settle_likely(learnt.found)
    seconds = time.perf_counter() - begun
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    text = tell(made, learnt, found, (*KNOWN, *STRANGERS))
    harder = [tell_crowd(*one) for one in CROWDS]
    print(
        f"{rows:,} rows without keys against {rows:,} records: {seconds:.1f} s, peak {peak:.0f} MB"
        f" ({before:.0f} MB before)"
    )
    print(text, *harder, sep="\n")
    if "--write" in sys.argv:
        head = PAGE.read_text().split(MARK)[0]
        said = (
            f"Seed 5, {rows:,} rows and records, a fifth of mail, phone and postcode cells empty."
        )
        PAGE.write_text(
            "\n".join([f"{head}{MARK}", said, "", text, HARDER, *harder]).rstrip() + "\n"
        )


def tell_crowd(told: str, seed: int, years: int, blank: float) -> str:
    """Settle another crowd, and write its figures."""
    made = crowd.make_crowd(5_000, 1_200, seed, years=years, blank=blank)
    learnt = learn_people(made.ours, sides_of(DEFINITION, made.theirs), np.arange(1_200))
    return f"{told}\n\n{tell(made, learnt, settle_likely(learnt.found), (*crowd.KNOWN, *crowd.STRANGERS))}"  # noqa: E501


def tell(made, learnt, found, every: tuple[str, ...]) -> str:
    """Write the figures as a table."""
    rows = len(made.truth)
    truth, kinds = np.array(made.truth), np.array(made.kinds)
    certain, asked = found.decision == CERTAIN, found.decision == POSSIBLE
    wrong = certain & (found.record != truth)
    offered = np.zeros(rows, bool)
    pairs = learnt.found
    offered[pairs.rows[pairs.records == truth[pairs.rows]]] = True
    reached = np.where(certain, ~wrong, asked & offered)
    known = truth >= 0
    lines = [
        (
            f"Precision of certain {1 - wrong.sum() / certain.sum():.4%}; recall as certain or"
            f" possible {reached[known].mean():.4%}; left to a person {asked.mean():.2%}.\n"
        ),
        "| rows that are | rows | certain | of them wrong | left to a person | nobody | missed |",
        "|---|---:|---:|---:|---:|---:|---:|",
    ]
    for kind in every:
        of = kinds == kind
        missed = int((~reached & known & of).sum())
        counts = [
            of.sum(),
            *((one & of).sum() for one in (certain, wrong, asked, found.decision == NOBODY)),
            missed,
        ]
        lines.append(f"| {kind} | {' | '.join(map(str, counts))} |")
    return "\n".join(lines) + "\n"


if __name__ == "__main__":
    main()
