"""Somebody is erased: none of their values is left in any row of the database, whatever it is
packed in, and all that was counted stays as it was.
"""

from __future__ import annotations

import gzip
import json
import zlib
from dataclasses import dataclass

import pytest

from nevefield.accounts import Level, add_account
from nevefield.context import Context
from nevefield.core.codes import Code
from nevefield.core.erasing import ERASED
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import Claims, receive_file
from nevefield.keeping.erasing import erase, hold_back, how_erased, list_erased, release
from nevefield.keeping.errors import Erased, HeldBack, WrongErasure
from nevefield.keeping.held import gather_held, write_page
from nevefield.rosters.errors import NotTakenBack
from nevefield.rosters.looking import choose_records, open_life, open_roster
from nevefield.rosters.opening import open_roster_with
from nevefield.rosters.receipts import list_receipts
from nevefield.rosters.undoing import plan_undo
from nevefield.store import erasing as store
from nevefield.store import records, rosters
from tests.web.houses import PEOPLE, Maker, fill, submit
from tests.web.wings import LAYOUT

MARKED = (0, 3, 5)  # edited by hand and rejected; in a file, the same; changed by several files


@dataclass(frozen=True)
class Marked(Maker):
    """Some people whose every word stands nowhere else."""

    def person(self, place: int) -> dict[str, str]:
        one = super().person(place)
        if place not in MARKED:
            return one
        return one | {
            "nr": f"QUAX-{place:03d}",
            "family": f"Zyxomma{place:02d}",
            "given": f"Ørjan{place:02d}",
            "born": f"1911-11-{place + 1:02d}",
            "mail": f"zyx{place:02d}@example.org",
            "note": f"noted quoll{place:02d}",
        }


def words_of(maker: Maker, place: int) -> list[str]:
    """What is looked for of somebody afterwards."""
    one = maker.person(place)
    return [one[name] for name in ("nr", "family", "given", "born", "mail", "note")] + [
        f"quoll{place:02d}"
    ]


@pytest.fixture
def house(bare):
    """A roster with something of every kind about its people, and who keeps it."""
    keeper = add_account(bare, "keeper", "The keeper", "a-long-password-1", Level.ADMINISTER)
    maker = Marked("ownfolk", "", "zsxa", None, False)
    with bare.database.transaction() as connection:
        for kind, word in (("team", "o"), ("creed", "zsxa")):
            codes = [Code(f"{word}{kind[0]}{at}", f"{kind} {at}") for at in range(1, 5)]
            rosters.replace_code_list(connection, f"ownfolk{kind}", codes)
    roster = open_roster_with(bare, maker.document(), [maker.person(at) for at in range(PEOPLE)])
    with bare.database.transaction() as connection:
        numbers = [number for number, _ in records.list_current(connection, roster)]
    fill(bare, maker, keeper, roster, numbers[0])
    submit(bare, maker, keeper, LAYOUT)
    with bare.database.transaction() as connection:
        found = {
            json.loads(text)["nr"]: number
            for number, text in records.list_current(connection, roster)
        }
    return bare, maker, keeper, {at: found[maker.person(at)["nr"]] for at in MARKED}


def everything(context: Context, but: tuple[str, ...] = ()) -> str:
    """All that stands in the database, but for some tables, unpacked."""
    texts = []
    with context.database.transaction() as connection:
        for (table,) in connection.rows("SHOW TABLES"):
            if table in (*store.SEALED, *but):
                continue
            for row in connection.rows(f"SELECT * FROM {table}"):
                texts += [f"{table} {_unpacked(value)}" for value in row]
    return "\n".join(texts)


def _unpacked(value) -> str:
    if not isinstance(value, bytes):
        return str(value)
    for unpack in (gzip.decompress, zlib.decompress):
        try:
            return unpack(value).decode()
        except (OSError, zlib.error, UnicodeDecodeError):
            continue
    return value.decode("utf-8", "replace")


def lines_with(text: str, words: list[str]) -> list[str]:
    return [line[:200] for line in text.split("\n") if any(word in line for word in words)]


