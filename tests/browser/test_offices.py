"""Another institution's keeper at work: files of several offices, of a hospital that writes
Polish, in a real browser.
"""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from nevefield.cli.desk import connect
from nevefield.rosters.opening import open_roster_with
from nevefield.store import rosters
from tests.browser.conftest import call, pick, picked, sign_in, tally, upload
from tests.browser.test_groups import apply
from tests.conftest import APPROVES
from tests.core.placing.test_memberships import CODES as GROUP_CODES
from tests.core.placing.test_memberships import DOCUMENT as GROUPS
from tests.core.placing.test_memberships import NAMES, PEOPLE
from tests.core.placing.test_memberships import ROSTER as MEMBERSHIPS
from tests.institutions import hospital
from tests.institutions.opened import open_institution

pytestmark = pytest.mark.browser
CHECKS = [{"check": "age", "fields": ["urodzony"], "on": "today", "most": 60, "weight": "ask"}]
HEADINGS = {
    "numer": "Numer pracownika",
    "nazwisko": "Nazwisko",
    "imie": "Imię",
    "urodzony": "Urodzony",
    "poczta": "E-mail",
    "klinika": "Klinika",
    "oddzial": "Oddział",
    "od": "Zatrudniony od",
    "do": "Zatrudniony do",
    "etat": "Etat",
    "przelozony": "Przełożony",
}


@pytest.fixture(scope="module")
def ward(kept, site):
    """The hospital and a choir's memberships, opened in the product that is served."""
    context = connect(kept)
    made = hospital.make()
    made.document = {**made.document, "nevefield": {**made.document["nevefield"], "checks": CHECKS}}
    open_institution(context, made)
    with context.database.transaction() as connection:
        for name, codes in GROUP_CODES.items():
            rosters.replace_code_list(connection, name, codes.codes)
    open_roster_with(context, PEOPLE, NAMES)
    open_roster_with(context, GROUPS, MEMBERSHIPS)
    context.database.close()
    return site


def sheet(places, names=HEADINGS, headings=HEADINGS, **changes: str) -> str:
    """A file of some of the hospital's people; what is changed is changed in all of them."""
    rows = [hospital.written({"do": "", **hospital.person(place)}, **changes) for place in places]
    lines = [
        [headings.get(name, name) for name in names],
        *([row.get(name, "") for name in names] for row in rows),
    ]
    return "\n".join(";".join(line) for line in lines) + "\n"


def take(page: Page, text: str, name: str = "lista.csv", **fields: str) -> int:
    return upload(page, name, text, roster="pracownicy", **fields)


def open_page(page: Page, intake: int, where: str) -> None:
    page.goto(f"/intakes/{intake}/{where}")
    expect(page.get_by_label("Tally")).to_have_attribute("aria-busy", "false")


def apply_all(page: Page, intake: int) -> None:
    """Apply an intake through the API: what a journey begins with."""
    found = call(page, "GET", f"/api/intakes/{intake}")
    body = {"steps": found["steps"], "roster_version": found["roster_version"]}
    call(page, "POST", f"/api/intakes/{intake}/apply", body)
    for _ in range(200):
        if call(page, "GET", f"/api/intakes/{intake}")["applied"]:
            return
        page.wait_for_timeout(200)
    raise AssertionError("it was not applied")


def test_whose_file_it_is(page, ward):
    """A file like a source's last one is only taken for it: the evidence is read, refused, taken
    back, and confirmed.
    """
    sign_in(page, APPROVES)
    odd = {**HEADINGS, "etat": "Wymiar"}
    text = sheet([20, 21], ["numer", "nazwisko", "imie", "etat"], odd, etat="0,9")
    first = take(page, text, "kadry-1.csv", source="Kadry")
    call(
        page,
        "POST",
        f"/api/intakes/{first}/steps",
        {"step": {"kind": "pair", "heading": "Wymiar", "field": "etat"}},
    )
    apply_all(page, first)
    intake = take(
        page, sheet([23, 24], ["numer", "nazwisko", "imie", "etat"], odd, etat="0,8"), "dane.csv"
    )
    open_page(page, intake, "file")
    guess = page.get_by_role("status").filter(has_text="It seems to be from Kadry")
    expect(guess).to_contain_text("one as in nobody else’s: “Wymiar”")
    expect(page.get_by_text("seems to be from Kadry", exact=False).first).to_be_visible()
    page.get_by_role("button", name="It is not", exact=True).click()
    expect(page.get_by_text("Where the file comes from is not said")).to_be_visible()
    page.keyboard.press("z")
    expect(guess).to_be_visible()
    page.goto(f"/intakes/{intake}/apply")
    expect(page.get_by_text("Nothing will be learnt from this file")).to_be_visible()
    page.get_by_role("button", name="It is from Kadry").click()
    expect(page.get_by_text("is remembered for the next file of Kadry")).to_be_visible()
    page.reload()
    expect(page.get_by_text("is remembered for the next file of Kadry")).to_be_visible()
    # What the file claims is this file's alone, until somebody says otherwise.
    page.goto(f"/intakes/{intake}/file")
    pick(page.get_by_label("What the file claims to be"), re.compile("^everybody in (?!a part)"))
    expect(page.get_by_text("So for this file alone.")).to_be_visible()
    page.get_by_role("button", name="For the next files of Kadry too").click()
    expect(page.get_by_text("So for the next files of Kadry too")).to_be_visible()


