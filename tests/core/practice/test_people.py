"""Made-up people: whatever the institution, no value of a person stays, and every check finds what
it found.
"""

from __future__ import annotations

import importlib
from datetime import date, timedelta
from random import Random

import numpy as np
import pytest

from nevefield.core.codes import read_codes
from nevefield.core.columns.identifiers import add_check
from nevefield.core.defining.reading import read_definition
from nevefield.core.definition import Identifier
from nevefield.core.practice import Making, agree, kind_of_field, with_reserved_domains
from nevefield.core.snapshot import Snapshot
from nevefield.core.texts import SEVERAL

PERSONAL = ("name", "mail", "number", "born")


def make(rosters, codes, today, seed=1):
    """Make people, and what still differs."""
    making = Making(rosters, codes, today, Random(seed))
    made = making.make(quiet)
    definitions = {
        name: read_definition(with_reserved_domains(one.definition.document, making.domains()))
        for name, one in rosters.items()
    }
    return making, made, agree(making, made, definitions, quiet)


def quiet(*_):
    """Hear of progress."""


def snapshot(document, records) -> Snapshot:
    definition = read_definition(document)
    return Snapshot.of_values(definition, list(range(1, len(records) + 1)), records, 1)


def stays(real: Snapshot, made: Snapshot, kinds=PERSONAL) -> set[tuple[str, str]]:
    """Values of persons, of five letters or more, that somebody made up has."""
    found = set()
    for one in real.definition.fields:
        if kind_of_field(real.definition, one) in kinds:
            texts = {
                part for text in real.columns[one.name].texts() for part in text.split(SEVERAL)
            }
            after = {
                part
                for text in made.columns[one.name].used().texts()
                for part in text.split(SEVERAL)
            }
            found |= {(one.name, text) for text in texts & after if len(text) >= 5}
    return found


def keeps_own(real: Snapshot, made: Snapshot, name: str) -> int:
    everyone = np.arange(len(real))
    return sum(
        before == after and before is not None
        for before, after in zip(
            real.columns[name].rows(everyone), made.columns[name].rows(everyone), strict=True
        )
    )


def counts(snapshot: Snapshot, name: str) -> dict[str, int]:
    column = snapshot.columns[name]
    return {
        text: count
        for text, count in zip(column.texts(), column.counts().tolist(), strict=True)
        if count
    }


@pytest.mark.parametrize("name", ["school", "federation", "hospital"])
def test_another_institution(name):
    """Of a school, a federation and a hospital, with their own numbers, scripts and checks: nobody
    keeps a name, number, address or day of birth; codes are as many as they were; every check
    finds the same people.
    """
    institution = importlib.import_module(f"tests.institutions.{name}").make()
    own = snapshot(institution.document, institution.roster)
    rosters = {
        other: snapshot(document, records)
        for other, (document, records) in institution.others.items()
    } | {own.definition.name: own}
    codes = read_codes(institution.codes)
    _, made, differs = make(rosters, codes, institution.today)
    assert differs == []
    for name, real in rosters.items():
        assert {one for one in stays(real, made[name]) if one[0] not in born(real)} == set()
        for field in real.definition.fields:
            kind = kind_of_field(real.definition, field)
            if kind in PERSONAL:
                assert keeps_own(real, made[name], field.name) == 0, field.name
            if kind == "code":
                assert counts(real, field.name) == counts(made[name], field.name)


def born(real: Snapshot) -> set[str]:
    """Days are everybody's: of them only the own one is looked for."""
    return {
        one.name for one in real.definition.fields if kind_of_field(real.definition, one) == "born"
    }


