"""The people of Tarn Quay Maritime College, all of them invented; the same seed makes the same people."""

from __future__ import annotations

import random
import unicodedata
from datetime import date, timedelta

from nevefield.core.columns.identifiers import add_check
from nevefield.core.definition import Identifier

__all__ = [
    "CADET_NUMBER",
    "CAMPUS_WATCHES",
    "FELLOW_NUMBER",
    "STAFF_NUMBER",
    "Namer",
    "make_cadet",
    "make_cadets",
    "make_staff",
    "phone",
    "plain_letters",
]

CADET_NUMBER = Identifier(9, "TQ", "0123456789", "iso7064-mod11-2")
MARINER_NUMBER = Identifier(8, "M", "0123456789", "damm")
FELLOW_NUMBER = Identifier(7, "F", "0123456789", "damm")
STAFF_NUMBER = Identifier(6, "", "0123456789", "luhn")
FAMILY = [
    "Adair",
    "Adeyemi",
    "Aldous",
    "Anvers",
    "Arkley",
    "Askham",
    "Balfrey",
    "Barrowby",
    "Belling",
    "Birkett",
    "Blakeny",
    "Brandvold",
    "Brathay",
    "Calder",
    "Carrow",
    "Castell",
    "Colby",
    "Corran",
    "Crosby",
    "Dacre",
    "Dalby",
    "Dovrefell",
    "Dunmore",
    "Eaves",
    "Ekholm",
    "Elstow",
    "Eskdale",
    "Fallow",
    "Farnell",
    "Ferrant",
    "Fossby",
    "Garrowby",
    "Garth",
    "Goring",
    "Greave",
    "Hallbrook",
    "Harle",
    "Hebden",
    "Hesket",
    "Holloway",
    "Ilkesund",
    "Ingram",
    "Jarrow",
    "Jurado",
    "Kelby",
    "Kvarme",
    "Lambley",
    "Langrigg",
    "Lorimer",
    "Lundquay",
    "Marchetti",
    "Marrick",
    "Melbeck",
    "Morland",
    "Nesbit",
    "Norling",
    "Oakshaw",
    "Okell",
    "Oyelaran",
    "Pemberley",
    "Penrith",
    "Quilliam",
    "Quernmore",
    "Ravenglass",
    "Redmayne",
    "Rostrevor",
    "Rusland",
    "Sandvik",
    "Scarrow",
    "Selside",
    "Skelwith",
    "Staveley",
    "Swale",
    "Tallentire",
    "Tamm",
    "Thirlby",
    "Threlkeld",
    "Ulpha",
    "Underbarrow",
    "Varden",
    "Wasdale",
    "Wetherlam",
    "Whitbeck",
    "Winster",
    "Wrynose",
    "Yewdale",
    "Zennor",
]
SECOND = [
    "Rask",
    "Voss",
    "Pell",
    "Roe",
    "Lunde",
    "Marsh",
    "Holm",
    "Strand",
    "Vik",
    "Ness",
    "Thorne",
    "Wick",
    "Gale",
    "Firth",
]
GIVEN = [
    "Ada",
    "Agnes",
    "Aidan",
    "Alma",
    "Amias",
    "Anders",
    "Anouk",
    "Aoife",
    "Astrid",
    "Bea",
    "Bram",
    "Callum",
    "Cato",
    "Clara",
    "Dara",
    "Dilys",
    "Edda",
    "Edgar",
    "Eilidh",
    "Elin",
    "Emrys",
    "Esme",
    "Ewan",
    "Fay",
    "Finn",
    "Freya",
    "Gareth",
    "Greta",
    "Hamish",
    "Hanne",
    "Henrik",
    "Ida",
    "Ines",
    "Iona",
    "Isla",
    "Ivo",
    "Jonah",
    "Jonas",
    "Karl",
    "Keir",
    "Kit",
    "Lars",
    "Leif",
    "Liv",
    "Lorcan",
    "Mabel",
    "Maeve",
    "Magnus",
    "Mattias",
    "Mina",
    "Nels",
    "Noor",
    "Nuno",
    "Olwen",
    "Orla",
    "Oscar",
    "Owen",
    "Petra",
    "Pia",
    "Piet",
    "Priya",
    "Rafe",
    "Ragna",
    "Rhys",
    "Rory",
    "Ruth",
    "Sam",
    "Selma",
    "Senan",
    "Siân",
    "Signe",
    "Sunniva",
    "Tess",
    "Toby",
    "Tor",
    "Una",
    "Vera",
    "Wilhelmina",
    "Yara",
    "Zoë",
]
PROGRAMMES = {"DECK": "NAV", "ENGR": "MEN", "ETO": "MEN"}
WATCHES = [
    "AUK",
    "CORM",
    "EIDER",
    "FULM",
    "GANN",
    "GUIL",
    "KITT",
    "PETR",
    "PUFF",
    "RAZO",
    "SHEA",
    "SKUA",
    "TERN",
]
# Which watches a campus has; a watch is a bird of one campus and one year, 8 to 24 cadets.
CAMPUS_WATCHES = {
    "NQ": WATCHES,
    "CH": ["EIDER", "GANN", "KITT", "PUFF", "SHEA", "TERN"],
    "TSM": ["PETR", "SKUA"],
}
HOME = ["BRW", "DNS", "FWS", "HLM", "KRH", "LRN", "SKV", "TQY"]
AWAY = ["OST", "VLM"]
BURSARIES = ["KEEL", "LANTERN", "HALYARD", "SEXTANT"]
DIETS = ["VEG", "VGN", "NUT", "GLU", "HAL"]
FIRST_AUTUMN = 2023


