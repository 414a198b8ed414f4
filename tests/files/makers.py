"""One track as a file of every kind, made by hand from what the formats say; no file of anybody's."""

import gzip
import io
import json
import struct
import zipfile
from datetime import UTC, datetime

from kunstflug.core.tracks import TrackSamples
from kunstflug.files.gpx import write_gpx
from kunstflug.files.nmea import write_nmea


def rows(track: TrackSamples):
    """Moment, latitude, longitude, speed of every sample."""
    start = track.start_unix_s
    for t, latitude, longitude, speed in zip(
        track.time_s.tolist(), track.latitude_deg.tolist(), track.longitude_deg.tolist(),
        track.receiver_speed_mps.tolist(), strict=True,
    ):  # fmt: skip
        yield datetime.fromtimestamp(start + t, UTC), latitude, longitude, speed


def iso(when: datetime) -> str:
    return when.isoformat(timespec="milliseconds").replace("+00:00", "Z")


def gpx10(track: TrackSamples) -> bytes:
    points = "\n".join(
        f'<trkpt lat="{a:.8f}" lon="{o:.8f}"><ele>98.5</ele><time>{iso(w)}</time><speed>{v:.3f}</speed></trkpt>'
        for w, a, o, v in rows(track)
    )
    return (
        '<?xml version="1.0"?>\n<gpx version="1.0" creator="t" xmlns="http://www.topografix.com/GPX/1/0">'
        f"<trk><name>pond</name><trkseg>{points}</trkseg></trk></gpx>"
    ).encode()


def tcx(track: TrackSamples) -> bytes:
    points = "\n".join(
        f"<Trackpoint><Time>{iso(w)}</Time><Position><LatitudeDegrees>{a:.8f}</LatitudeDegrees>"
        f"<LongitudeDegrees>{o:.8f}</LongitudeDegrees></Position><AltitudeMeters>98.5</AltitudeMeters>"
        f'<Extensions><TPX xmlns="urn:x"><Speed>{v:.3f}</Speed></TPX></Extensions></Trackpoint>'
        for w, a, o, v in rows(track)
    )
    return (
        '<?xml version="1.0" encoding="UTF-8"?>\n<TrainingCenterDatabase xmlns="urn:tcx"><Activities>'
        f'<Activity Sport="Other"><Id>pond</Id><Lap><Track>{points}</Track></Lap></Activity></Activities>'
        "</TrainingCenterDatabase>"
    ).encode()


def kml(track: TrackSamples) -> bytes:
    whens = "".join(f"<when>{iso(w)}</when>" for w, *_ in rows(track))
    places = "".join(f"<gx:coord>{o:.8f} {a:.8f} 98.5</gx:coord>" for _, a, o, _ in rows(track))
    return (
        '<?xml version="1.0"?>\n<kml xmlns="http://www.opengis.net/kml/2.2" xmlns:gx="urn:gx"><Document><Placemark>'
        f"<name>pond</name><gx:Track>{whens}{places}</gx:Track></Placemark></Document></kml>"
    ).encode()


def kml_points(track: TrackSamples) -> bytes:
    marks = "".join(
        f"<Placemark><TimeStamp><when>{iso(w)}</when></TimeStamp>"
        f"<Point><coordinates>{o:.8f},{a:.8f},98.5</coordinates></Point></Placemark>"
        for w, a, o, _ in rows(track)
    )
    return f'<kml xmlns="http://www.opengis.net/kml/2.2"><Document>{marks}</Document></kml>'.encode()


def kmz(track: TrackSamples) -> bytes:
    return zipped(("doc.kml", kml(track)), ("files/icon.png", b"\x89PNG"))


def zipped(*members: tuple[str, bytes]) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as packed:
        for name, content in members:
            packed.writestr(name, content)
    return out.getvalue()


def geojson(track: TrackSamples) -> bytes:
    feature = {
        "type": "Feature",
        "properties": {"name": "pond", "coordTimes": [iso(w) for w, *_ in rows(track)]},
        "geometry": {"type": "LineString", "coordinates": [[o, a, 98.5] for _, a, o, _ in rows(track)]},
    }
    return json.dumps({"type": "FeatureCollection", "features": [feature]}).encode()


