"""What the API takes and gives. The OpenAPI document and the front end's types are made from
these.
"""

from __future__ import annotations

from datetime import date
from typing import Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from nevefield.core.checking.options import OptionKind
from nevefield.web.moments import Moment

Weight = Literal["stop", "ask", "note"]
Outcome = Literal["new", "changed", "same", "waiting", "stopped", "held", "left_out"]
Value = str | list[str] | None


class Model(BaseModel):
    """Base of what is taken: unknown parts are refused."""

    model_config = ConfigDict(extra="forbid")


class NamePath(Model):
    name: str = Field(max_length=80)


class IntakePath(Model):
    intake_id: int


class LinePath(Model):
    intake_id: int
    line: int


class RecordPath(Model):
    record_id: int


class ChangeSetPath(Model):
    change_set_id: int


class JobPath(Model):
    job_id: int


class SignIn(Model):
    name: str = Field(max_length=80)
    password: str = Field(max_length=500)


class RosterBrief(BaseModel):
    name: str
    title: str
    level: int


class PlaceOut(BaseModel):
    address: str
    at: Moment
    seen: Moment  # when something was done there last


class Me(BaseModel):
    name: str
    sign_in: str
    level: int
    token: str
    practice: bool
    largest_mb: int
    rosters: list[RosterBrief]
    address: str  # from where this session was begun
    elsewhere: list[PlaceOut]  # where else the account is signed in


class TallyOut(BaseModel):
    read: int
    new: int
    changed: int
    same: int
    waiting: int
    stopped: int
    held: int
    left_out: int
    absent: int


class OpenItem(BaseModel):
    weight: Weight
    lead: str
    rest: str
    detail: str
    place: str
    at: Moment


class CoreOut(BaseModel):
    change_set: int
    kind: str
    title: str
    at: Moment
    tally: TallyOut | None
    undone: bool


class RosterOnDesk(BaseModel):
    name: str
    title: str
    records: int
    history: list[CoreOut]


class DeskOut(BaseModel):
    open: list[OpenItem]
    rosters: list[RosterOnDesk]


class FieldOut(BaseModel):
    name: str
    title: str
    type: str
    code_list: str
    several: bool
    required: bool
    is_key: bool
    mono: bool
    means: str
    owner: str  # the office that owns it


class RosterOut(BaseModel):
    name: str
    title: str
    version: int
    records: int
    level: int
    fields: list[FieldOut]


class DefinitionVersion(BaseModel):
    number: int
    by: str
    at: Moment


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
    number: int
    document: dict[str, Any]
    versions: list[DefinitionVersion]
    lists: list[str]  # the code lists that there are
    checks: list[CheckKind]


class DefinitionIn(Model):
    document: dict[str, Any]
    seen: int = 0


class TroubleOut(BaseModel):
    check: str
    field: str | None
    said: str
    records: int
    keys: list[str]


class TriedOut(BaseModel):
    why: str  # a second person has to agree to it; "" when none has to
    records: int  # that there are
    troubles: list[TroubleOut]


class DefinitionWritten(BaseModel):
    number: int


class RosterOpened(BaseModel):
    name: str


class RosterList(BaseModel):
    rosters: list[RosterOut]


class RecordsQuery(Model):
    start: int = Field(0, ge=0)
    limit: int = Field(100, ge=1, le=1000)
    sort: str = ""
    down: bool = False
    q: str = Field("", max_length=200)
    filter: list[str] = []
    as_of: date | None = None
    shortlist: int | None = None


class RecordRow(BaseModel):
    id: int
    ended: bool  # the last day is over
    name: str  # of the person whom the record refers to, where it has no name of its own
    values: dict[str, Value]


class RecordsOut(BaseModel):
    total: int
    of: int
    ended: int  # of all records, those whose last day is over
    version: int
    rows: list[RecordRow]


class FieldChange(BaseModel):
    field: str
    title: str
    old: Value
    new: Value


