"""UBX, the binary messages of a receiver: NAV-PVT, or the older ones, from among whatever else the file holds.

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
SYNC: Final = b"\xb5\x62\x01"
"""The sync bytes and the class of all messages of navigation."""
# Of the receiver's older messages, by id (from memory; the tests hold them equal to a general library):
# POSLLH: iTOW, lon, lat, height, hMSL, hAcc; VELNED: iTOW, velN, velE, velD, speed, gSpeed;
# SOL: iTOW, fTOW, week, gpsFix, flags; TIMEUTC: iTOW, tAcc, nano, year, month, day, hour, minute, second, valid
_POSLLH, _VELNED, _SOL, _TIMEUTC = OLDER = 0x02, 0x12, 0x06, 0x21
_OLDER: Final = {
    _POSLLH: struct.Struct("<IiiiiI"),
    _VELNED: struct.Struct("<IiiiII"),
    _SOL: struct.Struct("<IihBB"),
    _TIMEUTC: struct.Struct("<IIiHBBBBBB"),
}
_GPS_EPOCH: Final = datetime(1980, 1, 6, tzinfo=UTC).timestamp()
_LEAP_S: Final = 18.0  # between satellites' time and UTC since 2017
_WEEK_S: Final = 604800.0
_UTC_IS_KNOWN: Final = 0x04
_TIME_IS_KNOWN: Final = 0x03
_FIX_IS_GOOD: Final = 0x01
_TIME_IS_KNOWN_SOL: Final = 0x0C  # week and time of week


def read_ubx(data: bytes, choice: int | None = None) -> ReadTrack:
    """Track of the NAV-PVT messages of a file, else of POSLLH with VELNED, SOL and TIMEUTC beside it.

    Messages without a fix or a date give no sample. ``line`` of a damage is the number of the message.

    Raises
    ------
    UnreadableFile : no such message, or too little of it readable.
    """
    check_size(data)
    if HEAD not in data:
        return _older(data, choice)
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
    return found.result()


def _older(data: bytes, choice: int | None) -> ReadTrack:
    """Track of a receiver that writes place, speed and time as messages of their own, with one time of week each."""
    found, at, message = SampleCollector("UBX", choice), data.find(SYNC), 0
    kept: dict[int, dict[int, tuple[int, ...]]] = {}  # by time of week, then by message
    lines: dict[int, int] = {}
    while at >= 0 and at + 8 <= len(data):
        end = at + 8 + int.from_bytes(data[at + 4 : at + 6], "little")
        fields, told = _OLDER.get(data[at + 3]), data[at + 2 : end - 2]
        if end > len(data) or _checksum(told) != data[end - 2 : end]:
            if fields is not None:
                found.broke(message + 1, "wrong checksum" if end <= len(data) else "the last message breaks off")
            at = data.find(SYNC, at + 2)
            continue
        message += 1
        if fields is not None and len(told) - 4 >= fields.size:
            values = fields.unpack_from(told, 4)
            kept.setdefault(values[0], {})[data[at + 3]] = values
            lines.setdefault(values[0], message)
        at = data.find(SYNC, end)
    if not any(_POSLLH in one for one in kept.values()):
        raise UnreadableFile("a receiver's file without a position in it: it needs NAV-PVT or NAV-POSLLH")
    week = None
    for time_ms, one in kept.items():
        week = _week_s(one, time_ms, week)
        _put_together(one, time_ms, week, lines[time_ms], found)
    return found.result()


def _week_s(one: dict[int, tuple[int, ...]], time_ms: int, week: float | None) -> float | None:
    """Where the week begins [s since 1970], as the last message that knew it said."""
    sol, utc = one.get(_SOL), one.get(_TIMEUTC)
    if sol is not None and sol[4] & _TIME_IS_KNOWN_SOL == _TIME_IS_KNOWN_SOL:
        return _GPS_EPOCH + sol[2] * _WEEK_S - _LEAP_S
    if utc is not None and utc[9] & _UTC_IS_KNOWN:
        try:
            year, month, day, hour, minute, second = utc[3:9]
            moment = datetime(year, month, day, hour, minute, min(second, 59), tzinfo=UTC).timestamp()
        except ValueError:
            return week
        return moment + utc[2] * 1e-9 - time_ms * 1e-3
    return week


def _put_together(
    one: dict[int, tuple[int, ...]], time_ms: int, week: float | None, line: int, found: SampleCollector
) -> None:
    place, speed, sol = one.get(_POSLLH), one.get(_VELNED), one.get(_SOL)
    if place is None or (sol is not None and not sol[4] & _FIX_IS_GOOD):
        return
    mps = speed[5] * 1e-2 if speed is not None else float("nan")
    moment = round((week or 0.0) + time_ms * 1e-3, 6)
    found.add(moment, place[2] * 1e-7, place[1] * 1e-7, mps, line, place[4] * 1e-3, place[5] * 1e-3)


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
