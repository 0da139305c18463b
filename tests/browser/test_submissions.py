"""The journey of a return: from the roster to fully accepted, in a Nevefield and with a stand-in
of its own.
"""

from __future__ import annotations

import json
import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import opened, pick, set_day, sign_in
from tests.browser.test_groups import apply
from tests.conftest import APPROVES, LOOKS, PREPARES

pytestmark = pytest.mark.browser


def standing(page: Page) -> dict[str, int]:
    """Read the core of a submission, and see that it says it adds up."""
    core = page.get_by_label("Tally")
    expect(core).to_contain_text("adds up ✓")
    text = " ".join(core.inner_text().split())
    names = ("records in it", "accepted", "to number", "ready again", "rejected", "not sent")
    found = {name: re.search(rf"([\d,]+) {name}", text) for name in names}
    return {name: int(one[1].replace(",", "")) if one else 0 for name, one in found.items()}


def send(page: Page, number: int) -> None:
    page.get_by_role("button", name=re.compile(f"^Send round {number}:")).click()
    page.get_by_role("dialog").get_by_role("button", name=f"Send round {number}").click()
    expect(page.get_by_text(re.compile(f"round {number} answered"))).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("under way"))).to_have_count(0)


def stage(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Parts of the submission").get_by_role(
        "link", name=name
    ).click()


def choose(page: Page, key: str) -> None:
    page.get_by_role("region", name="Rules").get_by_role("button", name=re.compile(key)).click()
    expect(page.get_by_text(key).nth(1)).to_be_visible()


def test_to_an_accepted_return(fresh, made):
    """Three rounds: conflicts settled in each of the three ways, numbers chosen for the 18, one
    among seven holders.
    """
    held = json.loads((made / "registry.truth.json").read_text())
    page = fresh.new_page()
    sign_in(page, APPROVES)
    page.get_by_role("navigation", name="Places").get_by_role("link", name="Submissions").click()
    page.get_by_role("link", name="Autumn return").click()
    assert standing(page) == {
        "records in it": held["records"],
        "accepted": 0,
        "to number": 0,
        "ready again": 0,
        "rejected": 0,
        "not sent": held["records"],
    }
    stage(page, "Before sending")
    page.get_by_role("button", name=f"From now on, for {len(held['retired_port'])} records").click()
    expect(page.get_by_text("Nothing is known to be wrong")).to_be_visible()
    send(page, 1)
    conflicts = held["conflicts"]
    found = standing(page)
    assert (found["rejected"], found["to number"], found["ready again"]) == (
        len(conflicts),
        len(held["numbers"]),
        len(held["new"]),
    )

    stage(page, "Rejected")
    page.get_by_role("button", name=re.compile("^E4 ")).click()
    page.get_by_label("Reason").fill("transfer letter of 28 August on file")
    page.get_by_role("button", name="Same for all 4").click()
    expect(page.get_by_role("button", name=re.compile("^E4 "))).to_have_count(0)
    (twin,) = [key for key, one in conflicts.items() if one["way"] == "other"]
    page.get_by_role("button", name=re.compile("^D3 ")).click()
    choose(page, twin)
    page.get_by_role("radio", name=re.compile("Not this person")).click()
    page.get_by_label("Reason").fill("that number is her twin's")
    page.get_by_role("button", name="Ready for round 2").click()
    expect(page.get_by_role("button", name=re.compile("^D3 "))).to_have_count(0)
    (right,) = [
        key for key, one in conflicts.items() if one["rule"] == "B3" and one["way"] == "right"
    ]
    choose(page, right)
    page.get_by_role("radio", name=re.compile("Ours is right")).click()
    page.get_by_label("Reason").fill("passport seen, day before month")
    page.get_by_role("button", name="Ready for round 2").click()
    expect(page.get_by_role("button", name=re.compile(f"{right}"))).to_have_count(0)
    page.get_by_role("radio", name=re.compile("Ours is wrong")).click()
    page.get_by_role("button", name="Same for all 2").click()
    page.wait_for_url(re.compile(r"/intakes/\d+/changes"))
    apply(page)

    page.get_by_role("navigation", name="Places").get_by_role("link", name="Submissions").click()
    page.get_by_role("link", name="Autumn return").click()
    stage(page, "Numbers")
    # By keys alone: whose turn it is stands in the heading; a digit is a holder, N a new
    # number.
    heading = page.locator(".pane .mono").first
    done: set[str] = set()
    while len(done) < len(held["numbers"]):
        expect(heading).not_to_have_text(re.compile(f"^({'|'.join(done) or 'nobody'})$"))
        key = heading.inner_text()
        one = held["numbers"][key]
        holders = [each.inner_text().split()[0] for each in page.get_by_role("columnheader").all()][
            2:
        ]
        assert len(holders) == 7 or one["kind"] != "seven"
        if one["number"] == "NEW":
            page.keyboard.press("n")
        else:
            page.keyboard.press(str(1 + holders.index(one["number"])))
        if len(holders) > 1:  # between several people a key marks, and Enter decides
            expect(page.get_by_role("button", name=re.compile("Enter$"))).to_have_count(1)
            expect(heading).to_have_text(key)
            page.keyboard.press("Enter")
        done.add(key)
        expect(page.get_by_text(f"{len(held['numbers']) - len(done)} record").first).to_be_visible()
    expect(page.get_by_text("0 records wait for a number")).to_be_visible()
    assert standing(page)["rejected"] == standing(page)["to number"] == 0
    send(page, 2)
    found = standing(page)
    assert (found["accepted"], found["to number"]) == (held["records"] - 1, 1)
    expect(page.get_by_text(twin)).to_have_count(2)
    page.get_by_role("button", name=re.compile("^Take")).first.click()
    send(page, 3)
    assert standing(page)["accepted"] == held["records"]
    stage(page, "Rounds")
    expect(page.get_by_role("heading", name=re.compile(r"^Round \d"))).to_have_count(3)
    expect(page.get_by_role("link", name="its numbers in the roster")).to_have_count(2)


