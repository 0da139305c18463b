"""One edited cell, from the step to the new tally, beside the whole work from nothing: `python
bench/edit.py [ROWS]`.
"""

from __future__ import annotations

import csv
import io
import json
import statistics
import sys
import tempfile
import time
from collections import defaultdict
from contextlib import contextmanager
from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

from nevefield.accounts import Level, add_account
from nevefield.context import Context
from nevefield.core.codes import read_codes
from nevefield.core.columns.pairing import known_headings
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate, read_snapshot
from nevefield.core.reading import read_file
from nevefield.core.steps import read_step
from nevefield.intakes.evaluating import open_intake
from nevefield.rosters.opening import open_roster_with
from nevefield.run.server import PrivateServer
from nevefield.settings import Settings
from nevefield.store import rosters as roster_store
from nevefield.store.connection import Database
from nevefield.store.schema import migrate
from nevefield.web import create_app

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping
    from typing import Any

    from flask import Flask
    from flask.testing import FlaskClient

    from nevefield.core.table import Table

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT / "demo"))

from make_large import make_large  # noqa: E402

TODAY = date(2026, 9, 1)
EDITS = 50
NAME, PASSWORD = "bench", "only-for-the-bench"
KEY = "cadet_number"
CODES = (ROOT / "demo" / "codes.csv").read_text()
DOCUMENT = json.loads((ROOT / "demo" / "definitions" / "cadets.json").read_text())


def edits(table: Table) -> Iterator[tuple[str, dict[str, Any]]]:
    """Make steps that each set one cell, under a name: of a phone, a watch, a mail address; of
    the key, and the key put right.
    """
    for number in range(EDITS):
        row = number * 97 + 5
        field, value = (
            ("phone", f"+44 7700 900{number:03d}"),
            ("watch", "SKUA"),
            ("mail", f"x{number}@y.example"),
            (KEY, f"TQ{number:06d}1"),  # nobody's: who the row is, is looked for by likeness
            (KEY, ""),
        )[number % 5]
        name = field
        if field == KEY and not value:
            row, name = row - 97, f"{KEY} put right"
            value = table.columns[table.headings.index(KEY)].at(row) or ""
        yield (
            name,
            {
                "kind": "set",
                "cells": [{"line": int(table.lines[row]), "field": field, "value": value}],
            },
        )


def figures(times: Mapping[str, list[float]]) -> dict[str, dict[str, float]]:
    """Give median and worst of the times by field, in ms; the first edit of each field is left
    out, it makes what others use.
    """
    return {
        field: {
            "first": round(1000 * found[0], 1),
            "median": round(1000 * statistics.median(found[1:]), 1),
            "worst": round(1000 * max(found[1:]), 1),
        }
        for field, found in times.items()
    }


def measure_core(data: bytes, old: bytes) -> dict[str, Any]:
    """Measure the core: from the step to the new tally."""
    definition, codes = read_definition(DOCUMENT), read_codes(CODES)
    prior = read_snapshot(old, definition, codes, TODAY)
    begun = time.perf_counter()
    read = read_file(data, known=known_headings(definition))
    last = evaluate(
        Inputs(b"", [], definition, codes, prior, TODAY, coverage="everybody", read=read)
    )
    whole = time.perf_counter() - begun
    steps, times = [], defaultdict(list)
    for name, document in edits(read[0]):
        steps.append(read_step(document))
        begun = time.perf_counter()
        last = evaluate(
            Inputs(b"", steps, definition, codes, prior, TODAY, coverage="everybody", read=read),
            before=last.memo,
        )
        times[name].append(time.perf_counter() - begun)
    return {"whole_ms": round(1000 * whole), "edit_ms": figures(times)}


def records_of(old: bytes) -> list[dict[str, Any]]:
    """Turn the prior roster's file into records."""
    several = {one.name: one.several for one in read_definition(DOCUMENT).fields if one.several}
    rows = csv.DictReader(io.StringIO(old.decode()))
    return [
        {
            name: text.split(several[name]) if name in several else text
            for name, text in row.items()
            if text
        }
        for row in rows
    ]


@contextmanager
def served_intake(data: bytes, old: bytes) -> Iterator[tuple[Flask, Context, int]]:
    """Keep a roster and a file on its way into it on a MariaDB of its own; gives the application
    and the intake.
    """
    with tempfile.TemporaryDirectory() as folder:
        server = PrivateServer(Path(folder) / "var")
        url = server.start()
        try:
            context = Context(Database(url), replace(Settings.from_environment(), database_url=url))
            migrate(context.database)
            with context.database.transaction() as connection:
                for name, listed in read_codes(CODES).items():
                    roster_store.replace_code_list(connection, name, listed.codes)
            open_roster_with(context, DOCUMENT, records_of(old))
            add_account(context, NAME, "Bench", PASSWORD, Level.ADMINISTER)
            app = create_app(context.settings, context)
            client = app.test_client()
            form = {
                "file": (io.BytesIO(data), "big.csv"),
                "roster": "cadets",
                "coverage": "everybody",
            }
            head = signed_in(client)
            intake = client.post("/api/intakes", data=form, headers=head).get_json()["intake"]
            yield app, context, intake
        finally:
            server.stop()


def signed_in(client: FlaskClient) -> dict[str, str]:
    """Sign in; gives the header that every request needs."""
    body = {"name": NAME, "password": PASSWORD}
    return {"X-Nevefield-Token": client.post("/api/session", json=body).get_json()["token"]}


def measure_server(data: bytes, old: bytes) -> dict[str, Any]:
    """Measure the server: the request that adds the step, and the one that gives the new tally."""
    with served_intake(data, old) as (app, context, intake):
        client = app.test_client()
        head = signed_in(client)
        opened = open_intake(context, intake)
        times, looks = defaultdict(list), defaultdict(list)
        for field, document in edits(opened.evaluation.table):
            begun = time.perf_counter()
            answer = client.post(
                f"/api/intakes/{intake}/steps", json={"step": document}, headers=head
            )
            times[field].append(time.perf_counter() - begun)
            assert answer.status_code == 201, answer.get_data(as_text=True)
            begun = time.perf_counter()
            client.get(f"/api/intakes/{intake}")
            looks[field].append(time.perf_counter() - begun)
        return {"step_ms": figures(times), "overview_ms": figures(looks)}


def main() -> None:
    """Make the file, edit cells one after the other, print the figures as JSON."""
    rows = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
    with tempfile.TemporaryDirectory() as place:
        roster, file = make_large(rows, Path(place))
        data, old = file.read_bytes(), roster.read_bytes()
    print(
        json.dumps(
            {"rows": rows, "core": measure_core(data, old), "server": measure_server(data, old)},
            indent=1,
        )
    )


if __name__ == "__main__":
    main()
