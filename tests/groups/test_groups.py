"""Groups of the demo: as its truth has them; moved and spread through an intake, with every
condition kept or the clash said.
"""

from __future__ import annotations

import json
from collections import Counter
from datetime import date, timedelta

import numpy as np
import pytest

from nevefield.accounts import Level, add_account
from nevefield.core.defining.reading import read_definition
from nevefield.core.errors import WrongDefinition
from nevefield.groups.errors import NoSuchKind, WrongPlacing
from nevefield.groups.looking import confirm_members, find_origins, list_kinds, open_kind
from nevefield.groups.placing import Asked, place_people, spread_people
from nevefield.intakes.applying import apply_intake, take_back
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.receiving import receive_file
from nevefield.jobs.worker import run_one
from nevefield.proposals.approving import approve
from nevefield.proposals.editing import Edit, edit_record
from nevefield.rosters.looking import open_roster
from nevefield.store.confirmed import list_confirmed


@pytest.fixture
def cadets(made) -> list[dict]:
    return json.loads((made / "roster-cadets.json").read_text())["records"]


def watches(cadets) -> dict[tuple[str, ...], list[dict]]:
    found: dict[tuple[str, ...], list[dict]] = {}
    for one in cadets:
        found.setdefault((one["campus"], str(one["year"]), one["watch"]), []).append(one)
    return found


def apply(context, intake: int) -> int:
    opened = open_intake(context, intake)
    return apply_intake(context, intake, len(opened.steps), opened.roster.version, None)


def test_watches_are_as_they_were_made(college, cadets):
    """Every watch has the cadets and the captain that it was made with; those over the most, and
    of mixed ages, are said.
    """
    opened = open_kind(college, "cadets", "watch", college.today())
    wanted = watches(cadets)
    key = opened.snapshot.columns["cadet_number"]
    assert {one.key: sorted(key.rows(one.members)) for one in opened.found.groups} == {
        name: sorted(one["cadet_number"] for one in members) for name, members in wanted.items()
    }
    captains = {
        name: [one["cadet_number"] for one in some if one["watch_position"] == "CAPT"]
        for name, some in wanted.items()
    }
    assert {one.key: key.rows(one.leads) for one in opened.found.groups} == captains
    over = {
        one.key for one in opened.found.groups if any("over" in trouble for trouble in one.troubles)
    }
    assert over == {name for name, members in wanted.items() if len(members) > 24}


def test_memberships_are_groups_too(college, made):
    """A membership counts from its first day to its last; its people are those of the other
    roster.
    """
    records = json.loads((made / "roster-memberships.json").read_text())["records"]
    kinds = {one.kind.title: one.people for one in list_kinds(college, college.today())}
    for kind, title in (
        ("HOUSE", "House"),
        ("STATION", "Muster station"),
        ("SAFETY", "Safety team"),
    ):
        assert kinds[title] == sum(one["kind"] == kind for one in records)
    early = date(2024, 1, 1)
    opened = open_kind(college, "memberships", "HOUSE", college.today())
    assert (opened.persons(np.concatenate([one.members for one in opened.found.groups])) >= 0).all()
    counts = Counter(one["group"] for one in records if one["kind"] == "HOUSE")
    assert {one.key[0]: len(one.members) for one in opened.found.groups} == counts
    with pytest.raises(NoSuchKind):
        open_kind(college, "memberships", "HOUSES", early)
    with pytest.raises(WrongPlacing, match="drop a file"):
        spread_people(college, "memberships", "HOUSE", Asked((1,)))


def test_memberships_end_and_begin(college, made):
    """Who is moved to another house is in the one until yesterday and in the other from today;
    nobody else is touched.
    """
    records = json.loads((made / "roster-memberships.json").read_text())["records"]
    opened = open_kind(college, "memberships", "HOUSE", college.today())
    one, other = [group for group in opened.found.groups if len(group.members) > 2][:2]
    moved = one.members[:2].tolist()
    ids = [int(opened.snapshot.ids[place]) for place in moved]
    who = {opened.snapshot.columns["cadet_number"].at(place) for place in moved}
    apply(
        college,
        place_people(college, "memberships", "HOUSE", dict.fromkeys(ids, other.key[-1]), None),
    )
    _, snapshot = open_roster(college, "memberships")
    found = [snapshot.values(place) for place in range(len(snapshot))]
    today, yesterday = college.today(), college.today() - timedelta(days=1)
    mine = [row for row in found if row["cadet_number"] in who and row["kind"] == "HOUSE"]
    ended = {
        row["cadet_number"]
        for row in mine
        if row["group"] == one.key[-1] and row.get("to") == yesterday.isoformat()
    }
    begun = {
        row["cadet_number"]
        for row in mine
        if row["group"] == other.key[-1] and row["from"] == today.isoformat()
    }
    assert (ended, begun) == (who, who)
    rest = [row for row in found if not (row["cadet_number"] in who and row["kind"] == "HOUSE")]
    was = [row for row in records if not (row["cadet_number"] in who and row["kind"] == "HOUSE")]
    assert Counter(json.dumps(row, sort_keys=True) for row in rest) == Counter(
        json.dumps(row, sort_keys=True) for row in was
    )
    sizes = {
        group.key: len(group.members)
        for group in open_kind(college, "memberships", "HOUSE", today).found.groups
    }
    assert (sizes[one.key], sizes[other.key]) == (len(one.members) - 2, len(other.members) + 2)


