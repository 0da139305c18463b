"""What is learnt from a source's file for its next one: a recipe; and in what the next one differs
from it.

A recipe is a JSON document: the steps that are about the source rather than about single rows, and
what its files look like.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import TYPE_CHECKING, Annotated

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from nevefield.core.borders import Json
from nevefield.core.errors import WrongRecipe
from nevefield.core.steps.kinds import CoverageStep, FillStep, SourceSteps, TranslateStep
from nevefield.core.texts import key_of, near

if TYPE_CHECKING:
    from collections.abc import Iterator
    from collections.abc import Set as AbstractSet
    from datetime import date

    from nevefield.core.columns.values import Typed
    from nevefield.core.definition import Definition
    from nevefield.core.evaluate import Evaluation
    from nevefield.core.reading import Reading
    from nevefield.core.steps import Decisions
    from nevefield.core.table import Table

__all__ = [
    "Difference",
    "Expects",
    "Recipe",
    "differences",
    "is_named",
    "learn",
    "likeness_to_last",
    "read_recipe",
    "stem_of",
]

KEPT_COUNTS = 5  # files whose numbers of rows are kept
MOST_TEXTS = 300  # distinct texts of a coded column that are kept
FEWER, MORE = 0.67, 1.5  # of the usual number of rows: outside of these the number is unusual
TELLING = 200  # rows of a source's files, from which on what they did not have tells something
_MONTH = re.compile("(?:jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*")
# what a like file name and the same type add to the share of the same headings
SAME_NAME, SAME_TYPE = 0.2, 0.1


class Expects(BaseModel):
    """What a source's files look like."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    type: str = "csv"
    sheet: str | None = None
    encoding: str | None = None
    separator: str | None = None
    named: bool = True  # the columns have headings
    headings: tuple[str, ...] = ()
    rows: tuple[int, ...] = ()  # of the last files, the latest first
    orders: dict[str, str] = {}  # field -> order of day and month
    marks: dict[str, str] = {}  # field -> decimal mark
    texts: dict[str, tuple[str, ...]] = {}  # coded field -> what stood in its column


