"""Checks within a row: each is a function of the facts and its declaration, listed in `catalog`."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from functools import partial
from typing import TYPE_CHECKING, Literal

import numpy as np

from nevefield.core.borders import Json
from nevefield.core.checking.facts import Facts, Hit
from nevefield.core.columns.days import say_day
from nevefield.core.conditions import age_of, say_condition
from nevefield.core.edits.mending import mend_hits
from nevefield.core.texts import SEVERAL, fold, trim

if TYPE_CHECKING:
    from collections.abc import Callable

    from numpy.typing import NDArray

    from nevefield.core.codes import Code, CodeList
    from nevefield.core.definition import Check, Field
    from nevefield.core.table import Column

__all__ = [
    "COMPARISONS",
    "OfRows",
    "check_age",
    "check_apart",
    "check_code_days",
    "check_compare",
    "check_ended",
    "check_home_area",
    "check_order",
    "check_parents",
    "check_raised",
    "check_required_when",
    "check_runs_out",
    "check_spelling",
]

COMPARISONS: dict[str, Callable[[NDArray[np.float64], NDArray[np.float64]], NDArray[np.bool_]]] = {
    "same": np.equal,
    "different": np.not_equal,
    "less": np.less,
    "more": np.greater,
    "at-most": np.less_equal,
    "at-least": np.greater_equal,
}


@dataclass(frozen=True)
class OfRows:
    """A check of rows.

    `beside` is at what it looks beside the values of the row itself: nothing; the row's `record`;
    `rosters`, records of others too; `rows`, other rows of the file. An edited row is looked at
    alone unless it is the last.
    """

    find: Callable[[Facts, Check], list[Hit]]
    beside: Literal["nothing", "records", "rosters", "rows"] = "nothing"


def _numbers(field: Field, column: Column) -> NDArray[np.float64]:
    """Bring days and numbers to numbers that compare as they do; NaN where nothing (or no value)
    stands.
    """
    read = np.array([_number(field, text) for text in column.texts()] or [np.nan], np.float64)
    return np.where(column.codes >= 0, read[column.codes], np.nan)


def _number(field: Field, text: str) -> float:
    try:
        if field.type in ("date", "datetime"):
            return date.fromisoformat(text[:10]).toordinal() + (
                (int(text[11:13]) * 3600 + int(text[14:16]) * 60 + int(text[17:19])) / 86400
                if len(text) > 10
                else 0
            )
        return float(text)
    except ValueError:
        return float("nan")


def _right_numbers(facts: Facts, name: str) -> NDArray[np.float64]:
    """Bring a field's values to numbers; NaN where one is wrong, too. Worked out once for a
    column.
    """
    of = (facts.typed[name],) if name in facts.typed else (facts.snapshot, facts.known)

    def make() -> NDArray[np.float64]:
        return np.where(
            facts.problem(name),
            np.nan,
            _numbers(facts.definition.by_name[name], facts.stored(name)),
        )

    numbers: NDArray[np.float64] = facts.memo.get(("numbers", name), of, make)
    return numbers


def check_order(facts: Facts, check: Check) -> list[Hit]:
    """No field may hold a later day or greater number than the one named after it; empty ones
    are passed over.
    """
    names = check.fields
    if not any(name in facts.typed for name in names):
        return []
    last = np.full(len(facts), np.nan)
    broken = np.zeros(len(facts), bool)
    for name in names:
        numbers = _right_numbers(facts, name)
        with np.errstate(invalid="ignore"):
            broken |= last > numbers
        last = np.where(np.isnan(numbers), last, numbers)
    rows = np.flatnonzero(broken & facts.applies(check))
    if not len(rows):
        return []
    titles = [facts.title(name) for name in names]

    def say(row: int) -> str:
        told = [
            f"{title} ({_show(value)})"
            for title, name in zip(titles, names, strict=True)
            if (value := facts.text(row, name))
        ]
        return f"{told[-1]} is {word} {' and '.join(told[:-1])}."

    word = (
        "before" if facts.definition.by_name[names[0]].type in ("date", "datetime") else "less than"
    )
    title = f"{titles[-1]} is {word} {titles[0]}"
    return [Hit("order", names[-1], names, check.weight, rows, title, say, group="/".join(names))]


def _show(value: str) -> str:
    try:
        return say_day(date.fromisoformat(value[:10]))
    except ValueError:
        return value


def check_required_when(facts: Facts, check: Check) -> list[Hit]:
    """A field must be filled where a condition holds."""
    when = check.options["when"]
    needed = facts.holds(when)
    hits = []
    for name in check.fields:
        rows = np.flatnonzero(needed & (facts.stored(name).codes < 0) & ~facts.problem(name))
        if len(rows):
            why = _say_when(facts, when)
            message = f"{facts.title(name)} is required {why}."
            title = f"{facts.title(name)} missing, {why.removeprefix('when ')}"
            hits.append(
                Hit(
                    check.check,
                    name,
                    check.reads_for(name),
                    check.weight,
                    rows,
                    title,
                    message,
                    group=str(when),
                )
            )
    return hits


def _say_when(facts: Facts, when: dict[str, Json]) -> str:
    if set(when) == {"field", "under", "on"}:
        return f"when under {when['under']} on {when['on']}"
    return f"when {say_condition(when, facts.title)}"


def check_compare(facts: Facts, check: Check) -> list[Hit]:
    """Two fields must stand to each other as the check says; where one is empty nothing is
    asked.
    """
    left, right = check.fields
    how = check.options["how"]
    field = facts.definition.by_name[left]
    columns = facts.stored(left), facts.stored(right)
    filled = (
        (columns[0].codes >= 0)
        & (columns[1].codes >= 0)
        & ~facts.problem(left)
        & ~facts.problem(right)
    )
    if field.type in ("date", "datetime", "integer", "number", "year"):
        ours, theirs = (
            _numbers(facts.definition.by_name[name], column)
            for name, column in zip(check.fields, columns, strict=True)
        )
    else:
        folded = [[fold(text) for text in column.texts()] for column in columns]
        rank = {text: place for place, text in enumerate(sorted({*folded[0], *folded[1]}))}
        ours, theirs = (
            np.array([*(rank[text] for text in texts), -1], np.float64)[column.codes]
            for texts, column in zip(folded, columns, strict=True)
        )
    with np.errstate(invalid="ignore"):
        right_so = COMPARISONS[how](ours, theirs)
    rows = np.flatnonzero(filled & ~right_so & facts.applies(check))
    words = {
        "same": "the same as",
        "different": "different from",
        "less": "before" if field.type in ("date", "datetime") else "less than",
        "more": "after" if field.type in ("date", "datetime") else "more than",
        "at-most": "at most",
        "at-least": "at least",
    }
    title = f"{facts.title(left)} must be {words[how]} {facts.title(right)}"

    def say(row: int) -> str:
        values = [_show(facts.text(row, name)) for name in check.fields]
        return f"{title}; here it is {values[0]}, and {facts.title(right)} is {values[1]}."

    return _one_hit(check, right, check.fields, rows, title, say)


def check_age(facts: Facts, check: Check) -> list[Hit]:
    """Somebody's age on a day must lie in a band; several such checks with conditions make bands
    that depend on a field.
    """
    (name,) = check.fields
    on = (
        facts.today
        if check.options.get("on", "today") == "today"
        else date.fromisoformat(check.options["on"])
    )
    least, most = check.options.get("least", 0), check.options.get("most", 200)
    column = facts.stored(name)
    ages = np.array([*(age_of(text, on) for text in column.texts()), -1])[column.codes]
    is_day = np.array([*(_day_of(text) is not None for text in column.texts()), False], bool)[
        column.codes
    ]
    known = is_day & ~facts.problem(name)
    rows = np.flatnonzero(known & ((ages < least) | (ages > most)) & facts.applies(check))
    band = (
        f"{least} to {most}"
        if "least" in check.options and "most" in check.options
        else (f"at least {least}" if "least" in check.options else f"at most {most}")
    )
    where = (
        f", where {say_condition(check.options['when'], facts.title)}"
        if "when" in check.options
        else ""
    )
    title = f"Age is not {band}{where}"

    def say(row: int) -> str:
        if ages[row] < 0:
            return (
                f"Born {_show(facts.text(row, name))}, which is after {say_day(on)}; the age"
                f" must be {band}{where}."
            )
        return f"{int(ages[row])} years old on {say_day(on)}; it must be {band}{where}."

    return _one_hit(check, name, check.reads_for(name), rows, title, say)


def check_runs_out(facts: Facts, check: Check) -> list[Hit]:
    """A document that has run out, or will within some days, is told."""
    (name,) = check.fields
    within = int(check.options.get("within", 0))
    if name not in facts.typed:
        return []
    last = facts.today.toordinal() + within
    days = _right_numbers(facts, name)
    with np.errstate(invalid="ignore"):
        gone = days < facts.today.toordinal()
        soon = ~gone & (days <= last)
    hits = []
    for rows, word in (
        (np.flatnonzero(gone & facts.applies(check)), "has run out"),
        (np.flatnonzero(soon & facts.applies(check)), "runs out soon"),
    ):
        title = f"{facts.title(name)} {word}"

        def say(row: int, word: str = word) -> str:
            return f"{facts.title(name)} {_show(facts.text(row, name))} {word}."

        hits += _one_hit(check, name, check.reads_for(name), rows, title, say, group=word)
    return hits


def check_ended(facts: Facts, check: Check) -> list[Hit]:
    """An end day that is past already is told: the record will be in the roster as ended."""
    (name,) = check.fields
    if name not in facts.typed:
        return []
    days = _right_numbers(facts, name)
    with np.errstate(invalid="ignore"):
        past = days < facts.today.toordinal()
    # who is in the roster as ended already surprises nobody
    if name in facts.snapshot.columns and len(facts.snapshot):
        known = facts.known.record >= 0
        same = np.zeros(len(facts), bool)
        ours, theirs = facts.folded[name], facts.snapshot.folded(name)
        placed = ours.place(theirs)
        same[known] = (placed[known] == theirs.codes[facts.known.record[known]]) & (
            placed[known] >= 0
        )
        past &= ~same
    rows = np.flatnonzero(past & facts.applies(check))
    title = f"{facts.title(name)} is past already: in the roster as ended"

    def say(row: int) -> str:
        day = _show(facts.text(row, name))
        return (
            f"{facts.title(name)} {day} is past already: the record will be in the roster as ended."
        )

    return _one_hit(check, name, check.reads_for(name), rows, title, say)


def check_raised(facts: Facts, check: Check) -> list[Hit]:
    """A privilege above the lowest, which the record did not have, asks for approval."""
    (name,) = check.fields
    if name not in facts.typed:
        return []
    lowest = set(check.options["lowest"])
    listed = facts.codes.get(facts.definition.by_name[name].code_list)
    codes = listed.by_code if listed is not None else {}
    stored = facts.typed[name].stored
    had = facts.snapshot.columns[name]
    gained: dict[int, list[str]] = {}
    above = [bool(set(text.split(SEVERAL)) - lowest) for text in stored.texts()]
    for row in np.flatnonzero(
        np.append(np.array(above, bool), False)[stored.codes]
        & ~facts.problem(name)
        & facts.applies(check)
    ).tolist():
        record = int(facts.known.record[row])
        before = set((had.at(record) or "").split(SEVERAL)) if record >= 0 else set()
        if fresh := [
            part
            for part in (stored.at(row) or "").split(SEVERAL)
            if part not in lowest and part not in before
        ]:
            gained[row] = fresh
    by_code: dict[str, list[int]] = {}
    for row, fresh in gained.items():
        by_code.setdefault(SEVERAL.join(fresh), []).append(row)
    hits = []
    for group, rows in by_code.items():
        labels = " and ".join(
            codes[part].label or part if part in codes else part for part in group.split(SEVERAL)
        )
        title = f"{facts.title(name)} raised to {labels}"
        message = (
            f"{labels} is above the lowest of {facts.title(name)}; it needs approval with a reason."
        )
        hits += _one_hit(
            check, name, check.reads_for(name), np.array(rows, np.intp), title, message, group=group
        )
    return hits


def check_apart(facts: Facts, check: Check) -> list[Hit]:
    """Values that must not meet in one record, such as two roles."""
    (name,) = check.fields
    column = facts.stored(name)
    clashing = set(check.options["codes"])
    meet = [len(clashing.intersection(text.split(SEVERAL))) > 1 for text in column.texts()]
    rows = np.flatnonzero(
        np.append(np.array(meet, bool), False)[column.codes]
        & ~facts.problem(name)
        & facts.applies(check)
    )
    listed = " and ".join(check.options["codes"])
    title = f"{listed} together in {facts.title(name)}"
    return _one_hit(
        check, name, check.reads_for(name), rows, title, f"{listed} must never meet in one record."
    )


def check_spelling(facts: Facts, check: Check) -> list[Hit]:
    """A code or its label in another case or spacing is asked about, where a new one of that
    name could be meant.
    """
    hits = []
    for name in check.fields:
        typed = facts.typed.get(name)
        listed = facts.definition.by_name[name].code_list
        if typed is None or not listed:
            continue
        codes = facts.codes[listed]
        counts, applies = typed.raw.counts(), facts.applies(check)
        field = facts.definition.by_name[name]
        between = typed.separator or field.several
        for code in [repair for repair in typed.repairs if counts[repair]]:
            text = str(typed.raw.values[code].as_py())
            # Of several values in a cell each is looked at: what the record has beside them is not
            # the file's.
            parts = [part for part in map(trim, text.split(between)) if part] if between else [text]
            meant = [_as_listed(part, codes) for part in parts]
            rows = np.flatnonzero((typed.raw.codes == code) & applies)
            if (
                not len(rows)
                or None in meant
                or all(is_written for _, is_written in filter(None, meant))
            ):
                continue
            found = [known for known, _ in filter(None, meant)]
            value = between.join(known.code for known in found)
            label = ", ".join(known.label or known.code for known in found)
            title = f"“{text}” is nearly “{label}”"
            message = (
                f"“{text}” is “{label}” but for case or spaces; say that it is the same"
                f" {facts.title(name).lower()}."
            )
            hit = Hit(
                check.check, name, check.fields, check.weight, rows, title, message, group=text
            )
            hits.append(replace(hit, texts=(text,), suggestions=(value,)))
    return hits


def _as_listed(text: str, codes: CodeList) -> tuple[Code, bool] | None:
    """Find the code that a text means, and whether it is written as the list has it; None where
    it means none or several.
    """
    written = [code for code in codes.codes if text in (code.code, code.label, *code.aliases)]
    named = written[:1] or codes.named(text)
    return (named[0], bool(written)) if len(named) == 1 else None


def check_code_days(facts: Facts) -> list[Hit]:
    """A code must be in use on the day that the record says, where the definition names a field
    for that day; else today.
    """
    hits = []
    for field in facts.definition.fields:
        if field.on_day and field.name in facts.typed:
            reads = (field.name, field.on_day)
            of = (facts.codes, facts.today.isoformat(), *facts.looked_at(reads))
            hits += mend_hits(
                facts, ("code days", field.name), of, partial(_check_code_days, field=field), reads
            )
    return hits


def _check_code_days(facts: Facts, field: Field) -> list[Hit]:
    hits = []
    codes = facts.codes[field.code_list].by_code
    stored, days = facts.stored(field.name), facts.stored(field.on_day)
    known = (stored.codes >= 0) & ~facts.problem(field.name) & ~facts.problem(field.on_day)
    # the last one where no day is said
    at = [*(_day_of(text) for text in days.texts()), facts.today]
    for code, text in enumerate(stored.texts()):
        found = codes.get(text)
        if found is None:
            continue
        # Whoever comes after its last day and whoever comes before its first are not mended alike.
        for bound, group in (
            (found.last_day, f"{text}/days"),
            (found.first_day, f"{text}/days/before"),
        ):
            if bound is None:
                continue
            is_last = bound is found.last_day
            wrong = [day is not None and (day > bound if is_last else day < bound) for day in at]
            rows = np.flatnonzero(
                known & (stored.codes == code) & np.array(wrong, bool)[days.codes]
            )
            if len(rows):
                why = found.days(date.max if is_last else date.min)
                message = (
                    f"{field.title}: {text} ({found.label}) {why}, and {facts.title(field.on_day)}"
                    " is another day."
                )
                hits.append(
                    Hit(
                        "code",
                        field.name,
                        (field.on_day, field.name),
                        "stop",
                        rows,
                        f"{text} {why}",
                        message,
                        group=group,
                    )
                )
    return hits


def _day_of(text: str) -> date | None:
    try:
        return date.fromisoformat(text[:10])
    except ValueError:
        return None


def _one_hit(
    check: Check,
    field: str,
    fields: tuple[str, ...],
    rows: NDArray[np.intp],
    title: str,
    said: str | Callable[[int], str],
    group: str = "",
) -> list[Hit]:
    if not len(rows):
        return []
    read = tuple(dict.fromkeys(fields))
    named = group or "/".join((*check.fields, str(sorted(check.options.items()))))
    return [Hit(check.check, field, read, check.weight, rows, title, said, group=named)]


def check_home_area(facts: Facts, check: Check) -> list[Hit]:
    """Ask about values outside the home area."""
    hits = []
    within = set(check.options["within"])
    for name in check.fields:
        if name not in facts.typed:
            continue
        column = facts.typed[name].stored
        outside = [code for code, text in enumerate(column.texts()) if text not in within]
        rows = np.flatnonzero(
            np.isin(column.codes, outside) & ~facts.problem(name) & facts.applies(check)
        )
        if len(rows):
            title = f"{facts.title(name)} outside the home area"
            message = f"{title}; it can go in with a reason."
            hits.append(Hit(check.check, name, (name,), check.weight, rows, title, message))
    return hits


def check_parents(facts: Facts) -> list[Hit]:
    """Check that a code's parent is the value of the field that the definition names."""
    hits: list[Hit] = []
    for field in facts.definition.fields:
        if not field.parent or (field.name not in facts.typed and field.parent not in facts.typed):
            continue
        reads = (field.name, field.parent)
        of = (facts.codes, *facts.looked_at(reads))
        hits += mend_hits(
            facts, ("parents", field.name), of, partial(_check_parent, field=field), reads
        )
    return hits


def _check_parent(facts: Facts, field: Field) -> list[Hit]:
    hits = []
    child, parent = facts.stored(field.name), facts.stored(field.parent)
    codes = facts.codes[field.code_list].by_code
    fine = (
        ~(facts.problem(field.name) | facts.problem(field.parent))
        & (child.codes >= 0)
        & (parent.codes >= 0)
    )
    parents = {text: code for code, text in enumerate(parent.texts())}
    for code, text in enumerate(child.texts()):
        wanted = codes[text].parent if text in codes else ""
        if not wanted:
            continue
        right = parents.get(wanted, -1)
        rows = np.flatnonzero(fine & (child.codes == code) & (parent.codes != right))
        if len(rows):
            title = f"{text} does not belong to this {facts.title(field.parent).lower()}"
            message = (
                f"{field.title} {text} belongs to {wanted}, not to this row's"
                f" {facts.title(field.parent)}."
            )
            hits.append(
                Hit(
                    "parent",
                    field.name,
                    (field.parent, field.name),
                    "stop",
                    rows,
                    title,
                    message,
                    group=text,
                )
            )
    return hits
