"""Every kind of track file says the same of one track, and what others read of it is what we read."""

import io
import json
from datetime import UTC, datetime

import gpxpy
import numpy as np
import pynmea2
import pytest
from pyubx2 import UBXReader
from tests.files import makers
from tests.files.makers import KINDS, WITHOUT_SPEED

from kunstflug.core.quantity.errors import FileTooLarge, UnreadableFile
from kunstflug.core.tracks import TrackSamples
from kunstflug.files.geojson import write_geojson
from kunstflug.files.gpx import read_gpx, write_gpx
from kunstflug.files.nmea import SENTENCE, checksums, read_nmea, write_nmea
from kunstflug.files.reading import DILUTED_M, SeveralTracks
from kunstflug.files.track_file import read_track
from kunstflug.files.ubx import read_ubx

START = datetime(2026, 5, 1, 23, 59, 40, tzinfo=UTC).timestamp()  # over midnight


def pond(count=60, step=1.0, latitude=-12.34, longitude=170.5) -> TrackSamples:
    time = np.arange(count) * step
    return TrackSamples(
        time_s=time,
        latitude_deg=np.round(latitude + (12 * time - 21 * np.cos(time / 7)) / 110_600, 7),  # as its speed says
        longitude_deg=np.round(longitude + 5e-6 * np.sin(time / 5), 7),
        receiver_speed_mps=np.round(12 + 3 * np.sin(time / 7), 3),
        start_unix_s=START,
        elevation_m=np.full(count, 98.5),
    )


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_tells_the_same_track(kind):
    track = pond()
    read = read_track(KINDS[kind](track))
    assert read.damages == ()
    found = read.samples
    if "GNS" in kind:
        assert np.isnan(found.start_unix_s)  # these sentences have no date
    else:
        assert found.start_unix_s == pytest.approx(START, abs=1e-3)
    np.testing.assert_allclose(found.time_s, track.time_s, atol=1e-3)
    coarse = kind == "IGC"  # a thousandth of a minute, whole km/h
    np.testing.assert_allclose(found.latitude_deg, track.latitude_deg, atol=1e-5 if coarse else 2e-7)
    np.testing.assert_allclose(found.longitude_deg, track.longitude_deg, atol=1e-5 if coarse else 2e-7)
    slack = 0.15 if coarse else 6e-3 if kind in ("UBX of older messages", "UBX dated by UTC") else 2e-3  # cm/s
    if kind in WITHOUT_SPEED:
        assert np.isnan(found.receiver_speed_mps).all()
    else:
        np.testing.assert_allclose(found.receiver_speed_mps, track.receiver_speed_mps, atol=slack)
    says = {"UBX": 0.8, "NMEA": 0.7 * DILUTED_M}.get(kind.split(" ")[0])  # what the makers write
    if says is not None:
        np.testing.assert_allclose(found.accuracy_m, says)


@pytest.mark.parametrize("kind", ["GPX 1.1", "UBX", "NMEA", "NMEA of GNS and GLL", "IGC", "TCX", "GeoJSON"])
def test_tenths_of_a_second_are_kept(kind):
    np.testing.assert_allclose(read_track(KINDS[kind](pond(step=0.1))).samples.time_s, np.arange(60) * 0.1, atol=1e-3)


def test_ubx_as_a_reference_parser_reads_it():
    data = makers.ubx(pond(200, 0.1))
    ours = read_ubx(data).samples
    theirs = [parsed for _, parsed in UBXReader(io.BytesIO(data))]
    np.testing.assert_allclose(ours.latitude_deg, [m.lat for m in theirs], atol=1e-9)
    np.testing.assert_allclose(ours.longitude_deg, [m.lon for m in theirs], atol=1e-9)
    np.testing.assert_allclose(ours.receiver_speed_mps, [m.gSpeed / 1000 for m in theirs], atol=1e-9)
    np.testing.assert_allclose(ours.elevation_m, [m.hMSL / 1000 for m in theirs], atol=1e-9)


