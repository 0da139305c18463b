"""The journey of a run of cards: who needs one, made, printed, handed over, one lost and replaced;
and a design that is changed, undone and kept.
"""

from __future__ import annotations

import io
import json
import re
import zipfile
from datetime import date

import pytest
from playwright.sync_api import Page, expect
from pypdf import PdfReader

from tests.browser.conftest import call, pick, picked, sign_in
from tests.cards.house import photo_of
from tests.conftest import APPROVES, LOOKS, PREPARES

pytestmark = pytest.mark.browser
NEEDS = ("have it", "to make anew", "to make", "no photo", "does not fit", "to take in")


@pytest.fixture
def cards(made) -> dict:
    """What is planted about the gate card."""
    return json.loads((made / "gate-card.truth.json").read_text())


def standing(page: Page) -> dict[str, int]:
    """Read where everybody stands, and see that it says it adds up."""
    core = page.get_by_label("Tally")
    expect(core).to_contain_text("adds up ✓")
    text = " ".join(core.inner_text().split())
    return {
        need: int(found[1].replace(",", ""))
        for need in NEEDS
        if (found := re.search(rf"([\d,]+) {need}(?! anew)", text))
    }


def stage(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Parts of the card design").get_by_role(
        "link", name=name
    ).click()


def test_from_needed_to_handed_over(fresh, cards, tmp_path):
    """41 need a card: 37 are made, printed and handed over by scanning; a photograph that was
    missing is brought; a lost card is out of use at once and replaced.
    """
    page = fresh.new_page()
    sign_in(page, PREPARES)
    page.get_by_role("navigation", name="Places").get_by_role("link", name="Cards").click()
    page.get_by_role("link", name="Gate card").click()
    counts = {
        "have it": len(cards["has"]),
        "to make": len(cards["make"]),
        "to make anew": len(cards["anew"]),
        "no photo": 3,
        "does not fit": 1,
        "to take in": len(cards["take in"]),
    }
    assert standing(page) == counts
    page.get_by_role("button", name="Make 37 cards").click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("3 have no photograph, and stay behind")
    expect(dialog).to_contain_text("1 does not fit, and stays behind")
    dialog.get_by_role("button", name="Make 37 cards").click()
    expect(page.get_by_role("heading", name="Run 1")).to_be_visible()
    boxes = page.get_by_role("checkbox", name=re.compile("was handed over"))
    expect(boxes).to_have_count(37)
    counts |= {"have it": counts["have it"] + 37}
    del counts["to make"], counts["to make anew"]
    assert standing(page) == counts
    sheets(page, tmp_path, cards)
    first = cards["make"][0]
    scan = page.get_by_label("Scan a card to hand it over")
    scan.fill(first)
    scan.press("Enter")
    expect(page.get_by_text(re.compile(".+ has got it"))).to_be_visible()
    expect(
        page.get_by_role("checkbox", name=re.compile("handed over"), checked=True)
    ).to_have_count(1)
    scan.fill("nobody's")
    scan.press("Enter")
    expect(page.get_by_text("The register has no card nobody's")).to_be_visible()
    page.get_by_role("button", name="Hand over the other 36").click()
    expect(
        page.get_by_role("checkbox", name=re.compile("handed over"), checked=True)
    ).to_have_count(37)
    photographs(page, tmp_path, cards)
    lost_and_replaced(page, first)


def sheets(page: Page, tmp_path, cards: dict) -> None:
    """The sheets hold each card once, front and back."""
    page.get_by_role("button", name="Sheets (PDF)").click()
    with page.expect_download() as waiting:
        page.get_by_role("menuitem", name="On A4, with cutting marks").click()
    path = tmp_path / "run.pdf"
    waiting.value.save_as(path)
    reader = PdfReader(path)
    assert len(reader.pages) == 10  # 8 on a sheet, and their backs
    texts = [one.extract_text() for one in reader.pages]
    assert sum(text.count("valid until") for text in texts[::2]) == 37
    assert sum(text.count("Found?") for text in texts[1::2]) == 37