class LifeEntry(BaseModel):
    version: int
    at: Moment
    by: str
    kind: str
    title: str
    change_set: int
    intake: int | None
    file: str
    line: int | None
    changes: list[FieldChange]


class AheadOut(BaseModel):
    day: date
    title: str
    by: str
    intake: int
    leaves: bool
    changes: list[FieldChange]


class LifeOut(BaseModel):
    id: int
    roster: str
    roster_title: str
    name: str
    is_current: bool
    values: dict[str, Value]
    life: list[LifeEntry]
    ahead: list[AheadOut]  # what waits for its day


class UndoQuery(Model):
    records: list[int] | None = None
    fields: list[str] | None = None
    start: int = Field(0, ge=0)
    limit: int = Field(200, ge=1, le=1000)


class UndoIn(Model):
    records: list[int] | None = None  # whose; null for all
    fields: list[str] | None = None  # which; null for all
    but: list[int] = []  # whose not
    as_far: bool = False  # leave what later changes rest on as it is


class UndoMove(BaseModel):
    field: str
    title: str
    now: Value
    then: Value


class LaterSet(BaseModel):
    change_set: int
    title: str


class UndoPerson(BaseModel):
    record: int
    name: str
    key: str
    does: str  # leaves, returns, values; "" when nothing of it can be taken back
    moves: list[UndoMove]
    rests: list[str]  # titles of fields that were changed again later; "" for the whole record
    later: list[LaterSet]


class UndoFamily(BaseModel):
    field: str
    title: str
    count: int


class UndoOut(BaseModel):
    version: int  # of the roster
    leaves: int
    returns: int
    values: int
    kept: int  # records of whom something stays
    families: list[UndoFamily]  # of the values
    why: str  # why a second person has to agree; "" when none has to
    people: list[UndoPerson]  # a page, those of whom something stays last
    total: int


class FollowedOut(BaseModel):
    field: str
    title: str
    count: int  # rows that go in with a value that a placement rule gave


class FamilyOut(BaseModel):
    key: str
    title: str
    count: int
    taken_away: int
    kept_blank: int = 0  # rows without a value, whose record keeps its own


class CompareQuery(Model):
    old: str = Field("today", max_length=40)  # today, day:2026-08-31, intake:7
    new: str = Field("today", max_length=40)
    family: str = Field("", max_length=120)  # joined, absent or a field; "" for the largest
    start: int = Field(0, ge=0)
    limit: int = Field(200, ge=1, le=1000)


class ComparedPerson(BaseModel):
    record: int | None  # null where the state is a file
    line: int | None  # of the file
    key: str
    name: str
    old: Value
    new: Value


class ComparedOut(BaseModel):
    old: str  # what was compared, worded
    new: str
    families: list[FamilyOut]  # joined, absent, then fields
    changed: int  # records of which any field differs
    same: int
    family: str
    total: int
    people: list[ComparedPerson]


class EditIn(Model):
    # by field the text as typed; "" empties it
    values: dict[str, str] = Field(min_length=1, max_length=200)
    reason: str = Field("", max_length=1000)
    until: date | None = None  # the last day of a privilege that is gained; null for good
    day: date | None = None  # from which it is to hold; null for at once


class EditOut(BaseModel):
    intake: int
    change_set: int | None
    proposal: int | None
    scheduled: int | None


class DoublesQuery(Model):
    start: int = Field(0, ge=0)
    limit: int = Field(50, ge=1, le=200)


class DoubleField(BaseModel):
    field: str
    title: str
    values: list[Value]  # of the two
    word: str  # how well they agree, where the field tells people apart
    bits: float  # what that adds to the evidence
    is_same: bool


class DoubleOut(BaseModel):
    score: float  # the chance in 100 that the two are one
    records: list[int]
    keys: list[str]
    names: list[str]
    fields: list[DoubleField]


class DoublesOut(BaseModel):
    version: int  # of the roster
    total: int
    pairs: list[DoubleOut]


class TwoIn(Model):
    one: int
    other: int


