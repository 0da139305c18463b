"""The kinds of step: what each says, and what it is about.

A step is one JSON object with a `kind`. To add a kind, put its class here and into `Step`, what it
does to the decisions into `deciding`, its words into `web/step_words.py`; mypy names the places
that forget it.
"""

from __future__ import annotations

from datetime import date
from enum import Enum
from typing import TYPE_CHECKING, Annotated, ClassVar, Literal

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from nevefield.core.borders import Json
from nevefield.core.checking.waiving import WHOLE
from nevefield.core.columns.composing import Pattern
from nevefield.core.errors import WrongStep

if TYPE_CHECKING:
    from collections.abc import Iterator, Sequence

__all__ = [
    "About",
    "AbsentStep",
    "AppliedStep",
    "Cell",
    "Choice",
    "ComposeStep",
    "CoverageStep",
    "DateOrderStep",
    "DecimalMarkStep",
    "EndStep",
    "Ending",
    "FillStep",
    "HoldStep",
    "KeptScale",
    "KnownByStep",
    "LeaveOutStep",
    "LimitsStep",
    "OpenLines",
    "PairStep",
    "Pairing",
    "PairsStep",
    "PersonStep",
    "ReadingStep",
    "RecipeStep",
    "ReleaseStep",
    "SetStep",
    "SourceStep",
    "SourceStepKind",
    "SourceSteps",
    "SplitStep",
    "Step",
    "TakenBackStep",
    "TakesStep",
    "TranslateStep",
    "UndecidedStep",
    "UndoStep",
    "UpdateStep",
    "WaiveStep",
    "read_step",
]

Text = Annotated[str, Field(max_length=20_000)]
Number = Annotated[int, Field(ge=-(2**53), le=2**53)]  # of a line or a record
Lines = Annotated[list[Number], Field(min_length=1)]
Reason = Annotated[str, Field(min_length=1, max_length=1_000)]


class About(Enum):
    """What a kind of step is about."""

    FILE = "what the file is taken for: all rows"
    ROWS = "the rows of its lines, or all that its fields touch"
    NO_ROW = "nothing that becomes of a row by itself"


class _Part(BaseModel):
    """A part of a step."""

    model_config = ConfigDict(extra="forbid", frozen=True)


class _Kind(_Part):
    """A kind of step."""

    about: ClassVar[About] = About.ROWS

    def named(self) -> Iterator[tuple[str, str]]:
        """List the fields that it names, each with its place in the step."""
        yield from ()

    def rows(self) -> Sequence[int]:
        """List the lines of the rows that it is about; none where it is about all rows."""
        return ()

    def touched(self) -> tuple[Sequence[int] | None, frozenset[str]]:
        """Say which lines and which fields it is about; None in place of the lines for all rows."""
        match self.about:
            case About.FILE:
                return None, frozenset()
            case About.NO_ROW:
                return (), frozenset()
            case About.ROWS:
                lines = self.rows()
                names = () if lines else (name for _, name in self.named())
                return lines, frozenset(names)


class _FieldStep(_Kind):
    """About what one field holds, in all rows."""

    field: Text

    def named(self) -> Iterator[tuple[str, str]]:
        yield "field", self.field


class _LinesStep(_Kind):
    """About the rows of some lines."""

    lines: Lines

    def rows(self) -> Sequence[int]:
        return self.lines


class ReadingStep(_Kind):
    """Overrule a part of the reading; parts left out stay as they are."""

    about: ClassVar[About] = About.FILE
    kind: Literal["reading"]
    header_line: Number | None = None
    no_header: bool = False
    separator: Text = ""
    encoding: Text = ""
    sheet: Text = ""
    # of a recipe: what stood in the header's line, by which it is found again
    headings: tuple[Text, ...] = ()


