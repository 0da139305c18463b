"""Erase one person: every place of the database in which their values may stand.

`PLACES` says of each column of text what becomes of it; a test holds the schema to it, so that none
is forgotten.
"""

from __future__ import annotations

import json
import zlib
from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.erasing import ERASED, Telling, scrub_body, scrub_json, scrub_step
from nevefield.store.cards import delete_photo
from nevefield.store.letters import forget_letters
from nevefield.store.mails import forget_mails
from nevefield.store.passing import forget_passed
from nevefield.store.proposed import forget_proposed

if TYPE_CHECKING:
    from collections.abc import Collection

    from nevefield.store.connection import Connection

__all__ = [
    "BY_RECORD",
    "NAMELESS",
    "SEALED",
    "WORDS",
    "FileOf",
    "erase_record",
    "list_files",
    "list_lines",
    "list_unapplied",
    "put_file",
    "scrub_steps",
    "scrub_words",
]

# Columns in which anybody may stand by name, and how each is known: the texts that tell who it is
# are taken out wherever they stand. JSON is read, so that a receipt's list of people is too.
WORDS: dict[str, tuple[str, tuple[str, ...]]] = {
    "change_set": ("id", ("title", "receipt")),
    "destination": ("id", ("taken", "problem")),
    "intake": ("id", ("title", "file_name")),
    "intake_row": ("change_set_id, line", ("message",)),
    "job": ("id", ("answer", "problem", "doing")),
    "opening": ("id", ("file_name", "choices", "lists")),
    "passed_group": ("destination_id, digest", ("name",)),
    "proposal": ("id", ("act", "title", "why", "reason")),
    "proposed_resource": ("id", ("content", "group_name")),
    "recipe": ("source_id, version", ("document",)),
    "scheduled": ("id", ("title", "reason")),
    "shortlist": ("id", ("title", "live")),
    "submission": ("id", ("title", "chosen")),
    "submission_round": ("id", ("problem",)),
    "submission_step": ("id", ("value", "reason", "attached", "answer")),
    "uncovered": ("id", ("reason",)),
    "waiver": ("id", ("title", "content", "reason")),
    "work": ("token", ("doing",)),
}
JSON_COLUMNS = {
    ("change_set", "receipt"),
    ("destination", "taken"),
    ("job", "answer"),
    ("opening", "choices"),
    ("opening", "lists"),
    ("proposal", "act"),
    ("proposed_resource", "content"),
    ("recipe", "document"),
    ("shortlist", "live"),
    ("waiver", "content"),
}
# Columns that are about a record by its number, or hold files: emptied, or written anew.
BY_RECORD: dict[str, tuple[str, ...]] = {
    "asked_external": ("external",),
    "card_image": ("content",),
    "card_made": ("texts", "rests"),
    "card_photo": ("file_name", "frame"),
    "intake_file": ("content",),
    "intake_step": ("step",),
    "opening": ("content",),
    "letter_addressee": ("said", "fields"),
    "mail": ("body", "subject", "recipient", "answer"),
    "passed": ("content", "own", "digest", "tried", "problem", "held_reason"),
    "passed_file": ("content",),
    "record": ("kept_for",),
    "record_key": ("name", "content"),
    "record_version": ("content",),
    "scheduled_act": ("fields",),
    "submission_line": ("outcome", "number", "sent", "told"),
    "submission_round": ("body", "answer"),
    "submission_step": ("attachment",),
}
# The trail is sealed: it is not altered. What it says of somebody by name goes with its own time.
SEALED: dict[str, tuple[str, ...]] = {"audit": ("act", "subject", "detail", "address")}
# Columns in which nobody of a roster stands: of accounts, of definitions and codes, words of ours.
NAMELESS: dict[str, tuple[str, ...]] = {
    "account": ("sign_in", "name", "password_hash", "changed_keys", "kind"),
    "card_design": ("name",),
    "card_design_version": ("document",),
    "card_image": ("kind",),
    "card_made": ("face",),
    # of which nothing says whose it was
    "card_number_gone": ("facility", "number"),
    "change_set": ("kind",),
    "code": ("code", "label", "parent", "aliases"),
    "code_list": ("name",),
    "confirmed": ("kind", "group_key"),
    "copy_back": ("file_name", "said"),
    "copy_made": ("state", "file_name", "said"),
    "counter": ("name",),
    "destination": ("name", "seen", "token", "doors"),
    "destination_version": ("document",),
    "definition": ("document",),
    "door": ("subject",),
    "erasure": ("asked_by", "reason", "counts"),
    "institution": ("name", "colour"),
    "intake": ("source", "coverage", "tally", "kind"),
    "intake_row": ("outcome",),
    "job": ("kind", "arguments", "state", "worker"),
    "keeping_term": ("kind",),
    "mail": ("kind", "message_id", "state", "worker"),
    "letter_addressee": ("answer",),
    "mail_batch": ("once", "title", "template", "field", "asks"),
    "mail_server": ("document", "password", "problem"),
    "migration": ("name",),
    "pass_link": ("kind",),
    # by what a record is known there stays, so that it can be ended there
    "passed": ("ref", "code"),
    "passed_act": ("act", "moved", "answer"),
    "passed_file": ("file_name", "laid_as", "trouble"),
    "passed_group": ("ref",),
    "proposed_resource": ("kind",),
    "asked_external": ("number",),
    "practice_copy": ("state", "doing", "contents", "said"),
    "proposal": ("counts", "state", "digest"),
    "roster": ("name", "title"),
    "roster_part": ("wanted",),
    "scheduled": ("counts", "state", "digest"),
    "second_step": ("secret",),
    "session": ("address", "csrf"),
    "source": ("name",),
    "submission": ("side", "layout", "published", "policy"),
    "submission_round": ("state", "counts", "receipt", "round_key"),
    "submission_step": ("kind", "rule"),
    "unforeseen": ("doing", "kind", "source", "mark"),
    "waiver": ("check_name", "field"),
    "work": ("token",),
}


