"""Read an authority's answer, and make of it what is kept of each record.

An answer is JSON of the authority (`results`: ref, outcome, number, rules, held, candidates;
`changes`: id, state, text), or CSV that somebody wrote by hand.
"""

from __future__ import annotations

import csv
import io
import json
import re
from collections import Counter
from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.borders import Json
from nevefield.core.errors import WrongAnswer

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from nevefield.core.submitting.standing import Line

__all__ = [
    "LARGEST",
    "OUTCOMES",
    "Kept",
    "Taken",
    "read_answer",
    "refuse_outcomes",
    "said_of_changes",
    "say_strays",
    "take_in",
    "take_part_in",
]

OUTCOMES = ("accepted", "warned", "rejected", "to number")
SEPARATORS = (",", ";", "\t")  # of an answer as CSV
# of a result
SHAPES = {
    "ref": str | int,
    "outcome": str,
    "number": str | int,
    "rules": list,
    "held": dict,
    "candidates": list,
}
OF_LISTS = {"rules": str, "candidates": dict}  # what stands in its lists
LARGEST = 60_000_000  # bytes of an answer that somebody brings
STRAYS_SHOWN = 5

# What is kept of a record in a round: record, outcome, number, what was sent, what was told.
Kept = tuple[int, str, str, dict[str, str], dict[str, Json]]


@dataclass(frozen=True)
class Taken:
    """What an answer says of the records of a submission."""

    lines: list[Kept]
    strays: list[str]  # references of nobody here
    counts: dict[str, int]  # records of the round by outcome, with those of its earlier parts


def take_in(
    results: Sequence[Json],
    sent: Mapping[str, dict[str, str]],
    records: Mapping[str, int],
    lines: Mapping[int, Line],
    had: Mapping[int, str],
    number: str,
) -> Taken:
    """Make of an answer what is kept of each record.

    Where an answer speaks twice of a record, the first counts. A record that was sent and of which
    nothing is said is unanswered, unless an earlier part of the answer spoke of it. Of a record of
    an earlier round the authority has changed its mind.

    Args:
        results: Of the answer.
        sent: What the round sent, by reference.
        records: Records of the submission by the reference under which they are sent.
        lines: What was answered of each record last.
        had: Records that an earlier part of this round's answer spoke of, with their outcome.
        number: The authority's field for its number.
    """
    told: dict[str, dict[str, Json]] = {}
    for result in results:
        if isinstance(result, dict):
            told.setdefault(str(result.get("ref", "")), result)
    kept, strays = [], []
    for ref, row in sent.items():
        if ref in records and (ref in told or records[ref] not in had):
            kept.append(_line_of(records[ref], row, told.pop(ref, {}), number))
    for ref, result in told.items():
        record = records.get(ref)
        if record is None or record not in lines:
            strays.append(ref)
        else:
            kept.append(_line_of(record, dict(lines[record].sent), result, number))
    outcomes = {**had, **{line[0]: line[1] for line in kept}}
    counts = Counter(outcome or "unanswered" for outcome in outcomes.values())
    return Taken(kept, strays, dict(counts))


def take_part_in(
    results: Sequence[dict[str, Json]],
    sent: Mapping[str, dict[str, str]],
    records: Mapping[str, int],
    number: str,
) -> Taken:
    """Make of a part of an answer what is kept; what it says nothing of stays open."""
    told = {str(result.get("ref", "")): result for result in results}
    kept = [
        _line_of(records[ref], sent[ref], told[ref], number)
        for ref in told
        if ref in sent and ref in records
    ]
    return Taken(kept, [ref for ref in told if ref not in sent], {})


def _line_of(record: int, row: dict[str, str], found: dict[str, Json], number: str) -> Kept:
    """Make what is kept of a record in a round: record, outcome, number, what was sent, what was
    told.
    """
    outcome = str(found.get("outcome", ""))
    told = {name: found[name] for name in ("rules", "held", "candidates") if found.get(name)}
    if outcome == "accepted":
        told.pop("held", None)
    given = str(found.get("number") or row.get(number, ""))
    return record, outcome if outcome in OUTCOMES else "", given[:60], row, told


def said_of_changes(answer: Mapping[str, Json]) -> dict[int, str]:
    """List by the number of the step what the authority says to changes that were asked for."""
    return {
        int(change["id"]): f"{change.get('state', '')}: {change.get('text', '')}"
        for change in answer.get("changes", [])
        if isinstance(change, dict) and re.fullmatch("[0-9]{1,9}", str(change.get("id", "")))
    }


