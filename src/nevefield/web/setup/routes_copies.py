"""Copies of everything: ordered, and what became of them."""

from __future__ import annotations

from dataclasses import asdict
from datetime import timedelta
from http import HTTPStatus
from typing import Any

from nevefield.accounts import Level
from nevefield.copies.ordering import list_orders, order
from nevefield.keeping.returning import look_at_return, order_return
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.common import NamePath
from nevefield.web.describing import refuses
from nevefield.web.setup import shapes_copies as shapes

__all__ = ["copy_api"]

copy_api = Api("copies", __name__)
LATE = timedelta(days=2)


@copy_api.get("/copies", responses={200: shapes.CopiesOut})
@needs(Level.ADMINISTER, everywhere=True, polled=True)
def get_copies() -> Any:
    """List copies, the last first, and say when the last good one was made."""
    found, settings = list_orders(context()), context().settings
    good = next((one.ordered_at for one in found if one.state == "good"), None)
    return answer(
        shapes.CopiesOut(
            copies=[shapes.CopyOut(**asdict(one)) for one in found],
            back=_back(),
            good_at=good,
            is_late=good is None or good < context().now() - LATE,
            is_encrypted=bool(settings.copy_key),
            hour=settings.copy_hour,
            days=settings.copy_days,
            weeks=settings.copy_weeks,
        )
    )


def _back() -> shapes.CopyBackOut | None:
    ordered = look_at_return(context())
    if ordered is None:
        return None
    return shapes.CopyBackOut(file_name=ordered.file_name, by=ordered.by, said=ordered.said)


@copy_api.post("/copies/<name>/bring-back", responses={202: shapes.CopyBackOut})
@needs(Level.ADMINISTER, everywhere=True)
@refuses(HTTPStatus.NOT_FOUND)
def post_bring_back(path: NamePath) -> Any:
    """Order that a good copy is brought back, in place of all that was done since; what is there
    now is kept beside it. Everybody signs in again.
    """
    order_return(context(), path.name, account().id)
    return answer(_back() or shapes.CopyBackOut(file_name=path.name, by="", said=""), 202)


@copy_api.post("/copies", responses={202: shapes.CopyOrdered})
@needs(Level.ADMINISTER, everywhere=True)
def post_copy() -> Any:
    """Order a copy; it is made and tried beside all that people do."""
    return answer(shapes.CopyOrdered(copy_id=order(context(), account().id)), 202)
