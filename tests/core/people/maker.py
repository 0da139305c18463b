"""People with the errors that real files have of them, made from a seed; who is really who is
known.
"""

from __future__ import annotations

import random
from dataclasses import dataclass

from nevefield.core.defining.reading import read_definition
from nevefield.core.people.names import NICKNAMES
from nevefield.core.table import Column

DEFINITION = read_definition(
    {
        "name": "people",
        "primaryKey": "number",
        "fields": [
            {"name": "number"},
            {"name": "family", "nevefield": {"means": "family-name"}},
            {"name": "given", "nevefield": {"means": "given-name"}},
            {"name": "born", "type": "date", "nevefield": {"means": "birth-date"}},
            {"name": "mail", "format": "email"},
            {"name": "phone", "nevefield": {"kind": "phone", "means": "phone"}},
            {"name": "postcode", "nevefield": {"means": "postcode"}},
            {"name": "town", "nevefield": {"means": "town"}},
        ],
    }
)
FIELDS = tuple(DEFINITION.by_name)
_HEADS = [
    "ad",
    "bal",
    "bar",
    "bel",
    "bir",
    "bra",
    "cal",
    "car",
    "cas",
    "col",
    "cor",
    "dal",
    "dun",
    "eas",
    "ek",
    "el",
    "esk",
    "fal",
    "far",
    "fos",
    "gar",
    "gor",
    "gre",
    "hal",
    "har",
    "heb",
    "hol",
    "ing",
    "jar",
    "kel",
    "kvar",
    "lam",
    "lang",
    "lor",
    "lun",
    "mar",
    "mel",
    "mor",
    "nes",
    "nor",
    "oak",
    "ok",
    "pem",
    "pen",
    "qui",
    "rav",
    "red",
    "ros",
    "rus",
    "san",
    "sca",
    "sel",
    "ske",
    "sta",
    "swa",
    "tal",
    "tam",
    "thir",
    "ulp",
    "var",
    "was",
    "wet",
    "whi",
    "win",
    "wry",
    "yew",
    "zen",
]
_TAILS = [
    "air",
    "by",
    "den",
    "dale",
    "fell",
    "ford",
    "gate",
    "ham",
    "holm",
    "ington",
    "ker",
    "land",
    "ley",
    "lund",
    "mark",
    "mere",
    "mond",
    "more",
    "nes",
    "nor",
    "quist",
    "rigg",
    "row",
    "sby",
    "set",
    "son",
    "stad",
    "stead",
    "strom",
    "thorpe",
    "thwaite",
    "ton",
    "vik",
    "ville",
    "water",
    "wick",
    "with",
    "wold",
    "wood",
    "worth",
]
_TOWNS = [f"{head.capitalize()}{tail}" for head in _HEADS[::3] for tail in _TAILS[::9]]
_SETS = [list(line) for line in NICKNAMES]
_OTHERS = [
    "ada",
    "agnes",
    "alma",
    "amos",
    "anton",
    "arne",
    "asta",
    "axel",
    "beatrix",
    "bjorn",
    "bruno",
    "carla",
    "cedric",
    "cora",
    "dagmar",
    "dario",
    "edda",
    "elin",
    "elmo",
    "emil",
    "enid",
    "erik",
    "esme",
    "ezra",
    "fenna",
    "finn",
    "flora",
    "freya",
    "gerda",
    "gideon",
    "greta",
    "gunnar",
    "hanna",
    "hedda",
    "hugo",
    "ida",
    "igor",
    "ines",
    "ingrid",
    "ivan",
    "jens",
    "jorun",
    "kaia",
    "karin",
    "kasper",
    "lars",
    "leif",
    "lena",
    "linnea",
    "lotte",
    "magnus",
    "maja",
    "malin",
    "mira",
    "nils",
    "nora",
    "odin",
    "olga",
    "orla",
    "oskar",
    "petra",
    "piet",
    "quentin",
    "ragna",
    "rasmus",
    "rolf",
    "rune",
    "saga",
    "selma",
    "sigrid",
    "silas",
    "sonja",
    "sten",
    "sven",
    "thea",
    "tilde",
    "tove",
    "ulf",
    "una",
    "ursula",
    "vera",
    "viggo",
    "wanda",
    "yngve",
    "yrsa",
    "zora",
]

# Kinds of rows, and how many in a thousand: of people who are in the roster, then of people who are
# not.
KNOWN = {
    "as it is": 250,
    "changed number": 120,
    "slip in the family name": 60,
    "slip in the given name": 60,
    "known as": 40,
    "married name": 25,
    "names in each other's columns": 20,
    "day and month swapped": 30,
    "one part of the birth date": 30,
    "no birth date": 20,
    "another mail address": 60,
    "another phone": 50,
    "moved": 40,
    "accents and hyphens": 20,
    "initial only": 10,
    "slip and moved": 25,
}
STRANGERS = {
    "new": 125,
    "sibling": 6,
    "twin": 4,
    "parent or child of the same name": 3,
    "namesake": 2,
}


@dataclass(frozen=True)
class Made:
    """A roster, a file without keys, and the truth about its rows."""

    theirs: dict[str, Column]
    ours: dict[str, Column]
    truth: list[int]  # the record of each row, -1 for nobody
    kinds: list[str]


