"""Submissions and their rounds as the API gives them."""

from __future__ import annotations

from collections import Counter
from dataclasses import asdict
from typing import TYPE_CHECKING, Any

from nevefield.core.conditions import say_condition
from nevefield.core.submitting.forecast import say_forecast
from nevefield.rosters.coding import list_codes
from nevefield.submissions.looking import (
    OpenSubmission,
    parts_of,
    title_of,
)
from nevefield.submissions.opening import MOST_PARTS
from nevefield.web.access import context, level_in
from nevefield.web.submissions import shapes, shapes_layout
from nevefield.web.submissions.answers_people import key_of, name_of

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition, Field
    from nevefield.core.submitting.published import Published
    from nevefield.submissions import Round

__all__ = ["layout_answer", "line_answer", "overview_answer", "tally_answer"]

PARTS_SHOWN = 3  # fields by which records are counted in parts
STATES = {
    "built": "about to be sent",
    "sent": "the authority is at work",
    "answered": "the answer is being taken in",
    "taken": "its numbers go into the roster",
    "done": "taken in",
    "refused": "refused as a whole",
    "byhand": "waits for its answer, which somebody brings",
}


def tally_answer(opened: OpenSubmission) -> shapes.StandingTally:
    """Give where all records stand."""
    return shapes.StandingTally(**asdict(opened.tally), adds_up=opened.tally.adds_up)


def line_answer(opened: OpenSubmission, rounds: Sequence[Round]) -> shapes.SubmissionLine:
    """Give a submission in a list."""
    tally, submission = opened.tally, opened.submission
    waiting = next((each for each in rounds if each.state not in ("done", "refused")), None)
    if waiting is not None:
        message = f"round {waiting.number}: {STATES[waiting.state]}"
    elif tally.accepted == tally.records:
        message = "all accepted"
    else:
        messages = [
            f"{tally.rejected:,} rejected" if tally.rejected else "",
            f"{tally.to_number:,} to number" if tally.to_number else "",
        ]
        message = ", ".join(filter(None, messages)) or f"{len(opened.ready):,} ready to be sent"
    return shapes.SubmissionLine(
        id=submission.id,
        title=submission.title,
        roster=opened.roster.name,
        roster_title=opened.roster.title,
        authority=opened.published.authority,
        side=submission.side,
        due=submission.due,
        tally=tally_answer(opened),
        rounds=len(rounds),
        said="closed" if submission.closed_at else message,
        closed=submission.closed_at is not None,
    )


def overview_answer(opened: OpenSubmission, rounds: Sequence[Round]) -> shapes.SubmissionOut:
    """Give a submission as it stands: where all records are, what the next round takes, and what
    stays behind.
    """
    submission, here = opened.submission, context()
    told = opened.told
    left = (submission.due - here.today()).days if submission.due else None
    return shapes.SubmissionOut(
        id=submission.id,
        title=submission.title,
        roster=opened.roster.name,
        roster_title=opened.roster.title,
        authority=opened.published.authority,
        side=submission.side,
        day=submission.day,
        due=submission.due,
        days_left=left,
        level=level_in(opened.roster.id),
        touched=submission.touched,
        tally=tally_answer(opened),
        on_way=sum(opened.standings[record].state == "not_sent" for record in opened.on_way),
        sendable=len(opened.ready),
        sends=dict(Counter(map(opened.kind_of, opened.ready))),
        behind=[{"said": message, "records": size} for message, size in _behind(opened).items()],
        rounds=[
            _round(opened, each, told[each.number].again if each.number in told else [])
            for each in rounds
        ],
        joining=len(opened.joining),
        policy=submission.policy,
        parts=_parts(opened),
        forecast=say_forecast([each.left for each in told.values()]),
        broken=len({record for some in opened.broken.values() for record in some}),
        warned=sum(map(len, opened.warned().values())),
        closed=submission.closed_at,
        starts_from=title_of(here, submission.starts_from),
        chosen=(
            say_condition(submission.chosen, opened.snapshot.definition.title_of)
            if submission.chosen is not None
            else ""
        ),
        requests=sum(map(len, opened.requests.values())),
        can_reach=bool(here.settings.registry_url),
    )