def test_what_people_are_known_by(page, ward):
    """Numbers of another office know the wrong people; known by mail they are right; and the
    file only changes people.
    """
    sign_in(page, APPROVES)
    rows = sheet([10, 11, 160], ["numer", "nazwisko", "imie", "poczta"]).splitlines()
    first, second = (row.split(";")[0] for row in rows[1:3])
    text = (
        "\n".join(
            [rows[0], rows[1].replace(first, second), rows[2].replace(second, first), rows[3]]
        )
        + "\n"
    )
    intake = take(page, text)
    open_page(page, intake, "people")
    assert tally(page)["stopped"] == 2
    page.get_by_role("button", name="Known by numer pracownika").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("checkbox", name="Numer pracownika").uncheck()
    dialog.get_by_role("checkbox", name="E-mail").check()
    dialog.get_by_label("only changes", exact=False).check()
    dialog.get_by_role("button", name="Use this").click()
    expect(page.get_by_text("2 by e-mail")).to_be_visible()
    expect(page.get_by_text("1 row is left out: this file only changes people.")).to_be_visible()
    assert tally(page).get("left_out") == 1
    page.reload()
    expect(page.get_by_role("button", name="Known by e-mail")).to_be_visible()
    page.keyboard.press("z")
    expect(page.get_by_text("is left out")).to_have_count(0)


def test_what_a_hand_chose_stays(page, ward):
    """A second column for a field asks first; a guess that makes room is said; columns of the
    file are composed.
    """
    sign_in(page, APPROVES)
    text = "Numer pracownika;Nazwisko;Imię;Ulica;Nr domu\n" + "".join(
        f"{hospital.number(place)};{hospital.person(place)['nazwisko']};{hospital.person(place)['imie']};Długa;{place}\n"
        for place in (20, 21, 22)
    )
    intake = take(page, text)
    open_page(page, intake, "columns")
    pick(page.get_by_label("Field for Ulica"), "Przełożony")
    expect(picked(page.get_by_label("Field for Ulica"))).to_have_text("Przełożony")
    pick(page.get_by_label("Field for Nr domu"), "Przełożony")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("“Ulica” was sent there by hand")
    dialog.get_by_role("button", name="Leave it as it is").click()
    expect(picked(page.get_by_label("Field for Nr domu"))).to_have_text("left in the file")
    page.reload()
    expect(picked(page.get_by_label("Field for Ulica"))).to_have_text("Przełożony")
    pick(page.get_by_label("Field for Nr domu"), "Przełożony")
    page.get_by_role("dialog").get_by_role("button", name=re.compile("in its place")).click()
    expect(page.get_by_text("“Ulica” stays in the file now")).to_be_visible()
    expect(picked(page.get_by_label("Field for Nr domu"))).to_have_text("Przełożony")
    # A guessed one makes room, and its line says for which column.
    pick(page.get_by_label("Field for Ulica"), "Nazwisko")
    expect(page.get_by_text("“Ulica” was chosen for Nazwisko")).to_be_visible()
    page.keyboard.press("z")
    expect(page.get_by_text("“Ulica” was chosen for Nazwisko")).to_have_count(0)
    strip = page.locator(".strip").filter(has_text="E-mail").filter(has_text="nothing in the file")
    strip.get_by_role("button", name="Compose it").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_role("button", name="Add a text").click()
    dialog.get_by_label("text", exact=True).fill("@")
    dialog.get_by_role("button", name="Add a column of the file").click()
    pick(dialog.get_by_label("Field of piece 4"), "“Nr domu”")
    expect(dialog.get_by_text("values, ")).to_be_visible()


