"""The shapes of the API about photographs and pictures of cards."""

from __future__ import annotations

from pydantic import BaseModel, Field

from nevefield.web.common import Model

__all__ = [
    "BroughtOut",
    "FileSaid",
    "FrameIn",
    "PhotoOut",
    "PictureOut",
    "PicturePath",
    "RecordPhotoPath",
]


class PicturePath(Model):
    """A path to a picture, by its digest."""

    digest: str = Field(pattern=r"^[0-9a-f]{64}$")


class RecordPhotoPath(Model):
    """A path to somebody's photograph."""

    record_id: int


class FileSaid(BaseModel):
    """What was said of a file."""

    file: str
    why: str


class BroughtOut(BaseModel):
    """What became of photographs that were brought."""

    total: int
    taken: int
    same: list[str]
    nobody: list[str]
    several: list[FileSaid]
    doubles: list[FileSaid]
    coarse: list[FileSaid]
    wrong: list[FileSaid]
    left: int


class FrameIn(Model):
    """What of a photograph is shown: shares of the picture."""

    x: float = Field(ge=0, le=1)
    y: float = Field(ge=0, le=1)
    width: float = Field(gt=0, le=1)
    height: float = Field(gt=0, le=1)


class PhotoOut(BaseModel):
    """Whether somebody has a photograph."""

    record: int
    has_photo: bool


class PictureOut(BaseModel):
    """The digest of a picture."""

    digest: str
