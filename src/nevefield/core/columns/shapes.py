"""What the values of a column look like, as evidence for and against the fields that it may be
for.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.columns.days import read_day
from nevefield.core.columns.identifiers import mend_identifier
from nevefield.core.columns.schemes import SCHEMES
from nevefield.core.columns.values import SEPARATORS
from nevefield.core.columns.words import NO, YES
from nevefield.core.patterns import matches
from nevefield.core.texts import trim

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Iterator, Sequence
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition, Field
    from nevefield.core.table import Column

__all__ = ["NOTHING", "Fit", "Fits", "Questions", "fit_values", "sample_of"]

LEAST_AGAINST = 3
SAMPLE = 50  # distinct values looked at
_MAIL = re.compile(r"[^@\s]+@[^@\s.]+(?:\.[^@\s.]+)+")
_PHONE = re.compile(r"[+(]?[\d][\d ()./-]{5,22}\d")
_NUMBER = re.compile(r"[+-]?\d[\d.,' \u00a0]*")


@dataclass(frozen=True)
class Fit:
    """How far a column's values speak for a field.

    `share` is that of the distinct values that are right for it, 0 to 1; `weight` says how much
    that tells, 0 to 1: a check character tells nearly all, plain text nothing. `speaks` brings both
    together, from -1 (cannot be) to 1 (must be).
    """

    share: float
    weight: float

    count: int = LEAST_AGAINST  # values looked at

    @property
    def speaks(self) -> float:
        """Weigh the values for (up to 1) or against (down to -1) the field; one or two wrong
        ones speak against nothing.
        """
        if self.share >= 0.6:
            return self.weight * (0.25 + 0.75 * (self.share - 0.6) / 0.4)
        if self.share < 0.35 and self.weight and self.count >= LEAST_AGAINST:
            return -max(self.weight, 0.6) * (1 - self.share / 0.35)
        return 0.0


NOTHING = Fit(1.0, 0.0)
NAMES = ("family-name", "given-name")  # meanings


def sample_of(column: Column, missing: frozenset[str]) -> list[str]:
    """Take a column's commonest distinct values that say something, trimmed."""
    counts = column.counts()
    first = np.argsort(-counts, kind="stable")[: SAMPLE * 2]
    texts = column.values.take(first).to_pylist()
    found = [trim(text) for text, code in zip(texts, first.tolist(), strict=True) if counts[code]]
    return [text for text in found if text not in missing][:SAMPLE]


def fit_values(
    values: Sequence[str],
    definition: Definition,
    codes: Mapping[str, CodeList],
    today: date,
    questions: Questions | None = None,
) -> Fits:
    """Ask each field of a roster how far values are right for it.

    Args:
        values: Some distinct values of a column, trimmed, none missing.
        definition: Of the roster.
        codes: Code lists by name; a list that is not there says nothing.
        today: For years of two digits.
        questions: Of the definition, where they are at hand.

    Returns:
        The fit for each field; for no values at all nothing is known.
    """
    ask = questions or Questions(definition, codes, today)
    if not values:
        return Fits((NOTHING,) * len(ask.fields), ask)
    return Fits(
        tuple(
            _fit(field, values, *test) for field, test in zip(ask.fields, ask.tests, strict=True)
        ),
        ask,
    )


class Questions:
    """What the fields of a roster ask of values: many ask the same, and then one answers for
    all; of each text once.
    """

    def __init__(self, definition: Definition, codes: Mapping[str, CodeList], today: date) -> None:
        first: dict[object, int] = {}
        self.of = {
            field.name: first.setdefault(_question(field), len(first))
            for field in definition.fields
        }
        asking: dict[int, Field] = {}
        for field in definition.fields:
            asking.setdefault(self.of[field.name], field)
        self.fields = tuple(asking[number] for number in range(len(first)))  # one for each question
        self.places = np.array([self.of[field.name] for field in definition.fields], np.intp)
        self.tests = tuple(
            (_once(right), weight)
            for right, weight in (_test(field, codes, today) for field in self.fields)
        )


def _once(right: Callable[[str], object]) -> Callable[[str], bool]:
    """Remember what was answered: other columns hold the same texts."""
    known: dict[str, bool] = {}

    def ask(text: str) -> bool:
        answer = known.get(text)
        if answer is None:
            answer = known[text] = bool(right(text))
        return answer

    return ask


@dataclass(frozen=True)
class Fits(Mapping[str, Fit]):
    """How far a column's values fit each field, by name."""

    answers: tuple[Fit, ...]  # to each question
    asked: Questions

    def __getitem__(self, name: str) -> Fit:
        return self.answers[self.asked.of[name]]

    def __iter__(self) -> Iterator[str]:
        return iter(self.asked.of)

    def __len__(self) -> int:
        return len(self.asked.of)

    def speaks(self) -> NDArray[np.float64]:
        """Return what speaks for each field, in their order (see `Fit.speaks`)."""
        return np.array([answer.speaks for answer in self.answers])[self.asked.places]


