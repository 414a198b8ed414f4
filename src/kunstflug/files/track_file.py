"""Any track file: tells GPX from NMEA by what is in it, not by its name."""

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.files.gpx import read_gpx
from kunstflug.files.nmea import read_nmea
from kunstflug.files.reading import ReadTrack, check_size


def read_track(data: bytes) -> ReadTrack:
    """Track of a GPX 1.1 or NMEA 0183 file.

    Raises
    ------
    UnreadableFile : neither of the two, or too little of it readable.
    """
    check_size(data)
    head = data[:512].removeprefix(b"\xef\xbb\xbf").lstrip()
    if head.startswith((b"<", b"\xff\xfe<", b"\xfe\xff\x00<")):
        return read_gpx(data)
    if head.startswith(b"$") or b"\n$G" in data[:4096] or b"\n$B" in data[:4096]:
        return read_nmea(data)
    raise UnreadableFile("neither GPX nor NMEA 0183: it starts with neither '<' nor '$'", 1)