def counts_of(context: Context) -> dict:
    """What is counted of the past: rows, outcomes, versions, receipts."""
    with context.database.transaction() as connection:
        return {
            "outcomes": connection.rows(
                "SELECT change_set_id, outcome, COUNT(*) FROM intake_row GROUP BY 1, 2"
            ),
            "versions": connection.row(
                "SELECT COUNT(*), COUNT(DISTINCT record_id) FROM record_version"
            ),
            "steps": connection.rows("SELECT intake_id, COUNT(*) FROM intake_step GROUP BY 1"),
            "sent": connection.rows("SELECT round_id, COUNT(*) FROM submission_line GROUP BY 1"),
        }


@pytest.mark.parametrize("place", MARKED)
def test_nothing_of_them_is_left(house, place):
    """No row of any table has a word of them, files and bodies unpacked; the others' words and all
    counts stay.
    """
    context, maker, keeper, numbers = house
    before, counts = everything(context), counts_of(context)
    assert lines_with(before, words_of(maker, place))
    others = [other for other in MARKED if other != place]
    # files that were made for destinations go whole: another can be made
    kept = everything(context, ("passed_file",))
    had = {other: len(lines_with(kept, words_of(maker, other))) for other in others}
    today = len(open_roster(context, "ownfolk")[1])
    erase(context, numbers[place], "the person, by letter", "they left and asked", keeper)
    after = everything(context)
    assert lines_with(after, words_of(maker, place)) == []
    # of what they share a line with, files and bodies, the others stay
    for other in others:
        assert len(lines_with(after, words_of(maker, other))) == had[other]
    assert {name: counts_of(context)[name] for name in counts if name != "steps"} == {
        name: count for name, count in counts.items() if name != "steps"
    }
    assert len(open_roster(context, "ownfolk")[1]) == today - 1


def test_what_was_counted_stays(house):
    """The files' rows, with their lines, stay countable; theirs says that it was erased; each
    receipt and each day of the past counts as it did; nobody finds them, nothing takes it back.
    """
    context, maker, keeper, numbers = house
    with context.database.transaction() as connection:
        intakes = [row[0] for row in connection.rows("SELECT id FROM intake WHERE kind = 'file'")]
    tallies = {one: open_intake(context, one).evaluation.tally for one in intakes}
    receipts = [one.change_set.receipt.get("found") for one in list_receipts(context, "ownfolk")]
    counts = erase(context, numbers[5], "a guardian", "asked by letter", keeper)
    assert counts["files"] == counts["rows"] == 4  # they are in every file, once
    for one in intakes:
        tally = open_intake(context, one).evaluation.tally
        assert tally.read == tallies[one].read
        if one == intakes[0]:  # it was applied
            assert tally == tallies[one]
    texts = [
        text
        for column in open_intake(context, intakes[0]).evaluation.table.columns
        for text in column.texts()
    ]
    assert ERASED in texts
    now = list_receipts(context, "ownfolk")
    assert [one.change_set.receipt.get("found") for one in now[1:]] == receipts
    assert (now[0].change_set.kind, now[0].change_set.title) == (
        "erase",
        f"Erased: record {numbers[5]}",
    )
    for change_set in (
        now[0].change_set,
        *(one.change_set for one in now if one.change_set.kind == "intake"),
    ):
        with context.database.transaction() as connection:
            if change_set.kind == "erase":
                with pytest.raises(NotTakenBack):
                    plan_undo(connection, change_set.id)
            else:
                plan = plan_undo(connection, change_set.id)
                assert numbers[5] not in [one.record for one in plan.people]
    _, snapshot = open_roster(context, "ownfolk")
    for word in words_of(maker, 5):
        assert len(choose_records(snapshot, text=word)) == 0
    life = open_life(context, numbers[5])
    assert all(not one.values for one in life.versions)
    erasure, held = how_erased(context, numbers[5])
    assert (erasure.asked_by, erasure.reason, held) == ("a guardian", "asked by letter", None)
    assert [one.record_id for one in list_erased(context)[0]] == [numbers[5]]
    with pytest.raises(Erased):
        erase(context, numbers[5], "a guardian", "asked by letter", keeper)
    with pytest.raises(Erased):
        hold_back(context, numbers[5], "a court wants it", keeper)