class PairStep(_Kind):
    """Send a column to a field, or (null) leave it in the file.

    Where somebody has sent another column there already: `beside` it, the texts put together, or
    `instead` of it.
    """

    about: ClassVar[About] = About.FILE
    kind: Literal["pair"]
    heading: Text
    field: Text | None
    beside: bool = False
    instead: bool = False

    def named(self) -> Iterator[tuple[str, str]]:
        if self.field:
            yield "field", self.field


class Pairing(_Part):
    """One column and the field that it goes to."""

    heading: Text
    field: Text | None


class PairsStep(_Kind):
    """Send several columns at once: what was guessed for all of them is right."""

    about: ClassVar[About] = About.FILE
    kind: Literal["pairs"]
    pairs: Annotated[tuple[Pairing, ...], Field(min_length=1, max_length=2_000)]

    def named(self) -> Iterator[tuple[str, str]]:
        yield from (("pairs", pair.field) for pair in self.pairs if pair.field)


class SplitStep(_Kind):
    """Cut a column that holds several fields: "Adair, Ines" at "," into family name and given
    names.
    """

    about: ClassVar[About] = About.FILE
    kind: Literal["split"]
    heading: Text
    at: Annotated[str, Field(min_length=1, max_length=10)]
    into: Annotated[tuple[Text, ...], Field(min_length=2, max_length=6)]
    instead: bool = False  # of the columns that somebody has sent to these fields

    def named(self) -> Iterator[tuple[str, str]]:
        yield from (("into", name) for name in self.into)


class DateOrderStep(_FieldStep):
    """Say whether day or month comes first in a column; `turned` when a spreadsheet swapped them
    in its real dates.
    """

    kind: Literal["date_order"]
    order: Literal["dmy", "mdy"]
    turned: bool = False


class DecimalMarkStep(_FieldStep):
    """Say whether a comma or a point stands before the decimals of a column."""

    kind: Literal["decimal_mark"]
    mark: Literal[",", "."]


class FillStep(_FieldStep):
    """Fill a field where the file has nothing: for new people, and for those of whom the roster has
    nothing; "" fills no more.

    `over`: for everybody whose cell is empty, in place of what the roster has.
    """

    kind: Literal["fill"]
    value: Text
    over: bool = False


class ComposeStep(_FieldStep):
    """Compose a field from others where neither the file nor the roster has a value; null
    composes it no more.
    """

    kind: Literal["compose"]
    pattern: Pattern | None

    def named(self) -> Iterator[tuple[str, str]]:
        yield "field", self.field
        for piece in self.pattern.pieces if self.pattern is not None else ():
            if piece.field:
                yield "pattern", piece.field


class TranslateStep(_FieldStep):
    """Say what texts of a field mean, for every row."""

    kind: Literal["translate"]
    texts: list[Text]
    to: Text


class Cell(_Part):
    """One cell and its new text; "" blanks it."""

    line: Number
    field: Text
    value: Text
    # with "": what the record has is taken away too, whatever the field's rule
    empties: bool = False


class SetStep(_Kind):
    """Put texts into single cells."""

    kind: Literal["set"]
    cells: Annotated[list[Cell], Field(min_length=1)]

    def named(self) -> Iterator[tuple[str, str]]:
        yield from (("cells", cell.field) for cell in self.cells)

    def rows(self) -> Sequence[int]:
        return [cell.line for cell in self.cells]


class HoldStep(_LinesStep):
    """Park rows with a reason."""

    kind: Literal["hold"]
    reason: Reason


class LeaveOutStep(_LinesStep):
    """Leave rows out of the roster, with a reason."""

    kind: Literal["leave_out"]
    reason: Reason


class ReleaseStep(_LinesStep):
    """Take rows that were held or left out back in."""

    kind: Literal["release"]


class Choice(_Part):
    """Who the row of a line is: a record by its number in the store; null for nobody in the
    roster.
    """

    line: Number
    record: Number | None


class PersonStep(_Kind):
    """Say who rows are."""

    kind: Literal["person"]
    choices: Annotated[list[Choice], Field(min_length=1)]

    def rows(self) -> Sequence[int]:
        return [choice.line for choice in self.choices]


