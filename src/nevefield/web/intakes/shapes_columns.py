"""The shapes of the API about columns: where they go, and what that comes to."""

from __future__ import annotations

from typing import Any, Literal

from pydantic import BaseModel, Field

from nevefield.web.common import MOST_ROWS, FieldChange, Model, Outcome

__all__ = [
    "ColumnOut",
    "ColumnsOut",
    "ComposeExample",
    "ComposeIn",
    "ComposePreview",
    "FillOut",
    "OtherField",
    "RehearsalOut",
    "RehearsalQuery",
    "RehearsedRow",
    "SparkPart",
    "TranslationOut",
    "UnfilledOut",
]


class SparkPart(BaseModel):
    """A part of a column's drawing: a value, or what is summed up."""

    text: str
    rows: int
    kind: Literal["value", "many", "empty", "wrong", "secret"]


class TranslationOut(BaseModel):
    """A text of a column and the code that it becomes."""

    text: str
    rows: int
    to: str | None
    label: str
    how: Literal["same", "read", "told", "wrong"]
    likely: list[str]


class OtherField(BaseModel):
    """A field that a column could go to as well."""

    field: str
    reason: str


class FillOut(BaseModel):
    """The value that rows without one get."""

    value: str
    over: bool  # in place of what the roster has, too
    fills: int  # rows that get it
    joining: int  # of them, people who would join
    kept: int  # rows without a value, whose record keeps its own


class ColumnOut(BaseModel):
    """A column of a file, where it goes and how it reads."""

    heading: str
    letter: str
    field: str | None
    reason: str
    certain: bool
    beside: bool
    by_hand: bool  # somebody has said where it goes
    parts: list[str]
    at: str
    others: list[OtherField]
    secret: bool
    distinct: int
    filled: int
    wrong: int
    spark: list[SparkPart]
    reads: str
    empty: int = 0  # rows without a value here
    fill: FillOut | None = None
    translations: list[TranslationOut]


class UnfilledOut(BaseModel):
    """A field that no column goes to."""

    field: str
    title: str
    required: bool
    fill: FillOut | None
    composed: dict[str, Any] | None  # the pattern
    said: str  # the pattern in words
    examples: list[str]


class ColumnsOut(BaseModel):
    """The columns of a file, and the fields that none goes to."""

    columns: list[ColumnOut]
    unfilled: list[UnfilledOut]


class ComposeIn(Model):
    """A pattern that is to compose the values of a field."""

    field: str = Field(max_length=200)
    pattern: dict[str, Any]


class ComposeExample(BaseModel):
    """A value that a pattern composes."""

    line: int
    name: str
    value: str


class ComposePreview(BaseModel):
    """What a pattern would compose."""

    said: str
    made: int
    numbered: int
    without: int  # rows that have no value and get none: a field of the pattern is empty
    examples: list[ComposeExample]


class RehearsalQuery(Model):
    """Which rows to try."""

    of: Literal["five", "sample", "all"] = "five"
    start: int = Field(0, ge=0, le=MOST_ROWS)
    limit: int = Field(100, ge=1, le=500)


class RehearsedRow(BaseModel):
    """What would become of a row."""

    line: int
    outcome: Outcome
    name: str
    key: str
    shows: list[str]
    said: str
    changes: list[FieldChange]


class RehearsalOut(BaseModel):
    """What would become of rows, with nothing stored."""

    total: int
    rows: list[RehearsedRow]
    counts: dict[str, int]