def photographs(page: Page, tmp_path, cards: dict) -> None:
    """Photographs are brought in an archive; of each file it is said what became of it."""
    archive = io.BytesIO()
    with zipfile.ZipFile(archive, "w") as file:
        file.writestr(f"{cards['photo'][0].lower()}.jpg", photo_of(300, 400))
        file.writestr(f"{cards['photo'][1]} (1).jpg", b"no picture")
        file.writestr("me at sea.jpg", photo_of(300, 400))
    path = tmp_path / "photos.zip"
    path.write_bytes(archive.getvalue())
    page.get_by_label("Tally").get_by_role("button", name=re.compile("no photo")).click()
    expect(page.get_by_role("status").filter(has_text="3 people")).to_be_visible()
    page.get_by_role("button", name="Bring photographs …").click()
    dialog = page.get_by_role("dialog")
    dialog.locator("input[type=file]").set_input_files(path)
    expect(dialog).to_contain_text("1 photograph was taken of 3 files")
    dialog.get_by_text("1 have no number of anybody in their names").click()
    expect(dialog.get_by_text("me at sea.jpg")).to_be_visible()
    dialog.get_by_text("1 cannot be taken").click()
    expect(dialog).to_contain_text("is no picture that can be read")
    dialog.get_by_role("button", name="Close").last.click()
    expect(page.get_by_role("status").filter(has_text="2 people")).to_be_visible()
    assert standing(page)["to make"] == 1


def lost_and_replaced(page: Page, key: str) -> None:
    """A lost card is out of use at once, and its holder gets another number."""
    page.get_by_label("Tally").get_by_role("button", name=re.compile("people get a card")).click()
    page.get_by_label("Find somebody by name, number or card").fill(key)
    expect(page.get_by_role("status").filter(has_text="1 person")).to_be_visible()
    side = page.get_by_role("complementary").filter(has_text=key)
    before = side.locator("b.mono").inner_text()
    side.get_by_role("button", name="Lost").click()
    page.get_by_role("dialog").get_by_role("button", name="Put it out of use").click()
    expect(side.get_by_text("Lost", exact=True)).to_be_visible()
    expect(page.get_by_text(f"card {before} is lost").first).to_be_visible()
    side.get_by_role("button", name="Make this card").click()
    page.get_by_role("dialog").get_by_role("button", name="Make 1 card").click()
    expect(page.get_by_role("heading", name="Run 2")).to_be_visible()
    (after,) = (
        page.get_by_role("row")
        .filter(has=page.get_by_role("checkbox"))
        .locator("td.mono")
        .all_inner_texts()
    )
    assert after != before


