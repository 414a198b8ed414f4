"""A number off a display: against a simulated world in which the held speed is known."""

import math

import numpy as np
import pytest

from kunstflug.core.evidence.display import OVERSTATES, held_speed


def outing(rng):
    """Held speed of the best of six passes, and what a display that overstates in its own way shows of the best two."""
    held = rng.uniform(12, 45) * np.exp(rng.normal(0, 0.01, 6))
    shown = held * (1 + rng.uniform(0.01, 0.04, 6) * rng.uniform(0.6, 1.2)) + rng.normal(0, 0.1, 6)
    best, second = np.sort(shown)[::-1][:2]
    return held[np.argmax(shown)], best, second


def test_eight_of_ten_held_speeds_lie_in_the_band_and_naive_readers_are_too_fast():
    rng = np.random.default_rng(4)
    inside, naive, ours = [], [], []
    for _ in range(800):
        truth, best, second = outing(rng)
        found = held_speed([best], second)
        low, high = found.band_mps
        inside.append(low <= truth <= high)
        naive.append(best / truth - 1)
        ours.append(found.speed_mps / truth - 1)
    assert 0.72 < np.mean(inside) < 0.95
    assert np.mean(naive) > 0.015  # who takes the display at its word thinks the boat 2 % faster than it is
    assert abs(np.mean(ours)) < 0.008


def test_by_hand():
    found = held_speed([51.0 / 3.6])
    assert found.speed_mps * 3.6 == pytest.approx(51.0 / (1 + OVERSTATES))
    # 1.2 % of overstating and 0.15 of 14.2 m/s
    assert found.spread == pytest.approx(math.hypot(0.012, 0.15 / (51.0 / 3.6)))
    low, high = found.band_mps
    assert math.log(high / low) == pytest.approx(2 * 1.2816 * found.spread)


def test_two_instruments_that_disagree_leave_more_open():
    one, two = held_speed([20.0]), held_speed([20.0, 21.0])
    assert two.speed_mps == pytest.approx(one.speed_mps * 20.5 / 20.0)
    assert two.spread > one.spread


def test_a_best_that_stands_alone_is_not_believed_outright():
    near, far = held_speed([20.0], 19.5), held_speed([26.0], 19.5)
    assert not near.lone
    assert far.lone
    assert 19.5 / 1.025 < far.speed_mps < 26.0 / 1.025
    assert far.spread > 3 * near.spread


def test_there_and_back_is_free_of_wind():
    found = held_speed([22.0], None, (22.0, 18.0))
    assert found.both_ways
    assert found.speed_mps == pytest.approx(20.0 / 1.025)


def test_nothing_read_is_nothing():
    assert held_speed([]) is None
    assert held_speed([], 18.0).speed_mps == pytest.approx(18.0 / 1.025)
