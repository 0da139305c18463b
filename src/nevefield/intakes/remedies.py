"""From a cause and a remedy to the step that settles it."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from nevefield.core.checking.causes import WHOLE
from nevefield.core.checking.shifts import shift_of, swap_partners
from nevefield.core.errors import WrongStep
from nevefield.core.placing.memberships import membership_of, others_of

if TYPE_CHECKING:
    from nevefield.core.checking.causes import Cause
    from nevefield.core.evaluate import Evaluation

__all__ = ["replace_step", "step_for"]


def step_for(
    evaluation: Evaluation,
    cause_id: str,
    kind: str,
    *,
    value: str | None,
    reason: str,
    lines: list[int] | None,
    until: str = "",
) -> dict[str, Any]:
    """Make the step that a remedy comes to.

    Args:
        evaluation: As it stands.
        cause_id: The cause.
        kind: One of its remedies' kinds.
        value: The text to use, where the remedy takes one.
        reason: For hold, leave out, waive.
        lines: The rows that are meant; None for all rows where the cause still stands.
        until: For waive: the last day of what is gained, as ISO 8601; "" for good.

    Raises:
        WrongStep: The cause is settled already, or the remedy does not fit it.
    """
    cause = next((cause for cause in evaluation.causes if cause.id == cause_id), None)
    if cause is None:
        raise WrongStep(
            "This cause is not there any more; somebody has settled it, or a step changed it."
        )
    if cause.hit.whole:
        return _of_whole(evaluation, cause, kind, reason, lines)
    chosen = [int(evaluation.table.lines[row]) for row in cause.open_rows.tolist()]
    if lines is not None:
        wanted = set(lines)
        chosen = [line for line in chosen if line in wanted]
    if not chosen:
        raise WrongStep("None of these rows is open under this cause.")
    if cause.hit.field and (step := _of_field(evaluation, cause, kind, value, chosen, lines)):
        return step
    match kind:
        case "shift":
            return {"kind": "set", "cells": _shifted(evaluation, cause, chosen)}
        case "keep" if value:
            return {
                "kind": "leave_out",
                "lines": [line for line in chosen if line != int(value)],
                "reason": reason or f"the same person as line {value}, which is kept",
            }
        case "hold_line" if value and int(value) in chosen:
            return {"kind": "hold", "lines": [int(value)], "reason": reason}
        case "edit" if value:
            raise WrongStep("Type the other value into the row itself.")
        case "end_other":
            return _end_others(evaluation, chosen)
        case "new":
            choices = [{"line": line, "record": None} for line in chosen]
            return {"kind": "person", "choices": choices}
        case "waive":
            return {
                "kind": "waive",
                "check": cause.hit.check,
                "field": cause.hit.field,
                "lines": chosen,
                "reason": reason,
                **({"until": until} if until else {}),
            }
        case "hold" | "leave_out":
            return {"kind": kind, "lines": chosen, "reason": reason}
    raise WrongStep(f"The remedy “{kind}” does not fit this cause.")


def _of_field(
    evaluation: Evaluation,
    cause: Cause,
    kind: str,
    value: str | None,
    chosen: list[int],
    lines: list[int] | None,
) -> dict[str, Any] | None:
    """Make the step of a remedy that alters values of the cause's field, or how they are read;
    None when it is none of these.
    """
    field = cause.hit.field or ""
    match kind:
        case "translate" if value is not None and lines is not None:
            return _set(field, chosen, value)
        case "translate" if value is not None:
            texts = list(cause.hit.texts)
            return {"kind": "translate", "field": field, "texts": texts, "to": value}
        case "suggest":
            return {"kind": "set", "cells": _suggested(evaluation, cause, chosen)}
        case "set":
            return _set(field, chosen, value or "")
        case "blank":
            cell = {"field": field, "value": "", "empties": True}
            return {"kind": "set", "cells": [{"line": line, **cell} for line in chosen]}
        case "date_order" if value in ("dmy", "mdy"):
            return {"kind": "date_order", "field": field, "order": value}
        case "date_order" if value in ("turned", "kept"):
            order = evaluation.facts.typed[field].order
            turned = value == "turned"
            return {"kind": "date_order", "field": field, "order": order, "turned": turned}
        case "decimal_mark" if value in (",", "."):
            return {"kind": "decimal_mark", "field": field, "mark": value}
        case "swap" if value:
            sure = cause.hit.check == "names-turned"
            return {"kind": "set", "cells": _swapped(evaluation, chosen, field, value, sure=sure)}
        case "ours":
            return {"kind": "update", "field": field, "rule": "ours", "lines": chosen}
    return None


def _end_others(evaluation: Evaluation, lines: list[int]) -> dict[str, Any]:
    """Make the step that ends the other memberships of people who join a group of a kind that
    allows one.

    Raises:
        WrongStep: None of them can end the day before.
    """
    kind = membership_of(evaluation.definition)
    found = dict(others_of(evaluation.facts, kind)) if kind else {}
    rows = [evaluation.row_of(line) for line in lines]
    ends = [
        (roster.record, roster.ends)
        for row in rows
        if row is not None and (roster := found.get(row)) and roster.ends
    ]
    if not ends or kind is None:
        raise WrongStep(
            "None of the others can end the day before: hold the row, leave it out, or let both be"
            " with a reason."
        )
    numbers = evaluation.snapshot.ids
    return {
        "kind": "end",
        "field": kind.last,
        "ends": [{"record": int(numbers[number]), "day": day} for number, day in ends],
    }


def _of_whole(
    evaluation: Evaluation, cause: Cause, kind: str, reason: str, lines: list[int] | None
) -> dict[str, Any]:
    """Make the step about a group or the whole file."""
    if not cause.is_open:
        raise WrongStep("This was let be already.")
    if kind not in {remedy.kind for remedy in cause.remedies}:
        raise WrongStep(
            f"{cause.hit.title}: “{kind}” does not settle it; known are {_kinds(cause)}."
        )
    if kind == "waive":
        return {
            "kind": "waive",
            "check": cause.hit.check,
            "field": cause.hit.group,
            "lines": [WHOLE],
            "reason": reason,
        }
    if kind == "coverage":
        return {"kind": "coverage", "of": "listed"}
    if kind not in ("hold", "leave_out"):
        raise WrongStep("What the file says is altered under File.")
    chosen = [int(evaluation.table.lines[row]) for row in cause.near.tolist()]
    return {
        "kind": kind,
        "lines": [line for line in chosen if lines is None or line in lines],
        "reason": reason,
    }


def _kinds(cause: Cause) -> str:
    return ", ".join(remedy.kind for remedy in cause.remedies) or "none"


def replace_step(
    evaluation: Evaluation,
    field: str,
    find: str,
    put: str,
    *,
    whole: bool = False,
    cause_id: str = "",
) -> dict[str, Any] | None:
    """Make the step that finds and replaces inside a field's texts.

    Args:
        evaluation: As it stands.
        field: The field.
        find: What is looked for, case and all.
        put: What takes its place.
        whole: Only cells that are it, spaces around them aside, not those that hold it.
        cause_id: Only in the open rows of this cause; "" for all rows.

    Returns:
        The step; None when no cell has it.

    Raises:
        WrongStep: No column goes to the field, or the cause is gone.
    """
    typed = evaluation.facts.typed.get(field)
    if typed is None:
        raise WrongStep(f"No column of the file goes to “{field}”.")
    if cause_id:
        cause = next((cause for cause in evaluation.causes if cause.id == cause_id), None)
        if cause is None:
            raise WrongStep(
                "This cause is not there any more; somebody has settled it, or a step changed it."
            )
        rows = cause.open_rows.tolist()
    else:
        rows = list(range(len(evaluation.table)))
    new: dict[int, str] = {}
    for code, text in enumerate(typed.raw.texts()):
        if whole and text.strip() == find:
            new[code] = put
        elif not whole and find in text:
            new[code] = text.replace(find, put)
    lines, codes = evaluation.table.lines.tolist(), typed.raw.codes.tolist()
    cells = [
        {"line": lines[row], "field": field, "value": new[codes[row]]}
        for row in rows
        if codes[row] in new
    ]
    return {"kind": "set", "cells": cells} if cells else None


def _set(field: str, lines: list[int], value: str) -> dict[str, Any]:
    return {
        "kind": "set",
        "cells": [{"line": line, "field": field, "value": value} for line in lines],
    }


def _swapped(
    evaluation: Evaluation, lines: list[int], field: str, text: str, *, sure: bool
) -> list[dict[str, Any]]:
    cells = []
    for line in lines:
        row = evaluation.row_of(line)
        if row is None or (not sure and swap_partners(evaluation.facts, row, field) != text):
            continue
        for source, target in ((field, text), (text, field)):
            cells.append(
                {
                    "line": line,
                    "field": target,
                    "value": evaluation.facts.typed[source].raw.at(row) or "",
                }
            )
    if not cells:
        raise WrongStep("In none of these rows do the two cells belong into each other's field.")
    return cells


def _shifted(evaluation: Evaluation, cause: Cause, lines: list[int]) -> list[dict[str, Any]]:
    cells = []
    for line in lines:
        row = evaluation.row_of(line)
        moved = shift_of(evaluation.facts, cause.hit, row) if row is not None else {}
        cells += [{"line": line, "field": name, "value": text} for name, text in moved.items()]
    return cells


def _suggested(evaluation: Evaluation, cause: Cause, lines: list[int]) -> list[dict[str, Any]]:
    cells = []
    for line in lines:
        row = evaluation.row_of(line)
        found = cause.hit.row_suggestions.get(row, ()) if row is not None else ()
        if len(found) == 1:
            cells.append({"line": line, "field": cause.hit.field, "value": found[0]})
    if not cells:
        raise WrongStep("No row of this cause has one likely value alone.")
    return cells