class UniteIn(Model):
    keep: int
    gone: int
    take: list[str] = []  # fields of which the value of the one that leaves is taken
    version: int


class MergedRecords(BaseModel):
    change_set: int


class MovedQuery(Model):
    version: int = Field(ge=0)  # of the roster, as it was looked at


class MovedRow(BaseModel):
    line: int
    name: str
    before: str  # outcome
    now: str
    fields: list[str]  # titles


class MovedOut(BaseModel):
    total: int
    rows: list[MovedRow]  # the first of them


class ProposalPath(Model):
    proposal_id: int


class ReasonIn(Model):
    reason: str = Field(max_length=1000)


class ProposalOut(BaseModel):
    id: int
    kind: str  # intake, take-back, definition
    title: str
    roster: str
    intake: int | None
    takes_back: int | None  # the change set that would be taken back
    why: str  # a second person has to agree; "" when somebody proposed of their own will
    counts: dict[str, int]
    state: str  # open, agreed, done, sent_back, withdrawn, replaced
    by: str
    at: Moment
    is_mine: bool
    may_agree: bool
    is_stale: bool  # the intake was worked on, or another definition written, after it
    document: dict[str, Any] | None  # of a definition
    changes: list[str]  # in words, of a definition
    decider: str
    decided_at: Moment | None
    reason: str
    change_set: int | None


class ProposalList(BaseModel):
    proposals: list[ProposalOut]


class ScheduledPath(Model):
    scheduled_id: int


class ScheduledOut(BaseModel):
    id: int
    intake: int
    title: str
    roster: str
    roster_title: str
    day: date
    counts: dict[str, int]
    state: str  # waiting, due, done, stopped
    by: str
    at: Moment
    reason: str  # why it could not be done on its day
    is_stale: bool  # the intake was worked on after it
    change_set: int | None


class ScheduledList(BaseModel):
    scheduled: list[ScheduledOut]


class ScheduledDone(BaseModel):
    scheduled: int


class ProposalDone(BaseModel):
    proposal: int
    job: int | None = None
    change_set: int | None = None


class UnusualOut(BaseModel):
    said: str
    reason: str
    part: dict[str, Any] | None
    part_said: str


class ReceiptPerson(BaseModel):
    record: int
    name: str
    key: str


class ChangeSetOut(BaseModel):
    id: int
    roster: str
    version: int
    kind: str
    title: str
    by: str
    at: Moment
    intake: int | None
    undone_by: int | None
    undoes: int | None
    part_of: int | None  # the change set of which it takes a part back
    absent: dict[str, int]  # the absent by what became of them: stay, leave, end, hold
    undone: dict[str, int]  # of an undo: returned, values, left, kept
    planned: dict[str, int]
    found: dict[str, int]
    tally: TallyOut | None
    rows: dict[str, int]
    fields: dict[str, int]
    # of an undo, by what became of them: returned, left, values
    who: dict[str, list[ReceiptPerson]] = {}
    # by title of the field, from how many people a value was taken away
    taken_away: dict[str, int] = {}
    # the roster's version as it was looked at, where it had moved on by the time it was applied
    looked_at: int | None = None


class ReceiptLine(BaseModel):
    line: int
    record: int | None
    name: str
    key: str
    message: str


class ReceiptLines(BaseModel):
    total: int
    lines: list[ReceiptLine]


class ReceiptQuery(Model):
    outcome: Outcome
    start: int = Field(0, ge=0)
    limit: int = Field(200, ge=1, le=1000)


class ChangeSetList(BaseModel):
    change_sets: list[ChangeSetOut]


class CodeOut(BaseModel):
    code: str = Field(max_length=80, min_length=1)
    label: str = Field("", max_length=200)
    parent: str = Field("", max_length=80)
    aliases: list[str] = []
    first_day: date | None = None
    last_day: date | None = None


class CodeInUse(CodeOut):
    used: int


class CodeListOut(BaseModel):
    name: str
    title: str
    version: int
    used_in: list[str]
    codes: list[CodeInUse]


