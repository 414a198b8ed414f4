"""Tracks: the local plane against geodesics, robust speed, passes."""

import dataclasses

import numpy as np
import pytest
from geographiclib.geodesic import Geodesic
from hypothesis import given
from hypothesis import strategies as st

from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.tracks import TrackSamples, analyse
from kunstflug.core.tracks.cleaning import clean
from kunstflug.core.tracks.held import best_mean
from kunstflug.core.tracks.passes import Pass, both_ways_mps
from kunstflug.core.tracks.samples import local_metres


def lay(way_m, heading_deg, dt=0.1, latitude=47.0, longitude=-30.0, speed=None):
    """A track laid along headings with known ways from sample to sample."""
    heading = np.radians(np.broadcast_to(heading_deg, np.shape(way_m)))
    east, north = np.cumsum(way_m * np.sin(heading)), np.cumsum(way_m * np.cos(heading))
    count = len(way_m)
    return TrackSamples(
        time_s=np.arange(count) * dt,
        latitude_deg=latitude + north / 111_168.0,
        longitude_deg=longitude + east / (111_320.0 * np.cos(np.radians(latitude))),
        receiver_speed_mps=np.full(count, np.nan) if speed is None else speed,
        start_unix_s=1_780_000_000.0,
    )


def up_and_down(fast=22.0, seed=0, noise=0.1):
    """Two passes there and back with slow stretches and a turn between; 10 Hz, receiver speed with noise."""
    legs = [
        (60, 8.0, 90),
        (80, fast, 90),
        (20, 8.0, 90),
        (30, 8.0, 180),
        (20, 8.0, 270),
        (80, fast, 270),
        (60, 8.0, 270),
    ]
    speed = np.concatenate([np.full(n, v) for n, v, _ in legs])
    heading = np.concatenate([np.full(n, h) for n, _, h in legs])
    speed = np.convolve(np.pad(speed, 5, mode="edge"), np.ones(11) / 11, mode="valid")  # no boat jumps
    rng = np.random.default_rng(seed)
    return lay(speed * 0.1, heading, speed=speed + rng.normal(0, noise, len(speed)))


@pytest.mark.parametrize(
    ("latitude", "d_lat", "d_lon", "metres"),
    [
        # geographiclib (Karney 2013)
        (0.0, 0.0, 1.0, 111_319.491),
        (0.0, 1e-3, 0.0, 110.574304),
        (45.0, 1e-3, 0.0, 111.131778),
        (52.5, 0.0009, 0.0, 100.149),
        (52.5, 0.0, 0.0015, 101.865),
    ],
)
def test_local_plane_against_printed_geodesics(latitude, d_lat, d_lon, metres):
    east, north = local_metres(np.array([latitude, latitude + d_lat]), np.array([13.4, 13.4 + d_lon]))
    assert np.hypot(east[1], north[1]) == pytest.approx(metres, rel=1e-5)


@given(st.floats(-70, 70), st.floats(-170, 170), st.floats(0, 360), st.floats(1, 800))
def test_local_plane_against_live_geodesics(latitude, longitude, azimuth, metres):
    end = Geodesic.WGS84.Direct(latitude, longitude, azimuth, metres)
    east, north = local_metres(np.array([latitude, end["lat2"]]), np.array([longitude, end["lon2"]]))
    # over a pond the plane that touches the ellipsoid is good to a few parts in ten thousand
    assert np.hypot(east[1], north[1]) == pytest.approx(metres, rel=4e-4)


def test_noise_of_speed_from_positions():
    # identity: sqrt(2) sigma / dt; 0.5 m at 10 Hz is 7.07 m/s. The smoother must do far better than that.
    rng = np.random.default_rng(1)
    track = lay(np.full(600, 2.0), 90.0)
    noisy = dataclasses.replace(track, longitude_deg=track.longitude_deg + rng.normal(0, 0.5, 600) / 75_900)
    raw = np.hypot(*(np.diff(c) / 0.1 for c in local_metres(noisy.latitude_deg, noisy.longitude_deg)))
    assert np.std(raw) == pytest.approx(7.07, rel=0.15)
    smoothed = clean(noisy).speed_mps
    assert np.std(smoothed) < 1.2
    assert np.median(smoothed) == pytest.approx(20.0, abs=0.4)


