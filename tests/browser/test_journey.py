"""The main journeys in a real browser, at each page against the truth of the demo's file."""

from __future__ import annotations

import re

import openpyxl
import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import drop, forget, sign_in, tally
from tests.conftest import ADMINISTERS, APPROVES, LOOKS, PREPARES

pytestmark = pytest.mark.browser
PAGES = ("File", "Columns", "Problems", "People", "Changes", "Apply")


def without_zeros(numbers: dict[str, int]) -> dict[str, int]:
    return {name: number for name, number in numbers.items() if number or name == "absent"}


def give_reason(page: Page, act: str, reason: str) -> None:
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Reason").fill(reason)
    dialog.get_by_role("button", name=re.compile(f"^{act} ")).click()
    expect(dialog).not_to_be_visible()


def causes(page: Page):
    return page.get_by_role("region", name="Causes").get_by_role("article")


def test_from_file_to_receipt_and_back(page, made, truth):
    """Sign in, drop, settle, apply, receipt, find a person, take back; the tally adds up to the
    rows read on every page.
    """
    expected = truth["tally"]
    sign_in(page, APPROVES)
    drop(page, made / "september-joiners.xlsx")
    forget(page)
    expect(page.get_by_role("heading", name="September joiners → Cadets")).to_be_visible()
    for name in PAGES:
        page.get_by_role("navigation", name="This intake").get_by_role(
            "link", name=re.compile(f"^{name}")
        ).click()
        assert tally(page) == without_zeros(expected), name

    # One click settles the 17 rows of the commonest cause.
    page.get_by_role("link", name=re.compile("^Problems")).click()
    causes(page).first.get_by_role("button", name="Use DECK for 17").click()
    expect(page.get_by_text("11 rows stopped by 10 causes")).to_be_visible()
    after = tally(page)
    assert after["stopped"] == expected["stopped"] - 17
    assert after["new"] == expected["new"] + 17

    # The five ports by their remedy; the nine outside the home area with a reason; all the rest is
    # held.
    causes(page).filter(has_text="Home port spelt another way").get_by_role(
        "button", name="Use SKV for 5"
    ).click()
    expect(page.get_by_text("Home port spelt another way")).not_to_be_visible()
    outside = causes(page).filter(has_text="Home port outside the home area")
    outside.get_by_role("button", name=re.compile("Home port outside")).click()
    outside.get_by_role("button", name="Approve 9 with a reason").click()
    give_reason(page, "Approve", "boarding agreed")
    expect(page.get_by_text("Approved with a reason: 9")).to_be_visible()
    assert "waiting" not in tally(page)
    while causes(page).count():
        first = causes(page).first
        title = first.get_by_role("button").first.inner_text()
        first.get_by_role("button").first.click()
        first.get_by_role("button", name=re.compile(r"^Hold \d")).click()
        give_reason(page, "Hold", "asked the office")
        expect(causes(page).filter(has_text=title.splitlines()[0]).first).not_to_be_visible()
    expect(page.get_by_text("Nothing stops a row.")).to_be_visible()
    settled = tally(page)
    assert (
        settled["new"] + settled["held"]
        == expected["read"] - expected["same"] - expected["changed"]
    )

    # What would change, in sentences with numbers that open to names.
    page.get_by_role("link", name=re.compile("^Review")).click()
    going = settled["new"] + settled["changed"]
    expect(page.get_by_role("link", name=f"{settled['new']} people join")).to_be_visible()
    expect(
        page.get_by_text(
            f"1,240 records today, {settled['new']} more: {1240 + settled['new']:,} afterwards."
        )
    ).to_be_visible()
    page.get_by_role("button", name=f"Apply {going} rows").click()

    # The receipt, read back.
    expect(
        page.get_by_role("heading", name=f"{going + settled['same']} of 348 rows are in the roster")
    ).to_be_visible()
    joined = page.get_by_role("row").filter(has_text="joined")
    expect(joined.get_by_role("cell").nth(1)).to_have_text(str(settled["new"]))
    expect(joined.get_by_role("cell").nth(2)).to_have_text(str(settled["new"]))
    expect(
        page.get_by_role("row").filter(has_text="rows read").get_by_role("cell").last
    ).to_have_text("adds up")
    assert tally(page) == settled

    # Where did a line end up, and the person in the roster.
    line = next(line for line, outcome in truth["outcomes"].items() if outcome == "new")
    page.get_by_label("Where did a line end up?").fill(line)
    page.keyboard.press("Enter")
    expect(page.get_by_text("It joined the roster.")).to_be_visible()
    page.get_by_label("Where did a line end up?").blur()
    page.keyboard.press("/")
    page.keyboard.type(truth["people"][line])
    expect(page.get_by_role("option")).to_have_count(1)
    page.keyboard.press("Enter")
    life = page.get_by_label("The record’s life")
    expect(life.get_by_text(truth["people"][line]).first).to_be_visible()
    expect(life.get_by_role("link", name=f"september-joiners.xlsx, line {line}")).to_be_visible()
    expect(page.get_by_text(f"{1240 + settled['new']:,} records")).to_be_visible()

    # Taken back: the roster as it was, the intake as it was settled.
    life.get_by_role("link", name=re.compile("^receipt")).first.click()
    page.get_by_role("link", name="Take back …").click()
    page.get_by_role("button", name=f"Take back {going} records").click()
    expect(page.get_by_role("heading", name=re.compile("^Taken back"))).to_be_visible()
    page.get_by_role("link", name="Rosters").click()
    expect(page.get_by_role("row", name=re.compile("^Cadets"))).to_contain_text("1,240")
    page.get_by_role("link", name="Intakes").click()
    page.get_by_role("link", name="September joiners").first.click()
    assert tally(page) == settled


