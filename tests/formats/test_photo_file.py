"""Photos on their way in: all kinds, upright, smaller, without the camera's notes; the rest refused in words."""

from io import BytesIO

import pytest
from PIL import Image

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.formats.files.photo_file import read_photo
from tests.bikes import told

ORIENTATION, GPS, LATITUDE = 0x0112, 0x8825, 2


def drawn(kind: str, size: tuple[int, int] = (640, 400), **options: object) -> bytes:
    """A picture, red at its left edge."""
    picture = Image.new("RGB", size, "white")
    picture.paste((200, 20, 20), (0, 0, 40, size[1]))
    out = BytesIO()
    picture.save(out, kind, **options)
    return out.getvalue()


def blank(size: tuple[int, int]) -> bytes:
    """A picture of one bit a pixel, which is made in no time however large it is."""
    out = BytesIO()
    Image.new("1", size).save(out, "PNG")
    return out.getvalue()


@pytest.mark.parametrize("kind", ["JPEG", "PNG", "WEBP"])
def test_every_kind_comes_in_as_a_jpeg_of_its_size(kind: str) -> None:
    kept = read_photo(drawn(kind))
    with Image.open(BytesIO(kept.image)) as opened:
        assert (opened.format, opened.size) == ("JPEG", (640, 400)) == ("JPEG", (kept.width, kept.height))


def test_place_is_left_out_and_the_photo_stands_upright() -> None:
    """Orientation 6 of the format: the camera was held upright, the file lies on its side."""
    exif = Image.Exif()
    exif[ORIENTATION] = 6
    exif.get_ifd(GPS)[LATITUDE] = (58.0, 12.0, 0.0)
    data = drawn("JPEG", exif=exif)
    assert b"Exif" in data
    kept = read_photo(data)
    with Image.open(BytesIO(kept.image)) as opened:
        assert not opened.getexif() and "exif" not in opened.info
        assert opened.size == (400, 640)
        assert opened.getpixel((200, 5))[0] > 150 > opened.getpixel((200, 5))[1]
    assert b"Exif" not in kept.image


def test_a_large_photo_is_made_smaller_in_its_shape() -> None:
    kept = read_photo(drawn("JPEG", (4000, 3000)))
    assert (kept.width, kept.height) == (1600, 1200)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "“an empty file” won’t do here: a JPEG, PNG or WebP photo"),
        (b"GIF89a\x01\x00\x01\x00", "a file that is not such a picture"),
        (b"<svg xmlns='x'><script>alert(1)</script></svg>", "a file that is not such a picture"),
        (drawn("JPEG")[:900], "a broken file"),
        (drawn("PNG")[:200], "a broken file"),
        (drawn("PNG", (200, 900)), "“200 x 900 px” won’t do here: 300 px or more each way"),
        (blank((6000, 4001)), "here: up to 24 million px"),
        (bytes(25_000_001), "“25 MB” won’t do here: up to 25 MB"),
    ],
    ids=["empty", "other kind", "a page", "broken off", "broken png", "too small", "too many px", "too large"],
)
def test_what_is_no_photo_is_refused_in_words(data: bytes, said: str) -> None:
    with pytest.raises(InvalidInput) as refused:
        read_photo(data)
    assert said in told(refused.value) and told(refused.value).startswith("photo: ")
