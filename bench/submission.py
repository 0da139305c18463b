"""A return of many records, from begun to taken in, beside the stand-in: `python
bench/submission.py [ROWS]`.
"""

from __future__ import annotations

import csv
import io
import json
import os
import subprocess
import sys
import tempfile
import time
import urllib.request
import uuid
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path
from typing import TYPE_CHECKING

from nevefield.context import Context, utc_now
from nevefield.core.codes import read_codes
from nevefield.rosters.opening import open_roster_with
from nevefield.run.server import PrivateServer, free_port
from nevefield.settings import Settings
from nevefield.store import rosters as roster_store
from nevefield.store import submissions as store
from nevefield.store.connection import Database
from nevefield.store.schema import migrate
from nevefield.submissions.looking import open_submission
from nevefield.submissions.opening import Beginning, begin_submission
from nevefield.submissions.sending import advance, build_round

if TYPE_CHECKING:
    from typing import Any

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT), str(ROOT / "demo")]

from make_large import make_large  # noqa: E402
from registry import DAY, LAYOUT, sent_of  # noqa: E402
from stand_ins.registry.layout import published  # noqa: E402

ENROLMENT = ("COLLEGE", "KIND", "ENR_FROM", "ENR_TO", "PROGRAMME", "YEAR")
TOKEN = "for-the-bench"


def records_of(file: bytes, definition: dict[str, Any]) -> list[dict[str, Any]]:
    """Turn a made roster's file into records."""
    several = {one["name"]: one.get("nevefield", {}).get("several") for one in definition["fields"]}
    rows = csv.DictReader(io.StringIO(file.decode()))
    return [
        {
            name: text.split(several[name]) if several[name] else text
            for name, text in row.items()
            if text
        }
        for row in rows
    ]


def held_of(records: list[dict[str, Any]]) -> list[dict[str, Any]]:
    """Make what the stand-in holds: everybody with a number, as we have them."""
    people = []
    for one in records:
        if "mariner_number" in one:
            row = sent_of(one)
            person = {
                name: value
                for name, value in row.items()
                if name not in (*ENROLMENT, "REF", "NUMBER")
            }
            people.append(person | {"ENROLMENTS": [{name: row[name] for name in ENROLMENT}]})
    return people


def main() -> None:
    """Make the people, run the stand-in beside, and print how long each part took."""
    size = int(sys.argv[1]) if len(sys.argv) > 1 else 50_000
    definition = json.loads((ROOT / "demo" / "definitions" / "cadets.json").read_text())
    with tempfile.TemporaryDirectory() as folder:
        place = Path(folder)
        roster, _ = make_large(size, place)
        records = records_of(roster.read_bytes(), definition)
        (place / "people.json").write_text(json.dumps({"people": held_of(records)}))
        server, port = PrivateServer(place / "var"), free_port()
        url = server.start()
        command = [
            sys.executable,
            "-m",
            "stand_ins.registry",
            "--people",
            str(place / "people.json"),
        ]
        command += ["--data", str(place / "registry"), "--port", str(port)]
        stand_in = subprocess.Popen(command, cwd=ROOT, env={**os.environ, "REGISTRY_TOKEN": TOKEN})
        try:
            settings = Settings(
                database_url=url, registry_url=f"http://127.0.0.1:{port}", registry_token=TOKEN
            )
            print(
                json.dumps(measure(Context(Database(url), settings), definition, records), indent=1)
            )
        finally:
            stand_in.terminate()
            server.stop()


def measure(
    context: Context, definition: dict[str, Any], records: list[dict[str, Any]]
) -> dict[str, Any]:
    """Measure each part of one round."""
    migrate(context.database)
    with context.database.transaction() as connection:
        for name, listed in read_codes((ROOT / "demo" / "codes.csv").read_text()).items():
            roster_store.replace_code_list(connection, name, listed.codes)
    open_roster_with(context, definition, records)
    for _ in range(200):
        try:
            urllib.request.urlopen(f"{context.settings.registry_url}/live/layout", timeout=5)
        except urllib.error.HTTPError:
            break  # it is there, and asks who we are
        except OSError:
            time.sleep(0.2)
    marks = [("begin", time.perf_counter())]
    layout = json.loads(json.dumps(LAYOUT).replace('"SKA"', '"SKM"'))
    began = published(date.fromisoformat(DAY))
    number = begin_submission(
        context,
        Beginning(
            roster="cadets",
            title="Bench",
            side="live",
            day=date.fromisoformat(DAY),
            layout=layout,
            policy={"none": "new"},
            published=began,
        ),
        None,
    )
    marks.append(("begun", time.perf_counter()))
    opened = open_submission(context, number)
    marks.append(("checked", time.perf_counter()))
    made = build_round(context, number, None, uuid.uuid4().hex)
    marks.append(("built", time.perf_counter()))
    theirs, seen = 0.0, []
    ahead = replace(context, now=lambda: utc_now() + timedelta(days=1))
    while True:
        began_at = time.perf_counter()
        state = advance(ahead, made)
        if state == "done":
            break
        with context.database.transaction() as connection:
            one = store.get_round(connection, made)
        seen.append(one.done if one else 0)
        time.sleep(0.25)
        theirs += time.perf_counter() - began_at
    marks.append(("answered, taken in, numbers in the roster", time.perf_counter()))
    open_submission(context, number)
    marks.append(("opened again", time.perf_counter()))
    parts = {name: round(at - marks[place][1], 1) for place, (name, at) in enumerate(marks[1:])}
    whole = marks[-1][1] - marks[0][1]
    tally = open_submission(context, number).tally
    return {
        "records": opened.tally.records,
        "seconds": parts,
        "waiting_for_the_stand_in": round(theirs, 1),
        "ours": round(whole - theirs, 1),
        "tally": vars(tally),
        "adds_up": tally.adds_up,
        "progress_seen": len(set(seen)),
    }


if __name__ == "__main__":
    main()