class Recipe(BaseModel):
    """A source's recipe."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    roster: str
    source: Annotated[str, Field(min_length=1, max_length=120)]
    learnt: str  # the day, ISO 8601
    file: str = ""  # the last one that it was learnt from
    steps: tuple[SourceSteps, ...] = ()
    expects: Expects = Expects()

    def without(self, fields: AbstractSet[str]) -> Recipe:
        """Leave away what is known of the values of some fields."""
        steps = tuple(
            step
            for step in self.steps
            if not (isinstance(step, FillStep | TranslateStep) and step.field in fields)
        )
        texts = {name: some for name, some in self.expects.texts.items() if name not in fields}
        return self.model_copy(
            update={"steps": steps, "expects": self.expects.model_copy(update={"texts": texts})}
        )


@dataclass(frozen=True)
class Difference:
    """One thing in which a file differs from the last of its source."""

    kind: str  # type, columns, codes, rows, order
    text: str


def read_recipe(document: Json, definition: Definition) -> Recipe:
    """Read a recipe from its JSON document.

    Raises:
        WrongRecipe: With the place and what would be right.
    """
    try:
        recipe = Recipe.model_validate(document)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise WrongRecipe(place, first["msg"].lower()) from error
    if recipe.roster != definition.name:
        raise WrongRecipe(
            "roster", f"this is a recipe for “{recipe.roster}”, not for “{definition.name}”"
        )
    for number, step in enumerate(recipe.steps):
        for place, name in step.named():
            if name not in definition.by_name:
                raise WrongRecipe(
                    f"steps.{number}.{place}",
                    f"there is no field “{name}”; {near(name, definition.by_name)}",
                )
    return recipe


def learn(
    evaluation: Evaluation, roster: str, source: str, file: str, today: date, before: Recipe | None
) -> Recipe:
    """Learn a recipe from an intake as it stands.

    Args:
        evaluation: Of the intake.
        roster: Its name.
        source: The source's name.
        file: The file's name.
        today: The day on which it is learnt.
        before: What was known of the source.

    Returns:
        The new recipe: how the file was read where that was said by hand, where its columns went,
        what its texts mean, what was filled and composed.
    """
    reading, typed = evaluation.reading, evaluation.facts.typed
    orders = {name: column.order for name, column in typed.items() if column.order}
    marks = {name: column.mark for name, column in typed.items() if column.mark}
    steps = [
        *_reading_step(evaluation),
        *_pair_steps(evaluation),
        *({"kind": "date_order", "field": name, "order": order} for name, order in orders.items()),
        *({"kind": "decimal_mark", "field": name, "mark": mark} for name, mark in marks.items()),
        *_meant_steps(evaluation.decisions),
        *_people_steps(evaluation.decisions),
        *_claims(evaluation.decisions, before),
    ]
    counts = (len(evaluation.table), *(before.expects.rows if before else ()))[:KEPT_COUNTS]
    expects = {
        "type": reading.type,
        "sheet": reading.sheet,
        "encoding": reading.encoding,
        "separator": reading.separator,
        "named": is_named(reading),
        "headings": _open_headings(evaluation),
        "rows": counts,
        "orders": orders,
        "marks": marks,
        "texts": _texts_of(evaluation, before),
    }
    document = {
        "roster": roster,
        "source": source,
        "learnt": today.isoformat(),
        "file": file,
        "steps": steps,
        "expects": expects,
    }
    return Recipe.model_validate(document)


def _open_headings(evaluation: Evaluation) -> list[str]:
    """List the headings, but for those of columns that held secrets."""
    secrets = evaluation.reading.secrets
    return [heading for heading in evaluation.table.headings if heading not in secrets]


def _reading_step(evaluation: Evaluation) -> list[dict[str, Json]]:
    """Say how the file was read, where somebody said so by hand."""
    choice = evaluation.decisions.reading
    by_hand = {name: value for name, value in choice.__dict__.items() if value}
    if choice.header_line is not None:
        by_hand["headings"] = _open_headings(evaluation)
    return [{"kind": "reading", **by_hand}] if by_hand else []


def _pair_steps(evaluation: Evaluation) -> list[dict[str, Json]]:
    """Say where the columns went; of a column that goes nowhere only where that was decided."""
    decisions = evaluation.decisions
    steps: list[dict[str, Json]] = []
    for pair in evaluation.pairs:
        was_decided = (
            pair.heading in decisions.pairs or decisions.last.get(pair.heading, "") is None
        )
        if pair.parts:
            steps.append(
                {"kind": "split", "heading": pair.heading, "at": pair.at, "into": list(pair.parts)}
            )
        elif pair.field or was_decided:
            steps.append(
                {
                    "kind": "pair",
                    "heading": pair.heading,
                    "field": pair.field,
                    "beside": pair.beside,
                }
            )
    return steps


def _meant_steps(decisions: Decisions) -> list[dict[str, Json]]:
    """Say what texts mean, and what was filled, composed and how values are updated."""
    meant: dict[tuple[str, str], list[str]] = {}
    for (name, text), to in decisions.translations.items():
        meant.setdefault((name, to), []).append(text)
    return [
        *(
            {"kind": "translate", "field": name, "texts": texts, "to": to}
            for (name, to), texts in meant.items()
        ),
        *(
            {"kind": "fill", "field": name, "value": to, "over": name in decisions.fills_over}
            for name, to in decisions.fills.items()
            if to
        ),
        *(
            {"kind": "compose", "field": name, "pattern": pattern.model_dump()}
            for name, pattern in decisions.composed.items()
        ),
        *(
            {"kind": "update", "field": name, "rule": rule}
            for name, rule in decisions.rules.items()
        ),
    ]


def _people_steps(decisions: Decisions) -> list[dict[str, Json]]:
    """Say by what people are known, and whom the file is for."""
    steps: list[dict[str, Json]] = []
    if decisions.keys is not None:
        steps.append({"kind": "known_by", "keys": decisions.keys})
    if decisions.takes != "both":
        steps.append({"kind": "takes", "of": decisions.takes})
    return steps


def _claims(decisions: Decisions, before: Recipe | None) -> list[dict[str, Json]]:
    """List what the source's files claim to be: what was said for this file alone is no claim of
    the next one's.
    """
    if decisions.claim_remembered is not False:
        return [{"kind": "coverage", "of": decisions.coverage, "when": decisions.part}]
    return [
        step.model_dump(mode="json")
        for step in (before.steps if before else ())
        if isinstance(step, CoverageStep)
    ]


def is_named(reading: Reading) -> bool:
    """Tell whether the file itself names its columns."""
    return reading.header_line is not None or reading.type == "jsonl"


def _texts_of(evaluation: Evaluation, before: Recipe | None) -> dict[str, list[str]]:
    texts = {}
    for name, typed in evaluation.facts.typed.items():
        if not typed.field.code_list:
            continue
        counts = typed.raw.counts()
        messages = [
            text.strip()
            for text, count in zip(typed.raw.texts(), counts, strict=True)
            if count and text.strip()
        ]
        known = before.expects.texts.get(name, ()) if before else ()
        texts[name] = sorted({*messages, *known})[:MOST_TEXTS]
    return texts


def differences(expects: Expects, evaluation: Evaluation) -> list[Difference]:
    """List in what a file differs from the last of its source, the gravest first: type, columns,
    rows, orders, new codes.
    """
    reading, table = evaluation.reading, evaluation.table
    found: list[Difference] = []
    if reading.type != expects.type:
        found.append(
            Difference(
                "type",
                f"It was {_article(expects.type)} file until now; this is"
                f" {_article(reading.type)} file.",
            )
        )
    elif reading.sheet != expects.sheet and expects.sheet:
        found.append(
            Difference(
                "type", f"The sheet was called “{expects.sheet}”; it is “{reading.sheet}” now."
            )
        )
    found += _columns_differ(expects, reading, table)
    if expects.rows:
        usual = sorted(expects.rows)[len(expects.rows) // 2]
        if usual and not FEWER <= len(table) / usual <= MORE:
            found.append(
                Difference(
                    "rows", f"{len(table):,} rows, where there were {_listed(expects.rows)} before."
                )
            )
    words = {"dmy": "the day stood first", "mdy": "the month stood first"}
    for name, typed in evaluation.facts.typed.items():
        title = typed.field.title
        if typed.order and expects.orders.get(name, typed.order) != typed.order:
            found.append(
                Difference(
                    "order",
                    f"{title}: {words[expects.orders[name]]} until now; it is the other way round.",
                )
            )
        if typed.mark and expects.marks.get(name, typed.mark) != typed.mark:
            was = "a comma" if expects.marks[name] == "," else "a point"
            found.append(
                Difference(
                    "order",
                    f"{title}: {was} stood before the decimals until now; it is the other way"
                    " round.",
                )
            )
        if (
            typed.field.code_list
            and name in expects.texts
            and len(expects.texts[name]) < MOST_TEXTS
        ):
            found += _codes_differ(title, typed, expects)
    return found


def _article(kind: str) -> str:
    names = {
        "csv": "a text",
        "xlsx": "an .xlsx",
        "xls": "an .xls",
        "ods": "an .ods",
        "jsonl": "a JSON",
        "fixed": "a fixed-width",
    }
    return names.get(kind, kind)


def _columns_differ(expects: Expects, reading: Reading, table: Table) -> Iterator[Difference]:
    if expects.named != is_named(reading):
        yield Difference(
            "columns",
            "There was a header until now." if expects.named else "There is a header now.",
        )
        return
    if not expects.named:
        if len(table.headings) != len(expects.headings):
            yield Difference(
                "columns",
                f"{len(table.headings)} columns, where there were {len(expects.headings)}.",
            )
        return
    ours = {
        key_of(heading): heading for heading in table.headings if heading not in reading.secrets
    }
    theirs = {key_of(heading): heading for heading in expects.headings}
    if gone := [heading for key, heading in theirs.items() if key not in ours]:
        yield Difference("columns", f"{_columns(gone)} gone.")
    if come := [heading for key, heading in ours.items() if key not in theirs]:
        yield Difference("columns", f"{_columns(come)} new.")


def _columns(headings: list[str]) -> str:
    shown = ", ".join(f"“{heading}”" for heading in headings[:6]) + (
        " …" if len(headings) > 6 else ""
    )
    return f"The column {shown} is" if len(headings) == 1 else f"The columns {shown} are"


def _codes_differ(title: str, typed: Typed, expects: Expects) -> Iterator[Difference]:
    """Say which texts of a coded column are new from a source.

    A text that the code list knows is only worth saying when the files so far were large enough to
    have shown it.
    """
    raw = typed.raw
    seen = {key_of(text) for text in expects.texts[typed.field.name]}
    counts = raw.counts()
    enough = sum(expects.rows) >= TELLING
    fresh: dict[str, int] = {}
    for code, (text, count) in enumerate(zip(raw.texts(), counts.tolist(), strict=True)):
        if (
            count
            and text.strip()
            and key_of(text) not in seen
            and (enough or code in typed.problems)
        ):
            fresh[text.strip()] = fresh.get(text.strip(), 0) + count
    if fresh:
        shown = ", ".join(f"“{text}” ({count})" for text, count in list(fresh.items())[:5])
        rest = f" and {len(fresh) - 5} more" if len(fresh) > 5 else ""
        yield Difference("codes", f"{title}: never seen from this source: {shown}{rest}.")


def _listed(rows: tuple[int, ...]) -> str:
    return " and ".join(filter(None, [", ".join(f"{row:,}" for row in rows[:-1]), f"{rows[-1]:,}"]))


def likeness_to_last(recipe: Recipe, table: Table, reading: Reading, file_name: str) -> float:
    """Score how like a file is to the last of a source, 0 to 1.3; see `crediting`.

    The share of the headings that both have (of all that either has), a like name and the same
    type.
    """
    expects = recipe.expects
    score = SAME_NAME * (stem_of(file_name) == stem_of(recipe.file) != "") + SAME_TYPE * (
        expects.type == reading.type
    )
    if expects.named != is_named(reading):
        return 0.0
    if not expects.named:
        same = (
            len(table.headings) == len(expects.headings) and reading.separator == expects.separator
        )
        return score + (0.6 if same else 0.0)
    ours = {key_of(heading) for heading in table.headings if heading not in reading.secrets}
    theirs = {key_of(heading) for heading in expects.headings}
    return score + len(ours & theirs) / max(1, len(ours | theirs))


def stem_of(name: str) -> str:
    """Take what changes from file to file off a name: numbers, months, the ending."""
    bare = re.sub(r"\.[A-Za-z0-9]{1,5}$", "", name).casefold()
    words = [word for word in re.split(r"[\W\d_]+", bare) if word and not _MONTH.fullmatch(word)]
    return " ".join(words)
