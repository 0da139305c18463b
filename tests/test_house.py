"""The house: which way imports go, what modules say they export, what the docs mention."""

from __future__ import annotations

import ast
import importlib
import json
import pkgutil
import re
import tomllib
from dataclasses import fields
from pathlib import Path

import click
import pytest

import nevefield
from nevefield.cli.main import commands
from nevefield.core.checking.catalog import DECLARED
from nevefield.core.defining import reading
from nevefield.settings import PREFIX, Settings
from nevefield.web.app import openapi_document
from tests.conftest import ROOT

SOURCE = ROOT / "src" / "nevefield"
# Each layer and those below it that it may import from; itself is always allowed.
BELOW = {
    "core": set(),
    "settings": set(),
    "logs": set(),
    "timing": set(),
    "store": {"core"},
    "unanswered": set(),
    "authority": {"unanswered"},
    "destinations": {"unanswered"},
    "posting": set(),
    "letters": {
        "accounts",
        "cards",
        "core",
        "context",
        "destinations",
        "intakes",
        "mailing",
        "passing_on",
        "proposals",
        "rosters",
        "setup",
        "store",
    },
    "mailing": {"accounts", "core", "context", "posting", "rosters", "store"},
    "readers": {"core"},
    "context": {"readers", "settings", "store"},
    "accounts": {
        "cards",
        "context",
        "intakes",
        "letters",
        "passing_on",
        "rosters",
        "store",
        "submissions",
    },
    "setup": {"core", "context", "store"},
    "rosters": {"core", "context", "store"},
    "intakes": {"core", "context", "rosters", "store", "timing"},
    "proposals": {"core", "context", "intakes", "rosters", "store"},
    "groups": {"core", "context", "intakes", "proposals", "rosters", "store"},
    "submissions": {"authority", "core", "context", "intakes", "proposals", "rosters", "store"},
    "openings": {"core", "context", "intakes", "rosters", "store"},
    "cards": {"core", "context", "rosters", "store"},
    "passing_on": {"core", "context", "destinations", "rosters", "store"},
    "asked": {
        "core",
        "context",
        "destinations",
        "intakes",
        "passing_on",
        "proposals",
        "rosters",
        "store",
    },
    "keeping": {"copies", "core", "context", "intakes", "rosters", "store"},
    "desk": {"cards", "core", "context", "passing_on", "rosters", "store", "submissions"},
    "jobs": {
        "asked",
        "letters",
        "mailing",
        "core",
        "context",
        "destinations",
        "intakes",
        "keeping",
        "passing_on",
        "proposals",
        "rosters",
        "setup",
        "store",
        "submissions",
        "timing",
    },
    "practising": {"core", "context", "rosters", "setup", "store"},
    "copies": {"core", "context", "settings", "store"},
    "web": {
        "asked",
        "letters",
        "mailing",
        "authority",
        "core",
        "context",
        "settings",
        "logs",
        "accounts",
        "cards",
        "groups",
        "intakes",
        "proposals",
        "copies",
        "desk",
        "destinations",
        "keeping",
        "openings",
        "passing_on",
        "practising",
        "rosters",
        "setup",
        "submissions",
        "timing",
    },
    "cli": {
        "core",
        "context",
        "settings",
        "logs",
        "accounts",
        "intakes",
        "keeping",
        "practising",
        "rosters",
        "copies",
        "jobs",
        "mailing",
        "run",
        "setup",
        "store",
        "web",
    },
    "run": {
        "core",
        "context",
        "settings",
        "logs",
        "accounts",
        "cards",
        "copies",
        "intakes",
        "mailing",
        "passing_on",
        "practising",
        "rosters",
        "store",
        "submissions",
        "timing",
    },
}
FORBIDDEN_IN_CORE = {
    "flask",
    "pymysql",
    "werkzeug",
    "socket",
    "subprocess",
    "random",
    "secrets",
    "uuid",
    "time",
    "os",
    "pathlib",
}


def test_pages_never_look_whole():
    """What is shown is loaded as it may be seen: neither routes nor their answers cover, or look
    past, what is kept.
    """
    for path in (SOURCE / "web").rglob("*.py"):
        text = path.read_text()
        assert ".whole()" not in text, path.name
        assert [
            one for one in ("cover_snapshot", "cover_values", "cover_evaluation") if one in text
        ] == [], path.name


def modules() -> list[str]:
    return [one.name for one in pkgutil.walk_packages(nevefield.__path__, "nevefield.")]


