"""Records that may be one person."""

from __future__ import annotations

from typing import Any

import numpy as np
from flask import Response

from nevefield.accounts import Level
from nevefield.core.columns.titles import name_person
from nevefield.core.people.levels import LEVELS
from nevefield.core.snapshot import Snapshot, say_key
from nevefield.rosters.uniting import OpenDoubles, merge_records, open_doubles, say_two
from nevefield.web import common
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.rosters import shapes_doubles

__all__ = ["double_api"]

double_api = Api("doubles", __name__)


@double_api.get("/rosters/<name>/doubles", responses={200: shapes_doubles.DoublesOut})
@needs(Level.LOOK, of="roster")
def list_doubles(path: common.NamePath, query: shapes_doubles.DoublesQuery) -> Any:
    """List pairs of records that may be one person, the likeliest first."""
    opened = open_doubles(context(), path.name)
    page = range(query.start, min(query.start + query.limit, len(opened.doubles)))
    pairs = [_pair(opened, place) for place in page]
    return answer(
        shapes_doubles.DoublesOut(
            version=opened.snapshot.version, total=len(opened.doubles), pairs=pairs
        )
    )


def _pair(opened: OpenDoubles, place: int) -> shapes_doubles.DoubleOut:
    snapshot, doubles = opened.snapshot, opened.doubles
    both = doubles.records[place].tolist()
    candidates, pair = doubles.found, doubles.pairs[place]
    kinds = {trait.field: trait.kind for trait in candidates.traits} if candidates else {}
    fields = []
    for field in snapshot.definition.fields:
        kind = kinds.get(field.name, "")
        level = int(candidates.levels[kind][pair]) if candidates and kind else -1
        is_same = opened.same(field.name, both)
        if is_same is None:
            continue
        values = [snapshot.values(record).get(field.name) for record in both]
        word = LEVELS[kind][level].word if level >= 0 else ""
        bits = round(float(candidates.parts[kind][pair]), 1) if candidates and kind else 0.0
        fields.append(
            shapes_doubles.DoubleField(
                field=field.name,
                title=field.title,
                values=values,
                word=word,
                bits=bits,
                is_same=is_same,
            )
        )
    keys = snapshot.keys(np.array(both))
    return shapes_doubles.DoubleOut(
        score=float(doubles.scores[place]),
        records=[int(snapshot.ids[record]) for record in both],
        keys=[say_key(key) for key in keys],
        names=[_name(snapshot, record) for record in both],
        fields=fields,
    )


def _name(snapshot: Snapshot, record: int) -> str:
    return name_person(snapshot.definition, lambda field: snapshot.columns[field].at(record))


@double_api.post("/rosters/<name>/two", responses={204: None})
@needs(Level.PREPARE, of="roster")
def post_two(path: common.NamePath, body: shapes_doubles.TwoIn) -> Response:
    """Say that two records are two people; they are not shown again."""
    say_two(context(), path.name, body.one, body.other, account().id)
    return Response(status=204)


@double_api.post("/rosters/<name>/merge", responses={200: shapes_doubles.MergedRecords})
@needs(Level.APPROVE, of="roster")
def post_merge(path: common.NamePath, body: shapes_doubles.UniteIn) -> Any:
    """Make two records one; it can be taken back."""
    number = merge_records(
        context(),
        path.name,
        body.keep,
        body.gone,
        account().id,
        take=body.take,
        version=body.version,
    )
    return answer(shapes_doubles.MergedRecords(change_set=number))
