"""Steps worded for the log of an intake and for a recipe."""

from __future__ import annotations

from typing import TYPE_CHECKING, assert_never

from nevefield.core.columns.composing import say_pattern
from nevefield.core.columns.days import say_day
from nevefield.core.conditions import say_condition
from nevefield.core.steps.kinds import (
    AbsentStep,
    AppliedStep,
    ComposeStep,
    CoverageStep,
    DateOrderStep,
    DecimalMarkStep,
    EndStep,
    FillStep,
    HoldStep,
    KnownByStep,
    LeaveOutStep,
    LimitsStep,
    PairsStep,
    PairStep,
    PersonStep,
    ReadingStep,
    RecipeStep,
    ReleaseStep,
    SetStep,
    SourceStep,
    SplitStep,
    TakenBackStep,
    TakesStep,
    TranslateStep,
    UndecidedStep,
    UndoStep,
    UpdateStep,
    WaiveStep,
)

if TYPE_CHECKING:
    from collections.abc import Callable

    from nevefield.core.definition import Definition
    from nevefield.core.steps.kinds import Step

    Title = Callable[[str], str]

__all__ = ["word_step"]

RULES = {
    "filled": "the file's value where it has one",
    "file": "as the file has it, an empty cell empties",
    "ours": "the roster's stays",
    "blanks": "only where the roster has none",
    "add": "added to what is there",
    "remove": "taken from what is there",
}
WHOM = {"new": "only adds", "known": "only changes", "both": "adds and changes"}
SHOWN = 4  # texts of a translation
CLAIMS = {
    "everybody": "everybody",
    "part": "everybody in a part",
    "listed": "only the people in it",
    "people": "all the groups of the people in it",
    "groups": "all the people of the groups in it",
}


def word_step(step: Step, definition: Definition) -> str:
    """Word a step for a person."""

    def title(name: str) -> str:
        return definition.title_of(name) if name in definition.by_name else name

    match step:
        case ReadingStep():
            return _word_reading(step)
        case PairStep():
            where = f"goes to {title(step.field)}" if step.field else "is left in the file"
            return f"“{step.heading}” {where}"
        case PairsStep():
            return f"{len(step.pairs)} columns go where they were guessed to"
        case SplitStep():
            names = " and ".join(title(name) for name in step.into)
            return f"“{step.heading}” is cut at “{step.at}” into {names}"
        case DateOrderStep():
            turned = ", turned back" if step.turned else ""
            return f"{title(step.field)}: {'day' if step.order == 'dmy' else 'month'} first{turned}"
        case DecimalMarkStep():
            mark = "a comma" if step.mark == "," else "a point"
            return f"{title(step.field)}: {mark} before the decimals"
        case FillStep():
            value = f"with “{step.value}”" if step.value else "no more"
            return f"{title(step.field)} filled {value}"
        case ComposeStep():
            of = f"of {say_pattern(step.pattern, title)}" if step.pattern is not None else "no more"
            return f"{title(step.field)} composed {of}"
        case TranslateStep():
            texts = ", ".join(f"“{text}”" for text in step.texts[:SHOWN])
            return f"{title(step.field)}: {texts}{' …' * (len(step.texts) > SHOWN)} means {step.to}"
        case SetStep():
            return _word_set(step, title)
        case HoldStep():
            return f"Held: {_lines(step.lines)} · “{step.reason}”"
        case LeaveOutStep():
            return f"Left out: {_lines(step.lines)} · “{step.reason}”"
        case ReleaseStep():
            return f"Taken back in: {_lines(step.lines)}"
        case WaiveStep():
            until = f" until {say_day(step.until)}" if step.until else ""
            return f"Approved{until}: {_lines(step.lines)} · “{step.reason}”"
        case PersonStep():
            return _word_person(step)
        case UndecidedStep():
            return f"Left to keys and likeness: {_lines(step.lines)}"
        case LimitsStep():
            return f"Likeness settles from {step.certain:g} on, and nobody up to {step.nobody:g}"
        case CoverageStep():
            is_part = step.of == "part" and step.when is not None
            claim = f"everybody where {say_condition(step.when, title)}" if is_part else ""
            return f"The file claims {claim or CLAIMS[step.of]}"
        case EndStep():
            word = "record ends" if len(step.ends) == 1 else "records end"
            return f"{len(step.ends)} other {word}, because another takes the place"
        case UpdateStep():
            where = f" in {_lines(step.lines)}" if step.lines else ""
            return f"{title(step.field)}: {RULES[step.rule]}{where}"
        case AbsentStep():
            return _word_absent(step, title)
        case SourceStep():
            return _word_source(step)
        case KnownByStep():
            return _word_keys(step, title)
        case TakesStep():
            return f"The file {WHOM[step.of]} people"
        case RecipeStep():
            return f"What was learnt from {step.source} until {step.learnt}"
        case AppliedStep():
            return f"Applied, receipt {step.change_set}"
        case TakenBackStep():
            return f"Taken back, receipt {step.change_set}"
        case UndoStep():
            return f"Step {step.step} undone"
        case kind:
            assert_never(kind)


def _word_reading(step: ReadingStep) -> str:
    parts = step.model_dump(exclude={"kind", "headings"}, exclude_defaults=True)
    words = (f"{name.replace('_', ' ')} {value}" for name, value in parts.items())
    return f"Reading: {', '.join(words)}"


def _word_person(step: PersonStep) -> str:
    if len(step.choices) > 1:
        return f"{len(step.choices)} rows: said who they are"
    (choice,) = step.choices
    who = "nobody in the roster" if choice.record is None else "a record of the roster"
    return f"Line {choice.line} is {who}"


def _word_source(step: SourceStep) -> str:
    if not step.name:
        return "The file comes from no source that is known"
    return f"The file {'seems to come' if step.by == 'guess' else 'comes'} from {step.name}"


def _word_keys(step: KnownByStep, title: Title) -> str:
    if step.keys is None:
        return "People are known as the roster has it"
    keys = [" and ".join(title(name) for name in key) for key in step.keys]
    return (
        f"People are known by {', then '.join(keys)}"
        if keys
        else "People are known by likeness alone"
    )


def _word_set(step: SetStep, title: Title) -> str:
    first = step.cells[0]
    if len(step.cells) > 1:
        return f"{title(first.field)} set in {len(step.cells)} rows"
    return f"Line {first.line}: {title(first.field)} " + (
        f"is “{first.value}”" if first.value else "emptied"
    )


def _word_absent(step: AbsentStep, title: Title) -> str:
    who = f"{len(step.records)} of the absent" if step.records else "The absent"
    if step.act == "end":
        return f"{who}: {title(step.field)} is {step.day}"
    if step.act == "hold":
        return f"{who}: held · “{step.reason}”"
    return f"{who}: {'leave the roster' if step.act == 'leave' else 'nothing is done'}"


def _lines(lines: list[int]) -> str:
    return f"line {lines[0]}" if len(lines) == 1 else f"{len(lines)} lines"
