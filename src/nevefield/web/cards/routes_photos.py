"""Photographs, and pictures that stand on all cards."""

from __future__ import annotations

import io
from typing import Any

from flask import Response, request, send_file

from nevefield.accounts import Level
from nevefield.cards.errors import WrongPicture
from nevefield.cards.holding import cards_of
from nevefield.cards.photos import (
    Said,
    bring_photos,
    bring_picture,
    forget_photo,
    give_photo,
    give_picture,
    set_frame,
)
from nevefield.setup.working import Working
from nevefield.web.access import account, context, needs
from nevefield.web.answering import answer
from nevefield.web.api import Api
from nevefield.web.cards import shapes_designs, shapes_photos
from nevefield.web.cards.answers import cards_of_answer
from nevefield.web.describing import gives_file, takes_file

__all__ = ["photo_api"]

photo_api = Api("photos", __name__)
SHOWN = 500  # files that are named of each kind


@photo_api.post("/cards/<design>/photos", responses={201: shapes_photos.BroughtOut})
@needs(Level.PREPARE, of="design", whole=True)
@takes_file(work="a token of 32 hexadecimal digits, to ask how far it is")
def post_photos(path: shapes_designs.DesignPath) -> Any:
    """Take photographs in: pictures or zip archives, found by identifiers in their names."""
    files = request.files.getlist("file")
    if not files:
        raise WrongPicture("No file came with the request. Choose it again.")
    contents = [(file.filename or "picture", file.read()) for file in files]
    with Working(context(), request.form.get("work", ""), account().id) as progress:
        brought = bring_photos(context(), path.design, contents, account().id, progress)
    return answer(
        shapes_photos.BroughtOut(
            total=brought.total,
            taken=len(brought.taken),
            same=brought.same[:SHOWN],
            nobody=brought.nobody[:SHOWN],
            several=_said(brought.several),
            doubles=_said(brought.doubles),
            coarse=_said(brought.coarse),
            wrong=_said(brought.wrong),
            left=len(brought.left),
        ),
        201,
    )


def _said(files: list[Said]) -> list[shapes_photos.FileSaid]:
    return [shapes_photos.FileSaid(file=one.file, why=one.why) for one in files[:SHOWN]]


@photo_api.get("/records/<int:record_id>/cards", responses={200: shapes_designs.CardsOfOut})
@needs(Level.LOOK, of="record")
def get_cards_of(path: shapes_photos.RecordPhotoPath) -> Any:
    """Give somebody's cards, by design, and whether there is a photograph of them."""
    return answer(cards_of_answer(cards_of(context(), path.record_id)))


@photo_api.get("/records/<int:record_id>/photo")
@needs(Level.LOOK, of="record")
@gives_file("image/jpeg")
def get_photo(path: shapes_photos.RecordPhotoPath) -> Response:
    """Give somebody's photograph; it is a sensitive field."""
    content, _ = give_photo(context(), path.record_id)
    return send_file(io.BytesIO(content), mimetype="image/jpeg", etag=False)


@photo_api.put("/records/<int:record_id>/photo", responses={200: shapes_photos.PhotoOut})
@needs(Level.PREPARE, of="record")
def put_frame(path: shapes_photos.RecordPhotoPath, body: shapes_photos.FrameIn) -> Any:
    """Set what of somebody's photograph is shown."""
    frame = (body.x, body.y, body.width, body.height)
    set_frame(context(), path.record_id, frame, account().id)
    return answer(shapes_photos.PhotoOut(record=path.record_id, has_photo=True))


@photo_api.delete("/records/<int:record_id>/photo", responses={200: shapes_photos.PhotoOut})
@needs(Level.PREPARE, of="record")
def delete_photo(path: shapes_photos.RecordPhotoPath) -> Any:
    """Forget somebody's photograph."""
    forget_photo(context(), path.record_id, account().id)
    return answer(shapes_photos.PhotoOut(record=path.record_id, has_photo=False))


@photo_api.post("/cards/<design>/pictures", responses={201: shapes_photos.PictureOut})
@needs(Level.PREPARE, of="design", whole=True)
@takes_file()
def post_picture(path: shapes_designs.DesignPath) -> Any:
    """Take a picture in that stands on all cards."""
    file = request.files.get("file")
    if file is None:
        raise WrongPicture("No file came with the request. Choose it again.")
    digest = bring_picture(context(), file.filename or "picture", file.read())
    return answer(shapes_photos.PictureOut(digest=digest), 201)


@photo_api.get("/card-pictures/<digest>")
@needs(Level.LOOK)
@gives_file("image/png")
def get_picture(path: shapes_photos.PicturePath) -> Response:
    """Give a picture that stands on all cards."""
    content = give_picture(context(), path.digest)
    response = send_file(io.BytesIO(content), mimetype="image/png", etag=False)
    response.headers["Cache-Control"] = "private, max-age=86400"
    return response
