"""Passing on: `bench/passing.py [COUNT]`. Where COUNT records stand with a destination, against a
plain script that compares the same rows, in memory and from the database; files for a learning
system; and the first send of some of them to the stand-in, with the stand-in's own time beside it.
"""

from __future__ import annotations

import csv
import dataclasses
import io
import itertools
import json
import statistics
import sys
import tempfile
import threading
import time
import uuid
import zipfile
from concurrent.futures import ThreadPoolExecutor
from datetime import date, datetime
from pathlib import Path

import httpx

from nevefield.context import Context
from nevefield.core.defining.reading import read_definition
from nevefield.core.passing.entries import Entry
from nevefield.core.passing.oneroster import write_oneroster
from nevefield.core.passing.outgoing import lay_out
from nevefield.core.passing.reading import read_destination
from nevefield.core.passing.standing import Told, count_places, stand
from nevefield.core.snapshot import Snapshot
from nevefield.destinations.asking import Asking
from nevefield.destinations.scim import Scim
from nevefield.passing_on import looking
from nevefield.passing_on.keeping import begin_destination
from nevefield.passing_on.looking import look_closely
from nevefield.passing_on.sending import tell
from nevefield.rosters import snapshots
from nevefield.rosters.opening import open_roster_with
from nevefield.run.server import PrivateServer
from nevefield.settings import Settings
from nevefield.store.connection import Database
from nevefield.store.schema import migrate

sys.path.insert(0, str(Path(__file__).parents[1]))

from stand_ins.directory.app import make_app

COUNT = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
SENT = 2_000
RUNS = 3
IN_FILE = 20_000
TODAY = date(2026, 9, 1)
GIVEN = ("Ada", "Małgorzata", "Γιώργος", "Ольга", "Nguyễn Thị", "Bartholomea")
FAMILY = ("Li", "Oyelaran-Vik", "Παπαδόπουλος", "Гончаренко", "O'Neill", "Strand")
FIELDS = ("number", "given", "family", "mail", "team", "roles", "until")
DEFINITION_DOCUMENT = {
    "name": "people",
    "title": "People",
    "primaryKey": "number",
    "fields": [
        {"name": name, "type": "date" if name == "until" else "string", "nevefield": more}
        for name, more in zip(FIELDS, ({}, {}, {}, {}, {}, {"several": ";"}, {}), strict=True)
    ],
}
DEFINITION = read_definition(DEFINITION_DOCUMENT)
DESTINATION = read_destination(
    {
        "name": "d",
        "title": "D",
        "way": {"kind": "scim", "address": "http://d.example/v2"},
        "shares": [
            {
                "roster": "people",
                "where": {"field": "until", "from": "today"},
                "puts": [
                    {
                        "to": "userName",
                        "pattern": {
                            "pieces": [
                                {"field": "given", "letters": 1},
                                {"text": "."},
                                {"field": "family"},
                            ]
                        },
                    },
                    {"to": "name.familyName", "from": "family"},
                    {"to": "name.givenName", "from": "given"},
                    {"to": 'emails[type eq "work"].value', "from": "mail"},
                ],
                "groups": [{"from": "team"}, {"from": "roles"}],
            }
        ],
    }
)


def person(place: int) -> dict[str, str]:
    return {
        "number": f"P{place:06}",
        "given": GIVEN[place % 6],
        "family": f"{FAMILY[place // 6 % 6]}{place // 36 % 700}",
        "mail": f"p{place}@people.example",
        "team": f"team {place % 80}",
        "roles": "\x1f".join(f"role {one}" for one in range(place % 4)),
        "until": "2027-01-01" if place % 11 else "2026-01-01",
    }


def timed(work):
    begun = time.perf_counter()
    result = work()
    return time.perf_counter() - begun, result