def say_strays(strays: Sequence[str]) -> str:
    """Say which references of an answer are of nobody here."""
    if not strays:
        return ""
    shown = ", ".join(f"“{stray}”" for stray in strays[:STRAYS_SHOWN]) + (
        " …" if len(strays) > STRAYS_SHOWN else ""
    )
    records = "1 record that is" if len(strays) == 1 else f"{len(strays)} records that are"
    return f"The answer speaks of {records} not in this submission, passed over: {shown}."


def read_answer(data: bytes) -> dict[str, Json]:
    """Read an answer that somebody brings: the authority's JSON, or CSV with REF, OUTCOME, NUMBER,
    RULES.

    Returns:
        Its results, and what it says to changes that were asked for.

    Raises:
        WrongAnswer: It is none.
    """
    if len(data) > LARGEST:
        raise WrongAnswer(f"An answer has at most {LARGEST // 1_000_000} MB.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise WrongAnswer("An answer is JSON or CSV in UTF-8.") from error
    return _read_json(text) if text.lstrip()[:1] == "{" else _read_csv(text)


def _read_json(text: str) -> dict[str, Json]:
    try:
        found = json.loads(text)
        json.dumps(found, ensure_ascii=False).encode()  # as it is kept
    except json.JSONDecodeError as error:
        raise WrongAnswer(f"This JSON breaks off or is damaged at line {error.lineno}.") from error
    except (ValueError, RecursionError) as error:
        raise WrongAnswer(
            "This JSON has what no answer has: lists in lists without end, half a letter or an"
            " endless number."
        ) from error
    _refuse_shapes(found)
    return {"results": found["results"], "changes": found.get("changes") or []}


def _read_csv(text: str) -> dict[str, Json]:
    head = (text.splitlines() or [""])[0]
    separator = max(SEPARATORS, key=head.count)
    try:
        rows = [
            {
                (name or "").strip().upper(): value
                for name, value in row.items()
                if isinstance(value, str) or value is None
            }
            for row in csv.DictReader(io.StringIO(text), delimiter=separator)
        ]
    except csv.Error as error:
        raise WrongAnswer("This CSV is damaged: write it again.") from error
    if not rows or not {"REF", "OUTCOME"} <= set(rows[0]):
        heads = ", ".join(head.split(separator)[:6])[:200]
        raise WrongAnswer(
            "An answer as CSV has the columns REF, OUTCOME, NUMBER and RULES; this one has"
            f" {heads or 'none'}."
        )
    return {"results": [_result(row) for row in rows], "changes": []}


def _result(row: Mapping[str, str | None]) -> dict[str, Json]:
    def cell(name: str) -> str:
        return (row.get(name) or "").strip()

    rules = cell("RULES").strip(" ;,")
    return {
        "ref": cell("REF"),
        "outcome": cell("OUTCOME").lower(),
        "number": cell("NUMBER"),
        "rules": re.split(r"[;,\s]+", rules) if rules else [],
    }


def refuse_outcomes(answer: dict[str, Json]) -> None:
    """See that an answer that somebody brings knows only outcomes that there are.

    Raises:
        WrongAnswer: With those that are none, and of which references.
    """
    strange: dict[str, list[str]] = {}
    for found in answer["results"]:
        outcome = str(found.get("outcome", ""))
        if outcome not in OUTCOMES:
            strange.setdefault(outcome, []).append(str(found.get("ref", "")))
    if strange:
        shown = [
            f"“{outcome[:40]}” of"
            f" {', '.join(ref[:40] for ref in refs[:3])}{' …' if len(refs) > 3 else ''}"
            for outcome, refs in list(strange.items())[:5]
        ]
        said = "; ".join(shown) + (f"; and {len(strange) - 5:,} more" if len(strange) > 5 else "")
        raise WrongAnswer(
            f"These outcomes are none: {said}. There are {', '.join(OUTCOMES)}. Nothing of the file"
            " was taken."
        )


def _refuse_shapes(answer: dict[str, Json]) -> None:
    """See that an answer as JSON is made as the authority's are.

    Raises:
        WrongAnswer: With the first thing that is not, and of which result.
    """
    if not isinstance(answer.get("results"), list):
        raise WrongAnswer("An answer has results.")
    if not isinstance(answer.get("changes") or [], list):
        raise WrongAnswer("What an answer says to changes is a list.")
    for number, one in enumerate(answer["results"], 1):
        if not isinstance(one, dict):
            raise WrongAnswer(f"Result {number} is no object with a ref and an outcome.")
        for name, value in one.items():
            fits = value is None or isinstance(value, SHAPES.get(name, object))
            if not fits or (
                value
                and name in OF_LISTS
                and not all(isinstance(part, OF_LISTS[name]) for part in value)
            ):
                of = str(one.get("ref", ""))[:60] or "no reference"
                raise WrongAnswer(f"Result {number} (of {of}) has {name} of another shape.")