DAY = date(1990, 1, 1)
STAFF = {
    "name": "personal",
    "primaryKey": ["nr"],
    "fields": [
        {"name": "nr", "type": "integer"},
        {"name": "nachname", "type": "string", "nevefield": {"means": "family-name"}},
        {"name": "vorname", "type": "string", "nevefield": {"means": "given-name"}},
        {"name": "geboren", "type": "date", "nevefield": {"means": "birth-date"}},
        {"name": "kennung", "type": "string", "constraints": {"unique": True}},
        {
            "name": "mail",
            "type": "string",
            "format": "email",
            "constraints": {"pattern": r".+@werk-nord\.de", "unique": True},
        },
        {"name": "telefon", "type": "string", "nevefield": {"kind": "phone", "region": "DE"}},
        {
            "name": "konto",
            "type": "string",
            "nevefield": {
                "identifier": {
                    "length": 14,
                    "prefix": "WN",
                    "check": "iso7064-mod97-10",
                    "alphabet": "0123456789",
                }
            },
        },
        {"name": "abteilung", "type": "string"},
        {"name": "vorgesetzt", "type": "integer"},
        {"name": "eintritt", "type": "date"},
        {"name": "austritt", "type": "date"},
        {"name": "stufe", "type": "string", "constraints": {"enum": ["A", "B", "C"]}},
        {
            "name": "behinderung",
            "type": "string",
            "constraints": {"enum": ["ja", "nein"]},
            "nevefield": {"sensitive": True},
        },
        {"name": "gehalt", "type": "number", "nevefield": {"sensitive": True}},
        {"name": "notiz", "type": "string"},
    ],
    "foreignKeys": [
        {"fields": ["vorgesetzt"], "reference": {"resource": "", "fields": ["nr"]}},
    ],
    "nevefield": {
        "checks": [
            {"check": "order", "fields": ["eintritt", "austritt"]},
            {"check": "age", "fields": ["geboren"], "on": "2026-11-30", "least": 16, "most": 65},
            {
                "check": "required-when",
                "fields": ["austritt"],
                "when": {"field": "abteilung", "is": "Lager Süd"},
            },
            {"check": "stand-in", "fields": ["telefon"]},
        ]
    },
}
FAMILY = ["Überreiter", "Groß", "Öztürk", "von der Heide", "Lê", "O'Brien", "Straßer-Kühn"]
FIRST = ["Jürgen", "Ayşe", "Thị Hương", "Zoë", "X Æ", "Мария", "小明"]


