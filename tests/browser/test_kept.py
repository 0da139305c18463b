"""Nothing that somebody typed or did is lost: over a reload, the end of a session, a connection
that is gone; and everything of a page is found and done by keyboard.
"""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import drop, forget, sign_in, tally
from tests.conftest import ADMINISTERS, APPROVES, PASSWORDS

pytestmark = pytest.mark.browser

MOST_PRESSES = 90  # from the desk to a receipt that is taken back, typing aside


@pytest.fixture
def september(page, made):
    """September's file on its bench, as for the first time."""
    sign_in(page, APPROVES)
    drop(page, made / "september-joiners.xlsx")
    forget(page)
    expect(page.get_by_text("28 rows stopped by 11 causes")).to_be_visible()
    return page


def hold_row(page: Page, reason: str) -> None:
    page.locator("body").press("h")
    box = page.get_by_role("dialog").get_by_label("Reason")
    expect(box).to_be_focused()
    page.keyboard.type(reason)
    page.keyboard.press("Enter")


def test_an_edit_is_kept(page):
    """What was typed into a record outlives a reload and a session; Escape asks before it is
    lost; discarded it is gone.
    """
    sign_in(page, ADMINISTERS)
    page.goto("/rosters/fellows?record=1")
    page.goto("/rosters/fellows")
    page.get_by_role("row").nth(2).click()
    life = page.get_by_role("complementary", name="The record’s life")
    life.get_by_role("button", name=re.compile("^Edit")).click()
    edit = page.get_by_role("dialog", name=re.compile("^Edit "))
    box = edit.get_by_role("textbox").nth(1)
    name, before = box.get_attribute("aria-label"), box.input_value()
    box.fill("Åström-Łuczak")
    page.keyboard.press("Escape")
    asked = page.get_by_role("dialog", name="Discard the edit")
    expect(asked).to_contain_text("1 field that you altered is not saved.")
    asked.get_by_role("button", name="Go on editing").click()
    expect(box).to_have_value("Åström-Łuczak")
    page.reload()
    expect(life).to_contain_text("An edit of yours is not saved yet.")

    page.context.clear_cookies()
    page.goto(page.url)
    page.get_by_label("Sign-in name").fill(ADMINISTERS)
    page.get_by_label("Password").fill(PASSWORDS[ADMINISTERS])
    page.get_by_role("button", name="Sign in").click()
    life.get_by_role("button", name="Go on with it").click()
    expect(edit.get_by_label(name, exact=True)).to_have_value("Åström-Łuczak")
    edit.get_by_role("button", name="Cancel").click()
    asked.get_by_role("button", name="Discard").click()
    expect(edit).not_to_be_visible()
    page.reload()
    expect(life).to_contain_text(before)
    expect(life).not_to_contain_text("not saved yet")


def come_back(page: Page) -> None:
    """Sign in again, where the session has ended: the page is the one that was left."""
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()
    page.get_by_label("Sign-in name").fill(APPROVES)
    page.get_by_label("Password").fill(PASSWORDS[APPROVES])
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_url(re.compile(r"/intakes/\d+/problems"))
    expect(page.get_by_label("Tally")).to_be_visible()


def test_what_a_session_cut_off_is_done_after_it(september):
    """A row is held while the session ends: after signing in the page says that it was not done,
    with its reason, and does it. What was being typed is there again.
    """
    page = september
    ended = {"status": 401, "json": {"detail": "Sign in first."}}
    acts = re.compile(r"/(remedies|steps)$")  # the first that meets the end of the session
    page.route(acts, lambda route: route.fulfill(**ended))
    hold_row(page, "the office is asked")
    expect(page.get_by_role("button", name="Sign in")).to_be_visible()
    page.unroute(acts)
    come_back(page)
    said = page.get_by_role("status").filter(has_text="Not done:")
    expect(said).to_contain_text("Hold, “the office is asked”")
    assert "held" not in tally(page)
    said.get_by_role("button", name="Do it now").click()
    expect(page.get_by_text("27 rows stopped")).to_be_visible()
    assert tally(page)["held"] == 1
    expect(said).to_have_count(0)

    page.locator("body").press("h")
    box = page.get_by_role("dialog").get_by_label("Reason")
    expect(box).to_be_focused()
    page.keyboard.type("a letter is on its w")
    page.context.clear_cookies()
    come_back(page)
    page.locator("body").press("h")
    expect(box).to_have_value("a letter is on its w")
    page.keyboard.press("Escape")
    asked = page.get_by_role("dialog").filter(has_text="The reason that you typed is lost.")
    asked.get_by_role("button", name="Discard").click()
    expect(box).not_to_be_visible()
    assert tally(page)["held"] == 1


def test_a_lost_connection_is_said_and_tried_again(september):
    """Nothing answers: it is said until something does; what was being done is offered again."""
    page = september
    page.context.set_offline(True)
    hold_row(page, "away")
    lost = page.get_by_role("status").filter(has_text="does not answer")
    expect(lost).to_be_visible()
    page.context.set_offline(False)
    expect(lost).not_to_be_visible()
    said = page.get_by_role("status").filter(has_text="Not done:")
    said.get_by_role("button", name="Discard it").click()
    expect(said).to_have_count(0)
    expect(page.get_by_text("28 rows stopped by 11 causes")).to_be_visible()


