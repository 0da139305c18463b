"""Values that stand in for one that nobody had: `none3@…`, one mail address for many people, a
phone number of one digit.
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Facts, Hit
from nevefield.core.texts import plain_letters

if TYPE_CHECKING:
    from collections.abc import Callable

    from numpy.typing import NDArray

    from nevefield.core.definition import Check, Field

__all__ = ["SHARED_BY", "check_stand_ins", "is_stand_in_mail", "is_stand_in_phone"]

SHARED_BY = 3  # people who may share a mail address: parents of brothers and sisters do
MOST_ALONE = 10  # addresses of many that are a cause each; those beyond are one together
# What people write before the @ in place of an address, in the languages that headings are read in;
# numbers and marks at its end are passed over.
_WORDS = """
none noone nobody nomail noemail nomailaddress noaddress na notavailable notgiven notknown unknown test tester dummy fake
placeholder missing x xx xxx xxxx asdf asdfg qwerty abc abcd anonymous anon
keine kein keinemail keinemailadresse unbekannt fehlt ohne sans aucun aucune inconnu inconnue pasdemail neant
ninguno ninguna nada sincorreo desconocido nessuno nessuna sconosciuto geen geenmail onbekend ingen inget brak niema
nieznany nenhum semmail desconhecido нет нету няма неизвестно
"""
_NOTHING = frozenset(_WORDS.split())
# As a domain only what says that there is none: `abc` or `test` may well be somebody's.
_NO_HOSTS = """
none noone nobody nomail noemail nomailaddress noaddress notavailable notgiven notknown unknown dummy placeholder
keine keinemail keinemailadresse unbekannt pasdemail inconnu sincorreo desconocido sconosciuto geenmail onbekend нет няма
"""
_NOWHERE = frozenset(_NO_HOSTS.split())
_RUNS = ("01234567890123456789", "98765432109876543210")
_LEAST_DIGITS = 6  # of a phone number's end that is looked at


def is_stand_in_mail(address: str) -> bool:
    """Tell whether a mail address stands in for none.

    >>> [is_stand_in_mail(one) for one in ("none3@q.example", "n.a@q.example", "keine@keine.de", "xenia@q.example")]
    [True, True, True, False]
    """
    local, _, domain = address.rpartition("@")
    return _bare(local) in _NOTHING or _bare(domain.split(".")[0]) in _NOWHERE


def _bare(text: str) -> str:
    letters = re.sub(r"[\W_]+", "", plain_letters(text).casefold())
    return re.sub(r"(?<!\d)\d+$", "", letters) or letters


def is_stand_in_phone(number: str) -> bool:
    """Tell whether a phone number can be nobody's: one digit over and over, or a run up or down.

    >>> [is_stand_in_phone(one) for one in ("+44 0000 000000", "0123456789", "+44 7700 900417", "112")]
    [True, True, False, False]
    """
    digits = "".join(filter(str.isdigit, number))
    end = digits[-_LEAST_DIGITS - 1 :]
    if len(end) < _LEAST_DIGITS:
        return False
    return len(set(end)) == 1 or any(end in run for run in _RUNS)


def check_stand_ins(facts: Facts, check: Check) -> list[Hit]:
    """Ask about values that stand in for one that nobody had, and about one address for many
    people.
    """
    hits: list[Hit] = []
    for name in check.fields:
        field = facts.definition.by_name[name]
        if name not in facts.typed:
            continue
        if field.is_mail:
            hits += _stand_ins(
                facts, check, field, is_stand_in_mail, "a stand-in for no address", "mail"
            )
            hits += _shared(facts, check, field) if not field.unique else []
        elif field.kind == "phone":
            hits += _stand_ins(
                facts, check, field, is_stand_in_phone, "no number that somebody has", "phone"
            )
    return hits


def _stand_ins(
    facts: Facts, check: Check, field: Field, is_one: Callable[[str], bool], what: str, group: str
) -> list[Hit]:
    column = facts.typed[field.name].stored
    wrong = np.array([*(is_one(text) for text in column.texts()), False], bool)
    rows = np.flatnonzero(wrong[column.codes] & facts.applies(check) & ~facts.problem(field.name))
    if not len(rows):
        return []

    def say(row: int) -> str:
        return (
            f"{field.title} “{facts.text(row, field.name)}” is {what}; leave it empty, or say why it is"
            " right."
        )

    named = f"{field.name}/{group}"
    return [
        Hit(
            check.check,
            field.name,
            check.reads_for(field.name),
            check.weight,
            rows,
            f"{field.title} is {what}",
            say,
            group=named,
        )
    ]


def _shared(facts: Facts, check: Check, field: Field) -> list[Hit]:
    """Ask about an address that more people have than may share one, counted over the file and
    the rest of the roster.
    """
    most = int(check.options.get("most", SHARED_BY))
    column = facts.folded[field.name]
    persons = facts.joined.person
    first = _first_of_each(persons, column.codes)
    counts = np.bincount(
        column.codes[first][column.codes[first] >= 0], minlength=len(column.values)
    )
    if len(facts.snapshot):
        theirs = facts.snapshot.folded(field.name)
        mine = np.zeros(len(facts.snapshot), bool)
        mine[facts.known.record[facts.known.record >= 0]] = True
        elsewhere = np.bincount(
            theirs.codes[~mine & (theirs.codes >= 0)], minlength=len(theirs.values)
        )
        place = {text: code for code, text in enumerate(theirs.texts())}
        counts = counts + np.array(
            [elsewhere[place[text]] if text in place else 0 for text in column.texts()], np.int64
        )
    many = np.append(counts > most, False)
    rows = np.flatnonzero(many[column.codes] & facts.applies(check) & ~facts.problem(field.name))
    sizes = counts[column.codes[rows]]
    order = np.lexsort((rows, column.codes[rows], -sizes))  # the address of the most people first
    rows, sizes = rows[order], sizes[order]
    begins = np.flatnonzero(np.diff(column.codes[rows], prepend=-1))

    def say(row: int) -> str:
        size, text = int(counts[column.codes[row]]), facts.text(row, field.name)
        return (
            f"{size:,} people have “{text}”: it is an office's rather than theirs. Leave it empty,"
            " or say why it is right."
        )

    def hit(some: NDArray[np.intp], title: str, of: str) -> Hit:
        group = f"{field.name}/{of}"
        return Hit(
            check.check,
            field.name,
            check.reads_for(field.name),
            check.weight,
            np.sort(some),
            title,
            say,
            group=group,
        )

    ends = [*begins[1:].tolist(), len(rows)]
    alone = zip(begins[:MOST_ALONE].tolist(), ends[:MOST_ALONE], strict=True) if len(rows) else ()
    hits = []
    for begin, end in alone:
        text = facts.text(int(rows[begin]), field.name)
        hits.append(
            hit(
                rows[begin:end],
                f"{field.title} “{text}” is that of {int(sizes[begin]):,} people",
                text,
            )
        )
    if len(begins) > MOST_ALONE:
        rest = rows[begins[MOST_ALONE] :]
        title = (
            f"{field.title}: {len(begins) - MOST_ALONE:,} more that are each of more than"
            f" {most:,} people"
        )
        hits.append(hit(rest, title, "several"))
    return hits


def _first_of_each(persons: NDArray[np.intp], codes: NDArray[np.int32]) -> NDArray[np.intp]:
    """Take one row of each person and value: two rows of one person are one that has it."""
    pairs = persons.astype(np.int64) * (int(codes.max(initial=0)) + 2) + codes + 1
    alone = persons < 0  # rows that are nobody in particular count each
    pairs[alone] = -np.arange(1, int(alone.sum()) + 1)
    return np.asarray(np.unique(pairs, return_index=True)[1], np.intp)
