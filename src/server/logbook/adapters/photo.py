"""Photographs as they are kept: re-encoded and shrunk, with nothing in them but the picture."""

from dataclasses import dataclass
from io import BytesIO
from threading import Lock

from PIL import Image, ImageOps

from canopy.errors import CanopyError

MOST_BYTES = 20 * 1024 * 1024
MOST_PIXELS = 50_000_000
KINDS = ("JPEG", "PNG", "WEBP")
SIDE_PX, SMALL_PX = 1600, 320
QUALITY = 82

ONE_AT_A_TIME = Lock()
"""A large picture takes a hundred megabytes while it is opened."""

WAIT_S = 20


class BusyError(Exception):
    """Other pictures are being read; it can be sent again."""


@dataclass(frozen=True)
class Shrunk:
    """A picture as JPEG, large and small, and the large one's size in pixels."""

    large: bytes
    small: bytes
    width: int
    height: int


def shrunk(sent: bytes) -> Shrunk:
    """Return a picture that was sent as it is kept: turned upright, without place or maker.

    Raises
    ------
    CanopyError
        When it is none, or too large.
    BusyError
        When others are being read for too long.
    """
    if len(sent) > MOST_BYTES:
        most = MOST_BYTES // 1024 // 1024
        raise CanopyError(f"A photo has {most} MB at most; take it smaller.", "photo")
    if not ONE_AT_A_TIME.acquire(timeout=WAIT_S):
        raise BusyError
    try:
        return _shrunk(sent)
    except CanopyError:
        raise
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise CanopyError(
            "This is no photo that can be read: JPEG, PNG or WebP.", "photo"
        ) from error
    finally:
        ONE_AT_A_TIME.release()


def _shrunk(sent: bytes) -> Shrunk:
    with Image.open(BytesIO(sent), formats=KINDS) as opened:
        width, height = opened.size
        if width * height > MOST_PIXELS:
            most = MOST_PIXELS // 1_000_000
            raise CanopyError(f"A photo has {most} megapixels at most; take it smaller.", "photo")
        opened.draft("RGB", (SIDE_PX, SIDE_PX))
        upright = ImageOps.exif_transpose(opened)
        upright.thumbnail((SIDE_PX, SIDE_PX))
        if upright.mode in ("RGBA", "LA", "PA") or "transparency" in upright.info:
            clear = upright.convert("RGBA")
            upright = Image.new("RGBA", clear.size, "white")
            upright.alpha_composite(clear)
        plain = upright.convert("RGB")
    # a fresh picture carries nothing over but its pixels
    fresh = Image.new("RGB", plain.size)
    fresh.paste(plain)
    small = fresh.copy()
    small.thumbnail((SMALL_PX, SMALL_PX))
    return Shrunk(_jpeg(fresh), _jpeg(small), *fresh.size)


MARKERS = {0xDB, 0xC4, 0xDD, *range(0xC0, 0xC3)}
"""Segments of a JPEG that are the picture: tables, restarts, frames."""


def _is_plain(content: bytes) -> bool:
    """Return whether a JPEG holds nothing but its picture, and ends where that ends."""
    if content[:2] != b"\xff\xd8" or content[-2:] != b"\xff\xd9":
        return False
    at = 2
    while at + 4 <= len(content):
        if content[at] != 0xFF:
            return False
        marker, size = content[at + 1], int.from_bytes(content[at + 2 : at + 4], "big")
        if marker == 0xDA:
            # the scan: what looks like an end is one
            return content.find(b"\xff\xd9", at) == len(content) - 2
        jfif = marker == 0xE0 and size == 16 and content[at + 4 : at + 9] == b"JFIF\0"
        if marker not in MARKERS and not jfif:
            return False
        at += 2 + size
    return False


def as_kept(content: bytes, where: str) -> Shrunk:
    """Return a photograph that was kept before: byte for byte where it is one of ours.

    One that holds anything but its picture is made anew.

    Raises
    ------
    CanopyError
        When it is none, or too large.
    """
    if not _is_plain(content):
        return shrunk(content)
    try:
        with Image.open(BytesIO(content), formats=("JPEG",)) as opened:
            if max(opened.size) > SIDE_PX or opened.mode != "RGB":
                return shrunk(content)
            opened.load()
            fresh = Image.new("RGB", opened.size)
            fresh.paste(opened)
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise CanopyError(f"{where} is no photo that can be read.", "photo") from error
    size = fresh.size
    fresh.thumbnail((SMALL_PX, SMALL_PX))
    return Shrunk(content, _jpeg(fresh), *size)


def _jpeg(picture: Image.Image) -> bytes:
    out = BytesIO()
    picture.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue()