def test_roles_are_groups_of_whom_one_has_several(college, made):
    """Who has which role, since when and through what; on the day before a role was given it is
    not there.
    """
    staff = json.loads((made / "roster-staff.json").read_text())["records"]
    opened = open_kind(college, "staff", "role", college.today())
    key = opened.snapshot.columns["staff_number"]
    wanted: dict[str, list[str]] = {}
    for one in staff:
        for role in one.get("roles", []):
            wanted.setdefault(role, []).append(one["staff_number"])
    assert {
        one.key[0]: sorted(key.rows(one.members)) for one in opened.found.groups if len(one.members)
    } == {role: sorted(people) for role, people in wanted.items()}
    assert opened.kind.grants["ARMOUR"].weight == max(
        one.weight for one in opened.kind.grants.values()
    )
    assert {one.key[0] for one in opened.found.groups} == {
        "MEMBER",
        "WCAPT",
        "INSTR",
        "QUART",
        "REGIST",
        "ARMOUR",
    }
    place = next(
        place for place in range(len(key)) if opened.snapshot.values(place).get("roles") is None
    )
    number = int(opened.snapshot.ids[place])
    two = [
        add_account(college, name, name, f"a-long-password-{name}", Level.APPROVE)
        for name in ("one", "two")
    ]
    edited = edit_record(college, Edit(number, {"roles": "INSTR"}, reason="teaches now"), two[0])
    approve(college, edited.proposal, two[1])
    while run_one(college, "w"):
        pass
    now = open_kind(college, "staff", "role", college.today())
    group = next(one for one in now.found.groups if one.key == ("INSTR",))
    origins = find_origins(college, now, ("INSTR",), group.members.tolist())
    assert set(origins) == set(group.members.tolist())
    mine = next(
        origin for place, origin in origins.items() if int(now.snapshot.ids[place]) == number
    )
    assert (mine.since, mine.title.startswith("By hand")) == (college.today(), True)
    ids = now.snapshot.ids[group.members].tolist()
    assert confirm_members(college, "staff", "role", ("INSTR",), [number, 999_999], two[0]) == 1
    with college.database.transaction() as connection:
        ticked = list_confirmed(connection, now.roster.id, "role", "INSTR")
    assert {record: by for record, (_, by) in ticked.items()} == {number: "one"}
    assert set(ticked) <= set(ids)
    # Moved by hand: what is joined comes beside what there is, and only what is left goes.
    for to, leaving, left in (
        ("MEMBER", {}, ["INSTR", "MEMBER"]),
        ("", {number: "INSTR"}, ["MEMBER"]),
    ):
        apply(college, place_people(college, "staff", "role", {number: to}, None, leaving=leaving))
        after = open_kind(college, "staff", "role", college.today()).snapshot
        assert after.values(after.ids.tolist().index(number))["roles"] == left


def test_moved_and_taken_back(college):
    """Two people moved by hand are one receipt; taken back, the groups are as they were."""
    opened = open_kind(college, "cadets", "watch", college.today())
    group = next(one for one in opened.found.groups if one.key[0] == "CH" and len(one.members) > 12)
    hands = [
        place
        for place in group.members.tolist()
        if opened.snapshot.columns["watch_position"].at(place) == "HAND"
    ][:2]
    other = next(
        one for one in opened.found.groups if one.key[:2] == group.key[:2] and one.key != group.key
    )
    ids = [int(opened.snapshot.ids[place]) for place in hands]
    done = apply(
        college, place_people(college, "cadets", "watch", dict.fromkeys(ids, other.key[-1]), None)
    )
    sizes = {
        one.key: len(one.members)
        for one in open_kind(college, "cadets", "watch", college.today()).found.groups
    }
    assert (sizes[group.key], sizes[other.key]) == (len(group.members) - 2, len(other.members) + 2)
    take_back(college, done, None)
    again = {
        one.key: len(one.members)
        for one in open_kind(college, "cadets", "watch", college.today()).found.groups
    }
    assert again == {one.key: len(one.members) for one in opened.found.groups}


