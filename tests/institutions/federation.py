"""A chess federation that writes Cyrillic: text keys, clubs of another roster known by two
fields, several coaches a member.
"""

from __future__ import annotations

from datetime import date

from tests.institutions.making import Institution

FAMILY = ["Желязков", "Щерева", "Юруков", "Ъглова", "Ряпов", "Цанкова", "Чакъров", "Хубчева"]
GIVEN = ["Ясен", "Гергана", "Любомир", "Невена", "Стоян", "Жива", "Пенчо"]
REGIONS = ["ВТ", "СФ", "ПД"]
CLUBS = {
    "name": "klubove",
    "title": "Клубове",
    "primaryKey": ["oblast", "nomer"],
    "fields": [
        {"name": "oblast", "nevefield": {"identifier": {"length": 2}}},
        {"name": "nomer", "type": "integer"},
        {"name": "ime"},
    ],
}
CODES = (
    "list,code,label,parent,aliases,first_day,last_day\n"
    "razryad,М,майстор,,гросмайстор,,\n"
    "razryad,К,кандидат-майстор,,,,\n"
    "razryad,1,първи разряд,,,,\n"
    "razryad,3,трети разряд,,,,2025-12-31\n"
)
DOCUMENT = {
    "name": "sastezateli",
    "title": "Състезатели",
    "primaryKey": "karta",
    "missingValues": ["", "няма", "-"],
    "foreignKeys": [
        {
            "fields": ["oblast", "klub"],
            "reference": {"resource": "klubove", "fields": ["oblast", "nomer"]},
        },
        # Two may vouch for each other: no hierarchy.
        {"fields": "porachitel", "reference": {"resource": "sastezateli", "fields": "karta"}},
        {"fields": "trenyori", "reference": {"resource": "", "fields": "karta"}},
    ],
    "fields": [
        {
            "name": "karta",
            "title": "Карта №",
            "constraints": {"required": True, "unique": True, "pattern": "БФ/[0-9]{4}-[А-Я]"},
        },
        {
            "name": "familiya",
            "title": "Фамилия",
            "constraints": {"required": True},
            "nevefield": {"means": "family-name"},
        },
        {
            "name": "ime",
            "title": "Име",
            "constraints": {"required": True},
            "nevefield": {"means": "given-name"},
        },
        {"name": "roden", "title": "Роден", "type": "date", "nevefield": {"means": "birth-date"}},
        {"name": "oblast", "title": "Област"},
        {"name": "klub", "title": "Клуб №"},
        {"name": "razryad", "title": "Разряд", "nevefield": {"codeList": "razryad"}},
        {"name": "porachitel", "title": "Поръчител"},
        {"name": "trenyori", "title": "Треньори", "nevefield": {"several": ","}},
        {
            "name": "elo",
            "title": "Рейтинг",
            "type": "integer",
            "constraints": {"minimum": 1000, "maximum": 2900},
        },
    ],
    "nevefield": {"keys": ["karta", ["familiya", "ime", "roden"]]},
}


def card(place: int) -> str:
    """The card of the person at a place."""
    return f"БФ/{place:04d}-{'АБВГДЕЖ'[place % 7]}"


def person(place: int) -> dict[str, str]:
    """A member with two coaches, and one who vouches and is vouched for."""
    return {
        "karta": card(place),
        "familiya": FAMILY[place % 8],
        "ime": GIVEN[place % 7],
        "roden": f"{1950 + place % 60}-{place % 12 + 1:02d}-{place % 28 + 1:02d}",
        "oblast": REGIONS[place % 3],
        "klub": str(place % 4 + 1),
        "razryad": "МК1"[place % 3],
        "porachitel": card(place ^ 1),
        "trenyori": (
            f"{card(place // 3)}, {card(place // 5)}"
            if place // 3 != place // 5
            else card(place // 3)
        ),
        "elo": str(1500 + place * 7 % 900),
    }


def kept(place: int) -> dict[str, object]:
    """As the roster has it."""
    return {**person(place), "trenyori": person(place)["trenyori"].split(", ")}


def make() -> Institution:
    """120 in the roster, 90 rows in the file: tabs, days with the year first, a dash where there
    is nothing.
    """
    clubs = [
        {"oblast": region, "nomer": str(number)} for region in REGIONS for number in range(1, 5)
    ]
    made = Institution(
        "federation",
        DOCUMENT,
        CODES,
        [kept(place) for place in range(120)],
        {
            "elo": "Рейтинг",
            "karta": "карта",
            "ime": "ИМЕ",
            "familiya": "ФАМИЛИЯ",
            "roden": "Роден",
            "klub": "клуб",
            "oblast": "област",
            "razryad": "разряд",
            "porachitel": "поръчител",
            "trenyori": "треньори",
        },
        date(2026, 2, 1),
        separator="\t",
        others={"klubove": (CLUBS, clubs)},
    )
    for place in range(70):
        made.add(person(place), "same")
    # The other roster's number is a whole number: 01 is 1; its region is an identifier: small
    # letters are the same.
    made.add(
        {**person(70), "klub": "01" if person(70)["klub"] == "1" else "0" + person(70)["klub"]},
        "changed",
    )
    made.add({**person(71), "oblast": person(71)["oblast"].lower()}, "changed")
    # A region and a number that exist, though not together; a club without its region is passed
    # over.
    made.add({**person(72), "oblast": "ВТ", "klub": "9"}, "stopped", ("klub", "reference"))
    made.add({**person(120), "oblast": "-"}, "new")
    # One of several coaches is nobody; all are somebody, in another order; a joiner of this file.
    made.add(
        {**person(73), "trenyori": f"{card(9)},{card(9999)}"}, "stopped", ("trenyori", "reference")
    )
    both = person(74)["trenyori"].split(", ")
    made.add({**person(74), "trenyori": ",".join(reversed(both))}, "same")
    made.add({**person(122), "trenyori": card(121), "porachitel": card(121)}, "new")
    made.add({**person(121), "trenyori": card(122), "porachitel": card(122)}, "new")
    # Vouched for by nobody we know.
    made.add({**person(75), "porachitel": "БФ/7777-А"}, "stopped", ("porachitel", "reference"))
    # Codes by alias; by label in capitals; not in use any more.
    made.add({**person(78), "razryad": "гросмайстор"}, "same")
    made.add({**person(79), "razryad": "КАНДИДАТ-МАЙСТОР"}, "same")
    made.add({**person(80), "razryad": "3"}, "stopped", ("razryad", "code"))
    # A number in Latin letters that look the same is another form.
    made.add({**person(123), "karta": "BФ/0123-Г"}, "stopped", ("karta", "pattern"))
    made.add({**person(81), "elo": "99"}, "stopped", ("elo", "minimum"))
    made.add(
        {**person(124), "familiya": "няма", "porachitel": card(5)},
        "stopped",
        ("familiya", "required"),
    )
    # Two people under one card; one person twice under it, as the city and as the village write the
    # name.
    by = {"porachitel": card(5)}
    made.add({**person(125), **by}, "stopped", ("karta", "number-shared"))
    made.add({**person(130), **by, "karta": card(125)}, "stopped", ("karta", "number-shared"))
    made.add({**person(126), **by}, "stopped", ("karta", "duplicate"))
    made.add(
        {**person(126), **by, "ime": person(126)["ime"][:3]}, "stopped", ("karta", "duplicate")
    )
    # No card, but name and day of birth of one: the second key knows.
    made.add({**person(82), "karta": ""}, "same")
    return made
