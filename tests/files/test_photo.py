"""Pictures: what a phone writes beside them goes, what is no picture is refused."""

from __future__ import annotations

from io import BytesIO
from struct import pack
from zlib import compress, crc32

import pytest
from PIL import Image

from nail_count.files.photo import LONGEST, take_in
from nail_count.trade.model.errors import Rejected

ORIENTATION, GPS = 0x0112, 0x8825


def picture(kind: str = "JPEG", size: tuple[int, int] = (400, 300), **more: object) -> bytes:
    image = Image.new("RGB", size, "white")
    image.paste("black", (0, 0, size[0] // 2, size[1] // 2))  # upper left
    file = BytesIO()
    image.save(file, kind, **more)
    return file.getvalue()


def test_a_phone_picture_is_turned_upright_made_smaller_and_says_nothing_of_where() -> None:
    exif = Image.Exif()
    exif[ORIENTATION] = 6  # EXIF 2.3: turn by 90° clockwise to see it upright
    exif[GPS] = {1: "N", 2: (52.0, 30.0, 0.0)}
    content = picture(size=(4000, 3000), exif=exif, quality=80)
    assert Image.open(BytesIO(content)).getexif().get_ifd(GPS)
    taken = take_in(content)
    kept = Image.open(BytesIO(taken.body))
    assert kept.size == (taken.width, taken.height) == (LONGEST * 3 // 4, LONGEST)
    assert not kept.getexif() and b"Exif" not in taken.body
    dark = [max(kept.getpixel(at)) < 128 for at in ((5, 5), (1190, 5), (5, 1590))]  # type: ignore[arg-type]
    assert dark == [False, True, False]  # upper left has become upper right
    assert max(Image.open(BytesIO(taken.small)).size) == 240


@pytest.mark.parametrize("kind", ["PNG", "WEBP"])
def test_other_kinds_are_taken_and_one_picture_has_one_name(kind: str) -> None:
    taken = take_in(picture(kind))
    assert Image.open(BytesIO(taken.body)).format == "JPEG"
    assert take_in(picture(kind)).id == taken.id


def chunk(name: bytes, body: bytes) -> bytes:
    """A chunk of a PNG file, as its specification lays it out."""
    return pack(">I", len(body)) + name + body + pack(">I", crc32(name + body))


BOMB = (
    b"\x89PNG\r\n\x1a\n"
    + chunk(b"IHDR", pack(">IIBBBBB", 12000, 9000, 8, 2, 0, 0, 0))
    + chunk(b"IDAT", compress(b"\0" * 5000))
)


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "empty"),
        (b"%PDF-1.7 no picture", "this file is none"),
        (picture()[:900], "breaks off"),
        (picture("PNG")[:300], "breaks off|none"),
        (picture("GIF"), "this file is none"),
        (BOMB, "25 megapixels"),
        (b"\xff\xd8" + b"\x00" * 20_000_001, "20 MB"),
        (b"<svg xmlns='http://www.w3.org/2000/svg'><script/></svg>", "this file is none"),
    ],
)
def test_what_is_no_picture_is_refused_with_a_sentence(content: bytes, said: str) -> None:
    with pytest.raises(Rejected, match=said) as wrong:
        take_in(content)
    assert wrong.value.field == "photo"
