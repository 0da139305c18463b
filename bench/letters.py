"""Letters with links to many members of a society: `bench/letters.py [MEMBERS]`. Each step
beside a plain script that does the same: fills the same text, keeps the same mails and links in the
same durable MariaDB, counts them there, draws the same pages.
"""

from __future__ import annotations

import dataclasses
import hashlib
import io
import json
import re
import secrets
import sys
import tempfile
import time
from datetime import date, timedelta
from pathlib import Path

import segno
from cryptography.fernet import Fernet
from reportlab.lib.pagesizes import A4
from reportlab.pdfgen.canvas import Canvas

from nevefield.context import Context
from nevefield.core.mailing.asking import Asks
from nevefield.core.mailing.template import Template
from nevefield.letters.following import list_letters, open_letter
from nevefield.letters.printing import Printing, print_letters
from nevefield.letters.writing import Letter, look_at_letter, send_letter
from nevefield.mailing.serving import keep_server
from nevefield.rosters.opening import open_roster_with
from nevefield.run.server import PrivateServer
from nevefield.settings import Settings
from nevefield.store.connection import Database
from nevefield.store.schema import migrate

MEMBERS = int(sys.argv[1]) if len(sys.argv) > 1 else 20_000
HERE = "https://society.example"
SOCIETY = {
    "name": "society",
    "title": "Society",
    "primaryKey": "no",
    "fields": [
        {"name": "no"},
        {"name": "family", "nevefield": {"means": "family-name"}},
        {"name": "given", "nevefield": {"means": "given-name"}},
        {"name": "mail", "format": "email"},
        {"name": "town"},
    ],
}
SERVER = {
    "host": "127.0.0.1",
    "port": 2525,
    "security": "none",
    "address": "office@society.example",
    "name": "Society",
    "per_minute": 1_000,
}
FAMILY = ("Żółkiewska", "Øster", "Ó Súilleabháin", "Παππά", "Li")
TEXT = "Dear {given} {family},\n\nis it right? {their link}\n\nUntil {the last day}."
ADDRESS = re.compile(r"[^@\s]+@[^@\s]+\.[^@\s]+")


def member(place: int) -> dict[str, str]:
    one = {
        "no": f"{place:06}",
        "family": f"{FAMILY[place % 5]}{place}",
        "given": "Łucja",
        "town": "Kraków",
    }
    # one in ten has no address
    return one | ({"mail": f"m{place}@society.example"} if place % 10 else {})


def timed(work):
    begun = time.perf_counter()
    result = work()
    return time.perf_counter() - begun, result


def say(what: str, ours: float, plain: float) -> None:
    said = f"ours {ours:.2f} s, a plain script {plain:.2f} s: {ours / plain:.2f}"
    print(f"{what}: {said}", flush=True)