@dataclass(frozen=True)
class FileOf:
    """A file of a roster, and the intakes of it."""

    file_hash: bytes
    rewritten: int  # how often it was written anew without somebody
    intakes: tuple[int, ...]


def list_files(connection: Connection, roster_id: int) -> list[FileOf]:
    """List the files of a roster's intakes."""
    rows = connection.rows(
        "SELECT i.file_hash, f.rewritten, GROUP_CONCAT(i.id ORDER BY i.id)"
        " FROM intake i"
        " JOIN intake_file f ON f.hash = i.file_hash"
        " WHERE i.roster_id = %s AND f.gone_at IS NULL"
        " GROUP BY i.file_hash, f.rewritten"
        " ORDER BY i.file_hash",
        (roster_id,),
    )
    return [
        FileOf(bytes(one), rewritten, tuple(int(number) for number in str(numbers).split(",")))
        for one, rewritten, numbers in rows
    ]


def list_lines(connection: Connection, record_id: int) -> dict[int, set[int]]:
    """List by intake the lines of files that went to a record."""
    found: dict[int, set[int]] = {}
    for intake, line in connection.rows(
        "SELECT c.intake_id, r.line"
        " FROM intake_row r"
        " JOIN change_set c ON c.id = r.change_set_id"
        " WHERE r.record_id = %s AND c.intake_id IS NOT NULL",
        (record_id,),
    ):
        found.setdefault(int(intake), set()).add(int(line))
    return found


def list_unapplied(connection: Connection, roster_id: int) -> list[int]:
    """List the intakes of a roster of which nothing was ever applied."""
    rows = connection.rows(
        "SELECT i.id FROM intake i"
        " WHERE i.roster_id = %s"
        " AND NOT EXISTS (SELECT 1 FROM change_set c WHERE c.intake_id = i.id)",
        (roster_id,),
    )
    return [int(row[0]) for row in rows]


