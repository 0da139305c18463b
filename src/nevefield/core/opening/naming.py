"""What a field is called, from the heading of its column; and what a heading says it is for."""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from nevefield.core.columns.headings import MEANINGS, words_of
from nevefield.core.people.scripts import to_latin
from nevefield.core.texts import plain_letters, squeeze

if TYPE_CHECKING:
    from collections.abc import Collection

__all__ = [
    "AMOUNTS",
    "SUPERIORS",
    "begins",
    "clean_title",
    "ends",
    "hint_of",
    "hints_at_day",
    "make_name",
    "meaning_of",
    "names_people",
    "numbers_something",
    "speaks_of_people",
    "title_of_file",
]

LONGEST_TITLE, LONGEST_NAME = 120, 60
_NOTE = re.compile(r"\([^()]*\)|\[[^\[\]]*\]|\{[^{}]*\}|<[^<>]*>")
_MARKS = " \t*!:?†‡·•–—-_="
_DIGITS = ["zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine"]
# What a heading says when nothing of it is known as a word: how it ends, in languages that write
# words together, or a word that pairing has no use for.
_LISTS = {
    "begins": (
        "start beginn anfang eintritt debut inizio ingreso zahajeni rozpoczecia vstup alkaa aloitus"
    ),
    "ends": ("ende schluss austritt fine cessation baja zakonczenia konec paattyy lopetus renewal"),
    "people": (
        "cadet staff fellow member joined holder person pupil adherent mitglied matricule learner d"
        " socio volunteer our your its their main"
    ),
    "superiors": "manager superior chief head mentor leader report",
    "amounts": (
        "fee paid amount betrag salary price cost total sum balance credit deposit score mark"
        " points hours count age size height weight subscription children years days of montant"
        " importe beitrag gehalt kwota belop pris gebuhr"
    ),
    "others": "guardian manager emergency contact sibling spouse partner",
}
_BEGIN_WORDS = frozenset(_LISTS["begins"].split())
_END_WORDS = frozenset(_LISTS["ends"].split())
_BEGIN_TAILS = ("beginn", "anfang", "eintritt", "seit", "startdatum", "begindatum")
_END_TAILS = ("ende", "austritt", "ablauf", "einddatum", "sluttdato", "slutdatum")
_DAY_TAILS = ("datum", "dato", "date", "tag", "day", "paiva")
_NUMBER_TAILS = ("nummer", "nr", "number", "numer", "kennung", "matricule", "id", "numero")
_PEOPLE = frozenset(_LISTS["people"].split())
SUPERIORS = frozenset(_LISTS["superiors"].split())
AMOUNTS = frozenset(_LISTS["amounts"].split())
_OTHERS = frozenset(_LISTS["others"].split())


def clean_title(heading: str) -> str:
    """Clean a heading of notes in brackets and of marks.

    >>> clean_title("Date of birth* (DD/MM/YYYY)"), clean_title("[required] Site:")
    ('Date of birth', 'Site')
    """
    bare = squeeze(_NOTE.sub(" ", heading)).strip(_MARKS)
    return (bare or squeeze(heading).strip(_MARKS) or squeeze(heading))[:LONGEST_TITLE].strip()


def title_of_file(file_name: str) -> str:
    """Make a roster's title of a file's name: without its ending, years and digits.

    >>> [title_of_file(one) for one in ("observers-2026.csv", "09 Chór (final).xlsx", "01.txt")]
    ['Observers', 'Chór', 'Roster']
    """
    stem = re.sub(r"\.[A-Za-z0-9]{1,5}$", "", file_name)
    words = re.sub(r"[_\-.]+|\d+", " ", clean_title(stem)).strip()
    words = re.sub(r"\s+", " ", words)
    return (words[:1].upper() + words[1:])[:LONGEST_TITLE] or "Roster"


