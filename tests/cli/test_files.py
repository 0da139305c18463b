"""The commands that need no database, as people's scripts see them: shapes, exit status, one
plain line.
"""

from __future__ import annotations

import json
import re
import subprocess
import sys
from pathlib import Path

import pytest

from nevefield.core.people.recognising import DECISIONS
from tests.conftest import ROOT
from tests.data.openings.offices import library_cards

PROGRAM = Path(sys.executable).with_name("nevefield")


def run(*arguments, status: int = 0):
    """Run a command and return its JSON, or its line on stderr when it gave up."""
    done = subprocess.run([PROGRAM, *map(str, arguments)], capture_output=True, check=False)
    assert done.returncode == status, done.stderr.decode()
    if status == 2:
        assert done.stdout == b""
        said = done.stderr.decode()
        assert said.count("\n") == 1
        assert said.startswith("nevefield: ")
        return said
    return json.loads(done.stdout.decode())


@pytest.fixture(scope="module")
def world(made, tmp_path_factory):
    """Definition, codes and the roster as files."""
    place = tmp_path_factory.mktemp("files")
    content = json.loads((made / "roster-cadets.json").read_text())
    (place / "cadets.json").write_text(json.dumps(content["definition"]))
    fields = [one["name"] for one in content["definition"]["fields"]]
    rows = [
        [
            ";".join(value) if isinstance(value := one.get(name, ""), list) else value
            for name in fields
        ]
        for one in content["records"]
    ]
    lines = [",".join(fields), *(",".join(f'"{value}"' for value in row) for row in rows)]
    (place / "roster.csv").write_text("\n".join(lines) + "\n")
    return place, [
        "--definition",
        place / "cadets.json",
        "--codes",
        made / "codes.csv",
        "--today",
        "2026-09-01",
    ]


@pytest.mark.parametrize("kind", ["xlsx", "csv"])
def test_check_finds_the_truth(made, world, truth, kind):
    """`check` finds every planted problem and no other, with the outcomes, people and changes
    that are true.
    """
    place, options = world
    answer = run(
        "check",
        made / f"september-joiners.{kind}",
        *options,
        "--against",
        place / "roster.csv",
        "--json",
        status=1,
    )
    found = {
        (one["line"], one["field"], one["check"], one["weight"])
        for one in answer["findings"]
        if one["weight"] != "note"
    }
    assert found == {
        (one["line"], one["field"], one["check"], one["weight"]) for one in truth["planted"]
    }
    assert {str(one["line"]): one["outcome"] for one in answer["rows"]} == truth["outcomes"]
    assert answer["tally"] == truth["tally"]
    known = [one for one in answer["people"] if one["decision"] == "key"]
    assert [(one["line"], one["record"]) for one in known] == [
        (line, truth["people"][str(line)]) for line in truth["known"]
    ]
    assert {one["line"] for one in answer["changes"]} == {
        int(line) for line, one in truth["outcomes"].items() if one == "changed"
    }
    causes = {one["id"] for one in answer["causes"]}
    assert all(one["cause"] in causes for one in answer["findings"])
    assert next(one for one in answer["columns"] if one["heading"] == "Portal PIN")["field"] is None
    assert answer["reading"]["header_line"] == truth["header_line"]


def test_inspect_keeps_lines(tmp_path):
    """`inspect` gives the file's own lines and untrimmed texts, and says what is not data."""
    (tmp_path / "x.csv").write_bytes(
        b'Notes\r\n\r\nName;Town\r\n"Ines\r\nMarie"; Dunsea \r\n\r\nTove;\r\nTOTAL;2\r\n'
    )
    answer = run("inspect", tmp_path / "x.csv", "--rows", "all", "--json")
    assert answer["columns"] == ["Name", "Town"]
    assert answer["rows"] == [
        {"line": 4, "values": ["Ines\r\nMarie", " Dunsea "]},
        {"line": 7, "values": ["Tove", ""]},
    ]
    assert answer["not_data"] == [
        {"line": 1, "kind": "note"},
        {"line": 2, "kind": "blank"},
        {"line": 3, "kind": "header"},
        {"line": 6, "kind": "blank"},
        {"line": 8, "kind": "total"},
    ]
    assert {
        name: answer["reading"][name]
        for name in ("type", "encoding", "separator", "sheet", "header_line")
    } == {
        "type": "csv",
        "encoding": "utf-8",
        "separator": ";",
        "sheet": None,
        "header_line": 3,
    }