def test_a_yes_lasts(page, ward):
    """Approved with a reason and applied, the same is not asked again; it is listed, withdrawn,
    and asked again.
    """
    sign_in(page, APPROVES)
    old = 40  # born 1958
    intake = take(page, sheet([old], ["numer", "nazwisko", "imie", "urodzony", "etat"], etat="0,4"))
    open_page(page, intake, "problems")
    page.keyboard.press("w")
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("it is not asked again as long as the value is the same")
    expect(dialog.get_by_label("Reason")).to_be_focused()
    page.keyboard.type("przedłużono umowę")
    page.keyboard.press("Enter")
    expect(page.get_by_role("link", name="Approved with a reason: 1")).to_be_visible()
    page.goto(f"/intakes/{intake}/apply")
    apply(page)
    again = take(page, sheet([old], ["numer", "nazwisko", "imie", "urodzony", "etat"], etat="0,3"))
    open_page(page, again, "problems")
    assert tally(page).get("waiting", 0) == 0
    page.get_by_role("link", name="Approved with a reason: 1").click()
    expect(page.get_by_label("The row in full")).to_contain_text("przedłużono umowę")
    page.get_by_role("link", name="waivers").click()
    row = page.get_by_role("row").filter(has_text=hospital.number(old))
    expect(row).to_contain_text("stands")
    row.get_by_role("button", name="Withdraw").click()
    page.get_by_role("dialog").get_by_role("button", name="Withdraw it").click()
    expect(row).to_contain_text("withdrawn")
    open_page(page, again, "problems")
    assert tally(page)["waiting"] == 1


def test_empty_cells_and_fill_values(page, ward):
    """An empty cell keeps the roster's value until emptying is asked for, for so many; a fill
    value says what it does.
    """
    sign_in(page, APPROVES)
    intake = take(
        page,
        sheet(
            [30, 31, 161],
            ["numer", "nazwisko", "imie", "oddzial", "klinika"],
            oddzial="",
            klinika="",
        ),
    )
    open_page(page, intake, "changes?family=oddzial")
    before = tally(page)
    assert before.get("changed", 0) == 0
    page.get_by_role("button", name=re.compile("^Empty .*2")).first.click()
    expect(page.get_by_title("2 taken away")).to_be_visible()
    assert tally(page)["changed"] == 2
    page.keyboard.press("z")
    expect(page.get_by_title("2 taken away")).to_have_count(0)
    open_page(page, intake, "columns")
    page.get_by_role("button", name="Klinika", exact=True).click()
    fill = page.locator(".fills").filter(has_text="3 rows have nothing here")
    pick(fill.get_by_role("combobox").first, re.compile("^POL "))
    expect(page.get_by_text(re.compile("fills 1|1 new|for 1"))).to_be_visible()


def test_two_people_under_one_number(page, ward):
    """Two people who share a number are told apart: one is given another number, and both go in."""
    sign_in(page, APPROVES)
    one, other = hospital.person(170), hospital.person(185)
    names = ["numer", "nazwisko", "imie", "urodzony", "poczta", "przelozony"]
    text = sheet([170], names) + sheet([185], names, numer=one["numer"]).split("\n", 1)[1]
    intake = take(page, text)
    open_page(page, intake, "problems")
    assert tally(page)["stopped"] == 2
    page.get_by_role("button", name=re.compile("Give line 3 another number")).click()
    box = page.get_by_label("The row in full").get_by_role("textbox").first
    expect(box).to_be_focused()
    box.fill(other["numer"])
    page.keyboard.press("Enter")
    expect(page.get_by_role("region", name="Causes")).not_to_contain_text("two people")
    assert tally(page)["new"] + tally(page).get("waiting", 0) == 2


def test_memberships_of_a_choir(page, ward):
    """Who joins a second choir is asked about by name; the other ends by key; exactly these for
    the groups names who leaves.
    """
    sign_in(page, APPROVES)
    intake = upload(
        page, "chor.csv", "nr;art;gruppe;von\nA1;CHOR;JUG;2026-12-15\n", roster="zugehoerig"
    )
    open_page(page, intake, "problems")
    assert tally(page)["waiting"] == 1
    expect(page.get_by_role("grid", name="Rows")).to_contain_text("Öztürk")
    page.keyboard.press("1")
    assert tally(page)["new"] == 1
    page.goto(f"/intakes/{intake}/apply")
    expect(page.get_by_text("1 membership of 1 person.")).to_be_visible()
    page.get_by_role("link", name="1 other membership ends").click()
    expect(page.get_by_role("main")).to_contain_text("14 Dec 2026")
    page.goto(f"/intakes/{intake}/file")
    pick(page.get_by_label("What the file claims to be"), "exactly the people of the groups in it")
    expect(page.get_by_text("exactly the people of its groups")).to_be_visible()
    page.goto(f"/intakes/{intake}/changes?family=absent")
    expect(page.get_by_role("main")).to_contain_text("Ní Bhriain")


def test_request_sheet(page, ward):
    """A sheet is made for an office and chosen fields; nothing is asked for that was not ticked."""
    sign_in(page, APPROVES)
    page.goto("/rosters/pracownicy")
    page.get_by_role("button", name="Request sheet").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Made for").fill("Portiernia")
    dialog.get_by_role("button", name="Required ones").click()
    dialog.get_by_label("Etat").check()
    with page.expect_download() as coming:
        dialog.get_by_role("link", name="Download CSV").click()
    lines = coming.value.path().read_text("utf-8-sig").splitlines()
    assert lines[0] == "Request sheet made for Portiernia"
    assert lines[1] == "Numer pracownika,Nazwisko,Imię,Etat"
