"""Shape an answer: a model as JSON, or a file to be saved."""

from __future__ import annotations

import io
from typing import TYPE_CHECKING

from flask import Response, current_app, jsonify, send_file

if TYPE_CHECKING:
    from pydantic import BaseModel

__all__ = ["answer", "download"]


def answer(model: BaseModel, status: int = 200) -> tuple[Response, int]:
    """Answer with a model as JSON."""
    return jsonify(model.model_dump(mode="json")), status


def download(content: bytes, media_type: str, name: str) -> Response:
    """Answer with a file to be saved under a name in any letters (RFC 6266, with the form of RFC
    8187 where it needs one); what comes from the practice copy says so.
    """
    if current_app.extensions["nevefield"].settings.practice:
        name = f"practice copy {name}"
    return send_file(
        io.BytesIO(content), mimetype=media_type, as_attachment=True, download_name=name, etag=False
    )
