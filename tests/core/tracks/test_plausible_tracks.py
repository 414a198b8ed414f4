"""Impossible tracks: what cannot be is named and left out, and nothing costs more than its samples."""

import dataclasses
import time
import tracemalloc

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests.core.tracks.test_tracks import lay, up_and_down

from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.tracks import TrackSamples, analyse
from kunstflug.core.tracks.plausible import FASTEST_MPS, LONGEST_BREAK_S, TooManyPieces, Trouble, sift

DEG = 1 / 111_168.0  # about a metre of latitude


def change(track: TrackSamples, **columns) -> TrackSamples:
    return dataclasses.replace(track, **columns)


def kinds(found) -> list[Trouble]:
    return [o.trouble for o in found.odd]


def join(one: TrackSamples, other: TrackSamples, after_s: float, east_m: float = 0.0) -> TrackSamples:
    """Two tracks one after the other, the second moved in time and to the east."""
    return TrackSamples(
        time_s=np.concatenate([one.time_s, other.time_s + one.time_s[-1] + after_s]),
        latitude_deg=np.concatenate([one.latitude_deg, other.latitude_deg]),
        longitude_deg=np.concatenate([one.longitude_deg, other.longitude_deg + east_m / 75_900]),
        receiver_speed_mps=np.concatenate([one.receiver_speed_mps, other.receiver_speed_mps]),
        start_unix_s=one.start_unix_s,
    )


def test_a_good_track_passes_untouched():
    track = up_and_down()
    found = sift(track)
    assert found.odd == ()
    np.testing.assert_array_equal(found.samples.receiver_speed_mps, track.receiver_speed_mps)


@pytest.mark.parametrize("days", [30, 180])
def test_points_of_another_day_cost_nothing_and_are_named(days):
    """100 points at 10 Hz, then 20 points dated days later: once 2.5 GB and 10 s at every look."""
    track = join(lay(np.full(100, 1.0), 0.0), lay(np.full(20, 1.0), 0.0), days * 86400.0)
    analyse(up_and_down())  # the smoother's import takes a second
    tracemalloc.start()
    start = time.perf_counter()
    raw, found = analyse(track), sift(track)
    analyse(found.samples)
    assert time.perf_counter() - start < 6.0  # milliseconds; patient with a busy machine
    assert tracemalloc.get_traced_memory()[1] < 20e6
    tracemalloc.stop()
    assert len(raw.track.time_s) < 4 * len(track) + 10
    assert len(found.samples) == 100
    assert kinds(found) == [Trouble.BREAK]
    assert found.odd[0].index == 100
    assert found.odd[0].value == pytest.approx(days * 86400.0)


def test_a_break_of_an_hour_stays_a_gap():
    found = sift(join(up_and_down(), up_and_down(), LONGEST_BREAK_S - 60))
    assert found.odd == ()
    assert len(analyse(found.samples).track.gaps_s) == 1


