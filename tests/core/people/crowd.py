"""Another crowd than that of `maker.py`: people of several languages and of one age, in whom much
changes at once.

Every kind of row is as frequent as every other, so that the rare and hard ones weigh as much as the
easy ones; three that nothing could tell are a third as frequent. The other forms
of given names were gathered by themselves, not from the product's list.
"""

from __future__ import annotations

import random
from dataclasses import dataclass
from datetime import date, timedelta

from nevefield.core.table import Column
from tests.core.people.maker import DEFINITION, FIELDS, Made

__all__ = ["DEFINITION", "KNOWN", "STRANGERS", "make_crowd"]

# Family and given names by language, the common ones first.
_NAMES = {
    "english": (
        "Smith Jones Taylor Brown Williams Wilson Johnson Davies Robinson "
        "Wright Thompson Evans Walker White Roberts Green Hall "
        "Wood Jackson Clarke Patel Hughes Edwards Lewis Turner Hill "
        "Cooper Ward Harris Morris Bailey Bennett Cook Parker Shaw "
        "Price Gray James Watson Kelly O'Brien McCarthy Fitzgerald Pemberton Ashworth Thistlethwaite",
        "Oliver Jack Harry Emily Grace Thomas James Charlotte William "
        "Amelia George Jessica Sophie Daniel Samuel Joseph Lucy "
        "Benjamin Hannah Matthew Rebecca Katherine Alexander Edward "
        "Elizabeth Michael Robert Margaret Christopher Andrew "
        "Victoria Nicholas Abigail Frederick Theodore Rosemary Gillian Desmond Philippa",
    ),
    "german": (
        "Müller Schmidt Schneider Fischer Weber Meyer Wagner Becker Schulz "
        "Hoffmann Koch Bauer Richter Klein Wolf Schröder Neumann "
        "Schwarz Zimmermann Krüger Hartmann Lange Werner Krause Lehmann Köhler König Großmann Jäger von-Bülow",
        "Anna Johann Katharina Maximilian Sophie Friedrich Heinrich "
        "Elisabeth Jürgen Wolfgang Lukas Leonie Franziska Matthias "
        "Johannes Sebastian Andreas Günther Margarete Jörg Ludwig Theresa",
    ),
    "spanish": (
        "García Fernández González Rodríguez López Martínez Sánchez Pérez "
        "Gómez Martín Jiménez Ruiz Hernández Díaz Moreno Álvarez "
        "Muñoz Romero Alonso Gutiérrez Navarro Torres Domínguez Vázquez Ramos Gil",
        "José María Antonio Carmen Juan Ana Francisco Isabel Manuel "
        "Dolores Pedro Pilar Jesús Lucía Javier Catalina Miguel "
        "Alejandro Ángel Guillermo Jorge Enrique Ignacio Concepción",
    ),
    "polish": (
        "Nowak Kowalski Wiśniewski Wójcik Kowalczyk Kamiński Lewandowski "
        "Zieliński Szymański Woźniak Dąbrowski Kozłowski Jankowski "
        "Mazur Kwiatkowski Krawczyk Kaczmarek Piotrowski Grabowski Łukasik",
        "Piotr Katarzyna Jan Małgorzata Andrzej Agnieszka Krzysztof Barbara "
        "Stanisław Ewa Tomasz Elżbieta Paweł Joanna Michał "
        "Aleksandra Łukasz Zofia Wojciech Grzegorz Jerzy Mikołaj",
    ),
    "south asian": (
        "Singh Kumar Sharma Khan Ahmed Hussain Ali Begum Patel Shah Gupta Kaur Rahman Chowdhury Iqbal Reddy Nair Fernando Perera",
        "Mohammed Fatima Aisha Arjun Priya Rahul Ananya Yusuf Zainab "
        "Imran Sana Vikram Deepak Lakshmi Ibrahim Omar Maryam Harpreet",
    ),
    "chinese": (
        "Wang Li Zhang Liu Chen Yang Huang Zhao Wu Zhou Xu Sun Ma Zhu Hu Lin",
        "Wei Fang Min Jing Lei Yan Jun Ying Hui Xin Jie Ping Xiaoming Meiling Haoran Yuxuan",
    ),
    "nordic": (
        "Hansen Johansen Olsen Larsen Andersen Pedersen Nilsen "
        "Kristiansen Jensen Karlsen Johansson Lindqvist Bergström Åkesson "
        "Sjöberg Virtanen Korhonen Mäkinen Ødegård Sørensen",
        "Anne Jan Per Bjørn Ingrid Lars Kari Ole Marit Knut Astrid Sven Mikael Katarina Erik Søren Jens Birgitta Åse Päivi",
    ),
}
# A name, and forms in which the same person is written elsewhere.
_OTHER_FORMS = {
    "Katherine": "Kate Kathy Kitty", "Alexander": "Alex Sasha Sandy", "William": "Bill Will Billy", "Robert": "Bob Rob Bobby",
    "Elizabeth": "Liz Beth Lizzie", "Michael": "Mike Mick", "Christopher": "Chris Kit", "Nicholas": "Nick", "Samuel": "Sam",
    "Margaret": "Maggie Peggy Meg", "Andrew": "Andy Drew", "Edward": "Ted Ed Eddie", "Victoria": "Vicky Tori", "Joseph": "Joe",
    "Benjamin": "Ben Benny", "Matthew": "Matt", "Daniel": "Dan Danny", "Rebecca": "Becky", "Thomas": "Tom", "James": "Jim Jamie",
    "Frederick": "Fred Freddie", "Theodore": "Theo Ted", "Abigail": "Abby Gail", "Charlotte": "Lottie", "Jessica": "Jess",
    "Johann": "Hans", "Johannes": "Hannes Hans", "Friedrich": "Fritz", "Heinrich": "Heinz", "Maximilian": "Max",
    "Katharina": "Kathi Käthe", "Elisabeth": "Lisa Elli", "Franziska": "Franzi", "Sebastian": "Basti", "Margarete": "Grete",
    "José": "Pepe", "Francisco": "Paco Pancho", "Dolores": "Lola", "María": "Mari", "Jesús": "Chus",
    "Concepción": "Concha Conchita",
    "Alejandro": "Álex", "Ignacio": "Nacho", "Enrique": "Quique", "Guillermo": "Guille", "Manuel": "Manolo", "Isabel": "Isa",
    "Katarzyna": "Kasia", "Małgorzata": "Gosia Małgosia", "Krzysztof": "Krzysiek", "Aleksandra": "Ola", "Joanna": "Asia",
    "Agnieszka": "Aga", "Stanisław": "Staszek", "Elżbieta": "Ela", "Zofia": "Zosia", "Jan": "Janek", "Tomasz": "Tomek",
    "Michał": "Misiek", "Wojciech": "Wojtek", "Andrzej": "Jędrek", "Jerzy": "Jurek", "Barbara": "Basia", "Mohammed": "Mo",
    "Harpreet": "Harry", "Birgitta": "Gitta", "Mikael": "Micke", "Katarina": "Kata",
}  # fmt: skip
_ABROAD = {
    "Johann": "John", "Johannes": "John", "Juan": "John", "Jan": "John", "José": "Joseph", "Katharina": "Katherine",
    "Katarzyna": "Catherine", "Katarina": "Katherine", "Catalina": "Catherine", "Piotr": "Peter", "Pedro": "Peter",
    "Krzysztof": "Christopher", "Małgorzata": "Margaret", "Margarete": "Margaret", "Michał": "Michael", "Miguel": "Michael",
    "Mikael": "Michael", "Friedrich": "Frederick", "Heinrich": "Henry", "Enrique": "Henry", "Guillermo": "William",
    "Jorge": "George", "Jerzy": "George", "Jürgen": "George", "Andrzej": "Andrew", "Andreas": "Andrew", "Tomasz": "Thomas",
    "Elżbieta": "Elizabeth", "Isabel": "Elizabeth", "Elisabeth": "Elizabeth", "Aleksandra": "Alexandra",
    "Alejandro": "Alexander", "Łukasz": "Luke", "Lukas": "Luke", "Zofia": "Sophie", "Ana": "Anna", "Anne": "Anna",
    "Paweł": "Paul", "Joanna": "Joan", "Franziska": "Frances", "Francisco": "Francis", "Ibrahim": "Abraham", "Yusuf": "Joseph",
    "Maryam": "Mary", "María": "Mary", "Matthias": "Matthew", "Mikołaj": "Nicholas", "Grzegorz": "Gregory", "Sven": "Swen",
    "Mohammed": "Muhammad", "Aisha": "Ayesha", "Fatima": "Fatemeh", "Omar": "Umar", "Agnieszka": "Agnes", "Ludwig": "Louis",
    "Theresa": "Teresa", "Ewa": "Eva", "Wolfgang": "Wolf", "Bjørn": "Bjorn", "Lars": "Laurence", "Erik": "Eric", "Xin": "Hsin",
    "Jing": "Ching", "Zainab": "Zeynep", "Lucía": "Lucy", "Antonio": "Anthony", "Manuel": "Emmanuel",
}  # fmt: skip
_TOWNS = [
    "Skarvholm",
    "Dunsea",
    "Okell",
    "Bexcombe",
    "Harrowgate",
    "Tarnquay",
    "Northwick",
    "Eastmere",
    "Calderby",
    "Ulverholm",
    "Pennick",
    "Marlow",
    "Wexby",
    "Torvale",
]
KNOWN = (
    "as it is",
    "another number",
    "slip in the family name",
    "two slips in the family name",
    "slip in the given name",
    "short form",
    "form of another language",
    "second given name added",
    "second given name alone",
    "married",
    "married and moved",
    "double name after marriage",
    "half of a double name",
    "names in each other's columns",
    "without accents, or written out",
    "day and month swapped",
    "one digit of the birth date",
    "year of birth",
    "no birth date",
    "all addresses new",
    "moved",
    "initial only",
    "cut short",
    "name and birth date alone",
    "name and town alone",
    "slip, and all addresses new",
)
# What a person could not tell either comes a third as often as the rest.
HOPELESS = ("married and moved", "name and town alone", "same given name and birth date")
STRANGERS = (
    "new",
    "namesake",
    "sibling",
    "twin",
    "parent or child of the same name",
    "same given name and birth date",
    "cousin",
)