def make_people(count: int, seed: int = 1, *, blank: float = 0.0) -> Made:
    """Make a roster of so many records and a file of as many rows.

    `blank` is the share of empty mail, phone and postcode cells.
    """
    chance = random.Random(seed)
    families = [head.capitalize() + tail for head in _HEADS for tail in _TAILS]
    chance.shuffle(families)
    givens = [*(one[0].capitalize() for one in _SETS), *(one.capitalize() for one in _OTHERS)]
    chance.shuffle(givens)
    weights = [[1 / (place + 8) for place in range(len(names))] for names in (families, givens)]
    roster = [_person(chance, families, givens, weights, number) for number in range(count)]
    kinds = chance.choices([*KNOWN, *STRANGERS], [*KNOWN.values(), *STRANGERS.values()], k=count)
    order = chance.sample(range(count), count)
    rows, truth = [], []
    for place, kind in zip(order, kinds, strict=True):
        person = roster[place]
        if kind in KNOWN:
            rows.append(_spoil(chance, dict(person), kind, families))
            truth.append(place)
        else:
            fresh = _person(chance, families, givens, weights, count + place)
            rows.append(_stranger(chance, person, fresh, kind, givens))
            truth.append(-1)
    for one in (*roster, *rows):
        one.update({name: "" for name in ("mail", "phone", "postcode") if chance.random() < blank})
    return Made(_columns(roster), _columns(rows), truth, kinds)


def _columns(people: list[dict[str, str]]) -> dict[str, Column]:
    return {name: Column.of([one.get(name) or None for one in people]) for name in FIELDS}


def _person(
    chance: random.Random,
    families: list[str],
    givens: list[str],
    weights: list[list[float]],
    number: int,
) -> dict[str, str]:
    family = chance.choices(families, weights[0])[0]
    if chance.random() < 0.04:
        family += "-" + chance.choices(families, weights[0])[0]
    given = chance.choices(givens, weights[1])[0]
    town = chance.choice(_TOWNS)
    return {
        "number": f"P{number:07d}",
        "family": family,
        "given": given,
        "born": f"{chance.randint(1950, 2009)}-{chance.randint(1, 12):02d}-{chance.randint(1, 28):02d}",
        "mail": f"{given}.{family}{chance.randint(1, 99)}@{chance.choice(['mail', 'post', 'home', 'work'])}.example".lower(),
        "phone": f"+44 7700 {chance.randint(0, 999_999):06d}" if chance.random() < 0.95 else "",
        "postcode": f"{town[:2].upper()}{chance.randint(1, 20)} {chance.randint(1, 9)}{''.join(chance.choices('ABDEFGHJ', k=2))}",
        "town": town,
    }


def _slip(chance: random.Random, word: str) -> str:
    place = chance.randrange(len(word) - 1)
    kind = chance.randrange(4)
    if kind == 0:
        return word[:place] + word[place + 1] + word[place] + word[place + 2 :]
    if kind == 1:
        return word[:place] + word[place + 1 :]
    letter = chance.choice("aeiounrstlm")
    return word[:place] + letter + word[place + (1 if kind == 2 else 0) :]


def _spoil(
    chance: random.Random, one: dict[str, str], kind: str, families: list[str]
) -> dict[str, str]:
    year, month, day = one["born"].split("-")
    one["number"] = "" if kind != "changed number" else f"Q{chance.randint(0, 9_999_999):07d}"
    if kind in ("slip in the family name", "slip and moved"):
        one["family"] = _slip(chance, one["family"])
    if kind == "slip in the given name":
        one["given"] = _slip(chance, one["given"])
    if kind == "known as":
        names = next((names for names in _SETS if names[0] == one["given"].lower()), None)
        one["given"] = (
            chance.choice(names[1:]).capitalize() if names and len(names) > 1 else one["given"]
        )
    if kind == "married name":
        one["family"] = chance.choice(families)
        if chance.random() < 0.5:
            one["mail"] = (
                f"{one['given']}.{one['family']}{chance.randint(1, 99)}@mail.example".lower()
            )
    if kind == "names in each other's columns":
        one["family"], one["given"] = one["given"], one["family"]
    if kind == "day and month swapped" and int(day) <= 12:
        one["born"] = f"{year}-{day}-{month}"
    if kind == "one part of the birth date":
        one["born"] = f"{year}-{month}-{(int(day) + chance.randint(1, 9)) % 28 + 1:02d}"
    if kind == "no birth date":
        one["born"] = ""
    if kind == "another mail address":
        one["mail"] = f"{one['family'][:4]}{chance.randint(100, 999)}@new.example".lower()
    if kind == "another phone":
        one["phone"] = f"+44 7700 {chance.randint(0, 999_999):06d}"
    if kind in ("moved", "slip and moved"):
        one["town"] = chance.choice(_TOWNS)
        one["postcode"] = (
            f"{one['town'][:2].upper()}{chance.randint(1, 20)} {chance.randint(1, 9)}AA"
        )
    if kind == "accents and hyphens":
        one["family"] = one["family"].replace("-", " ").replace("o", "ö", 1)
    if kind == "initial only":
        one["given"] = one["given"][:1] + "."
    return one


def _stranger(
    chance: random.Random,
    person: dict[str, str],
    fresh: dict[str, str],
    kind: str,
    givens: list[str],
) -> dict[str, str]:
    fresh["number"] = ""
    home = {name: person[name] for name in ("family", "phone", "postcode", "town")}
    if kind in ("sibling", "twin"):
        given = chance.choice([name for name in givens if name[:2] != person["given"][:2]])
        fresh |= home | {
            "given": given,
            "mail": f"{given}.{person['family']}@family.example".lower(),
        }
        if kind == "twin":
            fresh["born"] = person["born"]
    elif kind == "parent or child of the same name":
        year = int(person["born"][:4])
        born = f"{year + (27 if year < 1980 else -27)}{fresh['born'][4:]}"
        fresh |= home | {"given": person["given"], "born": born}
    elif kind == "namesake":
        fresh |= {"family": person["family"], "given": person["given"]}
    return fresh