def standing() -> None:
    people = [person(place) for place in range(COUNT)]
    snapshot = Snapshot.of_values(DEFINITION, list(range(1, COUNT + 1)), people, 1)
    (share,) = DESTINATION.shares
    first = lay_out(share, snapshot, {}, TODAY)
    told = {
        record: Told(True, first.digests[place], own=first.own(place))
        for place, record in enumerate(first.ids.tolist())
        if place % 50
    }
    own = {record: one.own for record, one in told.items()}

    def ours() -> dict[str, int]:
        fresh = dataclasses.replace(snapshot, _folded={}, _kept={}, _orders={})
        outgoing = lay_out(share, fresh, {}, TODAY, own)
        found = stand(outgoing, fresh.ids.tolist(), told)
        return {place.value: count for place, count in count_places(found).items() if count}

    held = {
        record: json.dumps(sorted(first.content(place).fields.items()))
        for place, record in enumerate(first.ids.tolist())
        if place % 50
    }

    def plain() -> dict[str, int]:
        """The rows as dictionaries, compared as text."""
        counts: dict[str, int] = {}
        for record, one in enumerate(people, 1):
            if one["until"] < "2026-09-01":
                where = "not theirs"
            else:
                row = {
                    "userName": own.get(record, {}).get("userName", ""),
                    "name.familyName": one["family"],
                    "name.givenName": one["given"],
                    'emails[type eq "work"].value': one["mail"],
                }
                text = json.dumps(sorted(row.items()))
                where = "in step" if held.get(record) == text else "to send"
            counts[where] = counts.get(where, 0) + 1
        return counts

    (mine, counts), (theirs, others) = timed(ours), timed(plain)
    assert counts == others, (counts, others)
    print(
        f"where {COUNT:,} records stand: ours {mine:.2f} s, a plain script {theirs:.2f} s:"
        f" {mine / theirs:.2f}; {counts}"
    )


def from_store() -> None:
    """What the page of a destination asks for, of everybody, from a fresh process to the answer:
    records and what was told are read from the database; and once more with the roster at hand.
    """
    document = {
        "name": "list",
        "title": "List",
        "way": {"kind": "file", "format": "csv"},
        "shares": [
            {
                "roster": "people",
                "where": {"field": "until", "from": "today"},
                "puts": [{"to": name, "from": name} for name in ("number", "given", "family")],
                "groups": [{"from": "team"}, {"from": "roles"}],
            }
        ],
    }
    people = [person(place) for place in range(COUNT)]
    with tempfile.TemporaryDirectory() as folder:
        server = PrivateServer(Path(folder) / "var")
        url = server.start()
        try:
            context = Context(
                Database(url),
                dataclasses.replace(Settings(), database_url=url),
                now=lambda: datetime(2026, 9, 1, 9),
            )
            migrate(context.database)
            number = open_roster_with(
                context,
                DEFINITION_DOCUMENT,
                [one | {"roles": one["roles"].split("\x1f")} for one in people],
            )
            begin_destination(context, document, None)
            tell(context, "list", 1, None)
            told = [one for one in people if one["until"] >= TODAY.isoformat()]
            wanted = {"in step": len(told), "not theirs": COUNT - len(told)}

            def ours() -> dict[str, int]:
                counts = look_closely(context, "list").look.counts
                return {place.value: count for place, count in counts.items() if count}

            def plain() -> dict[str, int]:
                counts = dict.fromkeys(wanted, 0)
                with context.database.transaction() as connection:
                    held = dict(
                        connection.rows("SELECT record_id, content FROM passed WHERE is_there")
                    )
                    rows = connection.rows(
                        "SELECT record_id, content FROM record_version"
                        " WHERE roster_id = %s AND valid_to IS NULL",
                        (number,),
                    )
                for record, text in rows:
                    one = json.loads(text)
                    if one["until"] < "2026-09-01":
                        counts["not theirs"] += 1
                        continue
                    there = json.loads(held[record])["fields"]
                    same = all(there[name] == one[name] for name in ("number", "given", "family"))
                    counts["in step" if same else "to send"] += 1
                return counts

            cold, warm, beside = [], [], []
            for _ in range(RUNS):
                forget()
                for times, work in ((cold, ours), (beside, plain)):
                    seconds, counts = timed(work)
                    times.append(seconds)
                    assert counts == wanted, counts
                looking._LOOKS.empty()
                warm.append(timed(ours)[0])
        finally:
            server.stop()
    for label, times in (("cold", cold), ("with the roster at hand", warm)):
        ratio = statistics.median(one / other for one, other in zip(times, beside, strict=True))
        print(
            f"the same from the database, {label}: ours {statistics.median(times):.2f} s, a plain"
            f" script {statistics.median(beside):.2f} s: {ratio:.2f}"
        )


