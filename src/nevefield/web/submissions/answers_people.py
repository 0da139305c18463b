"""The records of a submission as the API gives them."""

from __future__ import annotations

from collections import Counter
from typing import TYPE_CHECKING, Any, cast

from nevefield.core.columns.titles import name_person, person_key
from nevefield.core.submitting.layout import means_same, our_value
from nevefield.core.submitting.published import say_held
from nevefield.core.submitting.standing import QUESTION
from nevefield.submissions.looking import (
    OpenSubmission,
    answered_at,
    last_changed,
)
from nevefield.web.access import context
from nevefield.web.submissions import shapes_people

if TYPE_CHECKING:
    from collections.abc import Mapping, Sequence
    from typing import Literal

    from nevefield.submissions import StepRow
    from nevefield.submissions.looking import Changed

__all__ = [
    "held_answer",
    "key_of",
    "name_of",
    "people_answer",
    "person_answer",
    "requests_answer",
    "rules_answer",
]

FIRST = 40  # people of a rule that are given with it
REQUESTS_SHOWN = 500


def requests_answer(opened: OpenSubmission) -> shapes_people.RequestsOut:
    """List the changes of theirs that were asked for, the last first, with what became of each."""
    found = [_request(opened, step) for some in opened.requests.values() for step in some]
    found.sort(key=lambda one: one.at, reverse=True)
    return shapes_people.RequestsOut(
        total=len(found),
        counts=dict(Counter(one.state for one in found)),
        requests=found[:REQUESTS_SHOWN],
    )


def _request(opened: OpenSubmission, step: StepRow) -> shapes_people.RequestHere:
    word = step.answer.split(":")[0].strip().casefold()
    lines = [
        line.round
        for line in opened.listed
        if line.record == step.record and line.round > step.after_round
    ]
    return shapes_people.RequestHere(
        record=step.record,
        name=name_of(opened, step.record),
        key=key_of(opened, step.record),
        rule=step.rule,
        reason=step.reason,
        by=step.by,
        at=step.at,
        round=min(lines, default=0),
        state="waits" if not step.answer else "refused" if word.startswith("refus") else "agreed",
        answer=step.answer,
    )


def _values(opened: OpenSubmission, record: int) -> Mapping[str, Any]:
    return opened.snapshot.values(opened.place[record]) if record in opened.place else {}


def name_of(opened: OpenSubmission, record: int) -> str:
    values = _values(opened, record)
    return name_person(opened.snapshot.definition, values.get) if values else "has left the roster"


def key_of(opened: OpenSubmission, record: int) -> str:
    values = _values(opened, record)
    if values:
        return person_key(opened.snapshot.definition, values)
    line = opened.lines.get(record)
    return line.sent.get(opened.layout.reference.to, "") if line is not None else ""


def _person(opened: OpenSubmission, record: int) -> shapes_people.PersonHere:
    standing, line = opened.standings[record], opened.lines.get(record)
    number = opened.rows.get(record, {}).get(opened.layout.number.to, "")
    return shapes_people.PersonHere(
        record=record,
        name=name_of(opened, record),
        key=key_of(opened, record),
        state=cast("shapes_people.State", standing.state),
        why=opened.why(record),
        number=number,
        moved=bool(standing.moved),
        candidates=len(line.candidates) if line is not None else 0,
        rules=list(line.rules) if line is not None else [],
    )


def people_answer(
    opened: OpenSubmission, asked: shapes_people.PeopleIn
) -> shapes_people.PeopleHere:
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
            number
            for number in chosen
            if wanted in name_of(opened, number).casefold()
            or wanted in key_of(opened, number).casefold()
        ]
    people = [_person(opened, record) for record in chosen[asked.start : asked.start + asked.limit]]
    return shapes_people.PeopleHere(people=people, total=len(chosen))


