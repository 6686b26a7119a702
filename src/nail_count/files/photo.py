"""Pictures as a phone takes them, made safe to keep: upright, small enough, without what the camera writes beside."""

from __future__ import annotations

from dataclasses import dataclass
from hashlib import sha256
from io import BytesIO
from warnings import catch_warnings, simplefilter

from PIL import ExifTags, Image, UnidentifiedImageError

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
        raise Rejected(f"Pick a picture of at most {MOST_BYTES // 1_000_000} MB", "photo")
    _refuse_many_scans(content)
    try:
        with catch_warnings():
            simplefilter("ignore")  # a picture over the bound is refused below; other warnings say nothing to a person
            with Image.open(BytesIO(content), formats=FORMATS) as opened:
                if opened.width * opened.height > MOST_PIXELS:
                    raise Rejected(f"Pick a picture of at most {MOST_PIXELS // 1_000_000} megapixels", "photo")
                opened.draft("RGB", (LONGEST, LONGEST))
                opened.load()
                upright = _flat(_turned(opened))
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
    """Return a picture that was taken in once, from an archive: kept to the letter, if it is the picture alone.

    Where something stands beside the picture, a comment say or what follows its end, it is left out, and the picture
    gets an id of its own.

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
    bare = _picture_alone(body)
    return TakenIn(id if bare == body else sha256(bare).hexdigest()[:32], bare, again.small, width, height)


_APP0, _LAST_APP, _COMMENT, _SCAN, _END = 0xE0, 0xEF, 0xFE, 0xDA, 0xD9
"""Markers of JPEG (ITU-T T.81, table B.1): application data, comments, the start of a scan, the end of the picture."""


def _picture_alone(body: bytes) -> bytes:
    """Return a JPEG without comments, application data other than JFIF's, and whatever follows its end.

    Raises:
        Rejected: it is not built as a JPEG is.
    """
    kept, at = [body[:2]], 2
    while at + 4 <= len(body) and body[at] == 0xFF:
        marker = body[at + 1]
        if marker == _END:
            break
        end = at + 2 + int.from_bytes(body[at + 2 : at + 4], "big")
        if marker == _SCAN:
            end = _scan_end(body, end)
        beside = marker == _COMMENT or _APP0 < marker <= _LAST_APP
        if not beside:
            kept.append(body[at:end])
        at = end
    if body[at : at + 2] != bytes((0xFF, _END)):
        raise _refused("this file breaks off")
    return b"".join((*kept, bytes((0xFF, _END))))


MOST_SCANS = 100
"""Scans of one JPEG: a progressive one has about ten. Each is decoded over the whole picture, so that a small file of
thousands of them takes minutes."""


def _refuse_many_scans(content: bytes) -> None:
    if content[:2] == b"\xff\xd8" and content.count(bytes((0xFF, _SCAN))) > MOST_SCANS:
        raise _refused(f"this one has more than {MOST_SCANS} scans")


def _scan_end(body: bytes, at: int) -> int:
    """Where the data of a scan ends: at the next marker that is neither a stuffed byte nor a restart."""
    while (at := body.find(b"\xff", at)) >= 0:
        following = body[at + 1] if at + 1 < len(body) else _END
        if following != 0 and not 0xD0 <= following <= 0xD7:
            return at
        at += 2
    return len(body)


def _refused(what: str) -> Rejected:
    return Rejected(f"Pick a JPEG, PNG or WebP; {what}", "photo")


_TURNS = {
    2: Image.Transpose.FLIP_LEFT_RIGHT,
    3: Image.Transpose.ROTATE_180,
    4: Image.Transpose.FLIP_TOP_BOTTOM,
    5: Image.Transpose.TRANSPOSE,
    6: Image.Transpose.ROTATE_270,
    7: Image.Transpose.TRANSVERSE,
    8: Image.Transpose.ROTATE_90,
}
"""What each orientation of EXIF (tag 0x0112) takes to be upright; 1 is upright already."""


def _turned(image: Image.Image) -> Image.Image:
    """Turn a picture upright, as far as what the camera wrote beside it can be read."""
    try:
        orientation = image.getexif().get(ExifTags.Base.Orientation)
    except Exception:  # a camera's notes may be broken in any way; the picture itself is whole
        return image
    turn = _TURNS.get(orientation) if isinstance(orientation, int) else None
    return image if turn is None else image.transpose(turn)


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
