"""Receipts, and taking back."""

from __future__ import annotations

from http import HTTPStatus
from typing import TYPE_CHECKING, Any

from nevefield.accounts import Level
from nevefield.intakes.applying import take_back
from nevefield.proposals.approving import propose_take_back, read_choice
from nevefield.rosters.receipts import list_receipts, open_receipt
from nevefield.rosters.undoing import Choice, look_at_undo
from nevefield.web import common
from nevefield.web.access import account, context, is_masked, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.describing import refuses
from nevefield.web.rosters import shapes_receipts
from nevefield.web.rosters.answers_undo import undo_answer

if TYPE_CHECKING:
    from nevefield.rosters.receipts import Receipt

__all__ = ["receipt_api"]

receipt_api = Api("receipts", __name__)


@receipt_api.get("/rosters/<name>/change-sets", responses={200: shapes_receipts.ChangeSetList})
@needs(Level.LOOK, of="roster")
def list_change_sets(path: common.NamePath) -> Any:
    """List what altered a roster, the last first."""
    receipts = list_receipts(context(), path.name)
    return answer(
        shapes_receipts.ChangeSetList(change_sets=[_change_set(receipt) for receipt in receipts])
    )


def _change_set(found: Receipt) -> shapes_receipts.ChangeSetOut:
    change_set = found.change_set
    receipt = change_set.receipt
    return shapes_receipts.ChangeSetOut(
        id=change_set.id,
        roster=found.roster.name,
        version=change_set.version,
        kind=change_set.kind,
        title=change_set.title,
        by=found.by,
        at=change_set.at,
        intake=change_set.intake_id,
        undone_by=found.undone_by,
        undoes=change_set.undoes,
        part_of=change_set.part_of,
        absent=receipt.get("absent", {}),
        undone=receipt.get("undone", {}),
        planned=receipt.get("planned", {}),
        found=receipt.get("found", {}),
        tally=common.TallyOut(**receipt["tally"]) if "tally" in receipt else None,
        rows=receipt.get("rows", {}),
        fields=receipt.get("fields", {}),
        taken_away=receipt.get("taken_away", {}),
        looked_at=receipt.get("looked_at"),
    )


@receipt_api.get("/change-sets/<int:change_set_id>", responses={200: shapes_receipts.ChangeSetOut})
@needs(Level.LOOK, of="change_set")
def get_change_set(path: common.ChangeSetPath) -> Any:
    """Give a change set's receipt."""
    return _receipt(path.change_set_id)


def _receipt(number: int) -> Any:
    receipt = open_receipt(context(), number)
    told = _change_set(receipt)
    if not is_masked(receipt.roster.id):  # names may be kept from who only looks
        told.who = {
            word: [
                shapes_receipts.ReceiptPerson(record=record, name=name, key=key)
                for record, name, key in people
            ]
            for word, people in receipt.change_set.receipt.get("who", {}).items()
        }
    return answer(told)


@receipt_api.get("/change-sets/<int:change_set_id>/undo", responses={200: shapes_receipts.UndoOut})
@needs(Level.LOOK, of="change_set")
@refuses(HTTPStatus.CONFLICT)
def get_undo(path: common.ChangeSetPath, query: shapes_receipts.UndoQuery) -> Any:
    """Say what taking a change set back, or a part of it, would do, and what stays because
    something later rests on it.
    """
    plan, definition = look_at_undo(context(), path.change_set_id, _choice(query))
    return answer(undo_answer(plan, definition, query))


@receipt_api.post(
    "/change-sets/<int:change_set_id>/take-back", responses={200: shapes_receipts.ChangeSetOut}
)
@needs(Level.APPROVE, of="change_set")
def post_take_back(path: common.ChangeSetPath, body: shapes_receipts.UndoIn) -> Any:
    """Take a change set back, or chosen people or fields of it."""
    return _receipt(
        take_back(
            context(), path.change_set_id, account().id, choice=_choice(body), as_far=body.as_far
        )
    )


@receipt_api.post(
    "/change-sets/<int:change_set_id>/propose-take-back", responses={200: common.ProposalDone}
)
@needs(Level.PREPARE, of="change_set")
def post_propose_take_back(path: common.ChangeSetPath, body: shapes_receipts.UndoIn) -> Any:
    """Propose to take a change set, or a part of it, back."""
    number = propose_take_back(
        context(), path.change_set_id, _choice(body), body.as_far, account().id
    )
    return answer(common.ProposalDone(proposal=number))


def _choice(said: shapes_receipts.UndoQuery | shapes_receipts.UndoIn) -> Choice:
    return read_choice(said.model_dump())
