"""Who is who in a real browser: rows without numbers told apart by keyboard, limits tried,
decisions undone.
"""

from __future__ import annotations

import json
import re

from playwright.sync_api import expect

from tests.browser.conftest import drop, pick, sign_in, tally
from tests.conftest import PREPARES


def decide(page, key: str) -> None:
    """Decide by a key; where several come into question it marks one, and Enter decides."""
    several = page.get_by_role("button", name=re.compile(r"^Is \d")).count() > 1
    page.keyboard.press(key)
    if several:
        marked = page.get_by_role("button", name=re.compile("Enter$"))
        expect(marked).to_have_count(1)
        expect(marked).to_be_focused()
        page.keyboard.press("Enter")


def test_told_apart_by_keys(page, made):
    """The regatta's list: everybody whom something tells is known, the rest is decided by single
    keys, and each can be undone.
    """
    truth = json.loads((made / "regatta-crew.truth.json").read_text())
    sign_in(page, PREPARES)
    drop(page, made / "regatta-crew.csv")
    page.get_by_role("link", name=re.compile("^People")).click()
    known = sum(
        number is not None and int(line) not in truth["asked"]
        for line, number in truth["people"].items()
    )
    expect(
        page.get_by_text(f"{len(truth['asked'])} rows could be somebody whom you already have")
    ).to_be_visible()
    expect(page.get_by_text(f"{known} by likeness")).to_be_visible()
    before = tally(page)
    kinds = {int(line): kind for line, kind in truth["kinds"].items()}
    twin = next(line for line, kind in kinds.items() if kind == "twin")
    page.get_by_role("button", name=re.compile(rf"line {twin}\b")).click()
    expect(page.get_by_text("a twin is likely")).to_be_visible()
    decide(page, "n")
    expect(page.get_by_text("3 rows could be")).to_be_visible()
    page.keyboard.press("z")
    expect(page.get_by_text("4 rows could be")).to_be_visible()
    page.get_by_role("button", name=re.compile(rf"line {twin}\b")).click()
    expect(page.get_by_role("heading", name=f"Who is line {twin}?")).to_be_visible()
    decide(page, "n")
    expect(page.get_by_text("3 rows could be")).to_be_visible()
    # The two rows of one person: one is kept, and is then known by itself.
    first, second = (line for line, kind in kinds.items() if kind == "two rows of one")
    page.get_by_role("button", name=re.compile(rf"line {first} and {second}\b")).click()
    page.get_by_role("button", name=f"One person: keep line {first}").click()
    expect(page.get_by_text("1 row could be")).to_be_visible()
    expect(page.get_by_text(f"{known + 1} by likeness")).to_be_visible()
    parent = next(line for line, kind in kinds.items() if kind == "namesake at one address")
    page.get_by_role("button", name=re.compile(rf"line {parent}\b")).click()
    expect(page.get_by_text("a parent, a child or a namesake is likely")).to_be_visible()
    decide(page, "1")
    expect(page.get_by_text("Nobody is left to tell apart")).to_be_visible()
    after = tally(page)
    assert after["left_out"] == 1
    assert after["read"] == before["read"] == truth["rows"]


def test_limits_are_tried_first(page, made):
    """Other limits say what they would decide before they are set."""
    sign_in(page, PREPARES)
    drop(page, made / "regatta-crew.csv")
    page.get_by_role("link", name=re.compile("^People")).click()
    page.get_by_role("button", name="When to match automatically").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_text("18 rows known by likeness")).to_be_visible()
    dialog.get_by_label(re.compile("It is nobody")).fill("50")
    expect(dialog.get_by_text("3 rows left to you")).to_be_visible()
    dialog.get_by_role("button", name="Use these limits here").click()
    expect(page.get_by_text("3 rows could be somebody whom you already have")).to_be_visible()


def test_ticked_out_and_in_again(page, made):
    """On Changes a person is ticked out by a key, a field keeps what the roster has, and both
    can be changed back.
    """
    truth = json.loads((made / "cadets-full-autumn.truth.json").read_text())
    moved = len(truth["moved"])
    sign_in(page, PREPARES)
    drop(page, made / "cadets-full-autumn.csv")
    page.get_by_role("link", name=re.compile("^Changes")).click()
    page.get_by_role("button", name=re.compile("^Watch")).click()
    expect(page.get_by_role("heading", name=f"Watch: {moved} records change")).to_be_visible()
    page.keyboard.press("x")
    expect(page.get_by_role("heading", name=f"Watch: {moved - 1} records change")).to_be_visible()
    page.get_by_role("button", name="tick them in again").click()
    expect(page.get_by_role("heading", name=f"Watch: {moved} records change")).to_be_visible()
    pick(page.get_by_label("What becomes of it"), "keep the roster’s")
    expect(page.get_by_role("heading", name="Watch: 0 records change")).to_be_visible()
    pick(page.get_by_label("What becomes of it"), "take the file’s value, an empty cell empties")
    expect(page.get_by_role("heading", name=f"Watch: {moved} records change")).to_be_visible()
