"""Submissions as the API gives them."""

from __future__ import annotations

import json
from collections import Counter
from dataclasses import asdict
from typing import TYPE_CHECKING, Any, cast

from nevefield.core.columns.titles import name_person, person_key
from nevefield.core.conditions import say_condition
from nevefield.core.submitting.forecast import say_forecast
from nevefield.core.submitting.layout import means_same, our_value
from nevefield.core.submitting.standing import QUESTION
from nevefield.rosters.snapshots import load_codes
from nevefield.store import records as record_store
from nevefield.store import submissions as store
from nevefield.submissions.looking import OpenSubmission, parts_of
from nevefield.submissions.opening import MOST_PARTS
from nevefield.web import submission_models as shapes
from nevefield.web.access import context, level_in

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence
    from datetime import datetime
    from typing import Literal

    from nevefield.core.codes import CodeList
    from nevefield.core.definition import Definition, Field
    from nevefield.core.submitting.published import Published
    from nevefield.store.submissions import Round, StepRow

__all__ = [
    "held_answer",
    "layout_answer",
    "line_answer",
    "overview_answer",
    "people_answer",
    "person_answer",
    "requests_answer",
    "rules_answer",
    "tally_answer",
]

FIRST = 40  # people of a rule that are given with it
PARTS_SHOWN = 3  # fields by which records are counted in parts
REQUESTS_SHOWN = 500
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
    tally, one = opened.tally, opened.submission
    waiting = next((each for each in rounds if each.state not in ("done", "refused")), None)
    if waiting is not None:
        said = f"round {waiting.number}: {STATES[waiting.state]}"
    elif tally.accepted == tally.records:
        said = "all accepted"
    else:
        told = [
            f"{tally.rejected:,} rejected" if tally.rejected else "",
            f"{tally.to_number:,} to number" if tally.to_number else "",
        ]
        said = ", ".join(filter(None, told)) or f"{len(opened.ready):,} ready to be sent"
    return shapes.SubmissionLine(
        id=one.id,
        title=one.title,
        roster=opened.roster.name,
        roster_title=opened.roster.title,
        authority=opened.published.authority,
        side=one.side,
        due=one.due,
        tally=tally_answer(opened),
        rounds=len(rounds),
        said="closed" if one.closed_at else said,
        closed=one.closed_at is not None,
    )


def overview_answer(opened: OpenSubmission, rounds: Sequence[Round]) -> shapes.SubmissionOut:
    """Give a submission as it stands: where all records are, what the next round takes, and what
    stays behind.
    """
    one, here = opened.submission, context()
    told = opened.told
    left = (one.due - here.today()).days if one.due else None
    return shapes.SubmissionOut(
        id=one.id,
        title=one.title,
        roster=opened.roster.name,
        roster_title=opened.roster.title,
        authority=opened.published.authority,
        side=one.side,
        day=one.day,
        due=one.due,
        days_left=left,
        level=level_in(opened.roster.id),
        touched=one.touched,
        tally=tally_answer(opened),
        on_way=sum(opened.standings[record].state == "not_sent" for record in opened.on_way),
        sendable=len(opened.ready),
        sends=dict(Counter(map(opened.kind_of, opened.ready))),
        behind=[{"said": said, "records": size} for said, size in _behind(opened).items()],
        rounds=[
            _round(opened, each, told[each.number].again if each.number in told else [])
            for each in rounds
        ],
        joining=len(opened.joining),
        policy=one.policy,
        parts=_parts(opened),
        forecast=say_forecast([each.left for each in told.values()]),
        broken=len({record for some in opened.broken.values() for record in some}),
        warned=sum(map(len, opened.warned().values())),
        closed=one.closed_at,
        starts_from=_title_of(one.starts_from),
        chosen=(
            say_condition(one.chosen, opened.snapshot.definition.title_of)
            if one.chosen is not None
            else ""
        ),
        requests=sum(map(len, opened.requests.values())),
        can_reach=bool(here.settings.registry_url),
    )


def _title_of(number: int | None) -> str:
    if number is None:
        return ""
    with context().database.transaction() as connection:
        found = store.get_submission(connection, number)
    return found.title if found is not None else ""


def requests_answer(opened: OpenSubmission) -> shapes.RequestsOut:
    """List the changes of theirs that were asked for, the last first, with what became of each."""
    found = [_request(opened, step) for some in opened.requests.values() for step in some]
    found.sort(key=lambda one: one.at, reverse=True)
    return shapes.RequestsOut(
        total=len(found),
        counts=dict(Counter(one.state for one in found)),
        requests=found[:REQUESTS_SHOWN],
    )


