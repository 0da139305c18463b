"""What the shapes of the API have in common. The OpenAPI document and the front end's types are
made from the shapes.
"""

from __future__ import annotations

from typing import Literal

from pydantic import BaseModel, ConfigDict, Field

__all__ = [
    "MOST_ROWS",
    "ChangeSetPath",
    "CorrectionsOut",
    "Created",
    "Done",
    "FamilyOut",
    "FieldChange",
    "IntakePath",
    "LinePath",
    "Model",
    "NamePath",
    "Outcome",
    "ProposalDone",
    "ReasonIn",
    "RecordPath",
    "TallyOut",
    "Value",
    "Weight",
]

MOST_ROWS = 1_000_000_000  # from which a page may begin: more the database cannot count
Weight = Literal["stop", "ask", "note"]
Outcome = Literal["new", "changed", "same", "waiting", "stopped", "held", "left_out"]
Value = str | list[str] | None


class Model(BaseModel):
    """Base of what is taken: unknown parts are refused."""

    model_config = ConfigDict(extra="forbid")


class NamePath(Model):
    """A path with the name of a roster or a code list."""

    name: str = Field(max_length=80)


class IntakePath(Model):
    """A path to an intake."""

    intake_id: int


class LinePath(Model):
    """A path to a line of an intake's file."""

    intake_id: int
    line: int


class RecordPath(Model):
    """A path to a record."""

    record_id: int


class ChangeSetPath(Model):
    """A path to a change set."""

    change_set_id: int


class TallyOut(BaseModel):
    """Rows by outcome; but for the absent they add up to those read."""

    read: int
    new: int
    changed: int
    same: int
    waiting: int
    stopped: int
    held: int
    left_out: int
    absent: int


class FieldChange(BaseModel):
    """A field of a record that becomes something else."""

    field: str
    title: str
    old: Value
    new: Value


class FamilyOut(BaseModel):
    """Changes of one kind: people who join, who are absent, or one field."""

    key: str
    title: str
    count: int
    taken_away: int
    kept_blank: int = 0  # rows without a value, whose record keeps its own


class ReasonIn(Model):
    """A reason, as somebody typed it."""

    reason: str = Field(max_length=1000)


class ProposalDone(BaseModel):
    """The number of a proposal, and of what was begun with it."""

    proposal: int
    job: int | None = None
    change_set: int | None = None


class CorrectionsOut(BaseModel):
    """What a corrected error sheet brought, by line of the file."""

    corrected: list[int]
    altered: list[int]
    untouched: list[int]
    beside: int
    missing: list[int]
    added: list[str]
    step: int | None


class Created(BaseModel):
    """The intake that was made."""

    intake: int
    # when the file was a corrected error sheet of that intake
    corrections: CorrectionsOut | None = None


class Done(BaseModel):
    """Whether anything was done."""

    done: bool
