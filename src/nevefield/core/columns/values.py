"""Texts of a column to values of a field, once for each distinct text.

A value is kept as text in the form that the roster stores: day `2026-09-01`, number `12.5`, yes/no
`true` and `false`, several values joined by `SEVERAL`, text trimmed.
"""

from __future__ import annotations

import dataclasses
import re
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.columns.damage import CUT_AT, ERRORS, clean_text, days_of_serial, mend_letters
from nevefield.core.columns.days import decide_order, other_century, read_day, say_day, swapped_days
from nevefield.core.columns.folding import fold_values
from nevefield.core.columns.identifiers import mend_identifier
from nevefield.core.columns.mail import why_no_mail
from nevefield.core.columns.numbers import decide_mark, read_number
from nevefield.core.columns.plain import ISO, MAIL, WHOLE, is_phone, plain_values, rank
from nevefield.core.columns.words import NO, YES
from nevefield.core.edits import limits
from nevefield.core.edits.trail import union
from nevefield.core.patterns import matches
from nevefield.core.table import Column
from nevefield.core.texts import SEVERAL, bare_cell, plain_letters, squeeze, squeeze_lines, trim

if TYPE_CHECKING:
    from collections.abc import Iterator, Mapping
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.core.codes import Code, CodeList
    from nevefield.core.definition import Field

__all__ = [
    "SEPARATORS",
    "SEVERAL",
    "TURNED",
    "Problem",
    "Repair",
    "Typed",
    "ValueContext",
    "convert",
    "edit",
    "refuse_limits",
]

# distinct texts of a coded column; with more it is another column, and likeness would only cost
# time
MOST_SUGGESTED = 5_000
# behind the order of day and month: real dates were turned round by a spreadsheet of the other
# order
TURNED = "-turned"
MOST_PARTS = 20  # values in one cell of which more than what is wrong is said
MOST_DIGITS = 20  # of a number that may have lost its zeros
LONGEST_MESSAGE = 400  # characters
_INTEGER = re.compile(r"[+-]?\d{1,18}(?:[.,]0{1,2}|[.,]0{4,})?")
_EXTENSION = re.compile(r"(?i)(?<!\s)\s*+(?:ext\.?|x)\s*+\d+$")  # of a phone number
SEPARATORS = (";", ",", "|", "/", "+", "&", "\n")  # that may stand between several codes in a cell
_DATETIME = re.compile(r"(\d{4}-\d\d-\d\d)[T ](\d\d:\d\d)(?::(\d\d))?(?:\.\d+)?Z?")


@dataclass(frozen=True)
class Problem:
    """Why a text is no value of its field."""

    check: str
    message: str
    group: str  # with check and field: which texts one remedy would settle
    title: str  # of the cause
    suggestions: tuple[str, ...] = ()  # values that it may mean, the likeliest first
    shared: bool = False  # the suggestion holds for every text of the group


@dataclass(frozen=True)
class Repair:
    """What was done to a text to make it a value."""

    kind: str  # spaces, case, zeros, day, number, label
    message: str