@pytest.mark.parametrize("dated", ["week", "utc"])
def test_older_ubx_messages_as_a_reference_parser_reads_them(dated):
    data = makers.older_ubx(pond(60, 0.2), dated)
    ours = read_ubx(data).samples
    theirs = [parsed for _, parsed in UBXReader(io.BytesIO(data))]
    places = [m for m in theirs if m.identity == "NAV-POSLLH"]
    speeds = [m for m in theirs if m.identity == "NAV-VELNED"]
    np.testing.assert_allclose(ours.latitude_deg, [m.lat for m in places], atol=1e-9)
    np.testing.assert_allclose(ours.longitude_deg, [m.lon for m in places], atol=1e-9)
    np.testing.assert_allclose(ours.receiver_speed_mps, [m.gSpeed / 100 for m in speeds], atol=1e-9)
    assert ours.start_unix_s == pytest.approx(pond(60, 0.2).start_unix_s, abs=1e-3)


def test_a_receivers_file_without_a_position_says_so():
    with pytest.raises(UnreadableFile, match="NAV-POSLLH"):
        read_ubx(makers.framed(0x12, bytes(36)))


def test_nmea_as_a_reference_parser_reads_it():
    data = write_nmea(pond(200, 0.1))
    ours = read_nmea(data).samples
    theirs = [m for m in map(pynmea2.parse, data.decode().split()) if m.sentence_type == "RMC"]
    np.testing.assert_allclose(ours.latitude_deg, [m.latitude for m in theirs], atol=1e-9)
    np.testing.assert_allclose(ours.longitude_deg, [m.longitude for m in theirs], atol=1e-9)
    np.testing.assert_allclose(ours.receiver_speed_mps, [m.spd_over_grnd * 1852 / 3600 for m in theirs], atol=1e-6)


def test_checksum_against_the_reference_parser():
    told = ("GPRMC,", "GPGLL,5057.970,N,00146.110,E,142451,A", "GPVTG," + "x" * 77)
    data = "".join(f"${words}*00\r\n" for words in told).encode()
    sums = checksums(data, list(SENTENCE.finditer(data)))
    assert sums == [pynmea2.NMEASentence.checksum(words) for words in told]


def test_gpx_as_a_reference_parser_reads_it():
    data = write_gpx(pond(), "pond")
    points = [p for segment in gpxpy.parse(data.decode()).tracks[0].segments for p in segment.points]
    ours = read_gpx(data).samples
    np.testing.assert_allclose(ours.latitude_deg, [p.latitude for p in points])
    np.testing.assert_allclose(ours.elevation_m, [p.elevation for p in points])
    assert ours.start_unix_s == points[0].time.timestamp()


def test_an_old_sentence_of_speed_without_letters_is_read():
    lines = [
        line
        for k in range(6)
        for line in (
            makers.sentence(f"GPGGA,1000{k:02d},4700.{k:03d},N,03000.000,W,1,8,1.0,98.5,M,46.0,M,,"),
            makers.sentence("GPVTG,54.7,34.4,10.0,18.52"),
        )
    ]
    found = read_nmea("\n".join(lines).encode()).samples
    np.testing.assert_allclose(found.receiver_speed_mps, 18.52 / 3.6, rtol=1e-3)


def test_a_message_cut_short_and_one_that_is_wrong_are_named():
    good = [makers.pvt(*row) for row in makers.rows(pond(12))]
    good[4] = good[4][:50]  # the next begins within it
    good[8] = good[8][:30] + b"\xaa" + good[8][31:]
    read = read_ubx(b"".join(good) + good[0][:40])
    assert len(read.samples) == 10
    assert [d.reason for d in read.damages] == ["wrong checksum", "wrong checksum", "the last message breaks off"]


def test_messages_without_a_fix_give_no_sample():
    rows = list(makers.rows(pond(12)))
    assert len(read_ubx(b"".join(makers.pvt(*row, fix=0 if k < 3 else 3) for k, row in enumerate(rows))).samples) == 9


def two_tracks() -> bytes:
    one, other = makers.gpx10(pond(20)).decode(), makers.gpx10(pond(30)).decode().replace("pond", "lake")
    inner = other[other.index("<trk>") : other.index("</gpx>")]
    return one.replace("</gpx>", f"{inner}</gpx>").encode()