@dataclass(frozen=True)
class _World:
    chance: random.Random
    names: list[tuple[list[str], list[str], list[float], list[float]]]
    oldest: date
    days: int
    mails: set[str]


def make_crowd(records: int, rows: int, seed: int, *, years: int = 30, blank: float = 0.1) -> Made:
    """Make a roster of people born within so many years, and rows of which each kind is as frequent
    as every other.

    Args:
        records: In the roster.
        rows: In the file.
        seed: Everything follows from it.
        years: From the oldest to the youngest.
        blank: Share of empty cells of mail, phone and postcode.
    """
    chance = random.Random(seed)
    pools = []
    for families, givens in _NAMES.values():
        names, first = (
            [one.replace("von-", "von ") for one in families.split(" ")],
            givens.split(" "),
        )
        pools.append(
            (
                names,
                first,
                *([1 / (place + 5) for place in range(len(one))] for one in (names, first)),
            )
        )
    world = _World(chance, pools, date(2008 - years, 9, 1), 365 * years, set())
    roster = [_person(world, number) for number in range(records)]
    chosen = iter(chance.sample(range(records), min(records, rows)))
    every = [kind for kind in (*KNOWN, *STRANGERS) for _ in range(1 if kind in HOPELESS else 3)]
    kinds = [every[place % len(every)] for place in range(rows)]
    chance.shuffle(kinds)
    made, truth = [], []
    for kind in kinds:
        place = next(chosen)
        if kind in KNOWN:
            made.append(_change(world, dict(roster[place]), kind))
            truth.append(place)
        else:
            made.append(_stranger(world, roster[place], kind))
            truth.append(-1)
    for one in (*roster, *made):
        one.update({name: "" for name in ("mail", "phone", "postcode") if chance.random() < blank})
    columns = [
        {name: Column.of([one.get(name) or None for one in side]) for name in FIELDS}
        for side in (roster, made)
    ]
    return Made(columns[0], columns[1], truth, kinds)


