"""Propose a definition and code lists for a table that is no roster yet, with what was seen."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.codes import CodeList
from nevefield.core.definition import Identifier
from nevefield.core.opening.choices import Choices, ColumnChoice
from nevefield.core.opening.kinds import Kind, country_of, kind_of, region_of
from nevefield.core.opening.lists import Grouped, group_values, make_list, repeats, sort_by_hand
from nevefield.core.opening.looks import Look, find_missing, look_at
from nevefield.core.opening.naming import clean_title, make_name, meaning_of
from nevefield.core.opening.relations import (
    Reference,
    find_keys,
    find_orders,
    find_parents,
    find_references,
)
from nevefield.core.opening.schemes import Built, find_scheme, say_scheme, write_scheme
from nevefield.core.opening.several import count_parts, find_separator
from nevefield.core.opening.starting import add_people
from nevefield.core.texts import trim

if TYPE_CHECKING:
    from collections.abc import Sequence
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.core.borders import Json
    from nevefield.core.table import Table

__all__ = ["Proposal", "Seen", "document_with_seen", "propose"]

ENOUGH = 50  # rows, before a column without a gap is required
SHARED = 0.8  # of the codes of two columns, for one list
# means whose texts are not codes, however often they repeat
_NO_CODES = ("family-name", "given-name", "street", "postcode", "birth-date", "mail", "phone")
_TYPES: dict[str, dict[str, Json]] = {
    "mail": {"type": "string", "format": "email"},
    "phone": {"type": "string"},
    "date": {"type": "date"},
    "datetime": {"type": "datetime"},
    "year": {"type": "year"},
    "integer": {"type": "integer"},
    "number": {"type": "number"},
    "boolean": {"type": "boolean"},
}


@dataclass(frozen=True)
class Seen:
    """What was seen of one column.

    Args:
        column: Its heading.
        field: The field that it becomes; "" for none.
        kind: Of its values: that of `kinds`, or `code`, `secret`, `empty`.
        sure: Whether a person need not look at it.
        why: What was seen, in words.
        grouped: Of codes, their ways of writing, in the order of the list's codes.
    """

    column: str
    field: str
    kind: str
    sure: bool
    why: str
    grouped: Grouped | None = None


@dataclass(frozen=True)
class Proposal:
    """A definition's document, its code lists, and what was seen of each column, in their order."""

    document: dict[str, Json]
    lists: dict[str, CodeList]
    seen: tuple[Seen, ...]


@dataclass
class _Column:
    """One column on its way to a field."""

    place: int
    look: Look
    title: str
    name: str
    kind: Kind
    choice: ColumnChoice
    means: str = ""
    several: str = ""
    grouped: Grouped | None = None
    list_name: str = ""
    built: Built | None = None
    parent: str = ""
    required: bool = False
    why: list[str] = field(default_factory=list)
    sure: bool = True

    @property
    def seen_as(self) -> str:
        """The kind, a code where a list is proposed."""
        return "code" if self.grouped is not None else self.kind.name


def propose(
    table: Table,
    today: date,
    *,
    secrets: Sequence[str] = (),
    name: str = "",
    title: str = "",
    region: str = "",
    choices: Choices | None = None,
) -> Proposal:
    """Propose a definition and its code lists.

    Args:
        table: The file's texts, as they stand.
        today: For years of two digits.
        secrets: Headings of columns that were taken for secrets.
        name: Of the roster; small ASCII letters and `_`.
        title: Of the roster.
        region: Where phone numbers without a country are, ISO 3166-1; "" where that is not known.
        choices: What a person said about it.

    Returns:
        One field for each column that is neither empty nor a secret, in their order.
    """
    choices = choices or Choices()
    missing = find_missing(table.columns)
    looks = [
        look_at(heading, column, frozenset(missing))
        for heading, column in zip(table.headings, table.columns, strict=True)
    ]
    columns, seen = _begin(looks, frozenset(secrets), today, choices)
    bare, kinds = [column.look for column in columns], [column.kind.name for column in columns]
    keys, counter = find_keys(bare, kinds)
    keys = _choose_key(keys, columns, choices)
    references = find_references(bare, kinds, keys)
    _find_lists(columns, {reference.place for reference in references})
    _settle_identifiers(columns, keys, counter, references)
    _find_parents(columns)
    for column in columns:
        _require(column)
    region = next(filter(None, map(country_of, bare)), region)
    document = _write(columns, keys, references, missing, today, region, choices)
    document = {
        "name": choices.name or name or "roster",
        "title": choices.title or title or "Roster",
        **document,
    }
    document, lists = add_people(document, _make_lists(columns), choices.people)
    for column in columns:
        why = "; ".join(column.why)
        seen[column.place] = Seen(
            column.look.heading, column.name, column.seen_as, column.sure, why, column.grouped
        )
    return Proposal(document, lists, tuple(seen[place] for place in range(len(looks))))


