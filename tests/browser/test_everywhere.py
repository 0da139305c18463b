"""Every page of the product, as everybody can use it: nothing that the Web Content Accessibility
Guidelines 2.2 (A and AA) forbid and a program can see, in light and dark, with data, empty, and
with dialogs open; small on the wire; with a title and one heading of its own.
"""

from __future__ import annotations

import os
import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import drop, forget, opened, sign_in
from tests.conftest import ADMINISTERS, ROOT

pytestmark = pytest.mark.browser

AXE = (ROOT / "frontend/node_modules/axe-core/axe.min.js").read_text()
LONG = os.environ.get("NEVEFIELD_EXAMPLES") == "long"
MAIN = [
    "^$",
    "^rosters/cadets$",
    r"intakes/\d+/(problems|changes)",
    "^submissions/1/rejected",
    "^cards/gate-card/design",
    "^passing/directory",
    "^setup/people",
]
RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
PAGES = [
    "/",
    "/intakes",
    "/sources",
    "/sources/1",
    "/rosters",
    "/rosters/cadets",
    "/rosters/cadets?record=1",
    "/rosters/cadets?q=nobody-has-this-name",
    "/rosters/cadets/compare",
    "/rosters/cadets/doubles",
    "/rosters/cadets/waivers",
    "/rosters/cadets/over-time",
    "/rosters/cadets/definition",
    "/rosters/cadets/letters",
    "/groups/cadets/watch",
    "/groups/staff/role",
    "/groups/cadets/watch/spread",
    "/codes",
    "/codes/home_port",
    "/submissions",
    "/submissions/begin",
    "/submissions/1/contents",
    "/submissions/1/before",
    "/submissions/1/rejected",
    "/submissions/1/numbers",
    "/submissions/1/rounds",
    "/cards",
    "/cards/gate-card/needed",
    "/cards/gate-card/design",
    "/cards/gate-card/runs",
    "/cards/gate-card/ranges",
    "/passing/directory",
    "/passing/library",
    "/receipts/1",
    "/receipts/2/undo",
    "/unforeseen",
    "/openings/from-nothing",
    "/openings/999999",
    "/password",
    "/setup/people",
    "/setup/programs",
    "/setup/trail",
    "/setup/looked",
    "/setup/institution",
    "/setup/keeping",
    "/setup/copies",
    "/setup/practice",
    "/setup/mail",
    "/passing/simulator",
    "/yours#unknown",
    "/no-such-place",
]
OF_INTAKE = ["file", "columns", "problems", "people", "changes", "rehearsal", "apply"]
# What is opened on a page, by the words on it.
OPENED = {
    "/rosters/cadets": [
        "Change many …",
        "Keep as a shortlist …",
        "Write to them …",
        "Request sheet",
        "Download",
        "History",
        "As of another day",
        re.compile("^Columns"),
    ],
    "/rosters/cadets/definition": ["Known by, and approval"],
    "/codes/home_port": ["Merge or retire", "Add a code"],
    "/groups/cadets/watch": ["+ Another rule", "Another day"],
    "/setup/people": ["Invite somebody", "R. Tamm"],
    "/setup/programs": ["Add a program"],
    "/setup/trail": ["Check the chain"],
    "/cards": ["Begin another design …"],
    "/cards/gate-card/needed": ["Bring photographs …", re.compile("^Make 37 cards")],
    "/cards/gate-card/needed?need=has": ["Lost"],
    "/cards/gate-card/design": ["Versions", "set a condition"],
    "/passing/directory": ["Another …"],
    "/password": ["Set up a second step"],
    "/submissions/1/contents": ["Rename", re.compile("^Send round")],
}
OF_INTAKE_OPENED = {
    "people": [re.compile("^Known by"), "When to match automatically"],
    "file": ["It is from somewhere else"],
    "problems": ["Download error sheet"],
}
NARROW = {"width": 320, "height": 640}  # WCAG 2.2, 1.4.10: 1280 pixels at 400%
BEYOND = """() => {
    const wide = document.documentElement.clientWidth
    const scrolls = (one) => {
        for (let at = one.parentElement; at && at !== document.body; at = at.parentElement)
            if (/auto|scroll|hidden/.test(getComputedStyle(at).overflowX)) return true
        return false
    }
    return [...document.querySelectorAll('body *')].filter((one) => {
        const box = one.getBoundingClientRect()
        return box.width && box.height && box.right > wide + 1 && !scrolls(one)
    }).map((one) => `${one.tagName} ${one.className} ends at ${one.getBoundingClientRect().right}`)
}"""
# A place that scrolls in both directions is a table; everything else comes one under the other.
ACROSS = """() => [...document.querySelectorAll('main, main *')].filter((one) =>
    one.scrollWidth > one.clientWidth + 1
    && /auto|scroll/.test(getComputedStyle(one).overflowX)
    && !one.matches('[role=grid], [role=table], pre, textarea')
    && !one.querySelector(':scope > table, :scope > [role=table]')
    ).map((one) => `${one.tagName} ${one.className} scrolls across`)"""