def test_inspect_shows_as_many_as_asked(made):
    """`--rows` limits what is shown; secrets are shown by it neither."""
    answer = run("inspect", made / "september-joiners.xlsx", "--rows", 3, "--json")
    assert [one["line"] for one in answer["rows"]] == [6, 7, 8]
    place = answer["columns"].index("Portal PIN")
    assert {one["values"][place] for one in answer["rows"]} == {""}


def test_check_without_definition(tmp_path):
    """Without a definition one is proposed, and that is said."""
    (tmp_path / "x.csv").write_text("No,Name\n1,Ines\n2,Tove\n")
    answer = run("check", tmp_path / "x.csv", "--json")
    assert answer["tally"]["new"] == 2
    assert any("proposed" in remark for remark in answer["reading"]["remarks"])


def test_check_everybody(tmp_path):
    """With coverage of everybody, records that no row is are absent; by default none is."""
    (tmp_path / "d.json").write_text(
        json.dumps({"name": "x", "primaryKey": "no", "fields": ["no", "name"]})
    )
    (tmp_path / "new.csv").write_text("no,name\n1,Ines\n3,Una\n")
    (tmp_path / "old.csv").write_text("no,name\n1,Ines\n2,Tove\n")
    options = ["--definition", tmp_path / "d.json", "--against", tmp_path / "old.csv", "--json"]
    assert run("check", tmp_path / "new.csv", *options)["absent"] == []
    assert run("check", tmp_path / "new.csv", *options, "--coverage", "everybody")["absent"] == [
        "2"
    ]


def test_compare(tmp_path, world):
    """`compare` tells who joined, who is absent, and what changed by meaning."""
    fields = {
        "name": "x",
        "primaryKey": "no",
        "fields": [
            "no",
            "name",
            {"name": "born", "type": "date"},
            {"name": "port", "nevefield": {"several": ";"}},
        ],
    }
    (tmp_path / "d.json").write_text(json.dumps(fields))
    (tmp_path / "old.csv").write_text(
        "no,name,born,port\n1,Ines,2008-03-14,A;B\n2,Tove,2007-01-02,\n3,Una,2006-05-05,C\n"
    )
    (tmp_path / "new.csv").write_text(
        "port;born;name;no\nB;14.3.2008;Ines;1\nC; 5.5.2006;Una ;3\nD;1.1.2001;Kit;4\n"
    )
    answer = run(
        "compare",
        tmp_path / "old.csv",
        tmp_path / "new.csv",
        "--definition",
        tmp_path / "d.json",
        "--json",
    )
    assert answer == {
        "joined": ["4"],
        "absent": ["2"],
        "changes": [{"record": "1", "field": "port", "old": ["A", "B"], "new": "B"}],
        "same": 1,
    } | {"changes": [{"record": "1", "field": "port", "old": ["A", "B"], "new": ["B"]}]}


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "empty"),
        (b"\x89PNG\r\n\x1a\n", "picture"),
        (b"PK\x03\x04rubbish", "damaged"),
        (b"\xd0\xcf\x11\xe0\xa1\xb1\x1a\xe1" + b"\0" * 99, "damaged"),
    ],
)
def test_unreadable_is_status_two(tmp_path, content, said):
    """What cannot be read is status 2 with one plain line that names the file's fault."""
    (tmp_path / "x").write_bytes(content)
    for command in ("inspect", "check"):
        assert said in run(command, tmp_path / "x", "--json", status=2)


def test_wrong_use_is_status_two(tmp_path, made):
    """Wrong options, missing files and wrong definitions are status 2 with one line and the
    place.
    """
    file = made / "september-joiners.csv"
    (tmp_path / "d.json").write_text(
        json.dumps({"fields": [{"name": "a"}, {"name": "b", "nevefield": {"codeLst": "x"}}]})
    )
    (tmp_path / "e.json").write_text(
        json.dumps({"fields": [{"name": "a", "nevefield": {"codeList": "none"}}]})
    )
    (tmp_path / "f.json").write_text("{")
    assert "No such file" in run("inspect", tmp_path / "none.csv", status=2)
    assert "--rwos" in run("inspect", file, "--rwos", 3, status=2)
    assert "write it as 2026-09-01" in run("check", file, "--today", "1.9.2026", status=2)
    assert "fields[1].nevefield.codeLst: did you mean codeList?" in run(
        "check", file, "--definition", tmp_path / "d.json", status=2
    )
    assert "fields[0].nevefield.codeList" in run(
        "check", file, "--definition", tmp_path / "e.json", status=2
    )
    assert "no JSON" in run("check", file, "--definition", tmp_path / "f.json", status=2)