def _choose_key(keys: list[int], columns: Sequence[_Column], choices: Choices) -> list[int]:
    """Put the column that was said to be the key first; none where that was said."""
    if choices.key is None:
        return keys
    chosen = [place for place, column in enumerate(columns) if column.look.heading == choices.key]
    return [*chosen, *(place for place in keys if place not in chosen)] if chosen else []


def _begin(
    looks: Sequence[Look], secrets: frozenset[str], today: date, choices: Choices
) -> tuple[list[_Column], dict[int, Seen]]:
    """Take the columns that become fields, each with its kind; of the others say why they do
    not.
    """
    columns: list[_Column] = []
    seen: dict[int, Seen] = {}
    names: list[str] = []
    for place, look in enumerate(looks):
        if look.heading in secrets:
            why = "taken for a secret, such as a password: never kept"
            seen[place] = Seen(look.heading, "", "secret", True, why)
            continue
        if not look.counts:
            seen[place] = Seen(look.heading, "", "empty", True, "nothing stands under it")
            continue
        choice = choices.of(look.heading)
        if choice.leave:
            seen[place] = Seen(look.heading, "", "left", True, "left out, as you said")
            continue
        title = choice.title or clean_title(look.heading) or f"Column {place + 1}"
        name = make_name(title, names)
        names.append(name)
        kind = kind_of(look, today)
        if choice.kind is not None and choice.kind != kind.name:
            kind = Kind("text" if choice.kind == "code" else choice.kind)
        column = _Column(place, look, title, name, kind, choice, sure=kind.sure)
        column.means = _means(column)
        if kind.why:
            column.why.append(kind.why)
        columns.append(column)
    return columns, seen


def _means(column: _Column) -> str:
    means = meaning_of(column.look.words)
    fits = {
        "birth-date": column.kind.name == "date",
        "mail": column.kind.name == "mail",
        "phone": column.kind.name == "phone",
    }
    if not fits.get(means, True) or (
        means in ("family-name", "given-name", "town", "street") and column.kind.name != "text"
    ):
        return ""
    return means


def _find_lists(columns: Sequence[_Column], referring: set[int]) -> None:
    """Find the columns of codes, with the sign between several; those that refer to people hold
    none.
    """
    for place, column in enumerate(columns):
        is_plain = column.kind.name in ("text", "identifier") and column.means not in _NO_CODES
        said = column.choice.kind
        if said is not None and said != "code":
            continue
        if said is None and (not is_plain or place in referring):
            continue
        look = column.look
        if said is None and (look.filled < 3 or look.distinct > 0.9):
            continue
        sign = find_separator(look) if column.choice.several is None else column.choice.several
        grouped = group_values(count_parts(look, sign) if sign else look.counts)
        if said is None and not _are_codes(column, grouped):
            continue
        grouped = sort_by_hand(grouped, column.choice.ways)
        column.grouped, column.several, column.list_name = grouped, sign, column.name
        column.why = [_say_list(grouped, sign)]
        unsure = [way for ways in grouped.codes for way in ways if not way.sure]
        for way in unsure[:3]:
            meant = next(ways[0].text for ways in grouped.codes if way in ways)
            column.why.append(f"“{way.text}” may be “{meant}”")
        for way in grouped.none[:3]:
            column.why.append(f"“{way.text}” stands {_times(way.rows)} and is no code")
        column.sure = not unsure and not grouped.none
    _share_lists(columns)


def _are_codes(column: _Column, grouped: Grouped) -> bool:
    look = column.look
    if not repeats(grouped) or (len(grouped.codes) == 1 and look.filled < look.rows / 2):
        return False
    return column.kind.name != "identifier" or len(grouped.codes) <= look.filled / 5


def _times(count: int) -> str:
    return "once" if count == 1 else f"{count:,} times"


def _say_list(grouped: Grouped, sign: str) -> str:
    count = len(grouped.codes)
    said = f"{count:,} different" if count > 1 else "one and the same"
    written = sum(len(ways) - 1 for ways in grouped.codes)
    if written:
        said += f", {written:,} written in other ways"
    return said + (f"; several in a cell, by “{_name_sign(sign)}”" if sign else "")