def test_several_tracks_are_offered_and_one_is_taken():
    with pytest.raises(SeveralTracks) as offered:
        read_track(two_tracks())
    assert [(c.name, c.samples, c.seconds) for c in offered.value.choices] == [("pond", 20, 19.0), ("lake", 30, 29.0)]
    assert offered.value.choices[0].start_unix_s == START
    taken = read_track(two_tracks(), 1).samples
    assert (len(taken), taken.name) == (30, "lake")
    with pytest.raises(UnreadableFile, match="no track 3"):
        read_track(two_tracks(), 2)


def test_tracks_of_several_files_in_one_are_counted_through():
    packed = makers.zipped(
        ("one.gpx", two_tracks()), ("notes.txt", b"hello"), ("two.nmea", write_nmea(pond(40))), ("bad.gpx", b"<gpx>")
    )
    with pytest.raises(SeveralTracks) as offered:
        read_track(packed)
    assert [(c.name, c.samples) for c in offered.value.choices] == [("pond", 20), ("lake", 30), ("two.nmea", 40)]
    assert [len(read_track(packed, k).samples) for k in range(3)] == [20, 30, 40]


def test_of_two_tracks_one_too_short_to_be_one_is_no_question():
    short = two_tracks().replace(b"<name>lake", b"<trkseg></trkseg></trk><trk><name>lake")
    assert len(read_track(short.replace(makers.gpx10(pond(30)), b""), 0).samples) == 20
    empty = makers.gpx10(pond(20)).replace(b"</gpx>", b"<trk><name>none</name><trkseg></trkseg></trk></gpx>")
    assert len(read_track(empty).samples) == 20


@pytest.mark.parametrize(
    ("data", "reason"),
    [
        (b'{"type":"FeatureCollection","features":[]}', "no track"),
        (b'{"type":"LineString","coordinates":[[1,2],[3,4]]}', "no times"),
        (b'{"type": ', "not JSON"),
        (b"[" * 100_000, "not JSON"),
        (b"<kml><Placemark><LineString><coordinates>1,2</coordinates></LineString></Placemark></kml>", "no times"),
        (b"\x1f\x8b" + bytes(20), "gzip file that is broken"),
        (b"PK\x03\x04" + bytes(40), "zip file that is broken"),
        (makers.zipped(("a.txt", b"nothing")), "not GPX"),
        (b"\x0e\x20\x34\x08\x00\x00\x00\x00.FIT\x00\x00", "0 positions|FIT that"),
        (b"<a>" * 200, "outermost element"),
        (b"<gpx>" + b"<a>" * 200, "without end|not well-formed"),
    ],
)
def test_what_cannot_be_read_is_refused_with_its_reason(data, reason):
    with pytest.raises(UnreadableFile, match=reason):
        read_track(data)


def test_a_bomb_is_not_unpacked():
    import gzip

    with pytest.raises(FileTooLarge):
        read_track(gzip.compress(b"<gpx>" + bytes(80_000_000)))


def test_a_document_type_is_refused_in_every_xml():
    for root in ("gpx", "kml", "TrainingCenterDatabase"):
        hostile = f'<!DOCTYPE {root} [<!ENTITY a "aaaa">]>\n<{root}>&a;</{root}>'
        with pytest.raises(UnreadableFile, match="document type"):
            read_track(hostile.encode())


def test_pieces_heights_and_name_go_out_and_come_back():
    track = pond(30)
    track.segment[12:] = 1
    track.accuracy_m[:] = 1.25
    for data in (write_gpx(track, "a run"), write_geojson(track, "a run")):
        back = read_track(data).samples
        assert back.name == "a run"
        np.testing.assert_array_equal(np.diff(back.segment) > 0, np.diff(track.segment) > 0)
        np.testing.assert_allclose(back.elevation_m, 98.5)
        if data[:1] == b"<":
            np.testing.assert_allclose(back.accuracy_m, 1.25)
        np.testing.assert_allclose(back.receiver_speed_mps, track.receiver_speed_mps, atol=1e-3)
    assert json.loads(write_geojson(track, "x"))["features"][0]["geometry"]["type"] == "MultiLineString"
