"""Make the pictures of `docs/screenshots/` from the demo data: `.venv/bin/python
scripts/pictures.py`.

Serves a Nevefield of its own on fresh demo data, goes the way from the file to the receipt, and
takes each main view once. Needs what `./test` installs, and the built front end.
"""

from __future__ import annotations

import re
import signal
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

from nevefield.run.server import free_port
from nevefield.run.supervise import DEMO_ACCOUNTS

ROOT = Path(__file__).parents[1]
sys.path.insert(0, str(ROOT))  # the offices that the tests make
OUT = ROOT / "docs" / "screenshots"
FLAGS = [
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]
NAME, _, PASSWORD, _ = DEMO_ACCOUNTS[2]


def take(page: Page, name: str) -> None:
    """Take one view as it stands once it is at rest."""
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(300)
    page.screenshot(path=OUT / f"{name}.png")


def go_through(page: Page, address: str) -> None:
    """Go from the file to the receipt, taking the views on the way."""
    page.goto(address)
    page.get_by_label("Sign-in name").fill(NAME)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.locator("input[type=file]").set_input_files(
        ROOT / "demo" / "made" / "september-joiners.xlsx"
    )
    page.get_by_role("button", name="Use DECK for 17").wait_for()
    take(page, "problems")
    intake = page.url.rsplit("/", 1)[0]
    page.goto(address)
    page.get_by_text("rows stopped").first.wait_for()
    take(page, "desk")
    page.goto(f"{intake}/columns")
    take(page, "columns")
    page.goto(address)
    page.locator("input[type=file]").set_input_files(ROOT / "demo" / "made" / "regatta-crew.csv")
    page.get_by_role("link", name=re.compile("^People")).click()
    page.get_by_text("is likely").first.wait_for()
    take(page, "people")
    page.goto(f"{address}/rosters/cadets/definition")
    page.get_by_role("button", name=re.compile("^Checks")).click()
    take(page, "definition")
    make_cards(page, address)
    page.goto(f"{intake}/problems")
    page.get_by_role("button", name="Use DECK for 17").click()
    page.get_by_role("button", name="Use SKV for 5").click()
    page.get_by_role("button", name=re.compile("Home port outside")).click()
    page.get_by_role("button", name="Approve 9 with a reason").click()
    page.get_by_role("dialog").get_by_label("Reason").fill("boarding agreed")
    page.get_by_role("dialog").get_by_role("button", name="Approve 9 rows").click()
    page.get_by_text("Approved with a reason: 9").wait_for()
    page.goto(f"{intake}/changes?family=watch")
    take(page, "changes")
    page.goto(f"{intake}/apply")
    take(page, "apply")
    page.get_by_role("button", name=re.compile(r"^Apply \d")).click()
    page.get_by_text("are in the roster").wait_for()
    page.get_by_label("Where did a line end up?").fill("17")
    page.keyboard.press("Enter")
    take(page, "receipt")
    page.goto(f"{address}/rosters/cadets?filter=watch:SKUA&sort=born")
    take(page, "roster")
    page.goto(f"{address}/groups/cadets/watch?part=North%20Quay%20%C2%B7%20year%203")
    page.get_by_role("button", name=re.compile("Gannet: ")).click()
    page.get_by_text("Over the year").wait_for()
    take(page, "groups")
    tell_the_directory(page, address)
    write_to_cadets(page, address)
    send_the_return(page, address)
    set_up(page, address)


def make_cards(page: Page, address: str) -> None:
    """Look at who needs a card and at the design, and make a run."""
    page.goto(f"{address}/cards/gate-card/needed")
    page.get_by_role("img", name=re.compile("^The card of")).wait_for()
    take(page, "cards-needed")
    page.goto(f"{address}/cards/gate-card/design")
    page.get_by_role("button", name=re.compile("^line 1 Given names")).click()
    page.get_by_text("found anew after each change").wait_for()
    take(page, "cards-design")


def tell_the_directory(page: Page, address: str) -> None:
    """Look at what the directory was told, and at what it refused."""
    page.goto(f"{address}/passing/directory")
    page.get_by_role("button", name="The name is taken there").click()
    page.get_by_text("Where it stands").or_(page.get_by_text("Because of")).first.wait_for()
    page.wait_for_timeout(1_000)
    take(page, "passing")