class Plain:
    """The plain script."""

    def __init__(self, database: Database, people: list[dict[str, str]], key: bytes) -> None:
        self.database = database
        self.people = people
        self.cipher = Fernet(key)
        with database.transaction() as connection:
            connection.run("CREATE TABLE plain_person (id INT PRIMARY KEY, content JSON NOT NULL)")
            connection.run_many(
                "INSERT INTO plain_person VALUES (%s, %s)",
                [(place, json.dumps(one)) for place, one in enumerate(people)],
            )
            connection.run(
                "CREATE TABLE plain_mail (id INT AUTO_INCREMENT PRIMARY KEY, person INT, link"
                " BINARY(32), recipient VARCHAR(320), body TEXT, state VARCHAR(10),"
                " KEY (state), UNIQUE KEY (link))"
            )

    def look(self) -> int:
        """Read everybody, and fill everybody's text."""
        with self.database.transaction() as connection:
            rows = connection.rows("SELECT content FROM plain_person")
        count = 0
        for (content,) in rows:
            one = json.loads(content)
            fill(one, "…")
            count += bool(ADDRESS.fullmatch(one.get("mail", "")))
        return count

    def send(self) -> int:
        """Keep everybody's link, and the mail of who has an address, encrypted."""
        rows = []
        for place, one in enumerate(self.people):
            token = secrets.token_urlsafe(32)
            body = self.cipher.encrypt(fill(one, f"{HERE}/yours#{token}").encode()).decode()
            digest = hashlib.sha256(token.encode()).digest()
            rows.append((place, digest, one.get("mail", ""), body if "mail" in one else ""))
        with self.database.transaction() as connection:
            for first in range(0, len(rows), 1_000):
                connection.run_many(
                    "INSERT INTO plain_mail (person, link, recipient, body, state)"
                    " VALUES (%s, %s, %s, %s, 'waiting')",
                    rows[first : first + 1_000],
                )
        return sum("mail" in one for one in self.people)

    def count(self) -> int:
        """Count by state."""
        with self.database.transaction() as connection:
            rows = connection.rows("SELECT state, COUNT(*) FROM plain_mail GROUP BY state")
        return sum(int(row[1]) for row in rows)

    def names(self) -> int:
        """Join each mail with whom it is to."""
        with self.database.transaction() as connection:
            rows = connection.rows(
                "SELECT m.id, m.state, p.content FROM plain_mail m"
                " JOIN plain_person p ON p.id = m.person"
            )
        return len([(row[0], row[1], json.loads(row[2])["family"]) for row in rows])

    def draw(self, count: int) -> int:
        """A page for each: lines, and a square code."""
        out = io.BytesIO()
        canvas = Canvas(out, pagesize=A4)
        for one in self.people[:count]:
            link = f"{HERE}/yours#{secrets.token_urlsafe(32)}"
            for line, text in enumerate(fill(one, link).splitlines()):
                canvas.drawString(70, 600 - 14 * line, text.encode("ascii", "replace").decode())
            for down, row in enumerate(segno.make(link, error="m", micro=False).matrix):
                for across, dark in enumerate(row):
                    if dark:
                        canvas.rect(70 + 2 * across, 200 - 2 * down, 2, 2, stroke=0, fill=1)
            canvas.showPage()
        canvas.save()
        return len(out.getvalue())


def fill(one: dict[str, str], link: str) -> str:
    text = TEXT.replace("{their link}", link).replace("{the last day}", "1 Oct 2026")
    for name in ("given", "family"):
        text = text.replace("{" + name + "}", one[name])
    return text


def main() -> None:
    """Measure."""
    key = Fernet.generate_key()
    people = [member(place) for place in range(MEMBERS)]
    with tempfile.TemporaryDirectory() as folder:
        server = PrivateServer(Path(folder) / "var")
        try:
            database = Database(server.start())
            migrate(database)
            settings = dataclasses.replace(Settings(), step_key=key.decode())
            context = Context(database, settings)
            keep_server(context, SERVER, None, None)
            open_roster_with(context, SOCIETY, people)
            plain = Plain(database, people, key)
            letter = Letter(
                "society",
                range(10 * MEMBERS),
                "mail",
                Template("Your data, {no}", TEXT, "{given} {family}\n{town}"),
                Asks(fields=("mail", "town"), last_day=date.today() + timedelta(days=14)),
                "the rest",
            )
            ours, looked = timed(lambda: look_at_letter(context, letter))
            theirs, mails = timed(plain.look)
            assert looked.mails == mails
            say(f"{MEMBERS:,} looked at before they go", ours, theirs)
            ours, _ = timed(lambda: look_at_letter(context, letter))
            say("looked at again, another word later", ours, theirs)
            ours, sent = timed(
                lambda: send_letter(context, letter, MEMBERS, "press-01", HERE, None)
            )
            theirs, mails = timed(plain.send)
            assert sent.mails == mails
            say("queued, each with a link", ours, theirs)
            list_letters(context, "society")
            ours, (listed,) = timed(lambda: list_letters(context, "society"))
            theirs, count = timed(plain.count)
            assert sum(listed.counts.values()) == count
            say("who stands where, counted", ours, theirs)
            ours, opened = timed(lambda: open_letter(context, sent.letter))
            theirs, count = timed(plain.names)
            assert len(opened.people) == count
            say("who stands where, by name", ours, theirs)
            out = io.BytesIO()
            ours, _ = timed(lambda: print_letters(context, Printing(sent.letter), out, HERE, None))
            theirs, _ = timed(lambda: plain.draw(sent.papers))
            say(f"{sent.papers:,} printed", ours, theirs)
        finally:
            server.stop()


if __name__ == "__main__":
    main()
