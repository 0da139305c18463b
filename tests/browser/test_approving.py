"""A second person approves, parts are taken back, a record is edited by hand, two days are
compared: in a real browser.
"""

from __future__ import annotations

import json
import re
from typing import Any

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import drop, forget, pick, set_day, sign_in, tally
from tests.conftest import ADMINISTERS, APPROVES, PREPARES

pytestmark = pytest.mark.browser


def tab(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="This intake").get_by_role(
        "link", name=re.compile(f"^{name}")
    ).click()


def test_second_person_and_parts(page, other, made):
    """Raised roles are proposed by one and approved by another; one field is taken back, then
    the rest.
    """
    truth = json.loads((made / "hr-staff-extract.truth.json").read_text())
    raised = len(truth["raised"])
    sign_in(page, PREPARES)
    drop(page, made / "hr-staff-extract.csv")
    forget(page)
    waiting = page.get_by_label("Tally").get_by_role("button", name=re.compile(r"\d+ waiting$"))
    try:
        expect(waiting).to_have_accessible_name(f"{raised} waiting")
    except AssertionError as error:  # what another journey left behind is told, not guessed
        causes = page.get_by_role("region", name="Causes").inner_text()
        raise AssertionError(f"{tally(page)} of {truth['tally']}: {causes}") from error
    raises = (
        page.get_by_role("region", name="Causes").get_by_role("article").filter(has_text="raised")
    )
    raises.first.get_by_role("button").first.click()
    while (
        asks := page.get_by_role("button", name=re.compile(r"^Approve \d+ with a reason"))
    ).count():
        asks.first.click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("Reason").fill("decided by the board")
        dialog.get_by_role("button", name=re.compile("^Approve ")).click()
        expect(dialog).not_to_be_visible()
        if "waiting" in tally(page):
            raises.first.get_by_role("button").first.click()
    settled = tally(page)
    going = settled["new"] + settled["changed"]
    assert settled["changed"] == truth["tally"]["changed"] + raised
    tab(page, "Apply")
    expect(
        page.get_by_text(f"Here {raised} people gain a privilege, which needs a second person")
    ).to_be_visible()
    page.get_by_role("button", name=f"Propose {going} changes").click()
    expect(page.get_by_text("It needs the approval of somebody else.")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Approve"))).to_have_count(0)

    # Another person finds it on the desk, sees exactly what was proposed, and approves.
    sign_in(other, APPROVES)
    other.get_by_role("link", name=re.compile("Needs your approval")).click()
    expect(other.get_by_text("What stands here is exactly what was proposed.")).to_be_visible()
    other.get_by_role("button", name=f"Approve and apply {going} records").click()
    expect(
        other.get_by_role("heading", name=re.compile(r"rows are in the roster$"))
    ).to_be_visible()

    # Of the receipt one field is taken back, then all the rest.
    other.get_by_role("link", name="Take back …").click()
    fields = other.get_by_role("group", name="Fields that go back")
    expect(fields.locator("label").first).to_be_visible()
    names = [text.strip() for text in fields.locator("label").all_inner_texts()]
    for name in names[1:]:
        fields.get_by_label(name).uncheck()
    count = int(re.search(r"(\d+)$", names[0])[1])
    other.get_by_role(
        "button", name=re.compile(rf"^(Propose to take|Take) back {count} record")
    ).click()
    expect(other.get_by_text("Only a part of")).to_be_visible()
    other.get_by_role("link", name=re.compile(r"^receipt \d+")).first.click()
    other.get_by_role("link", name="Take back …").click()
    other.get_by_role("button", name=re.compile(r"^Take back \d+ record")).click()
    expect(other.get_by_role("heading", name=re.compile("^Taken back"))).to_be_visible()
    other.get_by_role("link", name="Rosters").click()
    expect(other.get_by_role("row").filter(has_text="Staff")).to_contain_text("186")


def test_edited_by_hand_and_compared(page, site):
    """A wrong value is refused beside its field, a right one is done; yesterday compared with
    today shows it; taken back.
    """
    sign_in(page, ADMINISTERS)
    page.goto("/rosters/fellows")
    page.get_by_role("grid").get_by_role("row").nth(2).click()
    expect(page.get_by_role("button", name="Edit")).to_be_visible()
    page.keyboard.press("e")
    dialog = page.get_by_role("dialog")
    mail = dialog.get_by_label("Mail", exact=True)
    had = mail.input_value()
    mail.fill("nobody-at-all")
    dialog.get_by_role("button", name="Change 1 field").click()
    expect(dialog.get_by_role("alert")).to_contain_text("Nothing was changed")
    mail.fill("somebody.new@halyard.example")
    dialog.get_by_role("button", name="Change 1 field").click()
    expect(dialog).not_to_be_visible()
    life = page.get_by_label("The record’s life")
    expect(life.get_by_text("Edited by hand")).to_be_visible()
    page.goto("/rosters/fellows/compare?old=day:2026-01-01&new=today")
    expect(page.get_by_text("1 record differs")).to_be_visible()
    expect(page.get_by_role("grid").get_by_text(had)).to_be_visible()
    page.get_by_role("grid").get_by_role("link").click()
    life.get_by_role("link", name=re.compile("^receipt")).first.click()
    page.get_by_role("link", name="Take back …").click()
    page.get_by_role("button", name="Take back 1 record").click()
    expect(page.get_by_role("heading", name=re.compile("^Taken back"))).to_be_visible()


def test_put_off_to_a_day(page, site):
    """A value that holds from a day ahead stands in the record's life and in the roster as of
    that day, until called off.
    """
    sign_in(page, ADMINISTERS)
    page.goto("/rosters/fellows")
    page.get_by_role("grid").get_by_role("row").nth(4).click()
    expect(page.get_by_role("button", name="Edit")).to_be_visible()
    page.keyboard.press("e")
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Mail", exact=True).fill("from.then.on@halyard.example")
    pick(dialog.get_by_label("Takes effect"), "a day ahead")
    set_day(dialog.get_by_label("The day from which it takes effect"), "1.3.2090")
    dialog.get_by_role("button", name="Change 1 field on 1 Mar 2090").click()
    life = page.get_by_label("The record’s life")
    expect(life.get_by_text("from.then.on@halyard.example")).to_be_visible()
    page.get_by_role("button", name="As of another day").click()
    held: list[Any] = []
    page.route("**/records?*as_of=2090-03-01*", lambda route: held.append(route))
    set_day(page.get_by_label("The roster as of a day"), "01/03/2090")
    page.get_by_label("Only records with the words").fill("from.then.on")
    page.wait_for_timeout(200)
    for route in held:  # what comes while somebody types leaves what they typed
        route.continue_()
    page.unroute_all(behavior="ignoreErrors")
    expect(page.get_by_text("as far as it is known today")).to_be_visible()
    page.keyboard.press("Enter")
    expect(page.get_by_text("as far as it is known today")).to_be_visible()
    expect(page.get_by_text("1 of 2,610 records")).to_be_visible()
    page.get_by_role("button", name="Today").click()
    expect(page.get_by_text("No record is like that")).to_be_visible()
    page.get_by_role("link", name="Desk").click()
    page.get_by_role("link", name=re.compile("Waits for 1 March 2090|Waits for 1 Mar 2090")).click()
    page.get_by_role("button", name="Call it off …").click()
    dialog.get_by_label("Reason").fill("not after all")
    dialog.get_by_role("button", name="Call it off").click()
    expect(page.get_by_text("1 change waits for")).to_have_count(0)
    page.get_by_role("link", name="Desk").click()
    expect(page.get_by_role("link", name=re.compile("Waits for"))).to_have_count(0)
