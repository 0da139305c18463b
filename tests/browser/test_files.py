"""Sample files in a real browser: dropped without a word, columns settled, sources named,
secrets not to be seen.
"""

from __future__ import annotations

import json
import re

import pytest
import re2
from playwright.sync_api import Page, expect

from tests.browser.conftest import drop, pick, picked, sign_in, tally
from tests.conftest import PREPARES

pytestmark = pytest.mark.browser
FILES = {
    "cadets-full-autumn.csv": "Cadets",
    "hr-staff-extract.csv": "Staff",
    "fellows-renewals.xls": "Fellows",
    "gate-dump.txt": "Gate passes",
}


def go(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="This intake").get_by_role(
        "link", name=re.compile(f"^{name}")
    ).click()


@pytest.mark.parametrize(("file", "roster"), FILES.items())
def test_dropped_without_a_word(page, made, file, roster):
    """Each file finds its roster, and its tally is the truth's; the autumn file claims everybody
    by one choice.
    """
    truth = json.loads((made / f"{file.rsplit('.', 1)[0]}.truth.json").read_text())
    sign_in(page, PREPARES)
    drop(page, made / file)
    expect(page.get_by_role("heading", name=re.compile(f"→ {roster}$"))).to_be_visible()
    if truth["coverage"] == "everybody":
        go(page, "File")
        pick(page.get_by_label("What the file claims to be"), f"everybody in {roster}")
        expect(page.get_by_text("The file claims to be")).to_be_visible()
        expect(
            page.get_by_role("button", name=f"{truth['tally']['absent']} absent")
        ).to_be_visible()
    expected = {
        name: number for name, number in truth["tally"].items() if number or name == "absent"
    }
    assert tally(page) == expected


def test_columns_are_settled(page, made):
    """The door system's columns, known by their values, are confirmed at once; the step is
    undone by one key.
    """
    sign_in(page, PREPARES)
    drop(page, made / "gate-dump.txt")
    go(page, "Columns")
    expect(page.get_by_text("7 columns not certain.")).to_be_visible()
    page.get_by_role("button", name="They are all right").click()
    expect(page.get_by_text("7 columns not certain.")).not_to_be_visible()
    expect(picked(page.get_by_label("Field for Column 2"))).to_have_text("Card number")
    page.locator("body").press("z")
    expect(page.get_by_text("7 columns not certain.")).to_be_visible()


def test_value_is_composed(page, made):
    """A sign-in name is composed with examples to see first, and is made no more by one click."""
    sign_in(page, PREPARES)
    drop(page, made / "fellows-renewals.xls")
    go(page, "Columns")
    strip = page.locator(".strip", has_text="Town")
    strip.get_by_role("button", name="Compose it").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_text(re.compile(r"\d+ values?, \d+ made unique"))).to_be_visible()
    expect(dialog.locator(".preview li")).to_have_count(5)
    dialog.get_by_role("button", name="Compose Town").click()
    expect(strip.get_by_text("composed", exact=True)).to_be_visible()
    strip.get_by_role("button", name="Compose no more").click()
    expect(strip.get_by_text("nothing in the file")).to_be_visible()


def test_source_is_known(page, made):
    """The September file is known as Admissions'; forgetting that is one click."""
    sign_in(page, PREPARES)
    drop(page, made / "september-joiners.xlsx")
    expect(page.get_by_text(re.compile("from Admissions, as learnt on"))).to_be_visible()
    go(page, "File")
    forget_it, is_it = (
        page.get_by_role("button", name=name)
        for name in ("Forget what was learnt", "It is from Admissions")
    )
    expect(forget_it.or_(is_it)).to_be_visible()
    if is_it.count():  # a guess by likeness, until somebody says so
        is_it.click()
    forget_it.click()
    expect(page.get_by_text("What is decided here is remembered for its next file")).to_be_visible()
    page.goto("/sources")
    page.get_by_role("link", name=re.compile("^Admissions")).click()
    expect(page.get_by_text("“Course” goes to Programme")).to_be_visible()


def test_secrets_are_not_to_be_seen(page, made, kept):
    """No password of the staff file is on any page of its intake, or in any file of the server;
    that it had some is said.
    """
    passwords = json.loads((made / "hr-staff-extract.truth.json").read_text())["passwords"]
    sign_in(page, PREPARES)
    drop(page, made / "hr-staff-extract.csv")
    for name in ("File", "Columns", "Problems", "Changes"):
        go(page, name)
        page.wait_for_load_state("networkidle")
        content = page.content()
        assert [one for one in passwords if one in content] == [], name
    go(page, "File")
    expect(page.get_by_text("The column “password” looks like a secret")).to_be_visible()
    written = [path for path in kept.rglob("*") if path.is_file()]
    assert {"log"} < {path.name for path in written}
    any_of_them = re2.compile("|".join(map(re2.escape, passwords)).encode())
    assert any_of_them.search(f"x{passwords[-1]}x".encode())
    for path in written:
        assert any_of_them.search(path.read_bytes()) is None, path.name


def test_rehearsal(page, made):
    """A rehearsal on a sample says what would become of its rows."""
    sign_in(page, PREPARES)
    drop(page, made / "september-joiners.xlsx")
    go(page, "Columns")
    page.get_by_role("link", name="Rehearse").click()
    expect(page.locator(".rows > li")).to_have_count(5)
    pick(page.get_by_label("Which rows are rehearsed"), "one row for every code and cause")
    expect(page.get_by_text("is stopped").first).to_be_visible()
    expect(page.get_by_text("Nothing of it is stored in the roster.")).to_be_visible()
