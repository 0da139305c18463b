"""Photographs from strangers: each file is said what became of it, nothing is lost."""

from __future__ import annotations

import io
import random
import zipfile
import zlib

import pillow_heif
import pytest
from PIL import Image

from nevefield.cards.errors import NoSuchPicture, WrongPicture
from nevefield.cards.looking import look_at_needed
from nevefield.cards.photos import (
    bring_photos,
    bring_picture,
    forget_photo,
    give_photo,
    give_picture,
    set_frame,
)
from nevefield.cards.pictures import propose_frame, read_photo
from nevefield.rosters.uniting import merge_records
from tests.cards.house import open_club, photo_of

COUNT = 2_000


def zip_of(files: dict[str, bytes], compression=zipfile.ZIP_STORED) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", compression) as archive:
        for name, content in files.items():
            archive.writestr(name, content)
    return out.getvalue()


def bomb(width: int = 30_000, height: int = 30_000) -> bytes:
    """A PNG of a few kilobytes that says it has 900 million points."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return (
            len(data).to_bytes(4, "big") + kind + data + zlib.crc32(kind + data).to_bytes(4, "big")
        )

    head = width.to_bytes(4, "big") + height.to_bytes(4, "big") + b"\x08\x00\x00\x00\x00"
    rows = zlib.compress(b"\0" * (width + 1) * 60, 9)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", rows) + chunk(b"IEND", b"")


def test_an_archive_of_two_thousand(bare):
    """Of two thousand files each stands in exactly one place of what is told, with why."""
    people = [
        (f"{number:04}", f"Person {number}", "Kim", "F", "2030-12-31")
        for number in range(1, COUNT + 1)
    ]
    open_club(bare, people, last=5_000)
    chance = random.Random(7)
    good, small = photo_of(240, 320), photo_of(60, 80)
    files: dict[str, bytes] = {}
    wanted = {"taken": set(), "nobody": set(), "doubles": set(), "wrong": set(), "coarse": set()}
    for number in range(1, 1_801):
        name = chance.choice(
            [f"{number:04}.jpg", f"IMG-{number:04} (1).JPG", f"a/{number:04}.jpeg"]
        )
        files[name] = small if number % 100 == 0 else good
        wanted["taken"].add(name)
        if number % 100 == 0:
            wanted["coarse"].add(name)
    for number in range(80):
        wanted["nobody"].add(f"holiday {chance.choice('abc')}{number + 9000}.jpg")
    for number in range(1, 41):
        wanted["doubles"].add(f"again/{number:04}.jpg")
    broken = {
        "1801.jpg": good[: len(good) // 3],
        "1802.jpg": b"<svg onload=alert(1)>",
        "1803.png": bomb(),
        "1804.jpg": b"",
        "1805.gif": photo_of(200, 200, kind="GIF"),
        "1806.jpg": b"\xff\xd8\xff" + b"\0" * 400,
        "1807.jpg": b"\0" * 30_000_000,
    }
    wanted["wrong"] |= set(broken)
    files |= dict.fromkeys(sorted(wanted["nobody"]), good)
    files |= {name: photo_of(200, 260, "#993311") for name in sorted(wanted["doubles"])}
    files |= broken
    files |= {"__MACOSX/._0001.jpg": b"x", "photos/.DS_Store": b"y"}
    brought = bring_photos(
        bare, "club-card", [("all.zip", zip_of(files, zipfile.ZIP_DEFLATED))], None
    )
    assert brought.total == len(files)
    assert {file for file, _ in brought.taken} == wanted["taken"]
    assert set(brought.nobody) == wanted["nobody"]
    assert {one.file for one in brought.doubles} == wanted["doubles"]
    assert {one.file for one in brought.wrong} == wanted["wrong"]
    assert {one.file for one in brought.coarse} == wanted["coarse"]
    assert len(brought.left) == 2
    assert len(look_at_needed(bare, "club-card").photos) == 1_800
    again = bring_photos(
        bare,
        "club-card",
        [("all.zip", zip_of(dict.fromkeys(("0001.jpg", "0002.jpg"), good)))],
        None,
    )
    assert (again.same, again.taken) == (["0001.jpg", "0002.jpg"], [])


def test_an_archive_that_unfolds(bare):
    """An archive whose entries become far larger than they are is not unpacked."""
    open_club(bare)
    zeros = zip_of({"0001.jpg": b"\0" * 15_000_000}, zipfile.ZIP_DEFLATED)
    brought = bring_photos(bare, "club-card", [("bomb.zip", zeros)], None)
    assert [one.file for one in brought.wrong] == ["0001.jpg"]
    assert "too large" in brought.wrong[0].why
    with pytest.raises(WrongPicture, match="files"):
        many = zip_of({f"{number}.jpg": b"" for number in range(20_001)})
        bring_photos(bare, "club-card", [("many.zip", many)], None)
    with pytest.raises(WrongPicture, match="damaged archive"):
        bring_photos(bare, "club-card", [("cut.zip", torn(zip_of({"0001.jpg": b"x" * 90})))], None)


def torn(archive: bytes) -> bytes:
    """An archive whose list of entries is not what it says."""
    place = archive.rindex(b"PK\x01\x02")
    return archive[:place] + b"PK\x01\x03" + archive[place + 4 :]


def test_turned_as_they_were_taken(bare):
    """A picture that a camera notes as lying on its side stands upright, as JPEG or HEIC, and what
    a camera adds is gone.
    """
    lying = Image.new("RGB", (400, 300), "#ffffff")
    lying.paste("#ff0000", (0, 0, 100, 300))
    exif = Image.Exif()
    exif[0x0112] = 6  # the right side is up
    exif[0x010F] = "SECRET CAMERA"
    exif.get_ifd(0x8825)[2] = (51.0, 30.0, 12.0)
    out = io.BytesIO()
    lying.save(out, "JPEG", exif=exif.tobytes())
    image = read_photo(out.getvalue(), "a.jpg")
    assert (image.width, image.height) == (300, 400)
    with Image.open(io.BytesIO(image.content)) as picture:
        red, green, _ = picture.getpixel((150, 20))
        assert red > 200 > 100 > green
        assert not picture.getexif()
    assert b"SECRET" not in image.content
    heif = io.BytesIO()
    pillow_heif.from_pillow(lying).save(heif, quality=90)
    assert (lambda one: (one.width, one.height))(read_photo(heif.getvalue(), "a.heic")) == (
        400,
        300,
    )


def test_frames(bare):
    """The frame that is proposed has the shape of the place; it can be moved, and not out of the
    picture.
    """
    open_club(bare)
    bring_photos(bare, "club-card", [("0001.jpg", photo_of(400, 300))], None)
    (record,) = look_at_needed(bare, "club-card").photos
    _, (x, y, width, height) = give_photo(bare, record)
    assert width * 400 / (height * 300) == pytest.approx(22 / 28, rel=0.01)
    assert (x + width / 2, y) == (pytest.approx(0.5, abs=0.01), 0)
    set_frame(bare, record, (0.5, 0.1, 0.3, 0.6), None)
    assert give_photo(bare, record)[1] == (0.5, 0.1, 0.3, 0.6)
    with pytest.raises(WrongPicture, match="not within"):
        set_frame(bare, record, (0.8, 0.1, 0.3, 0.6), None)
    assert propose_frame(100, 100, 10, 10) == (0, 0, 1, 1)


def test_forgotten(bare):
    """A photograph that is forgotten is gone from the database; another's same picture stays."""
    open_club(bare)
    same = photo_of(240, 320)
    bring_photos(bare, "club-card", [("0001.jpg", same), ("0002.jpg", same)], None)
    first, second = sorted(look_at_needed(bare, "club-card").photos)
    forget_photo(bare, first, None)
    with pytest.raises(NoSuchPicture):
        give_photo(bare, first)
    assert give_photo(bare, second)[0][:2] == b"\xff\xd8"
    forget_photo(bare, second, None)
    with bare.database.transaction() as connection:
        assert connection.row("SELECT COUNT(*) FROM card_image") == (0,)