def test_september_is_spread(college, made):
    """The September file's new cadets over the watches of their campus: least and most, one band
    of ages, even in programme.
    """
    intake = receive_file(
        college, "september-joiners.csv", (made / "september-joiners.csv").read_bytes()
    )
    before = set(open_kind(college, "cadets", "watch", college.today()).snapshot.ids.tolist())
    apply(college, intake)
    opened = open_kind(college, "cadets", "watch", college.today())
    snapshot = opened.snapshot
    fresh = tuple(number for number in snapshot.ids.tolist() if number not in before)
    truth = json.loads((made / "september-joiners.truth.json").read_text())
    assert len(fresh) == truth["tally"]["new"]
    asked = Asked(fresh, anew=True, even=("programme",), apart=("guardian_phone",))
    found = spread_people(college, "cadets", "watch", asked)
    assert (found.clashes, found.lacking, found.is_least) == ([], [], True)
    sizes = {one.key: len(one.members) for one in opened.found.groups}
    assert found.before == {key: sizes[key] for key in found.before}
    assert len(found.moves) + found.stay == len(fresh)
    assert apply(
        college, place_people(college, "cadets", "watch", found.moves, None, is_spread=True)
    )
    groups = open_kind(college, "cadets", "watch", college.today())
    after = {
        one.key: [groups.snapshot.values(place) for place in one.members.tolist()]
        for one in groups.found.groups
    }
    assert {key: len(after[key]) for key in found.after} == found.after
    for key, size in found.after.items():
        assert 8 <= size <= 24
        adults = {one["born"] <= "2008-09-01" for one in after[key]}
        assert len(adults) == 1, key
        guardians = Counter(one["guardian_phone"] for one in after[key] if "guardian_phone" in one)
        assert max(guardians.values(), default=1) == 1
    kept = spread_people(college, "cadets", "watch", Asked(fresh, apart=("guardian_phone",)))
    # an arrangement that fits is left as it is
    assert (kept.moved, kept.stay, kept.clashes) == (0, len(fresh), [])


def test_no_more_fit(college):
    """More people than the groups hold: which part, by how many, and nothing is proposed for it."""
    opened = open_kind(college, "cadets", "watch", college.today())
    part = ("TSM", "4")
    people = [
        int(opened.snapshot.ids[place])
        for one in opened.found.groups
        if one.key[:2] == part
        for place in one.members
    ]
    assert len(people) == 53
    found = spread_people(college, "cadets", "watch", Asked(tuple(people), one_band=False))
    (said,) = found.clashes
    assert "53 people, and 2 groups of at most 24 hold 48: 5 too many" in said
    assert found.moves == {}
    free = spread_people(
        college, "cadets", "watch", Asked(tuple(people), one_band=False, sizes=False)
    )
    assert (free.clashes, free.moved) == ([], 0)


@pytest.mark.parametrize(
    ("wrong", "place"),
    [
        ({"kind": "w"}, "groups[0].by"),
        ({"kind": "w", "by": ["nothing"]}, "by[0]"),
        ({"kind": "w", "by": ["no"], "least": 5, "most": 2}, "most"),
        ({"kind": "w", "by": ["no"], "leasst": 5}, "leasst"),
        ({"kind": "w", "by": ["no"], "each": "no"}, "person"),
        ({"kind": "w", "by": ["no"], "ages": {"field": "no", "bands": [1]}}, "bands"),
        ({"kind": "w", "by": ["no"], "lead": {"field": "x", "is": 1}}, "lead"),
        ({"kind": "w", "by": ["no"], "grants": {"A": {"weigth": 1}}}, "grants.A.weigth"),
        ({"kind": "w", "by": ["no"], "grants": {"A": {"weight": -1}}}, "grants.A.weight"),
    ],
)
def test_wrong_kinds_are_refused(wrong, place):
    """A mistake in a kind is named with its place."""
    with pytest.raises(WrongDefinition, match=place.replace("[", r"\[").replace("]", r"\]")):
        read_definition({"name": "x", "fields": [{"name": "no"}], "nevefield": {"groups": [wrong]}})