class UndecidedStep(_LinesStep):
    """Leave it to keys and likeness again who rows are."""

    kind: Literal["undecided"]


class LimitsStep(_Kind):
    """Say from which scores on likeness settles who a row is, 0 to 100."""

    about: ClassVar[About] = About.FILE
    kind: Literal["limits"]
    certain: Annotated[float, Field(ge=50, le=100)]
    nobody: Annotated[float, Field(ge=0, le=50)]


class WaiveStep(_LinesStep):
    """Say yes, with a reason, to what a check asks about rows; to a privilege that is gained
    also until which day, inclusive.
    """

    kind: Literal["waive"]
    check: Text
    field: Text | None
    reason: Reason
    until: date | None = None

    def named(self) -> Iterator[tuple[str, str]]:
        # Of a group or the whole file the field is the group's name.
        if self.field and self.lines != [WHOLE]:
            yield "field", self.field


class UpdateStep(_FieldStep):
    """Say what becomes of a record's value when the file brings one; of all rows, or only of these
    lines.

    filled: the file's where it has one; file: the file's, an empty cell empties; ours: the roster's
    stays; blanks: only where the roster has none; add and remove: to and from a number, or to and
    from several values.
    """

    kind: Literal["update"]
    rule: Literal["filled", "file", "ours", "blanks", "add", "remove"]
    lines: list[Number] = []

    def rows(self) -> Sequence[int]:
        return self.lines


class CoverageStep(_Kind):
    """Say what the file claims to be: everybody, only the people in it, or everybody of whom a
    condition holds.

    Of memberships also: all that its people have, of the kinds that it has; or all that its groups
    have. `remember`: the source's later files too; else this one alone.
    """

    about: ClassVar[About] = About.NO_ROW
    kind: Literal["coverage"]
    of: Literal["everybody", "listed", "part", "people", "groups"]
    when: dict[str, Json] | None = None
    remember: bool = False


class KnownByStep(_Kind):
    """Say by which keys, in their order, rows are known; none: by likeness alone; null: by the
    roster's own.
    """

    about: ClassVar[About] = About.FILE
    kind: Literal["known_by"]
    keys: (
        Annotated[
            tuple[Annotated[tuple[Text, ...], Field(min_length=1)], ...], Field(max_length=20)
        ]
        | None
    )

    def named(self) -> Iterator[tuple[str, str]]:
        yield from (("keys", name) for key in self.keys or () for name in key)


class TakesStep(_Kind):
    """Say whom the file is for: new people, people whom the roster has, or both; the rows of the
    others are left out.
    """

    about: ClassVar[About] = About.FILE
    kind: Literal["takes"]
    of: Literal["both", "new", "known"]


class AbsentStep(_Kind):
    """Say what becomes of the absent: of all, or only of these records by their numbers.

    stay: nothing; leave: they are in the roster no more; end: a day is put into a field; hold:
    parked with a reason, for a look.
    """

    about: ClassVar[About] = About.NO_ROW
    kind: Literal["absent"]
    act: Literal["stay", "leave", "end", "hold"]
    field: Text = ""
    day: Text = ""  # ISO 8601
    reason: Annotated[str, Field(max_length=1_000)] = ""
    records: list[Number] = []

    def named(self) -> Iterator[tuple[str, str]]:
        if self.field:
            yield "field", self.field


class Ending(_Part):
    """A record, by its number, and the day on which it ends, ISO 8601."""

    record: Number
    day: Annotated[str, Field(max_length=10)]


class EndStep(_Kind):
    """End records that are not in the file, because others take their place."""

    about: ClassVar[About] = About.NO_ROW
    kind: Literal["end"]
    field: Text
    ends: Annotated[tuple[Ending, ...], Field(min_length=1)]

    def named(self) -> Iterator[tuple[str, str]]:
        yield "field", self.field


Ranges = tuple[tuple[int, int], ...]  # of rising numbers: each first and last