def test_known_though_written_otherwise(house):
    """A row that is known by its likeness alone, in a file that nobody applied, is theirs too."""
    context, maker, keeper, numbers = house
    row = maker.person(3) | {
        "nr": "QUAX003",
        "given": "Orjan03",
        "mail": "",
        "note": "likely quoll03x",
    }
    other = maker.person(7) | {"note": "somebody else"}
    data = "\n".join(";".join(one) for one in (row, row.values(), other.values())).encode()
    intake = receive_file(context, "alike.csv", data, Claims("ownfolk"), account_id=keeper)
    known = open_intake(context, intake).evaluation
    assert known.snapshot.ids[known.known.record].tolist() == [numbers[3], numbers[3] + 4]
    erase(context, numbers[3], "the person", "they asked", keeper)
    left = lines_with(everything(context), ["QUAX003", "Orjan03", "likely quoll"])
    assert left == []
    assert lines_with(everything(context), ["somebody else"])


def test_they_may_come_again(house):
    """The number is free: whoever comes with it is new."""
    context, maker, keeper, numbers = house
    erase(context, numbers[0], "the person", "they asked", keeper)
    row = maker.person(0)
    data = f"{';'.join(row)}\n{';'.join(row.values())}\n".encode()
    intake = receive_file(context, "again.csv", data, Claims("ownfolk"), account_id=keeper)
    evaluation = open_intake(context, intake).evaluation
    assert evaluation.known.record.tolist() == [-1]
    assert evaluation.tally.stopped == 0


def test_what_must_stay_stays(house):
    """Whose data must stay is not erased until it is released; without a reason neither is done."""
    context, maker, keeper, numbers = house
    hold_back(context, numbers[3], "a court wants it", keeper)
    before = everything(context)
    with pytest.raises(HeldBack, match="a court wants it"):
        erase(context, numbers[3], "the person", "they asked", keeper)
    assert everything(context) == before
    release(context, numbers[3], keeper)
    for asked_by, reason in (("", "they asked"), ("the person", "  x ")):
        with pytest.raises(WrongErasure):
            erase(context, numbers[3], asked_by, reason, keeper)
    erase(context, numbers[3], "the person", "they asked", keeper)
    assert lines_with(everything(context), words_of(maker, 3)) == []


def test_all_that_is_held(house):
    """Whoever asks gets every value that the roster, its files and what was sent say of them, as a
    page without a script, and nothing of anybody else.
    """
    context, maker, keeper, numbers = house
    held = gather_held(context, numbers[5], keeper)
    text = json.dumps(held.document, ensure_ascii=False)
    for word in words_of(maker, 5)[:-1]:
        assert word in text
    assert sorted(one["file"] for one in held.document["files"]) == [
        "asked-.csv",
        "first-.csv",
        "proposed-.csv",
        "waiting-.csv",
    ]
    others = [word for at in (0, 3) for word in words_of(maker, at)]
    assert lines_with(text, others) == []
    page = write_page(held, "<script>alert(1)</script>", "2026-11-30")
    assert "<script" not in page
    assert maker.person(5)["family"] in page
    sent = gather_held(context, numbers[0], keeper).document["submitted"]
    assert maker.person(0)["family"] in json.dumps(sent, ensure_ascii=False)


def test_no_column_is_forgotten(bare):
    """Of every column of text it is said whether anybody may stand in it, and what becomes of
    it.
    """
    kinds = ("char", "varchar", "text", "mediumtext", "longtext", "blob", "longblob", "varbinary")
    with bare.database.transaction() as connection:
        columns = {
            (table, column)
            for table, column in connection.rows(
                "SELECT table_name, column_name FROM information_schema.columns"
                " WHERE table_schema = DATABASE() AND data_type IN %s",
                (kinds,),
            )
        }
    said = {
        (table, column)
        for places in (
            {table: names for table, (_, names) in store.WORDS.items()},
            store.BY_RECORD,
            store.SEALED,
            store.NAMELESS,
        )
        for table, names in places.items()
        for column in names
    }
    assert sorted(columns - said) == []
    assert said - columns == set()