def _person(world: _World, number: int) -> dict[str, str]:
    chance = world.chance
    place = chance.choices(range(len(world.names)), [6, 2, 2, 2, 2, 1, 2])[0]
    families, givens, often, given_often = world.names[place]
    family, given = chance.choices(families, often)[0], chance.choices(givens, given_often)[0]
    if place == 2 and chance.random() < 0.7:  # two family names are the rule
        family = f"{family} {chance.choices(families, often)[0]}"
    elif chance.random() < 0.04:
        family = f"{family}-{chance.choices(families, often)[0]}"
    if chance.random() < 0.25:
        given = f"{given} {chance.choice([one for one in givens if one != given])}"
    one = {
        "number": f"{chance.choice('AB')}{number:06d}",
        "family": family,
        "given": given,
        "born": (world.oldest + timedelta(chance.randrange(world.days))).isoformat(),
    }
    return one | _addresses(world, one) | {"town": chance.choice(_TOWNS)}


def _addresses(world: _World, one: dict[str, str]) -> dict[str, str]:
    chance = world.chance
    local = _plain(
        f"{one['given'].split(' ')[0]}{chance.choice(['.', '_', ''])}{one['family'].split(' ')[0]}"
    ).lower()
    mail = f"{local}@{chance.choice(['mail', 'post', 'web'])}.example"
    while mail in world.mails:  # nobody has the address of another
        mail = mail.replace("@", f"{chance.randint(1, 9)}@")
    world.mails.add(mail)
    return {
        "mail": mail,
        "phone": f"+44 7700 {chance.randint(0, 999_999):06d}",
        "postcode": f"{chance.choice('ABC')}{chance.randint(1, 30)} {chance.randint(1, 9)}{chance.choice('ABDEFG')}X",
    }