class CodeListBrief(BaseModel):
    name: str
    title: str
    codes: int
    used_in: list[str]


class CodeLists(BaseModel):
    lists: list[CodeListBrief]


class MergeIn(Model):
    code: str = Field(max_length=80)
    into: str = Field(max_length=80)
    retire: bool = False  # keep it for the past, with yesterday as its last day
    look: bool = False  # only say what would happen


class MergedOut(BaseModel):
    roster: str
    title: str
    records: int
    change_set: int | None


class MergeDone(BaseModel):
    rosters: list[MergedOut]


class CodesCompared(BaseModel):
    sentence: str  # how the file was read
    problems: list[str]  # what stops it, each with its line
    added: list[str]
    gone: list[str]
    altered: list[str]
    used: dict[str, int]  # records that have a code that would be gone
    codes: list[CodeOut]


class CodeListIn(Model):
    codes: list[CodeOut]
    seen: int | None = None  # the version that they were made of


class IntakeBrief(BaseModel):
    id: int
    title: str
    file_name: str
    roster: str
    roster_title: str
    at: Moment
    by: str
    tally: TallyOut | None
    ready: int  # records that applying would add or alter now
    applied: int | None  # the last receipt that stands
    taken_back: bool  # it was applied, and all of that was taken back


class IntakesQuery(Model):
    start: int = Field(0, ge=0)
    limit: int = Field(200, ge=1, le=500)
    thrown: bool = False  # those that were thrown away, in place of the others


class IntakeList(BaseModel):
    total: int
    thrown: int  # how many were thrown away
    intakes: list[IntakeBrief]


class ThrowIn(Model):
    back: bool = False  # take it back


class ThrownOut(BaseModel):
    thrown: bool


class NotDataOut(BaseModel):
    line: int
    kind: str
    text: str


class ReadingOut(BaseModel):
    type: str
    encoding: str | None
    separator: str | None
    sheet: str | None
    sheets: list[str]  # of a workbook, those that can be read instead
    why: str  # the header is taken for one, in words; "" where nobody had to tell
    header_line: int | None
    sentence: str
    remarks: list[str]
    not_data: list[NotDataOut]


class StepOut(BaseModel):
    number: int
    kind: str
    label: str
    by: str
    at: Moment
    undone: bool


class WaitOut(BaseModel):
    """A cause about a group or the whole file that stands in the way of applying."""

    cause: str
    title: str


class MembershipOut(BaseModel):
    last: str  # the field that takes its last day; "" where there is none
    people: int  # of whom something goes in now
    ends: int  # memberships that end because another takes their place


class IntakeOut(BaseModel):
    id: int
    title: str
    file_name: str
    roster: str
    roster_title: str
    roster_version: int
    level: int
    coverage: str
    membership: MembershipOut | None  # where a record is a membership
    unusual: UnusualOut | None  # more are absent than usual
    absences: dict[str, int]  # the absent by what becomes of them: stay, leave, end, hold
    # of the field that says which part of the institution a record is of; "" where none does
    part_title: str
    # of which parts the rows are that change something, and how many; the largest first
    parts: dict[str, int]
    why: str  # why a second person has to agree before it is applied; "" when none has to
    proposal: ProposalOut | None
    scheduled: ScheduledOut | None
    # what about groups and the whole file has to be settled before anything is applied
    waits: list[WaitOut]
    guards: list[str]  # what is so much that the number of rows must be typed to apply it
    part: dict[str, Any] | None  # the condition of a coverage of a part
    part_said: str  # the same in words
    # for which files the coverage holds that was said here; "" where none was
    claims: Literal["", "this", "source"]
    takes: Literal["both", "new", "known"]  # whom the file is for
    source: str
    source_by: Literal["hand", "given", "sheet", "guess"]  # how it is known
    source_why: str  # the evidence, as a sentence
    learnt: date | None  # the day of the recipe that was taken over
    recipe_step: int | None  # its number: undoing it forgets what was learnt
    unlike: list[str]  # in what the file differs from the source's last one
    sources: list[str]  # of this roster
    by: str
    at: Moment
    tally: TallyOut
    thrown: bool  # it was thrown away
    is_applied: bool  # some of it is in the roster with a receipt that stands
    ready: TallyOut  # of the rows that did not go in yet: what applying would do now
    adds_up: bool
    not_data: int
    reading: ReadingOut
    records: int  # in the roster now
    people: int  # that the rows are; as many as rows unless several are one
    columns_paired: int
    columns_total: int
    stops: int
    asks: int
    notes: int
    by_key: int
    nobody: int
    people_decisions: dict[str, int]  # rows by how it is known who they are
    changes: int
    steps: int
    log: list[StepOut]
    undo: int | None
    redo: int | None
    applied: int | None
    job: int | None
    later: int  # alterations of the roster since the intake was applied