def test_a_design_is_changed(college):
    """A line is put in, filled, carried up and undone by keyboard; what does not fit is said at
    once; the design is kept as another version, and the first is taken up again; a reload loses
    nothing.
    """
    page = college.new_page()
    sign_in(page, PREPARES)
    page.goto("/cards/gate-card/design")
    items = page.get_by_role("group", name="What stands on this side, from the top")
    five = page.get_by_role("region", name="The five that try it hardest")
    expect(five.get_by_text("no photograph: 3 people")).to_be_visible()
    items.get_by_role("button", name=re.compile("^line 3")).click()
    page.get_by_role("button", name="+ another line, place or picture").click()
    page.get_by_role("menuitem", name="A line").click()
    expect(items.get_by_role("button", name=re.compile("^line 4 nothing yet"))).to_be_visible()
    pick(page.get_by_role("combobox", name="Another piece"), "Home port")
    card = page.get_by_role("img", name=re.compile("The card of .+, front")).first
    added = items.get_by_role("button", name=re.compile("^line 4 Home port"))
    expect(added).to_be_visible()
    added.focus()
    page.keyboard.press("Alt+ArrowUp")
    expect(items.get_by_role("button", name=re.compile("^line 3 Home port"))).to_be_focused()
    page.get_by_role("spinbutton", name="Size in points", exact=True).fill("60")
    page.get_by_role("spinbutton", name="Size in points", exact=True).press("Tab")
    page.get_by_role("spinbutton", name="Least size in points").fill("50")
    page.get_by_role("spinbutton", name="Least size in points").press("Tab")
    expect(page.get_by_text("does not fit").first).to_be_visible()
    expect(page.get_by_text(re.compile(r"today: [\d,]+ do not fit"))).to_be_visible()
    page.reload()
    expect(items.get_by_role("button", name=re.compile("^line 3 Home port"))).to_be_visible()
    items.get_by_role("button", name=re.compile("^line 3 Home port")).focus()
    page.keyboard.press("Delete")
    expect(items.get_by_role("button", name=re.compile("Home port"))).to_have_count(0)
    page.keyboard.press("z")
    expect(items.get_by_role("button", name=re.compile("Home port"))).to_have_count(1)
    expect(card).to_be_visible()
    page.get_by_role("button", name="Keep as version 2").click()
    expect(page.get_by_text("kept ✓")).to_be_visible()
    expect(
        page.get_by_label("Tally").get_by_role("button", name=re.compile("does not fit"))
    ).to_contain_text(re.compile(r"\d\d"))
    page.get_by_role("button", name="Versions").click()
    with page.expect_download() as first:
        page.get_by_role("link", name="Version 1 as JSON").click()
    document = json.loads(first.value.path().read_text())
    wrong = json.dumps(document | {"faces": [{"name": "everybody"}]}).encode()
    bring_json(page, "wrong.json", wrong)
    expect(page.get_by_role("alert")).to_contain_text("roster: is needed")
    bring_json(page, "first.json", json.dumps(document | {"name": "of-others"}).encode())
    page.get_by_role("button", name="Keep as version 3").click()
    expect(page.get_by_text("kept ✓")).to_be_visible()
    expect(items.get_by_role("button", name=re.compile("Home port"))).to_have_count(0)
    assert standing(page)["does not fit"] == 1


def bring_json(page: Page, name: str, content: bytes) -> None:
    """Take a design from a file, in the dialog."""
    chooser = page.get_by_role("dialog").locator("input[type=file]")
    chooser.set_input_files({"name": name, "mimeType": "application/json", "buffer": content})


def test_begun_from_nothing(college, cards):
    """A design is begun for another roster by four choices, and two people do not write over each
    other; who may only look changes nothing.
    """
    page = college.new_page()
    sign_in(page, APPROVES)
    page.goto("/cards")
    page.get_by_role("button", name="Begin another design …").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("What it is called").fill("Fellow’s card")
    pick(dialog.get_by_label("Who gets it"), "Fellows")
    expect(page.locator(".ant-select-dropdown:visible")).to_have_count(0)
    pick(dialog.get_by_label("Where the cards are kept"), "Gate passes")
    expect(picked(dialog.get_by_label("A card in use is"))).to_have_text("Active")
    dialog.get_by_role("button", name="Begin it").click()
    expect(page.get_by_role("heading", name="Fellow’s card → Gate passes")).to_be_visible()
    passes = call(page, "GET", "/api/rosters/gate-passes/export?format=json")["records"]
    today = date.today().isoformat()
    good = sum(one["pass_state"] == "ACTIVE" and one["valid_until"] >= today for one in passes)
    assert standing(page) == {"no photo": 2_610, "to take in": good}
    page.goto("/cards")
    for name in ("fellow-s-card-2", "fellow-s-card-3"):  # of one title, in any alphabet
        page.get_by_role("button", name="Begin another design …").click()
        dialog.get_by_label("What it is called").fill("Fellow’s card")
        pick(dialog.get_by_label("Made like"), "Gate card")
        expect(dialog.get_by_text("is as in “Gate card”")).to_be_visible()
        dialog.get_by_role("button", name="Begin it").click()
        expect(page).to_have_url(re.compile(f"/cards/{name}/needed"))
        assert standing(page)["no photo"] == len(cards["photo"])
        page.goto("/cards")
    page.goto("/cards/fellow-s-card/design")
    items = page.get_by_role("group", name="What stands on this side, from the top")
    items.get_by_role("button", name="photograph").click()
    page.get_by_role("checkbox", name="a card without it does not fit").uncheck()
    page.get_by_role("button", name="Keep as version 2").click()
    expect(page.get_by_text("kept ✓")).to_be_visible()
    expect(page.get_by_label("Tally")).to_contain_text("to make")
    other = college.new_page()
    other.goto("/cards/fellow-s-card/design")
    for each, name in ((page, "page"), (other, "other")):
        rows = each.get_by_role("group", name="What stands on this side, from the top")
        rows.get_by_role("button", name="band").click()
        words = each.get_by_label("Fixed words 1")
        words.fill(f"By {name}")
        words.press("Tab")
        expect(each.get_by_role("button", name="Keep as version 3")).to_be_visible()
    page.get_by_role("button", name="Keep as version 3").click()
    expect(page.get_by_text("kept ✓")).to_be_visible()
    other.get_by_role("button", name=re.compile("Keep as version")).click()
    expect(other.get_by_role("alert")).to_contain_text("Somebody kept version 3")
    expect(other.get_by_label("Fixed words 1")).to_have_value("By other")


