"""Any track file: what it is, is told by what is in it, not by its name."""

import re
from collections.abc import Callable
from typing import Final

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.files.fit import is_fit, read_fit
from kunstflug.files.geojson import read_geojson
from kunstflug.files.gpx import read_gpx
from kunstflug.files.igc import read_igc
from kunstflug.files.kml import read_kml
from kunstflug.files.nmea import SENTENCE, read_nmea
from kunstflug.files.reading import ReadTrack, SeveralTracks, TrackChoice, check_size
from kunstflug.files.tcx import read_tcx
from kunstflug.files.ubx import HEAD, OLDER, SYNC, read_ubx
from kunstflug.files.unpack import unpacked

Reader = Callable[[bytes, int | None], ReadTrack]

KNOWN: Final = "GPX, NMEA 0183, UBX, FIT, TCX, KML, GeoJSON or IGC"
_ROOT: Final = re.compile(r"<(?:[A-Za-z_][\w.-]*:)?([A-Za-z_][\w.-]*)[\s>/]")
_IGC: Final = re.compile(rb"^A[A-Z0-9]{3}[^\r\n]*\r?\n|^HFDTE|\nHFDTE|\nB\d{6}\d{7}[NS]\d{8}[EW]", re.MULTILINE)
_XML: Final[dict[str, Reader]] = {"gpx": read_gpx, "TrainingCenterDatabase": read_tcx, "kml": read_kml}
_LOOKED_AT: Final = 8192


def reader_of(data: bytes) -> Reader | None:
    """Which reader a file is for; None where it is no track that is known."""
    head = data[:_LOOKED_AT]
    if is_fit(data):
        return read_fit
    if (root := _xml_root(head)) is not None:
        return _XML.get(root, read_gpx)  # which says what is wrong
    if head.removeprefix(b"\xef\xbb\xbf").lstrip()[:1] in (b"{", b"["):
        return read_geojson
    if HEAD in data or any(SYNC + bytes((one,)) in data for one in OLDER):
        return read_ubx
    if SENTENCE.search(data) is not None:
        return read_nmea
    if _IGC.search(head) is not None:
        return read_igc
    return None


def _xml_root(head: bytes) -> str | None:
    """Name of the outermost element of an XML file; empty where it cannot be made out."""
    for mark, encoding in ((b"\xff\xfe", "utf-16"), (b"\xfe\xff", "utf-16"), (b"", "utf-8-sig")):
        if head.startswith(mark):
            text = head[: len(head) // 2 * 2].decode(encoding, errors="replace").lstrip()
            break
    if not text.startswith("<"):
        return None
    bare = re.sub(r"<\?.*?\?>|<!--.*?-->|<!DOCTYPE[^>\[]*(\[.*?\])?\s*>", "", text, flags=re.DOTALL)
    root = _ROOT.search(bare)
    return root[1] if root else ""


def is_packed(data: bytes) -> bool:
    """Whether a file is a gzip or zip file."""
    return data[:2] == b"\x1f\x8b" or data[:4] == b"PK\x03\x04"


def read_track(data: bytes, choice: int | None = None) -> ReadTrack:
    """Track of a file of any known kind, by itself or in a gzip or zip file.

    Parameters
    ----------
    choice : which of several tracks; counted over all files of a packed one.

    Raises
    ------
    SeveralTracks : more than one, and nobody said which.
    UnreadableFile : no kind that is known, or too little of it readable.
    """
    check_size(data)
    members = [(name, content, reader_of(content)) for name, content in unpacked(data) if content.strip()]
    known = [(name, content, reader) for name, content, reader in members if reader is not None]
    if not known:
        raise UnreadableFile(f"not {KNOWN}", None if is_packed(data) else 1)
    if len(known) == 1:
        return known[0][2](known[0][1], choice)
    return _of_several(known, choice)


def _of_several(known: list[tuple[str, bytes, Reader]], choice: int | None) -> ReadTrack:
    """Of several files in one; those that cannot be read are passed over, unless none can."""
    choices: list[TrackChoice] = []
    homes: list[tuple[bytes, Reader, int | None]] = []  # of each choice
    for name, content, reader in known:
        try:
            inner = _choices(name, content, reader)
        except UnreadableFile:
            continue
        homes += [(content, reader, k if len(inner) > 1 else None) for k in range(len(inner))]
        choices += inner
    if not choices:
        return known[0][2](known[0][1], None)  # which says what is wrong
    if choice is None and len(choices) > 1:
        raise SeveralTracks(tuple(choices))
    if not 0 <= (choice or 0) < len(choices):
        raise UnreadableFile(f"there is no track {(choice or 0) + 1} in it")
    content, reader, inside = homes[choice or 0]
    return reader(content, inside)


def _choices(name: str, content: bytes, reader: Reader) -> list[TrackChoice]:
    try:
        samples = reader(content, None).samples
    except SeveralTracks as several:
        return list(several.choices)
    return [
        TrackChoice(
            name=samples.name or name, samples=len(samples), seconds=float(samples.time_s[-1]),
            start_unix_s=samples.start_unix_s,
        )
    ]  # fmt: skip