@dataclass(frozen=True)
class ValueContext:
    """What reading values needs beside the text."""

    codes: Mapping[str, CodeList]
    missing: frozenset[str]
    today: date
    # (field, text in the file) -> text
    translations: Mapping[tuple[str, str], str] = field(default_factory=dict)
    # field -> order of day and month, by hand
    orders: Mapping[str, str] = field(default_factory=dict)
    marks: Mapping[str, str] = field(default_factory=dict)  # field -> decimal mark, by hand
    # as the source's last file had them: where nothing decides
    last_orders: Mapping[str, str] = field(default_factory=dict)
    last_marks: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Typed:
    """One field's values over all rows."""

    field: Field
    raw: Column  # texts as in the file, edits included
    stored: Column  # values as the roster stores them; of a problem, the text trimmed
    problems: dict[int, Problem]  # by code of raw
    repairs: dict[int, Repair]  # by code of raw
    order: str = ""  # of day and month, as decided
    deciding: int = 0  # values that decided the order, or the mark
    mark: str = ""  # before the decimals, as decided
    turned: frozenset[str] = frozenset()  # real dates that a spreadsheet turned round
    separator: str = ""  # between several values in a cell, where it is not the definition's
    # The one reading that it was edited from: texts that are read anew may mean something else
    # though they are the same.
    line: object = dataclasses.field(default_factory=object, compare=False, repr=False)
    _wrong: list[NDArray[np.bool_]] = dataclasses.field(
        default_factory=list, compare=False, repr=False
    )
    # filled when first asked
    _folded: list[Column] = dataclasses.field(default_factory=list, compare=False, repr=False)

    def folded(self) -> Column:
        """Bring values that mean the same to the same text, for keys and comparing; worked out
        once, then kept.
        """
        if not self._folded:
            self._folded.append(self._fold())
        return self._folded[0]

    def _fold(self) -> Column:
        values = fold_values(self.field, self.stored.values)
        if values is self.stored.values:
            return self.stored
        distinct = values.dictionary_encode()
        codes = distinct.indices.to_numpy().astype(np.int32)
        rows = self.stored.codes
        return Column(
            distinct.dictionary,
            np.where(rows >= 0, codes[rows] if len(codes) else -1, -1).astype(np.int32),
        )

    def problem_rows(self) -> NDArray[np.bool_]:
        """Tell which rows have a problem here."""
        if not self._wrong:
            codes = np.zeros(len(self.raw.values) + 1, bool)  # the last one for -1: nothing there
            codes[list(self.problems)] = True
            self._wrong.append(codes[self.raw.codes])
        return self._wrong[0]

    def since(self, other: Typed) -> NDArray[np.intp] | None:
        """List the rows in which it may differ from another that was edited from the same
        reading; None for another reading.
        """
        if self.line is not other.line:
            return None
        raw, stored = self.raw.since(other.raw), self.stored.since(other.stored)
        return None if raw is None or stored is None else union((raw, stored))

    def take(self, rows: NDArray[np.intp]) -> Typed:
        """Keep a few rows, in the order given, with their own distinct texts and no others where
        these would be many.
        """
        if max(len(self.raw.values), len(self.stored.values)) <= limits.TEXTS:
            return self.pick(rows)
        raw = Column.of(self.raw.rows(rows))
        codes = dict(zip(raw.codes.tolist(), self.raw.codes[rows].tolist(), strict=True))
        codes.pop(-1, None)
        problems = {
            code: self.problems[there] for code, there in codes.items() if there in self.problems
        }
        repairs = {
            code: self.repairs[there] for code, there in codes.items() if there in self.repairs
        }
        stored = raw if self.stored is self.raw else Column.of(self.stored.rows(rows))
        taken = dataclasses.replace(
            self, raw=raw, stored=stored, problems=problems, repairs=repairs, _wrong=[], _folded=[]
        )
        taken._folded.append(self.folded().take(rows))
        return taken

    def pick(self, rows: NDArray[np.intp]) -> Typed:
        """Keep a few rows, in the order given, as they are: quicker than `take` where nobody
        looks through the distinct texts.
        """
        raw, stored = self.raw.take(rows), self.stored.take(rows)
        return dataclasses.replace(
            self,
            raw=raw,
            stored=stored,
            _wrong=[self.problem_rows()[rows]],
            _folded=[self.folded().take(rows)],
        )

    def put(self, values: Mapping[int, str | None]) -> Typed:
        """Store other values in some rows; what stands in the file stays."""
        if not values:
            return self
        stored = self.stored.replace(values)
        made = dataclasses.replace(self, stored=stored, _folded=[])
        if self._folded:
            made._folded.append(_fold_edit(self, values, stored))
        return made


Outcome = tuple["str | None", "Problem | None", "Repair | None"]
Reader = Callable[[str], Outcome]