def _name_sign(sign: str) -> str:
    return "a new line" if sign == "\n" else sign


def _share_lists(columns: Sequence[_Column]) -> None:
    """Give columns with the same codes one list: first, second and third choice."""
    listed = [column for column in columns if column.grouped is not None]
    for place, column in enumerate(listed):
        for other in listed[:place]:
            if other.list_name != other.name or column.grouped is None or other.grouped is None:
                continue
            ours = {ways[0].text.casefold() for ways in column.grouped.codes}
            theirs = {ways[0].text.casefold() for ways in other.grouped.codes}
            if len(ours | theirs) > 2 and len(ours & theirs) >= SHARED * len(ours | theirs):
                together: dict[str, int] = {}
                for one in (*other.grouped.codes, *column.grouped.codes):
                    for way in one:
                        together[way.text] = together.get(way.text, 0) + way.rows
                other.grouped = column.grouped = group_values(together)
                column.list_name = other.list_name
                column.why.append(f"the same list as {other.title}")
                break


def _settle_identifiers(
    columns: Sequence[_Column],
    keys: Sequence[int],
    counter: int | None,
    references: Sequence[Reference],
) -> None:
    """Find how the identifiers are built; a key is one whatever its kind was taken for."""
    for place in keys:
        column = columns[place]
        if column.kind.name in ("integer", "text"):
            column.kind, column.why = Kind("identifier"), []
    referring = {reference.place for reference in references}
    for place, column in enumerate(columns):
        if place == counter:
            column.kind, column.why = Kind("integer"), []
            column.why.append("counts the rows of the file: no key")
            continue
        if place in referring:
            target = next(one.target for one in references if one.place == place)
            column.kind, column.why = Kind("identifier"), [f"refers to {columns[target].title}"]
            continue
        if column.kind.name != "identifier" or column.grouped is not None:
            continue
        if column.choice.check is False:
            column.built = Built(Identifier(), 0, len(column.look.texts))
            column.why.append("not checked, as you said")
            continue
        column.built = find_scheme(column.look.texts)
        if said := say_scheme(column.built):
            column.why.append(said)
        if any(text[:1] == "0" for text in column.look.texts):
            column.why.append("zeros at the front are kept")
    for number, place in enumerate(keys):
        column = columns[place]
        doubles = column.look.filled - len(column.look.counts)
        alike = f"{doubles:,} not alone" if doubles else "all different"
        column.why.insert(0, f"never empty, {alike}" if not number else f"{alike}: may be one")
        if number:
            column.sure = False


def _codes_of(column: _Column) -> NDArray[np.int64]:
    """Number the code of each row of a column of single codes; -1 for none."""
    of_text: dict[str, int] = {}
    for number, ways in enumerate(column.grouped.codes if column.grouped else ()):
        of_text.update((way.text, number) for way in ways)
    numbers = np.array([*(of_text.get(text, -1) for text in column.look.texts), -1], np.int64)
    return np.asarray(numbers[column.look.codes])


def _find_parents(columns: Sequence[_Column]) -> None:
    """Find codes that stand under those of another column."""
    single = {
        place: column
        for place, column in enumerate(columns)
        if column.grouped is not None and not column.several
    }
    coded = {place: _codes_of(column) for place, column in single.items()}
    sizes = {place: len(column.grouped.codes) for place, column in single.items() if column.grouped}
    used: set[str] = set()
    found = find_parents(coded, sizes)
    for place, column in single.items():
        if column.choice.parent is not None:
            found.pop(place, None)
            named = [
                other
                for other, one in single.items()
                if one.look.heading == column.choice.parent and other != place
            ]
            found.update((place, other) for other in named)
    for place, above in found.items():
        column, parent = columns[place], columns[above]
        if column.list_name == parent.list_name or column.list_name in used:
            continue
        used.add(column.list_name)
        column.parent = parent.name
        column.why.append(f"each stands under one of {parent.title}")


def _require(column: _Column) -> None:
    column.required = column.look.is_full and column.look.rows >= ENOUGH
    if column.choice.required is not None:
        column.required = column.choice.required
        return
    if column.required and not any("never empty" in said for said in column.why):
        column.why.append("required: never empty")


