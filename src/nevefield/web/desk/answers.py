"""The desk as the API gives it: what is open, in words."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from nevefield.accounts import Level
from nevefield.core.columns.days import say_day
from nevefield.core.passing.wording import say_cause
from nevefield.web import common
from nevefield.web.access import account, context, level_in
from nevefield.web.desk import shapes

if TYPE_CHECKING:
    from nevefield.desk.looking import Desk, OpenIntake, RosterHere
    from nevefield.passing_on.looking import Look
    from nevefield.proposals import Proposal, Scheduled
    from nevefield.setup import Unforeseen
    from nevefield.submissions.looking import OpenSubmission

__all__ = ["desk_answer"]

ORDER = {"stop": 0, "ask": 1, "note": 2}


def desk_answer(desk: Desk) -> shapes.DeskOut:
    """Say what is open, what weighs most first, and what each file did to the rosters."""
    items = [_proposed(proposal) for proposal in desk.proposals]
    for here in desk.intakes:
        # What is proposed, or waits for its day, is said as such, and not as ready a second time.
        items += [
            item for item in _open_items(here) if item.weight != "note" or not here.is_put_off
        ]
    items += [_put_off(scheduled) for scheduled in desk.scheduled]
    items += [_submitted(opened) for opened in desk.submissions]
    items += [_told(look) for look in desk.destinations]
    items += [_unforeseen(desk.unforeseen)] if desk.unforeseen else []
    items = [_until(item) for item in items if item.lead]
    items.sort(key=lambda item: (item.due is None, item.due, ORDER[item.weight]))
    return shapes.DeskOut(open=items, rosters=[_roster(here) for here in desk.rosters])


def _until(item: shapes.OpenItem) -> shapes.OpenItem:
    if item.due is None:
        return item
    return item.model_copy(update={"days": (item.due - context().today()).days})


def _roster(here: RosterHere) -> shapes.RosterOnDesk:
    history = [
        shapes.PastChange(
            change_set=change.id,
            kind=change.kind,
            title=change.title,
            at=change.at,
            tally=(
                common.TallyOut(**change.receipt["tally"]) if "tally" in change.receipt else None
            ),
            undone=undone,
        )
        for change, undone in here.history
    ]
    return shapes.RosterOnDesk(
        name=here.roster.name,
        title=here.roster.title,
        records=here.count,
        within=here.within,
        history=history,
    )


def _unforeseen(unforeseens: list[Unforeseen]) -> shapes.OpenItem:
    last, times = unforeseens[0], sum(unforeseen.times for unforeseen in unforeseens)
    return shapes.OpenItem(
        weight="ask",
        lead=_count(len(unforeseens), "error") + " that nobody foresaw",
        rest=f"happened {_count(times, 'time')}",
        detail=f"the last at {last.doing}",
        place="/unforeseen",
        at=last.last_at,
    )


def _submitted(opened: OpenSubmission) -> shapes.OpenItem:
    """Say what is open of a submission; without a lead when nothing is."""
    submission, tally = opened.submission, opened.tally
    messages = [
        f"{tally.rejected:,} rejected" if tally.rejected else "",
        f"{tally.to_number:,} to number" if tally.to_number else "",
    ]
    lead = ", ".join(filter(None, messages)) or (
        f"{len(opened.ready):,} ready to be sent" if opened.ready else ""
    )
    place = f"/submissions/{submission.id}/{'rejected' if tally.rejected else 'numbers' if tally.to_number else 'contents'}"  # noqa: E501
    detail = f"to {opened.published.authority}"
    weight: common.Weight = "stop" if tally.rejected else "ask" if tally.to_number else "note"
    return shapes.OpenItem(
        weight=weight,
        lead=lead,
        rest=f"in {submission.title}",
        detail=detail,
        place=place,
        at=submission.at,
        due=submission.due,
    )


def _told(look: Look) -> shapes.OpenItem:
    """Say what a destination refused, or why it was not told."""
    row, destination = look.opened.row, look.opened.destination
    refused = sum(len(cause.records) for cause in look.causes)
    titles = [say_cause(cause, destination).title for cause in look.causes[:2]]
    return shapes.OpenItem(
        weight="stop" if refused else "ask",
        lead=f"{refused:,} refused" if refused else "Was not told",
        rest=f"by {destination.title}" if refused else destination.title,
        detail="; ".join(titles) or row.problem,
        place=f"/passing/{destination.name}",
        at=row.sent_at or row.since,
    )


def _proposed(proposal: Proposal) -> shapes.OpenItem:
    may_approve = (
        proposal.account_id != account().id and level_in(proposal.roster_id) >= Level.APPROVE
    )
    return shapes.OpenItem(
        weight="ask",
        lead="Needs your approval" if may_approve else "Needs the approval of somebody else",
        rest=proposal.title,
        detail=f"proposed by {proposal.by or 'somebody'}"
        + (f": {proposal.why}" if proposal.why else ""),
        place=_where(proposal),
        at=proposal.at,
    )


def _where(proposal: Proposal) -> str:
    if proposal.intake_id:
        return f"/intakes/{proposal.intake_id}/apply"
    if proposal.act["kind"] == "definition":
        return f"/rosters/{proposal.act['roster']}/definition?proposal={proposal.id}"
    return f"/receipts/{proposal.act['change_set']}/undo?proposal={proposal.id}"


def _put_off(scheduled: Scheduled) -> shapes.OpenItem:
    does = sum(scheduled.counts.values())
    is_stopped = scheduled.state == "stopped"
    return shapes.OpenItem(
        weight="stop" if is_stopped else "note",
        lead=f"Not done on {say_day(scheduled.day)}"
        if is_stopped
        else f"Waits for {say_day(scheduled.day)}",
        rest=scheduled.title,
        detail=(
            scheduled.reason
            if is_stopped
            else f"{_count(does, 'change')}, put off by {scheduled.by or 'somebody'}"
        ),
        place=f"/intakes/{scheduled.intake_id}/apply",
        at=scheduled.at,
        due=scheduled.day,
    )


def _open_items(here: OpenIntake) -> list[shapes.OpenItem]:
    intake, applied = here.intake, here.applied
    tally = intake.tally or {}
    where = f"in {intake.title}"
    number, name = here.last_hand or (0, "")
    mine = number == account().id
    on_it = " · you are on it" if mine else f" · {name} is on it" if name else ""

    def item(weight: Any, lead: str, detail: str, page: str) -> shapes.OpenItem:
        return shapes.OpenItem(
            weight=weight,
            lead=lead,
            rest=where,
            detail=detail,
            place=f"/intakes/{intake.id}/{page}",
            at=intake.at,
            due=intake.due,
        )

    items = []
    if stopped := tally.get("stopped"):
        items.append(
            item(
                "stop",
                _count(stopped, "row") + " stopped",
                _settling(tally, stopped) + on_it,
                "problems?outcome=stopped",
            )
        )
    if waiting := tally.get("waiting"):
        items.append(
            item(
                "ask",
                _count(waiting, "row") + (" needs" if waiting == 1 else " need") + " your approval",
                "with a reason",
                "problems?outcome=waiting",
            )
        )
    if held := tally.get("held"):
        items.append(
            item(
                "ask",
                _count(held, "row") + " held",
                "parked by hand, with a reason",
                "problems?outcome=held",
            )
        )
    if absent := tally.get("absent_held"):
        who = _count(absent, "absent person", "absent people")
        items.append(item("ask", f"{who} held", "for a look", "changes?family=absent"))
    ready = tally.get("ready", tally.get("new", 0) + tally.get("changed", 0))
    if applied is not None and ready:
        items.append(
            item(
                "note",
                _count(ready, "more row") + " ready to apply",
                f"beside receipt {applied}",
                "apply",
            )
        )
    elif ready:
        message = f"{tally.get('new', 0)} new, {tally.get('changed', 0)} changed"
        items.append(item("note", _count(ready, "row") + " ready to apply", message, "apply"))
    return items


def _settling(tally: dict[str, int], stopped: int) -> str:
    """Say how much there is to settle: by how many causes, and how far the first remedy goes."""
    causes, largest = tally.get("causes", 0), tally.get("largest", 0)
    if not causes:
        return f"of {_count(tally['read'], 'row')}"
    if causes == 1 or largest >= stopped:
        return _count(causes, "cause")
    return f"{_count(causes, 'cause')}; the largest has {largest:,} of them"


def _count(number: int, word: str, many: str = "") -> str:
    return f"{number:,} {word if number == 1 else many or word + 's'}"