def convert(
    one: Field, raw: Column, context: ValueContext, *, before: Column | None = None
) -> Typed:
    """Make values of a column's texts.

    Args:
        one: The field that the column goes to.
        raw: The texts as they stand.
        context: Code lists, missing values, the day, translations and choices by hand.
        before: The texts before anything was edited, where something was: they decide how the
            column is to be read.

    Returns:
        The values, with problems and repairs by distinct text; rows in their order.
    """
    order, deciding, mark, turned = "", 0, "", frozenset[str]()
    then = (before or raw).values
    if one.type in ("date", "datetime"):
        order, deciding = decide_order(
            then.filter(pc.invert(pc.match_substring_regex(then, ISO))).to_pylist()
        )
        turned = swapped_days(then.to_pylist(), order) if order else frozenset()
        order = context.orders.get(one.name, order or context.last_orders.get(one.name, ""))
        if one.name in context.orders and not order.endswith(TURNED):
            turned = frozenset()
    elif one.type in ("number", "integer"):
        mark, deciding = decide_mark(
            then.filter(pc.invert(pc.match_substring_regex(then, WHOLE))).to_pylist()
        )
        mark = context.marks.get(one.name, mark or context.last_marks.get(one.name, ""))
    separator = _separator(one, before or raw, context)
    read = _reader(one, order, mark, turned, context, suggests=len(raw.values) <= MOST_SUGGESTED)
    plain = plain_values(one, raw.values, context.missing, turned)
    for place, text in enumerate(
        raw.values.filter(pa.array(plain)).to_pylist() if _translated(one, context) else ()
    ):
        if (one.name, text) in context.translations:
            plain[np.flatnonzero(plain)[place]] = False
    odd = np.flatnonzero(~plain)
    problems: dict[int, Problem] = {}
    repairs: dict[int, Repair] = {}
    texts: list[str | None] = []
    is_same = True
    for code, text in zip(odd.tolist(), raw.values.take(pa.array(odd)).to_pylist(), strict=True):
        value, problem, repair = _read_one(one, text, context, read, separator)
        texts.append(value)
        is_same = is_same and value == text
        if problem:
            problems[code] = problem
        if repair:
            repairs[code] = repair
    stored = raw  # what is stored as it stands is kept once
    if not is_same:
        distinct = Column.encode(
            pc.replace_with_mask(raw.values, pa.array(~plain), pa.array(texts, pa.string()))
        )
        codes = np.where(
            raw.codes >= 0, distinct.codes[raw.codes] if len(distinct) else -1, -1
        ).astype(np.int32)
        stored = Column(distinct.values, codes)
    return Typed(
        one,
        raw,
        stored,
        problems,
        repairs,
        order.removesuffix(TURNED),
        deciding,
        mark,
        turned,
        separator if separator != one.several else "",
    )


def edit(typed: Typed, changes: Mapping[int, str], context: ValueContext) -> Typed:
    """Put other texts into single rows of a column that was read before: only these are read, as
    the column was.

    Args:
        typed: The column as read.
        changes: The new text of each row.
        context: The same as for `convert`.

    Returns:
        What `convert` would give for the whole column with these texts in it.
    """
    one = typed.field
    raw = typed.raw.replace(dict(changes))
    order = context.orders.get(one.name, typed.order)
    read = _reader(
        one, order, typed.mark, typed.turned, context, suggests=len(raw.values) <= MOST_SUGGESTED
    )
    problems, repairs = dict(typed.problems), dict(typed.repairs)
    values: dict[int, str | None] = {}
    known: dict[int, str | None] = {}
    for row, text in changes.items():
        code = int(raw.codes[row])
        if code not in known:
            value, problem, repair = _read_one(
                one, text, context, read, typed.separator or one.several
            )
            known[code] = value
            problems.pop(code, None)
            repairs.pop(code, None)
            if problem:
                problems[code] = problem
            if repair:
                repairs[code] = repair
        values[row] = known[code]
    plain = typed.stored is typed.raw and all(values[row] == text for row, text in changes.items())
    # what is stored as it stands is kept once
    stored = raw if plain else typed.stored.replace(values)
    edited = dataclasses.replace(
        typed, raw=raw, stored=stored, problems=problems, repairs=repairs, _wrong=[], _folded=[]
    )
    edited._folded.append(_fold_edit(typed, values, stored))
    if typed._wrong:
        wrong = typed.problem_rows().copy()
        wrong[list(changes)] = [int(raw.codes[row]) in problems for row in changes]
        edited._wrong.append(wrong)
    return edited