class OpenLines(_Part):
    """Lines that did not go in, and the fields of what stood in their way."""

    fields: tuple[Text, ...]
    lines: Ranges


class KeptScale(_Part):
    """How much each agreement between people counted: see `people.matching.Scale`."""

    same: dict[str, tuple[float, ...]]
    chance: dict[str, tuple[float, ...]]
    share: float
    records: Number


class AppliedStep(_Kind):
    """The plan was applied as a change set. Written by the product only."""

    about: ClassVar[About] = About.NO_ROW
    kind: Literal["applied"]
    change_set: int
    # field -> lines for which something was added or subtracted: once is enough
    counted: dict[str, tuple[int, ...]] = {}
    records: tuple[Choice, ...] = ()  # who those are who joined without a key that would tell
    went_in: dict[str, Ranges] = {}  # outcome -> lines that went in with it
    open: tuple[OpenLines, ...] = ()
    asked: Ranges = ()  # lines of which a person had to say who they are
    absent: int | None = None  # how many were absent; None in steps from before this was kept
    left: Ranges = ()  # absent records, by number, that neither ended nor left
    scale: KeptScale | None = None
    # lines that were left out by themselves: said twice, or not whom the file is for
    passed: Ranges = ()


class TakenBackStep(_Kind):
    """A change set was taken back. Written by the product only."""

    about: ClassVar[About] = About.NO_ROW
    kind: Literal["taken_back"]
    change_set: int


class SourceStep(_Kind):
    """Say which source the file comes from; "" for none.

    `by`: a hand; whoever dropped it; our own request sheet; or a guess, which is only the product's
    and teaches nothing until somebody says the same.
    """

    about: ClassVar[About] = About.NO_ROW
    kind: Literal["source"]
    name: Annotated[str, Field(max_length=120)]
    by: Literal["hand", "given", "sheet", "guess"] = "hand"
    why: Text = ""


# What a recipe keeps: what is about the source rather than about single rows.
SourceStepKind = (
    ReadingStep
    | PairStep
    | SplitStep
    | DateOrderStep
    | DecimalMarkStep
    | FillStep
    | ComposeStep
    | TranslateStep
    | UpdateStep
    | KnownByStep
    | TakesStep
    | CoverageStep
)
SourceSteps = Annotated[SourceStepKind, Field(discriminator="kind")]


class RecipeStep(_Kind):
    """Take over what was learnt from the source's earlier files. Written by the product only;
    undoing it forgets that.
    """

    about: ClassVar[About] = About.FILE
    kind: Literal["recipe"]
    source: Text
    version: int
    learnt: Text  # the day, ISO 8601
    steps: tuple[SourceSteps, ...]


class UndoStep(_Kind):
    """Undo an earlier step, by its number."""

    kind: Literal["undo"]
    step: int


Step = (
    ReadingStep
    | PairStep
    | PairsStep
    | SplitStep
    | DateOrderStep
    | DecimalMarkStep
    | FillStep
    | ComposeStep
    | TranslateStep
    | SetStep
    | HoldStep
    | LeaveOutStep
    | ReleaseStep
    | WaiveStep
    | UpdateStep
    | PersonStep
    | UndecidedStep
    | LimitsStep
    | KnownByStep
    | TakesStep
    | CoverageStep
    | AbsentStep
    | EndStep
    | AppliedStep
    | TakenBackStep
    | SourceStep
    | RecipeStep
    | UndoStep
)
_ADAPTER: TypeAdapter[Step] = TypeAdapter(Annotated[Step, Field(discriminator="kind")])


def read_step(document: Json) -> Step:
    """Read one step from its JSON object.

    Raises:
        WrongStep: It is none, or a part is missing, unknown or of the wrong type.
    """
    try:
        return _ADAPTER.validate_python(document)
    except ValidationError as error:
        first = error.errors()[0]
        place = ".".join(str(part) for part in first["loc"])
        raise WrongStep(
            f"The step is not right at {place or 'its kind'}: {first['msg'].lower()}."
        ) from error
