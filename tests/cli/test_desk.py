"""The commands that work on the database."""

from __future__ import annotations

import json

import pytest
from click.testing import CliRunner

import nevefield.cli.desk as commands
from nevefield.cli import keepers
from nevefield.core.errors import CoreError
from nevefield.store.accounts import get_account


@pytest.fixture
def run(desk, monkeypatch):
    """Run a command on the desk's database."""
    for module in (commands, keepers):
        monkeypatch.setattr(module, "connect", lambda data: desk)

    def invoke(command, *arguments, status: int = 0):
        done = CliRunner().invoke(command, [str(one) for one in arguments])
        if done.exception and not isinstance(done.exception, SystemExit):
            raise done.exception
        assert done.exit_code == status, done.output
        return done

    return invoke


def test_intake_applies_what_is_clean(run, made, truth):
    """`intake --apply-clean` applies the rows that nothing stops, and says the change set."""
    done = run(
        commands.intake,
        made / "september-joiners.xlsx",
        "--roster",
        "cadets",
        "--apply-clean",
        "--json",
        status=1,
    )
    answer = json.loads(done.stdout)
    assert answer["tally"] == truth["tally"]
    assert answer["change_set"]
    exported = json.loads(run(commands.export, "--roster", "cadets", "--format", "json").stdout)
    assert len(exported["records"]) == 1240 + truth["tally"]["new"]


def test_export_goes_back_in_as_same(run, made, tmp_path):
    """What is exported comes back as an intake in which every row is the same."""
    run(commands.export, "--roster", "cadets", "--output", tmp_path / "cadets.csv")
    done = run(commands.intake, tmp_path / "cadets.csv", "--roster", "cadets", "--json")
    tally = json.loads(done.stdout)["tally"]
    assert (tally["read"], tally["same"] + tally["waiting"]) == (1240, 1240)


def test_account_is_added(run, desk, monkeypatch):
    """`account add` adds the first real account with a password from the environment, never a
    short one.
    """
    monkeypatch.setenv("NEVEFIELD_PASSWORD", "a long enough one")
    run(
        keepers.account,
        "add",
        "petrel",
        "--title",
        "P. Etrel",
        "--level",
        "prepare",
        "--roster",
        "staff=approve",
    )
    with desk.database.transaction() as connection:
        assert get_account(connection, "petrel").name == "P. Etrel"
    assert "petrel" in run(keepers.account, "list").stdout
    monkeypatch.setenv("NEVEFIELD_PASSWORD", "short")
    with pytest.raises(CoreError, match="too short"):
        run(keepers.account, "add", "tern")
    with pytest.raises(CoreError, match="NAME=LEVEL"):
        run(keepers.account, "add", "tern", "--roster", "staff=king")


def test_wrong_roster_is_one_line(run, made):
    """A roster that is not there is said in a sentence."""
    with pytest.raises(CoreError, match="no roster “cadet”"):
        run(commands.intake, made / "september-joiners.xlsx", "--roster", "cadet")
    with pytest.raises(CoreError, match="no roster “cadet”"):
        run(commands.export, "--roster", "cadet")


def test_roster_is_opened(run, desk, tmp_path):
    """A roster is opened with its definition and code lists, once, and takes a file in at once."""
    (tmp_path / "codes.csv").write_text("list,code,label\nrank,A,Able\n")
    document = {
        "name": "crew",
        "primaryKey": "no",
        "fields": ["no", {"name": "rank", "nevefield": {"codeList": "rank"}}],
    }
    (tmp_path / "crew.json").write_text(json.dumps(document))
    (tmp_path / "crew.csv").write_text("no,rank\n1,A\n2,B\n")
    with pytest.raises(CoreError, match="rank"):
        run(commands.roster, "open", tmp_path / "crew.json")
    run(commands.roster, "open", tmp_path / "crew.json", "--codes", tmp_path / "codes.csv")
    answer = json.loads(
        run(
            commands.intake,
            tmp_path / "crew.csv",
            "--roster",
            "crew",
            "--apply-clean",
            "--json",
            status=1,
        ).stdout
    )
    assert (answer["tally"]["new"], answer["tally"]["stopped"]) == (1, 1)
    with pytest.raises(CoreError, match="already"):
        run(commands.roster, "open", tmp_path / "crew.json")
