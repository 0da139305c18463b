"""Codes where they are missed: an administrator adds one from the cause, who prepares cannot."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import drop, sign_in, tally
from tests.conftest import ADMINISTERS, APPROVES, PASSWORDS, PREPARES


def test_a_code_is_added_from_its_cause(page, tmp_path, made):
    """What no list has is put on it by keyboard, under its label where it is one; a code that is
    there is said to be.
    """
    numbers = [
        line.split(";")[0]
        for line in (made / "cadets-full-autumn.csv").read_text("latin-1").splitlines()[1:4]
    ]
    path = tmp_path / "ports.csv"
    ports = ["Ørsund an der unteren Hollinmündung", "HLX", "HLX"]
    path.write_text(
        "cadet_number,home_port\n"
        + "".join(f"{one},{port}\n" for one, port in zip(numbers, ports, strict=True))
    )
    sign_in(page, PREPARES)
    drop(page, path)
    expect(page.get_by_text("3 rows stopped by 2 causes")).to_be_visible()
    intake = page.url
    expect(page.get_by_role("button", name=re.compile("Hold")).first).to_be_visible()
    assert not page.get_by_role("button", name=re.compile("on the list")).is_visible()
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_label("Sign-in name")).to_be_visible()
    sign_in(page, ADMINISTERS)
    page.goto(intake)
    page.get_by_role("button", name=re.compile("“HLX” is not")).click()
    page.get_by_role("button", name="Put “HLX” on the list …").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("Code")).to_have_value("HLX")
    dialog.get_by_label("Code").fill("LRN")
    expect(dialog.get_by_text("LRN is in the list already")).to_be_visible()
    expect(dialog.get_by_role("button", name="Add LRN")).to_be_disabled()
    dialog.get_by_label("Code").fill("HLX")
    dialog.get_by_label("Label").fill("Hollin Cross")
    page.keyboard.press("Enter")
    expect(page.get_by_text("1 row stopped by 1 cause")).to_be_visible()
    page.get_by_role("button", name=re.compile("Put “Ørsund")).click()
    expect(dialog.get_by_label("Label")).to_have_value("Ørsund an der unteren Hollinmündung")
    expect(dialog.get_by_label("Code")).to_be_focused()
    page.keyboard.type("ORU")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Nothing stops a row.")).to_be_visible()
    assert tally(page).get("stopped", 0) == 0
    page.goto(page.url.split("/intakes")[0] + "/codes/home_port")
    expect(page.get_by_label("Label of HLX")).to_have_value("Hollin Cross")
    expect(page.get_by_label("Label of ORU")).to_have_value("Ørsund an der unteren Hollinmündung")


def test_what_is_written_is_not_lost(page, site):
    """What was altered in a list is there after a reload and after the session ended; who leaves is
    asked, also on the way to another list; who says so leaves it.
    """
    sign_in(page, ADMINISTERS)
    page.goto("/codes/department")
    label = page.get_by_label(re.compile("^Label of ")).first
    expect(label).to_be_visible()
    before = label.input_value()
    label.fill("Bridge and Deck")
    page.reload()
    expect(label).to_have_value("Bridge and Deck")
    expect(page.get_by_text("Your changes from before are here again")).to_be_visible()

    asked = page.get_by_role("dialog", name="Not everything is saved")
    lists = page.get_by_role("navigation", name="Code lists")
    for way in (
        lists.get_by_role("link", name=re.compile("^Home port")),
        page.get_by_role("link", name="Desk"),
    ):
        way.click()
        expect(asked).to_be_visible()
        expect(asked.get_by_role("button", name="Stay here")).to_be_focused()
        page.keyboard.press("Enter")
        expect(asked).not_to_be_visible()
        expect(label).to_have_value("Bridge and Deck")

    page.context.clear_cookies()
    page.get_by_role("button", name="Keep changes").click()
    page.get_by_label("Sign-in name").fill(ADMINISTERS)
    page.get_by_label("Password").fill(PASSWORDS[ADMINISTERS])
    page.get_by_role("button", name="Sign in").click()
    expect(label).to_have_value("Bridge and Deck")

    lists.get_by_role("link", name=re.compile("^Home port")).click()
    asked.get_by_role("button", name="Leave without saving").click()
    expect(page.get_by_role("heading", name="Home port")).to_be_visible()
    lists.get_by_role("link", name=re.compile("^Department")).click()
    expect(label).to_have_value(before)


def test_what_is_written_is_nobody_elses(page, site):
    """Whoever signs in after somebody else at the same window finds the list as it is kept."""
    sign_in(page, ADMINISTERS)
    page.goto("/codes/department")
    label = page.get_by_label(re.compile("^Label of ")).first
    expect(label).to_be_visible()
    before = label.input_value()
    label.fill("Bridge and Deck")
    page.context.clear_cookies()
    page.get_by_role("button", name="Keep changes").click()
    page.get_by_label("Sign-in name").fill(APPROVES)
    page.get_by_label("Password").fill(PASSWORDS[APPROVES])
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("heading", name="Department")).to_be_visible()
    expect(page.get_by_label(re.compile("^Label of "))).to_have_count(0)
    expect(page.get_by_role("cell", name=before, exact=True)).to_be_visible()


def test_what_came_between_is_not_written_over(page, other, site):
    """Who comes back to what they were writing meets what somebody else kept meanwhile: nothing of
    it is lost when theirs is kept after all.
    """
    sign_in(page, ADMINISTERS)
    page.goto("/codes/contract")
    label = page.get_by_label(re.compile("^Label of ")).first
    expect(label).to_be_visible()
    had = label.input_value()
    label.fill("Für länger")
    sign_in(other, ADMINISTERS)
    other.goto("/codes/contract")
    other.get_by_role("button", name="Add a code").click()
    other.get_by_label("Code", exact=True).last.fill("ÖRT")
    other.get_by_label("Label of ÖRT").fill("Örtlich")
    other.get_by_role("button", name="Keep changes").click()
    expect(other.get_by_text(re.compile("codes kept"))).to_be_visible()

    page.reload()
    expect(label).to_have_value("Für länger")
    expect(page.get_by_text("Somebody has changed the list meanwhile.")).to_be_visible()
    page.get_by_role("button", name="Keep changes").click()
    expect(page.get_by_role("alert")).to_contain_text("ÖRT added")
    page.get_by_role("button", name="Keep changes").click()
    expect(page.get_by_text(re.compile("codes kept"))).to_be_visible()
    other.reload()
    expect(other.get_by_label("Label of ÖRT")).to_have_value("Örtlich")
    theirs = other.get_by_label(re.compile("^Label of ")).first
    expect(theirs).to_have_value("Für länger")
    theirs.fill(had)  # files of other journeys say it by this name
    other.get_by_role("button", name="Keep changes").click()
    expect(other.get_by_text(re.compile("codes kept"))).to_be_visible()
