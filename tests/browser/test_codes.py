"""Codes where they are missed: an administrator adds one from the cause, who prepares cannot."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import drop, sign_in, tally
from tests.conftest import ADMINISTERS, PREPARES


def test_a_code_is_added_from_its_cause(page, tmp_path, made):
    """What no list has is put on it by keyboard, under its label where it is one; a code that is
    there is said to be.
    """
    numbers = [
        line.split(";")[0]
        for line in (made / "cadets-full-autumn.csv").read_text("latin-1").splitlines()[1:4]
    ]
    path = tmp_path / "ports.csv"
    ports = ["Ørsund an der unteren Hollinmündung", "HLX", "HLX"]
    path.write_text(
        "cadet_number,home_port\n"
        + "".join(f"{one},{port}\n" for one, port in zip(numbers, ports, strict=True))
    )
    sign_in(page, PREPARES)
    drop(page, path)
    expect(page.get_by_text("3 rows stopped by 2 causes")).to_be_visible()
    intake = page.url
    expect(page.get_by_role("button", name=re.compile("Hold"))).to_be_visible()
    assert not page.get_by_role("button", name=re.compile("on the list")).is_visible()
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_label("Sign-in name")).to_be_visible()
    sign_in(page, ADMINISTERS)
    page.goto(intake)
    page.get_by_role("button", name=re.compile("“HLX” is not")).click()
    page.get_by_role("button", name="Put “HLX” on the list …").click()
    dialog = page.get_by_role("dialog")
    expect(dialog.get_by_label("Code")).to_have_value("HLX")
    dialog.get_by_label("Code").fill("LRN")
    expect(dialog.get_by_text("LRN is in the list already")).to_be_visible()
    expect(dialog.get_by_role("button", name="Add LRN")).to_be_disabled()
    dialog.get_by_label("Code").fill("HLX")
    dialog.get_by_label("Label").fill("Hollin Cross")
    page.keyboard.press("Enter")
    expect(page.get_by_text("1 row stopped by 1 cause")).to_be_visible()
    page.get_by_role("button", name=re.compile("Put “Ørsund")).click()
    expect(dialog.get_by_label("Label")).to_have_value("Ørsund an der unteren Hollinmündung")
    expect(dialog.get_by_label("Code")).to_be_focused()
    page.keyboard.type("ORU")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Nothing stops a row.")).to_be_visible()
    assert tally(page).get("stopped", 0) == 0
    page.goto(page.url.split("/intakes")[0] + "/codes/home_port")
    expect(page.get_by_label("Label of HLX")).to_have_value("Hollin Cross")
    expect(page.get_by_label("Label of ORU")).to_have_value("Ørsund an der unteren Hollinmündung")
