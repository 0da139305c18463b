"""Proposals: what waits for a second person."""

from __future__ import annotations

from typing import Any

from nevefield.accounts import Level
from nevefield.proposals.approving import approve, propose_intake, send_back, withdraw
from nevefield.proposals.looking import Proposed, list_proposed, open_proposal
from nevefield.web import common
from nevefield.web.access import account, context, level_in, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.proposals import shapes

__all__ = ["proposal_answer", "proposal_api"]

proposal_api = Api("proposals", __name__)


def proposal_answer(proposed: Proposed) -> shapes.ProposalOut:
    """Give a proposal as it concerns who is signed in."""
    proposal, roster = proposed.proposal, proposed.roster
    is_mine = proposal.account_id == account().id
    return shapes.ProposalOut(
        id=proposal.id,
        kind=proposal.act["kind"],
        title=proposal.title,
        roster=roster.name if roster else "",
        intake=proposal.intake_id,
        takes_back=proposal.act.get("change_set"),
        why=proposal.why,
        counts=proposal.counts,
        state=proposal.state,
        by=proposal.by,
        at=proposal.at,
        is_mine=is_mine,
        may_approve=not is_mine and level_in(proposal.roster_id) >= Level.APPROVE,
        is_stale=proposed.is_stale,
        document=proposal.act.get("document"),
        changes=proposal.act.get("changes", []),
        decider=proposal.decider,
        decided_at=proposal.decided_at,
        reason=proposal.reason,
        change_set=proposal.change_set_id,
    )


@proposal_api.get("/proposals", responses={200: shapes.ProposalList})
@needs(Level.LOOK)
def list_open() -> Any:
    """List what waits for a second person, the oldest first."""
    proposals = [proposal_answer(proposed) for proposed in list_proposed(context())]
    return answer(shapes.ProposalList(proposals=proposals))


@proposal_api.get("/proposals/<int:proposal_id>", responses={200: shapes.ProposalOut})
@needs(Level.LOOK, of="proposal")
def get_proposal(path: shapes.ProposalPath) -> Any:
    """Give a proposal."""
    return answer(proposal_answer(open_proposal(context(), path.proposal_id)))


@proposal_api.post("/intakes/<int:intake_id>/propose", responses={201: common.ProposalDone})
@needs(Level.PREPARE, of="intake")
def post_proposal(path: common.IntakePath, body: shapes.ProposeIn) -> Any:
    """Propose the plan that was looked at, for a second person to approve."""
    number = propose_intake(
        context(),
        path.intake_id,
        body.steps,
        body.roster_version,
        account().id,
        body.typed,
        body.day,
    )
    return answer(common.ProposalDone(proposal=number), 201)


@proposal_api.post("/proposals/<int:proposal_id>/approve", responses={200: common.ProposalDone})
@needs(Level.APPROVE, of="proposal")
def post_agree(path: shapes.ProposalPath) -> Any:
    """Approve what somebody else proposed: it is done."""
    job, change_set = approve(context(), path.proposal_id, account().id)
    return answer(common.ProposalDone(proposal=path.proposal_id, job=job, change_set=change_set))


@proposal_api.post("/proposals/<int:proposal_id>/send-back", responses={200: common.ProposalDone})
@needs(Level.APPROVE, of="proposal")
def post_send_back(path: shapes.ProposalPath, body: common.ReasonIn) -> Any:
    """Send a proposal back, with a reason."""
    send_back(context(), path.proposal_id, account().id, body.reason)
    return answer(common.ProposalDone(proposal=path.proposal_id))


@proposal_api.post("/proposals/<int:proposal_id>/withdraw", responses={200: common.ProposalDone})
@needs(Level.PREPARE, of="proposal")
def post_withdraw(path: shapes.ProposalPath) -> Any:
    """Withdraw one's own proposal."""
    withdraw(context(), path.proposal_id, account().id)
    return answer(common.ProposalDone(proposal=path.proposal_id))
