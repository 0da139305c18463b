"""Who needs a card, on the demo's truth and on institutions made otherwise."""

from __future__ import annotations

import json

import pytest

from nevefield.cards.looking import look_at_design, look_at_needed, try_design
from nevefield.core.cards.needing import Need


@pytest.fixture
def cards(made) -> dict:
    """What is planted about the gate card."""
    return json.loads((made / "gate-card.truth.json").read_text())


def test_everybody_stands_in_one_place(college, cards):
    """The demo's people stand where its maker put them, and it adds up."""
    needed = look_at_needed(college, "gate-card").needed
    found = {
        need: sorted(person.key for person in needed.people if person.need == need)
        for need in Need
        if need != Need.TAKE_IN
    }
    assert found == {Need(need): keys for need, keys in cards.items() if need != "take in"}
    assert sorted(card.holder for card in needed.take_in) == cards["take in"]
    counts = needed.counts()
    assert sum(counts.values()) - counts[Need.TAKE_IN] == len(needed.people) == 1012
    assert sum(counts[need] for need in Need if need not in (Need.HAS, Need.TAKE_IN)) == 41


def test_reasons_are_said(college, cards):
    """Who cannot get a card is told why, in words with a place."""
    people = {person.key: person for person in look_at_needed(college, "gate-card").needed.people}
    (captain,) = cards["unfit"]
    assert people[captain].findings[0].item == "position"
    assert people[cards["photo"][0]].why == ("There is no photograph.",)
    assert all("is lost" in people[key].why[0] for key in cards["anew"])


def test_the_hardest_are_found(college):
    """What fails comes first, and each of the hardest stands once."""
    tried = try_design(college, "gate-card")
    kinds = [hard.what for hard, _ in tried.hardest]
    assert len(kinds) == 5
    assert sum(hard.fails for hard, _ in tried.hardest) == 2, kinds
    assert {hard.people for hard, _ in tried.hardest if hard.fails} == {1, 3}
    assert len({card.record for _, card in tried.hardest}) == 5
    assert tried.people == 1012


def test_numbers_left(college):
    """What is left of a range is what the register has not."""
    left = look_at_design(college, "gate-card").left
    assert {(one.range.facility, one.range.first): one.left for one in left} == {
        (17, 1): 1120,
        (42, 1): 1120,
        (91, 1): 60,
        (17, 60_001): 400,
    }
