"""What makes an office's list of people: its columns with the truth about each, check characters
written from the standards, and the files that it becomes. Nothing here is looked up in the product.
"""

from __future__ import annotations

import io
import json
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import date, timedelta
from random import Random

from openpyxl import Workbook

DIGITS = "0123456789"
ALNUM = DIGITS + "ABCDEFGHIJKLMNOPQRSTUVWXYZ"


@dataclass
class Column:
    """One column: its texts, and what is true of it."""

    heading: str
    texts: list[str]
    kind: str
    check: str = ""
    length: int = 0
    prefix: str = ""
    groups: dict[str, str] = field(default_factory=dict)  # a way of writing -> what is meant
    several: str = ""
    parent: str = ""  # the heading of the column above it
    wrong: set[int] = field(default_factory=set)  # rows in which an error was planted


@dataclass
class Office:
    """A file, and what is true of it."""

    name: str
    data: bytes
    file: str
    columns: list[Column]
    key: str = ""  # heading; "" for none
    orders: tuple[tuple[str, str], ...] = ()
    refers: tuple[str, str] = ("", "")  # column and key


# --- check characters, written from the standards and not from the product ----------------------


def luhn(body: str) -> str:
    total = 0
    for place, digit in enumerate(reversed(body)):
        value = int(digit) * (2 if place % 2 == 0 else 1)
        total += value - 9 if value > 9 else value
    return str(-total % 10)


def mod11_2(body: str) -> str:
    state = 0
    for digit in body:
        state = (state + int(digit)) * 2 % 11
    return "0123456789X"[(12 - state) % 11]


def mod97_10(body: str) -> str:
    whole = "".join(str(ALNUM.index(letter)) for letter in body)
    return f"{98 - int(whole + '00') % 97:02}"


def mod37_36(body: str) -> str:
    state = 36
    for letter in body:
        state = (state + ALNUM.index(letter)) % 36 or 36
        state = state * 2 % 37
    return ALNUM[(37 - state) % 36]


def ean(body: str) -> str:
    total = sum(
        int(digit) * (3 if place % 2 == 0 else 1) for place, digit in enumerate(reversed(body))
    )
    return str(-total % 10)


def isbn(body: str) -> str:
    total = sum(int(digit) * weight for digit, weight in zip(body, range(10, 1, -1), strict=True))
    return "0123456789X"[-total % 11]


# M. Damm, "Total anti-symmetrische Quasigruppen", Marburg 2004
_DAMM = (
    "0317598642 7092154863 4206871359 1750983426 6123045978"
    " 3674209581 5869720134 8945362017 9438617205 2581436790"
)


def damm(body: str) -> str:
    table = _DAMM.split()
    state = 0
    for digit in body:
        state = int(table[state][int(digit)])
    return str(state)


# --- what people have ----------------------------------------------------------------------------

