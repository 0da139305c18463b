"""What goes out, and where records stand, held to plain models over any texts and histories."""

from __future__ import annotations

from datetime import date

from hypothesis import given
from hypothesis import strategies as st

from nevefield.core.columns.composing import Pattern, Piece, compose, compose_column
from nevefield.core.defining.reading import read_definition
from nevefield.core.passing.destination import Share
from nevefield.core.passing.outgoing import lay_out
from nevefield.core.passing.standing import END, Act, Place, Told, count_places, stand
from nevefield.core.snapshot import Snapshot

TODAY = date(2026, 9, 1)
TEXTS = st.text("aB é'-.7 ßıЖÅ", max_size=6)
PIECES = st.one_of(
    st.builds(Piece, text=st.text("._-", min_size=1, max_size=2)),
    st.builds(
        Piece,
        field=st.sampled_from(["a", "b"]),
        letters=st.integers(0, 3),
        word=st.sampled_from([-1, 0, 1, 2]),
    ),
)
PATTERNS = st.builds(
    Pattern,
    pieces=st.lists(PIECES, min_size=1, max_size=4).map(tuple),
    case=st.sampled_from(["lower", "upper", "as it is"]),
    plain=st.booleans(),
)
DEFINITION = read_definition(
    {
        "name": "people",
        "primaryKey": "a",
        "fields": [{"name": "a"}, {"name": "b"}, {"name": "in"}, {"name": "g"}],
    }
)


def snapshot_of(people: list[dict[str, str | None]]) -> Snapshot:
    return Snapshot.of_values(DEFINITION, list(range(1, len(people) + 1)), people, 1)


@given(PATTERNS, st.lists(st.tuples(TEXTS | st.none(), TEXTS | st.none()), max_size=8))
def test_a_column_is_composed_as_each_value(pattern, rows):
    """Over whole columns it comes to what it comes to for each row."""
    columns = {"a": [a for a, _ in rows], "b": [b for _, b in rows]}
    distinct = {
        name: sorted({text for text in texts if text is not None})
        for name, texts in columns.items()
    }

    def column(piece):
        texts = distinct[piece.field]
        return texts, [-1 if t is None else texts.index(t) for t in columns[piece.field]]

    wanted = [
        compose(pattern, lambda piece, place=place: columns[piece.field][place])
        for place in range(len(rows))
    ]
    assert compose_column(pattern, column, len(rows)) == wanted


SIGN_IN = Share.model_validate(
    {
        "roster": "people",
        "where": {"field": "in", "is": "y"},
        "puts": [
            {"to": "name", "pattern": {"pieces": [{"field": "a"}]}},
            {"to": "b", "from": "b", "is_needed": True},
        ],
        "groups": [{"from": "g"}],
    }
)
PERSON = st.fixed_dictionaries(
    {
        "a": st.sampled_from(["Li", "li", "Ng", "Ng2"]),
        "b": st.sampled_from(["x", "y", None]),
        "in": st.sampled_from(["y", "n"]),
        "g": st.sampled_from(["G", "H", None]),
    }
)


@given(st.lists(st.lists(PERSON, min_size=1, max_size=9), min_size=1, max_size=4))
def test_names_stay_and_are_never_twice(days):
    """Whoever joins, leaves or is renamed: nobody has a name twice, and who had one keeps it as
    long as it is made of the same.
    """
    own: dict[int, dict[str, str]] = {}
    bases: dict[int, str] = {}
    for people in days:
        outgoing = lay_out(SIGN_IN, snapshot_of(people), {}, TODAY, own)
        names = outgoing.columns[0]
        assert len({name.casefold() for name in names}) == len(names)
        for place, record in enumerate(outgoing.ids.tolist()):
            base = people[record - 1]["a"].lower()
            assert names[place].startswith(base)
            if bases.get(record) == base:
                assert names[place] == own[record]["name"]
            bases[record] = base
            own[record] = outgoing.own(place)
        own = {record: one for record, one in own.items() if record in outgoing.ids.tolist()}
        bases = {record: bases[record] for record in own}


@given(
    st.lists(PERSON, max_size=8),
    st.dictionaries(
        st.integers(1, 12),
        st.builds(
            Told,
            is_there=st.booleans(),
            digest=st.just(b""),
            tried=st.sampled_from([b"", END]),
            code=st.just("no"),
            is_held=st.booleans(),
        ),
    ),
    st.sets(st.integers(1, 12)),
    st.sets(st.integers(1, 12)),
)
def test_everybody_stands_in_one_place(people, told, in_step, tried):
    """Over any histories: each record once, where a plain model says."""
    snapshot = snapshot_of(people)
    outgoing = lay_out(SIGN_IN, snapshot, {}, TODAY)
    digests = dict(zip(outgoing.ids.tolist(), outgoing.digests, strict=True))
    known = {}
    for record, one in told.items():
        digest = digests.get(record, b"") if record in in_step else b"other"
        refused = digests.get(record, END) if record in tried else one.tried
        known[record] = Told(one.is_there, digest, refused, "no", "", one.is_held)
    found = {one.record: one for one in stand(outgoing, snapshot.ids.tolist(), known)}
    for record in {*range(1, len(people) + 1), *known}:
        person = people[record - 1] if record <= len(people) else None
        one = known.get(record, Told(False))
        if person is None and not one.is_there:
            assert record not in found
            continue
        standing = found.pop(record)
        if person is None or person["in"] != "y":
            wanted = (
                Place.NOT_THEIRS
                if not one.is_there
                else Place.HELD
                if one.is_held
                else Place.REFUSED
                if one.tried == END
                else Place.TO_END
            )
            assert standing.act == (Act.END if one.is_there else Act.NONE)
        elif one.is_there and one.digest == digests[record]:
            wanted = Place.IN_STEP
        elif one.is_held:
            wanted = Place.HELD
        elif person["b"] is None or one.tried == digests[record]:
            wanted = Place.REFUSED
        else:
            wanted = Place.TO_SEND
            assert standing.act == (Act.CHANGE if one.is_there else Act.JOIN)
        assert standing.place == wanted
    assert found == {}
    assert sum(count_places(stand(outgoing, snapshot.ids.tolist(), known)).values()) == len(
        {*range(1, len(people) + 1), *(record for record, one in known.items() if one.is_there)}
    )


@given(st.lists(PERSON, min_size=2, max_size=8))
def test_the_same_has_the_same_digest(people):
    """Two records have one digest exactly when everything that goes out of them is the same."""
    plain = Share.model_validate(
        {
            "roster": "people",
            "puts": [{"to": "a", "from": "a"}, {"to": "b", "from": "b"}],
            "groups": [{"from": "g"}],
        }
    )
    outgoing = lay_out(plain, snapshot_of(people), {}, TODAY)
    contents = [outgoing.content(place) for place in range(len(people))]
    for one, digest in zip(contents, outgoing.digests, strict=True):
        for other, others in zip(contents, outgoing.digests, strict=True):
            assert (digest == others) == (one == other)
