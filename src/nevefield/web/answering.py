"""Shape an answer: a model as JSON."""

from __future__ import annotations

from typing import TYPE_CHECKING

from flask import Response, jsonify

if TYPE_CHECKING:
    from pydantic import BaseModel

__all__ = ["answer"]


def answer(model: BaseModel, status: int = 200) -> tuple[Response, int]:
    """Answer with a model as JSON."""
    return jsonify(model.model_dump(mode="json")), status
