"""Applying new records beside a bare `LOAD DATA` of the same rows: `python bench/apply.py [ROWS]
[RUNS]`.

Both on one private, durable MariaDB, in turn. Applying writes records, versions, keys (which refuse
doubles), the outcome of every line and the receipt, and reads everything back; the bare load writes
the same documents into one table. The evaluation that goes before is not in the figure of either;
it is `bench/core.py`'s.
"""

from __future__ import annotations

import json
import statistics
import sys
import tempfile
import time
from dataclasses import replace
from pathlib import Path

from nevefield.context import Context
from nevefield.core.changes.plan import plan_changes
from nevefield.core.codes import read_codes
from nevefield.intakes.applying import apply_intake
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, receive_file
from nevefield.rosters.opening import open_roster_with
from nevefield.run.server import PrivateServer
from nevefield.settings import Settings
from nevefield.store import rosters as roster_store
from nevefield.store.connection import Database
from nevefield.store.schema import migrate

ROOT = Path(__file__).parents[1]
MADE = Path(__file__).parent / "made"
sys.path.insert(0, str(ROOT / "demo"))

from make_large import make_large  # noqa: E402


def bare_load(database: Database, documents: list[str], folder: Path) -> float:
    """Load the documents into a fresh table as plainly as can be; return the seconds."""
    path = folder / "bare.txt"
    path.write_text("".join(f"{number}\t{text}\n" for number, text in enumerate(documents, 1)))
    with database.transaction() as connection:
        connection.run("DROP TABLE IF EXISTS bare")
        connection.run(
            "CREATE TABLE bare (id BIGINT UNSIGNED NOT NULL PRIMARY KEY, content JSON NOT NULL)"
        )
    begin = time.perf_counter()
    with database.transaction() as connection:
        connection.run(
            "LOAD DATA LOCAL INFILE %s INTO TABLE bare CHARACTER SET utf8mb4 FIELDS TERMINATED BY"
            " '\\t' ESCAPED BY ''",
            (str(path),),
        )
    return time.perf_counter() - begin


def main() -> None:
    """Measure."""
    rows = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
    runs = int(sys.argv[2]) if len(sys.argv) > 2 else 3
    file = MADE / f"big-{rows}.csv"
    if not file.exists():
        make_large(rows, MADE)
    document = json.loads((ROOT / "demo" / "definitions" / "cadets.json").read_text())
    document["nevefield"]["checks"] = []
    ours, plain, applied = [], [], 0
    with tempfile.TemporaryDirectory() as folder:
        server = PrivateServer(Path(folder) / "var")
        url = server.start()
        try:
            context = Context(Database(url), replace(Settings(), database_url=url))
            migrate(context.database)
            with context.database.transaction() as connection:
                for name, codes in read_codes((ROOT / "demo" / "codes.csv").read_text()).items():
                    roster_store.replace_code_list(connection, name, codes.codes)
            for run in range(runs):
                open_roster_with(context, {**document, "name": f"cadets{run}"}, [])
                intake = receive_file(
                    context, file.name, file.read_bytes(), Claims(roster=f"cadets{run}")
                )
                opened = open_intake(context, intake)
                documents = plan_changes(opened.evaluation).documents
                begin = time.perf_counter()
                apply_intake(context, intake, len(opened.steps), opened.roster.version, None)
                ours.append(time.perf_counter() - begin)
                plain.append(bare_load(context.database, documents, Path(folder)))
                applied = len(documents)
        finally:
            server.stop()
    ratios = [one / other for one, other in zip(ours, plain, strict=True)]
    print(f"{applied:,} new records into an empty roster, median of {runs}:")
    medians = [statistics.median(one) for one in (ours, plain, ratios)]
    print(f"  apply {medians[0]:.2f} s, bare LOAD DATA {medians[1]:.2f} s, ratio {medians[2]:.2f}")


if __name__ == "__main__":
    main()
