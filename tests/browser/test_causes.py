"""Every kind of cause through the real bench, by keyboard: each opens, each has a remedy, and at
the end nothing waits.
"""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import expect

from nevefield.cli.desk import connect
from nevefield.core.checking.catalog import DECLARED
from nevefield.core.checking.rows import OfRows
from nevefield.core.codes import Code
from nevefield.rosters.opening import open_roster_with
from nevefield.store import rosters as roster_store
from tests.browser.conftest import add_codes, drop, open_others, sign_in, tally
from tests.conftest import APPROVES
from tests.core.checking.test_catalog import CODES, FIELDS

LOOKED_AT_ELSEWHERE = "See how|Set a value|Other value"
# What stands in no example: one field that is required, one of each type, and a reference.
MORE = [
    {"name": "needed", "constraints": {"required": True}},
    {"name": "amount", "type": "number", "constraints": {"maximum": 10}},
    {"name": "captain"},
    {"name": "deck", "nevefield": {"codeList": "deck"}},
    {"name": "cabin", "nevefield": {"codeList": "cabin", "parent": "deck"}},
]


def definition() -> dict:
    """A roster with every check of the catalog, those of groups once as a stop."""
    checks = [one.example for one in DECLARED.values()]
    checks.append({**DECLARED["group-size"].example, "by": ["band"], "most": 1, "weight": "stop"})
    return {
        "name": "everything",
        "title": "Everything",
        "primaryKey": "key",
        "foreignKeys": [
            {
                "fields": "captain",
                "reference": {"resource": "", "fields": "key"},
                "nevefield": {"hierarchy": True},
            }
        ],
        "fields": [*FIELDS, *MORE],
        "nevefield": {"checks": checks},
    }


def rows() -> list[dict[str, str]]:
    """The examples that fail, each person with a key of their own, and what fails without a
    declaration.
    """
    found = []
    for one in DECLARED.values():
        for row in one.fails.split("\n"):
            values = dict(part.split("=", 1) for part in row.split())
            more = {} if one.name == "required-when" else {"guardian": "x"}
            found.append(
                {
                    "needed": "x",
                    **more,
                    **values,
                    "key": (
                        "1"
                        if values.get("key") == "1" and not isinstance(one.run, OfRows)
                        else f"k{len(found)}"
                    ),
                }
            )
    found += [
        {"key": "a1", "needed": ""},
        {"key": "a2", "needed": "x", "amount": "11"},
        {"key": "a3", "needed": "x", "captain": "nobody"},
        {"key": "a4", "needed": "x", "captain": "a5"},
        {"key": "a5", "needed": "x", "captain": "a4"},
        {"key": "a6", "needed": "x", "deck": "Fore"},
        {"key": "a7", "needed": "x", "deck": "A", "cabin": "B1"},
        {"key": "a8", "needed": "x", "guardian": "one"},
        {"key": "a8", "needed": "x", "guardian": "another"},
        {"key": "b1", "needed": "x", "band": "red"},
        {"key": "b2", "needed": "x", "band": "red"},
    ]
    return found


@pytest.fixture(scope="module")
def everything(kept, site, tmp_path_factory):
    """The roster, opened with two people, and a file for it that has all kinds of causes."""
    context = connect(kept)
    add_codes(context, CODES)
    with context.database.transaction() as connection:
        roster_store.replace_code_list(connection, "deck", [_code("A"), _code("B")])
        roster_store.replace_code_list(connection, "cabin", [_code("A1", "A"), _code("B1", "B")])
    open_roster_with(
        context,
        definition(),
        [
            {"key": "1", "watch": "SKUA", "position": "CAPT", "needed": "x"},
            {"key": "gone", "watch": "PUFFIN", "needed": "x"},
        ],
    )
    open_others(context)
    context.database.close()
    names = list(dict.fromkeys(name for row in rows() for name in row))
    text = (
        "\n".join(
            [",".join(names), *(",".join(row.get(name, "") for name in names) for row in rows())]
        )
        + "\n"
    )
    path = tmp_path_factory.mktemp("everything") / "everything.csv"
    path.write_text(text)
    return path


def _code(code: str, parent: str = "") -> Code:
    return Code(code, f"Deck {code}", parent)


def test_walked_to_a_settled_tally(page, everything):
    """By keyboard alone every cause of every check is opened and settled, until what is left can
    be applied.
    """
    sign_in(page, APPROVES)
    drop(page, everything)
    page.wait_for_url(re.compile(r"/intakes/\d+/problems"))
    intake = re.search(r"/intakes/(\d+)/", page.url)[1]
    claim_everybody(page, intake)
    seen = set()
    for _ in range(90):
        tally(page)
        cause = page.locator("article.cause.on")
        if page.get_by_text("Every problem is settled").is_visible():
            break
        expect(cause).to_have_count(1)
        title = cause.locator(".name").inner_text()
        seen.add(title)
        labels = cause.get_by_role("button").filter(has=page.locator("kbd")).all_inner_texts()
        assert labels, f"{title}: no remedy has a key"
        wanted = next((one for one in labels if not re.match(LOOKED_AT_ELSEWHERE, one)), None)
        assert wanted, f"{title}: {labels}"
        before = page.get_by_role("region", name="Causes").inner_text()
        page.keyboard.press(wanted.strip()[-1])
        dialog = page.get_by_role("dialog")
        if re.match("Approve|Take the file|Hold|Leave .* out|They are two", wanted):
            expect(dialog.get_by_label("Reason")).to_be_focused()
            page.keyboard.type("agreed with the office")
            page.keyboard.press("Enter")
            expect(dialog).not_to_be_visible()
        expect(page.get_by_role("region", name="Causes")).not_to_have_text(before)
    else:
        raise AssertionError(f"not settled: {before}")
    # Groups and the whole file were among them, by their own names.
    for part in (
        "without its lead|leads",
        "people, at most",
        "bands of age",
        "rows is unusual",
        "absent is unusual|has vanished",
    ):
        assert any(re.search(part, title) for title in seen), (part, seen)
    found = tally(page)
    assert found.get("stopped", 0) == found.get("waiting", 0) == 0
    page.get_by_role("link", name="Apply", exact=False).first.click()
    expect(page.get_by_role("button", name=re.compile("^(Apply|Propose) "))).to_be_visible()
    assert not page.get_by_text("have to be settled").is_visible()


def claim_everybody(page, intake: str) -> None:
    """Say that the file claims everybody, so that guards of the whole file have something to
    say.
    """
    page.evaluate(
        """async (intake) => {
            const { token } = await (await fetch('/api/session')).json()
            await fetch(`/api/intakes/${intake}/steps`, {
                method: 'POST',
                headers: { 'Content-Type': 'application/json', 'X-Nevefield-Token': token },
                body: JSON.stringify({ step: { kind: 'coverage', of: 'everybody' } }),
            })
        }""",
        intake,
    )
    page.reload()
