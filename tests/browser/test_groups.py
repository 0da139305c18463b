"""Groups, shortlists and changing many, in a real browser: a file of memberships, people moved,
the new ones spread.
"""

from __future__ import annotations

import json
import re
from collections import Counter

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import apply, drop, forget, pick, sign_in, take_back, tally
from tests.conftest import ADMINISTERS

pytestmark = pytest.mark.browser


def vessel(page: Page, name: str):
    return page.get_by_role("button", name=re.compile(f"{name}: "))


def test_stations_and_a_move(page, site, made):
    """The stations of Castle Hill: the kind spelt otherwise is settled once; then two people are
    moved between watches.
    """
    truth = json.loads((made / "stations-castle-hill.truth.json").read_text())
    sign_in(page, ADMINISTERS)
    drop(page, made / "stations-castle-hill.csv")
    forget(page)
    assert tally(page)["waiting"] == len(truth["near"])
    page.get_by_role("button", name=f"Use STATION for {len(truth['near'])}").click()
    expect(page.get_by_text("Every problem is settled.")).to_be_visible()
    done = [apply(page)]
    page.get_by_role("navigation", name="Places").get_by_role("link", name="Groups").click()
    page.get_by_role("link", name=re.compile("^Muster station")).click()
    wanted = Counter(group for some in truth["members"].values() for group in some)
    for group, size in wanted.items():
        expect(vessel(page, group)).to_contain_text(str(size))
    vessel(page, "Hill North").click()
    expect(page.get_by_label("Hill North", exact=True).get_by_role("listitem")).to_have_count(
        wanted["Hill North"]
    )

    page.get_by_role("link", name=re.compile("^Watch")).click()
    pick(page.get_by_label("Which part"), "TS Merganser · year 3")
    before = {
        name: int(re.search(r": (\d+)", vessel(page, name).inner_html())[1])
        for name in ("Petrel", "Skua")
    }
    vessel(page, "Petrel").click()
    panel = page.get_by_label("Petrel", exact=True)
    for place in (3, 4):
        panel.get_by_role("listitem").nth(place).get_by_role("checkbox").check()
    pick(panel.get_by_label("Move the ticked people to"), re.compile("^Skua · "))
    expect(page.get_by_text("2 moves noted")).to_be_visible()
    expect(vessel(page, "Skua")).to_contain_text("+ 2")
    page.get_by_role("button", name="See what they would do").click()
    assert tally(page)["changed"] == 2
    done.append(apply(page))
    page.goto("/groups/cadets/watch?part=TS%20Merganser%20%C2%B7%20year%203")
    for name, by in (("Petrel", -2), ("Skua", 2)):
        expect(vessel(page, name)).to_contain_text(str(before[name] + by))
    take_back(page, done)


def test_new_ones_are_kept_and_spread(page, site, made):
    """Who joined with September's file becomes a shortlist, is spread over the watches, and is
    changed all at once.
    """
    sign_in(page, ADMINISTERS)
    drop(page, made / "september-joiners.csv")
    forget(page)
    new = tally(page)["new"]
    done = [apply(page)]
    page.get_by_role("button", name=f"Keep the {new} who joined as a shortlist").click()
    expect(page.get_by_text(re.compile(rf"^{new} of [\d,]+ records"))).to_be_visible()
    shortlist = int(re.search(r"shortlist=(\d+)", page.url)[1])
    page.goto(f"/groups/cadets/watch/spread?shortlist={shortlist}")
    page.get_by_label("is spread anew").check()
    pick(page.get_by_label("apart, who has the same"), "Guardian phone")
    page.get_by_role("button", name="Work it out").click()
    heading = page.get_by_role(
        "heading", name=re.compile(r"^\d+ people get a group, \d+ keep theirs")
    )
    expect(heading).to_be_visible()
    gets, keep = map(int, re.findall(r"\d+", heading.inner_text()))
    assert gets + keep == new
    page.get_by_role("button", name=re.compile(rf"^See what {gets} changes would do")).click()
    assert tally(page)["changed"] == gets
    done.append(apply(page))

    # The same shortlist, changed all at once.
    page.goto(f"/rosters/cadets?shortlist={shortlist}")
    page.get_by_role("button", name=f"Change these {new} …").click()
    dialog = page.get_by_role("dialog")
    pick(dialog.get_by_label("A field to change"), "Deposit")
    pick(dialog.get_by_label("What becomes of Deposit"), "is set to")
    dialog.get_by_label("Deposit", exact=True).fill("50")
    dialog.get_by_role("button", name="See what it would do").click()
    assert tally(page)["changed"] == new
    done.append(apply(page))
    take_back(page, done)


def test_a_rule_and_a_review(page, site):
    """A rule is tried while it is written, kept, and what it would do is seen before; those who
    have a role are ticked off.
    """
    sign_in(page, ADMINISTERS)
    page.goto("/groups/cadets/watch?part=TS%20Merganser%20%C2%B7%20year%204")
    page.get_by_role("button", name="+ Another rule").click()
    dialog = page.get_by_role("dialog")
    pick(dialog.get_by_label("Field", exact=True), "Campus")
    dialog.get_by_label("Value").fill("TSM")
    dialog.get_by_label("Value").press("Tab")
    dialog.get_by_role("combobox").last.click()
    page.keyboard.type("SKUA")
    page.get_by_title("SKUA Skua").click()
    would = dialog.get_by_text(re.compile(r"\d+ would move"))
    expect(would).to_be_visible()
    number = int(re.search(r"(\d+) would move", would.inner_text())[1])
    dialog.get_by_role("button", name="Keep the rule").click()
    rules = page.get_by_label("Placement rules")
    expect(rules.get_by_role("listitem")).to_contain_text(f"{number} would move")
    rules.get_by_role("button", name=f"See what moving {number} would do").click()
    assert tally(page)["changed"] == number
    page.goto("/groups/cadets/watch")
    rules.get_by_role("button", name="Drop rule 1").click()
    expect(rules.get_by_role("listitem")).to_have_count(0)

    page.goto("/groups/staff/role")
    vessel(page, "Registrar").click()
    panel = page.get_by_label("Registrar", exact=True)
    panel.get_by_role("button", name="Review them").click()
    panel.get_by_role("button", name="Right").first.click()
    expect(panel.get_by_text("✓ right")).to_have_count(1)
    expect(panel.get_by_role("button", name=re.compile("^Reviewed 1 of 3"))).to_be_visible()
