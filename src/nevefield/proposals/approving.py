"""Propose, approve, send back, withdraw.

What is done is exactly what was proposed and approved: the plan's digest is looked at in the
transaction that does it.
"""

from __future__ import annotations

import hashlib
import json
from datetime import date
from typing import TYPE_CHECKING, Any

from nevefield.core.changes.plan import plan_changes
from nevefield.core.defining.reading import read_definition
from nevefield.core.guarding import changes_between
from nevefield.core.states import JobKind, ProposalState
from nevefield.intakes.applying import take_back
from nevefield.intakes.evaluating import open_intake
from nevefield.intakes.fitting import altered_by, raised_by, require_fit
from nevefield.proposals.scheduling import keep_for_day, require_ahead
from nevefield.rosters.defining import change_definition, say_why_two
from nevefield.rosters.errors import DefinitionMoved, NoSuchProposal, NotApproved
from nevefield.rosters.snapshots import load_definition, require_roster
from nevefield.rosters.undoing import Choice, plan_undo
from nevefield.store import intakes as intake_store
from nevefield.store import jobs as job_store
from nevefield.store import proposals as store
from nevefield.store import rosters as roster_store
from nevefield.store.audit import insert_audit, nameless

if TYPE_CHECKING:
    from nevefield.context import Context

__all__ = [
    "approve",
    "propose_definition",
    "propose_intake",
    "propose_take_back",
    "read_choice",
    "send_back",
    "withdraw",
]


def propose_intake(
    context: Context,
    intake_id: int,
    steps: int,
    roster_version: int,
    account_id: int | None,
    typed: int | None = None,
    day: date | None = None,
) -> int:
    """Propose an intake's plan as somebody looked at it; it takes the place of what was proposed of
    the intake before.

    Args:
        context: Database and clock.
        intake_id: The intake.
        steps: Its number of steps as looked at.
        roster_version: The roster's version as looked at.
        account_id: Who.
        typed: The number of rows as somebody typed it, where so much changes that it is asked for.
        day: From which it is to hold; None for when it is approved.

    Returns:
        The proposal's number.

    Raises:
        NotAhead: The day is today or over.
        OutOfDate, RosterMoved, NothingToApply, NeedsWaiver, NeedsNumber: As for applying.
    """
    if day is not None:
        require_ahead(context, day)
    opened = open_intake(context, intake_id)
    require_fit(context, opened, steps, roster_version, typed)
    evaluation = opened.evaluation
    plan = plan_changes(evaluation)
    why = evaluation.definition.approval.why(len(plan), raised_by(evaluation))
    act: dict[str, Any] = {
        "kind": "intake",
        "intake": intake_id,
        "steps": steps,
        "version": roster_version,
    }
    if day is not None:
        act["day"] = day.isoformat()
    digest = plan.digest(evaluation.snapshot)
    with context.database.transaction() as connection:
        intake_store.lock_intake(connection, intake_id)
        store.replace_open(connection, intake_id)
        counts = altered_by(evaluation)
        number = store.insert_proposal(
            connection,
            store.NewProposal(
                roster_id=opened.roster.id,
                intake_id=intake_id,
                act=act,
                digest=digest,
                title=opened.intake.title,
                why=why,
                counts=counts,
                account_id=account_id,
                at=context.now(),
            ),
        )
        insert_audit(
            connection,
            "proposed",
            nameless(opened.intake.title, intake_id),
            account_id,
            context.now(),
            proposal=number,
            **counts,
        )
    return number


def propose_take_back(
    context: Context, change_set_id: int, choice: Choice, as_far: bool, account_id: int | None
) -> int:
    """Propose to take a change set, or a part of it, back.

    Returns:
        The proposal's number.

    Raises:
        NoSuchChangeSet, NotTakenBack: There is nothing to take back.
    """
    with context.database.transaction() as connection:
        plan = plan_undo(connection, change_set_id, choice)
        if not plan.people:
            raise NotApproved("There is nothing left of this to take back.")
        why = load_definition(connection, plan.roster).approval.why(len(plan.people), plan.raised)
        act = {
            "kind": "take-back",
            "change_set": change_set_id,
            "records": sorted(choice.records) if choice.records is not None else None,
            "fields": sorted(choice.fields) if choice.fields is not None else None,
            "but": sorted(choice.but),
            "as_far": as_far,
        }
        counts = {"taken_back": len(plan.people), "kept": len(plan.kept)}
        title = f"Take back: {plan.change_set.title}"
        number = store.insert_proposal(
            connection,
            store.NewProposal(
                roster_id=plan.roster.id,
                intake_id=None,
                act=act,
                digest=plan.digest(),
                title=title,
                why=why,
                counts=counts,
                account_id=account_id,
                at=context.now(),
            ),
        )
        insert_audit(
            connection, "proposed", title, account_id, context.now(), proposal=number, **counts
        )
    return number


