"""Read one text as a field of a type has it: codes, identifiers, mail, phone numbers, numbers,
years, yes and no.
"""

from __future__ import annotations

import re
from typing import TYPE_CHECKING

from nevefield.core.columns.identifiers import mend_identifier
from nevefield.core.columns.mail import why_no_mail
from nevefield.core.columns.numbers import read_number
from nevefield.core.columns.outcome import Outcome, Repair, make_problem
from nevefield.core.columns.plain import MAIL, is_phone
from nevefield.core.columns.words import NO, YES
from nevefield.core.texts import squeeze

if TYPE_CHECKING:
    from datetime import date

    from nevefield.core.codes import Code, CodeList
    from nevefield.core.definition import Field

__all__ = [
    "read_amount",
    "read_boolean",
    "read_code",
    "read_identifier",
    "read_mail",
    "read_phone",
    "read_year",
]


_INTEGER = re.compile(r"[+-]?\d{1,18}(?:[.,]0{1,2}|[.,]0{4,})?")
_EXTENSION = re.compile(r"(?i)(?<!\s)\s*+(?:ext\.?|x)\s*+\d+$")  # of a phone number


def read_code(one: Field, text: str, codes: CodeList, today: date, suggests: bool) -> Outcome:
    exact = codes.by_code.get(text)
    if exact is not None:
        return _code_in_use(one, text, exact, today)
    named = codes.named(text)
    current = [code for code in named if code.is_used(today) or (one.on_day and len(named) == 1)]
    if len(current) == 1:
        code = current[0]
        how = "is written" if code.code.casefold() == text.casefold() else "stands for"
        return code.code, None, Repair("label", f"“{text}” {how} {code.code}.")
    if len(named) == 1:
        return _code_in_use(one, text, named[0], today)
    fits = tuple(current) or (codes.suggest(text, today) if suggests else ())
    title = f"“{text}” is not a {one.title.lower()} code"
    if len(fits) == 1:
        code = fits[0]
        said = f"“{text}” is no code of the list; {code.code} is called “{code.label}”."
        return (
            text,
            make_problem(
                one,
                "code",
                said,
                title,
                group=f"→{code.code}",
                suggestions=(code.code,),
                shared=True,
            ),
            None,
        )
    said = f"“{text}” is no code of the list."
    if fits:
        said += f" It could be {' or '.join(f'{code.code} ({code.label})' for code in fits)}."
    found = tuple(code.code for code in fits)
    return (
        text,
        make_problem(
            one, "code", said, title, group=squeeze(text).casefold(), suggestions=found, shared=True
        ),
        None,
    )


def _code_in_use(one: Field, text: str, code: Code, today: date) -> Outcome:
    if code.is_used(today) or one.on_day:  # in use on the day that the row says: `check_code_days`
        return code.code, None, None
    said = f"{code.code} ({code.label}) {code.days(today)}."
    return (
        text,
        make_problem(one, "code", said, f"{code.code} {code.days(today)}", group=code.code),
        None,
    )


def read_identifier(one: Field, text: str) -> Outcome:
    scheme = one.identifier
    mended = mend_identifier(scheme, text)  # type: ignore[arg-type]
    if mended.problem:
        said = f"“{text}”: {mended.problem}."
        title = f"{one.title}: {mended.problem}"
        problem = make_problem(
            one, "identifier", said, title, group=mended.pattern, suggestions=mended.suggestions
        )
        return text, problem, None
    return mended.value, None, Repair(mended.repair, mended.message) if mended.repair else None


def read_mail(one: Field, text: str) -> Outcome:
    said = "" if re.match(MAIL, text) else why_no_mail(text)
    if said:
        return (
            text,
            make_problem(
                one,
                "format",
                f"“{text}” is no mail address. {said}",
                f"{one.title} is no mail address",
            ),
            None,
        )
    return text, None, None


def read_phone(one: Field, text: str) -> Outcome:
    if re.search(r"[^\d+()/. -]", _EXTENSION.sub("", text)) or not is_phone(text, one.region):
        return (
            text,
            make_problem(
                one, "format", f"“{text}” is no phone number.", f"{one.title} is no phone number"
            ),
            None,
        )
    return text, None, None


def read_amount(one: Field, text: str, mark: str) -> Outcome:
    whole = one.type == "integer"
    kind = "whole number" if whole else "number"
    # "12.0" of a spreadsheet; three noughts may be thousands
    if whole and _INTEGER.fullmatch(text):
        return str(int(re.split("[.,]", text)[0])), None, None
    found = read_number(text, mark)
    if found is None and mark and (other := read_number(text, "." if mark == "," else ",")):
        sign = "comma" if mark == "," else "point"
        said = (
            f"“{text}” does not go with the decimal {sign} of the column; it may be {other.value}."
        )
        suggestions = (other.value,) if other.value else ()
        return (
            text,
            make_problem(
                one, "type", said, f"{one.title}: another decimal mark", suggestions=suggestions
            ),
            None,
        )
    if found is not None and whole:
        fits = [
            value
            for value in ([found.value] if found.value else found.either)
            if value and "." not in value
        ]
        found = read_number(fits[0], "") if len(fits) == 1 else None if not fits else found
        if found is not None and found.value is not None:
            return found.value, None, Repair("number", f"“{text}” is read as {found.value}.")
    if found is None:
        return (
            text,
            make_problem(one, "type", f"“{text}” is no {kind}.", f"{one.title} is no {kind}"),
            None,
        )
    if found.value is None:
        said = (
            f"“{text}” is {found.either[0]} or {found.either[1]}; nothing in the column decides it."
        )
        title = f"{one.title}: comma or point before the decimals?"
        return text, make_problem(one, "decimal-mark", said, title, suggestions=found.either), None
    return (
        found.value,
        None,
        None if found.plain else Repair("number", f"“{text}” is read as {found.value}."),
    )


def read_boolean(one: Field, text: str) -> Outcome:
    word = text.casefold()
    if word in YES or word in NO:
        return "true" if word in YES else "false", None, None
    return (
        text,
        make_problem(
            one, "type", f"“{text}” is neither yes nor no.", f"{one.title} is neither yes nor no"
        ),
        None,
    )


def read_year(one: Field, text: str) -> Outcome:
    if not re.fullmatch(r"\d{4}", text):
        return (
            text,
            make_problem(one, "type", f"“{text}” is no year.", f"{one.title} is no year"),
            None,
        )
    return text, None, None
