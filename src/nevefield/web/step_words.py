"""Steps worded for the log of an intake and for a recipe."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from nevefield.core.columns.composing import say_pattern
from nevefield.core.columns.days import say_day
from nevefield.core.conditions import say_condition

if TYPE_CHECKING:
    from nevefield.core.definition import Definition

__all__ = ["word_step"]

RULES = {
    "filled": "the file's value where it has one",
    "file": "as the file has it, an empty cell empties",
    "ours": "the roster's stays",
    "blanks": "only where the roster has none",
    "add": "added to what is there",
    "remove": "taken from what is there",
}


CLAIMS = {
    "everybody": "everybody",
    "part": "everybody in a part",
    "listed": "only the people in it",
    "people": "all the groups of the people in it",
    "groups": "all the people of the groups in it",
}


def word_step(step: Any, definition: Definition) -> str:
    """Word a step for a person."""

    def title(name: str) -> str:
        return definition.title_of(name) if name in definition.by_name else name

    match step.kind:
        case "reading":
            said = step.model_dump(exclude={"kind", "headings"}, exclude_defaults=True)
            return "Reading: " + ", ".join(
                f"{name.replace('_', ' ')} {value}" for name, value in said.items()
            )
        case "pair":
            return (
                f"“{step.heading}” goes to {title(step.field)}"
                if step.field
                else f"“{step.heading}” is left in the file"
            )
        case "pairs":
            return f"{len(step.pairs)} columns go where they were guessed to"
        case "split":
            return (
                f"“{step.heading}” is cut at “{step.at}” into"
                f" {' and '.join(title(name) for name in step.into)}"
            )
        case "date_order":
            turned = ", turned back" if step.turned else ""
            return f"{title(step.field)}: {'day' if step.order == 'dmy' else 'month'} first{turned}"
        case "decimal_mark":
            return (
                f"{title(step.field)}: a {'comma' if step.mark == ',' else 'point'} before the"
                " decimals"
            )
        case "fill":
            return (
                f"{title(step.field)} filled with “{step.value}”"
                if step.value
                else f"{title(step.field)} filled no more"
            )
        case "compose":
            if step.pattern is None:
                return f"{title(step.field)} composed no more"
            return f"{title(step.field)} composed of {say_pattern(step.pattern, title)}"
        case "translate":
            texts = ", ".join(f"“{text}”" for text in step.texts[:4]) + (
                " …" if len(step.texts) > 4 else ""
            )
            return f"{title(step.field)}: {texts} means {step.to}"
        case "set":
            return _word_set(step, title)
        case "hold" | "leave_out":
            return (
                f"{'Held' if step.kind == 'hold' else 'Left out'}: {_lines(step.lines)} ·"
                f" “{step.reason}”"
            )
        case "release":
            return f"Taken back in: {_lines(step.lines)}"
        case "waive":
            until = f" until {say_day(step.until)}" if step.until else ""
            return f"Let in{until}: {_lines(step.lines)} · “{step.reason}”"
        case "person":
            first = step.choices[0]
            who = "nobody in the roster" if first.record is None else "a record of the roster"
            return (
                f"Line {first.line} is {who}"
                if len(step.choices) == 1
                else f"{len(step.choices)} rows: said who they are"
            )
        case "undecided":
            return f"Left to keys and likeness: {_lines(step.lines)}"
        case "limits":
            return f"Likeness settles from {step.certain:g} on, and nobody up to {step.nobody:g}"
        case "coverage":
            if step.of == "part" and step.when is not None:
                return f"The file claims everybody where {say_condition(step.when, title)}"
            return f"The file claims {CLAIMS[step.of]}"
        case "end":
            word = "record ends" if len(step.ends) == 1 else "records end"
            return f"{len(step.ends)} other {word}, because another takes the place"
        case "update":
            where = f" in {_lines(step.lines)}" if step.lines else ""
            return f"{title(step.field)}: {RULES[step.rule]}{where}"
        case "absent":
            return _word_absent(step, title)
        case "source":
            if not step.name:
                return "The file comes from no source that is known"
            return f"The file {'seems to come' if step.by == 'guess' else 'comes'} from {step.name}"
        case "known_by":
            return _word_keys(step, title)
        case "takes":
            return {
                "new": "The file only adds people",
                "known": "The file only changes people",
            }.get(step.of, "The file adds and changes people")
        case "recipe":
            return f"What was learnt from {step.source} until {step.learnt}"
        case "applied":
            return f"Applied, receipt {step.change_set}"
        case _:
            return f"Taken back, receipt {step.change_set}"


def _word_keys(step: Any, title: Any) -> str:
    if step.keys is None:
        return "People are known as the roster has it"
    keys = [" and ".join(title(name) for name in key) for key in step.keys]
    return (
        f"People are known by {', then '.join(keys)}"
        if keys
        else "People are known by likeness alone"
    )


def _word_set(step: Any, title: Any) -> str:
    first = step.cells[0]
    if len(step.cells) > 1:
        return f"{title(first.field)} set in {len(step.cells)} rows"
    return f"Line {first.line}: {title(first.field)} " + (
        f"is “{first.value}”" if first.value else "emptied"
    )


def _word_absent(step: Any, title: Any) -> str:
    who = f"{len(step.records)} of the absent" if step.records else "The absent"
    if step.act == "end":
        return f"{who}: {title(step.field)} is {step.day}"
    if step.act == "hold":
        return f"{who}: held · “{step.reason}”"
    return f"{who}: {'leave the roster' if step.act == 'leave' else 'nothing is done'}"


def _lines(lines: list[int]) -> str:
    return f"line {lines[0]}" if len(lines) == 1 else f"{len(lines)} lines"
