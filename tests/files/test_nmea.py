"""NMEA 0183: the common examples, mixed talkers, merging, damage."""

import random

import numpy as np
import pynmea2
import pytest
from tests.files.test_gpx import samples

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.files.nmea import read_nmea, write_nmea

# NMEA 0183's common examples
GGA = "$GPGGA,123519,4807.038,N,01131.000,E,1,08,0.9,545.4,M,46.9,M,,*47"
RMC = "$GPRMC,123519,A,4807.038,N,01131.000,E,022.4,084.4,230394,003.1,W*6A"


def sentence(body: str) -> str:
    return f"${body}*{pynmea2.NMEASentence.checksum(body):02X}"


def log(*lines: str) -> bytes:
    return "\r\n".join(lines).encode()


def rmc(second: float, knots="20.0", talker="GP", status="A", day="010526", north="4700.000") -> str:
    return sentence(f"{talker}RMC,1000{second:05.2f},{status},{north},N,03000.000,W,{knots},90.0,{day},,")


def test_the_common_examples_agree():
    later = [sentence(f"GPRMC,1235{20 + k:02d},A,4807.038,N,01131.000,E,022.4,084.4,230394,003.1,W") for k in range(5)]
    read = read_nmea(log(GGA, RMC, *later))
    track = read.samples
    assert not read.damages
    assert len(track) == 6  # GGA and RMC of one second are one instant
    assert track.latitude_deg[0] == pytest.approx(48.1173, abs=1e-6)
    assert track.longitude_deg[0] == pytest.approx(11.516667, abs=1e-6)
    assert track.receiver_speed_mps[0] == pytest.approx(11.523556, abs=1e-6)  # 22.4 kn
    # 1994-03-23 12:35:19 UTC, by calendar
    assert track.start_unix_s == 764426119.0


def test_mixed_talkers_and_vtg():
    lines = []
    for k in range(6):
        lines.append(sentence(f"GNGGA,1000{k:02d}.00,4700.000,N,03000.{k:03d},W,1,09,0.8,98,M,46,M,,"))
        lines.append(sentence("GLVTG,90.0,T,,M,19.44,N,36.0,K"))
    track = read_nmea(log(*lines)).samples
    assert len(track) == 6
    np.testing.assert_allclose(track.receiver_speed_mps, 10.0)  # 36 km/h


def test_void_fixes_give_no_sample():
    lines = [rmc(k, status="V" if 2 <= k <= 4 else "A") for k in range(10)]
    read = read_nmea(log(*lines))
    assert len(read.samples) == 7
    assert not read.damages


def test_past_midnight_time_goes_on():
    lines = [rmc(0)] * 0 + [
        sentence(f"GPGGA,{clock},4700.000,N,03000.000,W,1,09,0.8,98,M,46,M,,")
        for clock in ("235957", "235958", "235959", "000000", "000001", "000002")
    ]
    np.testing.assert_allclose(read_nmea(log(*lines)).samples.time_s, [0, 1, 2, 3, 4, 5])


def gga(second: float, north="4700.000") -> str:
    return sentence(f"GPGGA,1000{second:05.2f},{north},N,03000.000,W,1,09,0.8,98,M,46,M,,")


def test_positions_before_the_first_date_belong_to_the_same_day():
    read = read_nmea(log(*[gga(k) for k in range(4)], *[rmc(k) for k in range(4, 9)]))
    np.testing.assert_allclose(read.samples.time_s, np.arange(9))
    assert read.samples.start_unix_s == 1777629600.0  # 2026-05-01 10:00:00 UTC, by calendar


def test_a_log_without_any_date_is_undated():
    assert np.isnan(read_nmea(log(*[gga(k) for k in range(6)])).samples.start_unix_s)


def test_a_date_that_changes_at_midnight_is_one_day_not_two():
    lines = []
    for clock, day in (("235958", "300426"), ("235959", "300426"), ("000000", "010526"), ("000001", "010526")):
        lines.append(sentence(f"GPGGA,{clock},4700.000,N,03000.000,W,1,09,0.8,98,M,46,M,,"))
        lines.append(sentence(f"GPRMC,{clock},A,4700.000,N,03000.000,W,20,90.0,{day},,"))
    lines.append(sentence("GPRMC,000002,A,4700.000,N,03000.000,W,20,90.0,010526,,"))
    np.testing.assert_allclose(read_nmea(log(*lines)).samples.time_s, np.arange(5))