def _question(field: Field) -> object:
    """Say what of a field tells how far values fit it."""
    is_name = field.means in NAMES
    what = (field.identifier, field.code_list, field.enum, field.pattern, is_name)
    return what, field.is_mail, field.kind, field.type, field.several, field.minimum, field.maximum


def _fit(field: Field, values: Sequence[str], right: Callable[[str], bool], weight: float) -> Fit:
    if weight == 0.0:  # plain text
        share, is_name = _share(right, values), field.means in NAMES
        return (
            Fit(share, 0.15 if is_name else 0.0) if share >= 0.35 else Fit(share, 0.6, len(values))
        )
    if field.several:
        fit = _fit_parts(values, field.several, right, weight)
        if fit.share == 1.0 or not field.code_list:
            return fit
        signs = [at for at in SEPARATORS if any(at in value for value in values)]
        return max(
            (fit, *(_fit_parts(values, at, right, weight) for at in signs)),
            key=lambda fit: fit.share,
        )
    share = _share(right, values)
    # A handful of values may be right by chance.
    return Fit(share, weight * min(1.0, 0.4 + len(values) / 5), len(values))


def _fit_parts(values: Sequence[str], at: str, right: Callable[[str], bool], weight: float) -> Fit:
    parts = dict.fromkeys(part for value in values for part in map(trim, value.split(at)) if part)
    return Fit(_share(right, parts), weight * min(1.0, 0.4 + len(values) / 5), len(values))


def _share(right: Callable[[str], bool], values: Collection[str]) -> float:
    return sum(map(right, values)) / len(values) if values else 1.0


def _test(
    field: Field, codes: Mapping[str, CodeList], today: date
) -> tuple[Callable[[str], object], float]:
    """Return what tells whether a text is right for a field, and how much that tells; 0 where
    any text may be.
    """
    if field.identifier is not None:
        scheme = field.identifier
        strong = bool(scheme.check in SCHEMES or (scheme.prefix and scheme.length))
        return lambda text: not mend_identifier(scheme, text).problem, 1.0 if strong else 0.5
    if field.code_list:
        listed = codes.get(field.code_list)
        return (
            (lambda text: text in listed.by_code or listed.named(text), 0.9)
            if listed
            else (_plain(field), 0.0)
        )
    if field.is_mail:
        return _MAIL.fullmatch, 0.9
    if field.kind == "phone":
        return (
            lambda text: (
                _PHONE.fullmatch(text)
                and sum(letter.isdigit() for letter in text) >= 7
                and not _day(text, today)
            ),
            0.8,
        )
    if field.type in ("date", "datetime"):
        return lambda text: _is_day(field, text, today), 0.6
    if field.type in ("integer", "number", "year"):
        bounded = bool(field.minimum or field.maximum)
        return lambda text: _is_number(field, text), 0.45 if bounded else 0.25
    if field.type == "boolean":
        return lambda text: text.casefold() in YES | NO, 0.7
    if field.enum:
        return field.enum.__contains__, 0.9
    if field.pattern:
        return lambda text: matches(field.pattern, text), 0.6
    return _plain(field), 0.0


def _plain(field: Field) -> Callable[[str], object]:
    """Plain text may be anything, but not what plainly is something else: mail, days, numbers
    where names should be.
    """
    is_name = field.means in NAMES

    def plain(text: str) -> bool:
        if _MAIL.fullmatch(text) or re.fullmatch(r"\d{1,4}[-./]\d{1,2}[-./]\d{1,4}.*", text):
            return False
        return not (is_name and any(letter.isdigit() for letter in text))

    return plain


def _day(text: str, today: date) -> date | None:
    day = read_day(text, "", today)
    return None if day is None else day.day or day.either[0]


def _is_day(field: Field, text: str, today: date) -> bool:
    day = _day(text[:10] if re.match(r"\d{4}-\d\d-\d\d ", text) else text, today)
    if day is None:
        return False
    return not (
        (field.minimum and day.isoformat() < field.minimum)
        or (field.maximum and day.isoformat() > field.maximum)
    )


def _is_number(field: Field, text: str) -> bool:
    if not _NUMBER.fullmatch(text) or (
        field.type in ("integer", "year") and re.search(r"[.,]\d*[1-9]", text)
    ):
        return False
    if len(text) > 1 and text.startswith("0") and text.isdigit() and not field.maximum:
        # a number that may be of any size does not begin with 0: that is an identifier
        return False
    try:
        size = float(re.sub(r"[^\d.+-]", "", text.replace(",", ".")))
        return not (
            (field.minimum and size < float(field.minimum))
            or (field.maximum and size > float(field.maximum))
        )
    except ValueError:
        return False
