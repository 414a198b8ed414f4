"""GPX 1.1: what the schema says, what hostile and damaged files do."""

import dataclasses

import gpxpy
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import etree
from tests.samples import DATA

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.core.tracks import TrackSamples
from kunstflug.files.gpx import read_gpx, write_gpx
from kunstflug.files.track_file import read_track

SCHEMA = etree.XMLSchema(etree.parse(DATA / "gpx11.xsd"))
NS = 'xmlns="http://www.topografix.com/GPX/1/1"'


def gpx(points: str, head: str = "", creator: str = ' creator="test"') -> bytes:
    return (
        f'<?xml version="1.0"?>\n{head}<gpx {NS} version="1.1"{creator}><trk><trkseg>\n{points}\n</trkseg></trk></gpx>'
    ).encode()


def point(second: int, inside: str = "", lat: str = "47.0", lon: str = "-30.0") -> str:
    return f'<trkpt lat="{lat}" lon="{lon}"><time>2026-05-01T10:00:{second:02d}Z</time>{inside}</trkpt>'


def points(count: int = 8, inside: str = "") -> str:
    return "\n".join(point(k, inside, lat=f"{47 + k * 1e-5:.6f}") for k in range(count))


def samples(count=40, speed=True):
    time = np.round(np.arange(count) * 0.1, 3)
    return TrackSamples(
        time_s=time,
        latitude_deg=np.round(47 + time * 1e-5, 8),
        longitude_deg=np.round(-30 + time * 2e-5, 8),
        receiver_speed_mps=np.round(5 + time, 3) if speed else np.full(count, np.nan),
        start_unix_s=1_780_000_000.0,
    )


@pytest.mark.parametrize(
    ("document", "valid"),
    [
        # GPX 1.1 schema: where speed may stand, the order of elements, the ranges
        (gpx(point(1, "<speed>3</speed>")), False),
        (gpx(point(1, '<extensions><s xmlns="urn:x">3</s></extensions>')), True),
        (gpx(point(1, "<ele>2</ele>")), False),  # time stands after ele
        (gpx(point(1, lon="180.0")), False),
        (gpx(point(1, lat="90.1")), False),
        (gpx(point(1), creator=""), False),
        (gpx(point(1)), True),
    ],
)
def test_the_schema_itself(document, valid):
    assert SCHEMA.validate(etree.fromstring(document)) is valid


@pytest.mark.parametrize("speed", [True, False])
def test_what_is_written_validates_and_is_read_by_others(speed):
    written = write_gpx(samples(speed=speed), "a run & more")
    SCHEMA.assertValid(etree.fromstring(written))
    parsed = gpxpy.parse(written.decode())
    assert parsed.get_track_points_no() == 40
    assert parsed.tracks[0].name == "a run & more"


@settings(max_examples=25)
@given(st.integers(5, 60), st.booleans(), st.floats(-80, 80), st.floats(-179, 179))
def test_round_trip(count, speed, latitude, longitude):
    track = samples(count, speed)
    track = dataclasses.replace(
        track,
        latitude_deg=np.round(track.latitude_deg - 47 + latitude, 8),
        longitude_deg=np.round(track.longitude_deg + 30 + longitude, 8),
    )
    back = read_gpx(write_gpx(track, "x"))
    assert not back.damages
    np.testing.assert_allclose(back.samples.time_s, track.time_s, atol=1e-6)
    np.testing.assert_allclose(back.samples.latitude_deg, track.latitude_deg, atol=1e-9)
    np.testing.assert_allclose(back.samples.receiver_speed_mps, track.receiver_speed_mps, atol=1e-3)
    assert back.samples.start_unix_s == track.start_unix_s


def test_speed_in_extensions_of_any_namespace_and_stray_speed():
    other = '<extensions><a:more xmlns:a="urn:other"><a:speed>7.5</a:speed></a:more></extensions>'
    assert np.all(read_gpx(gpx(points(8, other))).samples.receiver_speed_mps == 7.5)
    assert np.all(read_gpx(gpx(points(8, "<speed>4.25</speed>"))).samples.receiver_speed_mps == 4.25)
    assert np.all(np.isnan(read_gpx(gpx(points(8))).samples.receiver_speed_mps))