FAMILY = {
    "en": "Abbot Barlow Coyle Denham Eckford Farrow Garside Hallam Iveson Jowett Kirkby Lomas",
    "de": "Achterberg Brüggemann Clausing Dörfler Ehlers Fürst Göbel Hölzl Imhof Jäckel Kühn Löwe",
    "fr": "Aubrac Bonnefoy Chérel Dufrêne Étienne Fabre Guérin Hébrard Isoard Jaubert Lacôte Mérel",
    "es": "Aldana Becerra Cobos Durán Escribá Fuentes Galván Hierro Ibáñez Jurado Luján Muñoz",
    "pl": "Adamczuk Bąk Ciołek Dębski Fąfara Gołąb Iżycki Jaśkiewicz Kądziela Łoś Mróz Niżyński",
    "cs": "Adámek Bořil Čapek Dvořáček Fiala Hrubý Jirásek Křížek Látal Měchura Nečas Řezníček",
    "el": "Αγγελής Βαλσαμής Γεωργίου Δάρας Ευθυμίου Ζήσης Ηλιάδης Θεοτοκάς Ιωάννου Κάππος Λάμπρου",
    "ru": "Авдеев Беляков Воронин Гладков Дроздов Ежов Жилин Зимин Игнатьев Козырев Лапин Мохов",
    "sv": "Åkerblom Björk Dahlström Engdahl Fors Gränström Hägg Isaksson Kjellin Löfgren Malm",
    "tr": "Akbulut Başaran Çelikkol Dinçer Erdoğmuş Fırat Güneş Ilgaz Karaçay Özkan Şimşek Tunç",
    "ja": "相原 坂東 千田 土井 江口 藤枝 後藤田 浜口 今西 城島 川端 真鍋",
}
GIVEN = {
    "en": "Ada Ben Cleo Dan Edith Fred Grace Hugh Iris Jack Kate Leo Mary Ned Olive Paul",
    "de": "Anke Bernd Clara Dirk Elke Frank Grete Horst Ilse Jörg Käthe Lars Mia Nils",
    "fr": "Agnès Benoît Chloé Didier Élise François Gaëlle Hugo Inès Julien Léa Mathis",
    "es": "Ana Bruno Carmen Diego Elena Félix Gloria Hugo Inés Jaime Lucía Martín",
    "pl": "Ala Bogdan Celina Darek Ewa Filip Grażyna Hubert Iga Jacek Kasia Łukasz",
    "cs": "Alena Bohumil Čeněk Dana Eliška Filip Hana Ivan Jiří Kateřina Libor Milada",
    "el": "Άννα Βασίλης Γιώργος Δήμητρα Ελένη Ζωή Θάνος Ιάσων Κώστας Λένα Μαρία Νίκος",
    "ru": "Анна Борис Вера Глеб Дарья Егор Жанна Захар Инна Кирилл Лидия Марк",
    "sv": "Åsa Björn Cecilia David Ebba Fredrik Göran Hanna Ida Jonas Karin Lars",
    "tr": "Ayşe Burak Cansu Deniz Elif Ferhat Gül Hakan Işıl Kemal Leyla Murat",
    "ja": "葵 陽菜 蓮 湊 結衣 美咲 大和 翔太",
}


