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


def _jpeg(picture: Image.Image) -> bytes:
    out = BytesIO()
    picture.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue()
