"""NMEA 0183: RMC, GGA and VTG of any talker, merged into one sample an instant."""

from datetime import UTC, date, datetime, time, timedelta

import pynmea2

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.core.quantity.units import Dimension, si_from
from kunstflug.core.tracks import TrackSamples
from kunstflug.files.reading import ReadTrack, SampleCollector, check_size

_NO_DATE = date(1970, 1, 1)
_HALF_DAY_S = 43200.0


class _Epoch:
    """What the sentences of one instant say; the line is that of the first."""

    def __init__(self, when: time, line: int) -> None:
        self.when = when
        self.line = line
        self.latitude = self.longitude = self.speed = float("nan")


def read_nmea(data: bytes) -> ReadTrack:
    """Track of an NMEA log.

    Sentences that carry a time (RMC, GGA) belong to one instant while it stays the same; VTG belongs to the instant
    it follows. A void fix (RMC status V, GGA quality 0) gives no sample. A bad checksum drops the sentence and is
    noted in ``damages``; other sentences are passed over.

    Raises
    ------
    UnreadableFile : no line is NMEA, or too little of it readable.
    """
    check_size(data)
    if b"\x00" in data[:4096]:
        raise UnreadableFile("a binary file, not NMEA 0183 text", 1)
    found, merger = SampleCollector("NMEA 0183"), _Merger()
    sentences = 0
    for number, line in enumerate(data.decode("ascii", errors="replace").splitlines(), 1):
        text = line.strip()
        if not text:
            continue
        if not text.startswith("$"):
            found.broke(number, f"'{text[:30]}' is not an NMEA sentence")
            continue
        if text[3:6] not in ("RMC", "GGA", "VTG"):
            sentences += 1
            continue
        try:
            merger.take(pynmea2.parse(text, check=True), number)
            sentences += 1
        except (pynmea2.ParseError, ValueError, TypeError, AttributeError, OverflowError) as broken:
            reason = "wrong checksum" if isinstance(broken, pynmea2.ChecksumError) else "cannot be read"
            found.broke(number, f"{reason}: '{text[:40]}'")
    if sentences == 0:
        first = found.damages.first()
        raise UnreadableFile(first.reason if first else "no NMEA sentence", 1)
    merger.finish()
    merger.hand_over(found)
    return found.result()


class _Merger:
    """Collects sentences into instants.

    Sentences give the time of day; the date comes with RMC only, and often late. So instants are kept with the
    seconds since the first midnight, and dated all together at the end.
    """

    def __init__(self) -> None:
        self.epoch: _Epoch | None = None
        self.rows: list[tuple[float, float, float, float, int]] = []
        self.days = 0  # since the midnight before the first instant
        self.last_s: float | None = None
        self.first_day: date | None = None

    def take(self, sentence: pynmea2.NMEASentence, line: int) -> None:
        kind = sentence.sentence_type
        if kind == "VTG":
            if self.epoch is not None:
                self.epoch.speed = self._vtg_speed(sentence)
            return
        if kind == "RMC" and sentence.status != "A":
            return
        if kind == "GGA" and int(sentence.gps_qual or 0) == 0:
            return
        when = sentence.timestamp
        if not isinstance(when, time):  # the library hands out what it cannot read as it stands
            raise ValueError("no time")
        latitude, longitude = sentence.latitude, sentence.longitude
        speed = sentence.spd_over_grnd if kind == "RMC" else None
        knots = None if speed is None else float(speed)
        if self.epoch is None or self.epoch.when != when:
            self.finish()
            self.epoch = _Epoch(when, line)
            self._pass_midnight(when)
        self.epoch.latitude, self.epoch.longitude = latitude, longitude
        if kind == "RMC":
            self._date(sentence.datestamp)
            if knots is not None:
                self.epoch.speed = si_from(knots, "kn", Dimension.SPEED)

    def _pass_midnight(self, when: time) -> None:
        seconds = _seconds(when)
        if self.last_s is not None and seconds < self.last_s - _HALF_DAY_S:
            self.days += 1
        self.last_s = seconds

    def _date(self, day: date | None) -> None:
        if day is None:
            return
        if self.first_day is None:
            self.first_day = day - timedelta(days=self.days)
        else:
            self.days = (day - self.first_day).days

    @staticmethod
    def _vtg_speed(sentence: pynmea2.NMEASentence) -> float:
        if sentence.spd_over_grnd_kmph is not None:
            return si_from(float(sentence.spd_over_grnd_kmph), "km/h", Dimension.SPEED)
        if sentence.spd_over_grnd_kts is not None:
            return si_from(float(sentence.spd_over_grnd_kts), "kn", Dimension.SPEED)
        return float("nan")

    def finish(self) -> None:
        """Keeps the instant that is complete."""
        epoch, self.epoch = self.epoch, None
        if epoch is not None:
            seconds = self.days * 86400.0 + _seconds(epoch.when)
            self.rows.append((seconds, epoch.latitude, epoch.longitude, epoch.speed, epoch.line))

    def hand_over(self, found: SampleCollector) -> None:
        """Hands all instants over with their date; a log without any date counts from 1970, and is undated."""
        midnight = datetime.combine(self.first_day or _NO_DATE, time(), UTC).timestamp()
        for seconds, latitude, longitude, speed, line in self.rows:
            found.add(midnight + seconds, latitude, longitude, speed, line)


def _seconds(when: time) -> float:
    return when.hour * 3600.0 + when.minute * 60.0 + when.second + when.microsecond * 1e-6


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
        knots = "" if speed != speed else f"{speed / 0.514444444:.3f}"
        lines.append(str(pynmea2.RMC("GN", "RMC", (clock, "A", *place, knots, "", stamp.strftime("%d%m%y"), "", ""))))
        lines.append(str(pynmea2.GGA("GN", "GGA", (clock, *place, "1", "14", "0.7", "98.0", "M", "46.0", "M", "", ""))))
    return ("\r\n".join(lines) + "\r\n").encode()