class Namer:
    """Gives out names and mail addresses, no pair of names twice."""

    def __init__(self, chance: random.Random, domain: str) -> None:
        self.chance = chance
        self.domain = domain
        self._names: set[tuple[str, str]] = set()
        self._mails: set[str] = set()

    def know(self, people: list[dict[str, object]]) -> None:
        """Keep the names and addresses of people who are there already from being given out again."""
        self._names.update((str(one["family_name"]), str(one["given_names"])) for one in people)
        self._mails.update(str(one["mail"]) for one in people)

    def name(self) -> tuple[str, str]:
        """Give a family name and given names that nobody has yet."""
        while True:
            family = self.chance.choice(FAMILY)
            if self.chance.random() < 0.25:
                family = f"{family}-{self.chance.choice(SECOND)}"
            given = self.chance.choice(GIVEN)
            if self.chance.random() < 0.3:
                given = f"{given} {self.chance.choice([name for name in GIVEN if name != given])}"
            if (family, given) not in self._names:
                self._names.add((family, given))
                return family, given

    def mail(self, family: str, given: str) -> str:
        """Give a mail address that nobody has yet."""
        base = f"{plain_letters(given.split()[0])}.{plain_letters(family.split('-')[0])}"
        mail, number = f"{base}@{self.domain}", 2
        while mail in self._mails:
            mail, number = f"{base}{number}@{self.domain}", number + 1
        self._mails.add(mail)
        return mail


def plain_letters(text: str) -> str:
    """Write a name in small letters without accents."""
    return unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode().casefold()


def phone(chance: random.Random) -> str:
    """Give a number from the ranges that are kept for fiction."""
    if chance.random() < 0.8:
        return f"+44 7700 900{chance.randrange(1000):03d}"
    return f"+44 1632 960{chance.randrange(1000):03d}"