def test_entity_expansion_is_refused_before_anything_expands():
    bomb = "<!DOCTYPE gpx [<!ENTITY a 'ha'>" + "".join(
        f"<!ENTITY {chr(98 + k)} '{'&' + chr(97 + k) + ';' * 1}{'&' + chr(97 + k) + ';'}'>" for k in range(20)
    )
    with pytest.raises(UnreadableFile, match="document type declaration"):
        read_gpx(gpx(points(8, "<name>&u;</name>"), head=bomb + "]>\n"))


def test_an_external_entity_is_not_fetched(tmp_path):
    secret = tmp_path / "secret"
    secret.write_text("2026-05-01T10:00:00Z")
    head = f"<!DOCTYPE gpx [<!ENTITY x SYSTEM 'file://{secret}'>]>\n"
    with pytest.raises(UnreadableFile, match="document type declaration"):
        read_gpx(gpx(points(8, "<name>&x;</name>"), head=head))


def test_a_file_that_breaks_off_keeps_what_was_before_and_says_where():
    whole = gpx(points(20))
    cut = whole[: whole.index(b"10:00:12")]
    read = read_gpx(cut)
    assert len(read.samples) == 12
    assert read.damages[0].line == 15  # the xml line, the gpx line, then point 12 on the thirteenth line of points
    assert "not well-formed" in read.damages[0].reason


def test_a_broken_point_is_named_by_its_line_and_left_out():
    lines = points(10).splitlines()
    lines[3] = lines[3].replace('lat="47.000030"', 'lat="fourty"')
    lines[5] = lines[5].replace("<time>2026-05-01T10:00:05Z</time>", "")
    lines[7] = lines[7].replace("2026-05-01T10:00:07Z", "yesterday")
    read = read_gpx(gpx("\n".join(lines)))
    assert len(read.samples) == 7
    assert [d.line for d in read.damages] == [6, 8, 10]
    assert "fourty" in read.damages[0].reason


@pytest.mark.parametrize(
    ("data", "reason"),
    [
        (b"", "empty"),
        (b"  \n ", "empty"),
        (b"<gpx", "not well-formed"),
        (b"<html><body>log in first</body></html>", "'html', not 'gpx'"),
        (gpx(""), "0 positions"),
        (gpx(points(3)), "3 positions"),
        (b"\x89PNG\r\n\x1a\n" + bytes(50), "not GPX, NMEA 0183"),
        (b"%PDF-1.7 nothing", "not GPX, NMEA 0183"),
    ],
)
def test_what_is_no_track_is_refused_with_a_reason(data, reason):
    with pytest.raises(UnreadableFile, match=reason):
        read_track(data)


@pytest.mark.parametrize("when", ["0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-14:00", "2026-05-01T25:00:00Z"])
def test_times_off_the_calendar_are_named(when):
    lines = points(9).splitlines()
    lines[4] = lines[4].replace("2026-05-01T10:00:04Z", when)
    read = read_gpx(gpx("\n".join(lines)))
    assert len(read.samples) == 8
    assert [d.line for d in read.damages] == [7]  # two lines of head, then the fifth point


def test_a_clock_that_was_never_set_gives_no_date():
    read = read_gpx(gpx(points(9).replace("2026-05-01", "1970-01-01")))
    assert len(read.samples) == 9
    assert np.isnan(read.samples.start_unix_s)


def test_a_file_of_broken_points_keeps_the_first_of_them():
    read = read_gpx(gpx(points(9) + '<trkpt lat="x" lon="y"/>\n' * 3000))
    assert read.broken == 3000
    assert len(read.damages) == 200


def test_too_large_is_refused_before_it_is_parsed(monkeypatch):
    monkeypatch.setattr("kunstflug.files.reading.MOST_BYTES", 1000)
    with pytest.raises(UnreadableFile, match="at most"):
        read_gpx(gpx(points(40)))


@settings(max_examples=60)
@given(st.binary(max_size=400))
def test_rubbish_is_refused_never_crashes(data):
    with pytest.raises(UnreadableFile):
        read_track(data)


@settings(max_examples=40)
@given(st.integers(0, 1200), st.binary(min_size=1, max_size=6))
def test_a_file_with_bytes_put_in_is_read_in_part_or_refused(at, put):
    whole = gpx(points(12))
    try:
        read = read_track(whole[:at] + put + whole[at:])
    except UnreadableFile:
        return
    assert len(read.samples) <= 12