# What stands in a place ends in it, or the place scrolls; else it is written over what comes next.
SPILLS = """() => [...document.querySelectorAll('main, main *')].filter((one) => {
    const style = getComputedStyle(one)
    return one instanceof HTMLElement && one.clientHeight
        && style.overflowY === 'visible' && one.scrollHeight > one.clientHeight + 8
}).map((one) => `${one.tagName} ${one.className} spills ${one.scrollHeight - one.clientHeight}`)"""
KILOBYTES = {"/": 200}  # of script on the wire at first view
MOST_KILOBYTES = 300


def is_main(path: str) -> bool:
    """Tell whether a page, without the slash before it, is one of the main ones."""
    return any(re.search(main, path) for main in MAIN)


def settled(page: Page) -> None:
    page.wait_for_load_state("networkidle")
    expect(page.locator("[aria-busy=true]")).to_have_count(0)


def violations(page: Page) -> list[str]:
    """What the rules of the guidelines say against the page as it stands, in light and dark; in the
    dark all pages in the long run, else the main ones.
    """
    said = []
    is_dark_too = LONG or is_main(page.url.split("/", 3)[-1])
    for scheme in ("light", "dark") if is_dark_too else ("light",):
        page.emulate_media(color_scheme=scheme)
        # colours that go over into each other are none yet
        page.evaluate("Promise.allSettled(document.getAnimations().map((one) => one.finished))")
        page.evaluate(f"{AXE}; undefined")
        said += page.evaluate(
            """async ([tags, scheme]) => {
                // nothing but colours is another in the dark
                const run = scheme === 'dark' ? ['color-contrast'] : tags
                const found = await axe.run(document, { runOnly: run })
                return found.violations.flatMap((rule) => rule.nodes.map((node) =>
                    `${scheme} ${location.pathname} ${rule.id}: ${node.html.slice(0, 160)} ` +
                    `(${[...node.any, ...node.all, ...node.none][0]?.message ?? ''})`))
            }""",
            [RULES, scheme],
        )
    page.emulate_media(color_scheme="light")
    return said


def uncovered(page: Page, path: str, buttons: list) -> Iterator[str]:
    """Open what can be opened on a page, one after the other."""
    for name in buttons:
        page.goto(path)
        settled(page)
        page.get_by_role("button", name=name).first.click()
        page.wait_for_timeout(300)
        yield str(name)


@pytest.fixture
def intake(page, made):
    """The address of September's file, with everything still to be settled."""
    sign_in(page, ADMINISTERS)
    drop(page, made / "september-joiners.xlsx")
    forget(page)
    return re.match(r"(.*/intakes/\d+)/", page.url)[1]


def script_bytes(page: Page) -> int:
    """What was loaded of scripts for a page, as it is sent to who comes for the first time."""
    return page.evaluate(
        """() => performance.getEntriesByType('resource')
            .filter((one) => one.name.endsWith('.js'))
            .reduce((sum, one) => sum + one.encodedBodySize, 0)"""
    )


def test_every_page(page, intake):
    """No page violates a rule, whatever stands on it; every one has one heading of the first rank
    and a title that is its own, and is small on the wire for who comes for the first time. Nothing
    is written over anything else; at 320 pixels nothing lies beyond the edge, and only tables
    scroll across.
    """
    titles: dict[str, str] = {}
    said, wrong, heavy = [], [], {}
    wide = page.viewport_size
    for path in [*PAGES, *(f"{intake}/{one}" for one in OF_INTAKE)]:
        page.goto("about:blank")  # also where only what follows the # is another
        page.goto(path)
        settled(page)
        size = script_bytes(page)
        assert size > 20_000  # it was measured
        if size > 1000 * KILOBYTES.get(path, MOST_KILOBYTES):
            heavy[path] = size
        said += violations(page)
        if (number := page.locator("h1").count()) != 1:
            wrong.append(f"{path} has {number} headings of the first rank")
        wrong += [f"{path}: {one}" for one in page.evaluate(SPILLS)[:5]]
        page.set_viewport_size(NARROW)
        found = [*page.evaluate(BEYOND), *page.evaluate(ACROSS), *page.evaluate(SPILLS)]
        wrong += [f"{path} is too wide: {one}" for one in found[:5]]
        page.set_viewport_size(wide)
        address = path.split("?")[0]
        if titles.setdefault(page.title(), address) != address:
            wrong.append(f"{path} is called “{page.title()}”, as another is")
    assert (said, wrong, heavy) == ([], [], {})
    page.goto(f"{intake}/problems")
    settled(page)
    for key in ("Enter", "?"):
        page.locator("body").press(key)
        page.wait_for_timeout(300)
        assert violations(page) == []


def test_first_visit_is_silent(chromium, site):
    """Who comes for the first time finds nothing in the console, not even that nobody is signed
    in.
    """
    with opened(chromium, site) as context:
        said: list[str] = []
        first = context.new_page()
        first.on("console", lambda one: said.append(one.text))
        first.goto("/")
        settled(first)
        expect(first.get_by_role("button", name="Sign in")).to_be_visible()
        assert said == []