class CorrectionsOut(BaseModel):
    corrected: list[int]
    altered: list[int]
    untouched: list[int]
    beside: int
    missing: list[int]
    added: list[str]
    step: int | None


class Created(BaseModel):
    intake: int
    # when the file was a corrected error sheet of that intake
    corrections: CorrectionsOut | None = None


class WorkPath(Model):
    token: str = Field(pattern="^[0-9a-f]{32}$")


class WorkOut(BaseModel):
    doing: str  # "" when nothing is
    done: int
    total: int


class SheetQuery(Model):
    format: Literal["xlsx", "csv"] = "xlsx"


class LineOut(BaseModel):
    line: int
    kind: str
    cells: list[str]


class LinesOut(BaseModel):
    headings: list[str]
    lines: list[LineOut]
    total: int


class LinesQuery(Model):
    start: int = Field(0, ge=0)
    limit: int = Field(60, ge=1, le=500)


class SparkPart(BaseModel):
    text: str
    rows: int
    kind: Literal["value", "many", "empty", "wrong", "secret"]


class TranslationOut(BaseModel):
    text: str
    rows: int
    to: str | None
    label: str
    how: Literal["same", "read", "told", "wrong"]
    likely: list[str]


class OtherField(BaseModel):
    field: str
    reason: str


class FillOut(BaseModel):
    value: str
    over: bool  # in place of what the roster has, too
    fills: int  # rows that get it
    joining: int  # of them, people who would join
    kept: int  # rows without a value, whose record keeps its own


class ColumnOut(BaseModel):
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
    field: str
    title: str
    required: bool
    fill: FillOut | None
    composed: dict[str, Any] | None  # the pattern
    said: str  # the pattern in words
    examples: list[str]


class ComposeIn(Model):
    field: str = Field(max_length=200)
    pattern: dict[str, Any]


class ComposeExample(BaseModel):
    line: int
    name: str
    value: str


class ComposePreview(BaseModel):
    said: str
    made: int
    numbered: int
    without: int  # rows that have no value and get none: a field of the pattern is empty
    examples: list[ComposeExample]


class RehearsalQuery(Model):
    of: Literal["five", "sample", "all"] = "five"
    start: int = Field(0, ge=0)
    limit: int = Field(100, ge=1, le=500)


class RehearsedRow(BaseModel):
    line: int
    outcome: Outcome
    name: str
    key: str
    shows: list[str]
    said: str
    changes: list[FieldChange]


class RehearsalOut(BaseModel):
    total: int
    rows: list[RehearsedRow]
    counts: dict[str, int]


class SourceBrief(BaseModel):
    id: int
    roster: str
    roster_title: str
    name: str
    version: int
    learnt: date | None
    file: str
    rows: list[int]
    level: int


class SourceList(BaseModel):
    sources: list[SourceBrief]


class RecipeVersion(BaseModel):
    version: int
    intake: int | None
    by: str
    at: Moment


class SourceOut(SourceBrief):
    recipe: dict[str, Any] | None
    said: list[str]
    versions: list[RecipeVersion]


class SourcePath(Model):
    source_id: int


