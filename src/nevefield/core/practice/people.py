"""Made-up people in the place of real ones: the same counts, codes, groups and oddities, and no
value that tells who anybody is.

What many people share is the institution's and stays: codes, the days of a term, amounts. What few
have, and names, days of birth, identifiers, addresses and sensitive fields in any case, is a
person's: it becomes another value of the same shape, the same one wherever it stands, so that
people are still known by it in all rosters.
"""

from __future__ import annotations

import re
from collections import Counter, defaultdict
from dataclasses import dataclass, field, replace
from decimal import Decimal, InvalidOperation
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa

from nevefield.core.borders import Json
from nevefield.core.checking.standins import is_stand_in_mail, is_stand_in_phone
from nevefield.core.columns.identifiers import plain_identifiers
from nevefield.core.columns.titles import name_fields
from nevefield.core.columns.values import ValueContext, convert
from nevefield.core.practice.days import Days, another_amount
from nevefield.core.practice.numbers import make_numbers
from nevefield.core.practice.words import WORD, Words, plain_text, runs_of
from nevefield.core.snapshot import Snapshot
from nevefield.core.table import Column
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Callable, Iterable, Mapping
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition, Field
    from nevefield.core.practice.chance import Chance

__all__ = ["SHARED", "Making", "kind_of_field", "texts_in"]

SHARED = 5  # people from whom on a value tells nothing of one
LONG = 5  # characters from which on the same identifier in two fields is of the same thing
ALIKE = 0.2  # of the identifiers of a field that have to be in another one
NAMELIKE = 4  # letters in a row from which on an identifier is made of words
MOST = 0.01  # of a roster: a day of birth of so many stands in for one that nobody knew

_DIGITS = re.compile(r"\\d|0-9|\[:digit:\]")  # in a pattern: what it describes is a number

Place = tuple[str, str]  # roster and field


def kind_of_field(definition: Definition, field: Field) -> str:
    """Say what is made of a field's values: `code`, `number`, `mail`, `name`, `day`, `born`,
    `amount` or `text`.
    """
    referring = {name for key in definition.foreign_keys for name in key.fields}
    keys = {name for key in (definition.primary_key, *definition.possible_keys) for name in key}
    if field.code_list or field.enum or field.type == "boolean":
        return "code"
    if field.is_mail:
        return "mail"
    if field.type in ("date", "datetime"):
        return "born" if field.means == "birth-date" or field.sensitive else "day"
    if field.name in name_fields(definition) or field.means in ("family-name", "given-name"):
        return "name"
    if field.identifier or field.kind == "phone" or field.name in keys | referring:
        return "number"
    if field.type in ("integer", "number", "year"):
        return "amount"
    return "number" if _DIGITS.search(field.pattern) else "text"


