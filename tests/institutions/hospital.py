"""A town hospital's personnel office: numbers with letters, superiors, wards under clinics,
contracts with days.
"""

from __future__ import annotations

from datetime import date

from nevefield.core.columns.identifiers import add_check
from nevefield.core.definition import Identifier
from tests.institutions.making import Institution

SCHEME = Identifier(length=7, prefix="KB", alphabet="0123456789", check="iso7064-mod37-36")
FAMILY = [
    "Świątek",
    "Żuraw",
    "Kępa",
    "Łapiński",
    "Gołąb",
    "Ćwiek",
    "Wrzos",
    "Jeż",
    "Dąbek",
    "Szczygieł",
]
GIVEN = [
    "Łucja",
    "Żaneta",
    "Zdzisław",
    "Bożena",
    "Grażyna",
    "Wacław",
    "Hanka",
    "Mścisław",
    "Ola",
    "Kornel",
]
WARDS = {"CHIR-A": "CHIR", "CHIR-B": "CHIR", "POL-1": "POL", "KARD-OIOM": "KARD"}
CODES = (
    "list,code,label,parent,aliases,first_day,last_day\n"
    "klinika,CHIR,Klinika Chirurgii,,,,\n"
    "klinika,POL,Klinika Położnictwa,,,,\n"
    "klinika,KARD,Klinika Kardiologii,,,,\n"
    "oddzial,CHIR-A,Oddział chirurgii A,CHIR,,,\n"
    "oddzial,CHIR-B,Oddział chirurgii B,CHIR,,,\n"
    "oddzial,POL-1,Oddział położniczy I,POL,,,\n"
    "oddzial,KARD-OIOM,Intensywna opieka,KARD,IOK,,\n"
    "oddzial,KARD-ST,Oddział starej kardiologii,KARD,,,2026-03-31\n"
)
DOCUMENT = {
    "name": "pracownicy",
    "title": "Pracownicy",
    "primaryKey": "numer",
    "missingValues": ["", "brak"],
    "foreignKeys": [
        {
            "fields": "przelozony",
            "reference": {"resource": "", "fields": "numer"},
            "nevefield": {"hierarchy": True},
        },
    ],
    "fields": [
        {
            "name": "numer",
            "title": "Numer pracownika",
            "constraints": {"required": True, "unique": True},
            "nevefield": {
                "identifier": {
                    "length": 7,
                    "prefix": "KB",
                    "alphabet": "0123456789",
                    "check": "iso7064-mod37-36",
                },
            },
        },
        {
            "name": "nazwisko",
            "constraints": {"required": True},
            "nevefield": {"means": "family-name"},
        },
        {
            "name": "imie",
            "title": "Imię",
            "constraints": {"required": True},
            "nevefield": {"means": "given-name"},
        },
        {"name": "urodzony", "type": "date", "nevefield": {"means": "birth-date"}},
        {"name": "poczta", "title": "E-mail", "format": "email", "constraints": {"unique": True}},
        {"name": "klinika", "nevefield": {"codeList": "klinika"}},
        {
            "name": "oddzial",
            "title": "Oddział",
            "nevefield": {"codeList": "oddzial", "parent": "klinika", "onDay": "od"},
        },
        {"name": "od", "title": "Zatrudniony od", "type": "date"},
        {"name": "do", "title": "Zatrudniony do", "type": "date"},
        {"name": "etat", "type": "number", "constraints": {"minimum": "0.1", "maximum": "1.5"}},
        {"name": "przelozony", "title": "Przełożony"},
    ],
    "nevefield": {
        "keys": ["numer", "poczta"],
        "checks": [
            {"check": "order", "fields": ["od", "do"]},
            {"check": "ended", "fields": ["do"]},
        ],
    },
}


def number(place: int) -> str:
    """The number of the person at a place: the check character is a letter or a digit."""
    return add_check(SCHEME, f"{place:04d}")


