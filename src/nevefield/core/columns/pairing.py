"""Pair a file's columns with a roster's fields: by name, by what was learnt, by likeness, by what
the values look like.

Every column is weighed against every field and the best assignment overall is taken (Kuhn 1955, as
in SciPy), not the best for each column in turn. Certain is only what cannot well be otherwise.
"""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.assigning import assign
from nevefield.core.columns.headings import (
    MEANINGS,
    base_of,
    likeness,
    likeness_table,
    weigh,
    words_of,
)
from nevefield.core.columns.shapes import NOTHING, Fit, Fits, Questions, fit_values, sample_of
from nevefield.core.texts import key_of, trim

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition, Field
    from nevefield.core.table import Table

__all__ = ["JOIN", "Evidence", "Pair", "Said", "known_headings", "look_at_values", "pair_columns"]

ENOUGH = 0.5  # of likeness of the name and what the values say together; less is no pair
ENOUGH_WITHOUT_NAMES = 0.15  # where the file has no header, and only the values speak
SPEAKS = 0.6  # how much the values count beside the name
AGAINST = -0.3  # values that speak so much against a field make even its own name uncertain
# values that speak so much for the only field of their kind are certain without a name
SURE_ALONE = 0.85
LEAST_ALIKE = 0.35
SPEAKS_ALONE = 0.8
OFFERED = 0.45  # of name and values together; another field that is offered for an uncertain column
MOST_OFFERED = 3
JOIN = " "  # between the texts of several columns for one field


@dataclass(frozen=True)
class Pair:
    """Where one column goes: `field` is None when it is left in the file."""

    heading: str
    field: str | None
    reason: str
    certain: bool
    beside: bool = False  # another column goes to the field as well; the texts are put together
    parts: tuple[str, ...] = ()  # the fields, when a column holds several; `field` is the first
    at: str = ""  # where such a column is cut
    others: tuple[tuple[str, str], ...] = ()  # other fields that it may be for, each with a reason


@dataclass(frozen=True)
class Said:
    """What people said about where columns go, by heading: now, and when the source's last file
    came.
    """

    # None leaves the column in the file
    pairs: Mapping[str, str | None] = field(default_factory=dict)
    beside: frozenset[str] = frozenset()  # headings that share their field
    # where a column is cut, into what
    splits: Mapping[str, tuple[str, tuple[str, ...]]] = field(default_factory=dict)
    last: Mapping[str, str | None] = field(default_factory=dict)
    last_splits: Mapping[str, tuple[str, tuple[str, ...]]] = field(default_factory=dict)


@dataclass(frozen=True)
class Evidence:
    """What the values of each column say: samples, and fits by field, in the order of the
    columns.
    """

    samples: tuple[list[str], ...]
    fits: tuple[Fits, ...]
    codes: Mapping[str, CodeList]
    today: date
    named: bool = True  # the columns have headings


def look_at_values(
    table: Table,
    definition: Definition,
    codes: Mapping[str, CodeList],
    today: date,
    *,
    named: bool = True,
) -> Evidence:
    """Sample every column and ask the fields about it.

    Args:
        table: The file's texts.
        definition: Of the roster.
        codes: Code lists by name.
        today: For years of two digits.
        named: Whether the columns have headings of their own.
    """
    samples = tuple(sample_of(column, definition.missing) for column in table.columns)
    questions = Questions(definition, codes, today)
    fits = tuple(fit_values(sample, definition, codes, today, questions) for sample in samples)
    return Evidence(samples, fits, codes, today, named)


def known_headings(definition: Definition) -> frozenset[str]:
    """List what headings of this roster's columns may be, as they are compared."""
    return frozenset(key_of(name) for field in definition.fields for name in _names(field))


def pair_columns(
    headings: Sequence[str],
    definition: Definition,
    secrets: Sequence[str] = (),
    said: Said | None = None,
    *,
    evidence: Evidence | None = None,
) -> list[Pair]:
    """Pair columns with fields; order never matters.

    Args:
        headings: Of the file.
        definition: Of the roster.
        secrets: Headings whose values are not taken.
        said: What people decided; names that are no fields of this roster are passed over.
        evidence: What the values say; without it only names count.

    Returns:
        One pair for each heading, in their order. No field is paired twice, but for columns that go
        to one together (`beside`).
    """
    said = said or Said()
    pairs: dict[int, Pair] = {}
    names = definition.by_name
    for place, heading in enumerate(headings):
        if heading in secrets:
            pairs[place] = Pair(heading, None, "a secret: not taken", True)
        elif heading in said.pairs and (
            said.pairs[heading] is None or said.pairs[heading] in names
        ):
            to = said.pairs[heading]
            reason = "chosen by hand" if to else "left in the file by hand"
            pairs[place] = Pair(heading, to, reason, True, beside=heading in said.beside)
        elif heading in said.splits and set(said.splits[heading][1]) <= set(names):
            at, into = said.splits[heading]
            pairs[place] = Pair(heading, into[0], "cut by hand", True, parts=into, at=at)
    taken = {
        name: pair.heading for pair in pairs.values() for name in (pair.field, *pair.parts) if name
    }
    for place, heading in enumerate(headings):
        if place not in pairs and heading in said.last_splits:
            at, into = said.last_splits[heading]
            if set(into) <= set(names) and not set(into) & taken.keys():
                pairs[place] = Pair(heading, into[0], "cut as last time", True, parts=into, at=at)
    scores = _Scores(headings, definition, said.last, evidence)
    _assign(pairs, _taken(pairs), scores)
    _join_series(pairs, scores)
    _split_columns(pairs, scores)
    return [
        (
            _with_others(pairs[place], place, scores)
            if place in pairs
            else Pair(heading, None, _why_not(place, scores, taken), True)
        )
        for place, heading in enumerate(headings)
    ]


