"""Code lists: allowed values with label, aliases, parent, first and last day of use."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from datetime import date
from functools import cached_property
from typing import TYPE_CHECKING

from rapidfuzz import fuzz, process

from nevefield.core.errors import WrongCodes
from nevefield.core.texts import fold, key_of, near, slip_cost, trim

if TYPE_CHECKING:
    from collections.abc import Callable, Sequence

__all__ = ["Code", "CodeList", "read_codes", "refuse_loops", "write_codes"]

COLUMNS = ("list", "code", "label", "parent", "aliases", "first_day", "last_day")
LIKE_ENOUGH = 80  # of 100, by rapidfuzz's WRatio: below it a suggestion misleads more than it helps
ONE_SLIP = 1.0  # see `slip_cost`
HALF_A_SLIP = 0.5
CLEARLY_AHEAD = 5  # points by which the best suggestion must lead the next one


@dataclass(frozen=True)
class Code:
    """One allowed value; both days are inclusive, None is open."""

    code: str
    label: str = ""
    parent: str = ""
    aliases: tuple[str, ...] = ()
    first_day: date | None = None
    last_day: date | None = None

    def is_used(self, day: date) -> bool:
        """Tell whether the code may be used on a day."""
        return (self.first_day is None or self.first_day <= day) and (
            self.last_day is None or day <= self.last_day
        )

    def days(self, day: date) -> str:
        """Word why the code may not be used on a day."""
        if self.last_day is not None and day > self.last_day:
            return f"was last used on {self.last_day.isoformat()}"
        return (
            f"is used only from {self.first_day.isoformat()} on" if self.first_day else "is in use"
        )


@dataclass(frozen=True)
class CodeList:
    """The codes of one list, in their order."""

    name: str
    codes: tuple[Code, ...]

    @cached_property
    def by_code(self) -> dict[str, Code]:
        """Find a code as written."""
        return {code.code: code for code in self.codes}

    @cached_property
    def _by_word(self) -> dict[str, tuple[Code, ...]]:
        found: dict[str, dict[str, Code]] = {}
        for code in self.codes:
            for word in (code.code, code.label, *code.aliases):
                if word:
                    found.setdefault(fold(word), {})[code.code] = code
        return {word: tuple(codes.values()) for word, codes in found.items()}

    def named(self, text: str) -> tuple[Code, ...]:
        """List the codes that a text names: the code in another case, its label or an alias."""
        return self._by_word.get(fold(text), ())

    def suggest(self, text: str, day: date) -> tuple[Code, ...]:
        """List codes in use on a day that a text may mean: the best alone when it leads clearly,
        else up to three.
        """
        words = {
            word: code
            for code in self.codes
            if code.is_used(day)
            for word in (
                key_of(code.label),
                *(key_of(alias) for alias in code.aliases),
                key_of(code.code),
            )
            if len(word) > 2
        }
        best: dict[str, float] = {}
        for word, score, _ in process.extract(
            key_of(text), list(words), scorer=fuzz.WRatio, limit=12
        ):
            code = words[word].code
            best[code] = max(best.get(code, 0.0), score)
        typed = key_of(text)
        # of short words one slip leaves too little alike for the ratio
        for word, one in words.items():
            if abs(len(word) - len(typed)) <= 1 and slip_cost(typed, word) <= HALF_A_SLIP:
                best[one.code] = max(best.get(one.code, 0.0), LIKE_ENOUGH)
        ranked = sorted(best.items(), key=lambda pair: -pair[1])
        ranked = [pair for pair in ranked if pair[1] >= LIKE_ENOUGH][:3]
        if len(ranked) > 1 and ranked[0][1] - ranked[1][1] < CLEARLY_AHEAD:
            ranked = self._by_slip(key_of(text), ranked)
        if ranked and (len(ranked) == 1 or ranked[0][1] - ranked[1][1] >= CLEARLY_AHEAD):
            ranked = ranked[:1]
        return tuple(self.by_code[code] for code, _ in ranked)

    def _by_slip(self, text: str, ranked: list[tuple[str, float]]) -> list[tuple[str, float]]:
        """Rank codes that are about equally like a text by how easily a hand slips from one to
        the other on the keys.
        """

        def cost(code: str) -> float:
            one = self.by_code[code]
            return min(
                slip_cost(text, key_of(word))
                for word in (one.code, one.label, *one.aliases)
                if word
            )

        costs = sorted((cost(code), -score, code) for code, score in ranked)
        if costs[0][0] <= ONE_SLIP and costs[1][0] - costs[0][0] >= HALF_A_SLIP:
            return [(costs[0][2], -costs[0][1])]
        return [(code, -score) for _, score, code in costs]


def read_codes(text: str) -> dict[str, CodeList]:
    """Read code lists from CSV (`list,code,label,parent,aliases,first_day,last_day`).

    Args:
        text: The file's text; aliases are separated by `;`, days are ISO 8601.

    Returns:
        The lists by name, each in the order of the file.

    Raises:
        WrongCodes: A column is missing or unknown, a day is none, a code stands twice in its list.
    """
    rows = csv.DictReader(io.StringIO(text.removeprefix("\ufeff"), newline=""))
    headings = rows.fieldnames or []
    for column in ("list", "code"):
        if column not in headings:
            raise WrongCodes(1, f"the column “{column}” is missing; needed are {','.join(COLUMNS)}")
    for heading in headings:
        if heading not in COLUMNS:
            raise WrongCodes(1, f"the column “{heading}” is unknown; {near(heading, COLUMNS)}")
    lists: dict[str, dict[str, Code]] = {}
    for row in rows:
        values = {column: trim(row.get(column) or "") for column in COLUMNS}
        if not any(values.values()):
            continue
        if not values["list"] or not values["code"]:
            raise WrongCodes(rows.line_num, "both 'list' and 'code' must be filled.")
        codes = lists.setdefault(values["list"], {})
        if values["code"] in codes:
            raise WrongCodes(
                rows.line_num, f"“{values['code']}” stands twice in the list “{values['list']}”."
            )
        codes[values["code"]] = Code(
            values["code"],
            values["label"],
            values["parent"],
            tuple(alias for alias in map(trim, values["aliases"].split(";")) if alias),
            _day(values["first_day"], rows.line_num),
            _day(values["last_day"], rows.line_num),
        )
    for codes in lists.values():
        refuse_loops(list(codes.values()))
    return {name: CodeList(name, tuple(codes.values())) for name, codes in lists.items()}


def refuse_loops(codes: Sequence[Code]) -> None:
    """See that no code's parent leads back to it, where parents are codes of the same list.

    Raises:
        WrongCodes: With the codes in the circle.
    """
    parents = {code.code: code.parent for code in codes if code.parent}
    for line, code in enumerate(codes, 2):
        way = [code.code]
        while (parent := parents.get(way[-1])) and parent not in way:
            way.append(parent)
        if parent and parent == code.code:
            raise WrongCodes(
                line,
                f"the parents go in a circle: {' → '.join([*way, parent])}; one of them has no"
                " parent.",
            )


def write_codes(lists: dict[str, CodeList], guard: Callable[[str], str] = str) -> str:
    """Write code lists as the CSV that `read_codes` reads.

    Args:
        lists: By name.
        guard: What is done to each text, so that no spreadsheet takes it for a formula.
    """
    out = io.StringIO(newline="")
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for name, codes in lists.items():
        for code in codes.codes:
            days = [day.isoformat() if day else "" for day in (code.first_day, code.last_day)]
            texts = (name, code.code, code.label, code.parent, ";".join(code.aliases))
            writer.writerow([*map(guard, texts), *days])
    return out.getvalue()


def _day(text: str, line: int) -> date | None:
    if not text:
        return None
    try:
        if len(text) != 10:
            raise ValueError(text)
        return date.fromisoformat(text)
    except ValueError as error:
        raise WrongCodes(line, f"“{text}” is no day; write it as 2026-09-01.") from error