def person(place: int) -> dict[str, str]:
    """A person whose superior is one of the ten before."""
    ward = list(WARDS)[place % 4]
    return {
        "numer": number(place),
        "nazwisko": FAMILY[place % 10] + ("" if place < 100 else "-Nowak"),
        "imie": GIVEN[(place // 10) % 10],
        "urodzony": f"{1958 + place % 40}-{place % 12 + 1:02d}-{place % 27 + 1:02d}",
        "poczta": f"p{place}@szpital.example",
        "klinika": WARDS[ward],
        "oddzial": ward,
        "od": f"20{10 + place % 15}-02-01",
        "etat": ["1", "0.75", "0.5"][place % 3],
        "przelozony": number(place // 10) if place >= 10 else "",
    }


def written(one: dict[str, str], **changes: str) -> dict[str, str]:
    """As the office writes somebody: days with points, a comma before the decimals."""
    row = dict(one)
    for name in ("urodzony", "od", "do"):
        if row.get(name):
            row[name] = ".".join(reversed(row[name].split("-")))
    row["etat"] = row["etat"].replace(".", ",")
    return {**row, **changes}


def make() -> Institution:
    """160 people, 150 of them in the roster."""
    made = Institution(
        "hospital",
        DOCUMENT,
        CODES,
        [{name: value for name, value in person(place).items() if value} for place in range(150)],
        {
            "numer": "Nr prac. (numer pracownika)",
            "nazwisko": "NAZWISKO",
            "imie": "Imie",
            "urodzony": "urodzony",
            "oddzial": "oddział",
            "klinika": "Klinika",
            "poczta": "e-mail",
            "od": "zatrudniony od",
            "do": "zatrudniony do",
            "etat": "Etat",
            "przelozony": "przełożony",
        },
        date(2026, 9, 1),
        separator=";",
        encoding="utf-16",
    )
    for place in range(60):
        made.add(written(person(place)), "same")
    # References with letters, as other hands write them: they lead to somebody all the same, and
    # change nothing.
    made.add(written(person(60), przelozony=number(6).lower()), "same")
    made.add(written(person(61), przelozony=f"{number(6)[:2]} {number(6)[2:]}"), "same")
    made.add(written(person(62), przelozony=number(6).replace("KB", "kb-")), "same")
    # To somebody who joins by this very file, further down.
    made.add(written(person(150), przelozony=number(151).lower()), "new")
    made.add(written(person(151)), "new")
    # Nobody: a number with a right check character that nobody has, and one that is mistyped.
    made.add(written(person(63), przelozony=number(999)), "stopped", ("przelozony", "reference"))
    made.add(written(person(64), przelozony="KB00061"), "stopped", ("przelozony", "reference"))
    # Two above each other, in different letters.
    made.add(written(person(65), przelozony=number(66).lower()), "stopped", ("przelozony", "loop"))
    made.add(written(person(66), przelozony=number(65)), "stopped", ("przelozony", "loop"))
    # Above themselves.
    made.add(written(person(67), przelozony=number(67)), "stopped", ("przelozony", "loop"))
    # Codes: by another name; a ward of another clinic; one closed before the contract began; one
    # nobody knows.
    made.add(written(person(71), oddzial="iok"), "same")
    made.add(written(person(72), oddzial="POL-1"), "stopped", ("oddzial", "parent"))
    made.add(
        written(person(152), oddzial="KARD-ST", klinika="KARD", od="01.05.2026"),
        "stopped",
        ("oddzial", "code"),
    )
    made.add(written(person(153), oddzial="KARD-ST", klinika="KARD", od="01.02.2026"), "new")
    made.add(written(person(73), oddzial="Pralnia"), "stopped", ("oddzial", "code"))
    # Numbers: a letter for its likeness, small letters, spaces; a wrong check character.
    made.add(written(person(80), numer=number(80).lower()), "same")
    made.add(written(person(81), numer=f" {number(81)} "), "same")
    made.add(
        written(person(154), numer=number(154)[:-1] + ("Z" if number(154)[-1] != "Z" else "Y")),
        "stopped",
        ("numer", "identifier"),
    )
    # The number of one, the mail of another.
    made.add(
        written(person(82), poczta="p83@szpital.example"),
        "stopped",
        ("poczta", "keys-disagree"),
        ("poczta", "unique-in-roster"),
    )
    # Nothing there; too much; ended.
    made.add(written(person(155), imie="brak"), "stopped", ("imie", "required"))
    made.add(written(person(84), etat="2,5"), "stopped", ("etat", "maximum"))
    made.add(written(person(85), do="31.01.2009"), "stopped", ("do", "order"), ("do", "ended"))
    made.add(written(person(86), do="30.06.2026"), "waiting", ("do", "ended"))
    # Two people under one number, of whom nobody is in the roster; one of them is.
    made.add(written(person(160)), "stopped", ("numer", "number-shared"))
    made.add(written({**person(175), "numer": number(160)}), "stopped", ("numer", "number-shared"))
    made.add(written(person(88)), "stopped", ("numer", "number-shared"))
    made.add(written({**person(176), "numer": number(88)}), "stopped", ("numer", "number-shared"))
    # One person twice: a slip in the name; another surname and no day of birth; a day and a month
    # that changed places.
    made.add(written(person(161)), "stopped", ("numer", "duplicate"))
    made.add(written(person(161), imie="Hnaka"), "stopped", ("numer", "duplicate"))
    made.add(written(person(162)), "stopped", ("numer", "duplicate"))
    made.add(written(person(162), nazwisko="Wrona", urodzony=""), "stopped", ("numer", "duplicate"))
    made.add(written({**person(163), "urodzony": "2001-03-04"}), "stopped", ("numer", "duplicate"))
    made.add(written({**person(163), "urodzony": "2001-04-03"}), "stopped", ("numer", "duplicate"))
    # Known by the mail alone, though the number is missing.
    made.add(written(person(87), numer=""), "same")
    return made
