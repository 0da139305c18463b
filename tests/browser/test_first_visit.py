"""From `./start --empty` to a roster in use, without a shell: the first account, a file that nobody
made for it, a second one a term later, a colleague.
"""

from __future__ import annotations

import re
import time
from pathlib import Path

import pyotp
import pytest
from playwright.sync_api import Page, expect

from nevefield.run.root import OURS
from tests.browser.conftest import opened, pick, served
from tests.browser.test_everywhere import violations
from tests.data.openings.offices import choir, sailing_club

MOST_ACTS = 60
PASSWORD = "herring ladder quartz Tuesday"


class Hand:
    """Somebody's hand: what it does is counted."""

    def __init__(self, page: Page) -> None:
        self.page, self.acts = page, 0

    def click(self, name: str | re.Pattern[str], role: str = "button") -> None:
        self.acts += 1
        self.page.get_by_role(role, name=name, exact=isinstance(name, str)).last.click()

    def type(self, label: str, text: str) -> None:
        self.acts += 1
        self.page.get_by_label(label, exact=True).fill(text)

    def upload(self, button: str, office) -> None:
        self.acts += 1
        with self.page.expect_file_chooser() as chooser:
            self.page.get_by_text(button, exact=True).click()
        chooser.value.set_files(
            {"name": office.file, "mimeType": "text/csv", "buffer": office.data}
        )


@pytest.fixture(scope="module")
def empty(tmp_path_factory):
    """The address of a Nevefield with nothing in it, and the link that it printed."""
    place = tmp_path_factory.mktemp("empty")
    with served(place, "--empty") as address:
        yield address, _link_in(place / "log")


def _link_in(log: Path) -> str:
    """The link that is printed once it answers."""
    deadline = time.monotonic() + 60
    while (link := re.search(r"/join#\S+", log.read_text())) is None:
        assert time.monotonic() < deadline, log.read_text()
        time.sleep(0.1)
    return link[0]


def apply_it(hand: Hand) -> str:
    """Go from an open intake to its receipt, and give what it says."""
    hand.click(re.compile("^Review|^Apply"), role="link")
    hand.click(re.compile(r"^Apply \d"))
    told = hand.page.get_by_role("heading", name=re.compile("are in the roster$"))
    expect(told).to_be_visible()
    return told.inner_text()


def test_from_nothing_to_a_roster_in_use(empty, chromium):
    """The first one, a file of 400, what is wrong in it, its receipt; a term later 42 altered and
    new, taken back; a colleague who prepares one part of one roster and sees no Setup.
    """
    address, link = empty
    first, later = sailing_club(), sailing_club(later=True)
    rows = first.data.decode("cp1252").split("\r\n")[1:]
    wharf = sum("Werft" in row and not re.search(";kein$|;a@b$", row) for row in rows)
    with opened(chromium, address) as context:
        page = context.new_page()
        page.goto(link)
        hand = Hand(page)
        expect(page.get_by_role("heading", name="The first one here")).to_be_visible()
        assert violations(page) == []
        hand.type("Institution", "Segelclub Nordhafen")
        hand.type("Your name", "Ines Halloran")
        hand.type("Sign-in name", "ines")
        hand.type("Password", PASSWORD)
        hand.click("Begin")
        expect(page.get_by_text("There is no roster yet")).to_be_visible()

        hand.upload("Upload file", first)
        expect(page.get_by_role("heading", name=f"A roster from {first.file}")).to_be_visible()
        effect = page.get_by_label("What this file would do")
        expect(effect).to_contain_text(re.compile(r"people join\s*398"))
        expect(effect).to_contain_text(re.compile(r"1 cause\s*2"))
        hand.click("More about Hafen")
        expect(page.get_by_role("cell", name="Nord-Hafen, nordhafen", exact=True)).to_be_visible()
        expect(page.get_by_text("“Südmohle” 1")).to_be_visible()
        assert violations(page) == []
        hand.click("one code")
        harbour = page.get_by_role("row").filter(has=page.get_by_label("Field of Hafen"))
        expect(harbour.get_by_text("look", exact=True)).to_have_count(0)
        hand.click(re.compile("^Open the roster"))
        page.wait_for_url("**/problems")
        text = apply_it(hand)
        assert text.startswith("398 of 400 rows")
        assert hand.acts < MOST_ACTS

        page.goto("/intakes")
        hand.upload("Upload file", later)
        page.wait_for_url("**/problems")
        hand.click(re.compile("^Changes"), role="link")
        expect(page.get_by_text(re.compile(r"Hafen")).first).to_be_visible()
        text = apply_it(hand)
        assert text.startswith("402 of 404 rows")
        hand.click("Take back …", role="link")
        hand.click(re.compile(r"^Take back \d"))
        expect(page.get_by_role("heading", name=re.compile("^Taken back"))).to_be_visible()
        page.goto("/rosters")
        expect(page.get_by_role("row", name=re.compile("Mitglieder 398 "))).to_be_visible()

        other = choir()
        hand.upload("Open one from a file", other)
        hand.click(re.compile("^Open the roster"))
        page.wait_for_url("**/problems")
        page.goto("/rosters/choir")
        hand.click("Take the opening back")
        hand.click("Take it back")
        expect(page.get_by_role("row", name=re.compile("Mitglieder"))).to_be_visible()
        expect(page.get_by_role("row", name=re.compile("Choir"))).to_have_count(0)
        expect(page.get_by_text("waits to become a roster")).to_have_count(0)

        page.goto("/setup/people")
        hand.click("Invite somebody")
        hand.type("Name", "Erik Sorley")
        hand.acts += 2
        pick(page.get_by_label("In Mitglieder"), "may prepare")
        hand.click("only a part")
        part = page.get_by_role("dialog")
        hand.acts += 5
        pick(part.get_by_label("Field"), "Hafen")
        part.get_by_label("Value").click()
        page.keyboard.type("Werf")
        page.keyboard.press("Enter")
        expect(part.get_by_role("status")).to_have_text(f"{wharf} records today.")
        page.keyboard.press("Escape")  # closes the list alone
        hand.click("Only these")
        hand.click("Make the invitation")
        invitation = page.get_by_label("The link").input_value()
        assert hand.acts < MOST_ACTS
    with opened(chromium, address) as context:
        page = context.new_page()
        page.goto(invitation)
        hand = Hand(page)
        hand.type("Password", PASSWORD + "!")
        hand.click("Choose it and sign in")
        expect(page.get_by_role("navigation", name="Places")).to_be_visible()
        expect(page.get_by_role("link", name="Setup")).to_have_count(0)
        expect(page.get_by_text("only where Hafen is Werft")).to_be_visible()
        page.get_by_role("link", name="Mitglieder").click()
        expect(page.get_by_text(f"{wharf} records")).to_be_visible()
        # a file of the whole club: of theirs they take in, the others are one cause
        page.goto("/")
        hand.upload("Upload file", first)
        page.wait_for_url("**/problems")
        outside = page.get_by_role(
            "button", name=re.compile("Outside of the part that this file is for: Hafen is Werft")
        )
        expect(outside).to_contain_text(str(sum("Werft" not in row for row in rows)))
        expect(page.get_by_text("only where Hafen is Werft")).to_be_visible()
        page.goto("/setup/people")
        expect(page.get_by_text("Setup is for who administers everything")).to_be_visible()
        page.goto(invitation)
        expect(page.get_by_text("This link cannot be used")).to_be_visible()
    with opened(chromium, address) as context:
        page = context.new_page()
        page.goto(link)
        expect(page.get_by_text("This link cannot be used")).to_be_visible()
    second_step_and_erasure(address, chromium)