def propose_definition(
    context: Context, name: str, document: Any, seen: int, account_id: int | None
) -> int:
    """Propose a definition, for a second person to approve.

    Args:
        context: Database and clock.
        name: Of the roster.
        document: The definition's JSON.
        seen: The number of the definition that it was made of.
        account_id: Who.

    Returns:
        The proposal's number.

    Raises:
        NoSuchRoster, WrongDefinition: As for writing it.
        DefinitionMoved: Somebody else has written one meanwhile.
    """
    why = say_why_two(context, name, document)
    with context.database.transaction() as connection:
        roster = require_roster(connection, name)
        if roster.definition != seen:
            raise DefinitionMoved(seen, roster.definition)
        changes = changes_between(load_definition(connection, roster), read_definition(document))
        act = {
            "kind": "definition",
            "roster": name,
            "document": document,
            "seen": seen,
            "changes": changes,
        }
        digest = hashlib.sha256(json.dumps(document, sort_keys=True).encode()).hexdigest()
        title = f"Definition of {roster.title}, version {seen + 1}"
        number = store.insert_proposal(
            connection,
            store.NewProposal(
                roster_id=roster.id,
                intake_id=None,
                act=act,
                digest=digest,
                title=title,
                why=why,
                counts={"changes": len(changes)},
                account_id=account_id,
                at=context.now(),
            ),
        )
        insert_audit(
            connection, "proposed", title, account_id, context.now(), proposal=number, seen=seen
        )
    return number


def read_choice(act: dict[str, Any]) -> Choice:
    """Read what of a change set is meant."""
    records, fields = act.get("records"), act.get("fields")
    return Choice(
        frozenset(int(record) for record in records) if records is not None else None,
        frozenset(str(field) for field in fields) if fields is not None else None,
        frozenset(int(one) for one in act.get("but") or ()),
    )


def approve(context: Context, proposal_id: int, account_id: int) -> tuple[int | None, int | None]:
    """Approve a proposal: it is done.

    Returns:
        The job that does it, or the change set as which it was done; neither where it waits for its
        day.

    Raises:
        NoSuchProposal: There is none.
        NotApproved: It is one's own, or decided, or what it would do is another thing by now.
    """
    proposal = _require(context, proposal_id)
    if proposal.account_id == account_id:
        raise NotApproved("You proposed this yourself: somebody else has to approve it.")
    if proposal.state != "open":
        raise NotApproved(
            f"This proposal is not open any more: it is {proposal.state.replace('_', ' ')}."
        )
    act = proposal.act
    if act["kind"] == "definition":
        with context.database.transaction() as connection:
            roster = roster_store.get_roster_by_id(connection, proposal.roster_id)
        if roster is None:
            raise NoSuchProposal(proposal_id)
        change_definition(
            context, roster.name, act["document"], act["seen"], account_id, proposal=proposal_id
        )
        return None, None
    if act["kind"] == "take-back":
        number = take_back(
            context,
            act["change_set"],
            account_id,
            choice=read_choice(act),
            as_far=act["as_far"],
            proposal=proposal.id,
            digest=proposal.digest,
        )
        return None, number
    opened = open_intake(context, act["intake"])
    if len(opened.steps) != act["steps"]:
        raise NotApproved(
            "The intake was worked on after this was proposed, so the plan is another. It has to be"
            " proposed again."
        )
    if plan_changes(opened.evaluation).digest(opened.evaluation.snapshot) != proposal.digest:
        raise NotApproved(
            "The roster was changed after this was proposed, and the plan with it. It has to be"
            " proposed again."
        )
    with context.database.transaction() as connection:
        if not store.decide_proposal(
            connection, proposal_id, ProposalState.APPROVED, account_id, "", context.now()
        ):
            raise NotApproved("Somebody else has decided on this proposal meanwhile.")
        insert_audit(
            connection,
            "approved",
            nameless(proposal.title, proposal.intake_id),
            account_id,
            context.now(),
            proposal=proposal_id,
        )
        day = date.fromisoformat(act["day"]) if "day" in act else None
        if day is not None and day > context.today():
            intake_store.lock_intake(connection, act["intake"])
            keep_for_day(context, connection, opened, day, proposal.account_id, proposal_id)
            return None, None
        # The roster may have moved without touching this plan: it is done on the roster as it
        # stands.
        arguments = {
            "intake": act["intake"],
            "steps": act["steps"],
            "version": opened.roster.version,
            "proposal": proposal_id,
        }
        job = job_store.insert_job(
            connection, JobKind.APPLY, proposal.roster_id, arguments, account_id, context.now()
        )
    return job, None


def send_back(context: Context, proposal_id: int, account_id: int, reason: str) -> None:
    """Send a proposal back to who proposed it, with a reason.

    Raises:
        NoSuchProposal: There is none.
        NotApproved: No reason, or it is decided already.
    """
    proposal = _require(context, proposal_id)
    if not reason.strip():
        raise NotApproved("Say why you send it back.")
    _decide(context, proposal, ProposalState.SENT_BACK, account_id, reason.strip())


def withdraw(context: Context, proposal_id: int, account_id: int) -> None:
    """Withdraw one's own proposal.

    Raises:
        NoSuchProposal: There is none.
        NotApproved: It is somebody else's, or decided already.
    """
    proposal = _require(context, proposal_id)
    if proposal.account_id != account_id:
        raise NotApproved(
            "Only who proposed it can withdraw it; send it back with a reason instead."
        )
    _decide(context, proposal, ProposalState.WITHDRAWN, account_id, "")


def _require(context: Context, proposal_id: int) -> store.Proposal:
    with context.database.transaction() as connection:
        proposal = store.get_proposal(connection, proposal_id)
    if proposal is None:
        raise NoSuchProposal(proposal_id)
    return proposal


def _decide(
    context: Context,
    proposal: store.Proposal,
    state: ProposalState,
    account_id: int,
    reason: str,
) -> None:
    with context.database.transaction() as connection:
        if not store.decide_proposal(
            connection, proposal.id, state, account_id, reason, context.now()
        ):
            raise NotApproved("This proposal is not open any more.")
        insert_audit(
            connection,
            state.replace("_", "-"),
            nameless(proposal.title, proposal.intake_id),
            account_id,
            context.now(),
            proposal=proposal.id,
        )