def test_a_latitude_beyond_the_pole_is_named_by_its_line():
    lines = [rmc(k) for k in range(8)]
    lines[4] = rmc(4, north="9900.000")
    read = read_nmea(log(*lines))
    assert len(read.samples) == 7
    assert [(d.line, d.reason) for d in read.damages] == [(5, "this place is not on the globe")]


def test_a_wrong_checksum_is_named_by_its_line_and_left_out():
    lines = [rmc(k) for k in range(8)]
    lines[3] = lines[3][:-2] + "00"
    read = read_nmea(log(*lines))
    assert len(read.samples) == 7
    assert read.damages[0].line == 4
    assert "checksum" in read.damages[0].reason


def test_a_line_cut_off_and_noise_on_the_wire():
    lines = [rmc(k) for k in range(8)]
    lines[5] = lines[5][:20]
    lines.insert(2, "\x7f\x80garbage")
    read = read_nmea("\n".join(lines).encode("latin-1"))
    assert len(read.samples) == 7
    assert [d.line for d in read.damages] == [7]  # what is no sentence is passed over, one that lost its end is not


def test_other_sentences_are_passed_over():
    lines = [line for k in range(6) for line in (sentence("GPGSV,1,1,01,01,45,120,40"), rmc(k))]
    read = read_nmea(log(*lines))
    assert len(read.samples) == 6
    assert not read.damages


def test_southern_and_western_round_trip():
    track = samples(30)
    back = read_nmea(write_nmea(track)).samples
    np.testing.assert_allclose(back.time_s, track.time_s, atol=5e-3)
    # five decimals of a minute are 2 cm
    np.testing.assert_allclose(back.latitude_deg, track.latitude_deg, atol=2e-7)
    np.testing.assert_allclose(back.longitude_deg, track.longitude_deg, atol=2e-7)
    np.testing.assert_allclose(back.receiver_speed_mps, track.receiver_speed_mps, atol=6e-4)


@pytest.mark.parametrize("data", [b"hello\nworld", b"$GPGGA\n$GPRMC", b"$\x00\x01", log(GGA)])
def test_what_is_no_log_is_refused(data):
    with pytest.raises(UnreadableFile):
        read_nmea(data)


def _spelled(order: str, seed: int) -> bytes:
    """Ten instants a second apart; each sentence writes the time its own way, in one of several orders and talkers."""
    rng = random.Random(seed)
    parts = []
    for k in range(10):
        place = f"4730.{k * 60:05d},N,00830.00000,E"
        when = [f"1200{k:02d}", f"1200{k:02d}.00", f"1200{k:02d}.000", f"1200{k:02d}.0"]
        talker = rng.choice(["GP", "GN", "GL"])
        one = {
            "RMC": f"${talker}RMC,{rng.choice(when)},A,{place},40.0,0.0,020526,,",
            "GGA": f"$GPGGA,{rng.choice(when)},{place},1,09,0.9,400.0,M,47.0,M,,",
            "GLL": f"$GNGLL,{place},{rng.choice(when)},A",
        }
        kinds = list(one)
        rng.shuffle(kinds)
        parts.append([one[kind] for kind in kinds])
    if order == "late":  # the last sentence of each instant comes after the first of the next
        for k in range(9):
            parts[k][-1], parts[k + 1][0] = parts[k + 1][0], parts[k][-1]
    return "\r\n".join(line for instant in parts for line in instant).encode()


@pytest.mark.parametrize("order", ["in order", "late"])
@pytest.mark.parametrize("seed", range(6))
def test_one_time_is_one_sample_however_it_is_written(order, seed):
    """They became two or three samples an instant, 6 % too fast, and lost the receiver's own speed."""
    found = read_nmea(_spelled(order, seed)).samples
    assert len(found) == 10
    assert found.time_s.tolist() == pytest.approx(list(range(10)))
    assert found.receiver_speed_mps.tolist() == pytest.approx([40.0 * 1852 / 3600] * 10)
    assert np.isfinite(found.elevation_m).all()
