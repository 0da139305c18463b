"""An authority that does wrong in every way it can be told to, and a worker that is killed at
every stage of a round.
"""

from __future__ import annotations

import json
import subprocess
import sys
import threading
import uuid
from dataclasses import replace
from datetime import date, timedelta
from pathlib import Path

import pytest

from nevefield.core.errors import WrongAnswer
from nevefield.intakes.applying import take_back
from nevefield.jobs.worker import run_one
from nevefield.rosters.looking import open_roster
from nevefield.store import submissions as store
from nevefield.submissions.answering import bring_answer, end_by_hand
from nevefield.submissions.looking import open_submission
from nevefield.submissions.opening import Beginning, begin_submission
from nevefield.submissions.sending import advance, build_round, queue_rounds, send_again, write_body
from tests.conftest import ROOT
from tests.submissions.conftest import TOKEN, bring_on

SHIP = {"all": [{"field": "campus", "is": "TSM"}, {"field": "enrolled_to", "from": "today"}]}
STAGES = [
    ("send", "before"),
    ("send", "after"),
    ("answer", "before"),
    ("answer", "after"),
    ("insert_lines", "after"),
    ("_take_answer_in", "after"),
    ("keep_rows", "after"),
    ("apply_intake", "before"),
    ("apply_intake", "after"),
]


@pytest.fixture
def ship(sender, made):
    """Begin a return of the training ship's cadets, as often as asked."""
    began = json.loads((made / "registry.json").read_text())
    layout = json.loads(json.dumps(began["layout"]).replace('"SKA"', '"SKM"'))

    def begin(context=sender) -> int:
        policy = {"none": "new", "one": 95}
        day = date.fromisoformat(began["day"])
        return begin_submission(
            context,
            Beginning(
                roster="cadets",
                title="The ship",
                side="live",
                day=day,
                layout=layout,
                chosen=SHIP,
                policy=policy,
            ),
            None,
        )

    return begin


def sound(context, number: int) -> None:
    """Nobody is lost and nobody stands twice: by the places, and by the database's own count."""
    opened = open_submission(context, number)
    assert opened.tally.adds_up
    with context.database.transaction() as connection:
        rounds = store.list_rounds(connection, number)
        lines = store.list_lines(connection, number)
    assert len({(one.round, one.record) for one in lines}) == len(lines)
    for one in rounds:
        if one.state in ("taken", "done"):
            assert sum(line.round == one.number for line in lines) >= one.records


@pytest.mark.parametrize(
    "faults",
    [
        {"slow": 0.4},
        {"fail500": 3},
        {"fail503": 3},
        {"drop": 2},
        {"twice": True},
        {"disorder": True},
        {"twice": True, "disorder": True},
    ],
    ids=str,
)
def test_every_fault(sender, registry, ship, clock, faults):
    """Whatever the authority does, one return arrives, every record is answered once, and the
    tally adds up at every look.
    """
    number = ship()
    registry.tell(**faults)
    made = build_round(sender, number, None, uuid.uuid4().hex)
    states = []
    for _ in range(400):
        sound(sender, number)
        states.append(advance(sender, made))
        if states[-1] == "done":
            break
        clock.at += timedelta(seconds=61)
    if {"fail500", "fail503", "drop"} & set(faults):
        assert states[0] == "built", "it did go wrong"
    opened = open_submission(sender, number)
    sound(sender, number)
    assert opened.tally.not_sent == 0
    assert len(registry.live.returns) == 1
    assert (
        len(opened.lines)
        == opened.tally.records
        == len(next(iter(registry.live.returns.values()))["records"])
    )


def test_refused_as_a_whole(sender, registry, ship, clock):
    """A refusal is said with its words, nothing is lost, and the same round goes again under the
    same key.
    """
    number = ship()
    registry.tell(refuse=1)
    made = build_round(sender, number, None, uuid.uuid4().hex)
    assert bring_on(sender, made, clock) == "refused"
    with sender.database.transaction() as connection:
        (one,) = store.list_rounds(connection, number)
    assert "not taken today" in one.problem
    opened = open_submission(sender, number)
    assert opened.tally.not_sent == opened.tally.records
    send_again(sender, made, None)
    assert bring_on(sender, made, clock) == "done"
    assert len(registry.live.returns) == 1
    assert open_submission(sender, number).tally.not_sent == 0


def test_a_changed_mind(sender, registry, ship, clock):
    """A record that was accepted and is rejected in a later answer stands as rejected, though
    that round did not send it.
    """
    number = ship()
    bring_on(sender, build_round(sender, number, None, uuid.uuid4().hex), clock)
    before = open_submission(sender, number)
    accepted = [record for record, line in before.lines.items() if line.outcome == "accepted"]
    registry.tell(fickle=True)
    bring_on(sender, build_round(sender, number, None, uuid.uuid4().hex), clock)
    after = open_submission(sender, number)
    (withdrawn,) = [record for record in accepted if after.lines[record].outcome == "rejected"]
    assert after.standings[withdrawn].state == "rejected"
    assert after.roots(withdrawn) == ["M2"]
    sound(sender, number)