def _fold_edit(typed: Typed, values: Mapping[int, str | None], stored: Column) -> Column:
    """Fold only what was edited; the rest is folded already."""
    small = Typed(typed.field, *(Column.of(list(values.values())),) * 2, {}, {}).folded()
    if typed.folded() is typed.stored and all(
        small.at(place) == text for place, text in enumerate(values.values())
    ):
        return stored  # folding changes nothing: one column serves for both
    return typed.folded().replace({row: small.at(place) for place, row in enumerate(values)})


def _separator(one: Field, raw: Column, context: ValueContext) -> str:
    """Find what stands between several codes in a cell: the definition's sign, unless another
    makes more texts readable.
    """
    if not one.several or not one.code_list or len(raw.values) > MOST_SUGGESTED:
        return one.several
    codes = context.codes[one.code_list]
    texts = [trim(text) for text in raw.texts()]

    def readable(at: str) -> int:
        parts = ([part for part in map(trim, text.split(at)) if part] for text in texts)
        return sum(
            bool(some) and all(part in codes.by_code or codes.named(part) for part in some)
            for some in parts
        )

    return max((one.several, *SEPARATORS), key=lambda at: (readable(at), at == one.several))


def _translated(one: Field, context: ValueContext) -> bool:
    return any(name == one.name for name, _ in context.translations)


def _read_one(
    one: Field, text: str, context: ValueContext, read: Reader, separator: str
) -> Outcome:
    given = context.translations.get((one.name, text), text)
    came = trim(given.replace(SEVERAL, " ") if one.several else given)
    trimmed = bare_cell(came)
    if trimmed in context.missing:
        return None, None, None
    if trimmed in ERRORS:
        said = f"the spreadsheet shows the error {trimmed} in place of a value; ask for the value."
        return (
            trimmed,
            _problem(one, "damage", said, f"{one.title}: errors of the spreadsheet", group="error"),
            None,
        )
    mended = mend_letters(trimmed)
    cleaned, what = _clean(one, mended or trimmed)
    value, problem, repair = (
        _read_several(cleaned, read, separator) if one.several else read(cleaned)
    )
    if mended and problem is None:
        repair = Repair("letters", f"“{trimmed}” was read in the wrong encoding: {mended}.")
    elif what and repair is None:
        words = {"spaces": "Odd spaces in", "quotes": "Curly quotation marks in"}
        repair = Repair(what, f"{words[what]} “{trimmed}” were made plain.")
    elif trimmed != came:
        repair = Repair(
            "apostrophe",
            f"The apostrophe that keeps a spreadsheet from working out “{trimmed}” was taken off.",
        )
    elif len(trimmed) == CUT_AT and one.type == "string":
        repair = Repair(
            "cut",
            f"The text is exactly {CUT_AT} characters long: it may have been cut off on its way.",
        )
    if problem is None and value is not None:
        problem = refuse_limits(one, value)
        if problem is not None and value != cleaned:  # said is what the file has
            problem = replace(
                problem,
                message=problem.message.replace(f"“{value}”", f"“{cleaned[:LONGEST_MESSAGE]}”", 1),
            )
    if problem is not None:
        return trimmed, problem, None
    if repair is None and trimmed != given and given == text:
        repair = Repair("spaces", f"Spaces around “{trimmed}” were taken off.")
    return value, None, repair if given == text else None


def _clean(one: Field, text: str) -> tuple[str, str]:
    """Make odd spaces plain; of what is no free text, quotation marks too, which no code or
    number has.
    """
    if one.type == "string" and not one.folds_case and not one.is_telling:
        squeezed = squeeze_lines(text)
        return squeezed, "spaces" if squeezed != text else ""
    return clean_text(text)


def _read_several(text: str, read: Reader, separator: str) -> Outcome:
    values: list[str] = []
    first: Repair | None = None
    parts = [part for part in map(trim, text.split(separator)) if part]
    for place, part in enumerate(parts):
        value, problem, repair = read(part)
        if problem:
            return text, _of_whole(problem, parts, place, read, separator), None
        first = first or repair
        if value is not None and value not in values:
            values.append(value)
    return SEVERAL.join(values) or None, None, first


