"""Which source a file comes from: credited on evidence that tells it from every other source, and
said with it.

Headings that are the roster's own tell nobody apart: every office that was sent the same sheet has
them. What tells is a request sheet of our own that was made for the source, headings that only this
source's files have, or a file's name like its last one's.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

from nevefield.core.recipes import is_named, likeness_to_last, stem_of
from nevefield.core.texts import key_of

if TYPE_CHECKING:
    from collections.abc import Collection, Sequence

    from nevefield.core.reading import Reading
    from nevefield.core.recipes import Recipe
    from nevefield.core.table import Table

__all__ = ["ENOUGH", "Candidate", "Credit", "credit_file"]

ENOUGH = 0.75  # of likeness to a source's last file, for a file to be taken for one of it
APART = 0.1  # of likeness, by which the likeliest source must be ahead of the next one


@dataclass(frozen=True)
class Candidate:
    """A source that a file may be from."""

    name: str
    recipe: Recipe | None
    roster_headings: Collection[str]  # what headings of its roster may be, see `known_headings`


@dataclass(frozen=True)
class Credit:
    """The source that a file is credited to."""

    place: int  # among the candidates
    by: str  # sheet: our own request sheet says so; guess: it is like the last file
    why: str  # a sentence


def credit_file(
    candidates: Sequence[Candidate], table: Table, reading: Reading, file_name: str
) -> Credit | None:
    """Find the source of a file.

    Args:
        candidates: The sources there are.
        table: The file's texts.
        reading: How it was read.
        file_name: Its name.

    Returns:
        The source with the evidence; None where nothing tells it from the others.
    """
    if reading.made_for:
        of = [
            place
            for place, candidate in enumerate(candidates)
            if key_of(candidate.name) == key_of(reading.made_for)
        ]
        # One office may be a source of several rosters: the sheet's columns say which.
        of.sort(key=lambda place: -_fitting(candidates[place], table))
        if of:
            return Credit(
                of[0], "sheet", f"It is our request sheet, made for {candidates[of[0]].name}."
            )
    scores = [
        likeness_to_last(candidate.recipe, table, reading, file_name)
        if candidate.recipe is not None
        else 0.0
        for candidate in candidates
    ]
    order = sorted(range(len(candidates)), key=lambda place: -scores[place])
    if not order or scores[order[0]] < ENOUGH:
        return None
    best = order[0]
    message = _tells(best, candidates, table, reading, file_name)
    near = [place for place in order[1:] if scores[best] - scores[place] < APART]
    if not message or any(_tells(place, candidates, table, reading, file_name) for place in near):
        return None
    return Credit(best, "guess", message)


def _fitting(candidate: Candidate, table: Table) -> int:
    return sum(key_of(heading) in candidate.roster_headings for heading in table.headings)


def _tells(
    place: int, candidates: Sequence[Candidate], table: Table, reading: Reading, file_name: str
) -> str:
    """Say what tells a file as one of a source's; "" for nothing."""
    recipe = candidates[place].recipe
    if recipe is None:
        return ""
    others = [
        candidate.recipe
        for number, candidate in enumerate(candidates)
        if number != place and candidate.recipe is not None
    ]
    stem = stem_of(file_name)
    is_named_alike = (
        bool(stem)
        and stem == stem_of(recipe.file)
        and all(stem_of(recipe.file) != stem for recipe in others)
    )
    named = f"Its name is like that of the last one, {recipe.file}" if is_named_alike else ""
    if not is_named(reading):
        return f"{named}, and it has as many columns." if named else ""
    ours = {
        key_of(heading): heading for heading in table.headings if heading not in reading.secrets
    }
    theirs = {key_of(heading) for heading in recipe.expects.headings}
    same = [heading for key, heading in ours.items() if key in theirs]
    elsewhere = {key_of(heading) for recipe in others for heading in recipe.expects.headings} | {
        *candidates[place].roster_headings
    }
    own = [heading for key, heading in ours.items() if key in theirs and key not in elsewhere]
    if not own and not named:
        return ""
    messages = [f"{len(same)} of its {len(ours)} columns are headed as in the last one"]
    if own:
        shown = ", ".join(f"“{heading}”" for heading in own[:3]) + (" …" if len(own) > 3 else "")
        messages.append(
            f"{len(own)} of them as in nobody else’s: {shown}"
            if len(own) > 1
            else f"one as in nobody else’s: {shown}"
        )
    return ". ".join(filter(None, [named, ", ".join(messages)])) + "."
