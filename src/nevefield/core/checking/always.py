"""The checks that follow from the fields themselves, and need no declaration: what they hold,
and what fails.
"""

from __future__ import annotations

from dataclasses import dataclass

__all__ = ["ALWAYS", "Always"]


@dataclass(frozen=True)
class Always:
    """A check that follows from a field's own properties, and needs no declaration."""

    name: str
    weight: str
    holds: str
    fails: str


ALWAYS = (
    Always(
        "required",
        "stop",
        "a required field is filled, in a new record at least",
        "a new cadet without given names",
    ),
    Always("type", "stop", "the text is a value of the field's type", "`31/02/2027` as a day"),
    Always(
        "format",
        "stop",
        "a mail address or phone number is one",
        "a phone number in the mail column",
    ),
    Always("minimum", "stop", "the constraint `minimum` holds", "born 1899-01-01 for 1940-01-01"),
    Always("maximum", "stop", "the constraint `maximum` holds", "card number 70000 for 65535"),
    Always("minLength", "stop", "the constraint `minLength` holds", "`A` for two characters"),
    Always(
        "maxLength", "stop", "the constraint `maxLength` holds", "a name of 80 characters for 60"
    ),
    Always(
        "pattern",
        "stop",
        "the constraint `pattern` holds; where only accents are in the way, the plain text is"
        " offered",
        "berth `E123` for `[A-D][0-9]{3}`",
    ),
    Always("enum", "stop", "the constraint `enum` holds", "`maybe` for yes, no"),
    Always(
        "date-order",
        "stop",
        "day and month can be told apart",
        "`03/04/2026` in a column where nothing decides; one click settles the column",
    ),
    Always(
        "date-swapped",
        "stop",
        "a day is one in the order that the column has; the day that was meant is offered",
        "`03/25/2008` among days with the day first",
    ),
    Always(
        "dates-turned",
        "stop",
        "real dates were not turned round by a spreadsheet of the other order: found when all of"
        " them have days up to 12 while every text has a part over 12; turned back by one click",
        "`2008-04-03` beside `25/04/2008`",
    ),
    Always(
        "decimal-mark",
        "stop",
        "it is clear whether a comma or a point stands before the decimals",
        "`1,234` in a column where nothing decides",
    ),
    Always(
        "identifier",
        "stop",
        "prefix, alphabet, length and check character fit the field's `identifier`",
        "`TQ2044105`",
    ),
    Always(
        "code",
        "stop",
        "the code is in the list, and in use on the day: today, or that of the field `onDay`",
        "“Deck dept”",
    ),
    Always(
        "parent",
        "stop",
        "the code's parent is the value of the parent field",
        "programme ENGR in department NAV",
    ),
    Always(
        "damage",
        "stop",
        "no error of a spreadsheet (`#REF!`) and no day turned into a number stands in place of a"
        " value",
        "`39521` as a day",
    ),
    Always(
        "reference",
        "stop",
        "a foreign key leads to a record of the roster it names, or to a row of the file; it is"
        " compared as the field is that it refers to",
        "a manager whom nobody knows",
    ),
    Always(
        "by-hand",
        "ask",
        "a value that somebody set by hand since the source's last file is not changed back",
        "a new phone number that the registrar typed in last week, and the old one in the file",
    ),
    Always(
        "outside-part",
        "stop",
        "where whoever brings the file has a part of the roster, every row is in it",
        "a cadet of TS Merganser in the file of somebody who has Castle Hill",
    ),
    Always(
        "taken-outside",
        "stop",
        "nobody outside of that part has the value that only one may have; who it is is not said",
        "a number of somebody of another campus",
    ),
    Always(
        "passed-over",
        "note",
        "the file is for such people: where it only adds, rows of people in the roster are left"
        " out; where it only changes, the others",
        "somebody new, in a file that was told to change people only",
    ),
    Always(
        "one-group",
        "ask",
        "of a kind of group that allows `one`, nobody is in two at a time",
        "somebody who joins another house while they are in one",
    ),
    Always(
        "loop",
        "stop",
        "references that are declared a hierarchy go in no circle",
        "two who manage each other",
    ),
    Always(
        "duplicate",
        "stop, or note",
        "no two rows are one person; equal rows go in once, with a note",
        "two rows with one cadet number",
    ),
    Always(
        "unknown-key",
        "stop",
        "a key leads to somebody, in a file that has no column for what a new person needs; what is"
        " missing then follows from it",
        "a list of numbers and phones, with a number that nobody has",
    ),
    Always(
        "number-shared",
        "stop",
        "rows with one number are one person: given names and days of birth (or, without these,"
        " both names) do not plainly differ",
        "Ines Adair, born 2008, and Kornel Brandt, born 1999, under one number",
    ),
    Always(
        "joined",
        "note",
        "nothing: tells which rows are one person and go in together, because they differ only in"
        " fields that take several values",
        "one row per chapter",
    ),
    Always(
        "same-person",
        "as the row it follows from",
        "no other row of the same person is stopped or waits",
        "a wrong chapter code in the second of three rows",
    ),
    Always(
        "who",
        "ask",
        "a row that no key knows is like nobody in the roster, or like one person beyond doubt",
        "the name and day of birth of two people in the roster",
    ),
    Always(
        "alike",
        "ask",
        "no two rows that nobody in the roster is are alike in name, day of birth and the rest,"
        " whatever their numbers say",
        "one person on two lines, once with a digit of the number mistyped",
    ),
    Always(
        "names-turned",
        "stop",
        "family and given name of somebody known by likeness stand where the roster has them",
        "Lorcan, Oakshaw for Oakshaw, Lorcan",
    ),
    Always(
        "likeness",
        "note",
        "nothing: tells which rows are taken for somebody by likeness, with the score",
        "a number that nobody has, with the name, day of birth and mail address of somebody",
    ),
    Always(
        "unique",
        "stop",
        "a unique value stands in one row of the file, alone or together with others",
        "one mail address in two rows",
    ),
    Always(
        "unique-in-roster",
        "stop",
        "nobody else in the roster has the value, unless this file gives them another",
        "a mail address of another cadet",
    ),
    Always(
        "keys-disagree",
        "stop",
        "all keys of a row point to one record",
        "the number of one, the mail of another",
    ),
    Always(
        "shifted",
        "stop",
        "no part of the row stands a column too far to the right or left",
        "mail under phone, and phone under home port",
    ),
    Always(
        "since",
        "ask",
        "a row that stayed open when its file was applied goes in only once somebody has said so,"
        " whatever became of roster, codes or day",
        "a row that waited for a person, of whom the roster has nobody like them any more",
    ),
    Always(
        "repaired",
        "note",
        "nothing: tells what was mended with certainty, with the text as it was",
        "“ Adair ”",
    ),
)
