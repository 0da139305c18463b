"""A served product with the demo in it, and a real browser."""

from __future__ import annotations

import re
import shutil
import signal
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import httpx
import pytest
from playwright.sync_api import Browser, BrowserContext, Locator, Page, expect, sync_playwright

from nevefield.context import Context
from nevefield.core.codes import CodeList
from nevefield.rosters.coding import list_codes
from nevefield.rosters.looking import list_seen
from nevefield.rosters.opening import open_roster_with
from nevefield.run.server import free_port
from nevefield.store.rosters import replace_code_list
from tests.conftest import APPROVES, PASSWORDS, ROOT, once_for_all

FLAGS = [
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
    "--disable-quic",
]
# A refusal is the page's own affair, and a connection is cut on purpose.
EXPECTED = "status of 4|ERR_INTERNET_DISCONNECTED"
# What no page may show anybody: a value that is not there, written out. Said as an error, so that
# the test that saw it fails, whatever it was looking at.
NO_VALUE = """
    const wrong = /\\b(NaN|undefined|null|Invalid Date)\\b|\\[object /
    const look = (node) => {
        if (node.nodeType === Node.TEXT_NODE) {
            if (wrong.test(node.data)) console.error(`shown: ${node.data.trim()}`)
        } else if (!["SCRIPT", "STYLE", "TEXTAREA"].includes(node.nodeName)) {
            node.childNodes.forEach(look)
        }
    }
    new MutationObserver((seen) => {
        for (const one of seen) {
            if (one.type === "characterData") look(one.target)
            else one.addedNodes.forEach(look)
        }
    }).observe(document, { childList: true, characterData: true, subtree: true })
"""
PATIENCE = 90_000  # milliseconds; no test of speed: a busy machine takes its time
expect.set_options(timeout=PATIENCE)


@contextmanager
def opened(chromium: Browser, address: str) -> Iterator[BrowserContext]:
    """Somebody's browser, at the size that the product is drawn for; errors in the console of any
    of its pages fail the test.
    """
    context = chromium.new_context(viewport={"width": 1280, "height": 800}, base_url=address)
    context.set_default_timeout(PATIENCE)
    context.add_init_script(NO_VALUE)
    errors: list[str] = []
    context.on("weberror", lambda one: errors.append(str(one.error)))
    context.on(
        "console",
        lambda said: (
            errors.append(said.text)
            if said.type == "error" and not re.search(EXPECTED, said.text)
            else None
        ),
    )
    yield context
    context.close()
    assert errors == []


@contextmanager
def served(data: Path, *options: str) -> Iterator[str]:
    """Serve a Nevefield as `./start` does, with all that it keeps in a directory; gives its
    address.
    """
    assert (ROOT / "frontend" / "dist" / "index.html").exists(), (
        "the front end is not built; ./test builds it"
    )
    port = free_port()
    program = Path(sys.executable).with_name("nevefield")
    log = (data / "log").open("wb")
    process = subprocess.Popen(
        [program, "serve", "--port", str(port), "--data", str(data), *options],
        stdout=log,
        stderr=log,
    )
    address = f"http://127.0.0.1:{port}"
    deadline = time.monotonic() + 400  # a busy machine loads the demo slowly
    while True:
        assert process.poll() is None, (data / "log").read_text()
        assert time.monotonic() < deadline, (data / "log").read_text()
        try:
            urllib.request.urlopen(f"{address}/api/health", timeout=2)
            break
        except OSError:
            time.sleep(0.2)
    try:
        yield address
    finally:
        process.send_signal(signal.SIGTERM)
        ended = process.wait(60)
    assert ended == 0


@pytest.fixture(scope="session")
def seed(tmp_path_factory):
    """Everything that a Nevefield keeps once its demo is loaded, by whichever process of the tests
    comes first; it is stopped, and copied wherever one is served.
    """
    with once_for_all(tmp_path_factory, "seed") as (place, is_first):
        if is_first:
            with served(place) as address:
                wait_until_told(address)
    return place


BY_THEMSELVES = ("after every receipt", "each minute")


def wait_until_told(address: str) -> None:
    """Wait until the destinations that are told by themselves are: a copy has nothing to tell."""
    client = httpx.Client(base_url=address, timeout=60)
    client.post("/api/session", json={"name": APPROVES, "password": PASSWORDS[APPROVES]})
    for _ in range(240):
        found = client.get("/api/destinations").json()["destinations"]
        if not sum(one["counts"]["to send"] for one in found if one["told"] in BY_THEMSELVES):
            return
        time.sleep(0.5)
    raise AssertionError("The demo's destinations were not told in two minutes.")


