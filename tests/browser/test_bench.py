"""The bench in a real browser: settled by keyboard in few presses, cells as in a spreadsheet,
two people at once.
"""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import drop, forget, sign_in, tally
from tests.conftest import APPROVES, PREPARES

pytestmark = pytest.mark.browser
MOST_PRESSES = 40


class Keyboard:
    """Presses keys and counts them."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.presses = 0

    def press(self, key: str) -> None:
        self.presses += 1
        self.page.keyboard.press(key)


def causes(page: Page):
    return page.get_by_role("region", name="Causes").get_by_role("article")


def settled(page: Page) -> None:
    expect(page.get_by_label("Tally")).to_have_attribute("aria-busy", "false")


def test_settled_by_keyboard(page, made):
    """From 28 stopped rows to none by keyboard alone, in under 40 presses: remedies by number,
    the rest held with a reason.
    """
    sign_in(page, APPROVES)
    drop(page, made / "september-joiners.xlsx")
    forget(page)
    expect(page.get_by_text("28 rows stopped by 11 causes")).to_be_visible()
    keyboard = Keyboard(page)
    while True:
        settled(page)
        stopped = tally(page).get("stopped", 0)
        if not stopped:
            break
        open_cause = page.locator("article.cause.on")
        expect(open_cause).to_have_count(1)
        before = causes(page).count()
        first = open_cause.get_by_role("button").nth(1)
        label = first.inner_text()
        keyboard.press("1" if re.match("Use|Keep|Swap", label) else "h")
        if not re.match("Use|Keep|Swap", label):
            expect(page.get_by_role("dialog").get_by_label("Reason")).to_be_focused()
            keyboard.press("1")
            keyboard.press("Enter")
            expect(page.get_by_role("dialog")).not_to_be_visible()
        expect(
            page.get_by_text(f"{stopped} row{'s' if stopped != 1 else ''} stopped by {before}")
        ).not_to_be_visible()
        settled(page)
        assert keyboard.presses < MOST_PRESSES, keyboard.presses
    assert "stopped" not in tally(page)
    expect(page.get_by_text("Nothing stops a row.")).to_be_visible()


def test_cells_as_in_a_spreadsheet(page, made):
    """A range is filled down from its top cell, pasted into from a spreadsheet, replaced in;
    each is one step.
    """
    sign_in(page, APPROVES)
    drop(page, made / "september-joiners.xlsx")
    forget(page)
    grid = page.get_by_role("grid", name="Rows")
    causes(page).filter(has_text="Home port spelt another way").get_by_role("button").first.click()
    expect(grid.get_by_role("row").filter(has_text="SKV")).to_have_count(5)
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Shift+ArrowDown")
    page.evaluate(
        """() => {
            const data = new DataTransfer()
            data.setData('text/plain', 'SKV\\nSkarvholm\\nTQY')
            document.dispatchEvent(new ClipboardEvent('paste', { clipboardData: data, bubbles: true, cancelable: true }))
        }"""  # noqa: E501
    )
    expect(grid.get_by_role("row").filter(has_text="SKV")).to_have_count(2)
    page.keyboard.press("z")
    expect(grid.get_by_role("row").filter(has_text="SKV")).to_have_count(5)
    page.keyboard.press("r")
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("Find")).to_be_focused()
    dialog.get_by_label("Find").fill("Skarv")
    dialog.get_by_label("Replace with").fill("SKV ")
    dialog.get_by_role("button", name="Replace").click()
    expect(page.get_by_text(re.compile(r"Replaced in \d cells; Z takes it back"))).to_be_visible()


def test_two_people_at_once(page, other, made):
    """Two browsers on one intake see each other's steps; two values for one cell are shown, and
    one is chosen.
    """
    sign_in(page, APPROVES)
    drop(page, made / "september-joiners.xlsx")
    forget(page)
    expect(page.get_by_text("28 rows stopped by 11 causes")).to_be_visible()
    sign_in(other, PREPARES)
    other.goto(page.url)
    causes(other).filter(has_text="Home port spelt another way").get_by_role(
        "button", name="Use SKV for 5"
    ).click()
    expect(page.get_by_text("Home port spelt another way")).not_to_be_visible()
    expect(page.get_by_text(re.compile("means SKV"))).to_be_visible()

    # Both edit the same cell: the second one is shown both values and chooses.
    link = page.url.split("?")[0] + "?line=44"
    for window in (page, other):
        window.goto(link)
        expect(window.get_by_label("The row in full")).to_contain_text("line 44")
    pulse = page.evaluate(
        f"fetch('/api/intakes/{page.url.split('/intakes/')[1].split('/')[0]}/pulse').then((one) =>"
        " one.json())"
    )
    # this window hears nothing new for a while
    page.route("**/pulse", lambda route: route.fulfill(json=pulse))
    _set_phone(other, "+44 7700 900111")
    expect(other.get_by_label("The row in full")).to_contain_text("900111")
    _set_phone(page, "+44 7700 900222")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("+44 7700 900111")
    expect(dialog).to_contain_text("+44 7700 900222")
    dialog.get_by_role("button", name="Set “+44 7700 900222”").click()
    expect(page.get_by_label("The row in full")).to_contain_text("900222")
    expect(other.get_by_label("The row in full")).to_contain_text("900222")


def _set_phone(window: Page, number: str) -> None:
    panel = window.get_by_label("The row in full")
    title = panel.locator("dt", has_text=re.compile("^Phone$"))
    title.locator("xpath=following-sibling::dd[1]//button").first.click()
    editor = panel.get_by_label("Phone", exact=True)
    editor.fill(number)
    editor.press("Enter")