def words_of(block: str) -> set[str]:
    """The keys that a block of the page names; what stands for values is passed over."""
    return {word for word in re.findall(r'"([^"]+)"', block) if re.fullmatch(r"[a-z_]+", word)}


def keys_in(answer: object) -> set[str]:
    if isinstance(answer, dict):
        return {*answer, *(key for value in answer.values() for key in keys_in(value))}
    if isinstance(answer, list):
        return {key for value in answer for key in keys_in(value)}
    return set()


def test_the_page_says_what_comes(made, world, tmp_path):
    """`docs/command-line.md` names every key that `inspect`, `check` and `compare` answer with, and
    no other; and the decisions about people are those that it lists.
    """
    page = (ROOT / "docs" / "command-line.md").read_text()
    inspecting, checking = (words_of(block) for block in re.findall(r"```\n(.*?)```", page, re.S))
    place, options = world
    file = made / "september-joiners.xlsx"
    assert keys_in(run("inspect", file, "--json")) == inspecting
    against = ["--against", place / "roster.csv", "--json"]
    answer = run("check", file, *options, *against, status=1)
    # the reading's own keys stand in the block before
    reading = set(answer["reading"]) - {"reading"}
    assert keys_in(answer) - reading | {"reading"} == checking - reading
    decisions = {person["decision"] for person in answer["people"]}
    (listed,) = re.findall(r"`decision` is (.*?), and `candidates`", page)
    assert decisions <= set(re.findall(r"`(\w+)`", listed)) == set(DECISIONS)
    same = run("compare", place / "roster.csv", place / "roster.csv", *options[:4], "--json")
    (compared,) = re.findall(r"primary key: `(\{.*?\})`", page)
    assert keys_in(same) == words_of(compared)


STEERS = "\x1b]0;mine\x07\x1b[31m\u202e"


@pytest.mark.parametrize(
    ("command", "rows", "codes"),
    [
        ("inspect", f"no,name\n1,Ki{STEERS}t\n", ""),
        ("inspect", f"no,na{STEERS}me\n1,Kit\n", ""),
        ("check", f"no,name\n1,Ki{STEERS}t\n1,K{STEERS}\n", ""),
        ("check", f"no,na{STEERS}me\n1,Kit\n", ""),
        ("check", "no,name\n1,Kit\n", f"list,code,label\na,X{STEERS},x\na,X{STEERS},y\n"),
        ("check", "no,name\n1,Kit\n", f"list,co{STEERS}de,label\na,X,x\n"),
    ],
)
def test_no_file_steers_a_terminal(tmp_path, command, rows, codes):
    """Whatever a file or a code list holds, nothing of it acts where it is printed."""
    (tmp_path / "f.csv").write_text(rows)
    (tmp_path / "d.json").write_text(
        json.dumps({"name": "crew", "primaryKey": "no", "fields": ["no", "name"]})
    )
    (tmp_path / "c.csv").write_text(codes or "list,code,label\na,X,x\n")
    more = ["--definition", tmp_path / "d.json", "--codes", tmp_path / "c.csv"]
    done = subprocess.run(
        [PROGRAM, command, tmp_path / "f.csv", *(more if command == "check" else [])],
        capture_output=True,
        check=False,
    )
    for said in (done.stdout.decode(), done.stderr.decode()):
        assert not set(said) & {"\x1b", "\x07", "\u202e"}
    assert done.stdout or done.stderr


def test_propose_and_check_with_it(tmp_path):
    """What is proposed for a file reads that file: its definition and code lists, with what was
    seen of each column in order; a column of secrets becomes no field.
    """
    office = library_cards()
    path, codes = tmp_path / "Library cards 2026.csv", tmp_path / "codes.csv"
    path.write_bytes(office.data)
    day = ("--today", "2026-11-30", "--json")
    document = run("propose", path, "--codes-output", codes, *day)
    assert (document["name"], document["title"]) == ("library_cards", "Library cards")
    seen = document["nevefield"]["seen"]
    assert [one["column"] for one in seen] == [column.heading for column in office.columns]
    assert seen[-1]["field"] is None
    (tmp_path / "d.json").write_text(json.dumps(document))
    found = run(
        "check", path, "--definition", tmp_path / "d.json", "--codes", codes, *day, status=1
    )
    told = {one["line"] for one in found["findings"] if one["weight"] != "note"}
    wrong = {row + 2 for column in office.columns for row in column.wrong}
    assert wrong <= told
    assert len(told - wrong) <= 10
