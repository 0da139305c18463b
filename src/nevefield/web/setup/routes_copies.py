"""Copies of everything: ordered, and what became of them."""

from __future__ import annotations

from dataclasses import asdict
from datetime import timedelta
from typing import Any

from flask_openapi3 import APIBlueprint

from nevefield.accounts import Level
from nevefield.copies.ordering import list_orders, order
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.setup import shapes_copies as shapes

__all__ = ["copy_api"]

copy_api = APIBlueprint("copies", __name__, url_prefix="/api")
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
            good_at=good,
            is_late=good is None or good < context().now() - LATE,
            is_encrypted=bool(settings.copy_key),
            hour=settings.copy_hour,
            days=settings.copy_days,
            weeks=settings.copy_weeks,
        )
    )


@copy_api.post("/copies", responses={202: shapes.CopyOrdered})
@needs(Level.ADMINISTER, everywhere=True)
def post_copy() -> Any:
    """Order a copy; it is made and tried beside all that people do."""
    return answer(shapes.CopyOrdered(copy_id=order(context(), account().id)), 202)