def imports(path: Path) -> set[str]:
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {one.name for one in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module:
            found.add(node.module)
    return found


def test_imports_go_one_way():
    """No layer imports from one above it, and the core from nothing but itself and libraries
    without a world outside.
    """
    wrong = []
    for path in SOURCE.rglob("*.py"):
        parts = path.relative_to(SOURCE).with_suffix("").parts
        if len(parts) == 1 and parts[0] == "__init__":
            continue
        layer = parts[0]
        for name in imports(path):
            if name.startswith("nevefield."):
                other = name.split(".")[1]
                if other not in BELOW[layer] | {layer}:
                    wrong.append(f"{layer}: {path.name} imports {name}")
            elif layer == "core" and name.split(".")[0] in FORBIDDEN_IN_CORE:
                wrong.append(f"core: {path.name} imports {name}")
    assert wrong == []


def imports_of(path: Path) -> set[str]:
    """The modules of ours that a module imports, for types too."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.ImportFrom) and node.module and node.module.startswith("nevefield"):
            found |= {f"{node.module}.{one.name}" for one in node.names} | {node.module}
    return found


def test_no_circles():
    """No module leads back to itself by what it imports, for types too: a newcomer can read from
    the ground up.
    """
    names = {
        "nevefield." + ".".join(path.relative_to(SOURCE).with_suffix("").parts): path
        for path in SOURCE.rglob("*.py")
    }
    leads = {name: imports_of(path) & (names.keys() - {name}) for name, path in names.items()}
    while free := {name for name, others in leads.items() if not others & leads.keys()}:
        for name in free:
            del leads[name]
    assert leads == {}, "these go round, or lead to such: " + ", ".join(sorted(leads))


@pytest.mark.parametrize("name", modules())
def test_exports_are_there(name):
    """Every module lists its public names, and each of them is in it."""
    module = importlib.import_module(name)
    assert isinstance(module.__all__, list)
    assert module.__doc__
    assert all(hasattr(module, one) for one in module.__all__)


def test_sql_is_in_the_store():
    """No module outside the store has a statement of SQL."""
    verbs = ("SELECT ", "INSERT ", "UPDATE ", "DELETE FROM", "ALTER ", "CREATE TABLE")
    for path in SOURCE.rglob("*.py"):
        if path.is_relative_to(SOURCE / "store") or path == SOURCE / "run" / "server.py":
            continue
        for node in ast.walk(ast.parse(path.read_text())):
            if isinstance(node, ast.Constant) and isinstance(node.value, str):
                assert not node.value.startswith(verbs), (path, node.value)


def doc(name: str) -> str:
    return (ROOT / "docs" / name).read_text()


def test_docs_name_every_option():
    """Every command and option stands in the docs."""
    text = doc("command-line.md")

    def walk(command: click.Command, name: str) -> None:
        assert f"nevefield {name}" in text, name
        for parameter in command.params:
            if isinstance(parameter, click.Option):
                assert parameter.opts[0] in text, (name, parameter.opts)
        if isinstance(command, click.Group):
            for sub, one in command.commands.items():
                walk(one, f"{name} {sub}")

    for name, command in commands.commands.items():
        walk(command, name)


def test_docs_name_every_setting():
    """Every variable that settings are read from stands in the docs."""
    text = doc("settings.md")
    for setting in fields(Settings):
        assert f"`{PREFIX}{setting.name.upper()}`" in text, setting.name
        if setting.default and not isinstance(setting.default, bool):
            assert f"| {setting.default} |" in text, setting.name


def test_docs_name_every_property():
    """Every property of a definition, and every check, stands in the docs."""
    text = doc("definition.md")
    for name in (
        *reading.CONSTRAINTS,
        *reading.FIELD_OWN,
        *reading.ROSTER_OWN,
        *reading.IDENTIFIER_OWN,
        *reading.TYPES,
    ):
        assert f"`{name}`" in text, name
    checks = doc("checks.md")
    assert all(f"`{name}`" in checks for name in DECLARED)


def test_docstrings_name_their_parameters():
    """What a docstring says of a parameter is said of one that there is."""
    lost = []
    for path in SOURCE.rglob("*.py"):
        for node in ast.walk(ast.parse(path.read_text())):
            if not isinstance(node, ast.FunctionDef | ast.ClassDef):
                continue
            makes = [one for one in node.body if getattr(one, "name", "") == "__init__"]
            of = node if isinstance(node, ast.FunctionDef) else next(iter(makes), None)
            if not isinstance(of, ast.FunctionDef):
                continue
            block = re.search(r"^Args:\n((?: {4}.*\n|\n)*)", f"{ast.get_docstring(node)}\n", re.M)
            named = re.findall(r"^ {4}\*{0,2}(\w+):", block[1], re.M) if block else []
            given = {one.arg for one in ast.walk(of.args) if isinstance(one, ast.arg)}
            lost += [(path.name, node.name, name) for name in named if name not in given]
    assert lost == []


def pages() -> list[Path]:
    """What is written for whoever works on the product."""
    return [*ROOT.glob("*.md"), *(ROOT / "docs").rglob("*.md")]


@pytest.mark.parametrize("page", pages(), ids=lambda page: page.name)
def test_pages_name_files_that_are_there(page):
    """Every file that a page names in code letters is there, from the root, `src/nevefield` or its
    core; every page that a page leads to as well.
    """
    text = page.read_text()
    places = (ROOT, SOURCE, SOURCE / "core", ROOT / "frontend" / "src")
    named = re.findall(r"`([\w./-]+/[\w./-]+\.(?:py|md|ts|vue|css|sql|sh))(?:::\w+)?[`:]", text)
    lost = [name for name in named if not any((place / name).exists() for place in places)]
    linked = re.findall(r"\]\((?!https?:|#)([^)#]+)", text)
    lost += [name for name in linked if not (page.parent / name).exists()]
    assert lost == []


def test_one_version():
    """The version is one: of the package, the project, the front end and the last changes."""
    project = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]["version"]
    front_end = json.loads((ROOT / "frontend" / "package.json").read_text())["version"]
    (last, *_) = re.findall(r"^## (\S+), \d{4}-", (ROOT / "CHANGELOG.md").read_text(), re.M)
    assert {nevefield.__version__, project, front_end} == {last}


def test_api_document_is_current():
    """The OpenAPI document in the docs is the application's own."""
    assert json.loads(doc("openapi.json")) == json.loads(json.dumps(openapi_document()))


def test_shapes_have_names_of_their_own():
    """No two shapes of the API share a name: the later one would take the earlier one's place in
    its description.
    """
    names = [shape.name for shape in shapes()]
    assert len(names) > 200
    assert len(names) == len(set(names))


def test_shapes_say_what_they_are():
    """Every shape has a docstring, which the API's document shows."""
    assert [shape.name for shape in shapes() if not ast.get_docstring(shape)] == []
    described = openapi_document()["components"]["schemas"]
    assert described["IntakeOut"]["description"] == "An intake's overview."


def shapes() -> list[ast.ClassDef]:
    """The classes of the API's shapes."""
    files = [SOURCE / "web/common.py", *SOURCE.glob("web/*/shapes*.py")]
    bodies = [ast.parse(file.read_text()).body for file in files]
    return [node for body in bodies for node in body if isinstance(node, ast.ClassDef)]


def test_web_opens_no_transaction():
    """Routes and answers ask services: no SQL, no connection in them."""
    for path in (SOURCE / "web").rglob("*.py"):
        text = path.read_text()
        words = ("transaction(", "connection", "SELECT ")
        assert [word for word in words if word in text] == [], path.name


LINES = {"": 600, "web/": 400}  # of a module at most, by where it is
FUNCTION = 80  # lines
PARAMETERS = 7
# Programs whose parameters are the options of a command line.
COMMANDS = "cli/"
# where what has no type of its own gets a name
BORDERS = "core/borders.py"


def test_rooms_are_small():
    """Every line knows its room: no module is too long to be read at once, no function either, and
    none takes more than can be kept in mind.
    """
    found = []
    for path in SOURCE.rglob("*.py"):
        text, name = path.read_text(), str(path.relative_to(SOURCE))
        most = max((place for place in LINES if name.startswith(place)), key=len)
        if text.count("\n") > LINES[most]:
            found.append(f"{name} has {text.count(chr(10))} lines")
        for node in ast.walk(ast.parse(text)):
            if not isinstance(node, ast.FunctionDef):
                continue
            lines = (node.end_lineno or 0) - node.lineno + 1
            given = [*node.args.posonlyargs, *node.args.args, *node.args.kwonlyargs]
            takes = len([one for one in given if one.arg not in ("self", "cls")])
            if lines > FUNCTION:
                found.append(f"{name}: {node.name} is {lines} lines long")
            if takes > PARAMETERS and not name.startswith(COMMANDS):
                found.append(f"{name}: {node.name} takes {takes}")
    assert found == []


# The aim, and how many are over it still: fewer with every one that is touched.
FRONT = {"pages": (200, 11), "components": (120, 45)}


@pytest.mark.parametrize("where", FRONT)
def test_front_end_rooms_become_small(where):
    """Pages and components that are longer than the aim become fewer, never more."""
    aim, still = FRONT[where]
    long = [
        path.name
        for path in (ROOT / "frontend/src" / where).rglob("*.vue")
        if path.read_text().count("\n") > aim
    ]
    assert len(long) <= still, sorted(long)


def test_nothing_untyped_in_the_core():
    """What has no type of its own is named where it comes in; nothing else is untyped."""
    files = {
        str(path.relative_to(SOURCE))
        for path in (SOURCE / "core").rglob("*.py")
        if any(
            isinstance(node, ast.Name) and node.id == "Any"
            for node in ast.walk(ast.parse(path.read_text()))
        )
    }
    assert files == {BORDERS}


def test_patterns_are_of_the_whole_text():
    """Of a model's pattern the reader looks whether it is anywhere in a text: each is anchored."""
    loose = [
        f"{path.name}: {found}"
        for path in SOURCE.rglob("*.py")
        for found in re.findall(r'Field\([^)]*pattern=r?"([^"]*)"', path.read_text())
        if not (found.startswith("^") and found.endswith("$"))
    ]
    assert loose == []
