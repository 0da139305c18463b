"""Texts of a column to values of a field, once for each distinct text.

A value is kept as text in the form that the roster stores: day `2026-09-01`, number `12.5`, yes/no
`true` and `false`, several values joined by `SEVERAL`, text trimmed.
"""

from __future__ import annotations

import dataclasses
from collections.abc import Callable
from dataclasses import dataclass, field, replace
from typing import TYPE_CHECKING

import numpy as np
import pyarrow as pa
import pyarrow.compute as pc

from nevefield.core.columns.damage import CUT_AT, ERRORS, clean_text, mend_letters
from nevefield.core.columns.dated import TURNED, read_date, read_datetime
from nevefield.core.columns.days import decide_order, swapped_days
from nevefield.core.columns.folding import fold_values
from nevefield.core.columns.limits import refuse_limits
from nevefield.core.columns.numbers import decide_mark
from nevefield.core.columns.outcome import (
    LONGEST_MESSAGE,
    Outcome,
    Problem,
    Reader,
    Repair,
    make_problem,
)
from nevefield.core.columns.plain import ISO, WHOLE, plain_values
from nevefield.core.columns.types import (
    read_amount,
    read_boolean,
    read_code,
    read_identifier,
    read_mail,
    read_phone,
    read_year,
)
from nevefield.core.edits import limits
from nevefield.core.edits.trail import union
from nevefield.core.table import Column
from nevefield.core.texts import SEVERAL, bare_cell, squeeze, squeeze_lines, trim

if TYPE_CHECKING:
    from collections.abc import Mapping
    from datetime import date

    from numpy.typing import NDArray

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Field

__all__ = ["SEPARATORS", "Typed", "ValueContext", "convert", "edit"]


# distinct texts of a coded column; with more it is another column, and likeness would only cost
# time
MOST_SUGGESTED = 5_000
MOST_PARTS = 20  # values in one cell of which more than what is wrong is said
SEPARATORS = (";", ",", "|", "/", "+", "&", "\n")  # that may stand between several codes in a cell


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

    def since(self, typed: Typed) -> NDArray[np.intp] | None:
        """List the rows in which it may differ from another that was edited from the same
        reading; None for another reading.
        """
        if self.line is not typed.line:
            return None
        raw, stored = self.raw.since(typed.raw), self.stored.since(typed.stored)
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
        column = dataclasses.replace(self, stored=stored, _folded=[])
        if self._folded:
            column._folded.append(_fold_edit(self, values, stored))
        return column


