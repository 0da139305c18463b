"""Letters: people are asked whether their data are right, answer on a small window without an
account, are reminded and printed for; the keeper looks at what they say.
"""

from __future__ import annotations

import io
import json
import re

import pypdfium2
import pytest
import zxingcpp
from playwright.sync_api import expect

from tests.browser.conftest import PATIENCE, opened, pick, set_day, sign_in
from tests.conftest import APPROVES, LOOKS

pytestmark = pytest.mark.browser


def cadets(made) -> list[dict]:
    return json.loads((made / "roster-cadets.json").read_text())["records"]


def write_to(page, some: list[dict]):
    """Tick people, and begin a letter to them."""
    page.goto(
        f"/rosters/cadets?q={some[0]['cadet_number']}" if len(some) == 1 else "/rosters/cadets"
    )
    for one in some:
        line = page.get_by_role("row").filter(has_text=one["cadet_number"])
        line.get_by_role("checkbox").check()
    page.get_by_role("button", name="Write to them").click()
    count = f"{len(some)} record{'s' * (len(some) != 1)}"
    return page.get_by_role("dialog", name=f"Write to {count}")


def parts(page) -> dict[str, int]:
    """Who stands where, as the page says it."""
    found = page.get_by_role("group", name="Where they stand").get_by_role("button")
    said = [re.match(r"([\d,]+) (.+)", text) for text in found.all_inner_texts()]
    return {one[2]: int(one[1].replace(",", "")) for one in said if one}


def test_asked_answered_reminded(college, made):
    """Three are asked on paper, which is read with a square code; one corrects, one confirms, one
    is reminded; what was said is looked at, and applied.
    """
    page = college.new_page()
    sign_in(page, APPROVES)
    page.goto("/rosters/staff/letters")
    expect(page.get_by_role("heading", name="Nobody was written to yet")).to_be_visible()
    some = cadets(made)[:3]
    dialog = write_to(page, some)
    pick(dialog.get_by_label("How"), "on paper")
    dialog.get_by_role("checkbox", name="Ask each").check()
    set_day(dialog.get_by_label("Until"), "31/12/2026")
    pick(dialog.get_by_label("They say first"), "Born")
    expect(dialog.get_by_role("article")).to_have_count(3)
    dialog.get_by_role("button", name="Write 3 letters").press("Enter")
    dialog.get_by_role("link", name="Print, and see who answers").click()
    shown = page.get_by_role("group", name="Where they stand")
    expect(shown).to_contain_text("3 to print")
    assert parts(page) == {"letters": 3, "to print": 3}
    page.get_by_role("button", name="Print 3 letters").click()
    with page.expect_download() as printed:
        page.get_by_role("dialog").get_by_role("button", name="Print").click()
    pdf = pypdfium2.PdfDocument(io.BytesIO(printed.value.path().read_bytes()))
    links = {}
    for one, sheet in zip(some, pdf, strict=True):
        text = sheet.get_textpage().get_text_bounded()
        assert f"{one['given_names']} {one['family_name']}" in text
        (code,) = zxingcpp.read_barcodes(sheet.render(scale=2).to_pil())
        links[one["cadet_number"]] = code.text
    expect(shown).to_contain_text("3 have not answered")

    first, second, third = some
    here = re.match("https?://[^/]+", links[first["cadet_number"]])[0]
    with opened(college.browser, here) as out:
        own = out.new_page()
        own.set_viewport_size({"width": 390, "height": 780})
        own.goto(links[first["cadet_number"]])
        expect(own.get_by_text("To see that it is you")).to_be_visible()
        assert first["family_name"] not in own.locator("main").inner_text()
        set_day(own.get_by_label("Born"), "1900-01-01")
        own.get_by_role("button", name="Go on").click()
        expect(own.get_by_role("alert")).to_contain_text("4 times more")
        set_day(own.get_by_label("Born"), first["born"])
        own.get_by_role("button", name="Go on").click()
        own.get_by_label("Mail", exact=True).fill("no address")
        own.get_by_role("button", name="Send 1 correction").click()
        expect(own.get_by_role("alert").first).to_be_visible()
        own.get_by_label("Mail", exact=True).fill("new.address@tarnquay.example")
        own.get_by_role("button", name="Send 1 correction").click()
        expect(own.get_by_role("status")).to_contain_text("You sent 1 correction: Mail")
        own.reload()
        expect(own.get_by_role("alert")).to_contain_text("You have answered")
        own.goto("/yours#" + links[second["cadet_number"]].split("#")[1])
        own.reload()
        set_day(own.get_by_label("Born"), second["born"])
        own.get_by_role("button", name="Go on").click()
        own.get_by_role("button", name="All of it is right").press("Enter")
        expect(own.get_by_role("status")).to_contain_text("all of it is right")

    expect(shown).to_contain_text("1 said all is right")
    assert parts(page) == {
        "letters": 3,
        "sent corrections": 1,
        "said all is right": 1,
        "have not answered": 1,
    }
    page.get_by_role("button", name="Remind the one who has not answered").click()
    dialog = page.get_by_role("dialog", name="Remind 1 person")
    expect(dialog.get_by_label("Subject")).to_have_value(re.compile("^Reminder: "))
    dialog.get_by_role("button", name="Send 1 mail").click()
    expect(dialog.get_by_role("status")).to_contain_text("1 mail waits to go")
    dialog.get_by_role("button", name="Close").last.click()
    expect(dialog).not_to_be_visible()
    row = page.get_by_role("row").filter(has_text=third["cadet_number"])
    expect(row).to_contain_text("the mail went")

    # it is taken in by itself once nobody has answered for a while
    line = page.get_by_role("row").filter(has_text=first["cadet_number"])
    looked = line.get_by_role("link", name="to be looked at")
    expect(looked).to_be_visible(timeout=2 * PATIENCE)
    looked.click()
    page.get_by_role("link", name=re.compile("^Review")).click()
    page.get_by_role("button", name="Apply 1 row").click()
    expect(
        page.get_by_role("heading", name=re.compile("^1 person corrects their data"))
    ).to_be_visible()