def _of_whole(
    problem: Problem, parts: list[str], place: int, read: Reader, separator: str
) -> Problem:
    """Say of several values what is said of one that is wrong: no suggestion loses the others,
    or one of two that it may be.
    """
    if problem.check != "code" or len(parts) > MOST_PARTS:
        return problem
    divided = next(filter(None, (_divide(parts[place], at, read) for at in (*SEPARATORS, " "))), [])
    options = [*([separator.join(divided)] if divided else []), *problem.suggestions]
    if not options or (len(parts) == 1 and not divided):
        return problem
    whole = tuple(
        separator.join([*parts[:place], option, *parts[place + 1 :]]) for option in options
    )
    said = problem.message
    if divided:
        both = f"It could be {' and '.join(divided)} together"
        said = (
            said.replace("It could be ", f"{both}, or ", 1)
            if "It could be " in said
            else f"{said} {both}."
        )
    return replace(
        problem, message=said, group=squeeze(separator.join(parts)).casefold(), suggestions=whole
    )


def _divide(part: str, at: str, read: Reader) -> list[str]:
    """Part a text that may be several values by a sign; [] where not all of its parts are
    values.
    """
    found = [piece for piece in map(trim, part.split(at)) if piece] if at in part else []
    return (
        found
        if 2 <= len(found) <= MOST_PARTS and all(read(piece)[1] is None for piece in found)
        else []
    )


def _reader(
    one: Field,
    order: str,
    mark: str,
    turned: frozenset[str],
    context: ValueContext,
    *,
    suggests: bool,
) -> Reader:
    if one.code_list:
        codes = context.codes[one.code_list]
        return lambda text: _read_code(one, text, codes, context.today, suggests)
    if one.identifier is not None:
        return lambda text: _read_identifier(one, text)
    if one.is_mail:
        return lambda text: _read_mail(one, text)
    if one.kind == "phone":
        return lambda text: _read_phone(one, text)
    if one.type == "date":
        return lambda text: _read_date(one, text, order, context.today, turned)
    if one.type == "datetime":
        return lambda text: _read_datetime(one, text, order, context.today)
    if one.type in ("integer", "number"):
        return lambda text: _read_number(one, text, mark)
    simple: dict[str, Callable[[Field, str], Outcome]] = {
        "boolean": _read_boolean,
        "year": _read_year,
    }
    function = simple.get(one.type)
    return (lambda text: function(one, text)) if function else (lambda text: (text, None, None))


def refuse_limits(one: Field, value: str) -> Problem | None:
    """Check a value against the field's constraints (Table Schema, "constraints")."""
    for part in value.split(SEVERAL) if one.several else (value,):
        if one.minimum and rank(one, part) < rank(one, one.minimum):
            word = "before" if one.type in ("date", "datetime") else "less than"
            return _problem(
                one,
                "minimum",
                f"“{part}” is {word} {one.minimum}.",
                f"{one.title} is {word} {one.minimum}",
            )
        if one.maximum and rank(one, part) > rank(one, one.maximum):
            word = "after" if one.type in ("date", "datetime") else "more than"
            return _problem(
                one,
                "maximum",
                f"“{part}” is {word} {one.maximum}.",
                f"{one.title} is {word} {one.maximum}",
            )
        if one.min_length is not None and len(part) < one.min_length:
            said = f"“{part}” has {len(part)} characters; at least {one.min_length} are needed."
            return _problem(one, "minLength", said, f"{one.title} is too short")
        if one.max_length is not None and len(part) > one.max_length:
            said = f"“{part}” has {len(part)} characters; at most {one.max_length} fit."
            return _problem(one, "maxLength", said, f"{one.title} is too long")
        if one.pattern and not matches(one.pattern, part):
            return _refuse_form(one, part)
        if one.enum and part not in one.enum:
            said = f"“{part}” is none of {', '.join(one.enum[:8])}."
            return _problem(one, "enum", said, f"“{part}” is no {one.title.lower()}", group=part)
    return None


