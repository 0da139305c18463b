"""From letters to answers."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, Literal

from nevefield.core.mailing.template import say_value
from nevefield.setup.institution import the_institution
from nevefield.web.letters import shapes

if TYPE_CHECKING:
    from datetime import date

    from nevefield.context import Context
    from nevefield.core.definition import Field
    from nevefield.letters.answering import Own
    from nevefield.letters.following import Counted, Followed, OpenLetter
    from nevefield.letters.writing import LetterLooked

__all__ = ["brief_answer", "looked_answer", "open_answer", "own_answer"]

PAGE = 200


def looked_answer(found: LetterLooked) -> shapes.LetterOut:
    """Say what would go to whom."""
    samples = [
        shapes.LetterSample(
            record=one.record,
            key=one.key,
            name=one.name,
            to=one.to,
            subject=one.filled.subject,
            text=one.filled.text,
            address=one.filled.address,
            lacking=list(one.filled.lacking),
        )
        for one in found.samples
    ]
    return shapes.LetterOut.model_validate(vars(found) | {"samples": samples})


def brief_answer(found: Counted) -> shapes.LetterBrief:
    """Say how it is with a letter."""
    row = found.row
    return shapes.LetterBrief(
        id=row.id,
        title=row.title,
        by=row.by,
        at=row.at,
        asks=shapes.LetterAsked.model_validate(row.asks) if row.asks else None,
        over=found.over if row.asks else "",
        counts=dict(found.counts),
        untaken=found.untaken,
    )


def open_answer(
    opened: OpenLetter, query: shapes.LetterQuery, roster: str, silent: int, level: int
) -> shapes.LetterOpen:
    """Say to whom a letter was written."""
    shown = [one for one in opened.people if query.part in ("", one.part)]
    template = opened.row.template
    return shapes.LetterOpen(
        letter=brief_answer(opened.counted),
        roster=roster,
        subject=template["subject"],
        text=template["text"],
        address=template.get("address", ""),
        people=[_addressee(one) for one in shown[query.start : query.start + PAGE]],
        total=len(shown),
        silent=silent,
        level=level,
    )


def _addressee(one: Followed) -> shapes.AddresseeOut:
    row = one.row
    more: dict[str, Any] = {
        "record": row.record_id,
        "key": one.key,
        "name": one.name,
        "part": one.part,
        "fields": list(row.fields),
        "intake": row.intake_id,
        "intake_state": row.intake,
    }
    return shapes.AddresseeOut.model_validate(vars(row) | more)


def own_answer(context: Context, own: Own, today: date) -> shapes.OwnOut:
    """Show somebody what is kept of them, or what they have to say first."""
    is_asked = own.proof is not None and not own.name
    return shapes.OwnOut(
        institution=the_institution(context).name,
        title=own.title,
        last_day=own.asks.last_day,
        proof=own.proof.title if own.proof is not None and is_asked else "",
        account=(
            shapes.OwnAccount(
                title=own.account.at.title, login=own.account.login, least=own.account.at.least
            )
            if own.account is not None
            else None
        ),
        proof_is_day=own.proof is not None and own.proof.type == "date",
        name=own.name,
        fields=[_field(own, one, today) for one in own.fields],
    )


def _field(own: Own, one: Field, today: date) -> shapes.OwnField:
    value, known = own.values[one.name], own.codes.get(one.code_list)
    held = set(one.typed(value).split(one.several)) if one.several else {value}
    codes = [
        shapes.OwnCode(code=code.code, label=code.label or code.code)
        for code in (known.codes if known else ())
        if code.is_used(today) or code.code in held
    ]
    return shapes.OwnField(
        name=one.name,
        title=one.title,
        kind=_kind(one),
        required=one.required,
        value=one.typed(value),
        said=say_value(one, value, own.codes),
        codes=codes,
    )


def _kind(one: Field) -> Literal["text", "day", "code", "several codes", "yes or no"]:
    if one.code_list:
        return "several codes" if one.several == ";" else "text" if one.several else "code"
    if one.type == "boolean":
        return "yes or no"
    return "day" if one.type == "date" else "text"
