"""Pictures as a phone takes them, made safe to keep: upright, small enough, without what the camera writes beside."""

from __future__ import annotations

from dataclasses import dataclass
from hashlib import sha256
from io import BytesIO
from warnings import catch_warnings, simplefilter

from PIL import Image, ImageOps, UnidentifiedImageError

from ..trade.model.errors import Rejected

MOST_BYTES = 20_000_000
MOST_PIXELS = 25_000_000
"""What a phone takes as it is set when new; a picture that claims more is refused before it is unpacked."""
LONGEST = 1600
"""Longest side as kept [px]."""
SMALL = 240
"""Longest side in lists [px]."""
FORMATS = ("JPEG", "PNG", "WEBP")


@dataclass(frozen=True, slots=True)
class TakenIn:
    """A picture ready to keep."""

    id: str
    """By what it shows: the same picture has the same."""
    body: bytes
    """JPEG."""
    small: bytes
    """JPEG, for lists."""
    width: int
    """[px]."""
    height: int
    """[px]."""


def take_in(content: bytes) -> TakenIn:
    """The picture in a file, turned upright, resized, with nothing left of where and with what it was taken.

    Args:
        content: a JPEG, PNG or WebP file.

    Raises:
        Rejected: at field `photo`, where it is none of these, broken off, or too large.

    >>> from io import BytesIO
    >>> file = BytesIO()
    >>> Image.new("RGB", (3200, 1200), "white").save(file, "JPEG")
    >>> taken = take_in(file.getvalue())
    >>> taken.width, taken.height
    (1600, 600)
    """
    if not content:
        raise _refused("the file is empty")
    if len(content) > MOST_BYTES:
        raise Rejected(f"expected a picture of at most {MOST_BYTES // 1_000_000} MB", "photo")
    try:
        with catch_warnings():
            simplefilter("ignore")  # a picture over the bound is refused below; other warnings say nothing to a person
            with Image.open(BytesIO(content), formats=FORMATS) as opened:
                if opened.width * opened.height > MOST_PIXELS:
                    raise Rejected(f"expected a picture of at most {MOST_PIXELS // 1_000_000} megapixels", "photo")
                opened.draft("RGB", (LONGEST, LONGEST))
                opened.load()
                upright = _flat(ImageOps.exif_transpose(opened))
    except Rejected:
        raise
    except UnidentifiedImageError as wrong:
        raise _refused("this file is none") from wrong
    except (OSError, SyntaxError, ValueError, EOFError, Image.DecompressionBombError) as wrong:
        raise _refused("this file is broken or breaks off") from wrong
    upright.thumbnail((LONGEST, LONGEST))
    body = _jpeg(upright, 82)
    width, height = upright.size
    upright.thumbnail((SMALL, SMALL))
    return TakenIn(sha256(body).hexdigest()[:32], body, _jpeg(upright, 75), width, height)


def taken_in_before(id: str, body: bytes) -> TakenIn:
    """A picture that was taken in once, from an archive: kept to the letter.

    Args:
        id: what it was kept as.
        body: its JPEG.

    Raises:
        Rejected: at field `photo`, where it is not the picture of this id, or none that was ever taken in.
    """
    if sha256(body).hexdigest()[:32] != id:
        raise _refused("this file is another one")
    again = take_in(body)
    with Image.open(BytesIO(body)) as opened:
        width, height = opened.size
        if opened.format != "JPEG" or max(width, height) > LONGEST or opened.getexif():
            raise _refused("this file is none that was taken in before")
    return TakenIn(id, body, again.small, width, height)


def _refused(what: str) -> Rejected:
    return Rejected(f"expected a picture as JPEG, PNG or WebP; {what}", "photo")


def _flat(image: Image.Image) -> Image.Image:
    """Without transparency, on white."""
    if image.mode in ("RGBA", "LA", "P", "PA"):
        clear = image.convert("RGBA")
        ground = Image.new("RGB", clear.size, "white")
        ground.paste(clear, mask=clear.getchannel("A"))
        return ground
    return image.convert("RGB")


def _jpeg(image: Image.Image, quality: int) -> bytes:
    """Only the picture: Pillow writes no camera data unless it is told to."""
    clean = Image.new("RGB", image.size)
    clean.paste(image)
    file = BytesIO()
    clean.save(file, "JPEG", quality=quality, optimize=True)
    return file.getvalue()
