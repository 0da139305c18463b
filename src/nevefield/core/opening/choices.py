"""What a person said about a proposal: whatever is not said stays as it is proposed."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from nevefield.core.borders import Json
from nevefield.core.errors import WrongDefinition

__all__ = ["KINDS", "Choices", "ColumnChoice", "read_choices"]

# Of values, as a person chooses them; `code` for a code list.
KINDS = (
    *("text", "identifier", "code", "date", "datetime", "year", "integer", "number", "boolean"),
    *("mail", "phone"),
)
LONGEST = 300  # characters of a heading or value
MOST = 2_000  # columns, and ways of writing that somebody sorts by hand


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", frozen=True)


class ColumnChoice(_Strict):
    """What was said of one column; None for nothing.

    Args:
        leave: It becomes no field.
        title: Of its field.
        kind: One of `KINDS`.
        required: Whether it may not be empty.
        check: Whether an identifier's check character and shape are held to.
        several: The sign between several values of a cell; "" for one value.
        parent: The heading of the column of codes above it; "" for none.
        sensitive: Whether its values are kept from those who may only look.
        ways: What a text of a code list stands for: another text, "" for no code, itself for a code
            of its own.
    """

    leave: bool = False
    title: str | None = Field(default=None, max_length=120)
    kind: str | None = Field(default=None, max_length=20)
    required: bool | None = None
    check: bool | None = None
    several: str | None = Field(default=None, max_length=3)
    parent: str | None = Field(default=None, max_length=LONGEST)
    sensitive: bool | None = None
    ways: dict[str, str] = Field(default_factory=dict, max_length=MOST)


class Choices(_Strict):
    """What was said of a proposal.

    Args:
        title: Of the roster.
        name: Of the roster, small ASCII letters and `_`.
        key: The heading of the column that people are known by; "" for none, None as proposed.
        columns: By heading.
        unchecked: Pairs of headings whose order is not checked.
        people: Kinds of people of whose usual fields those are added that the file lacks.
    """

    title: str | None = Field(default=None, max_length=120)
    name: str | None = Field(default=None, max_length=60, pattern=r"^[a-z][a-z_]*$")
    key: str | None = Field(default=None, max_length=LONGEST)
    columns: dict[str, ColumnChoice] = Field(default_factory=dict, max_length=MOST)
    unchecked: tuple[tuple[str, str], ...] = Field(default=(), max_length=100)
    people: tuple[str, ...] = Field(default=(), max_length=10)

    def of(self, heading: str) -> ColumnChoice:
        """What was said of a column."""
        return self.columns.get(heading, _NOTHING)


_NOTHING = ColumnChoice()


def read_choices(document: Json) -> Choices:
    """Read what was said of a proposal.

    Raises:
        WrongDefinition: With the place.
    """
    try:
        choices = Choices.model_validate(document)
    except ValidationError as error:
        first = error.errors(include_url=False)[0]
        place = ".".join(str(part) for part in first["loc"])
        raise WrongDefinition(place, f"cannot be so: {first['msg'].casefold()}.") from error
    for heading, one in choices.columns.items():
        if one.kind is not None and one.kind not in KINDS:
            raise WrongDefinition(
                f"columns.{heading}.kind", f"“{one.kind}” is no kind of value; {', '.join(KINDS)}."
            )
    return choices
