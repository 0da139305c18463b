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


def read_code(field: Field, text: str, codes: CodeList, today: date, suggests: bool) -> Outcome:
    exact = codes.by_code.get(text)
    if exact is not None:
        return _code_in_use(field, text, exact, today)
    named = codes.named(text)
    current = [code for code in named if code.is_used(today) or (field.on_day and len(named) == 1)]
    if len(current) == 1:
        code = current[0]
        how = "is written" if code.code.casefold() == text.casefold() else "stands for"
        return code.code, None, Repair("label", f"“{text}” {how} {code.code}.")
    if len(named) == 1:
        return _code_in_use(field, text, named[0], today)
    fits = tuple(current) or (codes.suggest(text, today) if suggests else ())
    title = f"“{text}” is not a {field.title.lower()} code"
    if len(fits) == 1:
        code = fits[0]
        message = f"“{text}” is no code of the list; {code.code} is called “{code.label}”."
        return (
            text,
            make_problem(
                field,
                "code",
                message,
                title,
                group=f"→{code.code}",
                suggestions=(code.code,),
                shared=True,
            ),
            None,
        )
    message = f"“{text}” is no code of the list."
    if fits:
        message += f" It could be {' or '.join(f'{code.code} ({code.label})' for code in fits)}."
    texts = tuple(code.code for code in fits)
    return (
        text,
        make_problem(
            field,
            "code",
            message,
            title,
            group=squeeze(text).casefold(),
            suggestions=texts,
            shared=True,
        ),
        None,
    )


def _code_in_use(field: Field, text: str, code: Code, today: date) -> Outcome:
    if (
        code.is_used(today) or field.on_day
    ):  # in use on the day that the row says: `check_code_days`
        return code.code, None, None
    message = f"{code.code} ({code.label}) {code.days(today)}."
    return (
        text,
        make_problem(field, "code", message, f"{code.code} {code.days(today)}", group=code.code),
        None,
    )


def read_identifier(field: Field, text: str) -> Outcome:
    scheme = field.identifier
    mended = mend_identifier(scheme, text)  # type: ignore[arg-type]
    if mended.problem:
        message = f"“{text}”: {mended.problem}."
        title = f"{field.title}: {mended.problem}"
        problem = make_problem(
            field,
            "identifier",
            message,
            title,
            group=mended.pattern,
            suggestions=mended.suggestions,
        )
        return text, problem, None
    return mended.value, None, Repair(mended.repair, mended.message) if mended.repair else None


def read_mail(field: Field, text: str) -> Outcome:
    message = "" if re.match(MAIL, text) else why_no_mail(text)
    if message:
        return (
            text,
            make_problem(
                field,
                "format",
                f"“{text}” is no mail address. {message}",
                f"{field.title} is no mail address",
            ),
            None,
        )
    return text, None, None


def read_phone(field: Field, text: str) -> Outcome:
    if re.search(r"[^\d+()/. -]", _EXTENSION.sub("", text)) or not is_phone(text, field.region):
        return (
            text,
            make_problem(
                field,
                "format",
                f"“{text}” is no phone number.",
                f"{field.title} is no phone number",
            ),
            None,
        )
    return text, None, None


def read_amount(field: Field, text: str, mark: str) -> Outcome:
    whole = field.type == "integer"
    kind = "whole number" if whole else "number"
    # "12.0" of a spreadsheet; three noughts may be thousands
    if whole and _INTEGER.fullmatch(text):
        return str(int(re.split("[.,]", text)[0])), None, None
    read = read_number(text, mark)
    if read is None and mark and (number := read_number(text, "." if mark == "," else ",")):
        sign = "comma" if mark == "," else "point"
        message = (
            f"“{text}” does not go with the decimal {sign} of the column; it may be {number.value}."
        )
        suggestions = (number.value,) if number.value else ()
        return (
            text,
            make_problem(
                field,
                "type",
                message,
                f"{field.title}: another decimal mark",
                suggestions=suggestions,
            ),
            None,
        )
    if read is not None and whole:
        fits = [
            value
            for value in ([read.value] if read.value else read.either)
            if value and "." not in value
        ]
        read = read_number(fits[0], "") if len(fits) == 1 else None if not fits else read
        if read is not None and read.value is not None:
            return read.value, None, Repair("number", f"“{text}” is read as {read.value}.")
    if read is None:
        return (
            text,
            make_problem(field, "type", f"“{text}” is no {kind}.", f"{field.title} is no {kind}"),
            None,
        )
    if read.value is None:
        message = (
            f"“{text}” is {read.either[0]} or {read.either[1]}; nothing in the column decides it."
        )
        title = f"{field.title}: comma or point before the decimals?"
        return (
            text,
            make_problem(field, "decimal-mark", message, title, suggestions=read.either),
            None,
        )
    return (
        read.value,
        None,
        None if read.plain else Repair("number", f"“{text}” is read as {read.value}."),
    )


def read_boolean(field: Field, text: str) -> Outcome:
    word = text.casefold()
    if word in YES or word in NO:
        return "true" if word in YES else "false", None, None
    return (
        text,
        make_problem(
            field,
            "type",
            f"“{text}” is neither yes nor no.",
            f"{field.title} is neither yes nor no",
        ),
        None,
    )


def read_year(field: Field, text: str) -> Outcome:
    if not re.fullmatch(r"\d{4}", text):
        return (
            text,
            make_problem(field, "type", f"“{text}” is no year.", f"{field.title} is no year"),
            None,
        )
    return text, None, None
