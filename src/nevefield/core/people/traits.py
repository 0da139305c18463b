"""What of a person tells people apart: the fields that are about them, brought to forms in which
slips show.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.borders import Arrow
from nevefield.core.columns.headings import MEANINGS, words_of
from nevefield.core.edits import limits
from nevefield.core.edits.finding import Finder
from nevefield.core.people.names import known_as, soundex
from nevefield.core.people.scripts import to_latin
from nevefield.core.table import find_texts
from nevefield.core.texts import key_of, plain_letters

if TYPE_CHECKING:
    from collections.abc import Callable, Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.core.definition import Definition, Field
    from nevefield.core.table import Column

__all__ = ["KINDS", "Forms", "Side", "Trait", "forms_of", "traits_of"]

# The kinds of trait, in the order in which people look at them, and the `means` of fields that have
# them.
KINDS = {
    "number": "",
    "family": "family-name",
    "given": "given-name",
    "birth": "birth-date",
    "sex": "sex",
    "mail": "mail",
    "phone": "phone",
    "street": "street",
    "postcode": "postcode",
    "town": "town",
}
_NO_LETTERS = re.compile(r"[\W\d_]+")
_DIGITS = re.compile(r"\D+")
# the last ones are compared: what stands before is the country's code, or a nought in its place
PHONE_DIGITS = 9
NONE_OURS, NONE_THEIRS = -1, -2  # for nothing there; never equal to each other


@dataclass(frozen=True)
class Trait:
    """One field that tells people apart."""

    field: str
    kind: str


def traits_of(definition: Definition) -> tuple[Trait, ...]:
    """List the fields that are about the person: by `means`, or guessed from type, name and title;
    one of each kind.

    The number is the first of the definition's keys of one field that is nothing else.
    """
    found: dict[str, str] = {}
    for kind, means in KINDS.items():
        fields = definition.fields
        message = next((field.name for field in fields if means and field.means == means), None)
        if name := message or next(
            (field.name for field in fields if not field.means and _is_about(field, kind, means)),
            None,
        ):
            found[kind] = name
    for key in definition.keys:
        if (
            len(key) == 1
            and key[0] not in found.values()
            and not definition.by_name[key[0]].is_mail
        ):
            found.setdefault("number", key[0])
    return tuple(Trait(found[kind], kind) for kind in KINDS if kind in found)


def _is_about(field: Field, kind: str, means: str) -> bool:
    if kind == "mail":
        return field.is_mail
    if kind == "phone":
        return field.kind == "phone" and set(words_of(field.name)) <= {"phone", "number"}
    if kind == "birth" and field.type != "date":
        return False
    wanted = [set(words_of(word)) for word in MEANINGS.get(means, ())]
    return any(set(words_of(word)) in wanted for word in (field.name, field.title))


def _plain_name(text: str) -> str:
    return " ".join(
        _NO_LETTERS.sub(" ", to_latin(plain_letters(text).casefold()).replace("'", "")).split()
    )


_PLAIN: dict[str, Callable[[str], str]] = {
    "family": _plain_name,
    "given": _plain_name,
    "phone": lambda text: _DIGITS.sub("", text)[-PHONE_DIGITS:],
    "mail": str.casefold,
    "birth": lambda text: text[:10],
}


def _not_latin(trait: Trait, written: Sequence[str | None], plain: Sequence[str]) -> frozenset[str]:
    """List the plain forms of names that are written in other letters than Latin ones."""
    if trait.kind not in ("family", "given"):
        return frozenset()
    pairs = zip(written, plain, strict=True)
    return frozenset(
        one
        for text, one in pairs
        if text and not text.isascii() and not plain_letters(text).isascii()
    )


class Side:
    """One trait of one side: its distinct plain texts, which row has which, and what comparing
    looks at, worked out when asked.

    Args:
        trait: Which.
        column: Stored values.
    """

    def __init__(self, trait: Trait, column: Column) -> None:
        plain = _PLAIN.get(trait.kind, key_of)
        self._finders: dict[str, Finder] = {}
        self._numbered: dict[str, tuple[Arrow, NDArray[np.int64]]] = {}
        self._keys: dict[str, NDArray[np.int64]] = {}
        if len(column.codes) <= limits.SINGLE:
            had = column.rows(np.arange(len(column.codes)))
            messages = [plain(text) if text else "" for text in had]
            self._foreign = _not_latin(trait, had, messages)
            self.texts = [text for text in dict.fromkeys(messages) if text]
            self.values = pa.array(self.texts, pa.string())
            self.codes = np.array(
                [self.texts.index(text) if text else -1 for text in messages], np.int32
            )
            return
        column = column.compact()
        used = np.flatnonzero(
            np.bincount(column.codes[column.codes >= 0], minlength=len(column.values))
        )
        written = column.values.take(pa.array(used)).to_pylist()
        messages = [plain(text) for text in written]
        self._foreign = _not_latin(trait, written, messages)
        made = pa.array(messages, pa.string()).dictionary_encode()
        self.values = made.dictionary
        self.texts = made.dictionary.to_pylist()
        code = np.full(len(column.values) + 1, -1, np.int32)
        code[used] = made.indices.to_numpy()
        empty = np.array([*(not text for text in self.texts), True], bool)
        placed = code[column.codes]
        # of each row, into `texts`; -1 for nothing there
        self.codes = np.where(empty[placed], -1, placed).astype(np.int32)

    def __len__(self) -> int:
        return len(self.texts)

    def numbered(self, name: str) -> tuple[Arrow, NDArray[np.int64]]:
        """Number a form of the texts: its distinct ones as an Arrow array, and of each text the
        number, NONE_THEIRS if empty.
        """
        if name not in self._numbered:
            made = getattr(self, name).dictionary_encode()
            number = made.indices.to_numpy().astype(np.int64)
            empty = pc.index(made.dictionary, "").as_py() if len(made.dictionary) else -1
            self._numbered[name] = (
                made.dictionary,
                (np.where(number == empty, NONE_THEIRS, number) if empty >= 0 else number),
            )
        return self._numbered[name]

    def find(self, texts: Arrow, name: str) -> NDArray[np.int64]:
        """Find texts of an Arrow array among the numbers of a form; NONE_OURS for empty ones and
        those that are not there.
        """
        if len(texts) <= limits.SINGLE:
            if name not in self._finders:
                self._finders[name] = Finder(
                    self.values if name == "text" else self.numbered(name)[0]
                )
            finder = self._finders[name]
            places = [finder.find(text) if text else -1 for text in texts.to_pylist()]
            return np.array([place if place >= 0 else NONE_OURS for place in places], np.int64)
        there = self.values if name == "text" else self.numbered(name)[0]
        found = np.array(find_texts(texts, there), np.int64)
        return np.where(np.array(pc.equal(texts, "")), NONE_OURS, found) if len(found) else found

    def keys(self, name: str) -> NDArray[np.int64]:
        """Number a form of the texts, see `Forms`; under 0 for nothing there. Worked out once."""
        if name not in self._keys:
            found = np.arange(len(self), dtype=np.int64) if name == "text" else getattr(self, name)
            is_number = isinstance(found, np.ndarray)
            self._keys[name] = (
                np.where(found < 0, NONE_THEIRS, found) if is_number else self.numbered(name)[1]
            )
        return self._keys[name]

    @cached_property
    def total(self) -> float:
        """How many rows have a text."""
        return float(self.counts.sum())

    @cached_property
    def counts(self) -> NDArray[np.float64]:
        """How many rows have each text."""
        return np.bincount(self.codes[self.codes >= 0], minlength=len(self.texts)).astype(
            np.float64
        )

    @cached_property
    def sound(self) -> NDArray[np.int64]:
        """What names sound like, as numbers; -1 for nothing."""
        return np.array(
            [
                (ord(text[0]) * 1000 + int(text[1:])) if text else -1
                for text in map(soundex, self.texts)
            ],
            np.int64,
        )

    @cached_property
    def initial(self) -> NDArray[np.int64]:
        """First letters, as numbers; -1 for nothing."""
        return np.array([ord(text[0]) if text else -1 for text in self.texts], np.int64)

    @cached_property
    def is_foreign(self) -> NDArray[np.bool_]:
        """Which names are written in other letters than Latin ones."""
        return np.array([text in self._foreign for text in self.texts], bool)

    @cached_property
    def sizes(self) -> NDArray[np.int64]:
        """How many characters the texts have."""
        return np.array([len(text) for text in self.texts], np.int64)

    @cached_property
    def is_letter(self) -> NDArray[np.bool_]:
        """Which texts are one letter only."""
        return np.array([len(text) == 1 and text.isascii() for text in self.texts], bool)

    @cached_property
    def has_words(self) -> NDArray[np.bool_]:
        """Which texts have several words."""
        return np.array([" " in text for text in self.texts], bool)

    @cached_property
    def known_as(self) -> NDArray[np.int64]:
        """The texts' numbers among names that stand for each other; -1 for others."""
        return np.array([known_as(text) for text in self.texts], np.int64)

    @cached_property
    def days(self) -> NDArray[np.int64]:
        """Year, month and day; noughts where it is no day."""
        found = [
            (
                tuple(map(int, text.split("-")))
                if re.fullmatch(r"\d{4}-\d\d-\d\d", text)
                else (0, 0, 0)
            )
            for text in self.texts
        ]
        return np.array(found or np.zeros((0, 3)), np.int64).reshape(-1, 3)

    @cached_property
    def local(self) -> Arrow:
        """Mail addresses before the @, letters and digits only, as an Arrow array."""
        before = pc.replace_substring_regex(self.values, "@.*$", "")
        return pc.replace_substring_regex(before, "[^a-z0-9]", "")

    @cached_property
    def head(self) -> Arrow:
        """The first two thirds, as an Arrow array."""
        return pa.array([text[: max(len(text) * 2 // 3, 1)] for text in self.texts], pa.string())

    @cached_property
    def tail(self) -> Arrow:
        """The last two thirds, as an Arrow array."""
        return pa.array([text[-max(len(text) * 2 // 3, 1) :] for text in self.texts], pa.string())

    @cached_property
    def opening(self) -> NDArray[np.int64]:
        """The first three letters as a number; -1 of shorter texts."""
        numbers = [
            ord(text[0]) << 42 | ord(text[1]) << 21 | ord(text[2]) if len(text) > 2 else -1
            for text in self.texts
        ]
        return np.array(numbers, np.int64)


class Forms:
    """One trait of both sides.

    Args:
        trait: Which.
        ours: Of the rows.
        theirs: Of the records.
    """

    def __init__(self, trait: Trait, ours: Side, theirs: Side) -> None:
        self.trait, self.ours, self.theirs = trait, ours, theirs
        # of each of our texts: the same text of theirs, or NONE_OURS
        self.same = theirs.find(ours.values, "text")

    @cached_property
    def share(self) -> NDArray[np.float64]:
        """How common each of our texts is among the records, as a share; ours counted in once."""
        counts = np.ones(len(self.ours))
        there = self.same >= 0
        counts[there] += self.theirs.counts[self.same[there]]
        return np.asarray(counts / (self.theirs.total + 1.0))

    def our_keys(self, name: str) -> NDArray[np.int64]:
        """Number a form of our texts as theirs are: `text`, `local`, `head`, `tail` or a form
        that is a number; or NONE_OURS.
        """
        if name == "text":
            return self.same
        ours = getattr(self.ours, name)
        return ours if isinstance(ours, np.ndarray) else self.theirs.find(ours, name)

    def their_keys(self, name: str) -> NDArray[np.int64]:
        """Number a form of their texts; under 0 for nothing there."""
        return self.theirs.keys(name)


def forms_of(
    traits: Sequence[Trait], ours: Mapping[str, Column], theirs: Mapping[str, Side]
) -> dict[str, Forms]:
    """Bring the traits that both sides have to their forms, by kind.

    Args:
        traits: Which.
        ours: The rows' values by field.
        theirs: The records' sides by kind.
    """
    return {
        trait.kind: Forms(trait, Side(trait, ours[trait.field]), theirs[trait.kind])
        for trait in traits
        if trait.field in ours and trait.kind in theirs
    }
