"""A picture of a run: scaled, and with nothing in it but the picture (no place, no camera, no time)."""

import io
import threading
from typing import Final

from PIL import Image, ImageOps, UnidentifiedImageError
from sqlalchemy import delete

from kunstflug.core.quantity.errors import FileTooLarge, NotFound, UnreadableFile
from kunstflug.services.shared.room import make_room
from kunstflug.services.shared.rows import racer_of
from kunstflug.services.shared.run_rows import run_of
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import PhotoRow

LONGEST_SIDE: Final = 1600
MOST_BYTES: Final = 40 * 1024 * 1024
MOST_PIXELS: Final = {"JPEG": 64_000_000, "PNG": 24_000_000, "WEBP": 24_000_000}
"""Of a picture that is unpacked: a JPEG is made smaller while it is read, the others stand whole in memory."""
QUALITY: Final = 82
FORMATS: Final = ("JPEG", "PNG", "WEBP")
_one_at_a_time: Final = threading.Lock()
"""However many pictures arrive, one stands in memory."""


def scaled(data: bytes) -> tuple[bytes, int, int]:
    """A picture as JPEG whose longer side is at most ``LONGEST_SIDE``, turned upright; width and height of it.

    Raises
    ------
    UnreadableFile, FileTooLarge : no picture of a known kind, or a larger one than is accepted.
    """
    if len(data) > MOST_BYTES:
        raise FileTooLarge(f"{len(data) / 1048576:.0f} MiB; at most {MOST_BYTES // 1048576} MiB are accepted")
    try:
        with Image.open(io.BytesIO(data), formats=FORMATS) as opened:
            most = MOST_PIXELS[opened.format or "PNG"]
            if opened.width * opened.height > most:
                raise FileTooLarge(
                    f"{opened.width} x {opened.height} pixels are too many; at most {most // 1_000_000} million are "
                    f"accepted as {opened.format}"
                )
            with _one_at_a_time:
                opened.draft("RGB", (LONGEST_SIDE, LONGEST_SIDE))
                plain = opened.convert("RGB") if opened.mode in ("P", "1") else opened  # those are not mixed well
                plain.thumbnail((LONGEST_SIDE, LONGEST_SIDE))
                picture = ImageOps.exif_transpose(plain).convert("RGB")
    except UnidentifiedImageError as broken:
        raise UnreadableFile("not a picture in JPEG, PNG or WebP") from broken
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError) as broken:
        raise UnreadableFile("a picture that is broken") from broken
    # A new picture of the same pixels: what the camera wrote beside them is not in it.
    bare = Image.new("RGB", picture.size)
    bare.paste(picture)
    out = io.BytesIO()
    bare.save(out, "JPEG", quality=QUALITY, optimize=True)
    return out.getvalue(), picture.width, picture.height


@retried
def put(store: Store, run_id: int, data: bytes) -> None:
    """A picture put to a run, in place of one that was there.

    Raises
    ------
    UnreadableFile, FileTooLarge, NotFound
    """
    jpeg, width, height = scaled(data)
    with store.transaction() as session:
        owner = racer_of(session)
        run_of(session, run_id, owner, lock=True)
        session.execute(delete(PhotoRow).where(PhotoRow.run_id == run_id))
        make_room(session, owner, len(jpeg))
        session.add(PhotoRow(owner_id=owner, run_id=run_id, width=width, height=height, jpeg=jpeg))


def get(store: Store, run_id: int) -> bytes:
    """The picture of a run as JPEG.

    Raises
    ------
    NotFound : no such run, or it has none.
    """
    with store.transaction() as session:
        row = run_of(session, run_id, racer_of(session))
        if row.photo is None:
            raise NotFound("picture of run", run_id)
        return row.photo.jpeg


@retried
def drop(store: Store, run_id: int) -> None:
    """Takes the picture off a run."""
    with store.transaction() as session:
        run_of(session, run_id, racer_of(session), lock=True)
        session.execute(delete(PhotoRow).where(PhotoRow.run_id == run_id))
