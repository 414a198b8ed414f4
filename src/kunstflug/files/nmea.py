"""NMEA 0183: RMC, GGA, GNS, GLL and VTG of any talker, merged into one sample an instant.

Sentences are found wherever they stand in the file, behind tag blocks and time stamps, between binary messages. They
are taken apart here: a general parser takes ten times as long for each; the tests hold the two equal.
"""

import re
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta
from typing import Final

import numpy as np
import pynmea2

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.core.quantity.units import Dimension, si_from
from kunstflug.core.tracks import TrackSamples
from kunstflug.files.reading import DILUTED_M, ReadTrack, SampleCollector, check_size

SENTENCE: Final = re.compile(rb"\$([A-Z]{2})(RMC|GGA|GNS|GLL|VTG),([^\r\n$*!\x00-\x08]*)(?:\*([0-9A-Fa-f]{2}))?")
ANY: Final = re.compile(rb"[$!][A-Z]{2,5},[^\r\n$*!]*")
_NO_DATE: Final = date(1970, 1, 1)
_HALF_DAY_S: Final = 43200.0
_DAY_S: Final = 86400
_KNOT_MPS: Final = si_from(1.0, "kn", Dimension.SPEED)
_KMH_MPS: Final = si_from(1.0, "km/h", Dimension.SPEED)
_NAN: Final = float("nan")
_STILL_OPEN: Final = 16
"""So many instants back a sentence may be late."""


def read_nmea(data: bytes, choice: int | None = None) -> ReadTrack:
    """Track of an NMEA log.

    Sentences of one time are one instant, however each writes it (120000, 120000.00), in whatever order and of whatever
    talker; VTG belongs to the instant it follows. A void fix (RMC and GLL status V, GGA quality 0, GNS without a mode)
    gives no sample. A bad checksum drops the sentence and is noted in ``damages``; so is one without, where others have
    theirs. All else is passed over.

    Raises
    ------
    UnreadableFile : no sentence in it, or too little of it readable.
    """
    check_size(data)
    found, merger = SampleCollector("NMEA 0183", choice), _Merger()
    sentences = list(SENTENCE.finditer(data))
    line, at = 1, 0
    bare, summed = 0, 0
    for sentence, total in zip(sentences, checksums(data, sentences), strict=True):
        line += data.count(b"\n", at, at := sentence.start())
        _, kind, words, told = sentence.groups()
        if told is None:
            bare += 1
            if summed > bare:  # a sentence that lost its end among good ones
                found.broke(line, f"no checksum: '{_shown(sentence[0])}'")
                continue
        else:
            summed += 1
            if total != int(told, 16):
                found.broke(line, f"wrong checksum: '{_shown(sentence[0])}'")
                continue
        try:
            merger.take(kind, words.decode("ascii").split(","), line)
        except (ValueError, IndexError, OverflowError):
            found.broke(line, f"cannot be read: '{_shown(sentence[0])}'")
    if not summed + bare and ANY.search(data) is None:
        raise UnreadableFile("no NMEA sentence in it", 1)
    merger.hand_over(found)
    return found.result()


def checksums(data: bytes, sentences: Sequence[re.Match[bytes]]) -> list[int]:
    """Of each sentence all characters between ``$`` and ``*`` by exclusive or."""
    if not sentences:
        return []
    edges = np.array([(s.start() + 1, s.end(3)) for s in sentences]).ravel()
    letters = np.append(np.frombuffer(data, np.uint8), np.uint8(0))  # the last sentence may end where the file does
    return list(np.bitwise_xor.reduceat(letters, edges)[::2].tolist())


def _shown(sentence: bytes) -> str:
    return sentence[:40].decode("ascii", errors="replace")


@dataclass(slots=True, kw_only=True)
class _Instant:
    """What the sentences of one time said; seconds of its day, and the day since the log's first."""

    seconds: float
    line: int
    days: int = 0
    latitude: float = _NAN
    longitude: float = _NAN
    speed: float = _NAN
    height: float = _NAN
    accuracy: float = _NAN