@pytest.fixture(scope="session")
def kept(seed, tmp_path_factory):
    """Where the served product keeps everything: its database with its log, and what it prints."""
    return shutil.copytree(seed, tmp_path_factory.mktemp("kept") / "site")


@pytest.fixture(scope="session")
def site(kept):
    """The address of a Nevefield of the tests' own, for all journeys: each takes back what it
    applied.
    """
    with served(kept) as address:
        yield address


@pytest.fixture(scope="module")
def shared_place(seed, tmp_path_factory):
    """Where the Nevefield of a module keeps everything."""
    return shutil.copytree(seed, tmp_path_factory.mktemp("shared") / "site")


@pytest.fixture(scope="module")
def shared(shared_place):
    """The address of a Nevefield for the journeys of one module, which do not meet."""
    with served(shared_place) as address:
        yield address


@pytest.fixture
def college(shared, chromium):
    """Somebody's browser at the Nevefield of the module."""
    with opened(chromium, shared) as context:
        yield context


@pytest.fixture
def fresh(seed, tmp_path, chromium):
    """Somebody's browser at a Nevefield of the test's own."""
    place = shutil.copytree(seed, tmp_path / "site")
    with served(place) as address, opened(chromium, address) as context:
        yield context


@pytest.fixture(scope="session")
def chromium():
    """Debian's Chromium."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
        yield browser
        browser.close()


@pytest.fixture
def page(site, chromium):
    """A window of somebody's."""
    with opened(chromium, site) as context:
        yield context.new_page()


@pytest.fixture
def other(site, chromium):
    """A window of another person's, on the same Nevefield."""
    with opened(chromium, site) as context:
        yield context.new_page()


def sign_in(page: Page, name: str) -> None:
    page.goto("/")
    page.get_by_label("Sign-in name").fill(name)
    page.get_by_label("Password").fill(PASSWORDS[name])
    page.get_by_role("button", name="Sign in").click()
    expect(page.get_by_role("navigation", name="Places")).to_be_visible()


def pick(box: Locator, choice: str | re.Pattern[str]) -> None:
    """Choose of a list by the words that are shown; a longer list is searched for them."""
    page = box.page
    box.click() if box.get_attribute("type") == "button" else _frame(box).click()
    if isinstance(choice, str) and box.is_editable():
        box.fill(choice)
    shown = page.locator(".ant-select-dropdown:visible .ant-select-item-option")
    whole = re.compile(f"^{re.escape(choice)}$") if isinstance(choice, str) else choice
    shown.filter(has_text=whole).click()


def picked(box: Locator) -> Locator:
    """What is chosen of a list, as it is shown."""
    return _frame(box).locator(".stand-in > span, .ant-select-selection-item")


def _frame(box: Locator) -> Locator:
    """What stands around a list: the list itself is there once it was opened."""
    return box.locator("xpath=ancestor::*[contains(@class, 'choose')][1]")


def set_day(box: Locator, day: str) -> None:
    """Type a day into its field."""
    box.click()  # what is typed is taken from the focus on
    box.fill(day)
    box.press("Enter")


def drop(page: Page, path: Path) -> None:
    """Drop a file onto the page, as from a folder's window."""
    content = list(path.read_bytes())
    page.evaluate(
        """([name, bytes]) => {
            const files = new DataTransfer()
            files.items.add(new File([new Uint8Array(bytes)], name))
            for (const kind of ['dragenter', 'dragover', 'drop'])
                window.dispatchEvent(new DragEvent(kind, { dataTransfer: files, bubbles: true, cancelable: true }))
        }""",  # noqa: E501
        [path.name, content],
    )


def forget(page: Page) -> None:
    """Take back what was learnt from files that other tests applied: the file is as for the
    first time.
    """
    page.wait_for_url(re.compile(r"/intakes/\d+/problems"))
    expect(page.get_by_label("Tally")).to_be_visible()
    page.evaluate(
        """async (intake) => {
            const get = async (path) => (await fetch(path)).json()
            const { token } = await get('/api/session')
            const { recipe_step } = await get(`/api/intakes/${intake}`)
            if (recipe_step) await fetch(`/api/intakes/${intake}/steps`, {
                method: 'POST',
                headers: { 'Content-Type': 'application/json', 'X-Nevefield-Token': token },
                body: JSON.stringify({ step: { kind: 'undo', step: recipe_step } }),
            })
        }""",
        page.url.split("/intakes/")[1].split("/")[0],
    )
    page.reload()