def _taken(pairs: Mapping[int, Pair]) -> set[str]:
    return {name for pair in pairs.values() for name in (pair.field, *pair.parts) if name}


class _Scores:
    """Every column against every field: names, values, and what was learnt."""

    def __init__(
        self,
        headings: Sequence[str],
        definition: Definition,
        last: Mapping[str, str | None],
        evidence: Evidence | None,
    ) -> None:
        self.headings = headings
        self.fields = definition.fields
        self.definition = definition
        self.evidence = evidence
        self.named = evidence.named if evidence else True
        by_key = {key_of(heading): field for heading, field in last.items()}
        self.last = [
            by_key.get(key_of(heading), "") if self.named else last.get(heading, "")
            for heading in headings
        ]
        exact: dict[str, tuple[str, str]] = {}
        for one in definition.fields:
            for name, reason in _reasons(one):
                exact.setdefault(key_of(name), (one.name, reason))
        self.exact = [exact.get(key_of(heading)) for heading in headings]
        names = [
            [
                words_of(name)
                for name in dict.fromkeys([*_names(field), *MEANINGS.get(field.means, ())])
            ]
            for field in self.fields
        ]
        weights = weigh(frozenset().union(*group) for group in names)
        words = [words_of(heading) if self.named else frozenset[str]() for heading in headings]
        self.likeness = likeness_table(words, names, weights)
        self.words = words
        self.speaks = np.zeros((len(headings), len(self.fields)))
        for place, fits in enumerate(evidence.fits if evidence else ()):
            self.speaks[place] = fits.speaks()

    def fit(self, place: int, field: Field) -> Fit:
        return self.evidence.fits[place][field.name] if self.evidence else NOTHING

    def wanted(self, place: int) -> str:
        """Return the field that a column would go to if it had the choice; "" for none."""
        total = self.total[place]
        best = int(np.argmax(total)) if len(total) else 0
        named = (
            self.likeness[place, best] >= LEAST_ALIKE
            or total[best] >= 2.0
            or self.speaks[place, best] >= SPEAKS_ALONE
        )
        is_enough = bool(len(total)) and total[best] >= (
            ENOUGH if self.named else ENOUGH_WITHOUT_NAMES
        )
        return self.fields[best].name if is_enough and (named or not self.named) else ""

    @cached_property
    def total(self) -> NDArray[np.float64]:
        """How much speaks for each column and field: the name, the values, what was learnt."""
        total = self.likeness + SPEAKS * self.speaks
        numbers = {field.name: number for number, field in enumerate(self.fields)}
        for place, found in enumerate(self.exact):
            for name, counts in ((found[0] if found else "", 2.0), (self.last[place] or "", 3.0)):
                if name in numbers:
                    total[place, numbers[name]] = counts + 0.5 * self.speaks[place, numbers[name]]
        return np.asarray(total)


def _assign(pairs: dict[int, Pair], taken: set[str], scores: _Scores) -> None:
    """Take the best assignment of the columns and fields that are free."""
    enough = ENOUGH if scores.named else ENOUGH_WITHOUT_NAMES
    # What this source left in the file last time stays there, unless its heading now is a field's
    # own name.
    places = [
        place
        for place in range(len(scores.headings))
        if place not in pairs and not (scores.last[place] is None and not scores.exact[place])
    ]
    for place, heading in enumerate(scores.headings):
        if place not in pairs and place not in places:
            pairs[place] = Pair(heading, None, "left in the file, as last time", True)
    numbers = [number for number, field in enumerate(scores.fields) if field.name not in taken]
    if not places or not numbers:
        return
    total = scores.total
    if scores.named:
        # A name that is hardly alike needs values that hardly fit anything else.
        named = (scores.likeness >= LEAST_ALIKE) | (total >= 2.0) | (scores.speaks >= SPEAKS_ALONE)
        total = np.where(named, total, 0.0)
    total = np.where(total >= enough, total, 0.0)[np.ix_(places, numbers)]
    for row, column in zip(*assign(total), strict=True):
        place, number = places[row], numbers[column]
        pairs[place] = _judge(place, number, scores)


