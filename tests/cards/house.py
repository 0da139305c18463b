"""Another institution's cards: a sailing club with names in three scripts, numbers without a
facility, and a register that knows no states.
"""

from __future__ import annotations

import io
from datetime import date

from PIL import Image

from nevefield.cards.designs import begin_design
from nevefield.core.codes import Code
from nevefield.rosters.opening import open_roster_with
from nevefield.store.rosters import replace_code_list

__all__ = ["CLUB", "MEMBERS", "design_of", "open_club", "photo_of"]

MEMBERS = {
    "name": "members",
    "title": "Members",
    "primaryKey": "member",
    "fields": [
        {"name": "member", "title": "Member no.", "type": "string"},
        {"name": "surname", "title": "Surname", "type": "string"},
        {"name": "forename", "title": "Forename", "type": "string"},
        {"name": "grade", "title": "Grade", "type": "string", "nevefield": {"codeList": "grade"}},
        {"name": "paid", "title": "Paid until", "type": "date"},
    ],
}
CARDS = {
    "name": "club-cards",
    "title": "Club cards",
    "primaryKey": "serial",
    "fields": [
        {"name": "serial", "title": "Serial", "type": "integer", "constraints": {"required": True}},
        {"name": "member", "title": "Whose", "type": "string", "constraints": {"required": True}},
        {"name": "ends", "title": "Ends", "type": "date"},
    ],
}
CLUB = [
    ("0001", "Παπαδόπουλος", "Γιώργος", "S", "2027-12-31"),
    ("0002", "Żółkiewska-Brzęczyszczykiewicz", "Małgorzata Katarzyna", "F", "2027-12-31"),
    ("0003", "Гончаренко", "Ольга", "F", "2026-10-31"),
    ("0004", "王", "小明", "F", "2027-12-31"),
    ("0005", "O'Súilleabháin", "Aoife", "J", "2026-08-31"),
    ("0006", "Ng", "Li", "S", "2027-12-31"),
]


def design_of(last: int = 40) -> dict:
    """The club's design: no photograph is needed, and whose fee has run out gets none."""
    return {
        "name": "club-card",
        "title": "Club card",
        "size": {"width": 70, "height": 45},
        "register": {
            "roster": "club-cards",
            "number": "serial",
            "holder": "member",
            "until": "ends",
        },
        "numbering": {
            "facility_bits": 0,
            "number_bits": 32,
            "ranges": [{"first": 11, "last": last}],
            "rests": 30,
        },
        "faces": [
            {
                "name": "members",
                "roster": "members",
                "holder": "member",
                "until": "paid",
                "where": {"field": "paid", "from": "2026-09-01"},
                "front": [
                    {"kind": "band", "name": "band", "pieces": [{"text": "Club"}]},
                    {
                        "kind": "line",
                        "name": "name",
                        "pieces": [{"field": "forename"}, {"field": "surname"}],
                        "letters": {"size": 12, "least": 8, "lines": 2},
                    },
                    {"kind": "line", "name": "grade", "pieces": [{"field": "grade"}]},
                    {
                        "kind": "line",
                        "name": "until",
                        "pieces": [
                            {"text": "until"},
                            {"card": "until", "form": "09/2026"},
                        ],
                        "renews": False,
                    },
                    {
                        "kind": "symbol",
                        "name": "square",
                        "symbol": "QR",
                        "height": 14,
                        "pieces": [{"card": "number"}],
                    },
                ],
            }
        ],
    }


def open_club(context, people=CLUB, last: int = 40, *, written=None, there=()) -> None:
    """Open the club's rosters and begin its design.

    Args:
        context: Database.
        people: Its members.
        last: The last number of its range.
        written: How numbers are written, where the register has texts; else it has whole numbers.
        there: Cards that are in the register.
    """
    serial, *others = CARDS["fields"]
    design = design_of(last)
    if written is not None:
        serial = serial | {"type": "string"}
        design["numbering"] |= written
    with context.database.transaction() as connection:
        codes = [
            Code(code=code, label=label)
            for code, label in (("S", "Skipper"), ("F", "Full member"), ("J", "Junior"))
        ]
        replace_code_list(connection, "grade", codes)
    names = [field["name"] for field in MEMBERS["fields"]]
    records = [dict(zip(names, person, strict=True)) for person in people]
    open_roster_with(context, MEMBERS, records, None)
    open_roster_with(context, CARDS | {"fields": [serial, *others]}, list(there), None)
    begin_design(context, design, None)


def photo_of(width: int, height: int, colour: str = "#557799", kind: str = "JPEG", **more) -> bytes:
    """A picture of one colour with a dark upper half."""
    picture = Image.new("RGB", (width, height), colour)
    picture.paste("#101010", (0, 0, width, height // 2))
    out = io.BytesIO()
    picture.save(out, kind, **more)
    return out.getvalue()


TODAY = date(2026, 9, 1)