def call(page: Page, method: str, path: str, document: object = None) -> Any:
    """Ask the API as whoever is signed in: for what a journey begins with and is not about."""
    return page.evaluate(
        """async ([method, path, body]) => {
            const { token } = await (await fetch('/api/session')).json()
            const answer = await fetch(path, {
                method,
                headers: { 'Content-Type': 'application/json', 'X-Nevefield-Token': token },
                body: body === null ? undefined : JSON.stringify(body),
            })
            if (!answer.ok) throw new Error(await answer.text())
            return answer.status === 204 ? null : answer.json()
        }""",
        [method, path, document],
    )


def upload(page: Page, name: str, text: str, **fields: str) -> int:
    """Send a file as the front end does; gives the intake."""
    return page.evaluate(
        """async ([name, text, fields]) => {
            const { token } = await (await fetch('/api/session')).json()
            const form = new FormData()
            form.append('file', new File([text], name))
            for (const [key, value] of Object.entries(fields)) form.append(key, value)
            const answer = await fetch('/api/intakes', { method: 'POST', headers: { 'X-Nevefield-Token': token }, body: form })
            if (!answer.ok) throw new Error(await answer.text())
            return (await answer.json()).intake
        }""",  # noqa: E501
        [name, text, fields],
    )


def tally(page: Page) -> dict[str, int]:
    """Read the core at the left: rows read, each layer, absent; and see that it says it adds up."""
    core = page.get_by_label("Tally")
    expect(core).to_have_attribute("aria-busy", "false")
    expect(core.get_by_text("adds up ✓")).to_be_visible()
    found = {}
    for text in core.get_by_role("button").all_inner_texts():
        if layer := re.fullmatch(
            r"([\d,]+)\s*(rows read|new|changed|same|waiting|stopped|held|left out|absent)",
            text.strip(),
        ):
            found[layer[2].replace("rows read", "read").replace(" ", "_")] = int(
                layer[1].replace(",", "")
            )
    parts = [
        found.get(name, 0)
        for name in ("new", "changed", "same", "waiting", "stopped", "held", "left_out")
    ]
    assert sum(parts) == found["read"]
    return found


def tab(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="This intake").get_by_role(
        "link", name=re.compile(f"^{name}")
    ).click()


def apply(page: Page) -> int:
    """Apply what stands on the Apply page, a typed number where it is asked for; give the
    receipt's number.
    """
    tab(page, "Apply")
    button = page.get_by_role("button", name=re.compile(r"^Apply [\d,]+ row"))
    expect(button).to_be_visible()
    if (ask := page.get_by_label(re.compile("to say that you mean it"))).count():
        ask.fill(re.search(r"[\d,]+", button.inner_text())[0])
    button.click()
    back = page.get_by_role("link", name="Take back …")
    expect(back).to_be_visible()
    return int(re.search(r"/receipts/(\d+)/undo", back.get_attribute("href"))[1])


def take_back(page: Page, receipts: list[int]) -> None:
    """Take receipts back, the last first: other tests find the rosters as they were."""
    for receipt in reversed(receipts):
        page.goto(f"/receipts/{receipt}/undo")
        page.get_by_role("button", name=re.compile(r"^Take back [\d,]+ record")).click()
        expect(page.get_by_role("heading", name=re.compile("^Taken back"))).to_be_visible()


def open_others(context: Context) -> None:
    """Open the roster that the examples of checks refer to, once for all journeys on a site."""
    document = {"name": "others", "fields": [{"name": "mail", "format": "email"}]}
    if document["name"] not in {roster.name for roster in list_seen(context)}:
        open_roster_with(context, document, [{"mail": "taken@x.example"}])


def add_codes(context: Context, lists: Mapping[str, CodeList]) -> None:
    """Add codes to the lists of a site; what other journeys rest on stays there."""
    there = list_codes(context)
    with context.database.transaction() as connection:
        for name, codes in lists.items():
            had = there[name].codes if name in there else ()
            known = {code.code for code in had}
            more = [code for code in codes.codes if code.code not in known]
            replace_code_list(connection, name, [*had, *more])