def test_own_password(college, made):
    """Somebody sets their own password at the directory by a letter: what is guessed soon is said,
    and the directory takes it.
    """
    page = college.new_page()
    sign_in(page, APPROVES)
    here = next(one for one in cadets(made) if one.get("enrolled_to", "") > "2027-06-01")
    dialog = write_to(page, [here])
    pick(dialog.get_by_label("How"), "on paper")
    dialog.get_by_role("checkbox", name="Let each set their own password").check()
    pick(dialog.get_by_label("They say first"), "Born")
    expect(dialog.get_by_role("article")).to_contain_text("set your own password at Directory")
    dialog.get_by_role("button", name="Write 1 letter").press("Enter")
    dialog.get_by_role("link", name="Print, and see who answers").click()
    page.get_by_role("button", name="Print 1 letter").click()
    with page.expect_download() as printed:
        page.get_by_role("dialog").get_by_role("button", name="Print").click()
    sheet = pypdfium2.PdfDocument(io.BytesIO(printed.value.path().read_bytes()))[0]
    (code,) = zxingcpp.read_barcodes(sheet.render(scale=2).to_pil())
    with opened(college.browser, re.match("https?://[^/]+", code.text)[0]) as out:
        own = out.new_page()
        own.goto(code.text)
        set_day(own.get_by_label("Born"), here["born"])
        own.get_by_role("button", name="Go on").click()
        expect(own.get_by_label("You sign in as")).to_have_value(re.compile(r"^\w+\.\w+"))
        send = own.get_by_role("button", name="Set the password")
        for said, why in (
            ("elf Zeichen", "at least 12 letters"),
            ("passwordpassword", "guessed soon"),
            ("vier Kähne, grüner Tee", ""),
        ):
            own.get_by_label("New password").fill(said)
            expect(send).to_be_disabled()
            own.get_by_label("The same again").fill(said)
            if said != "elf Zeichen":
                send.click()
            expect(own.get_by_role("status")).to_contain_text(
                why or "Your password at Directory is"
            )
        own.reload()
        expect(own.get_by_role("alert")).to_contain_text("you set your password")
    shown = page.get_by_role("group", name="Where they stand")
    expect(shown).to_contain_text("1 set their password")


def test_who_may(college):
    """Who may only look sees no letters; an unknown link says so, and what to do."""
    page = college.new_page()
    page.goto("/yours#unknown")
    expect(page.get_by_role("alert")).to_contain_text("This link is not known here")
    sign_in(page, LOOKS)
    page.goto("/rosters/cadets")
    expect(page.get_by_role("row").nth(3)).to_be_visible()
    expect(page.get_by_role("link", name="Letters")).to_have_count(0)
    page.goto("/rosters/cadets/letters")
    expect(page.get_by_role("heading", name="These letters cannot be opened")).to_be_visible()
