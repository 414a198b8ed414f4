"""The smoother: against closed forms, against an independent smoother, and on boats whose motion is known."""

import dataclasses

import numpy as np
import pytest
from pykalman import KalmanFilter
from tests.amount import amount
from tests.core.tracks.truth import laps, logged

from kunstflug.core.tracks import analyse
from kunstflug.core.tracks.plausible import Trouble, sift
from kunstflug.core.tracks.smoother import Noise, _run, _transition, noise_of, smoothed

QUIET = Noise(white=1e-3, wander=0.0, slow=0.0)


@pytest.mark.parametrize("acceleration", [0.0, 2.0])
def test_constant_speed_and_acceleration_come_out_as_they_went_in(acceleration):
    time = np.arange(0, 6, 0.1)
    way = 12.0 * time + acceleration / 2 * time**2
    found = smoothed(time, np.vstack([way, np.zeros(len(time))]), False, QUIET)
    inside = slice(5, -5)
    np.testing.assert_allclose(found.speed[0][inside], (12.0 + acceleration * time)[inside], atol=0.02)
    np.testing.assert_allclose(found.place[0], way, atol=0.01)
    assert np.all(found.doubted == 1)


@pytest.mark.parametrize("of_speed", [False, True])
def test_against_an_independent_smoother(of_speed):
    """The same model in a general library: state, spread, at uneven times and with a sample missing."""
    rng = np.random.default_rng(3)
    time = np.cumsum(rng.uniform(0.05, 0.6, 60))
    values = 15 * time + rng.normal(0, 1, 60) if not of_speed else 15 + rng.normal(0, 1, 60)
    values[20] = np.nan
    white, wander, slow, tau, swing = 0.4, 0.5, 2.0, 1.0, 4.0
    if of_speed:
        wander = slow = 0.0
    place, speed, spread, *_ = _run(
        time, values[None], np.ones(60), np.full(60, swing), of_speed, white, wander, slow, tau, 1e9, False
    )
    transitions, noises = [], []
    for dt in np.diff(time):
        f, q = np.empty((4, 4)), np.empty((4, 4))
        _transition(dt, tau, f, q)
        f[3, 3] = np.exp(-(wander**2) / (2 * slow**2) * dt) if slow else 1.0
        q *= swing**2
        q[3, 3] = slow**2 * (1 - f[3, 3] ** 2)
        transitions.append(f)
        noises.append(q + 1e-15 * np.eye(4))
    first = values[0]
    reference = KalmanFilter(
        transition_matrices=np.array(transitions),
        transition_covariance=np.array(noises),
        observation_matrices=np.array([[0.0, 1, 0, 0] if of_speed else [1.0, 0, 0, 1]]),
        observation_covariance=np.array([[white**2]]),
        initial_state_mean=[0.0, first, 0, 0] if of_speed else [first, 0, 0, 0],
        initial_state_covariance=np.diag([1.0 if of_speed else 1e4, 2500.0, swing**2, slow**2]),
    )
    means, covariances = reference.smooth(np.ma.masked_invalid(values[:, None]))
    np.testing.assert_allclose(place[0], means[:, 0], atol=1e-5 * np.ptp(place[0]))
    np.testing.assert_allclose(speed[0], means[:, 1], atol=1e-4)
    np.testing.assert_allclose(spread, np.sqrt(covariances[:, 1, 1]), rtol=1e-4)


BOATS = amount(12, 25, 25)


def errors(seeds, hz, **receiver):
    """Error of the best second over the truth, and its size in units of its own spread."""
    found = []
    for seed in range(seeds):
        rng = np.random.default_rng(seed)
        truth = laps(rng, rng.uniform(20, 60))
        read = analyse(sift(logged(rng, truth, hz, **receiver)).samples)
        best = truth.best(1.0)
        found.append((read.best_1s_mps / best - 1, (read.best_1s_mps - best) / read.best_1s_spread_mps))
    return np.array(found).T


@pytest.mark.parametrize("hz", [25, 10, 5])
@pytest.mark.parametrize("lag_s", [0.0, 0.3])
def test_best_second_with_a_receivers_own_speed(hz, lag_s):
    """0.5 % is what we aim at; what is behind it stands in docs/model.md, Tracks."""
    off, _ = errors(BOATS, hz, doppler=0.1, lag_s=lag_s, dropout_s=2.0)
    assert np.max(np.abs(off)) < 0.005


def test_best_second_with_a_receivers_own_speed_once_a_second():
    off, _ = errors(BOATS, 1, doppler=0.1)
    assert np.max(np.abs(off)) < 0.015


@pytest.mark.parametrize(
    ("hz", "slow", "usual", "worst"),
    [(25, 1.0, 0.01, 0.02), (10, 1.0, 0.01, 0.02), (10, 3.0, 0.02, 0.045), (1, 2.0, 0.02, 0.05)],
)
def test_best_second_from_positions_alone(hz, slow, usual, worst):
    off, sigmas = errors(BOATS, hz, slow=slow)
    assert np.sqrt(np.mean(off**2)) < usual
    assert np.max(np.abs(off)) < worst
    assert np.mean(np.abs(sigmas) < 2.5) > 0.75  # the best of several passes is a little too good


@pytest.mark.parametrize("hz", [10, 5, 1])
@pytest.mark.parametrize("doppler", [0.1, None])
def test_spikes_are_no_speed(hz, doppler):
    """Positions alone at 1 Hz once read +32 % on average, worst +567 %, with faults."""
    off, _ = errors(BOATS, hz, doppler=doppler, spikes=3)
    assert np.mean(off) < 0.03
    assert np.max(off) < (0.03 if hz > 1 else 0.25)  # two spikes side by side, a second apart, look like a boat
    assert np.min(off) > (-0.02 if hz > 1 else -0.08)


