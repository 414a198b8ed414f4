"""What lies in a gzip or zip file; a file that is neither is itself."""

import gzip
import io
import zipfile
import zlib
from typing import Final

from kunstflug.core.quantity.errors import FileTooLarge, UnreadableFile
from kunstflug.files.reading import MOST_BYTES

MOST_MEMBERS: Final = 200
_PASSED_OVER: Final = (".png", ".jpg", ".jpeg", ".gif", ".dae", ".pdf", ".html", ".css")
_LAYERS: Final = 2  # a gzip in a zip, no more
BROKEN_ZIP: Final = (
    zipfile.BadZipFile, OSError, EOFError, zlib.error, NotImplementedError, RuntimeError, IndexError, OverflowError,
    UnicodeError, KeyError,
)  # fmt: skip
"""What a damaged zip makes the library raise; RuntimeError where it says that it is encrypted."""


def unpacked(data: bytes, layers: int = _LAYERS) -> list[tuple[str, bytes]]:
    """Name and bytes of each file in it; pictures are left out.

    Raises
    ------
    UnreadableFile, FileTooLarge : a broken packing, one with a password, too much in it.
    """
    if layers and data[:2] == b"\x1f\x8b":
        return unpacked(_gunzipped(data), layers - 1)
    if layers and data[:4] == b"PK\x03\x04":
        return [inner for name, content in _members(data) for inner in _named(name, unpacked(content, layers - 1))]
    return [("", data)]


def _named(name: str, members: list[tuple[str, bytes]]) -> list[tuple[str, bytes]]:
    return [(f"{name}/{inner}" if inner else name, content) for inner, content in members]


def _gunzipped(data: bytes) -> bytes:
    try:
        with gzip.GzipFile(fileobj=io.BytesIO(data)) as file:
            content = file.read(MOST_BYTES + 1)
    except (OSError, EOFError, zlib.error) as broken:
        raise UnreadableFile("a gzip file that is broken or breaks off") from broken
    return _bounded(content)


def _bounded(content: bytes) -> bytes:
    if len(content) > MOST_BYTES:
        raise FileTooLarge(f"more than {MOST_BYTES // 1048576} MiB when unpacked")
    return content


def _members(data: bytes) -> list[tuple[str, bytes]]:
    found, total = [], 0
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            members = [m for m in packed.infolist() if not m.is_dir() and not _is_passed_over(m.filename)]
            if len(members) > MOST_MEMBERS:
                raise FileTooLarge(f"{len(members)} files in it; at most {MOST_MEMBERS} are looked at")
            for member in members:
                if member.flag_bits & 0x1:
                    raise UnreadableFile("a zip file with a password")
                with packed.open(member) as file:
                    content = _bounded(file.read(MOST_BYTES + 1))
                total += len(content)
                if total > MOST_BYTES:
                    raise FileTooLarge(f"more than {MOST_BYTES // 1048576} MiB when unpacked")
                found.append((member.filename, content))
    except (*BROKEN_ZIP, ValueError) as broken:
        raise UnreadableFile("a zip file that is broken, or packed in a way that is not known here") from broken
    return found


def _is_passed_over(name: str) -> bool:
    return (
        name.lower().endswith(_PASSED_OVER) or name.startswith("__MACOSX/") or name.rsplit("/", 1)[-1].startswith(".")
    )
