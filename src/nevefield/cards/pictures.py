"""Pictures from strangers: read in bounds, turned as they were taken, written anew without what
cameras add.

Sources: ISO/IEC 10918 (JPEG), ISO/IEC 15948 (PNG), ISO/IEC 23008-12 (HEIF), JEITA CP-3451 (Exif,
orientation).
"""

from __future__ import annotations

import hashlib
import io
import warnings

import pillow_heif
from PIL import Image as Pillow
from PIL import ImageOps, UnidentifiedImageError

from nevefield.cards.errors import WrongPicture
from nevefield.store.cards import Image

__all__ = ["Frame", "cut", "propose_frame", "read_photo", "read_picture"]

MOST_BYTES = 20_000_000
MOST_PIXELS = 60_000_000
LONGEST_SIDE = 1_200  # pixels of a photograph that are kept: 300 to the inch on 100 mm
QUALITY = 88
FORMATS = ("JPEG", "PNG", "HEIF")
Frame = tuple[float, float, float, float]

pillow_heif.register_heif_opener(thumbnails=False)


def read_photo(content: bytes, file_name: str) -> Image:
    """Read a photograph and write it anew as JPEG.

    Raises:
        WrongPicture: It is none, too large, or too small to be printed.
    """
    picture = _open(content, file_name)
    picture.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    return _write(picture.convert("RGB"), "jpeg")


def read_picture(content: bytes, file_name: str) -> Image:
    """Read a picture that stands on all cards and write it anew as PNG, see-through where it is.

    Raises:
        WrongPicture: It is none, or too large.
    """
    picture = _open(content, file_name)
    picture.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
    return _write(picture.convert("RGBA"), "png")


def propose_frame(width: int, height: int, across: float, high: float) -> Frame:
    """Propose what of a photograph is shown in a place: as much as the place's shape lets, in the
    middle from side to side, and of what is too high the upper part, where faces are.

    Args:
        width: Of the picture, in pixels.
        height: Of the picture.
        across: Of the place.
        high: Of the place, in the same unit.

    Returns:
        x, y, width and height as shares of the picture.

    >>> propose_frame(300, 400, 30, 30)
    (0.0, 0.0375, 1.0, 0.75)
    """
    shape = across / high
    if width / height > shape:
        share = height * shape / width
        return (round((1 - share) / 2, 4), 0.0, round(share, 4), 1.0)
    share = width / shape / height
    return (0.0, round((1 - share) * 0.15, 4), 1.0, round(share, 4))


def cut(content: bytes, frame: Frame, most: tuple[int, int]) -> bytes:
    """Cut a photograph to its frame, no larger than so many pixels; as JPEG."""
    with Pillow.open(io.BytesIO(content)) as picture:
        x, y, width, height = frame
        box = (
            round(x * picture.width),
            round(y * picture.height),
            round((x + width) * picture.width),
            round((y + height) * picture.height),
        )
        part = picture.crop(box).convert("RGB")
    part.thumbnail(most)
    out = io.BytesIO()
    part.save(out, "JPEG", quality=QUALITY)
    return out.getvalue()


def _open(content: bytes, file_name: str) -> Pillow.Image:
    if len(content) > MOST_BYTES:
        raise WrongPicture(
            f"{file_name} has {len(content) / 1e6:.0f} MB; a picture may have"
            f" {MOST_BYTES / 1e6:.0f}."
        )
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("error", Pillow.DecompressionBombWarning)
            picture = Pillow.open(io.BytesIO(content), formats=FORMATS)
            if picture.width * picture.height > MOST_PIXELS:
                raise WrongPicture(
                    f"{file_name} has {picture.width:,} × {picture.height:,} points, more than"
                    " are taken. Make it smaller."
                )
            if picture.format == "JPEG":
                picture.draft("RGB", (LONGEST_SIDE * 2, LONGEST_SIDE * 2))
            picture.load()
            return ImageOps.exif_transpose(picture)
    except UnidentifiedImageError as error:
        raise WrongPicture(
            f"{file_name} is no picture that can be read; JPEG, PNG and HEIC are."
        ) from error
    except WrongPicture:
        raise
    except (
        OSError,
        ValueError,
        SyntaxError,
        Pillow.DecompressionBombWarning,
        Pillow.DecompressionBombError,
        MemoryError,
    ) as error:
        raise WrongPicture(
            f"{file_name} is damaged, or larger than it says; open it in a picture program and"
            " save it anew."
        ) from error


def _write(picture: Pillow.Image, kind: str) -> Image:
    out = io.BytesIO()
    if kind == "jpeg":
        picture.save(out, "JPEG", quality=QUALITY, optimize=True)
    else:
        picture.save(out, "PNG", optimize=True)
    content = out.getvalue()
    return Image(hashlib.sha256(content).digest(), content, kind, picture.width, picture.height)