def make_cadet(
    chance: random.Random, namer: Namer, number: int, autumn: int, away: bool = False
) -> dict[str, object]:
    """Make one cadet who entered in the autumn of a year."""
    family, given = namer.name()
    programme = chance.choices(list(PROGRAMMES), [5, 3, 2])[0]
    born = date(
        autumn - chance.choices([16, 17, 18, 19, 22], [2, 3, 5, 3, 1])[0], 1, 1
    ) - timedelta(days=chance.randrange(1, 360))
    campus = chance.choices(["NQ", "CH", "TSM"], [6, 3, 1])[0]
    cadet: dict[str, object] = {
        "cadet_number": add_check(CADET_NUMBER, f"{number:06d}"),
        "family_name": family,
        "given_names": given,
        "born": born.isoformat(),
        "mail": namer.mail(family, given),
        "phone": phone(chance),
        "home_port": chance.choice(AWAY if away else HOME),
        "department": PROGRAMMES[programme],
        "programme": programme,
        "intake_term": f"{autumn}A",
        "year": str(2026 - autumn + 1),
        "campus": campus,
        "watch": chance.choice(CAMPUS_WATCHES[campus]),
        "enrolled_from": date(autumn, 9, chance.choice([7, 7, 7, 14])).isoformat(),
        "enrolled_to": date(autumn + 3, 6, 30).isoformat(),
        "resident": chance.choice(["true", "true", "false"]),
        "medical_until": (date(2026, 12, 1) + timedelta(days=chance.randrange(700))).isoformat(),
        "deposit": chance.choice(["150", "150", "75.5", "0"]),
    }
    if cadet["resident"] == "true":
        cadet["berth"] = f"{chance.choice('ABCD')}{chance.randrange(100, 500)}"
    if autumn < 2026 and chance.random() < 0.7:
        cadet["mariner_number"] = add_check(MARINER_NUMBER, f"{number:06d}")
    if chance.random() < 0.2:
        cadet["bursaries"] = chance.sample(BURSARIES, chance.choice([1, 1, 2]))
    if chance.random() < 0.15:
        cadet["dietary"] = chance.sample(DIETS, 1)
    if (
        date(born.year + 18, born.month, min(born.day, 28)) > date(2026, 9, 1)
        or chance.random() < 0.3
    ):
        cadet["guardian"] = f"{family.split('-')[0]}, {chance.choice(GIVEN)}"
        cadet["guardian_phone"] = phone(chance)
    return cadet


def make_cadets(chance: random.Random, namer: Namer, count: int) -> list[dict[str, object]]:
    """Make the cadets of the roster: those of earlier autumns."""
    cadets = [
        make_cadet(chance, namer, 197000 + 4 * place, FIRST_AUTUMN + place * 3 // count)
        for place in range(count)
    ]
    led: dict[tuple[object, ...], int] = {}
    for cadet in cadets:  # the first of each watch is its captain, the second its mate
        watch = (cadet["campus"], cadet["year"], cadet["watch"])
        cadet["watch_position"] = ("CAPT", "MATE", "HAND")[min(led.get(watch, 0), 2)]
        led[watch] = led.get(watch, 0) + 1
    return cadets


def make_staff(chance: random.Random, count: int) -> list[dict[str, object]]:
    """Make the staff; the first has no manager, all others one of the first twelve before them."""
    namer = Namer(chance, "tarnquay.example")
    staff: list[dict[str, object]] = []
    for place in range(count):
        family, given = namer.name()
        mail = namer.mail(family, given)
        person: dict[str, object] = {
            "staff_number": add_check(STAFF_NUMBER, f"{340 + 7 * place:05d}"),
            "family_name": family,
            "given_names": given,
            "born": date(
                1960 + chance.randrange(40), chance.randrange(1, 13), chance.randrange(1, 29)
            ).isoformat(),
            "mail": mail,
            "phone": phone(chance),
            "position": "CAPT"
            if not place
            else chance.choice(["LECT", "LECT", "INST", "ADMN", "CATR", "BOSN", "MEDO"]),
            "department": chance.choice(["NAV", "MEN"]),
            "contract": chance.choice(["PERM", "PERM", "TERM", "HOUR"]),
            "first_day": date(
                2005 + chance.randrange(21), chance.randrange(1, 13), chance.choice([1, 1, 15, 20])
            ).isoformat(),
            "sign_in_name": mail.split("@")[0].replace(".", ""),
        }
        if person["position"] == "INST":
            person["roles"] = ["INSTR"]
        if place in (3, 9, 15):
            person["roles"] = ["REGIST"]
        if place:
            person["manager"] = staff[chance.randrange(min(place, 12))]["staff_number"]
        if person["contract"] == "TERM":
            person["last_day"] = "2027-07-31"
        staff.append(person)
    return staff