def test_by_keyboard(page, made, truth):
    """The repeated act needs no mouse: causes, rows, accept, hold, undo, redo, edit."""
    sign_in(page, APPROVES)
    drop(page, made / "september-joiners.csv")
    forget(page)
    expect(page.get_by_text("28 rows stopped by 11 causes")).to_be_visible()
    rows = page.get_by_role("grid", name="Rows")
    expect(rows.get_by_role("row", selected=True)).to_be_visible()
    page.keyboard.press("Enter")  # accept what is proposed for the row
    expect(page.get_by_text("27 rows stopped by 11 causes")).to_be_visible()
    page.keyboard.press("h")
    expect(page.get_by_role("dialog").get_by_label("Reason")).to_be_focused()
    page.keyboard.type("letter due")
    page.keyboard.press("Enter")
    expect(page.get_by_text("26 rows stopped by 11 causes")).to_be_visible()
    assert tally(page)["held"] == 1
    # keys act again once the dialog has gone, which takes a moment on a busy machine
    expect(page.get_by_role("dialog")).to_have_count(0)
    page.keyboard.press("z")
    expect(page.get_by_text("27 rows stopped by 11 causes")).to_be_visible()
    page.keyboard.press("z")
    expect(page.get_by_text("28 rows stopped by 11 causes")).to_be_visible()
    assert tally(page) == without_zeros(truth["tally"])
    page.keyboard.press("y")
    expect(page.get_by_text("27 rows stopped by 11 causes")).to_be_visible()

    page.keyboard.press(".")  # the next cause: the home ports
    selected = rows.get_by_role("row", selected=True)
    expect(selected).to_contain_text("SKV")
    expect(
        causes(page).filter(has_text="Home port spelt another way").get_by_role("button").first
    ).to_contain_text("5")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("e")
    editor = page.get_by_label("The row in full").get_by_role("combobox")
    expect(editor).to_be_focused()
    page.keyboard.type("Dunsea")
    page.keyboard.press("Enter")
    expect(
        causes(page).filter(has_text="Home port spelt another way").get_by_role("button").first
    ).to_contain_text("4")
    page.keyboard.press("?")
    expect(page.get_by_role("dialog")).to_contain_text("undo")


def test_address_holds_the_place(page, made):
    """A link to a cause, an outcome or a line opens there again, for a colleague too."""
    sign_in(page, APPROVES)
    drop(page, made / "september-joiners.xlsx")
    forget(page)
    expect(page.get_by_text("28 rows stopped")).to_be_visible()
    page.get_by_label("Tally").get_by_role("button", name=re.compile("waiting")).click()
    expect(page.get_by_text("9 rows waiting")).to_be_visible()
    page.reload()
    expect(page.get_by_text("9 rows waiting")).to_be_visible()
    page.keyboard.press("/")
    page.keyboard.type("line 44")
    expect(page.get_by_role("option").first).to_contain_text("Line 44")
    page.keyboard.press("Enter")
    expect(page.get_by_label("The row in full")).to_contain_text("line 44")


def test_lookers_see_and_touch_nothing(page, made):
    """Who may only look is offered nothing that would be refused, and is told who can."""
    sign_in(page, PREPARES)
    drop(page, made / "september-joiners.xlsx")
    forget(page)
    expect(page.get_by_role("button", name="Use DECK for 17")).to_be_enabled()
    intake = page.url.rsplit("/", 1)[0]
    page.get_by_role("link", name=re.compile("^Review")).click()
    expect(page.get_by_text("propose it, and somebody who may can approve it")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile(r"^Propose \d"))).to_be_enabled()
    expect(page.get_by_role("button", name=re.compile(r"^Apply \d"))).to_have_count(0)
    page.get_by_role("button", name="Sign out").click()

    sign_in(page, LOOKS)
    expect(page.get_by_role("button", name="Upload file")).to_have_count(0)
    drop(page, made / "september-joiners.xlsx")
    expect(page.get_by_role("dialog")).to_contain_text("may look only")
    page.get_by_role("button", name="Close").first.click()
    page.goto(f"{intake}/problems")
    expect(page.get_by_role("button", name="Use DECK for 17")).to_be_disabled()
    expect(
        page.get_by_label("The row in full").get_by_role("button", name=re.compile("^Hold"))
    ).to_be_disabled()
    expect(page.get_by_role("button", name="Undo")).to_have_count(0)