def _request(opened: OpenSubmission, step: StepRow) -> shapes.RequestHere:
    word = step.answer.split(":")[0].strip().casefold()
    lines = [
        line.round
        for line in opened.listed
        if line.record == step.record and line.round > step.after_round
    ]
    return shapes.RequestHere(
        record=step.record,
        name=_name(opened, step.record),
        key=_key(opened, step.record),
        rule=step.rule,
        reason=step.reason,
        by=step.by,
        at=step.at,
        round=min(lines, default=0),
        state="waits" if not step.answer else "refused" if word.startswith("refus") else "agreed",
        answer=step.answer,
    )


def _parts(opened: OpenSubmission) -> list[shapes.PartsOut]:
    """Count how far each part of the institution is, by the fields that say one."""
    definition = opened.snapshot.definition
    with context().database.transaction() as connection:
        codes = load_codes(connection)
    found = []
    for name in _part_fields(opened):
        listed = codes.get(definition.by_name[name].code_list)
        labels = (
            {one.code: one.label or one.code for one in listed.codes} if listed is not None else {}
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
        found.append(shapes.PartsOut(field=name, title=definition.title_of(name), parts=rows))
    return found


def _part_fields(opened: OpenSubmission) -> list[str]:
    """List the fields that part the records: coded ones of few values; those by which groups are
    parted first.
    """
    definition, places = opened.snapshot.definition, list(opened.place.values())
    first = dict.fromkeys(name for kind in definition.groups for name in kind.part)
    coded = [one.name for one in definition.fields if one.code_list and not one.several]
    found = []
    for name in dict.fromkeys([*first, *coded]):
        column = opened.snapshot.columns[name]
        if 1 < len(set(column.codes[places].tolist())) <= MOST_PARTS:
            found.append(name)
    return found[:PARTS_SHOWN]


def layout_answer(
    definition: Definition,
    codes: Mapping[str, CodeList],
    published: Published,
    layout: dict[str, Any],
) -> shapes.LayoutOut:
    """Give a layout with what there is on both sides."""

    def ours(one: Field) -> shapes.OurField:
        listed = codes.get(one.code_list)
        found = (
            [{"code": code.code, "label": code.label} for code in listed.codes]
            if listed is not None
            else []
        )
        return shapes.OurField(name=one.name, title=one.title, codes=found)

    def theirs(name: str, title: str) -> shapes.TheirField:
        found = [
            {
                "code": code,
                "label": str(one.get("label", "")),
                "last_day": str(one.get("last_day", "")),
            }
            for code, one in published.codes.get(name, {}).items()
        ]
        role = published.roles.get(name, "")
        return shapes.TheirField(
            name=name, title=title, role=role, is_needed=name in published.needed, codes=found
        )

    return shapes.LayoutOut(
        authority=published.authority,
        theirs=[theirs(name, title) for name, title in published.titles.items()],
        ours=[ours(one) for one in definition.fields],
        layout=layout,
    )


def _behind(opened: OpenSubmission) -> dict[str, int]:
    """Say what would stay behind, and why."""
    found: Counter[str] = Counter()
    for record in opened.records:
        standing = opened.standings[record]
        if standing.is_sendable or standing.state == "accepted":
            continue
        plain = {
            "rejected": "rejected, nothing decided yet",
            "to_number": "to number, nothing decided yet",
        }
        found[standing.why or plain.get(standing.state, standing.state)] += 1
    return dict(found.most_common(12))


def _round(opened: OpenSubmission, one: Round, again: list[dict[str, Any]]) -> shapes.RoundHere:
    people = [
        {
            "record": each["record"],
            "name": _name(opened, each["record"]),
            "key": _key(opened, each["record"]),
            "before": ", ".join(each["before"]),
            "now": ", ".join(each["now"]),
        }
        for each in again[:200]
    ]
    return shapes.RoundHere(
        id=one.id,
        number=one.number,
        state=one.state,
        said=STATES[one.state],
        records=one.records,
        done=one.done,
        counts=one.counts,
        receipt=one.receipt,
        problem=one.problem,
        by=one.by,
        at=one.at,
        sent_at=one.sent_at,
        answered_at=one.answered_at,
        intake=one.intake_id,
        again=people,
    )


def _values(opened: OpenSubmission, record: int) -> Mapping[str, Any]:
    return opened.snapshot.values(opened.place[record]) if record in opened.place else {}


def _name(opened: OpenSubmission, record: int) -> str:
    values = _values(opened, record)
    return name_person(opened.snapshot.definition, values.get) if values else "has left the roster"


def _key(opened: OpenSubmission, record: int) -> str:
    values = _values(opened, record)
    if values:
        return person_key(opened.snapshot.definition, values)
    line = opened.lines.get(record)
    return line.sent.get(opened.layout.reference.to, "") if line is not None else ""


def _person(opened: OpenSubmission, record: int) -> shapes.PersonHere:
    standing, line = opened.standings[record], opened.lines.get(record)
    number = opened.rows.get(record, {}).get(opened.layout.number.to, "")
    return shapes.PersonHere(
        record=record,
        name=_name(opened, record),
        key=_key(opened, record),
        state=cast("shapes.State", standing.state),
        why=opened.why(record),
        number=number,
        moved=bool(standing.moved),
        candidates=len(line.candidates) if line is not None else 0,
        rules=list(line.rules) if line is not None else [],
    )


def people_answer(opened: OpenSubmission, asked: shapes.PeopleIn) -> shapes.PeopleHere:
    """List the people of a submission, of one place or all."""
    wanted = asked.q.strip().casefold()
    chosen = [
        record
        for record in opened.records
        if not asked.state or opened.standings[record].state == asked.state
    ]
    if asked.rule:
        mine = {
            record
            for record in chosen
            if record in opened.lines and asked.rule in opened.lines[record].rules
        }
        chosen = [record for record in chosen if record in mine]
    if wanted:
        chosen = [
            one
            for one in chosen
            if wanted in _name(opened, one).casefold() or wanted in _key(opened, one).casefold()
        ]
    people = [_person(opened, record) for record in chosen[asked.start : asked.start + asked.limit]]
    return shapes.PeopleHere(people=people, total=len(chosen))


def rules_answer(
    opened: OpenSubmission, which: Literal["rejected", "before", "warned"]
) -> shapes.RulesHere:
    """List rules with their people: of what was rejected, of what is known before sending, or of
    warnings.
    """
    rules: Mapping[str, Sequence[int]]
    if which == "before":
        rules = opened.broken
    else:
        rules = opened.rejected() if which == "rejected" else opened.warned()
    found = [
        _rule(opened, rule, records, translate=which == "before") for rule, records in rules.items()
    ]
    total = len({record for some in rules.values() for record in some})
    if which == "rejected":
        found += [
            _rule(opened, rule, [], follows=True).model_copy(update={"records": [0] * size})
            for rule, size in opened.following().items()
        ]
    return shapes.RulesHere(rules=found, records=total)


def _rule(
    opened: OpenSubmission,
    number: str,
    records: Sequence[int],
    *,
    follows: bool = False,
    translate: bool = False,
) -> shapes.RuleHere:
    rule = opened.published.rule(number)
    return shapes.RuleHere(
        rule=number,
        title=rule.title,
        text=rule.text,
        reads=[opened.published.titles.get(name, name) for name in rule.reads],
        records=list(records),
        people=[_person(opened, record) for record in records[:FIRST]],
        follows=follows,
        translate=_translations(opened, rule.reads, records) if translate else [],
    )


def _translations(
    opened: OpenSubmission, reads: Sequence[str], records: Sequence[int]
) -> list[dict[str, str]]:
    """List codes that could go otherwise: one remedy for all their records."""
    found: dict[tuple[str, str, str], int] = Counter()
    for name in reads:
        put = opened.layout.put_of(name)
        if put is None or name not in opened.published.codes or not put.source:
            continue
        for record in records:
            sent = opened.rows[record][name]
            found[name, our_value(put, sent), sent] += 1
    answers = []
    for (name, ours, sent), size in sorted(found.items(), key=lambda item: -item[1])[:12]:
        codes = opened.published.codes[name]
        instead = str(codes.get(sent, {}).get("instead", ""))
        answers.append(
            {
                "field": name,
                "title": opened.published.titles.get(name, name),
                "ours": ours,
                "sent": sent,
                "theirs": instead,
                "label": opened.published.label(name, instead),
                "records": str(size),
            }
        )
    return answers


def person_answer(opened: OpenSubmission, record: int, asked: str) -> shapes.PersonInFull:
    """Give one person in full: ours as sent, theirs as held, what a rule reads in front; and the
    holders of a number.
    """
    line, standing, step = (
        opened.lines.get(record),
        opened.standings[record],
        opened.steps.get(record),
    )
    roots = opened.roots(record)
    broken = [rule for rule, some in opened.broken.items() if record in some]
    number = asked or (roots or broken or [""])[0]
    rule = opened.published.rule(number) if number else None
    reads = rule.reads if rule is not None else ()
    row = line.sent if line is not None else opened.rows.get(record, {})
    changed = _last_changed(opened, record)
    held = line.held if line is not None else None
    fields = [
        _compare(opened, name, row.get(name, ""), held, reads, changed) for name in _told(opened)
    ]
    fields.sort(key=lambda one: not one.is_read)
    is_mine = (
        step is not None
        and (line is None or step.after_round >= line.round)
        and step.kind != "clear"
    )
    return shapes.PersonInFull(
        record=record,
        name=_name(opened, record),
        key=_key(opened, record),
        number=row.get(opened.layout.number.to, ""),
        state=cast("shapes.State", standing.state),
        why=opened.why(record),
        rule=number,
        rule_title=rule.title if rule is not None else "",
        text=rule.text if rule is not None else "",
        reads=[opened.published.titles.get(name, name) for name in reads],
        rules=roots or broken,
        follows=[one for one in (line.rules if line is not None else ()) if one not in roots],
        round=line.round if line is not None else None,
        has_held=held is not None,
        fields=fields,
        candidates=[
            _candidate(opened, one, row) for one in (line.candidates if line is not None else ())
        ],
        decided=step.kind if is_mine and step is not None else "",
        reason=step.reason if is_mine and step is not None else "",
        by=step.by if is_mine and step is not None else "",
        answer=step.answer if step is not None else "",
        requests=[_request(opened, one) for one in opened.requests.get(record, ())],
        answered_at=_answered_at(opened, line.round) if line is not None else None,
        asked="" if standing.asked == QUESTION else standing.asked,
    )


def held_answer(
    opened: OpenSubmission, record: int, held: Mapping[str, Any], asked: str
) -> list[shapes.FieldHere]:
    """Give ours beside what the authority holds right now."""
    line = opened.lines.get(record)
    row = line.sent if line is not None else opened.rows.get(record, {})
    changed = _last_changed(opened, record)
    reads = opened.published.rule(asked).reads
    fields = [
        _compare(opened, name, row.get(name, ""), held, reads, changed) for name in _told(opened)
    ]
    return sorted(fields, key=lambda one: not one.is_read)


def _answered_at(opened: OpenSubmission, number: int) -> datetime | None:
    with context().database.transaction() as connection:
        rounds = store.list_rounds(connection, opened.submission.id)
    return next((one.answered_at for one in rounds if one.number == number), None)


def _told(opened: OpenSubmission) -> list[str]:
    return [
        name
        for name in opened.layout.names
        if name not in (opened.layout.asked, opened.layout.reference.to)
    ]


def _compare(
    opened: OpenSubmission,
    name: str,
    ours: str,
    held: Mapping[str, Any] | None,
    reads: Sequence[str],
    changed: Mapping[str, tuple[str, int | None]],
) -> shapes.FieldHere:
    put = opened.layout.put_of(name)
    theirs = str(held.get(name, "")) if held is not None else None
    said, change_set = changed.get(put.source if put else "", ("", None))
    return shapes.FieldHere(
        field=name,
        title=opened.published.titles.get(name, name),
        source=put.source if put is not None else "",
        ours=ours,
        ours_label=opened.published.label(name, ours),
        theirs=theirs,
        theirs_label=opened.published.label(name, theirs) if theirs else "",
        is_same=theirs is None or means_same(ours, theirs),
        is_read=name in reads,
        changed=said if put is not None and put.source else "the same for everybody",
        change_set=change_set,
    )


def _candidate(
    opened: OpenSubmission, one: Mapping[str, Any], row: Mapping[str, str]
) -> shapes.HolderOut:
    held = one.get("held") or {}
    own = ("COLLEGE", "KIND", "ENR_FROM", "ENR_TO", "PROGRAMME", "YEAR")
    names = [name for name in _told(opened) if name not in own and name != opened.layout.number.to]
    values = [_compare(opened, name, row.get(name, ""), held, (), {}) for name in names]
    college = str(held.get("COLLEGE", ""))
    years = "–".join(
        dict.fromkeys(str(held.get(one, ""))[:4] for one in ("ENR_FROM", "ENR_TO") if held.get(one))
    )
    return shapes.HolderOut(
        number=str(one["number"]),
        score=int(one["score"]),
        values=sorted(values, key=lambda each: each.is_same),
        earlier=(
            f"{opened.published.label('COLLEGE', college) or college}, {years}" if college else ""
        ),
    )


def _last_changed(opened: OpenSubmission, record: int) -> dict[str, tuple[str, int | None]]:
    """Say by field of ours who last changed it, from which file and line."""
    found: dict[str, tuple[str, int | None]] = {}
    before: dict[str, Any] = {}
    with context().database.transaction() as connection:
        life = record_store.list_life(connection, record)
    for version, change_set, _, by in life:
        values = json.loads(version.content)
        for name in {*values, *before}:
            if values.get(name) != before.get(name):
                line = f"line {version.line}, " if version.line else ""
                found[name] = (f"{line}{change_set.title}{f' ({by})' if by else ''}", change_set.id)
        before = values
    return found
