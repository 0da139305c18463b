"""Every page in a narrow window, as on a screen that is zoomed to 400%, and in the system's own
colours: nothing is lost, the page scrolls down and never sideways, and what is chosen is seen.
"""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import drop, forget, sign_in
from tests.browser.test_everywhere import NARROW, settled
from tests.conftest import ADMINISTERS

pytestmark = pytest.mark.browser


@pytest.fixture
def intake(page, made):
    """The address of September's file, with everything still to be settled."""
    sign_in(page, ADMINISTERS)
    drop(page, made / "september-joiners.xlsx")
    forget(page)
    return re.match(r"(.*/intakes/\d+)/", page.url)[1]


def test_narrow_and_worked_in(page, intake):
    """A cause is settled, a row looked at and a record opened where everything stands one under
    the other; what is opened is gone to.
    """
    page.set_viewport_size(NARROW)
    page.goto(f"{intake}/problems")
    settled(page)
    page.get_by_role("button", name=re.compile("^Use DECK for 17")).click()
    expect(page.get_by_role("button", name=re.compile("^Use DECK for 17"))).to_have_count(0)
    page.goto("/rosters/cadets")
    page.get_by_role("row").nth(3).click()
    life = page.get_by_role("complementary", name="The record’s life")
    expect(life).to_be_in_viewport()
    life.get_by_role("button", name=re.compile("^Close")).click()
    expect(life).to_have_count(0)


def looks(page: Page, chosen: str, other: str) -> tuple[str, str]:
    """What tells a chosen thing from another, in the system's colours."""
    seen = """(one) => {
        const look = getComputedStyle(one)
        return [look.outlineStyle, look.outlineWidth, look.borderTopColor].join()
    }"""
    return page.locator(chosen).first.evaluate(seen), page.locator(other).first.evaluate(seen)


def test_forced_colours(page, intake):
    """Where the system chooses the colours, the chosen row, the active cell, the open cause and the
    place that one is at are told, and drawings keep what they say.
    """
    page.emulate_media(forced_colors="active")
    page.goto(f"{intake}/problems")
    settled(page)
    for chosen, other in [
        ("[role=grid] [aria-selected=true]", "[role=grid] [aria-selected=false]"),
        (".cell.active", ".cell:not(.active)"),
        ("header nav a[aria-current]", "header nav a:not([aria-current])"),
        (".cause.on", ".cause:not(.on)"),
    ]:
        one, two = looks(page, chosen, other)
        assert one != two, chosen
    fills = page.locator(".layer").evaluate_all(
        "(all) => all.map((one) => getComputedStyle(one).background)"
    )
    assert len(fills) == len(set(fills)) >= 5
    marks = page.locator(".mark.stop, .mark.ask").evaluate_all(
        "(all) => [...new Set(all.map((one) => getComputedStyle(one).backgroundColor))]"
    )
    assert len(marks) == 2