def rules_answer(
    opened: OpenSubmission, which: Literal["rejected", "before", "warned"]
) -> shapes_people.RulesHere:
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
    return shapes_people.RulesHere(rules=found, records=total)


def _rule(
    opened: OpenSubmission,
    number: str,
    records: Sequence[int],
    *,
    follows: bool = False,
    translate: bool = False,
) -> shapes_people.RuleHere:
    rule = opened.published.rule(number)
    return shapes_people.RuleHere(
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
    counter: dict[tuple[str, str, str], int] = Counter()
    for name in reads:
        put = opened.layout.put_of(name)
        if put is None or name not in opened.published.codes or not put.source:
            continue
        for record in records:
            sent = opened.rows[record][name]
            counter[name, our_value(put, sent), sent] += 1
    answers = []
    for (name, ours, sent), size in sorted(counter.items(), key=lambda item: -item[1])[:12]:
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


def person_answer(opened: OpenSubmission, record: int, asked: str) -> shapes_people.PersonInFull:
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
    changed = last_changed(context(), record)
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
    return shapes_people.PersonInFull(
        record=record,
        name=name_of(opened, record),
        key=key_of(opened, record),
        number=row.get(opened.layout.number.to, ""),
        state=cast("shapes_people.State", standing.state),
        why=opened.why(record),
        rule=number,
        rule_title=rule.title if rule is not None else "",
        text=rule.text if rule is not None else "",
        reads=[opened.published.titles.get(name, name) for name in reads],
        rules=roots or broken,
        follows=[text for text in (line.rules if line is not None else ()) if text not in roots],
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
        requests=[_request(opened, row) for row in opened.requests.get(record, ())],
        answered_at=(
            answered_at(context(), opened.submission.id, line.round) if line is not None else None
        ),
        asked="" if standing.asked == QUESTION else standing.asked,
    )


def held_answer(
    opened: OpenSubmission, record: int, held: Mapping[str, Any], asked: str
) -> list[shapes_people.FieldHere]:
    """Give ours beside what the authority holds right now."""
    line = opened.lines.get(record)
    row = line.sent if line is not None else opened.rows.get(record, {})
    changed = last_changed(context(), record)
    reads = opened.published.rule(asked).reads
    fields = [
        _compare(opened, name, row.get(name, ""), held, reads, changed) for name in _told(opened)
    ]
    return sorted(fields, key=lambda field: not field.is_read)


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
    changed: Mapping[str, Changed],
) -> shapes_people.FieldHere:
    put = opened.layout.put_of(name)
    theirs = str(held.get(name, "")) if held is not None else None
    last = changed.get(put.source if put else "")
    return shapes_people.FieldHere(
        field=name,
        title=opened.published.titles.get(name, name),
        source=put.source if put is not None else "",
        ours=ours,
        ours_label=opened.published.label(name, ours),
        theirs=theirs,
        theirs_label=opened.published.label(name, theirs) if theirs else "",
        is_same=theirs is None or means_same(ours, theirs),
        is_read=name in reads,
        changed=(
            _say_changed(last) if put is not None and put.source else "the same for everybody"
        ),
        change_set=last.change_set if last else None,
    )


def _say_changed(last: Changed | None) -> str:
    if last is None:
        return ""
    line = f"line {last.line}, " if last.line else ""
    return f"{line}{last.title}{f' ({last.by})' if last.by else ''}"


def _candidate(
    opened: OpenSubmission, one: Mapping[str, Any], row: Mapping[str, str]
) -> shapes_people.HolderOut:
    held = one.get("held") or {}
    aside = {*opened.published.held, opened.layout.number.to}
    names = [name for name in _told(opened) if name not in aside]
    values = [_compare(opened, name, row.get(name, ""), held, (), {}) for name in names]
    return shapes_people.HolderOut(
        number=str(one["number"]),
        score=int(one["score"]),
        values=sorted(values, key=lambda each: each.is_same),
        earlier=say_held(opened.published, held),
    )
