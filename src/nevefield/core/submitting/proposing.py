"""Propose where our fields go in an authority's layout, and which code of ours is which of
theirs: by names and labels.
"""

from __future__ import annotations

from typing import TYPE_CHECKING

from rapidfuzz import fuzz, utils

from nevefield.core.borders import Json
from nevefield.core.columns.headings import likeness, weigh, words_of
from nevefield.core.texts import fold

if TYPE_CHECKING:
    from collections.abc import Iterable, Mapping

    from nevefield.core.codes import Code, CodeList
    from nevefield.core.definition import Definition
    from nevefield.core.submitting.published import Published

__all__ = ["pair_codes", "propose_layout"]

LEAST = 0.75  # a likeness of names from which on a field is proposed
ALIKE = 88  # and of labels, 0 to 100, from which on a code is


def propose_layout(
    definition: Definition, codes: Mapping[str, CodeList], published: Published
) -> dict[str, Json]:
    """Propose a layout; what nothing of ours is near to is left out, for somebody to fill.

    Args:
        definition: Of the roster.
        codes: Our code lists.
        published: What the authority publishes.

    Returns:
        The layout's JSON; `reference` and `number` are proposed where the authority says which
        fields they are.
    """
    roles = {role: name for name, role in published.roles.items()}
    nearest = _pair_names(definition, published, roles)
    layout: dict[str, Json] = {}
    if "reference" in roles and definition.primary_key:
        layout["reference"] = {"to": roles["reference"], "from": definition.primary_key[0]}
    if "number" in roles and roles["number"] in nearest:
        layout["number"] = {
            "to": roles["number"],
            "from": nearest[roles["number"]],
            "asked": roles.get("asked", ""),
        }
    fields = []
    for to in published.titles:
        if to in published.roles or to not in nearest:
            continue
        put: dict[str, Json] = {"to": to, "from": nearest[to]}
        listed = codes.get(definition.by_name[nearest[to]].code_list)
        if to in published.codes and listed is not None:
            put["codes"] = pair_codes(listed.codes, published.codes[to])
        fields.append(put)
    return layout | {"fields": fields}


def _pair_names(
    definition: Definition, published: Published, roles: Mapping[str, str]
) -> dict[str, str]:
    """Pair their fields with ours by how alike the names are, the most alike first; each of ours
    goes once.
    """
    names = {
        field.name: [words_of(text) for text in (field.title, field.name, *field.aliases)]
        for field in definition.fields
    }
    weights = weigh([words for some in names.values() for words in some])
    aside = {roles.get("reference"), roles.get("asked")}
    scores = []
    for to, title in published.titles.items():
        wanted = [words_of(title), words_of(to.replace("_", " "))]
        for ours, some in names.items():
            score = max(likeness(theirs, words, weights) for theirs in wanted for words in some)
            if score >= LEAST and to not in aside and ours not in definition.primary_key:
                scores.append((-score, to, ours))
    found: dict[str, str] = {}
    for _, to, ours in sorted(scores):
        if to not in found and ours not in found.values():
            found[to] = ours
    return found


def pair_codes(ours: Iterable[Code], theirs: Mapping[str, Mapping[str, Json]]) -> dict[str, str]:
    """Pair our codes with theirs: by the label first, then by the code; a code of ours that none
    is near to is left out.
    """
    labels = {
        fold(str(their.get("label", ""))): code
        for code, their in theirs.items()
        if not their.get("last_day")
    }
    codes = {}
    for our in ours:
        texts = [fold(text) for text in (our.label, *our.aliases) if text]
        known = next((labels[text] for text in texts if text in labels), "")
        if not known:
            near = {
                code for label, code in labels.items() if any(_alike(label, text) for text in texts)
            }
            known = near.pop() if len(near) == 1 else ""  # of two that are near, somebody chooses
        if not known and our.code in theirs:
            known = our.code
        if known:
            codes[our.code] = known
    return codes


def _alike(text: str, other: str) -> bool:
    return fuzz.token_set_ratio(text, other, processor=utils.default_process) >= ALIKE
