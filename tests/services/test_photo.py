"""Pictures: bounds before anything is unpacked, and upright whatever they are."""

import io

import pytest
from PIL import Image

from kunstflug.core.quantity.errors import FileTooLarge
from kunstflug.services.run import photo


def picture(kind, size, mode="RGB", **more):
    out = io.BytesIO()
    Image.new(mode, size).save(out, kind, **more)
    return out.getvalue()


def test_a_picture_of_too_many_pixels_is_refused_before_it_is_unpacked(monkeypatch):
    """0.4 MB of PNG that are 100 million pixels once took 17 s and 1.2 GB."""
    data = picture("PNG", (6000, 4001), "L")
    assert len(data) < 200_000

    def unpacked(self):
        raise AssertionError("it was unpacked")

    monkeypatch.setattr(Image.Image, "load", unpacked)
    monkeypatch.setattr("PIL.ImageFile.ImageFile.load", unpacked)
    with pytest.raises(FileTooLarge, match="6000 x 4001 pixels are too many; at most 24 million are accepted as PNG"):
        photo.scaled(data)


@pytest.mark.parametrize("mode", ["L", "LA", "P", "RGB", "RGBA", "1"])
def test_a_picture_of_any_mode_is_made_smaller(mode):
    jpeg, width, height = photo.scaled(picture("PNG", (2000, 500), mode))
    assert (width, height) == (1600, 400)
    with Image.open(io.BytesIO(jpeg)) as read:
        assert (read.format, read.mode, read.size) == ("JPEG", "RGB", (1600, 400))


def test_a_picture_is_turned_upright():
    exif = Image.Exif()
    exif[0x0112] = 6  # turned by a quarter, as a phone held upright writes it (EXIF 2.3, tag 274)
    _, width, height = photo.scaled(picture("JPEG", (3000, 1500), exif=exif))
    assert (width, height) == (800, 1600)