@pytest.mark.parametrize(("doppler", "worst"), [(0.1, 0.06), (None, 0.08)])
def test_short_peaks_once_a_second_stay(doppler, worst):
    """They were once removed as spikes: -29 %."""
    for seed in range(12):
        rng = np.random.default_rng(seed)
        truth = laps(rng, rng.uniform(20, 45), hold=(0.8, 1.5), launch=10.0)
        read = analyse(sift(logged(rng, truth, 1, doppler=doppler)).samples)
        assert read.best_1s_mps == pytest.approx(truth.best(1.0), rel=worst)
        assert read.best_1s_mps == pytest.approx(truth.best(1.0), abs=3 * read.best_1s_spread_mps)


def test_the_spread_holds_the_truth():
    for hz, doppler in ((10, None), (10, 0.1), (1, None), (25, 0.1)):
        inside = []
        for seed in range(10):
            rng = np.random.default_rng(seed)
            truth = laps(rng, rng.uniform(20, 60))
            track = analyse(sift(logged(rng, truth, hz, doppler=doppler)).samples).track
            known = np.isfinite(track.speed_mps)
            off = track.speed_mps[known] - np.interp(track.time_s[known], truth.time, truth.speed)
            inside.append(np.mean(np.abs(off) < 1.2816 * track.spread_mps[known]))
        assert 0.55 < np.mean(inside) < 0.97, (hz, doppler)  # 80 % is aimed at


def test_the_noise_is_told_from_the_samples():
    rng = np.random.default_rng(1)
    time = np.arange(0, 120, 0.1)
    calm = noise_of(time, (20 + np.sin(time) + rng.normal(0, 0.03, len(time)))[None], True)
    rough = noise_of(time, (20 + np.sin(time) + rng.normal(0, 1.0, len(time)))[None], True)
    assert (calm.white, rough.white) == (0.03, 1.0)


def test_whole_second_stamps_of_a_fast_receiver_are_spread():
    """They once lost nine tenths of the samples without a word."""
    rng = np.random.default_rng(2)
    truth = laps(rng, 30.0)
    track = logged(rng, truth, 10, doppler=0.1)
    cut = sift(dataclasses.replace(track, time_s=np.floor(track.time_s)))
    assert [odd.trouble for odd in cut.odd] == [Trouble.WHOLE]
    assert len(cut.samples) == len(track)
    np.testing.assert_allclose(cut.samples.time_s, track.time_s, atol=0.11)
    assert analyse(cut.samples).best_1s_mps == pytest.approx(truth.best(1.0), rel=0.01)


def test_samples_out_of_order_are_put_in_order_and_it_is_said():
    rng = np.random.default_rng(2)
    track = logged(rng, laps(rng, 30.0), 5, doppler=0.1)
    shuffled = np.arange(len(track))
    for k in range(0, len(track) - 20, 20):
        shuffled[k : k + 20] = np.roll(shuffled[k : k + 20], 10)
    put = sift(track.taken(shuffled))
    assert [odd.trouble for odd in put.odd] == [Trouble.SHUFFLED]
    np.testing.assert_allclose(put.samples.time_s, track.time_s, atol=1e-6)


def test_a_logger_that_writes_when_it_likes_has_no_gaps():
    """Of 2736 m once 686 m were counted."""
    rng = np.random.default_rng(5)
    truth = laps(rng, 25.0, passes=12)
    track = logged(rng, truth, 10, doppler=0.1)
    kept = [0]
    while kept[-1] < len(track) - 40:
        kept.append(kept[-1] + int(rng.choice([1, 1, 2, 10, 30])))
    read = analyse(sift(track.taken(np.array(kept))).samples)
    assert len(read.track.gaps_s) == 0
    way = float(np.sum(truth.speed[truth.time <= read.duration_s]) * 0.01)
    assert read.distance_m == pytest.approx(way, rel=0.02)


def test_a_fix_that_the_receiver_doubts_counts_less():
    """One position in five is metres wrong, and the receiver reports which."""
    off = {True: [], False: []}
    for seed in range(12):
        rng = np.random.default_rng(seed)
        truth = laps(rng, rng.uniform(20, 40))
        track = logged(rng, truth, 5, slow=0.5)
        poor = rng.random(len(track)) < 0.2
        shift = rng.normal(0, 2.5, (2, len(track))) * poor / 111_168.0
        track = dataclasses.replace(
            track, latitude_deg=track.latitude_deg + shift[0], longitude_deg=track.longitude_deg + shift[1]
        )
        for told in off:
            accuracy = np.where(poor, 5.0, 0.6) if told else np.full(len(track), np.nan)
            read = analyse(sift(dataclasses.replace(track, accuracy_m=accuracy)).samples).track
            known = np.isfinite(read.speed_mps)
            true = np.interp(read.time_s[known], truth.time, truth.speed)
            off[told].append(np.sqrt(np.mean((read.speed_mps[known] - true) ** 2)))
    assert np.mean(off[True]) < 0.85 * np.mean(off[False])


def test_a_long_track_is_the_same_in_parts():
    rng = np.random.default_rng(7)
    truth = laps(rng, 30.0, passes=360)
    track = logged(rng, truth, 10, doppler=0.1)
    assert len(track) > 41_000
    speed = track.receiver_speed_mps[None]
    noise = Noise(white=0.1, wander=0.0, slow=0.0)
    whole = smoothed(track.time_s, speed, True, noise)
    alone = smoothed(track.time_s[19_000:22_000].copy(), speed[:, 19_000:22_000].copy(), True, noise)
    np.testing.assert_allclose(whole.speed[0, 19_500:21_500], alone.speed[0, 500:2500], atol=1e-3)
