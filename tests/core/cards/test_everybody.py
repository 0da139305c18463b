"""Laid together, everybody's card is as it is laid alone."""

from __future__ import annotations

from datetime import date

import numpy as np
from hypothesis import given, settings
from hypothesis import strategies as st

from nevefield.core.cards.design import Design, Face, Piece, Register, Size, Symbol
from nevefield.core.cards.everybody import lay_everybody
from nevefield.core.cards.faces import Faces
from nevefield.core.cards.laying import Words, lay
from nevefield.core.cards.needing import Held, Need, find_needed
from nevefield.core.cards.trying import count_fits, find_hardest, fit_all
from nevefield.core.codes import Code, CodeList
from nevefield.core.defining.reading import read_definition
from nevefield.core.snapshot import Snapshot
from tests.core.cards.test_laying import item_of, measure, names

FIELDS = ("no", "name", "more", "day", "grade")
DEFINITION = read_definition(
    {
        "name": "people",
        "title": "People",
        "primaryKey": "no",
        "fields": [
            {"name": name, "title": name, "type": "date" if name == "day" else "string"}
            | ({"nevefield": {"codeList": "grade"}} if name == "grade" else {})
            for name in FIELDS
        ],
    }
)
GRADES = CodeList("grade", (Code("A", "Able  seaman"), Code("B", "")))
few = st.sampled_from(["", "TQ197000X", "5901234123457", "9912", "12/A", "Ada  Lovelace", "Ž"])
people = st.lists(
    st.tuples(
        st.one_of(few, names), few, st.sampled_from(["", "2026-09-01"]), st.sampled_from("ABC")
    ),
    min_size=1,
    max_size=12,
)
pieces = st.lists(
    st.one_of(
        st.builds(Piece, text=st.sampled_from(["", "No.", " x "])),
        st.builds(
            Piece,
            field=st.sampled_from([*FIELDS, "gone"]),
            form=st.sampled_from(["as it is", "capitals", "code", "Sep 2026"]),
            letters=st.sampled_from([0, 0, 3]),
            word=st.sampled_from([0, 0, 1, -1]),
        ),
        st.builds(Piece, card=st.sampled_from(["number", "facility", "until", "made"])),
    ),
    max_size=3,
).map(tuple)


@st.composite
def designs(draw):
    sides = []
    for side in "ab":
        items = []
        for number in range(draw(st.integers(0, 6))):
            item = item_of(draw, f"{side}{number}")
            changes = {"where": draw(st.sampled_from([None, {"field": "grade", "is": "A"}]))}
            if hasattr(item, "pieces"):
                changes["pieces"] = draw(pieces)
            if hasattr(item, "is_needed"):
                changes["is_needed"] = draw(st.booleans())
            items.append(item.model_copy(update=changes))
        sides.append(tuple(items))
    face = Face(
        name="all",
        roster="people",
        holder="no",
        until=draw(st.sampled_from(["", "day"])),
        front=sides[0],
        back=sides[1],
    )
    size = Size(width=draw(st.floats(30, 120)), height=draw(st.floats(30, 90)))
    register = Register(roster="cards", number="n", holder="h")
    return Design(name="d", title="D", size=size, faces=(face,), register=register)


def faces_of(design, rows):
    records = [
        dict(zip(FIELDS, (f"P{at}", *row), strict=True)) for at, row in enumerate(rows, start=1)
    ]
    snapshot = Snapshot.of_values(DEFINITION, list(range(1, len(rows) + 1)), records, 1)
    return Faces(design, {"people": snapshot}, {"grade": GRADES}, measure, date(2026, 9, 1))


def alone(faces, place, has_photo):
    """What does not fit on somebody's card, and how each of its items is set."""
    (face,) = faces.design.faces
    texts, shown = faces.texts(face, place, faces.card(face, place)), faces.shown(face, place)
    findings, sets = [], {}
    for _, items in face.sides():
        laid = lay(
            items, faces.design.size, texts, shown, measure, has_photo=has_photo, read_back=False
        )
        findings += laid.findings
        for item in items:
            if item.name in shown:
                words = [m for m in laid.marks if isinstance(m, Words) and m.item == item.name]
                told = [one for one in laid.findings if one.item == item.name]
                size = words[0].size if words else 0.0
                sets[item.name] = (size, len(words), not texts[item.name], (told or [None])[-1])
    lengths = {name: len(text) for name, text in texts.items()}
    return tuple(findings), sets, lengths


