"""The editor of definitions in a real browser: every check of the catalog with every option that
it takes.
"""

from __future__ import annotations

import json
import re

import pytest
from playwright.sync_api import expect

from nevefield.cli.desk import connect
from nevefield.core.checking.catalog import DECLARED
from nevefield.core.checking.options import OptionKind
from nevefield.rosters.opening import open_roster_with
from tests.browser.conftest import add_codes, open_others, pick, sign_in
from tests.conftest import ADMINISTERS
from tests.core.checking.test_catalog import CODES, FIELDS

# Of every check all options at once, as their own examples have them.
WHOLE = [
    {
        "check": check.name,
        "fields": check.example["fields"],
        **{option.name: option.example for option in check.options},
    }
    for check in DECLARED.values()
]


@pytest.fixture(scope="module")
def declared(kept, site):
    """A roster with the fields of the examples, and no check."""
    context = connect(kept)
    add_codes(context, CODES)
    open_roster_with(
        context,
        {"name": "declared", "primaryKey": "key", "fields": FIELDS, "nevefield": {"checks": []}},
        [],
    )
    open_others(context)
    context.database.close()
    return "declared"


TITLES = {field["name"]: field.get("title", field["name"]) for field in FIELDS}
TESTS = {"is": "is", "under": "is under years"}  # as the sentence of a condition has them


def typed(kind: OptionKind, value) -> str:
    """An option as an administrator writes it."""
    match kind:
        case OptionKind.VALUES | OptionKind.FIELDS:
            return "; ".join(value)
        case OptionKind.BANDS:
            return "; ".join(f"{least}-{most}" for least, most in value)
        case OptionKind.ROSTERS:
            return "; ".join(f"{roster}.{field}" for roster, field in value.items())
    return str(value)


def set_option(page, form, option) -> None:
    """Set one option through the form."""
    if option.kind is OptionKind.CONDITION:
        words = form.locator(".when").filter(has_text=option.label)
        words.get_by_role("button", name="set a condition").click()
        pick(words.get_by_label("Field"), TITLES[option.example["field"]])
        (test,) = (name for name in option.example if name not in ("field", "on"))
        pick(words.get_by_label("Comparison"), TESTS[test])
        words.get_by_label("Value").fill(str(option.example[test]))
        words.get_by_label("Value").press("Enter")
        if "on" in option.example:
            words.get_by_label("Day of the age").fill(option.example["on"])
            words.get_by_label("Day of the age").press("Enter")
        return
    field = form.get_by_label(option.label or option.name, exact=True)
    if option.kind is OptionKind.FLAG:
        field.check()
    elif option.kind is OptionKind.CHOICE:
        field.click()
        page.locator(".ant-select-item-option").filter(
            has_text=re.compile(f"^{option.example}$")
        ).click()
    else:
        field.fill(typed(option.kind, option.example))
        field.press("Enter")


def test_every_option_through_the_form(page, declared):
    """Each check is added, and each of its options set by its own field; what comes of it is in
    force, and shown again.
    """
    sign_in(page, ADMINISTERS)
    page.goto(f"/rosters/{declared}/definition")
    page.get_by_role("button", name=re.compile("^Checks")).click()
    for check in DECLARED.values():
        pick(page.get_by_label("Add a check"), re.compile(f"^{check.name}:"))
        form = page.locator("article.check").last
        for name in check.example["fields"]:
            pick(form.get_by_label("Add a field"), TITLES[name])
        for option in check.options:
            set_option(page, form, option)
    page.get_by_role("button", name="As JSON").click()
    shown = json.loads(page.get_by_label("The definition as JSON").input_value())
    assert [{name: one[name] for name in sorted(one)} for one in shown["nevefield"]["checks"]] == [
        {name: one[name] for name in sorted(one)} for one in WHOLE
    ]
    page.get_by_role("button", name=re.compile("^(Put|Propose) version 2")).click()
    expect(page.get_by_text("version 2", exact=False).first).to_be_visible()
    page.reload()
    page.get_by_role("button", name=re.compile("^Checks")).click()
    expect(page.locator("article.check")).to_have_count(len(DECLARED))
    for form, whole in zip(page.locator("article.check").all(), WHOLE, strict=True):
        for option in DECLARED[whole["check"]].options:
            if option.kind not in (OptionKind.CONDITION, OptionKind.FLAG, OptionKind.CHOICE):
                field = form.get_by_label(option.label or option.name, exact=True)
                expect(field).to_have_value(typed(option.kind, option.example))


def test_a_wrong_option_is_said(page, declared):
    """What an option cannot be is said in words with its place, and cannot be put in force."""
    sign_in(page, ADMINISTERS)
    page.goto(f"/rosters/{declared}/definition")
    page.get_by_role("button", name=re.compile("^Checks")).click()
    pick(page.get_by_label("Add a check"), re.compile("^runs-out:"))
    form = page.locator("article.check").last
    pick(form.get_by_label("Add a field"), TITLES["medical"])
    form.get_by_label("within", exact=True).fill("a month")
    form.get_by_label("within", exact=True).press("Enter")
    expect(page.get_by_role("status")).to_contain_text(
        re.compile(r"checks\[\d+\]\.within.*is a number from 0")
    )
    expect(
        page.get_by_role("button", name=re.compile("^Put version .* in force$"))
    ).to_be_disabled()