def _judge(place: int, number: int, scores: _Scores) -> Pair:
    """Say why a column goes to a field, and whether that is certain."""
    heading, field = scores.headings[place], scores.fields[number]
    speaks = float(scores.speaks[place, number])
    found = scores.exact[place]
    by_name = found is not None and found[0] == field.name
    learnt = bool(scores.last[place]) and scores.last[place] == field.name
    if learnt or by_name:
        reason = "same as last time" if learnt else found[1] if found else ""
        if speaks >= AGAINST:
            return Pair(heading, field.name, reason, True)
        return Pair(heading, field.name, f"{reason}, but {_doubt(place, field, scores)}", False)
    like = float(scores.likeness[place, number])
    alone = float(np.max(np.delete(scores.likeness[place], number), initial=0.0))
    if like >= 0.99 and alone < 0.99 and speaks >= -0.1:
        return Pair(heading, field.name, "the same in other words", True)
    rivals = float(np.max(np.delete(scores.speaks[place], number), initial=0.0))
    several = scores.evidence is not None and len(scores.evidence.samples[place]) >= 3
    if field.identifier is not None and speaks >= SURE_ALONE and rivals < 0.5 and several:
        return Pair(
            heading,
            field.name,
            f"the values are {field.title.lower()}s, by their check character",
            True,
        )
    if like >= 0.35:
        return Pair(heading, field.name, f"looks like “{_closest(place, number, scores)}”", False)
    return Pair(
        heading,
        field.name,
        f"{_share(place, field, scores)} of the values look like {field.title}",
        False,
    )


def _closest(place: int, number: int, scores: _Scores) -> str:
    field = scores.fields[number]
    names = _names(field)
    alike = [likeness(scores.words[place], words_of(name), {}) for name in names]
    return names[int(np.argmax(alike))] if max(alike) > 0 else field.title


def _share(place: int, field: Field, scores: _Scores) -> str:
    return f"{round(100 * scores.fit(place, field).share)}%"


def _doubt(place: int, field: Field, scores: _Scores) -> str:
    return f"only {_share(place, field, scores)} of the values look like it"


def _why_not(place: int, scores: _Scores, taken: Mapping[str, str]) -> str:
    """Say why a column stays in the file; where it would go to a field that a hand has given to
    another, that.
    """
    if taken and (wanted := scores.wanted(place)) in taken:
        return f"“{taken[wanted]}” was chosen for {scores.definition.title_of(wanted)}"
    sample = scores.evidence.samples[place] if scores.evidence else [""]
    return "no field is like it" if sample else "nothing stands in it"


def _with_others(pair: Pair, place: int, scores: _Scores) -> Pair:
    """Add the other fields that an uncertain column may be for, the likeliest first."""
    if pair.certain:
        return pair
    total = scores.likeness[place] + SPEAKS * np.maximum(scores.speaks[place], 0)
    enough = np.flatnonzero(total >= OFFERED)
    order = enough[np.argsort(-total[enough], kind="stable")]
    others: list[tuple[str, str]] = []
    for number in order.tolist():
        field = scores.fields[number]
        if field.name != pair.field and field.name not in pair.parts and len(others) < MOST_OFFERED:
            by_value = scores.speaks[place, number] > 0.4
            others.append(
                (
                    field.name,
                    (
                        f"{_share(place, field, scores)} of the values look like it"
                        if by_value
                        else f"like “{field.title}”"
                    ),
                )
            )
    return replace(pair, others=tuple(others))


def _join_series(pairs: dict[int, Pair], scores: _Scores) -> None:
    """Send the columns of a series ("Bursary 1", "Bursary 2") to one field that takes several
    values.
    """
    several = {field.name: number for number, field in enumerate(scores.fields) if field.several}
    places: dict[str, list[int]] = {}
    for place, heading in enumerate(scores.headings):
        base = base_of(heading)
        if base and (
            place not in pairs
            or (pairs[place].field in several and pairs[place].reason != "chosen by hand")
        ):
            places.setdefault(key_of(base), []).append(place)
    for group in places.values():
        base = base_of(scores.headings[group[0]])
        named = {
            field.name
            for field in scores.fields
            if field.several and key_of(base) in {key_of(name) for name in _names(field)}
        }
        words = {
            field.name
            for field in scores.fields
            if field.several and words_of(base) in {words_of(name) for name in _names(field)}
        }
        fields = (
            named
            or words
            or {pair.field for place in group if (pair := pairs.get(place)) and pair.field}
        )
        if len(group) < 2 or len(fields) != 1:
            continue
        (field,) = fields
        holder = [
            place for place, pair in pairs.items() if pair.field == field and place not in group
        ]
        if holder:
            continue
        fine = all(
            scores.speaks[place, several[field]] >= AGAINST for place in group if field in several
        )
        for place in group:
            message = f"one of {len(group)} columns for {scores.definition.title_of(str(field))}"
            pairs[place] = Pair(
                scores.headings[place], field, message, fine, beside=place != group[0]
            )


