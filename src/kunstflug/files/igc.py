"""IGC, the flight recorders' text: B records with the time of day, the date in the head."""

import re
from datetime import UTC, datetime

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.core.quantity.units import Dimension, si_from
from kunstflug.files.reading import ReadTrack, SampleCollector, check_size

_B = re.compile(
    rb"B([0-2]\d)([0-5]\d)([0-5]\d)(\d\d)([0-5]\d\d{3})([NS])(\d{3})([0-5]\d\d{3})([EW])([AV])([-\d]\d{4})([-\d]\d{4})"
)
_DATE = re.compile(rb"HF ?DTE(?:DATE:?)? ?:?(\d\d)(\d\d)(\d\d)")
_HALF_DAY_S = 43200.0
_DAY_S = 86400.0


def read_igc(data: bytes, choice: int | None = None) -> ReadTrack:
    """Track of an IGC file; ground speed from the extension GSP (km/h) and parts of a second from TDS, where declared.

    Raises
    ------
    UnreadableFile : not IGC, or too little of it readable.
    """
    check_size(data)
    found = SampleCollector("IGC", choice)
    midnight, days, last = _midnight(data), 0, -1.0
    extensions: dict[bytes, slice] = {}
    records = 0
    for line, raw in enumerate(data.splitlines(), 1):
        if raw.startswith(b"I"):
            extensions = _extensions(raw)
        if not raw.startswith(b"B"):
            continue
        records += 1
        read = _B.match(raw)
        if read is None:
            found.broke(line, f"'{raw[:35].decode('ascii', 'replace')}' is not a position")
            continue
        if read[10] == b"V" and read[12] == b"00000":
            continue  # no fix
        second = int(read[1]) * 3600 + int(read[2]) * 60 + int(read[3]) + _part(raw, extensions)
        days += second < last - _HALF_DAY_S
        last = second
        latitude = (int(read[4]) + int(read[5]) / 60_000) * (1 if read[6] == b"N" else -1)
        longitude = (int(read[7]) + int(read[8]) / 60_000) * (1 if read[9] == b"E" else -1)
        height = float(read[12]) if read[10] == b"A" else float("nan")
        found.add(midnight + days * _DAY_S + second, latitude, longitude, _speed(raw, extensions), line, height)
    if not records:
        raise UnreadableFile("no position in it", 1)
    return found.result()


def _midnight(data: bytes) -> float:
    """Of the day it was flown on, or 1970 where it has no date that is one."""
    date = _DATE.search(data)
    if date is None:
        return 0.0
    try:
        return datetime(2000 + int(date[3]), int(date[2]), int(date[1]), tzinfo=UTC).timestamp()
    except ValueError:
        return 0.0


def _extensions(raw: bytes) -> dict[bytes, slice]:
    """Where in a B record what the I record declares stands."""
    return {m[3]: slice(int(m[1]) - 1, int(m[2])) for m in re.finditer(rb"(\d\d)(\d\d)([A-Z]{3})", raw[3:])}


def _part(raw: bytes, extensions: dict[bytes, slice]) -> float:
    digits = raw[extensions[b"TDS"]] if b"TDS" in extensions else b""
    return int(digits) / 10 ** len(digits) if digits.isdigit() else 0.0


def _speed(raw: bytes, extensions: dict[bytes, slice]) -> float:
    digits = raw[extensions[b"GSP"]] if b"GSP" in extensions else b""
    return si_from(float(digits), "km/h", Dimension.SPEED) if digits.isdigit() else float("nan")
