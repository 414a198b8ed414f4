"""UBX, the binary messages of a receiver: NAV-PVT, from among whatever else the file holds.

The frames are unpacked here: a general library takes 50 times as long for each, and a file may hold two million. The
tests hold it equal to one.
"""

import struct
from datetime import UTC, datetime
from typing import Final

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.files.reading import ReadTrack, SampleCollector, check_size

HEAD: Final = b"\xb5\x62\x01\x07\x5c\x00"
"""Two sync bytes, class NAV, message PVT, length 92."""
_LENGTH: Final = 92
# iTOW, year, month, day, hour, minute, second, valid, tAcc, nano, fixType, flags, flags2, numSV, lon, lat, height,
# hMSL, hAcc, vAcc, velN, velE, velD, gSpeed
_FIELDS: Final = struct.Struct("<IHBBBBBBIiBBBBiiiiIIiiii")
_TIME_IS_KNOWN: Final = 0x03
_FIX_IS_GOOD: Final = 0x01


def read_ubx(data: bytes, choice: int | None = None) -> ReadTrack:
    """Track of the NAV-PVT messages of a file; messages without a fix or a date give no sample.

    ``line`` of a damage is the number of the message.

    Raises
    ------
    UnreadableFile : no such message, or too little of it readable.
    """
    check_size(data)
    found, at, message = SampleCollector("UBX", choice), data.find(HEAD), 0
    while at >= 0:
        frame = data[at + 2 : at + 6 + _LENGTH]
        end = at + 8 + _LENGTH
        if len(data) < end:
            found.broke(message + 1, "the last message breaks off")
            break
        message += 1
        if _checksum(frame) != data[end - 2 : end]:
            found.broke(message, "wrong checksum")
            at = data.find(HEAD, at + 2)  # a message may have been cut short: the next can begin within
            continue
        _take(_FIELDS.unpack_from(frame, 4), message, found)
        at = data.find(HEAD, end)
    if not message:
        raise UnreadableFile("no NAV-PVT message in it")
    return found.result()


def _take(fields: tuple[int, ...], message: int, found: SampleCollector) -> None:
    _, year, month, day, hour, minute, second, valid, _, nano, fix, flags = fields[:12]
    longitude, latitude, height = fields[14], fields[15], fields[17]
    if not flags & _FIX_IS_GOOD or fix < 2 or valid & _TIME_IS_KNOWN != _TIME_IS_KNOWN:
        return
    try:
        moment = datetime(year, month, day, hour, minute, min(second, 59), tzinfo=UTC).timestamp()
    except ValueError:
        found.broke(message, "a date that is none")
        return
    moment += max(second - 59, 0) + nano * 1e-9
    accuracy, speed = fields[18] * 1e-3, fields[23] * 1e-3
    found.add(round(moment, 6), latitude * 1e-7, longitude * 1e-7, speed, message, height * 1e-3, accuracy)


def _checksum(frame: bytes) -> bytes:
    """Fletcher's, over class, message, length and what follows."""
    a = b = 0
    for byte in frame:
        a += byte
        b += a
    return bytes((a & 0xFF, b & 0xFF))
