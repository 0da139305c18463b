"""The demo world: the same seed, the same bytes; the past ends in today."""

from __future__ import annotations

import json
from datetime import date

from nevefield.core.codes import read_codes
from nevefield.core.defining.reading import read_definition
from nevefield.core.evaluate import Inputs, evaluate, read_snapshot
from nevefield.rosters.looking import open_roster
from nevefield.run.demo import load_demo
from nevefield.run.standing import find_demo
from nevefield.store import records as store
from tests.conftest import ROOT, load_module


def test_same_seed_same_bytes(made, tmp_path):
    """Made twice, every file of the demo has the same bytes."""
    load_module(ROOT / "demo" / "make.py").make(tmp_path)
    names = sorted(path.name for path in made.iterdir())
    assert names == sorted(path.name for path in tmp_path.iterdir())
    assert [
        name for name in names if (made / name).read_bytes() != (tmp_path / name).read_bytes()
    ] == []


def test_a_program_in_the_place_of_another_has_the_files(made, tmp_path):
    """Data that a program loaded from another folder: what the stand-ins run from is there all the
    same, also where nothing may be written beside the program, and is not made twice.
    """
    said: list[str] = []
    place = find_demo(tmp_path, said.append, tmp_path / "nowhere")
    assert (place / "gates.json").read_bytes() == (made / "gates.json").read_bytes()
    assert place.is_relative_to(tmp_path)
    assert find_demo(tmp_path, said.append, tmp_path / "nowhere") == place
    assert said == ["Making the demo's files ..."]


def test_past_ends_in_today(bare, made):
    """The files of the past, applied one after the other, end in exactly today's roster; each
    brought what it was to bring.
    """
    load_demo(bare, made, history=True)
    roster, snapshot = open_roster(bare, "cadets")
    records = json.loads((made / "roster-cadets.json").read_text())["records"]
    found = {one["cadet_number"]: one for one in map(snapshot.values, range(len(snapshot)))}
    assert found == {one["cadet_number"]: one for one in records}
    with bare.database.transaction() as connection:
        sets = [one for one, _, _ in store.list_change_sets(connection, roster.id)][::-1]
    files = json.loads((made / "history-cadets.json").read_text())["files"]
    assert [one.kind for one in sets] == ["opening", *["intake"] * len(files)]
    assert [one.receipt["found"]["joined"] for one in sets[1:]] == [0, 21, 0, 9, 14, 12]
    strays = [int(file["stray"] is not None) for file in files]
    assert [
        (one.receipt["rows"]["stopped"], one.receipt["rows"]["left_out"]) for one in sets[1:]
    ] == [(0, one) for one in strays]
    assert [one.receipt["tally"]["absent"] > 0 for one in sets[1:]] == [
        file["coverage"] == "everybody" for file in files
    ]


def test_large_files_are_right(tmp_path, made):
    """The large files have valid numbers but for the planted ones, and the core finds exactly
    what their truth says.
    """
    roster, file = load_module(ROOT / "demo" / "make_large.py").make_large(2_000, tmp_path)
    truth = json.loads((tmp_path / "big-2000.truth.json").read_text())
    document = json.loads((made / "roster-cadets.json").read_text())["definition"]
    document["nevefield"]["checks"] = [
        one for one in document["nevefield"]["checks"] if one["check"] == "order"
    ]
    definition, codes = read_definition(document), read_codes((made / "codes.csv").read_text())
    today = date(2026, 9, 1)
    prior = read_snapshot(roster.read_bytes(), definition, codes, today)
    tally = evaluate(
        Inputs(file.read_bytes(), [], definition, codes, prior, today, coverage="everybody")
    ).tally
    mistakes = sum(truth[name] for name in ("number", "mail", "port", "order", "name", "born"))
    assert (tally.new, tally.changed, tally.stopped) == (truth["new"], truth["changed"], mistakes)
    # whoever has a wrong number is known all the same, by likeness
    assert tally.absent == truth["absent"]
