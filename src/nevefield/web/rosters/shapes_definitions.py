"""The shapes of the API about definitions."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from nevefield.core.checking.options import OptionKind
from nevefield.web.common import Model, NamePath
from nevefield.web.moments import Moment

__all__ = [
    "CheckKind",
    "CheckOption",
    "DefinitionIn",
    "DefinitionOut",
    "DefinitionVersion",
    "DefinitionWritten",
    "FieldPath",
    "FieldValue",
    "FieldValues",
    "ListMade",
    "RosterOpened",
    "TriedOut",
    "TroubleOut",
    "VersionOut",
    "VersionPath",
]


class VersionPath(NamePath):
    """A path to a version of a definition."""

    number: int


class VersionOut(BaseModel):
    """An earlier definition, and what became another from it to the one in force."""

    number: int
    document: dict[str, Any]
    changes: list[str]


class DefinitionVersion(BaseModel):
    """One writing of a definition."""

    number: int
    by: str
    at: Moment


class FieldPath(NamePath):
    """A path to a field of a roster."""

    field: str


class FieldValue(BaseModel):
    """A value that a field has, and in how many records."""

    value: str
    records: int


class FieldValues(BaseModel):
    """The different values that a field has in the records."""

    different: int
    commonest: list[FieldValue]  # the first few
    why_no_list: str  # "" where a code list can be made of them


class ListMade(BaseModel):
    """A code list was made of the values of a field."""

    name: str


class CheckOption(BaseModel):
    """One option of a check, as the catalog of checks describes it."""

    name: str
    kind: OptionKind
    label: str
    words: str
    example: Any
    needed: bool
    choices: list[str]


class CheckKind(BaseModel):
    """A check that a definition can declare."""

    name: str
    holds: str
    weight: str
    options: list[CheckOption]
    fewest: int
    most: int
    example: dict[str, Any]


class DefinitionOut(BaseModel):
    """A roster's definition, with what can be declared in one."""

    number: int
    document: dict[str, Any]
    versions: list[DefinitionVersion]
    lists: list[str]  # the code lists that there are
    checks: list[CheckKind]


class DefinitionIn(Model):
    """A definition to be tried or written."""

    document: dict[str, Any]
    seen: int = 0


class TroubleOut(BaseModel):
    """A check that records of the roster would break."""

    check: str
    field: str | None
    said: str
    records: int
    keys: list[str]


class TriedOut(BaseModel):
    """What a definition would break in the records that there are."""

    why: str  # a second person has to approve it; "" when none has to
    records: int  # that there are
    troubles: list[TroubleOut]


class DefinitionWritten(BaseModel):
    """The number of a definition that was written."""

    number: int


class RosterOpened(BaseModel):
    """The name of a roster that was opened."""

    name: str
