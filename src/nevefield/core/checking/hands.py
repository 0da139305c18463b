"""What somebody set by hand since the source's last file: a file that says otherwise does not
overwrite it in silence.
"""

from __future__ import annotations

import numpy as np

from nevefield.core.checking.facts import Facts, Hit

__all__ = ["check_by_hand"]


def check_by_hand(facts: Facts) -> list[Hit]:
    """Ask about rows that would change a value which somebody set by hand since the last file of
    the same source.
    """
    hits = []
    for name, said in facts.by_hand.items():
        if name not in facts.typed or not said:
            continue
        wanted = np.isin(facts.snapshot.ids, list(said))
        record = facts.known.record
        rows = np.flatnonzero(
            (record >= 0) & np.append(wanted, False)[record] & ~facts.problem(name) & ~facts.aside
        )
        ours, theirs = facts.folded[name].rows(rows), facts.snapshot.folded(name).rows(record[rows])
        differing = rows[[our != their for our, their in zip(ours, theirs, strict=True)]]
        if not len(differing):
            continue
        title = f"{facts.title(name)} was set by hand since the last file"

        def say(row: int, name: str = name) -> str:
            number = int(facts.snapshot.ids[facts.known.record[row]])
            had = facts.snapshot.columns[name].at(int(facts.known.record[row])) or "empty"
            return (
                f"{facts.title(name)} {had} was set by hand {facts.by_hand[name][number]}; keep it,"
                " or take the file's."
            )

        hits.append(Hit("by-hand", name, (name,), "ask", differing, title, say, group="by-hand"))
    return hits