@dataclass
class Making:
    """Made-up people for some rosters.

    Args:
        rosters: The real ones, by name.
        codes: Code lists by name.
        today: The day for codes in use.
        random: The source of chance.
        literals: Texts that stay wherever they are values, by roster: those by which parts of it
            are told.
    """

    rosters: Mapping[str, Snapshot]
    codes: Mapping[str, CodeList]
    today: date
    random: Chance
    literals: Mapping[str, Iterable[str]] = field(default_factory=dict)
    given_on: dict[Place, int] = field(default_factory=dict)
    _columns: dict[Place, Column] = field(default_factory=dict)
    _numbers: dict[Place, dict[str, str]] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.days = Days(self.random)
        self._identifiers: dict[str, str] = {}
        self._literals = {
            name: frozenset(texts_in(roster.definition.document)).union(self.literals.get(name, ()))
            for name, roster in self.rosters.items()
        }
        self.words = Words(self._all_texts(), self.random, shared_domains=self.domains())

    def _each(self, *kinds: str) -> Iterable[tuple[Place, Field, Column]]:
        for name, roster in self.rosters.items():
            for one in roster.definition.fields:
                if kind_of_field(roster.definition, one) in kinds:
                    yield (name, one.name), one, roster.columns[one.name]

    def _all_texts(self) -> Iterable[str]:
        for _, _, column in self._each("name", "mail", "text", "number", "code"):
            yield from column.used().texts()

    def domains(self) -> list[str]:
        """List the domains of mail addresses that tell nothing of one person: those of many, and
        those that a definition names.
        """
        named = "\n".join(
            text.replace("\\.", ".").casefold()
            for roster in self.rosters.values()
            for text in texts_in(roster.definition.document)
        )
        counts: dict[str, int] = defaultdict(int)
        for _, _, column in self._each("mail"):
            for text, count in zip(column.texts(), column.counts().tolist(), strict=True):
                counts[text.rpartition("@")[2].casefold()] += count
        return [domain for domain, count in counts.items() if count >= SHARED or domain in named]

    def make(self, progress: Callable[[str, int, int], None]) -> dict[str, Snapshot]:
        """Make the people: one for each real one, in the same order.

        Args:
            progress: Hears what is done, how much of it, and of how much.
        """
        # names first: texts and addresses that have one in them have the same one afterwards
        for _, _, column in self._each("name"):
            self.words.remember_people(column.texts())
        for place, family in enumerate(families := self._families()):
            progress("making numbers up", place, len(families))
            self._make_family(family)
        self._identifiers = {
            text: other
            for made in self._numbers.values()
            for text, other in made.items()
            if len(text) >= LONG and any(map(str.isdigit, text))
        }
        for name in self.rosters:
            progress(f"making people up: {self.rosters[name].definition.title}", 0, 1)
            for one in self.rosters[name].definition.fields:
                self._columns[name, one.name] = self._make_column(name, one)
        return {name: self._snapshot(name) for name in self.rosters}

    def _snapshot(self, name: str) -> Snapshot:
        real = self.rosters[name]
        columns = {one.name: self._columns[name, one.name] for one in real.definition.fields}
        return Snapshot(real.definition, real.ids, columns, real.version)

    def _families(self) -> list[list[Place]]:
        """Put fields that hold the same identifiers together: what refers to a field with that
        field, and fields that are built the same way.
        """
        home: dict[Place, Place] = {}

        def find(place: Place) -> Place:
            while home.setdefault(place, place) != place:
                place = home[place]
            return place

        built: dict[tuple[Json, ...], Place] = {}
        for place, one, _ in self._each("number"):
            signature = (one.identifier, one.pattern, one.kind, one.region)
            if any(signature):
                home[find(place)] = find(built.setdefault(signature, place))
            else:
                find(place)
        for name, roster in self.rosters.items():
            for key in roster.definition.foreign_keys:
                for own, target in zip(key.fields, key.target, strict=True):
                    there = (key.resource or name, target)
                    if there in home and (name, own) in home:
                        home[find((name, own))] = find(there)
        families = defaultdict(list)
        for place in home:
            families[find(place)].append(place)
        # what says how it is built first: fields that say less may hold the same ones
        return sorted(families.values(), key=lambda one: _strictness(self._leading(one)))

    def _leading(self, family: list[Place]) -> Field:
        fields = [self.rosters[name].definition.by_name[own] for name, own in family]
        return min(fields, key=_strictness)

    def _make_family(self, family: list[Place]) -> None:
        """Make the identifiers of fields that hold the same ones; the one that says most of how
        they are built decides what is right.
        """
        leading = self._leading(family)
        texts = {
            part
            for name, own in family
            for text in self.rosters[name].columns[own].used().texts()
            for part in text.split(SEVERAL)
            if not self._stays((name, own), part)
        }
        made = self._as_elsewhere(leading, texts)
        left = sorted(texts - made.keys())
        if not (leading.identifier or leading.kind):
            made |= self._as_words(leading, left)
            left = sorted(texts - made.keys())
        numbers = make_numbers(
            left, lambda drawn: self._right(leading, drawn), self.random, leading.identifier
        )
        made |= numbers.made
        for place in family:
            self._numbers[place] = made
            if numbers.given_on:
                self.given_on[place] = numbers.given_on

    def _as_elsewhere(self, one: Field, texts: set[str]) -> dict[str, str]:
        """Find what the same identifiers became elsewhere, where enough are the same to be no
        coincidence: first in the field that has most of them, then in others what it has not.
        """
        found: dict[str, str] = {}
        left = {text for text in texts if len(text) >= LONG}
        others = list({id(known): known for known in self._numbers.values()}.values())
        while others and left:
            known = max(others, key=lambda other: len(left & other.keys()))
            others.remove(known)
            same = sorted(left & known.keys())
            if len(same) < ALIKE * len(texts - found.keys()):
                break
            fits = self._right(one, [known[text] for text in same]).tolist()
            taken = set(found.values())
            found |= {
                text: known[text]
                for text, fit in zip(same, fits, strict=True)
                if fit and known[text] not in taken
            }
            left -= found.keys()
        return found

    def _as_words(self, one: Field, texts: list[str]) -> dict[str, str]:
        """Make those that are words rather than numbers, as names for signing in; a word that most
        of them have is the institution's.
        """
        words = [[run for kind, run in runs_of(text) if kind == WORD] for text in texts]
        counts = Counter(run for runs in words for run in set(runs))
        worded = [
            text
            for text, runs in zip(texts, words, strict=True)
            if any(len(run) >= NAMELIKE and 2 * counts[run] < len(texts) for run in runs)
        ]
        made = [self.words.text(text) for text in worded]
        fits = (self._right(one, made) | ~self._right(one, worded)).tolist()
        return {text: new for text, new, fit in zip(worded, made, fits, strict=True) if fit}

    def _stays(self, place: Place, text: str) -> bool:
        """Tell whether a text of a field for identifiers stays: a stand-in for none, and what many
        have, as the code of a facility.
        """
        one = self.rosters[place[0]].definition.by_name[place[1]]
        if one.kind == "phone" and is_stand_in_phone(text):
            return True
        return not (one.identifier or one.unique or one.kind) and text in self._shared(place)

    def _right(self, one: Field, texts: list[str]) -> NDArray[np.bool_]:
        """Tell which texts a field takes, and stores as they are."""
        likely = np.ones(len(texts), bool)
        if one.identifier and one.identifier.length:
            # told for all at once; of the others nobody needs to know what they lack
            likely = plain_identifiers(one.identifier, pa.array(texts, pa.string()))
        rows = np.flatnonzero(likely)
        chosen = [texts[row] for row in rows.tolist()]
        context = ValueContext(self.codes, frozenset({""}), self.today)
        typed = convert(replace(one, several=""), Column.of(chosen), context)
        stored = typed.stored.rows(np.arange(len(chosen)))
        same = [value == text for value, text in zip(stored, chosen, strict=True)]
        likely[rows] = ~typed.problem_rows() & np.array(same, bool)
        if one.kind == "phone":  # by chance one that everybody sees is none
            likely &= ~np.array([*map(is_stand_in_phone, texts)], bool)
        return likely

    def _shared(self, place: Place) -> frozenset[str]:
        """List the texts of a field that so many have that they tell nothing of one."""
        roster = self.rosters[place[0]]

        def count() -> frozenset[str]:
            column = roster.columns[place[1]]
            counts: dict[str, int] = defaultdict(int)
            for text, count in zip(column.texts(), column.counts().tolist(), strict=True):
                for part in text.split(SEVERAL):
                    counts[part] += count
            return frozenset(text for text, count in counts.items() if count >= SHARED)

        shared: frozenset[str] = roster.keep(f"shared {place[1]}", count)
        return shared

    def _make_column(self, name: str, one: Field) -> Column:
        roster = self.rosters[name]
        column, kind = roster.columns[one.name], kind_of_field(roster.definition, one)
        if kind == "code" and one.sensitive:
            return column.take(
                np.array(self.random.sample(range(len(column)), len(column)), np.intp)
            )
        make, real = self.maker(name, one), column.texts()
        texts = [SEVERAL.join(map(make, text.split(SEVERAL))) for text in real]
        if kind in ("name", "text") and texts and not one.several:
            texts = self._fit(one, real, texts)
        distinct = Column.encode(pa.array(texts, pa.string()))
        codes = np.where(column.codes >= 0, distinct.codes[column.codes] if texts else -1, -1)
        return Column(distinct.values, codes.astype(np.int32))

    def _fit(self, one: Field, real: list[str], texts: list[str]) -> list[str]:
        """Write what a field does not take, and took before, in plain letters."""
        worse = self._right(one, real) & ~self._right(one, texts)
        return [
            plain_text(text) if wrong else text for text, wrong in zip(texts, worse, strict=True)
        ]

    def maker(self, name: str, one: Field) -> Callable[[str], str]:
        """Give what makes another value of each value of a field; of the same the same."""
        definition, place = self.rosters[name].definition, (name, one.name)
        kind, words = kind_of_field(definition, one), self.words
        shared, literals = self._shared(place), self._literals[name]
        if kind == "code":
            listed = self._listed(one)
            return lambda text: text if text in listed or text in shared else words.text(text)
        if kind == "number":
            numbers = self._numbers[place]
            return lambda text: numbers.get(text, text)
        if kind == "mail":
            return lambda text: (
                _stand_in(text, words) if is_stand_in_mail(text) else words.mail(text)
            )
        if kind == "name":
            return words.text
        if kind in ("day", "born"):
            often = self._often(place) if kind == "born" else shared
            return lambda text: text if text in often else self._move(text, kind)
        if kind == "amount":
            ordered = self.amounts(place)
            return lambda text: (
                text
                if text in shared and not one.sensitive
                else another_amount(text, ordered, self.random) or text
            )

        def make(text: str) -> str:
            if text in literals or (
                text in shared and not one.sensitive and not words.is_of_somebody(text)
            ):
                return text
            # an identifier of another field that nothing refers to
            return self._identifiers.get(text) or words.text(text)

        return make

    def _move(self, text: str, kind: str) -> str:
        return self.days.move(text, within_year=kind == "born") or self.words.text(text)

    def _listed(self, one: Field) -> frozenset[str]:
        if one.code_list in self.codes:
            return frozenset(code.code for code in self.codes[one.code_list].codes)
        return frozenset(one.enum) | {"true", "false"}

    def _often(self, place: Place) -> frozenset[str]:
        """List days of birth of so many people that they stand in for one that nobody knew."""
        column = self.rosters[place[0]].columns[place[1]]
        least = max(SHARED, MOST * len(column))
        return frozenset(
            text
            for text, count in zip(column.texts(), column.counts().tolist(), strict=True)
            if count > least
        )

    def amounts(self, place: Place) -> list[Decimal]:
        """List the amounts of a field, each once, in their order."""
        found = set()
        for text in self.rosters[place[0]].columns[place[1]].used().texts():
            try:
                found.add(Decimal(text))
            except InvalidOperation:
                continue
        return sorted(one for one in found if one.is_finite())


def _strictness(one: Field) -> tuple[bool, bool, bool]:
    """Order fields by how much they say of how their identifiers are built, the most first."""
    return not one.identifier, not one.unique, not one.pattern


def _stand_in(address: str, words: Words) -> str:
    """Keep what says that there is no address; its domain is another."""
    local, _, _ = address.rpartition("@")
    return f"{local}@{words.mail(address).rpartition('@')[2]}"


def texts_in(document: Json) -> Iterable[str]:
    """Give all texts of a JSON document."""
    if isinstance(document, str):
        yield document
    elif isinstance(document, list):
        for one in document:
            yield from texts_in(one)
    elif isinstance(document, dict):
        for one in document.values():
            yield from texts_in(one)