class RecipeIn(Model):
    recipe: dict[str, Any]


class RecipeWritten(BaseModel):
    version: int


class ColumnsOut(BaseModel):
    columns: list[ColumnOut]
    unfilled: list[UnfilledOut]


class RemedyOut(BaseModel):
    kind: str
    value: str | None
    label: str


class CauseOut(BaseModel):
    id: str
    weight: Weight
    check: str
    field: str | None
    fields: list[str]
    title: str
    detail: str
    value: str | None
    rows: int
    settled: int
    let_in: int  # rows that a yes of this intake lets in
    let_in_before: int  # rows that an earlier yes lets in
    whole: bool  # about the whole file or a group, rather than about rows
    near: int = 0  # of one about a group or the whole file: its rows, none put aside
    follows: list[str]  # the causes that it only follows from, and vanishes with
    frees: int
    reasons: list[str]  # of which one is needed to let it in; none where any will do
    # Whether the yes may, or must, say until which day what is gained is had; or until which day it
    # need not be said again.
    ends: Literal["", "may", "must", "again"]
    remedies: list[RemedyOut]


class CausesOut(BaseModel):
    causes: list[CauseOut]


class PeopleQuery(Model):
    state: Literal["possible", "certain", "nobody", "chosen"] = "possible"
    start: int = Field(0, ge=0)
    limit: int = Field(200, ge=1, le=1000)


class Rival(BaseModel):
    line: int
    name: str


class PersonBrief(BaseModel):
    line: int
    name: str
    key: str
    state: str
    score: float  # 0 to 100, of the record that it is, or of the likeliest
    candidates: int
    rivals: list[Rival]  # other rows that may be the same record
    record: str  # who it is, if anybody


class KeyChoice(BaseModel):
    fields: list[str]
    title: str
    used: bool  # rows of this file are known by it
    in_file: bool  # the file has columns for it
    rows: int  # that are known by it


class PeopleOut(BaseModel):
    # rows by how it is known who they are: key, certain, possible, nobody, chosen
    counts: dict[str, int]
    keys: list[KeyChoice]  # what people can be known by: those that are used first, in their order
    own_keys: bool  # as the roster has it, nothing else was said for this file
    passed_over: int  # rows of people whom the file is not for
    certain: float  # the limits that hold
    nobody: float
    total: int
    people: list[PersonBrief]


class LimitsQuery(Model):
    certain: float = Field(ge=50, le=100)
    nobody: float = Field(ge=0, le=50)


class LimitsOut(BaseModel):
    counts: dict[str, int]


class CandidateOut(BaseModel):
    record: int
    key: str
    name: str
    score: float  # 0 to 100
    since: str  # the day since which it is known, and from where


class PersonCell(BaseModel):
    value: Any
    word: str  # how well it agrees
    bits: float  # what that adds to the evidence, against it below 0
    same: bool


class PersonField(BaseModel):
    field: str
    title: str
    tells: bool  # it is one of those that tell people apart
    value: Any
    cells: list[PersonCell]  # of each candidate


class PersonOut(BaseModel):
    line: int
    name: str
    key: str
    state: str
    record: int | None
    rivals: list[Rival]
    more: int  # candidates that are not shown
    candidates: list[CandidateOut]
    fields: list[PersonField]
    notes: list[str]


class RowsQuery(Model):
    start: int = Field(0, ge=0)
    limit: int = Field(200, ge=1, le=1000)
    outcome: str = ""
    cause: str = ""
    q: str = Field("", max_length=200)
    fields: str = Field("", max_length=4000)
    ready: bool = False  # without the rows that went in when the intake was applied


class FindingOut(BaseModel):
    cause: str
    field: str | None
    weight: Weight
    value: str | None
    message: str
    suggestions: list[str]
    waived: bool
    yes: str  # the reason with which it was let in, or what was said earlier


class RowOut(BaseModel):
    line: int
    outcome: Outcome
    record: int | None
    key: str
    name: str
    values: dict[str, Value]
    findings: list[FindingOut]


