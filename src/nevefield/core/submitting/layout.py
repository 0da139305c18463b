"""Our records in an authority's layout: which of our fields goes where, with which code; and a
value of theirs back to ours.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.borders import Json
from nevefield.core.errors import WrongLayout
from nevefield.core.texts import SEVERAL, near

if TYPE_CHECKING:
    from collections.abc import Collection, Mapping, Sequence

    from numpy.typing import NDArray

    from nevefield.core.snapshot import Snapshot

__all__ = ["Layout", "Put", "means_same", "our_value", "read_layout", "translate", "write_records"]

OWN = ("reference", "number", "fields")
PUT_OWN = ("to", "from", "fill", "codes")
Row = dict[str, str]


@dataclass(frozen=True)
class Put:
    """What goes into one field of the authority's: one of our fields, or always the same."""

    to: str
    source: str = ""
    fill: str = ""
    # our code -> theirs; others go as they are
    codes: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Layout:
    """How our records go into an authority's layout."""

    reference: Put  # our key, by which the authority answers
    number: Put  # the authority's own number of somebody
    asked: str  # the authority's field in which a number is asked for
    puts: tuple[Put, ...]

    @property
    def names(self) -> tuple[str, ...]:
        """The authority's fields, in the order in which they are sent."""
        return (self.reference.to, self.number.to, self.asked, *(put.to for put in self.puts))

    def put_of(self, to: str) -> Put | None:
        """Find what goes into a field of the authority's."""
        return next(
            (put for put in (self.reference, self.number, *self.puts) if put.to == to), None
        )


def read_layout(document: Json, names: Collection[str], theirs: Collection[str] = ()) -> Layout:
    """Read a layout.

    Args:
        document: Its JSON.
        names: The roster's fields.
        theirs: The authority's fields; not looked at when empty.

    Raises:
        WrongLayout: With the place and what would be right.
    """
    if not isinstance(document, dict):
        raise WrongLayout(
            "layout", 'is a JSON object such as {"reference": …, "number": …, "fields": […]}.'
        )
    for name in document:
        if name not in OWN:
            raise WrongLayout(name, near(name, OWN))
    number = document.get("number")
    if not isinstance(number, dict) or not isinstance(number.get("asked"), str):
        raise WrongLayout(
            "number",
            'is a JSON object such as {"from": "mariner_number", "to": "MARINER", "asked":'
            ' "NUMBER"}.',
        )
    listed = document.get("fields")
    if not isinstance(listed, list) or not listed:
        raise WrongLayout("fields", 'is a list such as [{"to": "FAMILY", "from": "family_name"}].')
    reference = _read_put(document.get("reference"), "reference", names, theirs)
    plain = _read_put(
        {name: value for name, value in number.items() if name != "asked"}, "number", names, theirs
    )
    puts = tuple(
        _read_put(one, f"fields[{place}]", names, theirs) for place, one in enumerate(listed)
    )
    taken: set[str] = {reference.to, plain.to, number["asked"]}
    for place, put in enumerate(puts):
        if put.to in taken:
            raise WrongLayout(f"fields[{place}].to", f"“{put.to}” is filled twice.")
        taken.add(put.to)
    return Layout(reference, plain, number["asked"], puts)


def _read_put(own: Json, place: str, names: Collection[str], theirs: Collection[str]) -> Put:
    if not isinstance(own, dict) or not isinstance(own.get("to"), str):
        raise WrongLayout(
            place, 'is a JSON object such as {"to": "FAMILY", "from": "family_name"}.'
        )
    for name in own:
        if name not in PUT_OWN:
            raise WrongLayout(f"{place}.{name}", near(name, PUT_OWN))
    if ("from" in own) == ("fill" in own):
        raise WrongLayout(place, "has from, one of our fields, or fill, a value for everybody.")
    if "from" in own and (not isinstance(own["from"], str) or own["from"] not in names):
        raise WrongLayout(
            f"{place}.from", f"there is no field “{own['from']}”; {near(str(own['from']), names)}"
        )
    if theirs and own["to"] not in theirs:
        raise WrongLayout(
            f"{place}.to", f"the authority has no field “{own['to']}”; {near(own['to'], theirs)}"
        )
    codes = own.get("codes", {})
    if not isinstance(codes, dict) or not all(isinstance(code, str) for code in codes.values()):
        raise WrongLayout(
            f"{place}.codes", 'is a JSON object from our code to theirs, such as {"DECK": "D3"}.'
        )
    return Put(own["to"], own.get("from", ""), str(own.get("fill", "")), dict(codes))


def translate(layout: Mapping[str, Json], to: str, ours: str, theirs: str) -> dict[str, Json]:
    """Return a layout's JSON in which one of our codes goes as another of theirs."""
    fields = [
        {**one, "codes": {**one.get("codes", {}), ours: theirs}} if one.get("to") == to else one
        for one in layout["fields"]
    ]
    return {**layout, "fields": fields}


def write_records(layout: Layout, snapshot: Snapshot, places: NDArray[np.intp]) -> list[Row]:
    """Write records in the authority's layout; the field in which a number is asked for stays
    empty.

    Args:
        layout: Where everything goes.
        snapshot: The roster.
        places: Of the records in it.
    """
    columns: list[Sequence[str]] = []
    for one in (layout.reference, layout.number, *layout.puts):
        if not one.source:
            columns.append([one.fill] * len(places))
            continue
        column = snapshot.columns[one.source]
        texts = [one.codes.get(text, text).replace(SEVERAL, ";") for text in column.texts()]
        columns.append([texts[code] if code >= 0 else "" for code in column.codes[places].tolist()])
    names = [layout.reference.to, layout.number.to, *(put.to for put in layout.puts)]
    return [
        dict(zip(names, values, strict=True)) | {layout.asked: ""}
        for values in zip(*columns, strict=True)
    ]


def means_same(text: str, other: str) -> bool:
    """Tell whether two values mean the same though written otherwise: spaces, a time after a day,
    case of mail, phone's spaces.

    >>> means_same("+44 7700 900349", "+447700900349"), means_same("A@x.example", "a@x.example"), means_same("Ann", "ann")
    (True, True, False)
    """  # noqa: E501
    first, second = " ".join(text.split()), " ".join(other.split())
    if first == second:
        return True
    if "@" in first and "@" in second:
        return first.casefold() == second.casefold()
    if (
        re.fullmatch(r"[+\d ()-]{7,}", first)
        and re.fullmatch(r"[+\d ()-]{7,}", second)
        and not re.match(r"\d{4}-", first)
    ):
        return re.sub(r"\D", "", first) == re.sub(r"\D", "", second)
    return bool(re.match(r"\d{4}-\d\d-\d\d", first)) and first[:10] == second[:10]


def our_value(put: Put, theirs: str) -> str:
    """Say a value of the authority's in our codes: the code that goes as it, else the value as
    it is.
    """
    return next((ours for ours, code in put.codes.items() if code == theirs), theirs)
