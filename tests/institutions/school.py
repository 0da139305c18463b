"""A primary school: pupils with brothers and sisters, classes under levels, codes of letters
without a check character.
"""

from __future__ import annotations

from datetime import date

from tests.institutions.making import Institution

FAMILY = ["Lefèvre", "D’Aubigny", "Noël", "Gaëtan-Roux", "Çelik", "Ouellet", "L’Écuyer"]
GIVEN = ["Zoé", "Anaïs", "Théo", "Maëlle", "Loïc", "Éloïse", "Hugo", "Inès", "Ambre"]
CODES = (
    "list,code,label,parent,aliases,first_day,last_day\n"
    "niveau,CP,Cours préparatoire,,,,\n"
    "niveau,CE1,Cours élémentaire 1,,,,\n"
    "classe,CP-A,Les hirondelles,CP,,,\n"
    "classe,CP-B,Les martinets,CP,,,\n"
    "classe,CE1-A,Les mésanges,CE1,,2026-09-01,\n"
    "classe,CE1-Z,Les anciens,CE1,,,2025-07-05\n"
)
DOCUMENT = {
    "name": "eleves",
    "title": "Élèves",
    "primaryKey": "code",
    "foreignKeys": [{"fields": "fratrie", "reference": {"resource": "", "fields": "code"}}],
    "fields": [
        {
            "name": "code",
            "title": "Code élève",
            "constraints": {"required": True, "unique": True},
            "nevefield": {
                "identifier": {
                    "length": 7,
                    "prefix": "EL",
                    "alphabet": "ABCDEFGHJKLMNPQRSTUVWXYZ0123456789",
                }
            },
        },
        {"name": "nom", "constraints": {"required": True}, "nevefield": {"means": "family-name"}},
        {
            "name": "prenom",
            "title": "Prénom",
            "constraints": {"required": True},
            "nevefield": {"means": "given-name"},
        },
        {
            "name": "naissance",
            "title": "Date de naissance",
            "type": "date",
            "constraints": {"required": True, "minimum": "2012-01-01"},
            "nevefield": {"means": "birth-date"},
        },
        {"name": "niveau", "nevefield": {"codeList": "niveau"}},
        {"name": "classe", "nevefield": {"codeList": "classe", "parent": "niveau"}},
        {"name": "fratrie", "title": "Frères et sœurs", "nevefield": {"several": "+"}},
        {"name": "telephone", "title": "Téléphone", "nevefield": {"kind": "phone", "region": "GB"}},
        {"name": "garde", "title": "Personne autorisée"},
        {"name": "cantine", "type": "boolean"},
    ],
    "nevefield": {
        "checks": [
            {
                "check": "required-when",
                "fields": ["garde"],
                "when": {
                    "all": [{"field": "cantine", "is": "false"}, {"field": "niveau", "is": "CP"}]
                },
            },
            {
                "check": "age",
                "fields": ["naissance"],
                "on": "2026-09-01",
                "least": 5,
                "most": 9,
                "weight": "ask",
            },
        ]
    },
}


def code(place: int) -> str:
    """The code of the pupil at a place."""
    return f"EL{'ABCDEFGH'[place % 8]}{place:03d}{'XYZ'[place % 3]}"


def pupil(place: int) -> dict[str, str]:
    """Every fourth and fifth are brother and sister, and each names the other."""
    other = {3: place + 1, 4: place - 1}.get(place % 7)
    level = ["CP", "CE1"][place % 2]
    return {
        "code": code(place),
        "nom": FAMILY[(place - (place % 7 == 4)) % 7],
        "prenom": GIVEN[place % 9],
        "naissance": f"{2019 - place % 2}-{place % 12 + 1:02d}-{place % 28 + 1:02d}",
        "niveau": level,
        "classe": {"CP": "CP-A", "CE1": "CE1-A"}[level],
        "fratrie": code(other) if other is not None else "",
        "telephone": f"01632 960{place % 1000:03d}",
        "garde": f"Mme {FAMILY[place % 7]}",
        "cantine": ["true", "false"][place % 2],
    }


def kept(place: int) -> dict[str, object]:
    """As the roster has it."""
    found: dict[str, object] = {name: value for name, value in pupil(place).items() if value}
    return {**found, "fratrie": [pupil(place)["fratrie"]]} if pupil(place)["fratrie"] else found


def written(place: int, **changes: str) -> dict[str, str]:
    """As the secretary writes a pupil: the day first, with slashes."""
    row = pupil(place)
    return {**row, "naissance": "/".join(reversed(row["naissance"].split("-"))), **changes}


def make() -> Institution:
    """105 in the roster, some 90 rows in the file: bars between the cells."""
    made = Institution(
        "school",
        DOCUMENT,
        CODES,
        [kept(place) for place in range(105)],
        {
            "classe": "Classe",
            "code": "CODE ÉLÈVE *",
            "nom": "Nom",
            "prenom": "Prénom",
            "naissance": "Date de naissance (jj/mm/aaaa)",
            "niveau": "Niveau",
            "fratrie": "Frères et soeurs",
            "telephone": "téléphone",
            "garde": "Personne autorisée",
            "cantine": "cantine",
        },
        date(2026, 9, 2),
        separator="|",
    )
    for place in range(70):
        made.add(written(place), "same")
    # Brothers and sisters in other letters; each other's, though neither was here before; somebody
    # else's; nobody's.
    made.add(written(73, fratrie=code(74).lower()), "same")
    made.add(written(105, fratrie=code(106).lower()), "new")
    made.add(written(106, fratrie=code(105)), "new")
    made.add(written(75, fratrie=f"{code(76)} + {code(5)}"), "changed")
    made.add(written(76, fratrie=f"{code(75)}+ELA999X"), "stopped", ("fratrie", "reference"))
    # A code without its first nought: which it was is likely, not certain.
    made.add(written(77, fratrie="EL78Z"), "stopped", ("fratrie", "reference"))
    # Classes: a label with other accents is no label; of another level; not yet or no more in use.
    made.add(written(78, classe="les hirondelles"), "same")
    made.add(written(80, niveau="CE1"), "stopped", ("classe", "parent"))
    made.add(written(82, niveau="CE1", classe="CE1-Z"), "stopped", ("classe", "code"))
    made.add(written(107, naissance="31/02/2019"), "stopped", ("naissance", "type"))
    made.add(written(108, naissance="05/06/2010"), "stopped", ("naissance", "minimum"))
    made.add(written(109, naissance="05/06/2014"), "waiting", ("naissance", "age"))
    made.add(written(110, cantine="false", garde=""), "stopped", ("garde", "required-when"))
    made.add(written(83, telephone="n° 12"), "stopped", ("telephone", "format"))
    made.add(written(84, cantine="peut-être"), "stopped", ("cantine", "type"))
    made.add(written(111, code="ELI111X"), "stopped", ("code", "identifier"))
    # Two equal rows: one goes in.
    made.add(written(85), "same")
    made.add(written(85), "left_out")
    return made