def second_step_and_erasure(address: str, chromium) -> None:
    """After it the first one sets a second step up, signs in by it, and erases a member who asked;
    the page for the member was taken out before, and the roster counts one less.
    """
    with opened(chromium, address) as context:
        page = context.new_page()
        _sign_in(page, address)
        expect(page.get_by_role("navigation", name="Places")).to_be_visible()
        page.goto("/password")
        page.get_by_role("button", name="Set up a second step").click()
        expect(page.get_by_label("The six digits that it shows now")).to_be_focused()
        assert violations(page) == []
        otp = pyotp.TOTP(page.locator(".secret").inner_text().replace(" ", ""))
        page.keyboard.type(otp.now())
        page.keyboard.press("Enter")
        codes = page.get_by_role("listitem")
        expect(codes).to_have_count(10)
        assert violations(page) == []
        recovery = codes.first.inner_text()
    with opened(chromium, address) as context:
        page = context.new_page()
        _sign_in(page, address)
        expect(page.get_by_label("Code")).to_be_focused()
        page.keyboard.type(recovery.upper())
        page.keyboard.press("Enter")
        expect(page.get_by_role("navigation", name="Places")).to_be_visible()

        page.goto("/rosters/mitglieder")
        expect(page.get_by_text("398 records")).to_be_visible()
        page.get_by_role("row").nth(1).click()
        life = page.get_by_label("The record’s life")
        number = life.locator("p .mono").first.inner_text()
        menu = life.get_by_role("button", name="This person’s data")
        menu.click()
        with page.expect_download() as page_of_theirs:
            page.get_by_role("menuitem", name="Download all that is held, to read").click()
        text = Path(page_of_theirs.value.path()).read_text()
        assert number in text
        assert "<script" not in text
        menu.click()
        page.get_by_role("menuitem", name="Erase this person").click()
        dialog = page.get_by_role("dialog")
        erase = dialog.get_by_role("button", name="Erase them")
        dialog.get_by_label("Who asked for it").fill("the member, by letter")
        dialog.get_by_label("Why").fill("left the club")
        dialog.get_by_label(re.compile("^Type")).fill("1")
        expect(erase).to_be_disabled()
        assert violations(page) == []
        dialog.get_by_label(re.compile("^Type")).fill(number)
        erase.click()
        expect(
            life.get_by_text("asked for by the member, by letter: left the club")
        ).to_be_visible()
        page.goto("/rosters/mitglieder")
        expect(page.get_by_text("397 records")).to_be_visible()
        page.goto("/setup/keeping")
        expect(page.get_by_text("1 person erased")).to_be_visible()
        assert violations(page) == []


def _sign_in(page: Page, address: str) -> None:
    page.goto(f"{address}/sign-in")
    page.get_by_label("Sign-in name").fill("ines")
    page.get_by_label("Password").fill(PASSWORD)
    page.keyboard.press("Enter")


def test_all_that_is_kept_is_ours(seed):
    """What the demo leaves in its directory is known to be ours, so that a later start as root
    hands all of it over; the log is the test's.
    """
    assert {path.name for path in seed.iterdir()} - {"log"} <= OURS
