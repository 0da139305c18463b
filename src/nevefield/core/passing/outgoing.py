"""What a destination should hold of each record of a share, laid out as it wants it."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass, field
from datetime import date
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.columns.composing import compose_column
from nevefield.core.conditions import holds
from nevefield.core.passing.destination import Put, Share
from nevefield.core.texts import SEVERAL

if TYPE_CHECKING:
    from collections.abc import Callable, Collection, Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.core.codes import CodeList
    from nevefield.core.columns.composing import Piece
    from nevefield.core.passing.destination import Membership
    from nevefield.core.snapshot import Snapshot

__all__ = ["LACKING", "Content", "Fault", "Outgoing", "lay_out", "lay_out_nothing"]

DIGEST_BYTES = 16
LACKING = "lacking"
LETTERS = {"true/false": ("true", "false"), "Y/N": ("Y", "N"), "1/0": ("1", "0")}


@dataclass(frozen=True)
class Content:
    """What a destination holds, or should hold, of one record."""

    fields: Mapping[str, str]  # by their field; several values with `SEVERAL` between them
    groups: tuple[str, ...] = ()

    def values(self, name: str) -> list[str]:
        """List the values of one of their fields."""
        return [text for text in self.fields.get(name, "").split(SEVERAL) if text]


@dataclass(frozen=True)
class Fault:
    """Why a record cannot be sent as it is: what is wrong, and in which of their fields."""

    kind: str
    to: str


@dataclass(frozen=True)
class Outgoing:
    """The records of a roster that a destination should hold, in the order of the roster."""

    share: Share
    ids: NDArray[np.int64]
    columns: tuple[Sequence[str], ...]  # by put
    groups: Sequence[str]  # names with `SEVERAL` between them
    digests: Sequence[bytes]  # of what each would hold: 16 bytes
    # by place, what makes that it cannot be sent: what is wrong, and in which of their fields
    faults: Mapping[int, tuple[Fault, ...]] = field(default_factory=dict)
    privileges: frozenset[str] = frozenset()  # names of groups that are such
    # by their field, of what is composed so that nobody else has it: what it is made of
    bases: Mapping[str, Sequence[str]] = field(default_factory=dict)

    def content(self, place: int) -> Content:
        """Give what is to be held of one record."""
        return Content(
            {
                put.to: column[place]
                for put, column in zip(self.share.puts, self.columns, strict=True)
                if column[place]
            },
            tuple(name for name in self.groups[place].split(SEVERAL) if name),
        )

    def compose_next(self, place: int, taken: Mapping[str, Collection[str]]) -> dict[str, str]:
        """Tell what would be composed for a record if others had what it has now."""
        found = {}
        for put, column in zip(self.share.puts, self.columns, strict=True):
            base = self.bases.get(put.to, ("",) * (place + 1))[place]
            if put.is_unique and base:
                have = {text.casefold() for text in (*column, *taken.get(put.to, ()))}
                found[put.to] = _make_unique(base, have, {})
        return found

    def own(self, place: int) -> dict[str, str]:
        """Give what nobody else has there, by their field."""
        return {
            put.to: column[place]
            for put, column in zip(self.share.puts, self.columns, strict=True)
            if put.is_unique and column[place]
        }


def lay_out_nothing(roster: str) -> Outgoing:
    """Lay out a roster of which nothing goes there any more."""
    share = Share(roster=roster, puts=(Put(to="none", fill="none"),))
    return Outgoing(share, np.zeros(0, np.int64), ([],), [], [])


def lay_out(
    share: Share,
    snapshot: Snapshot,
    codes: Mapping[str, CodeList],
    today: date,
    own: Mapping[int, Mapping[str, str]] | None = None,
    taken: Mapping[str, Collection[str]] | None = None,
    fault_of: Callable[[Put, str], str] = lambda put, text: "",
) -> Outgoing:
    """Lay out the records of a share.

    Args:
        share: What of the roster goes there.
        snapshot: The roster.
        codes: The code lists.
        today: For conditions.
        own: What a record has there that nobody else has, by record and their field: it stays as
            long as it is made of the same.
        taken: What others have there, by their field.
        fault_of: Tells why a value cannot be sent by the way that it goes; "" where it can.
    """
    places = (
        np.arange(len(snapshot))
        if share.where is None
        else np.flatnonzero(holds(share.where, snapshot.columns.__getitem__, len(snapshot), today))
    )
    ids = snapshot.ids[places]
    own, taken = own or {}, taken or {}
    bases = {put.to: _bases(put, snapshot, places) for put in share.puts if put.pattern is not None}
    columns = tuple(
        _compose(put, bases[put.to], ids, own, taken.get(put.to, ()))
        if put.to in bases
        else _write(put, snapshot, places, codes)
        for put in share.puts
    )
    spoken = [_speak(one, snapshot, codes) for one in share.groups]
    groups = _name_groups(share.groups, spoken, snapshot, places)
    faults = _find_faults(share.puts, columns, fault_of)
    privileges = frozenset(
        name
        for one, texts in zip(share.groups, spoken, strict=True)
        if one.is_privilege
        for text in (*texts, *_all_names(one, snapshot, codes))
        for name in text.split(SEVERAL)
    )
    digests = _digest(share, columns, groups)
    kept = {put.to: bases[put.to] for put in share.puts if put.is_unique}
    return Outgoing(share, ids, columns, groups, digests, faults, privileges - {""}, kept)


def _find_faults(
    puts: Sequence[Put],
    columns: Sequence[Sequence[str]],
    fault_of: Callable[[Put, str], str],
) -> dict[int, tuple[Fault, ...]]:
    """Find what cannot be sent; each distinct value is looked at once."""
    faults: dict[int, tuple[Fault, ...]] = {}
    for put, column in zip(puts, columns, strict=True):
        kinds = {text: fault_of(put, text) for text in set(column) if text}
        kinds[""] = LACKING if put.is_needed else ""
        if not any(kinds.values()):
            continue
        for place, text in enumerate(column):
            if kind := kinds[text]:
                faults[place] = (*faults.get(place, ()), Fault(kind, put.to))
    return faults


def _write(
    put: Put, snapshot: Snapshot, places: NDArray[np.intp], codes: Mapping[str, CodeList]
) -> list[str]:
    """Write a field as they want it, once for each distinct value."""
    if not put.source:
        return [put.fill] * len(places)
    column = snapshot.columns[put.source]
    texts = column.texts()
    if put.form != "as it is" or put.codes:
        known = codes.get(snapshot.definition.by_name[put.source].code_list)
        texts = [_say(text, put, known) for text in texts]
    return _spread(texts, column.codes[places])


def _say(text: str, put: Put | Membership, known: CodeList | None) -> str:
    return SEVERAL.join(_say_one(part, put, known) for part in text.split(SEVERAL))


def _say_one(text: str, put: Put | Membership, known: CodeList | None) -> str:
    if text in put.codes:
        return put.codes[text]
    if put.form == "label":
        code = known.by_code.get(text) if known else None
        return (code.label or text) if code else text
    if put.form in LETTERS:
        yes, no = LETTERS[put.form]
        return {"true": yes, "false": no}.get(text, text)
    if put.form != "as it is":
        return _write_day(text, put.form)
    return text


def _write_day(text: str, form: str) -> str:
    try:
        day = date.fromisoformat(text[:10])
    except ValueError:
        return text
    return {
        "01.09.2026": f"{day.day:02}.{day.month:02}.{day.year:04}",
        "09/01/2026": f"{day.month:02}/{day.day:02}/{day.year:04}",
        "20260901": f"{day.year:04}{day.month:02}{day.day:02}",
    }.get(form, text)


def _spread(texts: Sequence[str], codes: NDArray[np.int32] | NDArray[np.intp]) -> list[str]:
    """Give each row its text; "" where it has none."""
    spread = np.empty(len(texts) + 1, object)
    spread[:-1] = texts
    spread[-1] = ""
    return spread[codes].tolist()  # type: ignore[no-any-return]


def _bases(put: Put, snapshot: Snapshot, places: NDArray[np.intp]) -> list[str]:
    """Compose a field, not yet made unique."""
    pattern = put.pattern
    if pattern is None:
        return []

    def column(piece: Piece) -> tuple[Sequence[str], Sequence[int]]:
        found = snapshot.columns[piece.field]
        return found.texts(), found.codes[places].tolist()

    return compose_column(pattern, column, len(places))


def _compose(
    put: Put,
    bases: list[str],
    ids: NDArray[np.int64],
    own: Mapping[int, Mapping[str, str]],
    taken: Collection[str],
) -> list[str]:
    """Make what was composed unique: what is there stays what it was, as long as it is made of the
    same, and who is new gets what nobody has.
    """
    if not put.is_unique:
        return bases
    made = [""] * len(bases)
    have = {text.casefold() for text in taken}
    # who is switched off keeps the name there
    here = set(ids.tolist())
    have |= {
        one[put.to].casefold()
        for record, one in own.items()
        if record not in here and put.to in one
    }
    following: dict[str, int] = {}
    for place, (record, base) in enumerate(zip(ids.tolist(), bases, strict=True)):
        before = own.get(record, {}).get(put.to, "")
        if base and _is_of(before, base):
            made[place] = before
            have.add(before.casefold())
    for place, base in enumerate(bases):
        if base and not made[place]:
            made[place] = _make_unique(base, have, following)
            have.add(made[place].casefold())
    return made


def _make_unique(base: str, have: Collection[str], following: dict[str, int]) -> str:
    """Put a number from 2 on behind what somebody has already; `following` remembers from which on
    they are free, since what is taken is never free again.
    """
    text, number = base, following.get(base, 2)
    if number > 2:
        text, number = f"{base}{number - 1}", number
    while text.casefold() in have:
        text, number = f"{base}{number}", number + 1
    following[base] = number
    return text


def _is_of(text: str, base: str) -> bool:
    """Tell whether a text is a base, or the base with a number behind it."""
    rest = text[len(base) :]
    return bool(text) and text[: len(base)] == base and (not rest or rest.isdecimal())


def _speak(one: Membership, snapshot: Snapshot, codes: Mapping[str, CodeList]) -> list[str]:
    """Name the groups of each distinct value of a field."""
    known = codes.get(snapshot.definition.by_name[one.source].code_list)
    return [
        SEVERAL.join(
            one.before + _say_one(part, one, known) for part in text.split(SEVERAL) if part
        )
        for text in snapshot.columns[one.source].texts()
    ]


def _all_names(one: Membership, snapshot: Snapshot, codes: Mapping[str, CodeList]) -> list[str]:
    """Name the groups that a field may lead to by its code list, those of nobody too."""
    known = codes.get(snapshot.definition.by_name[one.source].code_list)
    return [one.before + _say_one(code.code, one, known) for code in known.codes] if known else []


def _name_groups(
    groups: Sequence[Membership],
    spoken: Sequence[list[str]],
    snapshot: Snapshot,
    places: NDArray[np.intp],
) -> list[str]:
    """List the groups that each is in, by name in their order, each once: worked out for each
    distinct combination of values.
    """
    if not groups:
        return [""] * len(places)
    codes = np.stack([snapshot.columns[one.source].codes[places] for one in groups])
    distinct, which = np.unique(codes, axis=1, return_inverse=True)
    # what has no value has the code -1, and no name
    named = [[*texts, ""] for texts in spoken]
    combined = []
    for combination in distinct.T.tolist():
        texts = (mine[code] for mine, code in zip(named, combination, strict=True))
        names = {name for text in texts for name in text.split(SEVERAL) if name}
        combined.append(SEVERAL.join(sorted(names)))
    return _spread(combined, which.reshape(-1))


def _digest(share: Share, columns: Sequence[Sequence[str]], groups: Sequence[str]) -> list[bytes]:
    """Digest what each would hold; fields that are empty count as if they were not there."""
    # a separator that trimmed texts never have
    names = [f"{put.to}\x1d" for put in share.puts]
    blake = partial(hashlib.blake2b, digest_size=DIGEST_BYTES)
    digests = []
    for *texts, names_of_groups in zip(*columns, groups, strict=True):
        held = "\x1e".join([name + text for name, text in zip(names, texts, strict=True) if text])
        digests.append(blake(f"{held}\x1c{names_of_groups}".encode()).digest())
    return digests