class Maker:
    """Makes one office's columns, from a seed."""

    def __init__(self, rows: int, seed: int, tongue: str = "en") -> None:
        self.rows, self.random, self.tongue = rows, Random(seed), tongue
        self.columns: list[Column] = []

    def add(self, heading: str, texts: list[str], kind: str, **truth: object) -> Column:
        assert len(texts) == self.rows
        self.columns.append(Column(heading, texts, kind, **truth))  # type: ignore[arg-type]
        return self.columns[-1]

    def names(self, family: str, given: str) -> None:
        pick = self.random.choice
        tails = ["", "", "", "son", "mann", "ov", "er", "ini"] if self.tongue != "ja" else [""]
        self.add(
            family,
            [pick(FAMILY[self.tongue].split()) + pick(tails) for _ in range(self.rows)],
            "text",
        )
        self.add(given, [pick(GIVEN[self.tongue].split()) for _ in range(self.rows)], "text")

    def numbers(self, heading: str, make: Callable[[int], str], wrong: int = 0, **truth: object):
        """Identifiers that are all different, in no order."""
        texts = list(dict.fromkeys(make(place) for place in range(3 * self.rows)))[: self.rows]
        self.random.shuffle(texts)
        column = self.add(heading, texts, "identifier", **truth)
        for row in self.random.sample(range(self.rows), wrong):
            text = texts[row]
            place = len(text) - 2 if column.check else 0
            if column.check:  # another digit in the place before the last
                other = self.random.choice([one for one in DIGITS if one != text[place]])
                texts[row] = text[:place] + other + text[place + 1 :]
            else:
                texts[row] = text + "77"
            column.wrong.add(row)
        return column

    def digits(self, count: int) -> str:
        return "".join(self.random.choice(DIGITS) for _ in range(count))

    def days(
        self, heading: str, first: int, last: int, form: str, empty: float = 0.0, kind="date"
    ) -> Column:
        begin, size = date(first, 1, 1), (date(last, 12, 31) - date(first, 1, 1)).days
        texts = [
            ""
            if self.random.random() < empty
            else (begin + timedelta(self.random.randrange(size))).strftime(form)
            for _ in range(self.rows)
        ]
        return self.add(heading, texts, kind)

    def span(self, heads: tuple[str, str], first: int, last: int, form: str, crossed: int = 0):
        begin, size = date(first, 1, 1), (date(last, 12, 31) - date(first, 1, 1)).days
        starts = [begin + timedelta(self.random.randrange(size)) for _ in range(self.rows)]
        stops = [day + timedelta(self.random.randrange(30, 900)) for day in starts]
        wrong = set(self.random.sample(range(self.rows), crossed))
        for row in wrong:
            starts[row], stops[row] = stops[row], starts[row]
        self.add(heads[0], [day.strftime(form) for day in starts], "date")
        self.add(heads[1], [day.strftime(form) for day in stops], "date", wrong=wrong)

    def codes(
        self,
        heading: str,
        values: list[str],
        ways: dict[str, str] | None = None,
        empty: float = 0.0,
        odd: tuple[str, ...] = (),
    ) -> Column:
        """Codes, some written in other ways, some that are none."""
        texts = [
            "" if self.random.random() < empty else self.random.choice(values)
            for _ in range(self.rows)
        ]
        column = self.add(
            heading, texts, "code", groups={value: value for value in values} | (ways or {})
        )
        rows = self.random.sample(range(self.rows), len(ways or {}) + len(odd))
        for row, way in zip(rows, [*(ways or {}), *odd], strict=True):
            texts[row] = way
            if way in odd:
                column.wrong.add(row)
        return column

    def under(self, heading: str, tree: dict[str, list[str]], parent: str, wrong: int = 0) -> None:
        """Codes with the parent of each beside it."""
        ours = [
            self.random.choice([one for few in tree.values() for one in few])
            for _ in range(self.rows)
        ]
        above = {one: top for top, few in tree.items() for one in few}
        tops = [above[one] for one in ours]
        column = self.add(heading, ours, "code", groups={one: one for one in above}, parent=parent)
        other = self.add(parent, tops, "code", groups={one: one for one in tree})
        for row in self.random.sample(range(self.rows), wrong):
            tops[row] = self.random.choice([one for one in tree if one != tops[row]])
            column.wrong.add(row)
        assert other.texts is tops

    def several(self, heading: str, values: list[str], sign: str, empty: float = 0.2) -> None:
        texts = []
        for _ in range(self.rows):
            if self.random.random() < empty:
                texts.append("")
            else:
                texts.append(
                    sign.join(self.random.sample(values, self.random.choice((1, 1, 2, 3))))
                )
        self.add(
            heading, texts, "code", groups={one: one for one in values}, several=sign.strip(" ")
        )

    def each(self, heading: str, kind: str, make: Callable[[], str], empty: float = 0.0) -> Column:
        texts = ["" if self.random.random() < empty else make() for _ in range(self.rows)]
        return self.add(heading, texts, kind)

    def mails(self, heading: str, empty: float = 0.0, shared: float = 0.1) -> Column:
        texts = [
            "" if self.random.random() < empty else f"{self.digits(2)}.p{place}@example.org"
            for place in range(self.rows)
        ]
        for place in range(1, self.rows):
            if self.random.random() < shared and texts[place - 1]:
                texts[place] = texts[place - 1]
        return self.add(heading, texts, "mail")

    def spoil(self, column: Column, text: str) -> None:
        """Plant an error into a row of a column."""
        row = self.random.choice([row for row in range(self.rows) if row not in column.wrong])
        column.texts[row] = text
        column.wrong.add(row)

    def grid(self) -> list[list[str]]:
        return [[column.texts[row] for column in self.columns] for row in range(self.rows)]


def as_text(maker: Maker, sep: str, encoding: str = "utf-8", above: tuple[str, ...] = ()) -> bytes:
    lines = [*above, sep.join(column.heading for column in maker.columns)]
    for row in maker.grid():
        lines.append(sep.join(f'"{cell}"' if sep in cell or "\n" in cell else cell for cell in row))
    return ("\r\n".join(lines) + "\r\n").encode(encoding)


def as_book(maker: Maker, above: tuple[str, ...] = ()) -> bytes:
    book = Workbook()
    sheet = book.active
    for note in above:
        sheet.append([note])
    sheet.append([column.heading for column in maker.columns])
    for row in maker.grid():
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def as_lines(maker: Maker) -> bytes:
    heads = [column.heading for column in maker.columns]
    rows = [
        json.dumps(dict(zip(heads, row, strict=True)), ensure_ascii=False) for row in maker.grid()
    ]
    return "\n".join(rows).encode()