def _split_columns(pairs: dict[int, Pair], scores: _Scores) -> None:
    """Find columns that hold several fields: a whole name, or codes side by side."""
    if scores.evidence is None:
        return
    counts: Counter[str | None] = Counter(
        name for pair in pairs.values() for name in (pair.field, *pair.parts)
    )
    for place, heading in enumerate(scores.headings):
        pair = pairs.get(place)
        if pair is not None and (pair.certain or pair.field is None):
            continue
        own: Counter[str | None] = (
            Counter((pair.field, *pair.parts)) if pair is not None else Counter()
        )
        taken = _TakenByOthers(counts, own)
        found = _split_name(place, taken, scores) or _split_codes(place, taken, scores)
        if found:
            pairs[place] = replace(found, heading=heading)
            counts += Counter((found.field, *found.parts))
            counts -= own


class _TakenByOthers:
    """The fields that other columns go to."""

    def __init__(self, counts: Mapping[str | None, int], own: Mapping[str | None, int]) -> None:
        self._counts, self._own = counts, own

    def __contains__(self, name: object) -> bool:
        return isinstance(name, str) and self._counts.get(name, 0) > self._own.get(name, 0)


def _split_name(place: int, taken: _TakenByOthers, scores: _Scores) -> Pair | None:
    """A column called "Name" while nothing else fills family and given names holds both."""
    by_meaning = {field.means: field.name for field in scores.fields if field.means}
    family, given = by_meaning.get("family-name"), by_meaning.get("given-name")
    samples = scores.evidence.samples[place] if scores.evidence else []
    if not family or not given or family in taken or given in taken or not samples:
        return None
    context = words_of(scores.definition.title) | words_of(scores.definition.name)
    words = scores.words[place] - context
    if scores.named and not (
        "name" in words and words <= {"name", "family", "given", "whole", "complete"}
    ):
        return None
    if scores.named and words in ({"family", "name"}, {"given", "name"}):
        return None
    with_comma = float(np.mean([text.count(",") == 1 for text in samples]))
    with_space = float(
        np.mean(
            [
                1 <= text.count(" ") <= 4 and not any(one.isdigit() for one in text)
                for text in samples
            ]
        )
    )
    if with_comma >= 0.9:
        message = "a whole name: family name, then given names"
        return Pair(
            "", family, message, scores.named and with_comma >= 0.98, parts=(family, given), at=","
        )
    if with_space >= 0.9 and scores.named:
        return Pair(
            "",
            given,
            "a whole name: the last word is taken for the family name",
            False,
            parts=(given, family),
            at=" ",
        )
    return None


def _split_codes(place: int, taken: _TakenByOthers, scores: _Scores) -> Pair | None:
    """Values such as "2/KIT": every value is cut into as many parts, and each part is right for
    a field of its own.
    """
    evidence = scores.evidence
    if evidence is None or len(evidence.samples[place]) < 3:
        return None
    for at in ("/", "|", " - ", "-", ";", ","):
        cut = [list(map(trim, text.split(at))) for text in evidence.samples[place]]
        count = len(cut[0])
        if (
            not 2 <= count <= 4
            or np.mean([len(parts) == count and all(parts) for parts in cut]) < 0.95
        ):
            continue
        parts: list[str] = []
        for number in range(count):
            values = list(dict.fromkeys(one[number] for one in cut if len(one) == count))
            fits = fit_values(values, scores.definition, evidence.codes, evidence.today)
            ranked = sorted(
                (-fit.speaks, name)
                for name, fit in fits.items()
                if name not in taken and name not in parts and fit.speaks >= 0.3
            )
            if not ranked:
                break
            parts.append(ranked[0][1])
        strong = [name for name in parts if scores.definition.by_name[name].code_list]
        if len(parts) == count and strong:
            titles = " and ".join(scores.definition.title_of(name) for name in parts)
            return Pair(
                "",
                parts[0],
                f"{titles} in one cell, cut at “{at.strip() or at}”",
                False,
                parts=tuple(parts),
                at=at,
            )
    return None


def _reasons(field: Field) -> list[tuple[str, str]]:
    return [
        (field.name, "same name"),
        (field.title, "same name"),
        *((alias, "another name of it") for alias in field.aliases),
    ]


def _names(field: Field) -> list[str]:
    return [field.name, field.title, *field.aliases]
