"""Takes in a side photo: reads it, turns it upright, makes it smaller, and writes it again without the camera's
metadata."""

from dataclasses import dataclass
from io import BytesIO

from PIL import Image, ImageFile, ImageOps, UnidentifiedImageError

from lone_pike.core.bike.faults import invalid
from lone_pike.core.messages import Message, Quantity, Unit, number

KINDS = ("JPEG", "PNG", "WEBP")
LARGEST_BYTES = 25_000_000
MOST_PIXELS, MOST_SIDE_PX = 24_000_000, 12_000
MOST_WEBP_PIXELS = 12_000_000
"""Fewer pixels are allowed in a WebP, because unpacking one takes three times the memory of the other formats: 260 MB
for this many."""

LEAST_SIDE_PX = 300
LARGE_PIXELS, MOST_PIXELS_A_BYTE = 4_000_000, 200
"""The fewest bytes in the file of a large picture. With fewer it shows nothing, and unpacking it would take hundreds of
megabytes."""

KEPT_WITHIN_PX = (1600, 1200)
Image.MAX_IMAGE_PIXELS = None  # MOST_PIXELS is checked here, before a picture is unpacked


@dataclass(frozen=True)
class PhotoFile:
    """A photo in the form in which it is stored: JPEG bytes without metadata, and its size in px."""

    image: bytes
    width: int
    height: int


def read_photo(data: bytes) -> PhotoFile:
    """Reads a photo from an uploaded file, without the place and the time that the camera wrote into it.

    Raises: InvalidInput if it is too large, in no accepted format, incomplete, or too small for setting marks.
    """
    if len(data) > LARGEST_BYTES:
        size, most = (Quantity(count, Unit.BYTES) for count in (len(data), LARGEST_BYTES))
        raise invalid("photo", Message("file_size", size=size), Message("up_to", most=most))
    ImageFile.LOAD_TRUNCATED_IMAGES = False  # what makes PDFs turns it on for all of its process
    try:
        with Image.open(BytesIO(data), formats=KINDS) as opened:
            _check_size(opened, len(data))
            opened.draft("RGB", KEPT_WITHIN_PX)
            # Made smaller before it is turned: a second copy of a large picture would take most of the memory.
            small = opened if opened.mode in ("RGB", "L", "RGBA") else opened.convert("RGB")
            small.thumbnail((max(KEPT_WITHIN_PX), max(KEPT_WITHIN_PX)))
            upright = ImageOps.exif_transpose(small).convert("RGB")
    except UnidentifiedImageError:
        raise invalid("photo", Message("no_such_picture" if data else "empty_file"), Message("a_photo")) from None
    except (OSError, SyntaxError, ValueError, EOFError) as error:
        raise invalid("photo", Message("broken_file", problem=str(error)), Message("a_whole_photo")) from None
    upright.thumbnail(KEPT_WITHIN_PX)
    kept = Image.new("RGB", upright.size)
    kept.paste(upright)
    out = BytesIO()
    kept.save(out, "JPEG", quality=86, optimize=True)
    return PhotoFile(out.getvalue(), kept.width, kept.height)


def _check_size(opened: Image.Image, size_bytes: int) -> None:
    """Checks a picture before it is unpacked. Raises: InvalidInput if it is too large, too small, or nearly empty."""
    width, height = opened.size
    read = Message("size_px", width=number(width), height=number(height))
    most = MOST_WEBP_PIXELS if opened.format == "WEBP" else MOST_PIXELS
    if width * height > most:
        raise invalid("photo", read, Message("megapixels", most=number(most // 1_000_000)))
    if width * height > LARGE_PIXELS and width * height > MOST_PIXELS_A_BYTE * size_bytes:
        raise invalid("photo", read, Message("a_photo_with_something_on_it"))
    if max(width, height) > MOST_SIDE_PX:
        raise invalid("photo", read, Message("px_at_most", most=Quantity(MOST_SIDE_PX, Unit.PX)))
    if min(width, height) < LEAST_SIDE_PX:
        raise invalid("photo", read, Message("px_each_way", least=Quantity(LEAST_SIDE_PX, Unit.PX)))