class _Merger:
    """Collects sentences into instants.

    Sentences give the time of day; the date comes with RMC only, and often late. So instants are kept with the
    seconds since the first midnight, and dated all together at the end.
    """

    def __init__(self) -> None:
        self.rows: list[_Instant] = []
        self.now = _Instant(seconds=0.0, line=0)  # the one that the last sentence was of
        self.recent: dict[int, _Instant] = {}  # by milliseconds of the day
        self.when = ""  # of the last sentence, as it stands in the file
        self.place: list[str] = []
        self.second = 0.0
        self.days = 0  # since the midnight before the first instant
        self.last_s = -1.0
        self.first_day: date | None = None
        self.day = ""  # the last date that was read, and at which second of the day
        self.dated_s = 0.0

    def take(self, kind: bytes, f: list[str], line: int) -> None:
        """One sentence's fields."""
        if kind == b"VTG":
            if self.when:
                self._vtg(f)
        elif kind == b"RMC" and f[1] == "A":
            self._instant(f[0], f[2:6], line)
            self._date(f[8])
            self.now.speed = float(f[6]) * _KNOT_MPS if f[6] else self.now.speed
        elif kind in (b"GGA", b"GNS") and f[5].strip("N0"):  # quality, or the mode of each system
            self._instant(f[0], f[1:5], line)
            self.now.height = float(f[8]) if f[8] else _NAN
            self.now.accuracy = float(f[7]) * DILUTED_M if f[7] else _NAN
        elif kind == b"GLL" and f[5] == "A":
            self._instant(f[4], f[0:4], line)

    def _vtg(self, f: list[str]) -> None:
        """Speed over ground: with letters behind its numbers, or in the old form without."""
        old = len(f) < 8 or f[1] not in ("T", "")
        kmh, knots = (f[3] if len(f) > 3 else "", f[2]) if old else (f[6], f[4])
        if kmh:
            self.now.speed = float(kmh) * _KMH_MPS
        elif knots:
            self.now.speed = float(knots) * _KNOT_MPS

    def _instant(self, when: str, place: list[str], line: int) -> None:
        if when == self.when and place == self.place:
            return  # GGA says again what RMC has said
        latitude, longitude = angle(place[0], place[1], "NS"), angle(place[2], place[3], "EW")
        self.place = place
        if when != self.when:
            second = second_of_day(when)
            self.when, self.second = when, second
            at = round(1000.0 * second)
            self.now = self.recent.get(at) or self._new(at, second, line)
        self.now.latitude, self.now.longitude = latitude, longitude

    def _new(self, at: int, second: float, line: int) -> "_Instant":
        """One more instant; of the last ones sentences may still come."""
        if second < self.last_s - _HALF_DAY_S:
            self.days += 1
        self.last_s = second
        made = _Instant(seconds=second, line=line, days=self.days)
        self.rows.append(made)
        self.recent[at] = made
        if len(self.recent) > _STILL_OPEN:
            del self.recent[next(iter(self.recent))]
        return made

    def _date(self, day: str) -> None:
        if len(day) != 6 or (day == self.day and self.second >= self.dated_s):
            return
        self.day, self.dated_s = day, self.second
        year = int(day[4:])
        told = date(year + (1900 if year >= 80 else 2000), int(day[2:4]), int(day[:2]))
        if self.first_day is None:
            self.first_day = told - timedelta(days=self.days)
        else:
            self.days = self.now.days = (told - self.first_day).days

    def hand_over(self, found: SampleCollector) -> None:
        """Hands all instants over with their date; a log without any date counts from 1970, and is undated."""
        midnight = datetime.combine(self.first_day or _NO_DATE, time(), UTC).timestamp()
        for one in self.rows:
            seconds = midnight + one.days * _DAY_S + one.seconds
            found.add(seconds, one.latitude, one.longitude, one.speed, one.line, one.height, one.accuracy)


def second_of_day(when: str) -> float:
    """Seconds since midnight, of hhmmss.sss.

    Raises
    ------
    ValueError
    """
    hour, minute, second = int(when[:2]), int(when[2:4]), float(when[4:])
    if hour > 23 or minute > 59 or not 0 <= second < 61:
        raise ValueError("no time of day")
    return hour * 3600.0 + minute * 60.0 + second


def angle(text: str, side: str, sides: str) -> float:
    """Degrees of (d)ddmm.mmmm and its letter.

    Raises
    ------
    ValueError
    """
    point = text.find(".")
    whole = len(text) if point < 0 else point
    if whole < 3 or side not in sides or not side:
        raise ValueError("no angle")
    minutes = float(text[whole - 2 :])
    if not 0.0 <= minutes < 60.0:
        raise ValueError("no minutes")
    degrees = int(text[: whole - 2]) + minutes / 60
    return degrees if side == sides[0] else -degrees


def _degrees(value: float, width: int) -> str:
    """ddmm.mmmmm of an angle."""
    minutes = round(abs(value) * 60, 5)
    return f"{int(minutes // 60):0{width}d}{minutes % 60:08.5f}"


def write_nmea(samples: TrackSamples) -> bytes:
    """RMC and GGA of every sample, with checksums; what a logger's serial port gives."""
    lines = []
    start = samples.start_unix_s
    for t, latitude, longitude, speed in zip(
        samples.time_s.tolist(),
        samples.latitude_deg.tolist(),
        samples.longitude_deg.tolist(),
        samples.receiver_speed_mps.tolist(),
        strict=True,
    ):
        stamp = datetime.fromtimestamp(start + t, UTC)
        clock = stamp.strftime("%H%M%S.") + f"{stamp.microsecond // 10000:02d}"
        place = (
            _degrees(latitude, 2), "N" if latitude >= 0 else "S", _degrees(longitude, 3), "E" if longitude >= 0 else "W"
        )  # fmt: skip
        knots = "" if speed != speed else f"{speed / _KNOT_MPS:.3f}"
        lines.append(str(pynmea2.RMC("GN", "RMC", (clock, "A", *place, knots, "", stamp.strftime("%d%m%y"), "", ""))))
        lines.append(str(pynmea2.GGA("GN", "GGA", (clock, *place, "1", "14", "0.7", "98.0", "M", "46.0", "M", "", ""))))
    return ("\r\n".join(lines) + "\r\n").encode()
