"""What a hand feels on a large file, in a browser: how long frames and tasks are while rows, causes
and remedies are gone through: `python bench/frames.py [ROWS]`.

The whole runs on one machine, the server beside the browser; a quiet one is needed.
"""

from __future__ import annotations

import json
import logging
import statistics
import sys
import tempfile
import threading
from pathlib import Path
from typing import TYPE_CHECKING

from playwright.sync_api import Page, sync_playwright
from werkzeug.serving import make_server

ROOT = Path(__file__).parents[1]
sys.path[:0] = [str(ROOT / "demo"), str(ROOT / "bench")]

from edit import NAME, PASSWORD, served_intake  # noqa: E402
from make_large import make_large  # noqa: E402

if TYPE_CHECKING:
    from typing import Any

PRESSES = 60
# Frames are measured from one call before a repaint to the next; tasks as the browser reports those
# that are longer than 50 ms (W3C Long Tasks).
WATCH = """() => {
    window.frames_ = []; window.tasks_ = []
    let last = performance.now()
    const next = (now) => {
        window.frames_.push(now - last)
        last = now
        requestAnimationFrame(next)
    }
    requestAnimationFrame(next)
    const note = (list) => list.getEntries().forEach((one) => window.tasks_.push(one.duration))
    new PerformanceObserver(note).observe({ type: 'longtask' })
}"""


def measure(page: Page, act: Any, times: int, rest: int) -> dict[str, float]:
    """Do something so many times, resting between, and give median, the worst of a hundred, and
    the longest task, in ms.
    """
    page.evaluate("() => { window.frames_.length = 0; window.tasks_.length = 0 }")
    for number in range(times):
        act(number)
        page.wait_for_timeout(rest)
    frames, tasks = page.evaluate("() => [window.frames_, window.tasks_]")
    return {
        "median": round(statistics.median(frames), 1),
        "worst of 100": round(statistics.quantiles(frames, n=100)[-1], 1),
        "longest task": round(max(tasks, default=0)),
    }


def walk(page: Page, intake: int) -> dict[str, dict[str, float]]:
    """Go through a file as a hand does."""
    page.goto("/")
    page.get_by_label("Sign-in name").fill(NAME)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("navigation", name="Places").wait_for()
    page.goto(f"/intakes/{intake}/problems")
    grid = page.get_by_role("grid", name="Rows")
    grid.get_by_role("row").nth(3).wait_for()
    page.wait_for_load_state("networkidle")
    page.evaluate(WATCH)
    body = page.locator("body")
    found = {
        "next row": measure(page, lambda _: body.press("ArrowDown"), PRESSES, 60),
        "next cause": measure(page, lambda n: body.press("." if n % 8 < 6 else ","), 24, 400),
        "accept": measure(page, lambda _: body.press("Enter"), 12, 900),
    }
    steps = page.evaluate(
        "async (at) => (await (await fetch(at)).json()).steps", f"/api/intakes/{intake}"
    )
    assert steps >= 12, steps  # each Enter was one
    page.goto(f"/intakes/{intake}/problems?outcome=all")
    grid.get_by_role("row").nth(3).wait_for()
    page.wait_for_load_state("networkidle")
    page.evaluate(WATCH)
    grid.hover()
    found["scroll"] = measure(page, lambda _: page.mouse.wheel(0, 900), PRESSES, 40)
    return found


def main() -> None:
    """Make the file, serve it, walk through it, print the figures as JSON."""
    rows = int(sys.argv[1]) if len(sys.argv) > 1 else 100_000
    with tempfile.TemporaryDirectory() as place:
        roster, file = make_large(rows, Path(place))
        data, old = file.read_bytes(), roster.read_bytes()
    logging.getLogger("werkzeug").setLevel(logging.ERROR)
    with served_intake(data, old) as (app, _, intake), sync_playwright() as playwright:
        web = make_server("127.0.0.1", 0, app, threaded=True)
        threading.Thread(target=web.serve_forever, daemon=True).start()
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", args=["--no-sandbox", "--disable-dev-shm-usage"]
        )
        page = browser.new_page(
            viewport={"width": 1280, "height": 800}, base_url=f"http://127.0.0.1:{web.port}"
        )
        page.set_default_timeout(120_000)
        print(json.dumps({"rows": rows, "ms": walk(page, intake)}, indent=1))
        browser.close()
        web.shutdown()


if __name__ == "__main__":
    main()