def forget() -> None:
    """Forget what was worked out before, as a fresh process has it."""
    for cache in (looking._LOOKS, snapshots._SNAPSHOTS, snapshots._DEFINITIONS, snapshots._CODES):
        cache.empty()


def files() -> None:
    """Files of a learning system: laid out and written, against the same tables by `csv`."""
    document = {
        "name": "lessons",
        "title": "Lessons",
        "way": {
            "kind": "file",
            "format": "oneroster",
            "school": "S",
            "term": "T",
            "first_day": "2026-09-01",
            "last_day": "2027-01-31",
        },
        "shares": [
            {
                "roster": "people",
                "puts": [
                    {"to": "username", "from": "number", "is_needed": True},
                    {"to": "givenName", "from": "given", "is_needed": True},
                    {"to": "familyName", "from": "family", "is_needed": True},
                    {"to": "email", "from": "mail"},
                    {"to": "role", "fill": "student"},
                ],
                "groups": [{"from": "team"}, {"from": "roles"}],
            }
        ],
    }
    destination = read_destination(document)
    (share,) = destination.shares
    people = [person(place) for place in range(IN_FILE)]
    snapshot = Snapshot.of_values(DEFINITION, list(range(1, IN_FILE + 1)), people, 1)

    def ours() -> bytes:
        outgoing = lay_out(share, snapshot, {}, TODAY)
        entries = (
            Entry(record, share, outgoing.content(place))
            for place, record in enumerate(outgoing.ids.tolist())
        )
        return write_oneroster(destination.way, "lessons", "Bench", entries, datetime(2026, 9, 1))

    def plain() -> bytes:
        out = io.BytesIO()
        groups = [[one["team"], *filter(None, one["roles"].split("\x1f"))] for one in people]
        tables = {
            "users": [
                [one["number"], "active", one["number"], one["given"], one["family"], one["mail"]]
                for one in people
            ],
            "classes": [[name, "active", name] for name in sorted(set(itertools.chain(*groups)))],
            "enrollments": [
                [uuid.uuid5(uuid.NAMESPACE_URL, f"{one['number']} {group}"), "active", group]
                for one, some in zip(people, groups, strict=True)
                for group in some
            ],
        }
        with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
            for name, rows in tables.items():
                text = io.StringIO()
                csv.writer(text).writerows(rows)
                archive.writestr(f"{name}.csv", text.getvalue())
        return out.getvalue()

    (mine, made), (theirs, others) = timed(ours), timed(plain)
    assert lines(made, "enrollments") == lines(others, "enrollments") + 1  # the header
    print(
        f"OneRoster of {IN_FILE:,}: ours {mine:.2f} s, a plain script {theirs:.2f} s:"
        f" {mine / theirs:.2f}"
    )


def lines(archive: bytes, name: str) -> int:
    with zipfile.ZipFile(io.BytesIO(archive)) as found:
        return found.read(f"{name}.csv").count(b"\n")


def sending() -> None:
    with tempfile.TemporaryDirectory() as folder:
        app = make_app("t", folder=Path(folder))
        spent, asked, lock = [0.0], [0], threading.Lock()

        class Counted(httpx.BaseTransport):
            inner = httpx.WSGITransport(app=app)

            def handle_request(self, request):
                with lock:  # so that its own time is its own
                    begun = time.perf_counter()
                    answer = self.inner.handle_request(request)
                    answer.read()
                    spent[0] += time.perf_counter() - begun
                    asked[0] += 1
                return answer

        client = Scim(
            Asking("http://d.example/v2", "t", Counted()), ("externalId",), takes_out=False
        )
        people = [person(place) for place in range(SENT)]

        def put(place: int) -> None:
            one = people[place]
            fields = {
                "userName": [f"u{place}"],
                "name.familyName": [one["family"]],
                "name.givenName": [one["given"]],
                'emails[type eq "work"].value': [one["mail"]],
            }
            with client.part():
                client.put("", str(place), fields)

        def ours() -> None:
            with ThreadPoolExecutor(client.together(4)) as pool:
                list(pool.map(put, range(SENT)))

        whole, _ = timed(ours)
        print(
            f"first send of {SENT:,} by SCIM: {whole:.1f} s, of which the stand-in"
            f" {spent[0]:.1f} s: {whole / spent[0]:.2f}; {asked[0]:,} requests"
        )


if __name__ == "__main__":
    standing()
    from_store()
    files()
    sending()