def test_whatever_is_cut_is_shown_whole(september):
    """Under the pointer and in the active cell; Escape takes it away."""
    page = september
    page.get_by_role("link", name=re.compile("^File")).click()
    grid = page.get_by_role("grid", name="The file’s own lines")
    cell = grid.get_by_role("gridcell", name=re.compile("^(Electro-technical|Deck department)$"))
    expect(cell.first).to_be_visible()
    page.add_style_tag(content="[role=gridcell] { max-width: 60px }")
    cell.first.hover()
    whole = page.get_by_role("tooltip")
    expect(whole).to_have_text(re.compile("Electro-technical|Deck department"))
    page.keyboard.press("Escape")
    expect(whole).not_to_be_visible()


def test_everything_is_gone_to_and_done_by_words(september):
    """Ctrl K finds acts of the page, places and people; a lone Enter does nothing."""
    page = september
    go_to = page.get_by_role("dialog", name="Go to, or do")
    page.keyboard.press("Control+k")
    expect(go_to.get_by_role("combobox")).to_be_focused()
    page.keyboard.press("Enter")
    expect(go_to).to_be_visible()
    page.keyboard.type("deck 17")
    expect(go_to.get_by_role("option", selected=True)).to_contain_text("Use DECK for 17")
    page.keyboard.press("Enter")
    expect(page.get_by_text("11 rows stopped by")).to_be_visible()
    for typed, title, address in [
        ("code", "Codes", "/codes"),
        ("fellows", "Fellows", "/rosters/fellows"),
        ("lundquay", "Lundquay", "/rosters/"),
    ]:
        page.keyboard.press("Control+k")
        expect(go_to.get_by_role("combobox")).to_be_focused()
        page.keyboard.type(typed)
        expect(go_to.get_by_role("option").filter(has_text=title).first).to_be_visible()
        page.keyboard.press("Enter")
        expect(go_to).not_to_be_visible()
        page.wait_for_url(re.compile(re.escape(address)))


def test_a_whole_file_by_keyboard(page, made, truth):
    """From the desk to a receipt, and taken back, without a mouse and in under 90 presses: every
    cause is settled, what cannot be is held.
    """
    sign_in(page, APPROVES)
    drop(page, made / "september-joiners.xlsx")
    forget(page)
    intake = re.search(r"/intakes/\d+", page.url)[0]
    page.goto("/")
    presses = 0

    def press(key: str) -> None:
        nonlocal presses
        presses += 1
        page.keyboard.press(key)

    def go_to(words: str) -> None:
        press("Control+k")
        expect(
            page.get_by_role("dialog", name="Go to, or do").get_by_role("combobox")
        ).to_be_focused()
        page.keyboard.type(words)
        expect(page.get_by_role("option", selected=True)).to_be_visible()
        press("Enter")

    lines = page.get_by_role("main").get_by_role("listitem")
    expect(lines.first).to_be_visible()
    links = lines.get_by_role("link").evaluate_all("(all) => all.map((one) => one.pathname)")
    for _ in range(links.index(f"{intake}/problems") + 1):
        press(".")
    press("Enter")
    page.wait_for_url(re.compile(f"{intake}/problems"))
    for _ in range(40):
        page.wait_for_load_state("networkidle")
        expect(page.locator("[aria-busy=true]")).to_have_count(0)
        left = tally(page)
        if not left.get("stopped") and not left.get("waiting"):
            break
        open_cause = page.locator("article.cause.on")
        if open_cause.count() == 0:  # nothing stops a row any more: what needs an approval is next
            press(".")
        expect(open_cause).to_have_count(1)
        label = open_cause.get_by_role("button").nth(1).inner_text()
        said = page.get_by_role("region", name="Causes").inner_text()
        if re.match("Use|Keep|Swap", label):
            press("1")
        else:
            press("1" if label.startswith("Approve") else "h")
            expect(page.get_by_role("dialog").get_by_label("Reason")).to_be_focused()
            press("1")
            press("Enter")
            expect(page.get_by_role("dialog")).not_to_be_visible()
        expect(page.get_by_role("region", name="Causes")).not_to_have_text(said)
    settled = tally(page)
    assert "stopped" not in settled
    assert "waiting" not in settled
    go_to("review")
    page.wait_for_url(re.compile("/apply"))
    going = settled["new"] + settled.get("changed", 0)
    apply = page.get_by_role("button", name=f"Apply {going} rows")
    expect(apply).to_be_visible()
    go_to("apply rows")
    expect(page.get_by_text("adds up")).to_be_visible()
    expect(page.get_by_role("link", name="Take back", exact=False).first).to_be_visible()
    go_to("take back")
    page.wait_for_url(re.compile("/undo"))
    expect(page.get_by_role("button", name=re.compile("^Take back"))).to_be_enabled()
    go_to("take back")
    expect(page.get_by_text("Taken back").first).to_be_visible()
    assert presses < MOST_PRESSES, presses
