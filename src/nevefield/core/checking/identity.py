"""Findings about who a row is: those that a person must decide, and those that likeness has settled."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from nevefield.core.checking.facts import Facts, Hit, identify
from nevefield.core.people.levels import LEVELS
from nevefield.core.people.recognising import ASKED, TAKEN, known_traits
from nevefield.core.snapshot import say_key
from nevefield.core.trail import has_any

__all__ = ["check_identity", "fold_identity"]

CHANGED_PLACES = [one.word for one in LEVELS["given"]].index("changed places")
SHOWN = 3  # candidates that a message names


def check_identity(facts: Facts) -> list[Hit]:
    """Ask about rows that may be somebody in the roster, and note those that are taken for somebody by likeness."""
    people = facts.people
    if people is None or people.likely is None:
        return []
    fields = tuple(one.field for one in known_traits(facts.definition, facts.memo) if one.field in facts.typed)
    hits = []
    asked = np.flatnonzero((people.decision == ASKED) & ~facts.aside)
    if len(asked):
        title = "May be people who are in the roster already"
        hits.append(Hit("who", None, fields, "ask", asked, title, lambda row: _ask(facts, row), group="who"))
    taken = np.flatnonzero(people.decision == TAKEN)
    if len(taken):
        hits.append(
            Hit("likeness", None, fields, "note", taken, "Known by likeness", lambda row: _note(facts, row), group="likeness")
        )
    of = (facts.known, people.likely.found, fields)
    turned: list[Hit] = facts.memo.get("turned", of, lambda: _check_names(facts, fields))
    return hits + turned


def _check_names(facts: Facts, fields: tuple[str, ...]) -> list[Hit]:
    """Stop rows that are known, though their family and given names stand in each other's column."""
    people = facts.people
    if people is None or people.likely is None:
        return []
    found = people.likely.found
    names = {one.kind: one.field for one in found.traits}
    if not {"family", "given"} <= names.keys():
        return []
    turned = found.levels["given"] == CHANGED_PLACES
    rows = found.rows[turned & (facts.known.record[found.rows] == found.records)]
    if not len(rows):
        return []
    family, given = facts.title(names["family"]), facts.title(names["given"])
    title = f"{family} and {given} stand in each other's place"
    said = f"By the roster, {family} and {given} stand in each other's place here; swap them."
    return [Hit("names-turned", names["given"], fields, "stop", np.unique(rows).astype(np.intp), title, said, group="turned")]


def fold_identity(hits: list[Hit], facts: Facts) -> list[Hit]:
    """Fold under the question of who a row is what only follows from its being somebody in the roster already."""
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
        folded.append(replace(hit, rows=hit.rows[within], follows=(identify(who),), group=f"{hit.group}/who"))
    return folded


def _key(facts: Facts, record: int) -> str:
    return say_key(facts.snapshot.keys(np.array([record]))[0])


def _ask(facts: Facts, row: int) -> str:
    people = facts.people
    found = people.candidates(row)[:SHOWN] if people else []
    named = " or ".join(f"{_key(facts, record)} ({score:.0f} in 100)" for record, score, _ in found)
    rivals = people.likely.rivals.get(row, ()) if people and people.likely else ()
    others = f" Line {' and '.join(str(facts.lines[one]) for one in rivals[:3])} may be the same." if rivals else ""
    return f"This may be {named}; say who it is.{others}"


def _note(facts: Facts, row: int) -> str:
    score = facts.people.score(row) if facts.people else 0.0
    return f"Taken for {_key(facts, int(facts.known.record[row]))} by likeness ({score:.1f} in 100); no key says so."