def test_both_ways_is_the_mean_of_the_speeds():
    def a_pass(heading, speed):
        return Pass(
            start_s=0, end_s=4, heading_deg=heading, peak_mps=speed, best_1s_mps=speed, best_2s_mps=speed, distance_m=80
        )

    # 20 and 24 m/s: mean speed takes a steady wind out, 22; not 21.82, the speed over the whole way
    assert both_ways_mps((a_pass(10, 20.0), a_pass(190, 24.0))) == pytest.approx(22.0)
    assert np.isnan(both_ways_mps((a_pass(10, 20.0), a_pass(30, 24.0))))
    # opposite is more than 135 degrees apart: a bend on the way is none, a triangle is
    assert both_ways_mps((a_pass(10, 20.0), a_pass(150, 24.0))) == pytest.approx(22.0)
    assert np.isnan(both_ways_mps((a_pass(10, 20.0), a_pass(130, 24.0))))


def test_passes_are_found_by_themselves():
    found = analyse(up_and_down())
    assert [round(p.heading_deg / 10) * 10 for p in found.passes] == [90, 270]
    for p in found.passes:
        assert p.best_2s_mps == pytest.approx(22.0, abs=0.1)
        assert 6 < p.end_s - p.start_s < 9  # eight seconds, less the ramps
    assert found.both_ways_mps == pytest.approx(22.0, abs=0.1)


def test_a_spike_is_not_speed():
    track = up_and_down()
    spiked = track.receiver_speed_mps.copy()
    spiked[100] = 61.0
    found = analyse(dataclasses.replace(track, receiver_speed_mps=spiked))
    assert found.raw_peak_mps == 61.0
    assert found.peak_mps < 22.6
    assert found.track.spikes == 1


def test_a_position_that_jumps_is_left_out():
    track = up_and_down()
    north = track.latitude_deg.copy()
    north[200] += 40 / 111_168
    bare = dataclasses.replace(track, latitude_deg=north, receiver_speed_mps=np.full(len(track), np.nan))
    found = analyse(bare)
    assert found.track.speed_source == "positions"
    assert found.peak_mps < 25


def test_a_gap_stays_a_gap():
    track = up_and_down()
    keep = np.ones(len(track), dtype=bool)
    keep[100:130] = False
    cut = track.taken(np.flatnonzero(keep))
    found = analyse(cut)
    assert found.track.gaps_s == pytest.approx(np.array([[9.9, 13.0]]))
    inside = (found.track.time_s > 10.1) & (found.track.time_s < 12.8)
    assert np.all(np.isnan(found.track.speed_mps[inside]))
    assert found.distance_m < analyse(track).distance_m


def test_best_mean_never_reaches_across_a_gap():
    time = np.arange(0, 4, 0.1)
    speed = np.full(40, 10.0)
    speed[18:22] = np.nan
    assert best_mean(time, speed, 1.0) == pytest.approx(10.0)
    assert np.isnan(best_mean(time, speed, 2.0))


@given(st.floats(0.3, 2.0))
def test_longer_windows_never_hold_more_speed(window):
    found = analyse(up_and_down(seed=4))
    time, speed = found.track.time_s, found.track.speed_mps
    assert best_mean(time, speed, window) <= found.peak_mps + 1e-9
    assert best_mean(time, speed, 2 * window) <= best_mean(time, speed, window) + 1e-9


def test_a_clock_that_stutters_and_a_boat_that_stands():
    track = up_and_down()
    stuttering = track.time_s.copy()
    stuttering[50] = stuttering[49]
    stuttering[80] = stuttering[70]
    assert len(analyse(dataclasses.replace(track, time_s=stuttering)).passes) == 2
    still = lay(np.zeros(100), 0.0, speed=np.full(100, 0.05))
    assert analyse(still).passes == ()


def test_next_to_nothing_is_no_track():
    tiny = lay(np.ones(2), 0.0)
    found = analyse(tiny)
    assert found.passes == ()
    assert np.isnan(found.peak_mps)
    with pytest.raises(InvalidValue, match="EqualLengths"):
        TrackSamples(
            time_s=np.zeros(3), latitude_deg=np.zeros(2), longitude_deg=np.zeros(3),
            receiver_speed_mps=np.zeros(3), start_unix_s=0.0,
        )  # fmt: skip