def test_killed_at_every_stage(sender, registry, ship, clock):
    """kill -9 before and after everything that a round does: sent once, taken in once, its
    numbers in the roster once.
    """
    _, before = open_roster(sender, "cadets")
    lacking = int((before.columns["mariner_number"].codes < 0).sum())
    for stage, when in STAGES:
        number = ship()
        bring_on(sender, build_round(sender, number, None, uuid.uuid4().hex), clock)
        returns = len(registry.live.returns)
        made = build_round(sender, number, None, uuid.uuid4().hex)
        sent = open_submission(sender, number).rows
        asked = [
            sender.settings.database_url,
            registry.url,
            TOKEN,
            clock().isoformat(),
            str(made),
            stage,
            when,
        ]
        ended = subprocess.run(
            [sys.executable, str(Path(__file__).with_name("dying.py")), *asked],
            cwd=ROOT,
            check=False,
        )
        assert ended.returncode == -9, (stage, when)
        sound(sender, number)
        assert bring_on(sender, made, clock) == "done", (stage, when)
        sound(sender, number)
        assert len(registry.live.returns) == returns + 1, (stage, when)
        opened = open_submission(sender, number)
        got = {
            record
            for record, row in opened.rows.items()
            if row["MARINER"] and not sent[record]["MARINER"]
        }
        assert got, (stage, when)
        with sender.database.transaction() as connection:
            last = store.list_rounds(connection, number)[-1]
            (change_set,) = [
                row[0]
                for row in connection.rows(
                    "SELECT id FROM change_set WHERE intake_id = %s", (last.intake_id,)
                )
            ]
        _, roster = open_roster(sender, "cadets")
        assert int((roster.columns["mariner_number"].codes < 0).sum()) == lacking - len(got)
        take_back(sender, change_set, None)


def test_the_worker_brings_it_on(sender, registry, ship, clock):
    """Jobs bring a round on by themselves, with patience; two claims at one moment are one."""
    number = ship()
    made = build_round(sender, number, None, uuid.uuid4().hex)
    assert queue_rounds(sender) == 1
    assert queue_rounds(sender) == 0
    for _ in range(200):
        while run_one(sender, "w"):
            pass
        with sender.database.transaction() as connection:
            if store.get_round(connection, made).state == "done":
                break
        clock.at += timedelta(seconds=90)
        queue_rounds(sender)
    assert open_submission(sender, number).tally.not_sent == 0
    assert len(registry.live.returns) == 1


def test_two_workers_on_one_round(sender, registry, ship):
    """One worker waits for the authority while another brings the round to its end: the first
    puts nothing back.
    """
    number = ship()
    made = build_round(sender, number, None, uuid.uuid4().hex)
    registry.tell(slow=0.3)
    states: list[str] = []

    def work() -> None:
        for _ in range(100):
            states.append(advance(sender, made))
            if states[-1] == "done":
                return
            threading.Event().wait(0.05)

    workers = [threading.Thread(target=work) for _ in range(3)]
    for one in workers:
        one.start()
    for one in workers:
        one.join()
    assert states.count("done") == 3
    sound(sender, number)
    assert len(registry.live.returns) == 1
    opened = open_submission(sender, number)
    assert (opened.tally.not_sent, len(opened.lines)) == (0, opened.tally.records)


def test_by_hand(sender, ship, made):
    """Without an interface: the round as a file, its answer brought back; what is no answer to
    it is refused.
    """
    context = replace(sender, settings=replace(sender.settings, registry_url=""))
    number = ship()
    one = build_round(context, number, None, uuid.uuid4().hex, by_hand=True)
    opened = open_submission(context, number)
    lines = write_body(context, one, "csv").decode("utf-8-sig").splitlines()
    assert len(lines) == 1 + opened.tally.records
    with pytest.raises(WrongAnswer, match="something else"):
        bring_answer(context, one, b"REF,OUTCOME\nTQ0000000,accepted\n", None)
    with pytest.raises(WrongAnswer, match="columns"):
        bring_answer(context, one, b"nothing", None)
    refs = [line.split(",")[0] for line in lines[1:]]
    answer = (
        "REF,OUTCOME,NUMBER,RULES\n"
        + f"{refs[0]},rejected,,E4 Y1 Z0\n"
        + "".join(f"{ref},accepted,,\n" for ref in refs[2:])
    )
    # one of them is not spoken of
    assert bring_answer(context, one, answer.encode(), None) == "byhand"
    assert end_by_hand(context, one, None) == "done"
    opened = open_submission(context, number)
    assert (opened.tally.rejected, opened.tally.ready, opened.tally.accepted) == (
        1,
        1,
        len(refs) - 2,
    )
    assert list(opened.rejected()) == ["E4"]
