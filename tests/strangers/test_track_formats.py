"""Track files of every kind with what is wrong with real ones: what is read is the truth, or something was said."""

import dataclasses
from collections.abc import Callable

import numpy as np
import pytest

from kunstflug.core.quantity.errors import KunstflugError
from kunstflug.core.tracks import TrackSamples, analyse
from kunstflug.core.tracks.plausible import Trouble, sift
from kunstflug.files.track_file import read_track
from tests.amount import amount
from tests.core.tracks.truth import laps, logged
from tests.files.makers import KINDS

Fault = Callable[[TrackSamples, np.random.Generator], TrackSamples]


def speeds(change: Callable[[np.ndarray], np.ndarray]) -> Fault:
    return lambda t, rng: dataclasses.replace(t, receiver_speed_mps=change(t.receiver_speed_mps))


def without_a_fix_at_first(t: TrackSamples, rng: np.random.Generator) -> TrackSamples:
    known = np.arange(len(t)) >= 5
    return dataclasses.replace(t, latitude_deg=t.latitude_deg * known, longitude_deg=t.longitude_deg * known)


FAULTS: dict[str, Fault] = {
    "as it is": lambda t, rng: t,
    "speeds of nothing": speeds(np.zeros_like),
    "a speed that is stuck": speeds(lambda v: np.full(len(v), np.mean(v))),
    "a speed stuck at its top": speeds(lambda v: np.full(len(v), np.max(v))),
    "km/h for m/s": speeds(lambda v: 3.6 * v),
    "mph for m/s": speeds(lambda v: v / 0.44704),
    "knots for m/s": speeds(lambda v: v / 0.514444),
    "mph for knots": speeds(lambda v: 1.1508 * v),
    "knots for mph": speeds(lambda v: v / 1.1508),
    "speeds late by a sample": speeds(lambda v: np.roll(v, 1)),
    "whole seconds": lambda t, rng: dataclasses.replace(t, time_s=np.floor(t.time_s)),
    "samples twice": lambda t, rng: t.taken(np.sort(np.r_[np.arange(len(t)), rng.choice(len(t), 20)])),
    "its halves swapped": lambda t, rng: t.taken(np.roll(np.arange(len(t)), len(t) // 2)),
    "no fix at first": without_a_fix_at_first,
}
WRONG_SPEEDS = [name for name in FAULTS if " for " in name or "stuck" in name or "nothing" in name]


def boat(seed: int, hz: float) -> tuple[float, TrackSamples]:
    rng = np.random.default_rng(seed)
    truth = laps(rng, rng.uniform(10, 17))
    return truth.best(1.0), logged(rng, truth, hz, doppler=0.1, slow=1.0)


@pytest.mark.parametrize("kind", KINDS)
def test_the_best_second_is_true_or_something_was_said(kind):
    """A file whose speed was stuck read a fifth too slow, and nothing was said."""
    for seed in range(amount(1, 2, 10)):
        for hz in (1, 5):
            for name, fault in FAULTS.items():
                best, track = boat(seed, hz)
                try:
                    read = read_track(KINDS[kind](fault(track, np.random.default_rng(seed))))
                except KunstflugError:
                    continue  # in words, which other tests hold
                found = sift(read.samples)
                told = analyse(found.samples)
                slack = max(0.04, 3 * told.best_1s_spread_mps / best)
                assert told.best_1s_mps == pytest.approx(best, rel=slack), (name, hz, seed)
                if np.isfinite(read.samples.receiver_speed_mps).any():
                    unlike = Trouble.UNLIKE in {o.trouble for o in found.odd}
                    assert unlike == (name in WRONG_SPEEDS), (name, hz, seed)
                    assert unlike == any("of its positions" in d.reason for d in read.damages)
                    assert told.track.speed_source == ("positions" if unlike else "receiver")


@pytest.mark.parametrize("radius_m", [6.0, 10.0, 20.0])
@pytest.mark.parametrize("hz", [1, 5, 10])
def test_a_boat_that_only_circles_keeps_its_speeds(radius_m, hz):
    """A chord is shorter than the way: no reason to doubt the receiver."""
    time, speed = np.arange(0, 60, 1 / hz), 8.0
    angle = speed * time / radius_m
    track = TrackSamples(
        time_s=time, latitude_deg=np.degrees(radius_m * np.cos(angle) / 6.37e6),
        longitude_deg=np.degrees(radius_m * np.sin(angle) / 6.37e6), receiver_speed_mps=np.full(len(time), speed),
        start_unix_s=1.78e9,
    )  # fmt: skip
    assert analyse(track).track.speed_source == "receiver"


@pytest.mark.parametrize("turn_s", [1.0, 2.0, 4.0])
def test_a_boat_that_holds_one_speed_round_an_oval_is_not_stuck(turn_s):
    """Its chords are short in the turns; on the straights they are as long as it says."""
    step, speed = 0.1, 12.0
    round_ = np.concatenate([np.zeros(60), np.full(round(turn_s / step), np.pi / turn_s)])
    heading = np.cumsum(np.tile(round_, 12)) * step
    east, north = np.cumsum(speed * step * np.sin(heading)), np.cumsum(speed * step * np.cos(heading))
    rng = np.random.default_rng(2)
    track = TrackSamples(
        time_s=np.arange(len(heading)) * step, latitude_deg=47 + np.degrees(north / 6.37e6),
        longitude_deg=np.degrees(east / 6.37e6) / np.cos(np.radians(47)),
        receiver_speed_mps=speed + rng.normal(0, 0.03, len(heading)), start_unix_s=1.78e9,
    )  # fmt: skip
    assert sift(track).odd == ()


@pytest.mark.parametrize("only", ["RMC", "GGA"])
def test_a_log_of_one_sentence_alone(only):
    """RMC alone has all but an accuracy; GGA alone has neither date nor speed, and its positions are enough."""
    best, track = boat(3, 5)
    lines = [line for line in KINDS["NMEA"](track).splitlines() if only.encode() in line]
    read = read_track(b"\r\n".join(lines))
    assert read.damages == ()
    np.testing.assert_allclose(read.samples.time_s, track.time_s, atol=1e-3)
    told = analyse(sift(read.samples).samples)
    assert told.track.speed_source == ("receiver" if only == "RMC" else "positions")
    assert np.isfinite(read.samples.start_unix_s) == (only == "RMC")
    assert told.best_1s_mps == pytest.approx(best, rel=max(0.01, 3 * told.best_1s_spread_mps / best))