def put_file(connection: Connection, file: FileOf, content: bytes) -> bool:
    """Keep a file's rows without somebody in the place of the file; tell whether that was done: not
    where it was written anew without somebody else since it was listed.
    """
    put = connection.run(
        "UPDATE intake_file"
        " SET content = %s, size = %s, held_secrets = TRUE, rewritten = rewritten + 1"
        " WHERE hash = %s AND rewritten = %s",
        (content, len(content), file.file_hash, file.rewritten),
    )
    return put == 1


def scrub_steps(
    connection: Connection, intake_id: int, lines: Collection[int], telling: Telling
) -> int:
    """Take what an intake's steps say of somebody's lines out of them; return how many."""
    scrubbed = 0
    for number, text in connection.rows(
        "SELECT number, step FROM intake_step WHERE intake_id = %s", (intake_id,)
    ):
        step = json.loads(text)
        after = scrub_step(step, lines, telling)
        if after != step:
            connection.run(
                "UPDATE intake_step SET step = %s WHERE intake_id = %s AND number = %s",
                (json.dumps(after, ensure_ascii=False), intake_id, number),
            )
            scrubbed += 1
    return scrubbed


def erase_record(
    connection: Connection, roster_id: int, record_id: int, telling: Telling
) -> dict[str, int]:
    """Empty all that is about a record by its number, and what was sent and answered of it; return
    how much of each.
    """
    of = (record_id,)
    counts = {
        "versions": connection.run(
            "UPDATE record_version SET content = '{}' WHERE record_id = %s", of
        ),
        "lines": connection.run(
            "UPDATE intake_row SET message = %s WHERE record_id = %s", (ERASED, record_id)
        ),
        "keys": connection.run("DELETE FROM record_key WHERE record_id = %s", of),
        "put off": connection.run("DELETE FROM scheduled_act WHERE record_id = %s", of),
        "approvals": connection.run(
            "UPDATE waiver SET content = '{}', title = %s, reason = %s WHERE record_id = %s",
            (ERASED, ERASED, record_id),
        ),
        "submitted": connection.run(
            "UPDATE submission_line SET sent = '{}', told = NULL, number = '' WHERE record_id = %s",
            of,
        ),
        "decisions": connection.run(
            "UPDATE submission_step SET value = '', reason = %s, attachment = NULL, attached = ''"
            " WHERE record_id = %s",
            (ERASED, record_id),
        ),
    }
    counts["cards"] = connection.run(
        "UPDATE card_made SET texts = '{}', rests = '{}', photo = NULL"
        " WHERE record_id = %s OR card_id = %s",
        (record_id, record_id),
    )
    counts["photographs"] = delete_photo(connection, record_id)
    counts["passed on"] = forget_passed(connection, record_id)
    counts["mails"] = forget_mails(connection, record_id)
    counts["letters"] = forget_letters(connection, record_id)
    counts["proposed from outside"] = forget_proposed(connection, record_id)
    for table in ("person_said", "confirmed", "shortlist_record"):
        counts[table] = connection.run(f"DELETE FROM {table} WHERE record_id = %s", of)  # noqa: S608
    counts["titles"] = _name_nobody(connection, roster_id, record_id)
    counts["rounds"] = _scrub_rounds(connection, roster_id, telling)
    # a file that became this roster, or waits to become one, is kept a while for taking back
    counts["openings"] = _drop_openings(connection, roster_id, telling)
    connection.run("UPDATE roster SET erased = erased + 1 WHERE id = %s", (roster_id,))
    return counts