def test_begun_and_by_hand(page, tmp_path):
    """A submission begun with the layout that is proposed, sent as a file, and its answer
    brought back as CSV.
    """
    sign_in(page, APPROVES)
    page.goto("/submissions/begin")
    pick(page.get_by_label("Of the roster"), "Cadets")
    pick(page.get_by_label("Written"), "anew, as proposed below")
    expect(page.get_by_text("still lacking: College and Kind of enrolment")).to_be_visible()
    for field, code in (("College", "TQMC"), ("Kind of enrolment", "P")):
        pick(page.get_by_label(f"What goes to {field}"), "the same for everybody")
        pick(page.get_by_label(f"{field} of everybody"), re.compile(f"^{code} "))
    page.get_by_label("Title").fill("The ship, by hand")
    set_day(page.get_by_label("Day of reference"), "30 Sep 2026")
    pick(page.get_by_label("Who is in it"), "those of whom this holds")
    pick(page.get_by_label("Field", exact=True), "Campus")
    page.get_by_placeholder("value; another value").fill("TSM")
    page.get_by_placeholder("value; another value").blur()
    counted = page.get_by_text("would be in it, where")
    expect(counted).to_be_visible()
    told = int(re.search(r"([\d,]+) records?", counted.inner_text())[1].replace(",", ""))
    page.get_by_role("button", name="Begin it").click()
    expect(page.get_by_text("practice side: nothing goes into the roster")).to_be_visible()
    expect(page.get_by_label("Tally")).to_contain_text(re.compile(r"\d\s*not sent"))
    found = standing(page)
    size = found["records in it"]
    assert size == told == found["not sent"] > 70
    page.get_by_role("button", name=re.compile("^Send round 1:")).click()
    page.get_by_label(re.compile("write it as a file")).check()
    page.get_by_role("dialog").get_by_role("button", name="Write round 1").click()
    stage(page, "Rounds")
    page.get_by_role("button", name="Download").click()
    with page.expect_download() as down:
        page.get_by_role("menuitem", name="As sent, as CSV").click()
    lines = down.value.path().read_text(encoding="utf-8-sig").splitlines()
    refs = [line.split(",")[0] for line in lines[1:]]
    assert len(refs) == size
    answer = tmp_path / "answer.csv"
    bring = page.locator("input[type=file][accept='.json,.csv']")
    answer.write_text("REF;OUTCOME\n" + f"{refs[0]};acepted\n")
    bring.set_input_files(answer)
    expect(page.get_by_text("These outcomes are none: “acepted”")).to_be_visible()
    # A part of it, with semicolons, leaves the rest open; the other part ends the round.
    answer.write_text(
        "\n".join(["REF;OUTCOME;NUMBER;RULES", *(f"{ref};accepted;;" for ref in refs[10:])])
    )
    bring.set_input_files(answer)
    expect(page.get_by_text(f"{size - 10} of {size} answered.")).to_be_visible()
    assert standing(page)["accepted"] == size - 10
    rows = [f"{refs[0]},rejected,,E4 Y1 Z0", *(f"{ref},accepted,," for ref in refs[1:10])]
    answer.write_text("\n".join(["REF,OUTCOME,NUMBER,RULES", *rows]))
    bring.set_input_files(answer)
    expect(page.get_by_label("Tally")).to_contain_text(re.compile(r"1\s*rejected"))
    found = standing(page)
    assert (found["accepted"], found["rejected"], found["not sent"]) == (size - 1, 1, 0)
    page.get_by_role("button", name="Rename").click()
    page.get_by_role("textbox", name="Title").fill("The ship, done")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name=re.compile("The ship, done"))).to_be_visible()
    page.get_by_role("button", name="Close it").click()
    expect(page.get_by_role("button", name="Open it again")).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("^Send round"))).to_have_count(0)
    page.goto("/submissions")
    row = page.get_by_role("row").filter(has_text="The ship, done")
    expect(row).to_contain_text("practice")
    expect(row).to_contain_text("closed")


def test_levels_on_screen(chromium, site):
    """Who may look sees where records stand and cannot send or decide; who prepares decides, and
    cannot send.
    """
    for name, sends in ((LOOKS, 0), (PREPARES, 0), (APPROVES, 1)):
        with opened(chromium, site) as context:
            page = context.new_page()
            sign_in(page, name)
            page.goto("/submissions/1/contents")
            expect(page.get_by_label("Tally")).to_contain_text("adds up ✓")
            expect(page.get_by_role("button", name=re.compile("^Send round"))).to_have_count(sends)
            expect(page.get_by_role("button", name="Keep back")).to_have_count(
                0 if name == LOOKS else 200
            )