class RowsOut(BaseModel):
    total: int
    rows: list[RowOut]


class RowField(BaseModel):
    field: str
    title: str
    raw: str | None
    value: Value
    repair: str
    old: Value
    is_changed: bool


class RowDetail(BaseModel):
    line: int
    is_in: bool  # it went in when the intake was applied
    outcome: Outcome
    reason: str
    record: int | None
    key: str
    name: str
    fields: list[RowField]
    findings: list[FindingOut]


class WhereOut(BaseModel):
    line: int
    found: bool
    name: str
    outcome: str
    said: str
    record: int | None
    applied: bool


class StepIn(Model):
    step: dict[str, Any]
    # steps that the browser knew: a cell that somebody else has set since is not written over
    seen: int | None = None


class PulseOut(BaseModel):
    steps: int
    version: int


class EffectOut(BaseModel):
    tally: TallyOut  # as it would be


class ReplaceIn(Model):
    field: str = Field(max_length=200)
    find: str = Field(min_length=1, max_length=500)
    put: str = Field(max_length=500)
    whole: bool = False  # only cells that are it, not those that hold it
    cause: str = ""  # only in its rows


class ReplaceOut(BaseModel):
    cells: int
    number: int | None


class StepDone(BaseModel):
    number: int


class RemedyIn(Model):
    cause: str
    kind: str
    value: str | None = Field(None, max_length=20_000)
    reason: str = Field("", max_length=1000)
    # ISO 8601: the last day of a privilege that is let in; "" for good
    until: str = Field("", max_length=10)
    lines: list[int] | None = None
    seen: int | None = None


class ChangesOut(BaseModel):
    families: list[FamilyOut]
    changed: int
    followed: list[FollowedOut] = []


class FamilyQuery(Model):
    family: str = Field(max_length=120)
    start: int = Field(0, ge=0)
    limit: int = Field(200, ge=1, le=1000)


class Move(BaseModel):
    old: str | None
    new: str | None
    count: int


class ChangedPerson(BaseModel):
    line: int | None
    record: int | None
    key: str
    name: str
    old: Value
    new: Value
    act: str = ""  # of an absent one: stay, leave, end, hold


class FamilyDetail(BaseModel):
    key: str
    title: str
    total: int
    moves: list[Move]
    people: list[ChangedPerson]
    rule: str = ""  # what becomes of the field's value; "" for families that are no field
    rules: list[str] = []  # that it could be
    kept: int = 0  # rows that were ticked out: the roster's value stays
    before: str | None = None  # of a number: the sum over the records that the file is about
    after: str | None = None
    act: str = ""  # of the absent: what becomes of all of whom nothing else was said
    end_field: str = ""
    end_day: str = ""


class ApplyIn(Model):
    steps: int
    roster_version: int
    typed: int | None = None  # the number of rows, where so much changes that it must be typed


class Done(BaseModel):
    done: bool


class ProposeIn(ApplyIn):
    day: date | None = None  # from which it is to hold; null for when it is agreed to


class ScheduleIn(ApplyIn):
    day: date  # from which it is to hold; ahead


class ApplyOut(BaseModel):
    job: int | None
    change_set: int | None


class JobOut(BaseModel):
    id: int
    state: str
    doing: str
    done: int
    total: int
    answer: dict[str, Any] | None
    problem: str


class SearchQuery(Model):
    q: str = Field(max_length=200)


class Hit(BaseModel):
    kind: str
    title: str
    detail: str
    place: str


class SearchOut(BaseModel):
    hits: list[Hit]


class RequestSheetQuery(Model):
    format: Literal["xlsx", "csv"] = "xlsx"
    owner: str = Field("", max_length=120)
    source: str = Field("", max_length=120)  # whom it is made for
    field: list[str] = Field([], max_length=500)


class ExportQuery(Model):
    format: Literal["csv", "xlsx", "json"] = "csv"
    as_of: date | None = None
    shortlist: int | None = None