def _refuse_form(one: Field, text: str) -> Problem:
    """Say that a text has another form than it has to, and what it may have been: in plain
    letters, or with lost zeros.
    """
    said, title = f"“{text}” has not the form {one.pattern}.", f"{one.title} has another form"
    if one.several:
        return _problem(one, "pattern", said, title)
    plain = plain_letters(text)
    if plain != text and matches(one.pattern, plain):
        title = f"{one.title} has letters that it cannot hold"
        return _problem(
            one, "pattern", f"{said} In plain letters it has: {plain}.", title, suggestions=(plain,)
        )
    whole = next((zeros for zeros in _with_zeros(text) if matches(one.pattern, zeros)), "")
    if whole:
        title = f"{one.title}: leading zeros may be lost"
        said = f"{said} With the zeros that a spreadsheet takes away: {whole}."
        return _problem(one, "pattern", said, title, suggestions=(whole,))
    return _problem(one, "pattern", said, title)


def _with_zeros(text: str) -> Iterator[str]:
    """Give zeros back that a number may have lost: before it, one more each time, or behind the
    letters that it begins with.
    """
    letters = re.match(r"[^\W\d_]*", text[:20])
    head = letters[0] if letters else ""
    if len(text) <= MOST_DIGITS and text[len(head) :].isdecimal():
        for count in range(1, MOST_DIGITS - len(text) + 1):
            yield head + "0" * count + text[len(head) :]


def _problem(
    one: Field,
    check: str,
    message: str,
    title: str,
    *,
    group: str = "",
    suggestions: tuple[str, ...] = (),
    shared: bool = False,
) -> Problem:
    if len(message) > LONGEST_MESSAGE:  # a cell may be megabytes
        message = f"{message[: LONGEST_MESSAGE // 2]} … {message[-LONGEST_MESSAGE // 4 :]}"
    return Problem(
        check,
        f"{one.title}: {message}",
        group or title,
        title[:LONGEST_MESSAGE],
        suggestions,
        shared,
    )