def convert(
    field: Field, raw: Column, context: ValueContext, *, before: Column | None = None
) -> Typed:
    """Make values of a column's texts.

    Args:
        field: The field that the column goes to.
        raw: The texts as they stand.
        context: Code lists, missing values, the day, translations and choices by hand.
        before: The texts before anything was edited, where something was: they decide how the
            column is to be read.

    Returns:
        The values, with problems and repairs by distinct text; rows in their order.
    """
    order, deciding, mark, turned = "", 0, "", frozenset[str]()
    then = (before or raw).values
    if field.type in ("date", "datetime"):
        order, deciding = decide_order(
            then.filter(pc.invert(pc.match_substring_regex(then, ISO))).to_pylist()
        )
        turned = swapped_days(then.to_pylist(), order) if order else frozenset()
        order = context.orders.get(field.name, order or context.last_orders.get(field.name, ""))
        if field.name in context.orders and not order.endswith(TURNED):
            turned = frozenset()
    elif field.type in ("number", "integer"):
        mark, deciding = decide_mark(
            then.filter(pc.invert(pc.match_substring_regex(then, WHOLE))).to_pylist()
        )
        mark = context.marks.get(field.name, mark or context.last_marks.get(field.name, ""))
    separator = _separator(field, before or raw, context)
    read = _reader(field, order, mark, turned, context, suggests=len(raw.values) <= MOST_SUGGESTED)
    plain = plain_values(field, raw.values, context.missing, turned)
    for place, text in enumerate(
        raw.values.filter(pa.array(plain)).to_pylist() if _translated(field, context) else ()
    ):
        if (field.name, text) in context.translations:
            plain[np.flatnonzero(plain)[place]] = False
    odd = np.flatnonzero(~plain)
    problems: dict[int, Problem] = {}
    repairs: dict[int, Repair] = {}
    texts: list[str | None] = []
    is_same = True
    for code, text in zip(odd.tolist(), raw.values.take(pa.array(odd)).to_pylist(), strict=True):
        value, problem, repair = _read_one(field, text, context, read, separator)
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
        field,
        raw,
        stored,
        problems,
        repairs,
        order.removesuffix(TURNED),
        deciding,
        mark,
        turned,
        separator if separator != field.several else "",
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
    field = typed.field
    raw = typed.raw.replace(dict(changes))
    order = context.orders.get(field.name, typed.order)
    read = _reader(
        field, order, typed.mark, typed.turned, context, suggests=len(raw.values) <= MOST_SUGGESTED
    )
    problems, repairs = dict(typed.problems), dict(typed.repairs)
    values: dict[int, str | None] = {}
    known: dict[int, str | None] = {}
    for row, text in changes.items():
        code = int(raw.codes[row])
        if code not in known:
            value, problem, repair = _read_one(
                field, text, context, read, typed.separator or field.several
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


def _separator(field: Field, raw: Column, context: ValueContext) -> str:
    """Find what stands between several codes in a cell: the definition's sign, unless another
    makes more texts readable.
    """
    if not field.several or not field.code_list or len(raw.values) > MOST_SUGGESTED:
        return field.several
    codes = context.codes[field.code_list]
    texts = [trim(text) for text in raw.texts()]

    def readable(at: str) -> int:
        parts = ([part for part in map(trim, text.split(at)) if part] for text in texts)
        return sum(
            bool(some) and all(part in codes.by_code or codes.named(part) for part in some)
            for some in parts
        )

    return max((field.several, *SEPARATORS), key=lambda at: (readable(at), at == field.several))


def _translated(field: Field, context: ValueContext) -> bool:
    return any(name == field.name for name, _ in context.translations)


def _read_one(
    field: Field, text: str, context: ValueContext, read: Reader, separator: str
) -> Outcome:
    given = context.translations.get((field.name, text), text)
    came = trim(given.replace(SEVERAL, " ") if field.several else given)
    trimmed = bare_cell(came)
    if trimmed in context.missing:
        return None, None, None
    if trimmed in ERRORS:
        message = (
            f"the spreadsheet shows the error {trimmed} in place of a value; ask for the value."
        )
        return (
            trimmed,
            make_problem(
                field, "damage", message, f"{field.title}: errors of the spreadsheet", group="error"
            ),
            None,
        )
    mended = mend_letters(trimmed)
    cleaned, what = _clean(field, mended or trimmed)
    value, problem, repair = (
        _read_several(cleaned, read, separator) if field.several else read(cleaned)
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
    elif len(trimmed) == CUT_AT and field.type == "string":
        repair = Repair(
            "cut",
            f"The text is exactly {CUT_AT} characters long: it may have been cut off on its way.",
        )
    if problem is None and value is not None:
        problem = refuse_limits(field, value)
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


def _clean(field: Field, text: str) -> tuple[str, str]:
    """Make odd spaces plain; of what is no free text, quotation marks too, which no code or
    number has.
    """
    if field.type == "string" and not field.folds_case and not field.is_telling:
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
    message = problem.message
    if divided:
        both = f"It could be {' and '.join(divided)} together"
        message = (
            message.replace("It could be ", f"{both}, or ", 1)
            if "It could be " in message
            else f"{message} {both}."
        )
    return replace(
        problem, message=message, group=squeeze(separator.join(parts)).casefold(), suggestions=whole
    )


def _divide(part: str, at: str, read: Reader) -> list[str]:
    """Part a text that may be several values by a sign; [] where not all of its parts are
    values.
    """
    texts = [piece for piece in map(trim, part.split(at)) if piece] if at in part else []
    return (
        texts
        if 2 <= len(texts) <= MOST_PARTS and all(read(piece)[1] is None for piece in texts)
        else []
    )


def _reader(
    field: Field,
    order: str,
    mark: str,
    turned: frozenset[str],
    context: ValueContext,
    *,
    suggests: bool,
) -> Reader:
    if field.code_list:
        codes = context.codes[field.code_list]
        return lambda text: read_code(field, text, codes, context.today, suggests)
    if field.identifier is not None:
        return lambda text: read_identifier(field, text)
    if field.is_mail:
        return lambda text: read_mail(field, text)
    if field.kind == "phone":
        return lambda text: read_phone(field, text)
    if field.type == "date":
        return lambda text: read_date(field, text, order, context.today, turned)
    if field.type == "datetime":
        return lambda text: read_datetime(field, text, order, context.today)
    if field.type in ("integer", "number"):
        return lambda text: read_amount(field, text, mark)
    simple: dict[str, Callable[[Field, str], Outcome]] = {
        "boolean": read_boolean,
        "year": read_year,
    }
    function = simple.get(field.type)
    return (lambda text: function(field, text)) if function else (lambda text: (text, None, None))