def make_name(title: str, taken: Collection[str]) -> str:
    """Make a field's name of small ASCII letters and `_`, unlike others.

    >>> make_name("Bursary 2", []), make_name("Geburtsort (Straße)", ["geburtsort_strasse"])
    ('bursary_two', 'geburtsort_strasse_two')
    >>> make_name("Фамилия", []), make_name("氏名", [])
    ('familiia', 'field')
    """
    plain = plain_letters(to_latin(plain_letters(title).casefold())).casefold()
    spelt = re.sub(r"\d", lambda found: f" {_DIGITS[int(found[0])]} ", _ascii_digits(plain))
    name = re.sub(r"[^a-z]+", "_", spelt).strip("_")[:LONGEST_NAME].strip("_") or "field"
    made, number = name, 2
    while made in taken:
        made = "_".join([name, *(_DIGITS[int(digit)] for digit in str(number))])
        number += 1
    return made


def _ascii_digits(text: str) -> str:
    return "".join(str(int(letter)) if letter.isdecimal() else letter for letter in text)


def hint_of(heading: str) -> frozenset[str]:
    """List the plain words of a heading, with what compounds of Germanic languages end in.

    >>> sorted(hint_of("Mitgliedsnummer")), sorted(hint_of("Vertragsende"))
    (['mitgliedsnummer', 'number'], ['until', 'vertragsende'])
    """
    words = words_of(clean_title(heading))
    more = set()
    if words >= {"term", "date"}:  # of a contract
        more.add("until")
    for word in words:
        if word in _BEGIN_WORDS | _END_WORDS:
            more.add("from" if word in _BEGIN_WORDS else "until")
        if len(word) < 5:
            continue
        if word.endswith(_NUMBER_TAILS) and len(word) > 6:
            more.add("number")
        elif word.endswith(_BEGIN_TAILS):
            more.add("from")
        elif word.endswith(_END_TAILS):
            more.add("until")
        elif word.endswith(_DAY_TAILS):
            more.add("date")
    return words | more


def hints_at_day(words: frozenset[str]) -> bool:
    """Tell whether a heading's words say that days stand under it."""
    return bool(
        words & {"date", "day", "born", "birth", "from", "until", "joined", "hired", "leave"}
    )


def numbers_something(words: frozenset[str]) -> bool:
    """Tell whether a heading's words say that numbers of people or things stand under it, which
    are no amounts.
    """
    return "number" in words and not words & (AMOUNTS - {"joined"}) and "phone" not in words


def names_people(words: frozenset[str]) -> bool:
    """Tell whether a heading says whom a roster is of, and nothing else: "Member"."""
    return bool(words) and words <= _PEOPLE


def begins(words: frozenset[str]) -> bool:
    """Tell whether a heading's words say that something begins: "valid from", "joined"."""
    return "from" in words or bool(words & {"joined", "hired"} and not words & {"until", "leave"})


def ends(words: frozenset[str]) -> bool:
    """Tell whether a heading's words say that something ends: "paid until", "left on"."""
    return bool(words & {"until", "leave"}) and "from" not in words


def meaning_of(words: frozenset[str]) -> str:
    """Say what a heading's words are about a person, as `means` has it; "" where that is unknown,
    or where it is about another person.
    """
    if words & _OTHERS:
        return ""
    own = words - _PEOPLE
    for means, phrases in MEANINGS.items():
        if any(own == words_of(phrase) for phrase in phrases):
            return means
    if own == {"born", "date"} or own == {"birth"}:
        return "birth-date"
    return ""


def speaks_of_people(words: frozenset[str]) -> int:
    """Rank a heading of numbers: 2 where it names the people of a roster or nothing else ("Member
    no.", "ID"), 1 where it names another thing, 0 where it is about another person.
    """
    if words & (_OTHERS | SUPERIORS):
        return 0
    rest = words - _PEOPLE - {"number"}
    return 2 if not rest or (len(rest) == 1 and next(iter(rest)).endswith(_NUMBER_TAILS)) else 1
