"""Who is this row, when no key says it: against made people of whom it is known who is who."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nevefield.core.people.candidates import find_candidates
from nevefield.core.people.matching import learn_people, sides_of
from nevefield.core.people.settling import CERTAIN, NOBODY, POSSIBLE, Likely, Limits, settle_likely
from nevefield.core.people.traits import forms_of, traits_of
from nevefield.core.table import Column
from tests.core.people.crowd import make_crowd
from tests.core.people.maker import DEFINITION, FIELDS, KNOWN, make_people

PERSON = {
    "family": "Threlkeld",
    "given": "Katherine",
    "born": "2004-03-09",
    "mail": "k.threlkeld@x.example",
    "phone": "+44 7700 900417",
    "postcode": "TQ1 4AB",
    "town": "Skarvholm",
}


def columns(*people: dict[str, str]) -> dict[str, Column]:
    return {name: Column.of([one.get(name) or None for one in people]) for name in FIELDS}


def likely(
    ours: dict[str, Column], theirs: dict[str, Column], *, limits: Limits | None = None, **more
) -> Likely:
    """Find and settle, all rows against all records."""
    rows = len(next(iter(ours.values())))
    return settle_likely(
        learn_people(ours, sides_of(DEFINITION, theirs), np.arange(rows), **more).found,
        limits,
    )


def match(rows: list[dict[str, str]], records: list[dict[str, str]], **more):
    """Match rows with records, among many others who live there."""
    others = make_people(400, 7).theirs
    crowd = [{name: others[name].at(place) for name in FIELDS} for place in range(400)]
    return likely(columns(*rows), columns(*records, *crowd), **more)


@pytest.mark.parametrize(
    ("count", "seed", "blank"),
    [(6_000, 1, 0.0), (6_000, 2, 0.3), (1_000, 3, 0.3)],
    ids=["full", "gaps", "small"],
)
def test_made_people(count, seed, blank):
    """Certain is right in 99.9%, of those in the roster 99% are certain or possible, at most 3%
    are left to a person.
    """
    made = make_people(count, seed, blank=blank)
    settled = likely(made.ours, made.theirs)
    found = settled.found
    truth = np.array(made.truth)
    certain = settled.decision == CERTAIN
    wrong = certain & (settled.record != truth)
    assert wrong.sum() <= max(1, 0.001 * certain.sum())
    offered = np.zeros(count, bool)
    offered[found.rows[found.records == truth[found.rows]]] = True
    reached = np.where(certain, settled.record == truth, (settled.decision == POSSIBLE) & offered)
    assert reached[truth >= 0].mean() >= 0.99
    assert (settled.decision == POSSIBLE).mean() <= 0.03
    taken = settled.record[certain]
    assert len(set(taken.tolist())) == len(taken)  # no record for two rows


@given(
    st.integers(0, 10_000),
    st.sampled_from(sorted(set(KNOWN) - {"no birth date", "slip and moved"})),
)
@settings(max_examples=60, deadline=None)
def test_no_single_error_hides_somebody(seed, kind):
    """Whatever one error a row has, the record that it is stands among the candidates."""
    made = make_people(40, seed)
    forms = forms_of(traits_of(DEFINITION), made.ours, sides_of(DEFINITION, made.theirs))
    pairs = set(
        zip(*(part.tolist() for part in find_candidates(forms, np.arange(40))), strict=True)
    )
    wanted = {
        (row, record)
        for row, record in enumerate(made.truth)
        if record >= 0 and made.kinds[row] == kind
    }
    assert wanted - pairs == set()


@pytest.mark.parametrize(
    ("seed", "years", "blank", "most"),
    [(1, 30, 0.1, 0.04), (3, 30, 0.1, 0.04), (5, 8, 0.2, 0.06), (2, 6, 0.3, 0.06)],
    ids=["office", "firm", "college", "school with gaps"],
)
def test_another_crowd(seed, years, blank, most):
    """With 33 kinds of rows, the hard as frequent as the easy: certain is right, nobody is
    doubled in silence, few are asked.
    """
    made = make_crowd(5_000, 1_200, seed, years=years, blank=blank)
    settled = likely(made.ours, made.theirs)
    found, truth = settled.found, np.array(made.truth)
    certain, asked = settled.decision == CERTAIN, settled.decision == POSSIBLE
    assert [made.kinds[row] for row in np.flatnonzero(certain & (settled.record != truth))] == []
    offered = np.zeros(len(truth), bool)
    offered[found.rows[found.records == truth[found.rows]]] = True
    assert (certain | (asked & offered))[truth >= 0].mean() >= 0.995
    assert asked.mean() <= most


def test_people_of_one_household():
    """A twin, a sibling, and a parent of the same name are new; with an address of their own
    that agrees it is open.
    """
    twin = PERSON | {"given": "Margaret", "mail": "m.threlkeld@x.example"}
    parent = PERSON | {"born": "1976-11-20", "mail": ""}
    on_the_day = PERSON | {"born": "1972-03-09", "mail": ""}
    sibling = PERSON | {"given": "Margaret", "born": "2007-08-01", "mail": ""}
    for row in (twin, parent, on_the_day, sibling):
        assert match([row], [PERSON]).decision.tolist() == [NOBODY], row
    # a twin, or a slip and a new address
    alike = PERSON | {"given": "Katrin", "mail": "katrin@x.example"}
    for row in (PERSON | {"given": "Margaret"}, PERSON | {"born": "1976-11-20"}, alike):
        assert match([row], [PERSON]).decision.tolist() == [POSSIBLE], row


@pytest.mark.parametrize(
    ("ours", "theirs"),
    [
        ({"family": "王", "given": "伟"}, {"family": "Wang", "given": "Wei"}),
        ({"family": "Wang", "given": "Wei"}, {"family": "王", "given": "伟"}),
        ({"family": "Иванова", "given": "Юлия"}, {"family": "Ivanova", "given": "Julia"}),
        ({"family": "Threlkeld", "given": "ქეთევან"}, {"family": "Threlkeld", "given": "Ketevan"}),
    ],
    ids=["Chinese", "Latin", "Cyrillic", "Georgian"],
)
def test_names_in_two_scripts_differ_in_nothing_that_is_plain(ours, theirs):
    """Where one side writes in other letters it is open who it is: nobody is doubled in silence."""
    bare = {"mail": ""}
    found = match([PERSON | bare | ours], [PERSON | bare | theirs])
    assert (found.decision.tolist(), int(found.found.records[0])) == ([POSSIBLE], 0)


def test_another_family_name_is_never_passed_over():
    """Who has another family name and has moved is asked about: given name and day of birth are
    the same.
    """
    moved = {
        "mail": "kw@y.example",
        "phone": "+44 7700 900001",
        "postcode": "AB9 9ZZ",
        "town": "Eastmere",
    }
    found = match([PERSON | moved | {"family": "Wrynose"}], [PERSON])
    assert (found.decision.tolist(), int(found.found.records[0])) == ([POSSIBLE], 0)


@pytest.mark.parametrize(
    ("ours", "theirs"),
    [
        ("Hans", "Johannes"),
        ("Ivan", "John"),
        ("Kasia", "Katarzyna"),
        ("Paco", "Francisco"),
        ("Ayesha", "Aisha"),
        ("Gosia", "Margaret"),
    ],
)
def test_forms_of_a_given_name(ours, theirs):
    """Short forms and forms of other languages are the same person, where the rest agrees."""
    found = match([PERSON | {"given": ours}], [PERSON | {"given": theirs}])
    # two steps from each other: somebody decides
    expected = POSSIBLE if (ours, theirs) == ("Gosia", "Margaret") else CERTAIN
    assert found.decision.tolist() == [expected]


def test_same_person_all_the_same():
    """Known as, another family name, names in each other's columns, day and month swapped: still
    the same person.
    """
    rows = [
        PERSON | {"given": "Kate"},
        PERSON | {"family": "Wrynose"},
        PERSON | {"family": "Katherine", "given": "Threlkeld"},
        PERSON | {"born": "2004-09-03"},
        PERSON | {"mail": "", "phone": ""},
    ]
    for row in rows:
        found = match([row], [PERSON])
        assert (found.decision.tolist(), found.record.tolist()) == ([CERTAIN], [0]), row


def test_two_rows_never_take_one_record():
    """Two rows that may both be one record are both left to a person, each told of the other."""
    found = match([PERSON, PERSON | {"phone": "+44 7700 900999"}], [PERSON])
    assert found.decision.tolist() == [POSSIBLE, POSSIBLE]
    assert found.rivals == {0: (1,), 1: (0,)}


def test_two_records_alike_are_both_shown():
    """Where two records fit a row equally well, nothing is certain, and both stand there with
    half the score.
    """
    found = match([PERSON], [PERSON, PERSON])
    assert found.decision.tolist() == [POSSIBLE]
    assert sorted(found.found.records[:2].tolist()) == [0, 1]
    assert found.found.scores[:2] == pytest.approx([50, 50], abs=1)


def test_rare_names_count_more():
    """The same agreement in a name that nobody else has adds more than in one that many have."""
    others = make_people(400, 7).theirs
    common = max(
        range(400), key=lambda place: others["family"].counts()[others["family"].codes[place]]
    )
    name = others["family"].at(common)
    rare = {"family": "Threlkeld", "given": "Katherine", "born": "2004-03-09"}
    usual = {"family": name, "given": "Ulf", "born": "1999-01-01"}
    found = match([rare, usual], [rare, usual]).found
    best = [int(found.of_row(row)[0]) for row in (0, 1)]
    assert found.records[best].tolist() == [0, 1]
    rare_bits, usual_bits = found.parts["family"][best].tolist()
    assert rare_bits > usual_bits > 0


def test_said_to_be_two_people():
    """A pair of which somebody said that it is two people is never offered again."""
    found = match([PERSON], [PERSON], parted=frozenset({(0, 0)}))
    assert (found.decision.tolist(), 0 in found.found.records.tolist()) == ([NOBODY], False)


def test_limits_decide():
    """With other limits the same scores are settled otherwise."""
    row = {"given": "Katherine", "family": "Threlkeld"}
    score = match([row], [PERSON]).score[0]
    assert 1 < score < 100
    assert match([row], [PERSON], limits=Limits(certain=score - 0.5)).decision.tolist() == [CERTAIN]
    assert match(
        [row], [PERSON], limits=Limits(certain=99.999, nobody=score + 0.5)
    ).decision.tolist() == [NOBODY]


def test_nobody_there():
    """An empty roster, and rows without anything about a person, give no candidates and no
    error.
    """
    empty = {name: Column.constant(None, 0) for name in FIELDS}
    assert likely(columns(PERSON), empty).decision.tolist() == [NOBODY]
    assert match([{}], [PERSON]).decision.tolist() == [NOBODY]


# Letters for letters: Cyrillic and Greek are read in Latin ones, Georgian is compared as it is.
ALPHABETS = {
    "cyrillic": dict(zip("abcdefghijklmnopqrstuvwxyz", "абцдефгхийклмнопрстувщыюяз", strict=True)),
    "greek": dict(zip("abcdefghijklmnopqrstuvwxyz", "αβξδεφγηιςκλμνοπψρστυωχζθχ", strict=True)),
    "georgian": dict(zip("abcdefghijklmnopqrstuvwxyz", "აბცდეფგჰიჯკლმნოპქრსტუვწხყზ", strict=True)),
}


@pytest.mark.parametrize("alphabet", ALPHABETS)
def test_names_in_other_letters(alphabet):
    """Names that are not in Latin letters tell people apart and together as those do."""
    made = make_people(1_000, 3, blank=0.5)
    table = str.maketrans(
        ALPHABETS[alphabet] | {key.upper(): one for key, one in ALPHABETS[alphabet].items()}
    )

    def written(columns: dict[str, Column]) -> dict[str, Column]:
        names = {name: columns[name] for name in ("family", "given")}
        turned = {
            name: Column.of(
                [text.translate(table) if text else None for text in one.rows(np.arange(len(one)))]
            )
            for name, one in names.items()
        }
        return {**columns, **turned}

    settled = likely(written(made.ours), written(made.theirs))
    truth = np.array(made.truth)
    certain = settled.decision == CERTAIN
    assert (certain & (settled.record != truth)).sum() <= 1
    plain = [
        kind in ("as it is", "changed number", "another phone", "moved") for kind in made.kinds
    ]
    assert certain[np.array(plain)].mean() >= 0.97
    assert (settled.decision == POSSIBLE).mean() <= 0.06
