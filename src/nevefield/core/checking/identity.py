"""Findings about who a row is: those that a person must decide, and those that likeness has
settled.
"""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np

from nevefield.core.checking.facts import Facts, Hit, identify
from nevefield.core.edits.trail import has_any
from nevefield.core.people.levels import LEVELS
from nevefield.core.people.recognising import ASKED, TAKEN, known_traits
from nevefield.core.snapshot import say_key

if TYPE_CHECKING:
    from numpy.typing import NDArray

__all__ = ["check_identity", "fold_identity", "fold_unknown"]

CHANGED_PLACES = [level.word for level in LEVELS["given"]].index("changed places")
SHOWN = 3  # candidates that a message names


def check_identity(facts: Facts) -> list[Hit]:
    """Ask about rows that may be somebody in the roster, and note those that are taken for
    somebody by likeness.
    """
    people = facts.people
    if people is None or people.likely is None:
        return []
    fields = tuple(
        trait.field
        for trait in known_traits(facts.definition, facts.memo)
        if trait.field in facts.typed
    )
    hits = []
    asked = np.flatnonzero((people.decision == ASKED) & ~facts.aside)
    if len(asked):
        title = "May be people who are in the roster already"
        hits.append(
            Hit("who", None, fields, "ask", asked, title, lambda row: _ask(facts, row), group="who")
        )
    taken = np.flatnonzero(people.decision == TAKEN)
    if len(taken):
        hits.append(
            Hit(
                "likeness",
                None,
                fields,
                "note",
                taken,
                "Known by likeness",
                lambda row: _note(facts, row),
                group="likeness",
            )
        )
    of = (facts.known, people.likely.found, fields)
    turned: list[Hit] = facts.memo.get("turned", of, lambda: _check_names(facts, fields))
    return hits + turned


def _check_names(facts: Facts, fields: tuple[str, ...]) -> list[Hit]:
    """Stop rows that are known, though their family and given names stand in each other's
    column.
    """
    people = facts.people
    if people is None or people.likely is None:
        return []
    candidates = people.likely.found
    names = {trait.kind: trait.field for trait in candidates.traits}
    if not {"family", "given"} <= names.keys():
        return []
    turned = candidates.levels["given"] == CHANGED_PLACES
    rows = candidates.rows[turned & (facts.known.record[candidates.rows] == candidates.records)]
    if not len(rows):
        return []
    family, given = facts.title(names["family"]), facts.title(names["given"])
    title = f"{family} and {given} stand in each other's place"
    message = f"By the roster, {family} and {given} stand in each other's place here; swap them."
    return [
        Hit(
            "names-turned",
            names["given"],
            fields,
            "stop",
            np.unique(rows).astype(np.intp),
            title,
            message,
            group="turned",
        )
    ]


def fold_identity(hits: list[Hit], facts: Facts) -> list[Hit]:
    """Fold under the question of who a row is what only follows from its being somebody in the
    roster already.
    """
    who = next((hit for hit in hits if hit.check == "who"), None)
    if who is None:
        return hits
    folded: list[Hit] = []
    for hit in hits:
        if hit.check not in ("unique-in-roster", "unique") or not has_any(who.rows, hit.rows):
            folded.append(hit)
            continue
        within = np.isin(hit.rows, who.rows)
        if not within.all():
            folded.append(replace(hit, rows=hit.rows[~within]))
        folded.append(
            replace(hit, rows=hit.rows[within], follows=(identify(who),), group=f"{hit.group}/who")
        )
    return folded


def fold_unknown(hits: list[Hit], facts: Facts) -> list[Hit]:
    """Say of rows whose key is nobody's, in a file that has no column for what a new person needs,
    that alone.

    What is missing for a new person follows from it: such a file brings nobody new, so the key is
    what is wrong.
    """
    lacking = [
        hit.field for hit in hits if hit.check == "required" and hit.field not in facts.typed
    ]
    if not lacking or not len(facts.snapshot):
        return hits
    missed = np.zeros(len(facts), bool)
    for hit in hits:
        if hit.check == "required" and hit.field in lacking:
            missed[hit.rows] = True
    found: list[Hit] = []
    for key in facts.keys:
        if any(name not in facts.typed for name in key):
            continue
        filled = np.logical_and.reduce(
            [(facts.typed[name].stored.codes >= 0) & ~facts.problem(name) for name in key]
        )
        rows = np.flatnonzero(missed & filled & ~facts.aside)
        missed[rows] = False
        if len(rows):
            found.append(_unknown(facts, key, rows, [facts.title(str(name)) for name in lacking]))
    if not found:
        return hits
    causes = tuple(identify(hit) for hit in found)
    unknown = np.concatenate([hit.rows for hit in found])
    return found + [part for hit in hits for part in _parted(hit, unknown, causes)]


def _unknown(facts: Facts, key: tuple[str, ...], rows: NDArray[np.intp], lacking: list[str]) -> Hit:
    title = " and ".join(facts.title(name) for name in key)
    rest = f"{', '.join(lacking[:3])}{' …' if len(lacking) > 3 else ''}"

    def say(row: int) -> str:
        value = " ".join(facts.text(row, name) for name in key)
        return (
            f"{title} {value} is nobody’s in {facts.definition.title}, and for a new person the"
            f" file has no {rest}."
        )

    return Hit(
        "unknown-key", key[-1], key, "stop", rows, f"{title} is nobody’s", say, group="/".join(key)
    )


def _parted(hit: Hit, unknown: NDArray[np.intp], causes: tuple[str, ...]) -> list[Hit]:
    """Part a hit about what is required into what follows from an unknown key, and the rest."""
    if hit.check != "required" or not len(hit.rows):
        return [hit]
    within = np.isin(hit.rows, unknown)
    if not within.any():
        return [hit]
    follows = replace(hit, rows=hit.rows[within], follows=causes, group=f"{hit.group}/unknown")
    return [follows] if within.all() else [replace(hit, rows=hit.rows[~within]), follows]


def _key(facts: Facts, record: int) -> str:
    return say_key(facts.snapshot.keys(np.array([record]))[0])


def _ask(facts: Facts, row: int) -> str:
    people = facts.people
    found = people.candidates(row)[:SHOWN] if people else []
    named = " or ".join(f"{_key(facts, record)} ({score:.0f} in 100)" for record, score, _ in found)
    rivals = people.likely.rivals.get(row, ()) if people and people.likely else ()
    others = (
        f" Line {' and '.join(str(facts.lines[rival]) for rival in rivals[:3])} may be the same."
        if rivals
        else ""
    )
    return f"This may be {named}; say who it is.{others}"


def _note(facts: Facts, row: int) -> str:
    score = facts.people.score(row) if facts.people else 0.0
    return (
        f"Taken for {_key(facts, int(facts.known.record[row]))} by likeness ({score:.1f} in 100);"
        " no key says so."
    )