def test_who_may_only_look(page):
    """Who may only look sees who needs one, and nothing to press that they may not."""
    sign_in(page, LOOKS)
    page.goto("/cards/gate-card/needed")
    expect(page.get_by_label("Tally")).to_contain_text("adds up ✓")
    expect(page.get_by_role("button", name=re.compile("^(Make|Bring)"))).to_have_count(0)
    page.goto("/cards/gate-card/design")
    expect(page.get_by_role("button", name=re.compile("^(Keep|Undo)"))).to_have_count(0)
    expect(page.get_by_role("spinbutton").first).to_be_disabled()
    page.goto("/cards/no-such-card/needed")
    expect(page.get_by_role("heading", name="This card design cannot be opened")).to_be_visible()


def test_asked_for_by_a_shortlist(college, cards):
    """Those without a photograph are kept as a shortlist; by it they are found again, none of their
    cards can be made, and those of another one are; somebody is looked for in the design; a frame
    is moved by keyboard.
    """
    page = college.new_page()
    sign_in(page, PREPARES)
    page.goto("/cards/gate-card/needed?need=photo")
    page.get_by_role("button", name="Keep these 3 as a shortlist").click()
    expect(
        page.get_by_text(re.compile("Kept as the shortlist “Gate card: no photo"))
    ).to_be_visible()
    page.goto("/cards/gate-card/needed")
    pick(page.get_by_label("Of which shortlist"), re.compile("^Gate card: no photo"))
    expect(page.get_by_role("status").filter(has_text="3 people")).to_be_visible()
    page.get_by_role("button", name="Make cards of these 3 …").click()
    expect(page.get_by_role("alert")).to_contain_text("Nobody of these needs a card")
    page.goto(f"/cards/gate-card/needed?q={cards['make'][0]}")
    page.get_by_role("button", name="Make this card …").click()
    page.get_by_role("dialog").get_by_role("button", name="Make 1 card").click()
    expect(page.get_by_role("heading", name="Run 1")).to_be_visible()
    page.goto("/cards/gate-card/design")
    finder = page.get_by_label("Show somebody’s card")
    finder.fill(cards["make"][1])
    page.locator(".ant-select-dropdown:visible .ant-select-item-option").first.click()
    page.goto(f"/cards/gate-card/needed?q={cards['make'][1]}")
    page.get_by_role("button", name="Move the frame").click()
    frame = page.get_by_role("button", name="Frame of what is shown")
    frame.focus()
    before = frame.get_attribute("style")
    page.keyboard.press("-")
    page.keyboard.press("ArrowDown")
    after = frame.get_attribute("style")
    assert after != before
    page.get_by_role("button", name="Keep it so").click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.reload()
    page.get_by_role("button", name="Move the frame").click()
    assert page.get_by_role("button", name="Frame of what is shown").get_attribute("style") == after