_WRITTEN = str.maketrans(
    {
        "ä": "ae",
        "ö": "oe",
        "ü": "ue",
        "ß": "ss",
        "å": "aa",
        "ø": "oe",
        "Å": "Aa",
        "Ø": "Oe",
        "ł": "l",
        "Ł": "L",
    }
)
_BARE = str.maketrans("áéíóúñąęśćńźżóěäöüåøłÁÉÓŁŚŻÅØ'", "aeiounaescnzzoeaouaolAEOLSZAO ")


def _plain(text: str) -> str:
    return text.translate(_BARE).replace(" ", "").replace("ß", "ss")


def _slip(chance: random.Random, word: str) -> str:
    if len(word) < 4:
        return word + word[-1]
    place = chance.randrange(1, len(word) - 1)
    return chance.choice(
        [
            word[:place] + word[place + 1] + word[place] + word[place + 2 :],
            word[:place] + word[place + 1 :],
            word[:place] + chance.choice("aeinrst") + word[place + 1 :],
            word[:place] + word[place] + word[place:],
        ]
    )


def _change(world: _World, one: dict[str, str], kind: str) -> dict[str, str]:
    chance = world.chance
    fresh = _person(world, 900_000)
    one["number"] = (
        fresh["number"].replace("A", "N").replace("B", "N") if kind == "another number" else ""
    )
    first, *more = one["given"].split(" ")
    if kind in (
        "slip in the family name",
        "two slips in the family name",
        "slip, and all addresses new",
    ):
        one["family"] = _slip(chance, one["family"])
        if kind.startswith("two"):
            one["family"] = _slip(chance, one["family"])
    if kind == "slip in the given name":
        one["given"] = _slip(chance, one["given"])
    if kind in ("short form", "form of another language"):
        forms = _OTHER_FORMS if kind == "short form" else _ABROAD
        if first in forms:
            one["given"] = chance.choice(forms[first].split(" "))
        else:
            one["given"] = first
    if kind == "second given name added" and not more:
        one["given"] = f"{first} {fresh['given'].split(' ')[0]}"
    if kind == "second given name alone" and more:
        one["given"] = more[0]
    if kind in ("married", "married and moved"):
        one["family"] = fresh["family"]
        one["mail"] = _addresses(world, one)["mail"] if chance.random() < 0.6 else one["mail"]
    if kind == "double name after marriage":
        one["family"] = f"{one['family']}-{fresh['family'].split(' ')[0]}"
    if kind == "half of a double name":
        one["family"] = chance.choice(one["family"].replace("-", " ").split(" "))
    if kind == "names in each other's columns":
        one["family"], one["given"] = one["given"], one["family"]
    if kind == "without accents, or written out":
        table = chance.choice([_WRITTEN, _BARE])
        one |= {name: one[name].translate(table).strip() for name in ("family", "given")}
    year, month, day = one["born"].split("-")
    if kind == "day and month swapped" and int(day) <= 12:
        one["born"] = f"{year}-{day}-{month}"
    if kind == "one digit of the birth date":
        one["born"] = f"{year}-{month}-{(int(day) + chance.choice([1, 2, 3, 7, 10])) % 28 + 1:02d}"
    if kind == "year of birth":
        one["born"] = (
            f"{int(year) + chance.choice([-10, -1, 1, 10])}-{month}-{day if (month, day) != ('02', '29') else '28'}"
        )
    if kind in ("no birth date", "name and town alone"):
        one["born"] = ""
    if kind in ("all addresses new", "slip, and all addresses new", "married and moved"):
        one |= _addresses(world, one)
    if kind in ("moved", "married and moved"):
        one |= {name: fresh[name] for name in ("postcode", "town", "phone")}
    if kind == "initial only":
        one["given"] = f"{first[0]}."
    if kind == "cut short":
        one["family"], one["given"] = one["family"][:8].strip(), one["given"][:6].strip()
    if kind in ("name and birth date alone", "name and town alone"):
        one |= dict.fromkeys(("mail", "phone", "postcode"), "")
    if kind == "name and birth date alone":
        one["town"] = ""
    return one