def _read_code(one: Field, text: str, codes: CodeList, today: date, suggests: bool) -> Outcome:
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
            _problem(
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
        _problem(
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
        _problem(one, "code", said, f"{code.code} {code.days(today)}", group=code.code),
        None,
    )


def _read_identifier(one: Field, text: str) -> Outcome:
    scheme = one.identifier
    mended = mend_identifier(scheme, text)  # type: ignore[arg-type]
    if mended.problem:
        said = f"“{text}”: {mended.problem}."
        title = f"{one.title}: {mended.problem}"
        problem = _problem(
            one, "identifier", said, title, group=mended.pattern, suggestions=mended.suggestions
        )
        return text, problem, None
    return mended.value, None, Repair(mended.repair, mended.message) if mended.repair else None


def _read_mail(one: Field, text: str) -> Outcome:
    said = "" if re.match(MAIL, text) else why_no_mail(text)
    if said:
        return (
            text,
            _problem(
                one,
                "format",
                f"“{text}” is no mail address. {said}",
                f"{one.title} is no mail address",
            ),
            None,
        )
    return text, None, None


def _read_phone(one: Field, text: str) -> Outcome:
    if re.search(r"[^\d+()/. -]", _EXTENSION.sub("", text)) or not is_phone(text, one.region):
        return (
            text,
            _problem(
                one, "format", f"“{text}” is no phone number.", f"{one.title} is no phone number"
            ),
            None,
        )
    return text, None, None


def _read_date(
    one: Field, text: str, order: str, today: date, turned: frozenset[str] = frozenset()
) -> Outcome:
    back = order.endswith(TURNED)
    order = order.removesuffix(TURNED)
    found = read_day(text, order, today)
    other = (
        None if found or not order else read_day(text, "mdy" if order == "dmy" else "dmy", today)
    )
    if other and other.day:
        first = "day" if order == "dmy" else "month"
        said = (
            f"“{text}” is no day with the {first} first, as the column has it; the other way round"
            f" it is {say_day(other.day)}."
        )
        title = f"{one.title}: day and month swapped"
        return (
            text,
            _problem(one, "date-swapped", said, title, suggestions=(other.day.isoformat(),)),
            None,
        )
    if text in turned and found and found.day:
        turned_back = found.day.replace(month=found.day.day, day=found.day.month)
        if back:
            return (
                turned_back.isoformat(),
                None,
                Repair("day", f"“{text}” had been turned round: {say_day(turned_back)}."),
            )
        said = (
            f"{say_day(found.day)} may have been {say_day(turned_back)}: the spreadsheet has turned"
            " every text that it could into a date of its own order, and left the rest as text."
        )
        return (
            text,
            _problem(
                one,
                "dates-turned",
                said,
                f"{one.title}: days that a spreadsheet may have turned round",
            ),
            None,
        )
    if found is None and (serials := days_of_serial(text)):
        fits = tuple(
            day.isoformat() for day in serials if refuse_limits(one, day.isoformat()) is None
        )[:1]
        either = f"{say_day(serials[0])}, or {say_day(serials[1])} if it counts from 1904"
        said = f"“{text}” is a day that a spreadsheet turned into a number: {either}."
        return (
            text,
            _problem(
                one,
                "damage",
                said,
                f"{one.title}: days turned into numbers",
                group="serial",
                suggestions=fits,
            ),
            None,
        )
    if found is None:
        return text, _problem(one, "type", f"“{text}” is no day.", f"{one.title} is no day"), None
    if found.day is None:
        one_way, other_way = found.either
        said = (
            f"“{text}” is {say_day(one_way)} or {say_day(other_way)}; nothing in the column"
            " decides it."
        )
        both = (one_way.isoformat(), other_way.isoformat())
        title = f"{one.title}: day or month first?"
        return text, _problem(one, "date-order", said, title, suggestions=both), None
    day, century = found.day, other_century(text, found.day)
    if (
        century is not None
        and century.year <= today.year + 20
        and refuse_limits(one, century.isoformat()) is None
    ):
        wrong = refuse_limits(one, day.isoformat())
        if one.means == "birth-date" and day > today:
            day = century  # nobody is born later than today
        elif wrong is not None:
            said = (
                f"“{text}” has a year of two digits: as {say_day(day)} it does not fit, as"
                f" {say_day(century)} it does."
            )
            title = f"{one.title}: which century?"
            return (
                text,
                _problem(
                    one,
                    wrong.check,
                    said,
                    title,
                    suggestions=(century.isoformat(), day.isoformat()),
                ),
                None,
            )
    return (
        day.isoformat(),
        None,
        None if found.plain else Repair("day", f"“{text}” is read as {say_day(day)}."),
    )


def _read_datetime(one: Field, text: str, order: str, today: date) -> Outcome:
    found = _DATETIME.fullmatch(text)
    day = read_day(found[1], order, today) if found else read_day(text, order, today)
    if day is None or day.day is None or (found and not _is_time(found[2])):
        return (
            text,
            _problem(one, "type", f"“{text}” is no day with a time.", f"{one.title} is no time"),
            None,
        )
    clock = f"{found[2]}:{found[3] or '00'}" if found else "00:00:00"
    return f"{day.day.isoformat()}T{clock}", None, None


def _is_time(text: str) -> bool:
    hour, minute = text.split(":")
    return int(hour) < 24 and int(minute) < 60


def _read_number(one: Field, text: str, mark: str) -> Outcome:
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
            _problem(
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
            _problem(one, "type", f"“{text}” is no {kind}.", f"{one.title} is no {kind}"),
            None,
        )
    if found.value is None:
        said = (
            f"“{text}” is {found.either[0]} or {found.either[1]}; nothing in the column decides it."
        )
        title = f"{one.title}: comma or point before the decimals?"
        return text, _problem(one, "decimal-mark", said, title, suggestions=found.either), None
    return (
        found.value,
        None,
        None if found.plain else Repair("number", f"“{text}” is read as {found.value}."),
    )


def _read_boolean(one: Field, text: str) -> Outcome:
    word = text.casefold()
    if word in YES or word in NO:
        return "true" if word in YES else "false", None, None
    return (
        text,
        _problem(
            one, "type", f"“{text}” is neither yes nor no.", f"{one.title} is neither yes nor no"
        ),
        None,
    )


def _read_year(one: Field, text: str) -> Outcome:
    if not re.fullmatch(r"\d{4}", text):
        return text, _problem(one, "type", f"“{text}” is no year.", f"{one.title} is no year"), None
    return text, None, None