def test_dialogs_are_in_nobodys_way(page, intake):
    """Nor does anything that opens on a page: on all in the long run, else on the main ones."""
    said = []
    of_intake = {f"{intake}/{place}": buttons for place, buttons in OF_INTAKE_OPENED.items()}
    for path, buttons in {**OPENED, **of_intake}.items():
        if not (LONG or is_main(path.removeprefix("/"))):
            continue
        for name in uncovered(page, path, buttons):
            said += [f"{name}: {one}" for one in violations(page)]
    page.goto("/")
    page.get_by_label("Find a person").fill("Lund")
    expect(page.get_by_role("option").first).to_be_visible()
    said += violations(page)
    assert said == []


def test_keys_are_everybodys_own(page, made):
    """A key is changed, single keys are switched off: they act and are shown so, also after a
    reload, and in nobody else's window.
    """
    sign_in(page, ADMINISTERS)
    drop(page, made / "regatta-crew.csv")
    page.get_by_role("link", name=re.compile("^People")).click()
    hold = page.get_by_role("button", name=re.compile("^Hold with a reason"))
    asked = page.get_by_role("dialog", name="Hold 1 row")
    expect(hold.locator("kbd")).to_have_text("H")
    page.locator("body").press("?")
    sheet = page.get_by_role("dialog", name="Keys")
    sheet.get_by_role("button", name="H: change it").click()
    page.keyboard.press("l")
    expect(sheet.get_by_role("alert")).to_contain_text("leave the row out")
    sheet.get_by_role("button", name="H: change it").click()
    page.keyboard.press("j")
    expect(sheet.get_by_role("button", name="J: change it")).to_be_visible()
    page.keyboard.press("Escape")
    expect(sheet).not_to_be_visible()
    page.reload()
    expect(hold.locator("kbd")).to_have_text("J")
    page.locator("body").press("h")
    expect(asked).not_to_be_visible()
    page.locator("body").press("j")
    expect(asked).to_be_visible()
    page.keyboard.press("Escape")

    page.get_by_role("banner").get_by_role("button", name="Keys").click()
    sheet.get_by_label("Letters, digits and signs act alone").uncheck()
    page.keyboard.press("Escape")
    expect(hold.locator("kbd")).to_have_count(0)
    page.locator("body").press("j")
    expect(asked).not_to_be_visible()

    # others of the file's tests work with the keys as they are
    page.get_by_role("banner").get_by_role("button", name="Keys").click()
    sheet.get_by_label("Letters, digits and signs act alone").check()
    sheet.get_by_role("button", name="All keys as they were").click()
    expect(sheet.get_by_role("button", name="H: change it")).to_be_visible()
    page.keyboard.press("Escape")  # nothing has the focus
    expect(sheet).not_to_be_visible()
    expect(hold.locator("kbd")).to_have_text("H")


def test_a_held_key_acts_once(page, intake):
    """A key that rests under a hand, or a book, settles one cause and not what comes after it."""
    page.goto(f"{intake}/problems")
    settled(page)

    def steps() -> int:
        return page.evaluate(
            """async (id) => (await (await fetch(`/api/intakes/${id}`)).json()).log.length""",
            intake.rsplit("/", 1)[1],
        )

    before = steps()
    for _ in range(30):
        page.keyboard.down("Enter")  # after the first, each is a repeat
        page.wait_for_timeout(60)
    page.keyboard.up("Enter")
    settled(page)
    assert steps() == before + 1


def test_a_held_key_presses_no_button_again(page, site):
    """A button that stays where it is does once what it does, while Enter rests on it."""
    sign_in(page, ADMINISTERS)
    page.goto("/codes/chapter")
    codes = page.get_by_label("Code", exact=True)
    expect(codes.first).to_be_visible()
    before = codes.count()
    page.get_by_role("button", name="Add a code").focus()
    for _ in range(20):
        page.keyboard.down("Enter")
    page.keyboard.up("Enter")
    expect(codes).to_have_count(before + 1)


def test_while_loading(page, intake):
    """While a page waits for its answers it violates no rule either, and says that it waits or
    shows nothing that is not there.
    """
    page.route(
        "**/api/**",
        lambda route: None if "/api/session" not in route.request.url else route.continue_(),
    )
    said = []
    for path in [
        "/",
        "/rosters/cadets",
        "/codes/home_port",
        "/groups/cadets/watch",
        "/setup/people",
        "/setup/trail",
        "/openings/1",
        "/submissions/1/rejected",
        f"{intake}/problems",
        f"{intake}/apply",
    ]:
        page.goto(path, wait_until="commit")
        page.get_by_role("navigation", name="Places").wait_for()
        page.wait_for_timeout(600)
        said += violations(page)
    page.unroute_all(behavior="ignoreErrors")
    assert said == []