@settings(max_examples=300)
@given(designs(), people, st.sets(st.integers(0, 11)))
def test_laid_together_as_alone(design, rows, photos):
    faces = faces_of(design, rows)
    (face,) = design.faces
    has_photo = np.array([place in photos for place in range(len(rows))])
    together = lay_everybody(faces, face, np.arange(len(rows)), has_photo)
    for place in range(len(rows)):
        findings, sets, lengths = alone(faces, place, bool(has_photo[place]))
        way = together.ways[together.of[place]]
        assert way.findings == findings
        assert {
            name: (one.size, one.lines, one.is_empty, one.finding) for name, one in way.sets.items()
        } == sets
        assert {name: int(many[place]) for name, many in together.letters.items()} == lengths


@settings(max_examples=100)
@given(designs(), people, st.sets(st.integers(1, 12)), st.sets(st.integers(1, 12)))
def test_all_that_is_counted_adds_up(design, rows, photos, having):
    """Who does not fit is who has a finding alone; what is told of five is true of them; each item
    is set in one way for each of those who have it.
    """
    faces = faces_of(design, rows)
    (face,) = design.faces
    held = [Held(at, str(at), f" p{at} ") for at in sorted(having)]
    found = find_needed(faces, held, {}, dict.fromkeys(photos, "ab"))
    told = [alone(faces, place, place + 1 in photos) for place in range(len(rows))]
    assert [person.place for person in found.people] == list(range(len(rows)))
    for person, (findings, _, _) in zip(found.people, told, strict=True):
        wanted = Need.MAKE
        if person.record in having:
            wanted = Need.HAS
        elif {one.kind for one in findings} - {"no photo"}:
            wanted = Need.UNFIT
        elif findings:
            wanted = Need.PHOTO
        assert person.need == wanted
        assert person.findings == (() if wanted == Need.HAS else findings)
    everybody = fit_all(faces, photos)
    for one in count_fits(everybody, face):
        whose = [sets[one.item] for _, sets, _ in told if one.item in sets]
        assert one.plain + one.smaller + one.lines + one.fails + one.empty == len(whose)
        assert one.fails == sum(finding is not None for *_, finding in whose)
    hardest = find_hardest(everybody)
    assert len(hardest) == len({one.place for one in hardest}) <= 5
    for one in hardest:
        assert told[one.place][0] or not one.fails
    if any(findings for findings, _, _ in told):
        assert hardest[0].fails


def test_what_a_code_says_is_as_wide_as_its_letters():
    """Two texts of which a code is equally large are not written below it in equal room."""
    item = Symbol(
        name="square", symbol="QR", height=8, is_written=True, pieces=(Piece(field="name"),)
    )
    face = Face(name="all", roster="people", holder="no", front=(item,))
    register = Register(roster="cards", number="n", holder="h")
    design = Design(name="d", title="D", faces=(face,), register=register)
    faces = faces_of(design, [(letter * 14, "", "", "A") for letter in "iWi"])
    found = lay_everybody(faces, face, np.arange(3), np.zeros(3, bool)).findings()
    assert [[one.kind for one in findings] for findings in found] == [[], ["too long"], []]


def test_a_card_of_nobody_is_taken_in_where_somebody_has_no_number():
    """Who has no number holds no card, nor does a card without a holder belong to them."""
    face = Face(name="all", roster="people", holder="more")
    register = Register(roster="cards", number="n", holder="h")
    design = Design(name="d", title="D", faces=(face,), register=register)
    faces = faces_of(design, [("Ann", "", "", "A"), ("Bo", "7", "", "A")])
    nobodys = Held(1, "1", "")
    found = find_needed(faces, [nobodys, Held(2, "2", "7")], {}, {})
    assert [person.need for person in found.people] == [Need.MAKE, Need.HAS]
    assert found.take_in == (nobodys,)
