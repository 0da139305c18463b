"""Mail: where mails are handed over is said and tried, people are written to with a text that is
looked at filled, and what was refused is said.
"""

from __future__ import annotations

import json
import re
import urllib.request

import pytest
from playwright.sync_api import expect

from tests.browser.conftest import sign_in
from tests.browser.test_groups import apply
from tests.conftest import ADMINISTERS, APPROVES, LOOKS

pytestmark = pytest.mark.browser


def caught(page) -> str:
    """What the stand-in has, as its page says it."""
    address = page.get_by_role("link", name="what the stand-in caught").get_attribute("href")
    assert address
    assert address.startswith("http://127.0.0.1:")
    with urllib.request.urlopen(address) as found:
        return found.read().decode()


def test_written_to_and_refused(college, made):
    """A wrong server is said where it is; with the stand-in a test goes, one to nobody is refused;
    four cadets are written to, by keyboard, once.
    """
    page = college.new_page()
    sign_in(page, ADMINISTERS)
    page.goto("/setup/mail")
    expect(page.get_by_label("Mail server")).to_have_value("127.0.0.1")
    right = page.get_by_label("Port").input_value()
    page.get_by_label("From the address").fill("office")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("alert")).to_contain_text("“office” is no mail address")
    page.get_by_label("From the address").fill("office@tarnquay.example")
    page.get_by_label("Port").fill("1")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("status")).to_contain_text("Kept.")
    page.get_by_label("A test message to").fill("head@tarnquay.example")
    page.get_by_role("button", name="Send it").click()
    expect(page.get_by_role("alert")).to_contain_text("nobody listens there")
    page.get_by_label("Port").fill(right)
    page.get_by_role("button", name="Save").click()
    row = page.get_by_role("row").filter(has_text="head@tarnquay.example")
    expect(row).to_contain_text("went")
    page.get_by_label("A test message to").fill("nobody@tarnquay.example")
    page.keyboard.press("Enter")
    row = page.get_by_role("row").filter(has_text="nobody@tarnquay.example")
    expect(row).to_contain_text("There is nobody of that name here")
    expect(row.get_by_role("button", name="Send again")).to_be_visible()
    assert "head@tarnquay.example" in caught(page)

    people = json.loads((made / "roster-cadets.json").read_text())["records"][:4]
    page.goto("/rosters/cadets")
    for one in people:
        line = page.get_by_role("row").filter(has_text=one["cadet_number"])
        line.get_by_role("checkbox").check()
    page.get_by_role("button", name="Write to them").click()
    dialog = page.get_by_role("dialog", name="Write to 4 records")
    dialog.get_by_label("Subject").fill("For {given_name}")
    dialog.get_by_role("textbox", name="Text").fill("Dear {given_names} {family_name}")
    expect(dialog.get_by_role("alert")).to_contain_text("no field “given_name”")
    dialog.get_by_label("Subject").fill("For {cadet_number}")
    shown = dialog.get_by_role("article")
    expect(shown).to_have_count(3)
    names = {f"Dear {one['given_names']} {one['family_name']}" for one in people}
    assert {text.split("\n")[-1] for text in shown.all_inner_texts()} <= names
    dialog.get_by_role("button", name="Send 4 mails").press("Enter")
    expect(dialog.get_by_role("status")).to_contain_text("4 mails wait to go")
    page.goto("/setup/mail")
    for one in people:
        line = page.get_by_role("row").filter(has_text=f"For {one['cadet_number']}")
        expect(line).to_have_count(1)
        expect(line).to_contain_text("went")
        assert caught(page).count(f"For {one['cadet_number']}<") == 1


def test_who_may(college):
    """Whoever may only look writes to nobody; who approves does, and sees no server."""
    page = college.new_page()
    sign_in(page, LOOKS)
    page.goto("/rosters/cadets")
    expect(page.get_by_role("row").nth(3)).to_be_visible()
    expect(page.get_by_role("button", name=re.compile("Write to them"))).to_have_count(0)
    page.get_by_role("button", name="Sign out").click()
    expect(page.get_by_label("Password")).to_be_visible()
    sign_in(page, APPROVES)
    page.goto("/rosters/cadets")
    expect(page.get_by_role("button", name=re.compile("Write to them"))).to_be_visible()
    page.goto("/setup/mail")
    expect(
        page.get_by_role("heading", name="Setup is for who administers everything")
    ).to_be_visible()


def test_a_system_asks(college):
    """A token is made, what is written with it is on the desk, and is so once it is applied."""
    page = college.new_page()
    sign_in(page, ADMINISTERS)
    page.goto("/passing/simulator")
    page.get_by_role("button", name="Make one").click()
    dialog = page.get_by_role("dialog", name="Their token for asking")
    dialog.get_by_role("button", name="Make a token").press("Enter")
    address = dialog.get_by_label("Where they ask").input_value()
    token = dialog.get_by_label("Their token").input_value()

    def ask(method: str, path: str, body=None):
        request = urllib.request.Request(
            address + path,
            method=method,
            data=json.dumps(body).encode() if body else None,
            headers={
                "Authorization": f"Bearer {token}",
                "Content-Type": "application/scim+json",
            },
        )
        with urllib.request.urlopen(request) as found:
            content = found.read()
            return json.loads(content) if content else {}

    one = ask("GET", "/Users?count=1")["Resources"][0]
    change = {"op": "replace", "path": "name.givenName", "value": "Zoë-Marie"}
    body = {"schemas": ["urn:ietf:params:scim:api:messages:2.0:PatchOp"], "Operations": [change]}
    ask("PATCH", f"/Users/{one['id']}", body)
    page.keyboard.press("Escape")
    group = page.get_by_role("group", name="Where they ask")
    page.reload()
    expect(group).to_contain_text("1 proposal")
    link = group.get_by_role("link", name="Ship simulator proposes: 1 changed")
    expect(link).to_be_visible()
    link.click()
    apply(page)
    page.goto("/passing/simulator")
    expect(group).not_to_contain_text("To be looked at")
    assert ask("GET", f"/Users/{one['id']}")["name"]["givenName"] == "Zoë-Marie"