def _parts(opened: OpenSubmission) -> list[shapes.PartsOut]:
    """Count how far each part of the institution is, by the fields that say one."""
    definition = opened.snapshot.definition
    codes = list_codes(context())
    parts = []
    for name in _part_fields(opened):
        listed = codes.get(definition.by_name[name].code_list)
        labels = (
            {code.code: code.label or code.code for code in listed.codes}
            if listed is not None
            else {}
        )
        rows = [
            shapes.PartOut(
                value=labels.get(value, value) or "none",
                code=value,
                accepted=done,
                records=size,
                ready=ready,
            )
            for value, done, size, ready in parts_of(opened, name)
        ]
        parts.append(shapes.PartsOut(field=name, title=definition.title_of(name), parts=rows))
    return parts


def _part_fields(opened: OpenSubmission) -> list[str]:
    """List the fields that part the records: coded ones of few values; those by which groups are
    parted first.
    """
    definition, places = opened.snapshot.definition, list(opened.place.values())
    first = dict.fromkeys(name for kind in definition.groups for name in kind.part)
    coded = [field.name for field in definition.fields if field.code_list and not field.several]
    texts = []
    for name in dict.fromkeys([*first, *coded]):
        column = opened.snapshot.columns[name]
        if 1 < len(set(column.codes[places].tolist())) <= MOST_PARTS:
            texts.append(name)
    return texts[:PARTS_SHOWN]


def layout_answer(
    definition: Definition,
    codes: Mapping[str, CodeList],
    published: Published,
    layout: dict[str, Any],
) -> shapes_layout.LayoutOut:
    """Give a layout with what there is on both sides."""

    def ours(one: Field) -> shapes_layout.OurField:
        listed = codes.get(one.code_list)
        found = (
            [{"code": code.code, "label": code.label} for code in listed.codes]
            if listed is not None
            else []
        )
        return shapes_layout.OurField(name=one.name, title=one.title, codes=found)

    def theirs(name: str, title: str) -> shapes_layout.TheirField:
        found = [
            {
                "code": code,
                "label": str(one.get("label", "")),
                "last_day": str(one.get("last_day", "")),
            }
            for code, one in published.codes.get(name, {}).items()
        ]
        role = published.roles.get(name, "")
        return shapes_layout.TheirField(
            name=name, title=title, role=role, is_needed=name in published.needed, codes=found
        )

    return shapes_layout.LayoutOut(
        authority=published.authority,
        theirs=[theirs(name, title) for name, title in published.titles.items()],
        ours=[ours(field) for field in definition.fields],
        layout=layout,
    )


def _behind(opened: OpenSubmission) -> dict[str, int]:
    """Say what would stay behind, and why."""
    counter: Counter[str] = Counter()
    for record in opened.records:
        standing = opened.standings[record]
        if standing.is_sendable or standing.state == "accepted":
            continue
        plain = {
            "rejected": "rejected, nothing decided yet",
            "to_number": "to number, nothing decided yet",
        }
        counter[standing.why or plain.get(standing.state, standing.state)] += 1
    return dict(counter.most_common(12))


def _round(opened: OpenSubmission, round_: Round, again: list[dict[str, Any]]) -> shapes.RoundHere:
    people = [
        {
            "record": each["record"],
            "name": name_of(opened, each["record"]),
            "key": key_of(opened, each["record"]),
            "before": ", ".join(each["before"]),
            "now": ", ".join(each["now"]),
        }
        for each in again[:200]
    ]
    return shapes.RoundHere(
        id=round_.id,
        number=round_.number,
        state=round_.state,
        said=STATES[round_.state],
        records=round_.records,
        done=round_.done,
        counts=round_.counts,
        receipt=round_.receipt,
        problem=round_.problem,
        by=round_.by,
        at=round_.at,
        sent_at=round_.sent_at,
        answered_at=round_.answered_at,
        intake=round_.intake_id,
        again=people,
    )
