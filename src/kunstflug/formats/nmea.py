"""NMEA 0183: RMC, GGA and VTG of any talker, merged into one sample an instant."""

from datetime import UTC, date, datetime, time, timedelta

import pynmea2

from kunstflug.core.errors import UnreadableFile
from kunstflug.core.tracks import TrackSamples
from kunstflug.core.units import Dimension, si_from
from kunstflug.formats.reading import ReadTrack, SampleCollector, check_size

_NO_DATE = date(1970, 1, 1)


class _Epoch:
    """What the sentences of one instant say."""

    def __init__(self, when: time) -> None:
        self.when = when
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
            merger.take(pynmea2.parse(text, check=True), found)
            sentences += 1
        except (pynmea2.ParseError, ValueError, TypeError, AttributeError) as broken:
            reason = "wrong checksum" if isinstance(broken, pynmea2.ChecksumError) else "cannot be read"
            found.broke(number, f"{reason}: '{text[:40]}'")
    if sentences == 0:
        raise UnreadableFile(found.damages[0].reason if found.damages else "no NMEA sentence", 1)
    merger.finish(found)
    return found.result()


class _Merger:
    """Collects sentences into instants."""

    def __init__(self) -> None:
        self.epoch: _Epoch | None = None
        self.day: date | None = None
        self.days_on = 0  # midnights passed in a log without dates
        self.last: float | None = None

    def take(self, sentence: pynmea2.NMEASentence, found: SampleCollector) -> None:
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
        if when is None:
            raise ValueError("no time")
        if self.epoch is None or self.epoch.when != when:
            self.finish(found)
            self.epoch = _Epoch(when)
        self.epoch.latitude, self.epoch.longitude = sentence.latitude, sentence.longitude
        if kind == "RMC":
            self.day = sentence.datestamp or self.day
            if sentence.spd_over_grnd is not None:
                self.epoch.speed = si_from(float(sentence.spd_over_grnd), "kn", Dimension.SPEED)

    @staticmethod
    def _vtg_speed(sentence: pynmea2.NMEASentence) -> float:
        if sentence.spd_over_grnd_kmph is not None:
            return si_from(float(sentence.spd_over_grnd_kmph), "km/h", Dimension.SPEED)
        if sentence.spd_over_grnd_kts is not None:
            return si_from(float(sentence.spd_over_grnd_kts), "kn", Dimension.SPEED)
        return float("nan")

    def finish(self, found: SampleCollector) -> None:
        """Adds the instant that is complete."""
        epoch, self.epoch = self.epoch, None
        if epoch is None:
            return
        day = self.day or _NO_DATE
        stamp = datetime.combine(day, epoch.when.replace(tzinfo=None), UTC) + timedelta(days=self.days_on)
        unix = stamp.timestamp()
        if self.last is not None and unix < self.last - 43200:
            # Past midnight: the log has no dates, or its first sentences carried yesterday's.
            self.days_on += 1
            unix += 86400
        self.last = unix
        found.add(unix, epoch.latitude, epoch.longitude, epoch.speed)


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