@pytest.mark.parametrize("both", [False, True])
def test_two_become_one(bare, both):
    """Of two records that are made one the photograph stays: the kept one's own, if it has one."""
    open_club(bare)
    own, other = photo_of(240, 320, "#113355"), photo_of(240, 320, "#aa3322")
    bring_photos(bare, "club-card", [("0002.jpg", other)] + both * [("0001.jpg", own)], None)
    photos = look_at_needed(bare, "club-card").photos
    people = look_at_needed(bare, "club-card").needed.people
    keep, gone = (one.record for key in ("0001", "0002") for one in people if one.key == key)
    merge_records(bare, "members", keep, gone, None)
    kept = look_at_needed(bare, "club-card").photos[keep]
    assert kept.digest == photos[keep if both else gone].digest


def test_pictures_of_all_cards(bare):
    """A picture for all cards is given to who may look; a photograph is not given by its digest."""
    open_club(bare)
    digest = bring_picture(bare, "mark.png", photo_of(50, 50, kind="PNG"))
    assert give_picture(bare, digest)[:4] == b"\x89PNG"
    bring_photos(bare, "club-card", [("0001.jpg", photo_of(240, 320))], None)
    (photo,) = look_at_needed(bare, "club-card").photos.values()
    with pytest.raises(NoSuchPicture):
        give_picture(bare, photo.digest.hex())
    with pytest.raises(WrongPicture, match="is no picture"):
        bring_picture(bare, "mark.svg", b"<svg xmlns='http://www.w3.org/2000/svg'/>")
