"""Files that the product gives: saved under any name, kept by nobody in between, safe in a
spreadsheet; and its pages.
"""

from __future__ import annotations

import csv
import io
import re
from urllib.parse import unquote

import pytest

from nevefield.context import Context
from nevefield.settings import Settings
from nevefield.store.connection import Database
from nevefield.web import create_app
from tests.conftest import ADMINISTERS, PREPARES

NAMES = ["Łódź – nabór.csv", "名簿 九月.csv", "İzmir\u202egpj.csv", "plain.csv"]


@pytest.mark.parametrize("name", NAMES)
def test_names_in_any_letters(browser, name):
    """The error sheet of a file of any name is given, under a name that says which file it was."""
    mine = browser(PREPARES)
    rows = b"Cadet number,Family name,Given names,Date of birth\nTQ0000017,Probe,Ann,2001-02-31\n"
    sent = mine.send(
        "POST", "/api/intakes", data={"file": (io.BytesIO(rows), name), "roster": "cadets"}
    )
    assert sent.status_code == 201, sent.json
    for kind in ("csv", "xlsx"):
        answer = mine.send("GET", f"/api/intakes/{sent.json['intake']}/errors?format={kind}")
        assert answer.status_code == 200
        said = answer.headers["Content-Disposition"]
        assert said.isascii()
        assert said.startswith("attachment; filename=")
        full = re.search(r"filename\*=UTF-8''([^;]+)$", said)
        given = unquote(full[1]) if full else said.partition("filename=")[2].strip('"')
        stem = re.sub(r"[^\w.-]+", "-", name.rsplit(".", 1)[0]).strip("-")
        assert stem.split("-")[0].casefold() in given.casefold()
        assert given.endswith(f"-errors.{kind}")
        assert answer.headers["Cache-Control"] == "no-store"


@pytest.mark.parametrize(
    "path",
    [
        "/api/desk",
        "/api/nothing",
        "/api/rosters/cadets/export?format=csv",
        "/api/rosters/cadets/export?format=xlsx",
        "/api/rosters/cadets/definition/document",
        "/api/rosters/cadets/request-sheet?format=csv",
        "/api/codes/diet/file",
    ],
)
def test_nothing_with_data_is_kept_on_its_way(browser, path):
    assert browser(ADMINISTERS).send("GET", path).headers["Cache-Control"] == "no-store"


def test_code_lists_are_safe_in_a_spreadsheet(browser):
    """A label that is a formula comes as a text; everything else as it is."""
    admin = browser(ADMINISTERS)
    before = admin.get("/api/codes/diet")
    evil = {"code": "ZZZ", "label": '=HYPERLINK("http://x.example","see")'}
    added = admin.send("POST", "/api/codes/diet/codes", json={**evil, "seen": before["version"]})
    assert added.status_code in (200, 201), added.json
    answer = admin.send("GET", "/api/codes/diet/file")
    rows = list(csv.DictReader(io.StringIO(answer.data.decode())))
    row = next(one for one in rows if one["code"] == "ZZZ")
    assert row["label"] == "'" + evil["label"]
    assert {one["code"]: one["label"] for one in rows if one["code"] != "ZZZ"} == {
        one["code"]: one["label"] for one in before["codes"]
    }


@pytest.fixture
def pages(tmp_path):
    """A product with two pages, and a file beside them that is nobody's business."""
    (tmp_path / "dist" / "assets").mkdir(parents=True)
    (tmp_path / "dist" / "index.html").write_text("the page")
    (tmp_path / "dist" / "assets" / "a-1.js").write_text("code")
    (tmp_path / "secret").write_text("not yours")
    settings = Settings(front_end=str(tmp_path / "dist"))
    return create_app(
        settings, Context(Database("mysql://nobody@127.0.0.1:1/none"), settings)
    ).test_client()


@pytest.mark.parametrize(
    "path",
    [
        "/..%2fsecret",
        "/%2e%2e/secret",
        "/assets/..%2f..%2fsecret",
        "/..%5csecret",
        "/%2fetc%2fpasswd",
        "/" + "x" * 300,
        "/a%00b",
        "/assets",
    ],
)
def test_no_address_tells_what_files_there_are(pages, path):
    """What climbs out of the folder, what is too long for a file's name, and what is nowhere are
    all the same page.
    """
    answer, nowhere = pages.get(path), pages.get("/no-such-place")
    assert (
        (answer.status_code, answer.data)
        == (nowhere.status_code, nowhere.data)
        == (200, b"the page")
    )


def test_without_pages_nothing_is_given_out(pages, tmp_path, monkeypatch):
    """Who names no directory of pages does not give out the one where the product was started."""
    monkeypatch.chdir(tmp_path)
    settings = Settings()
    bare = create_app(settings, Context(Database("mysql://nobody@127.0.0.1:1/none"), settings))
    for path in ("/secret", "/dist/index.html", "/"):
        answer = bare.test_client().get(path)
        assert (answer.status_code, b"not built" in answer.data) == (503, True)


def test_pages_are_there(pages):
    assert pages.get("/assets/a-1.js").data == b"code"
    assert "immutable" in pages.get("/assets/a-1.js").headers["Cache-Control"]
    assert pages.get("/").headers["Cache-Control"] == "no-cache"


@pytest.mark.parametrize(
    ("wanted", "sent"),
    [("br, gzip", "br"), ("gzip, deflate", "gzip"), ("br;q=0, gzip", "gzip"), ("", None)],
)
def test_pages_are_sent_as_small_as_can_be_read(pages, tmp_path, wanted, sent):
    """A browser gets what the build packed in the way that it can read, under the name and the type
    of what is in it.
    """
    assets = tmp_path / "dist" / "assets"
    (assets / "b-2.js").write_text("code " * 999)
    for ending, content in ((".br", b"smallest"), (".gz", b"small")):
        (assets / f"b-2.js{ending}").write_bytes(content)
    settings = Settings(front_end=str(tmp_path / "dist"))
    pages = create_app(
        settings, Context(Database("mysql://nobody@127.0.0.1:1/none"), settings)
    ).test_client()
    answer = pages.get("/assets/b-2.js", headers={"Accept-Encoding": wanted})
    assert answer.headers.get("Content-Encoding") == sent
    assert answer.data == {"br": b"smallest", "gzip": b"small", None: b"code " * 999}[sent]
    assert answer.mimetype == "text/javascript"
    assert "Accept-Encoding" in answer.headers["Vary"]
    assert "immutable" in answer.headers["Cache-Control"]