def _write(
    columns: Sequence[_Column],
    keys: Sequence[int],
    references: Sequence[Reference],
    missing: Sequence[str],
    today: date,
    region: str,
    choices: Choices,
) -> dict[str, Json]:
    """Write the definition's document, but for its name."""
    document: dict[str, Json] = {}
    if keys:
        document["primaryKey"] = columns[keys[0]].name
    document["missingValues"] = ["", *missing]
    if references:
        document["foreignKeys"] = [_write_reference(one, columns) for one in references]
    document["fields"] = [
        _write_field(column, place in keys, region) for place, column in enumerate(columns)
    ]
    own: dict[str, Json] = {}
    if keys:
        own["keys"] = [columns[place].name for place in keys]
    orders = find_orders(
        [column.look for column in columns], [column.seen_as for column in columns], today
    )
    orders = [
        (first, last, crossed)
        for first, last, crossed in orders
        if (columns[first].look.heading, columns[last].look.heading) not in choices.unchecked
    ]
    for first, last, crossed in orders:
        said = f" but in {_times(crossed).replace('times', 'rows')}" if crossed else ""
        columns[first].why.append(f"never after {columns[last].title}{said}: checked from now on")
    if orders:
        own["checks"] = [
            {"check": "order", "fields": [columns[first].name, columns[last].name]}
            for first, last, _ in orders
        ]
    if own:
        document["nevefield"] = own
    return document


def _write_reference(reference: Reference, columns: Sequence[_Column]) -> Json:
    written: dict[str, Json] = {
        "fields": columns[reference.place].name,
        "reference": {"resource": "", "fields": columns[reference.target].name},
    }
    if reference.hierarchy:
        written["nevefield"] = {"hierarchy": True}
    return written


def _write_field(column: _Column, is_key: bool, region: str) -> dict[str, Json]:
    described: dict[str, Json] = {"name": column.name, "title": column.title}
    described |= _TYPES.get(column.kind.name, {"type": "string"})
    limits: dict[str, Json] = {}
    if column.required:
        limits["required"] = True
    if is_key:
        limits["unique"] = True
    if limits:
        described["constraints"] = limits
    own: dict[str, Json] = {}
    if trim(column.look.heading) != column.title:
        own["aliases"] = [trim(column.look.heading)]
    if column.built is not None and (scheme := write_scheme(column.built)):
        own["identifier"] = scheme
    if column.kind.name == "phone":
        own["kind"] = "phone"
        if where := region_of(column.look) or region:
            own["region"] = where
    if column.grouped is not None:
        own["codeList"] = column.list_name
        if column.parent:
            own["parent"] = column.parent
        if column.several:
            own["several"] = column.several
    if column.means:
        own["means"] = column.means
    if column.choice.sensitive:
        own["sensitive"] = True
    if own:
        described["nevefield"] = own
    return described


def _make_lists(columns: Sequence[_Column]) -> dict[str, CodeList]:
    """Make the code lists, those of parents first: a code names its parent's."""
    by_name = {column.name: column for column in columns}
    lists: dict[str, CodeList] = {}

    def make(column: _Column) -> CodeList:
        if column.list_name in lists:
            return lists[column.list_name]
        parents: dict[str, str] = {}
        if column.parent:
            parents = _parents_of(column, by_name[column.parent], make(by_name[column.parent]))
        made = make_list(column.list_name, column.grouped or Grouped(()), parents)
        lists[column.list_name] = made
        return made

    for column in columns:
        if column.grouped is not None and column.list_name == column.name:
            make(column)
    return {
        column.list_name: lists[column.list_name]
        for column in columns
        if column.list_name == column.name and column.grouped is not None
    }


def _parents_of(column: _Column, above: _Column, codes: CodeList) -> dict[str, str]:
    """Find of each value the parent's code under which it stands as a rule."""
    ours, theirs = _codes_of(column), _codes_of(above)
    parents = {}
    for number, ways in enumerate(column.grouped.codes if column.grouped else ()):
        under = theirs[(ours == number) & (theirs >= 0)]
        if len(under):
            parents[ways[0].text] = codes.codes[int(np.bincount(under).argmax())].code
    return parents


def document_with_seen(proposal: Proposal) -> dict[str, Json]:
    """Write a proposal as one document: the definition, with what was seen under
    `nevefield.seen`.
    """
    own = proposal.document.get("nevefield", {})
    seen: list[Json] = [
        {"column": one.column, "field": one.field or None, "sure": one.sure, "why": one.why}
        for one in proposal.seen
    ]
    return {
        **proposal.document,
        "nevefield": {**(own if isinstance(own, dict) else {}), "seen": seen},
    }