def works(place: int) -> dict[str, object]:
    """Somebody of a works with integer numbers, long and short names in several scripts, and
    mistakes at known places.
    """
    family, first = FAMILY[place % 7], FIRST[place // 7 % 7]
    start = DAY + timedelta(days=37 * place % 9000)
    return {
        "nr": str(place + 1),
        "nachname": family if place % 3 else f"{family}-Wittmann{chr(97 + place % 26)}",
        "vorname": first,
        "geboren": (date(1962, 3, 1) + timedelta(days=61 * place % 16000)).isoformat(),
        "kennung": f"wn{family[:3].lower()}{place}",
        "mail": f"{'abcdefghij'[place % 10]}.nr{place}@werk-nord.de",
        "telefon": "0000000" if place % 97 == 5 else f"+49 421 55{place:05d}",
        "konto": account(place),
        "abteilung": ["Lager Süd", "Versand", "Büro"][place % 3],
        "vorgesetzt": str(place // 12 + 1) if place else None,
        "eintritt": start.isoformat(),
        # ends before it began: an oddity that has to stay one
        "austritt": (start + timedelta(days=-3 if place % 41 == 7 else 400)).isoformat()
        if place % 3 == 0 or place % 41 == 7
        else None,
        "stufe": "ABC"[place % 3],
        "behinderung": "ja" if place % 9 == 0 else "nein",
        "gehalt": f"{2500 + 13 * place % 1900}.{place % 100:02d}",
        "notiz": f"Kennt {FAMILY[(place + 1) % 7]} seit {1990 + place % 30}" if place % 5 else None,
    }


def account(place: int) -> str:
    scheme = Identifier(14, "WN", "0123456789", "iso7064-mod97-10")
    right = add_check(scheme, f"{place:010d}")
    return right if place % 50 != 3 else right[:-1] + ("1" if right[-1] != "1" else "2")


@pytest.mark.parametrize(("people", "seed"), [(3, 1), (40, 2), (700, 3)])
def test_a_works_with_every_kind_of_field(people, seed):
    """With fields of every kind, names in four scripts and planted mistakes: nothing of anybody
    stays, the mistakes do, and references still lead to the same superiors.
    """
    real = snapshot(STAFF, [works(place) for place in range(people)])
    _, made, differs = make({"personal": real}, {}, date(2026, 11, 30), seed)
    now = made["personal"]
    assert differs == []
    assert {one for one in stays(real, now) if one[0] not in ("geboren", "telefon")} == set()
    for name in ("geboren", "kennung", "mail", "konto", "nachname", "vorname", "nr", "gehalt"):
        assert keeps_own(real, now, name) == 0, name
    phones = set(now.columns["telefon"].texts()) & set(real.columns["telefon"].texts())
    assert phones <= {"0000000"}
    assert all(
        text.endswith("@werk-nord-de.example") for text in now.columns["mail"].used().texts()
    )
    assert counts(real, "stufe") == counts(now, "stufe")
    assert counts(real, "behinderung") == counts(now, "behinderung")
    # "Lager Süd" is a word of the definition, and a department of many is nobody's
    assert "Lager Süd" in counts(now, "abteilung")
    everyone = np.arange(people)
    numbers = dict(
        zip(real.columns["nr"].rows(everyone), now.columns["nr"].rows(everyone), strict=True)
    )
    assert [numbers.get(text) for text in real.columns["vorgesetzt"].rows(everyone)] == now.columns[
        "vorgesetzt"
    ].rows(everyone)
    notes = "\n".join(text for text in now.columns["notiz"].texts())
    assert not any(family in notes for family in FAMILY if len(family) > 2)


def test_the_same_person_in_every_roster():
    """Somebody who stands in two rosters by number or by name is the same made-up person in both,
    also where neither says that it refers to the other.
    """
    members = snapshot(STAFF, [works(place) for place in range(120)])
    cards = snapshot(
        {
            "name": "karten",
            "primaryKey": ["karte"],
            "fields": [
                {"name": "karte", "type": "string"},
                {"name": "inhaber", "type": "string"},
                {"name": "konto", "type": "string"},
            ],
        },
        [
            {
                "karte": f"K{place:06d}",
                "inhaber": f"{works(place)['vorname']} {works(place)['nachname']}",
                "konto": account(place),
            }
            for place in range(0, 120, 2)
        ],
    )
    _, made, differs = make({"karten": cards, "personal": members}, {}, date(2026, 11, 30))
    assert differs == []
    after = {
        record["konto"]: f"{record['vorname']} {record['nachname']}"
        for record in map(made["personal"].values, range(120))
    }
    holders = [made["karten"].values(place) for place in range(60)]
    # those with a right check digit: a wrong one is wrong in its own way
    known = [one for one in holders if one["konto"] in after]
    assert len(known) >= 55
    assert all(after[one["konto"]] == one["inhaber"] for one in known)


@pytest.mark.parametrize("seed", range(5))
def test_few_among_many_are_known_too(seed):
    """A field that names people of two rosters by their numbers, of one of them hardly any, and
    some whom nobody knows: whoever is known is known afterwards, and no number comes twice.
    """
    rosters = {
        name: snapshot(
            {
                "name": name,
                "primaryKey": ["no"],
                "fields": [{"name": "no", "type": "string", "constraints": {"pattern": pattern}}],
            },
            [{"no": written.format(7 * place)} for place in range(count)],
        )
        for name, pattern, written, count in (
            ("boarders", r"B\d{5}", "B{:05d}", 400),
            ("tutors", r"\d{3}/T", "{:03d}/T", 9),
        )
    }
    known = {one: name for name in rosters for one in rosters[name].columns["no"].texts()}
    keys = [*known, "X-4471", "X-4472"]
    document = {
        "name": "keys",
        "primaryKey": ["whose"],
        "fields": [{"name": "whose", "type": "string"}],
    }
    rosters["keys"] = snapshot(document, [{"whose": one} for one in keys])
    _, made, differs = make(rosters, {}, date(2026, 11, 30), seed)
    assert differs == []
    after = [made["keys"].values(place)["whose"] for place in range(len(keys))]
    assert len(set(after)) == len(keys)
    for name in ("boarders", "tutors"):
        numbers = set(made[name].columns["no"].used().texts())
        assert [one in numbers for one in after] == [known.get(one) == name for one in keys]


def test_nobody_and_nothing():
    """An empty roster, and one whose records have nothing but their number."""
    nobody = snapshot(STAFF, [])
    bare = snapshot({**STAFF, "name": "leer"}, [{"nr": str(100 + place)} for place in range(4)])
    _, made, differs = make({"personal": nobody, "leer": bare}, {}, date(2026, 11, 30))
    assert (len(made["personal"]), differs) == (0, [])
    assert [made["leer"].values(place).keys() for place in range(4)] == [{"nr"}] * 4