@pytest.mark.parametrize(
    ("name", "content", "said"),
    [
        ("empty.csv", b"", "is empty"),
        (
            "picture.csv",
            b"\x89PNG\r\n\x1a\n" + b"\0" * 100,
            "This is a picture (PNG), not a table.",
        ),
        ("colours.csv", b"Colour,Weight\nred,12\n", "The columns fit no roster"),
    ],
)
def test_bad_file_is_one_sentence(page, tmp_path, name, content, said):
    """A file that cannot be taken in is answered at once in one sentence, and the desk stays as
    it was.
    """
    (tmp_path / name).write_bytes(content)
    sign_in(page, APPROVES)
    drop(page, tmp_path / name)
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text(said)
    expect(dialog).to_contain_text(f"“{name}” was not taken in")
    page.keyboard.press("Escape")
    expect(dialog).not_to_be_visible()


def test_code_list_is_edited(page):
    """A code is added by who administers, kept, and there after loading again."""
    sign_in(page, ADMINISTERS)
    page.goto("/codes/home_port")
    count = page.get_by_text(re.compile(r"^\d+ codes ·"))  # others of the site add some
    before = int(re.match(r"\d+", count.inner_text())[0])
    page.get_by_role("button", name="Add a code").click()
    page.get_by_label("Code", exact=True).last.fill("ZSW")
    page.get_by_label("Label of ZSW").fill("Zennor Sands")
    page.get_by_role("button", name="Keep changes").click()
    expect(page.get_by_text(f"{before + 1} codes kept.")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Label of ZSW")).to_have_value("Zennor Sands")


NAMELESS = """() => [...document.querySelectorAll('button, a, input, select, textarea')].filter((one) => {
    const label = one.labels?.length ? one.labels[0].textContent : ''
    const said = one.textContent.trim() || one.getAttribute('aria-label') || one.title || label || one.placeholder
    return one.offsetParent !== null && !said
}).map((one) => one.outerHTML)"""  # noqa: E501


def test_everything_has_a_name(page):
    """Every button, link and field of every page has a name for a screen reader, and every page
    says what is there.
    """
    sign_in(page, ADMINISTERS)
    for path, there in [
        ("/", "Open on your desk"),
        ("/intakes", "Intakes"),
        ("/rosters", "Rosters"),
        ("/rosters/cadets?record=5", "Its life"),
        ("/codes/watch", "Watch"),
        ("/receipts/1", "Opening of the roster"),
        ("/nowhere", "There is nothing at this address"),
    ]:
        page.goto(path)
        expect(page.get_by_role("heading", name=there).first).to_be_visible()
        assert page.evaluate(NAMELESS) == [], path


def test_error_sheet_goes_out_and_comes_back(page, made, truth, tmp_path):
    """The sheet is downloaded, corrected as an office would, dropped on the desk, and lands on
    its rows; undo takes it back.
    """
    sign_in(page, APPROVES)
    drop(page, made / "september-joiners.xlsx")
    forget(page)
    expect(page.get_by_text("28 rows stopped by 11 causes")).to_be_visible()
    page.get_by_role("button", name="Download error sheet").click()
    with page.expect_download() as waiting:
        page.get_by_role("menuitem", name="XLSX").click()
    sheet = tmp_path / "errors.xlsx"
    waiting.value.save_as(sheet)
    book = openpyxl.load_workbook(sheet)
    cells = book.active
    course = next(cell.column for cell in cells[1] if cell.value == "Course")
    right = {
        line: values["programme"]
        for line, values in truth["right"].items()
        if "programme" in values
    }
    for row in range(2, cells.max_row + 1):
        if str(cells.cell(row, 1).value) in right:
            cells.cell(row, course).value = right[str(cells.cell(row, 1).value)]
    book.save(sheet)
    page.get_by_role("link", name="Desk").click()
    drop(page, sheet)
    dialog = page.get_by_role("dialog", name="The corrected sheet came back")
    expect(dialog).to_contain_text("17 rows corrected: they go in now")
    expect(dialog).to_contain_text("20 rows came back as they were")
    dialog.get_by_role("button", name="Look at the rows").click()
    expect(dialog).not_to_be_visible()
    expect(page.get_by_text("11 rows stopped by 10 causes")).to_be_visible()
    assert tally(page)["new"] == truth["tally"]["new"] + 17
    page.keyboard.press("z")
    expect(page.get_by_text("28 rows stopped by 11 causes")).to_be_visible()
    assert tally(page) == without_zeros(truth["tally"])