def geojson_points(track: TrackSamples) -> bytes:
    features = [
        {
            "type": "Feature",
            "properties": {"timestamp": int(w.timestamp() * 1000), "speed": v},
            "geometry": {"type": "Point", "coordinates": [o, a]},
        }
        for w, a, o, v in rows(track)
    ]
    return json.dumps({"type": "FeatureCollection", "features": features}).encode()


def igc(track: TrackSamples) -> bytes:
    lines = ["AXXX001", "HFDTEDATE:010526,01", "I023638GSP3940TDS"]
    for when, a, o, v in rows(track):
        lat, lon = abs(a), abs(o)
        lines.append(
            f"B{when:%H%M%S}{int(lat):02d}{round(lat % 1 * 60000):05d}{'N' if a >= 0 else 'S'}"
            f"{int(lon):03d}{round(lon % 1 * 60000):05d}{'E' if o >= 0 else 'W'}A0009800098"
            f"{round(v * 3.6):03d}{when.microsecond // 10000:02d}"
        )
    return ("\r\n".join(lines) + "\r\n").encode()


def pvt(when: datetime, latitude: float, longitude: float, speed: float, fix: int = 3) -> bytes:
    """A NAV-PVT message."""
    body = struct.pack(
        "<IHBBBBBBIiBBBBiiiiIIiiiiiIIHHIihH",
        int(when.timestamp() * 1000) % 604_800_000, when.year, when.month, when.day, when.hour, when.minute,
        when.second, 0x07, 20, when.microsecond * 1000, fix, 0x01 if fix >= 2 else 0, 0, 14,
        round(longitude * 1e7), round(latitude * 1e7), 98_500, 98_500, 800, 1200, 0, 0, 0, round(speed * 1000), 0,
        100, 0, 110, 0, 0, 0, 0, 0,
    )  # fmt: skip
    return framed(0x07, body)


def framed(key: int, body: bytes) -> bytes:
    """A message of navigation with its checksum."""
    told = bytes((0x01, key)) + struct.pack("<H", len(body)) + body
    a = b = 0
    for byte in told:
        a = (a + byte) & 0xFF
        b = (b + a) & 0xFF
    return b"\xb5\x62" + told + bytes((a, b))


GPS_EPOCH = datetime(1980, 1, 6, tzinfo=UTC).timestamp()


