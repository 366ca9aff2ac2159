"""A side photo on its way in: read, turned upright, made smaller, and made anew without the camera's notes."""

from dataclasses import dataclass
from io import BytesIO

from PIL import Image, ImageOps, UnidentifiedImageError

from lone_pike.core.bike.faults import invalid

KINDS = ("JPEG", "PNG", "WEBP")
ALLOWED = "a JPEG, PNG or WebP photo"
LARGEST_BYTES = 25_000_000
MOST_PIXELS = 80_000_000
LEAST_SIDE_PX = 300
KEPT_WITHIN_PX = (1600, 1200)
Image.MAX_IMAGE_PIXELS = None  # MOST_PIXELS is checked here, before a picture is unpacked


@dataclass(frozen=True)
class PhotoFile:
    """A photo as it is kept: JPEG bytes with nothing but the picture, and its size in px."""

    image: bytes
    width: int
    height: int


def read_photo(data: bytes) -> PhotoFile:
    """A photo from an uploaded file. The place and the time the camera wrote into it do not come along.

    Raises: InvalidInput where it is too large, no picture of these kinds, broken off, or too small to mark.
    """
    if len(data) > LARGEST_BYTES:
        raise invalid("photo", f"{len(data) / 1e6:.0f} MB", f"up to {LARGEST_BYTES // 1_000_000} MB")
    try:
        with Image.open(BytesIO(data), formats=KINDS) as opened:
            _check_size(opened)
            opened.draft("RGB", (2 * KEPT_WITHIN_PX[0], 2 * KEPT_WITHIN_PX[1]))
            upright = ImageOps.exif_transpose(opened).convert("RGB")
    except UnidentifiedImageError:
        raise invalid("photo", _looks_like(data), ALLOWED) from None
    except (OSError, SyntaxError, ValueError, EOFError) as error:
        raise invalid("photo", f"a broken file ({error})", f"{ALLOWED}, whole") from None
    upright.thumbnail(KEPT_WITHIN_PX)
    kept = Image.new("RGB", upright.size)
    kept.paste(upright)
    out = BytesIO()
    kept.save(out, "JPEG", quality=86, optimize=True)
    return PhotoFile(out.getvalue(), kept.width, kept.height)


def _check_size(opened: Image.Image) -> None:
    width, height = opened.size
    if width * height > MOST_PIXELS:
        raise invalid("photo", f"{width} x {height} px", f"up to {MOST_PIXELS // 1_000_000} million px")
    if min(width, height) < LEAST_SIDE_PX:
        raise invalid("photo", f"{width} x {height} px", f"{LEAST_SIDE_PX} px or more each way")


def _looks_like(data: bytes) -> str:
    return "an empty file" if not data else "a file that is no such picture"