def write_to_cadets(page: Page, address: str) -> None:
    """Write to the cadets who are shown: the text, and what three of them would get."""
    page.goto(f"{address}/rosters/cadets")
    page.get_by_role("button", name=re.compile("^Write to them")).click()
    page.get_by_label("Subject").fill("Your watch from October, {given_names}")
    page.get_by_role("textbox", name="Text").fill(
        "Dear {given_names} {family_name},\n\nfrom October you are in watch {watch}, of"
        " {department}.\n\nTarn Quay, registry"
    )
    page.get_by_role("article").first.wait_for()
    take(page, "letter")


def sign_in(page: Page, address: str, name: str, password: str) -> None:
    """Sign in as somebody."""
    page.goto(f"{address}/sign-in")
    page.get_by_label("Sign-in name").fill(name)
    page.get_by_label("Password").fill(password)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("navigation", name="Places").wait_for()


# R. Tamm prepares the cadets of one campus, and looks at the staff.
PART = """async () => {
  const ask = async (path) => (await fetch(path)).json()
  const { token } = await ask('/api/session')
  const { people } = await ask('/api/accounts')
  const { id, name } = people.find((one) => one.sign_in === 'tamm')
  const body = {
    name,
    level: 0,
    rosters: { cadets: 2, staff: 1 },
    parts: { cadets: { field: 'campus', is: 'CH' } },
    last_day: null,
    may_uncover: false,
  }
  await fetch(`/api/accounts/${id}`, {
    method: 'PUT',
    headers: { 'Content-Type': 'application/json', 'X-Nevefield-Token': token },
    body: JSON.stringify(body),
  })
}"""


def set_up(page: Page, address: str) -> None:
    """Look at what keeps an installation going, as who administers everything: people, the trail,
    copies, a roster from a file.
    """
    page.get_by_role("button", name="Sign out").click()
    name, _, password, _ = DEMO_ACCOUNTS[3]
    sign_in(page, address, name, password)
    page.evaluate(PART)
    page.goto(f"{address}/setup/people")
    page.get_by_role("button", name="R. Tamm").click()
    take(page, "setup-people")
    page.goto(f"{address}/setup/trail")
    page.get_by_role("button", name="Check the chain").click()
    page.get_by_text("The last seal is").wait_for()
    take(page, "trail")
    page.goto(f"{address}/rosters")
    from tests.data.openings.offices import choir

    office = choir()
    with page.expect_file_chooser() as chooser:
        page.get_by_text("Open one from a file").click()
    chooser.value.set_files(
        {"name": "observers-2026.csv", "mimeType": "text/csv", "buffer": office.data}
    )
    page.get_by_role("button", name="More about Site").click()
    take(page, "opening")


def send_the_return(page: Page, address: str) -> None:
    """Send the first round of the autumn return, and take what comes back."""
    page.goto(f"{address}/submissions/1/before")
    page.get_by_role("button", name=re.compile("^From now on")).click()
    page.get_by_text("Nothing is known to be wrong").wait_for()
    page.get_by_role("button", name=re.compile("^Send round 1")).click()
    page.get_by_role("dialog").get_by_role("button", name="Send round 1").click()
    page.get_by_text("round 1 answered").wait_for()
    page.goto(f"{address}/submissions/1/rejected")
    page.get_by_label("Reason").fill("transfer letter of 28 August on file")
    take(page, "rejected")
    page.goto(f"{address}/submissions/1/numbers")
    page.get_by_role("button", name=re.compile("7 holders")).click()
    page.get_by_role("button", name=re.compile("^Take")).nth(6).wait_for()
    take(page, "numbers")
    page.goto(f"{address}/submissions/1/rounds")
    page.get_by_role("button", name=re.compile("^Send round 2")).click()
    page.get_by_role("dialog").get_by_role("button", name="Send round 2").click()
    page.get_by_text("round 2 answered").wait_for()


def main() -> None:
    """Serve, take the pictures, stop."""
    OUT.mkdir(parents=True, exist_ok=True)
    port = free_port()
    with tempfile.TemporaryDirectory() as folder:
        program = Path(sys.executable).with_name("nevefield")
        process = subprocess.Popen([program, "serve", "--port", str(port), "--data", folder])
        try:
            for _ in range(3_000):
                try:
                    urllib.request.urlopen(f"http://127.0.0.1:{port}/api/health", timeout=2)
                    break
                except OSError:
                    time.sleep(0.2)
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(
                    executable_path="/usr/bin/chromium", args=FLAGS
                )
                page = browser.new_page(viewport={"width": 1280, "height": 800})
                page.set_default_timeout(60_000)
                go_through(page, f"http://127.0.0.1:{port}")
                browser.close()
        finally:
            process.send_signal(signal.SIGTERM)
            process.wait(60)


if __name__ == "__main__":
    main()