def test_many_short_stretches_cost_what_their_samples_cost():
    """4 000 stretches of three points: once quadratic."""
    clock = (np.arange(12_000) // 3) * 20.0 + (np.arange(12_000) % 3) * 0.1
    track = change(lay(np.full(12_000, 0.5), 0.0), time_s=clock)
    with pytest.raises(InvalidValue) as refused:
        sift(track)
    assert refused.value.given == TooManyPieces(pieces=4000)
    analyse(up_and_down())
    fewer = sift(change(lay(np.full(5_000, 0.5), 0.0), time_s=clock[:5000])).samples
    start = time.perf_counter()
    found = analyse(fewer)
    assert time.perf_counter() - start < 10.0  # about 0.3 s
    assert len(found.track.time_s) < 4 * len(fewer) + 1700


def test_one_sample_for_good_somewhere_else_is_no_speed():
    """One jump of 55 km once gave a best of 15 289 m/s."""
    track = up_and_down()
    far = join(track, lay(np.full(50, 2.0), 0.0, speed=np.full(50, 20.0)), 0.1, east_m=55_000)
    found = sift(far)
    assert kinds(found) == [Trouble.JUMP]
    assert found.odd[0].index == len(track)
    assert found.odd[0].value == pytest.approx(55_000, rel=0.01)
    assert analyse(found.samples).peak_mps == analyse(sift(track).samples).peak_mps


def test_a_fix_far_away_and_back_costs_one_sample():
    track = up_and_down()
    north = track.latitude_deg.copy()
    north[150] += 3000 * DEG
    found = sift(change(track, latitude_deg=north))
    assert [(o.index, o.trouble) for o in found.odd] == [(150, Trouble.JUMP)]
    assert len(found.samples) == len(track) - 1


def test_one_wild_fix_at_the_start_does_not_cost_the_rest():
    track = up_and_down()
    north = track.latitude_deg.copy()
    north[0] += 500_000 * DEG
    assert [o.index for o in sift(change(track, latitude_deg=north)).odd] == [0]


def test_a_sample_alone_between_two_dropouts_has_no_speed():
    """Its position was once read as its speed: 442 m/s."""
    track = lay(np.full(200, 2.0), 90.0)  # 20 m/s from positions alone
    keep = np.ones(200, dtype=bool)
    keep[60:100] = keep[101:140] = False
    cut = track.taken(np.flatnonzero(keep))
    found = analyse(cut)
    alone = np.isclose(found.track.time_s, 10.0)
    assert np.sum(alone) == 1
    assert np.isnan(found.track.speed_mps[alone][0])
    assert found.peak_mps == pytest.approx(20.0, rel=4e-3)  # 2 m each 0.1 s, by hand; laid on a sphere


def test_time_that_goes_back_is_named_and_a_wild_stamp_costs_one_sample():
    track = up_and_down()
    back, ahead, twice = (track.time_s.copy() for _ in range(3))
    back[100] -= 9.9
    ahead[100] += 1e6
    twice[100] = twice[99]
    for clock, kind in ((back, Trouble.BACK), (ahead, Trouble.AHEAD), (twice, Trouble.SAME)):
        found = sift(change(track, time_s=clock))
        assert len(found.samples) == len(track) - 1
        assert [o.index for o in found.odd] == [100]
        assert found.odd[0].trouble is kind
        assert np.all(np.diff(found.samples.time_s) > 0)


def test_a_wild_first_stamp_and_a_clock_that_stands_are_named():
    """They were said to run ahead by nan seconds."""
    track = up_and_down()
    ahead = track.time_s.copy()
    ahead[0] += 1e6
    found = sift(change(track, time_s=ahead)).odd
    assert [(odd.trouble, odd.index) for odd in found] == [(Trouble.AHEAD, 0)]
    assert found[0].value == pytest.approx(1e6, rel=1e-3)
    still = sift(change(track, time_s=np.zeros(len(track)))).odd
    assert {odd.trouble for odd in still} == {Trouble.SAME}
    assert all(odd.value == 0.0 for odd in still)


def test_a_reversed_file_is_turned_round_and_says_so():
    track = up_and_down()
    turned = change(
        track,
        **{n: getattr(track, n)[::-1] for n in ("time_s", "latitude_deg", "longitude_deg", "receiver_speed_mps")},
    )
    found = sift(turned)
    assert kinds(found) == [Trouble.REVERSED]
    assert found.samples.start_unix_s == track.start_unix_s
    assert analyse(found.samples).duration_s == analyse(track).duration_s > 0


def test_speeds_that_no_boat_does():
    track = up_and_down()
    speed = track.receiver_speed_mps.copy()
    speed[[20, 30, 40]] = 131.0, np.inf, -1.0
    found = sift(change(track, receiver_speed_mps=speed))
    assert [(o.index, o.trouble) for o in found.odd] == [(20, Trouble.SPEED), (30, Trouble.SPEED)]
    assert np.all(np.isnan(found.samples.receiver_speed_mps[[20, 30, 40]]))  # a negative speed says "unknown"
    assert len(found.samples) == len(track)


def test_too_fast_a_rate_is_no_logger():
    with pytest.raises(InvalidValue) as refused:
        sift(lay(np.full(50, 0.01), 0.0, dt=0.001))
    assert refused.value.given.rate_hz == pytest.approx(1000)


def test_a_receiver_that_positions_contradict_is_not_believed():
    """A receiver that claims 0 to 100 m/s within a tenth of a second for good, on a boat that goes 10 m/s."""
    speed = np.concatenate([np.full(60, 5.0), np.full(60, 100.0)])
    found = analyse(lay(np.full(120, 1.0), 0.0, speed=speed))
    assert found.track.speed_source == "positions"
    assert found.peak_mps == pytest.approx(10.0, abs=0.1)


wild = st.one_of(
    st.floats(-1e9, 1e9), st.just(float("nan")), st.just(float("inf")), st.floats(0, 60), st.floats(-1e-3, 1e-3)
)


@settings(max_examples=150)
@given(st.lists(st.tuples(wild, wild, wild, wild), max_size=60))
def test_whatever_goes_in_what_comes_out_is_possible(rows):
    table = np.array(rows, dtype=float).reshape(-1, 4)
    try:
        found = sift(
            TrackSamples(
                time_s=table[:, 0], latitude_deg=table[:, 1], longitude_deg=table[:, 2],
                receiver_speed_mps=table[:, 3], start_unix_s=1.78e9,
            )
        )  # fmt: skip
    except InvalidValue:
        return
    left = found.samples
    assert np.all(np.diff(left.time_s) > 0)
    assert np.all(np.isfinite(left.latitude_deg))
    read = analyse(left)
    for value in (read.peak_mps, read.best_1s_mps, read.best_2s_mps, read.both_ways_mps, read.raw_peak_mps):
        assert np.isnan(value) or 0 <= value <= FASTEST_MPS
    assert read.duration_s >= 0
    assert len(read.track.time_s) <= 5 * len(left) + 2
    for odd in found.odd:
        assert 0 <= odd.index < len(rows)