def _name_nobody(connection: Connection, roster_id: int, record_id: int) -> int:
    """Take the name out of the titles of what was done to one record by hand, or of merging it;
    return how many.
    """
    hands = [
        int(intake)
        for intake, step in connection.rows(
            "SELECT s.intake_id, s.step"
            " FROM intake_step s"
            " JOIN intake i ON i.id = s.intake_id"
            " WHERE i.roster_id = %s AND i.kind = 'hand' AND s.number = 1",
            (roster_id,),
        )
        if any(one.get("record") == record_id for one in json.loads(step).get("choices", ()))
    ]
    named = 0
    for intake in hands:
        for table, key in (
            ("intake", "id"),
            ("change_set", "intake_id"),
            ("proposal", "intake_id"),
            ("scheduled", "intake_id"),
        ):
            named += connection.run(
                f"UPDATE {table} SET title = %s WHERE {key} = %s",  # noqa: S608
                (f"By hand: {ERASED}", intake),
            )
    return named + connection.run(
        "UPDATE change_set c"
        " JOIN record_version v ON v.roster_id = c.roster_id"
        " AND c.version IN (v.valid_from, v.valid_to)"
        " SET c.title = %s"
        " WHERE c.kind = 'merge' AND v.record_id = %s",
        (f"Merged: {ERASED}", record_id),
    )


def _scrub_rounds(connection: Connection, roster_id: int, telling: Telling) -> int:
    scrubbed = 0
    for number, body, answer in connection.rows(
        "SELECT r.id, r.body, r.answer"
        " FROM submission_round r"
        " JOIN submission s ON s.id = r.submission_id"
        " WHERE s.roster_id = %s",
        (roster_id,),
    ):
        for column, packed in (("body", body), ("answer", answer)):
            data = zlib.decompress(packed) if packed else b""
            after = scrub_body(data, telling)
            if after != data:
                connection.run(
                    f"UPDATE submission_round SET {column} = %s WHERE id = %s",  # noqa: S608
                    (zlib.compress(after, 1), number),
                )
                scrubbed += 1
    return scrubbed


def _drop_openings(connection: Connection, roster_id: int, telling: Telling) -> int:
    dropped = 0
    for number, of, content in connection.rows("SELECT id, roster_id, content FROM opening"):
        texts = (bytes(content).decode(name, "replace") for name in ("utf-8", "cp1252"))
        if of == roster_id or any(telling.stand_in(text) for text in texts):
            dropped += connection.run("DELETE FROM opening WHERE id = %s", (number,))
    return dropped


def scrub_words(connection: Connection, record_id: int, telling: Telling) -> dict[str, int]:
    """Take the texts that tell who somebody is out of every column of words, whatever it is about;
    return in how many lines of which table. The trail is counted, and not altered.
    """
    counts = {}
    for table, (key, columns) in WORDS.items():
        touched = 0
        for column in columns:
            touched += _scrub_column(connection, table, key, column, record_id, telling)
        if touched:
            counts[table] = touched
    named = " OR ".join(["subject LIKE %s OR detail LIKE %s"] * len(telling.texts))
    marks = [_like(text) for text in telling.texts for _ in range(2)]
    rows = connection.rows(
        f"SELECT subject, detail FROM audit WHERE {named or 'FALSE'}",  # noqa: S608
        marks,
    )
    trail = sum(telling.stand_in(f"{subject} {detail}") for subject, detail in rows)
    return {**counts, "trail": trail} if trail else counts


def _scrub_column(
    connection: Connection, table: str, key: str, column: str, record_id: int, telling: Telling
) -> int:
    marks = [_like(text) for text in telling.texts]
    is_json = (table, column) in JSON_COLUMNS
    if table == "change_set" and is_json:  # a receipt names people beside their numbers
        marks.append(f"%[{record_id},%")
    if not marks:
        return 0
    some = " OR ".join([f"{column} LIKE %s"] * len(marks))
    keys = key.split(", ")
    touched = 0
    for row in connection.rows(
        f"SELECT {key}, {column} FROM {table} WHERE {column} IS NOT NULL AND ({some})",  # noqa: S608
        marks,
    ):
        *numbers, text = row
        if is_json:
            after = json.dumps(scrub_json(json.loads(text), telling, record_id), ensure_ascii=False)
        else:
            after = telling.scrub(text)
        if after != text:
            where = " AND ".join(f"{name} = %s" for name in keys)
            connection.run(
                f"UPDATE {table} SET {column} = %s WHERE {where}",  # noqa: S608
                (after, *numbers),
            )
            touched += 1
    return touched


def _like(text: str) -> str:
    escaped = text.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
    return f"%{escaped}%"