def older_ubx(track: TrackSamples, dated: str = "week") -> bytes:
    """POSLLH and VELNED, dated by SOL's week or by TIMEUTC, as receivers without NAV-PVT write them."""
    out = b""
    for when, a, o, v in rows(track):
        since = when.timestamp() - GPS_EPOCH + 18
        week, tow = int(since // 604800), round(since % 604800 * 1000)
        place = struct.pack("<IiiiiII", tow, round(o * 1e7), round(a * 1e7), 98_500, 98_500, 800, 1200)
        speed = struct.pack("<IiiiIIiII", tow, 0, 0, 0, round(v * 100), round(v * 100), 0, 50, 0)
        if dated == "week":
            out += framed(0x06, struct.pack("<IihBBiiiIiiiIHBBI", tow, 0, week, 3, 0x0D, *[0] * 11, 0))
        else:
            clock = when.microsecond * 1000, when.year, when.month, when.day, when.hour, when.minute, when.second, 0x07
            out += framed(0x21, struct.pack("<IIiHBBBBBB", tow, 20, *clock))
        out += framed(0x02, place) + framed(0x12, speed)
    return out


def ubx(track: TrackSamples) -> bytes:
    return b"".join(pvt(*row) for row in rows(track))


def fit(track: TrackSamples) -> bytes:
    """Records with time, place, height and speed; whole seconds, as watches write them."""
    out = bytearray()
    epoch = datetime(1989, 12, 31, tzinfo=UTC).timestamp()
    # definition of message 20 (record): timestamp, position_lat, position_long, altitude, speed
    fields = ((253, 4, 0x86), (0, 4, 0x85), (1, 4, 0x85), (2, 2, 0x84), (6, 2, 0x84))
    out += bytes((0x40, 0, 0)) + struct.pack("<HB", 20, len(fields)) + bytes(b for f in fields for b in f)
    for when, a, o, v in rows(track):
        out += struct.pack(
            "<BIiiHH", 0, round(when.timestamp() - epoch), round(a * 2**31 / 180), round(o * 2**31 / 180),
            round((98.5 + 500) * 5), round(v * 1000),
        )  # fmt: skip
    head = struct.pack("<BBHI4s", 14, 0x20, 2100, len(out), b".FIT")
    head += struct.pack("<H", _crc(head))
    return head + bytes(out) + struct.pack("<H", _crc(head + bytes(out)))


_CRC = (
    0x0000, 0xCC01, 0xD801, 0x1400, 0xF001, 0x3C00, 0x2800, 0xE401,
    0xA001, 0x6C00, 0x7800, 0xB401, 0x5000, 0x9C01, 0x8801, 0x4400,
)  # fmt: skip


def _crc(data: bytes) -> int:
    crc = 0
    for byte in data:
        for half in (byte & 0xF, byte >> 4):
            crc = (crc >> 4) ^ _CRC[crc & 0xF] ^ _CRC[half]
    return crc


def sentence(words: str) -> str:
    total = 0
    for letter in words.encode():
        total ^= letter
    return f"${words}*{total:02X}"


def gns_gll(track: TrackSamples) -> bytes:
    """GNS, GLL and VTG behind tag blocks and time stamps, with ship traffic and binary noise between."""
    lines = [b"\xb5\x62\x0a\x09noise\x00\xff"]
    for k, (when, a, o, v) in enumerate(rows(track)):
        clock = f"{when:%H%M%S}.{when.microsecond // 10000:02d}"
        lat, lon = abs(a), abs(o)
        place = f"{int(lat):02d}{lat % 1 * 60:08.5f},{'N' if a >= 0 else 'S'},"
        place += f"{int(lon):03d}{lon % 1 * 60:08.5f},{'E' if o >= 0 else 'W'}"
        told = sentence(f"GNGNS,{clock},{place},AAN,14,0.7,98.5,46.0,,")
        lines.append(f"\\s:logger,c:{int(when.timestamp())}*00\\{told}".encode())
        lines.append(f"[{iso(when)}] {sentence(f'GNGLL,{place},{clock},A,A')}".encode())
        lines.append(sentence(f"GNVTG,54.7,T,34.4,M,{v / 0.514444444:.4f},N,{v * 3.6:.4f},K,A").encode())
        lines.append(b"!AIVDM,1,1,,A,13aEOK?P00PD2wVMdLDRhgvL289?,0*26" if k % 3 else b"\x00\x01\xb5binary\xff")
    return b"\r\n".join(lines)


def without_checksums(track: TrackSamples) -> bytes:
    return b"\n".join(line.split(b"*")[0] for line in write_nmea(track).splitlines())


KINDS = {
    "GPX 1.1": lambda t: write_gpx(t, "pond"),
    "GPX 1.0": gpx10,
    "GPX in UTF-16": lambda t: gpx10(t).decode().replace('"1.0"?', '"1.0" encoding="utf-16"?').encode("utf-16"),
    "NMEA": write_nmea,
    "NMEA without checksums": without_checksums,
    "NMEA of GNS and GLL": gns_gll,
    "UBX": ubx,
    "UBX of older messages": older_ubx,
    "UBX dated by UTC": lambda t: older_ubx(t, "utc"),
    "UBX among NMEA": lambda t: b"$GNTXT,01,01,02,hello*00\r\n" + ubx(t),
    "FIT": fit,
    "TCX": tcx,
    "KML": kml,
    "KML of points": kml_points,
    "KMZ": kmz,
    "GeoJSON": geojson,
    "GeoJSON of points": geojson_points,
    "IGC": igc,
    "gzip": lambda t: gzip.compress(gpx10(t)),
    "zip": lambda t: zipped(("a/run.nmea", write_nmea(t)), ("a/readme.png", b"x")),
}
"""A track as a file of each kind."""
WITHOUT_SPEED = {"KML", "KML of points", "KMZ", "GeoJSON"}