def _forms(given: str) -> set[str]:
    """All forms of a given name."""
    names = {given.split(" ")[0]}
    names |= {_ABROAD.get(name, name) for name in names}
    return names | {
        form for name in names for form in _OTHER_FORMS.get(name, "").split(" ") if form
    }


def _stranger(world: _World, person: dict[str, str], kind: str) -> dict[str, str]:
    chance = world.chance
    fresh = _person(world, 950_000)
    home = {name: person[name] for name in ("family", "postcode", "town")} | (
        {"phone": person["phone"]} if chance.random() < 0.5 else {}
    )
    had, forms = {*person["given"].split(" ")}, _forms(person["given"])
    other = next(
        one["given"]
        for one in iter(lambda: _person(world, 0), None)
        if not had & {*one["given"].split(" ")}
        and not forms & _forms(one["given"])
        and one["given"][0] != person["given"][0]
    )
    if kind in ("sibling", "twin"):
        fresh |= home | {"given": other}
        if kind == "twin":
            fresh["born"] = person["born"]
    elif kind == "parent or child of the same name":
        away = 26 + chance.randrange(8)
        fresh |= home | {
            "given": person["given"],
            "born": f"{int(person['born'][:4]) - away}{fresh['born'][4:]}",
        }
    elif kind == "namesake":
        born = next(
            one["born"]
            for one in iter(lambda: _person(world, 0), None)
            if one["born"] != person["born"]
        )
        fresh |= {"family": person["family"], "given": person["given"], "born": born}
    elif kind == "same given name and birth date":
        family = next(
            one["family"]
            for one in iter(lambda: _person(world, 0), None)
            if one["family"] != person["family"]
        )
        fresh |= {"given": person["given"], "born": person["born"], "family": family}
    elif kind == "cousin":
        fresh |= {
            "family": person["family"],
            "town": person["town"],
            "born": person["born"][:5] + fresh["born"][5:],
            "given": other,
        }
    if kind in ("sibling", "twin", "cousin", "parent or child of the same name"):
        fresh["mail"] = _addresses(world, fresh)["mail"]
    fresh["number"] = ""
    return fresh
