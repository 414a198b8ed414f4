"""How steadily a boat ran, of tracks that swing as they were told to."""

import numpy as np
import pytest
from tests.core.tracks.test_turns import driven

from kunstflug.core.tracks import TrackSamples, analyse


def swinging(amount, course_deg_s=0.0, seconds=14.0, hz=10.0):
    """A boat that speeds up, holds 20 m/s with a swing at 1.3 Hz, and eases; its course may swing, too."""
    t = np.arange(0.0, seconds, 1 / (10 * hz))
    level = np.interp(t, [0, 3, seconds - 3, seconds], [5.0, 20.0, 20.0, 5.0])
    held = (t > 3) & (t < seconds - 3)
    v = level * (1 + np.where(held, amount * np.sqrt(2) * np.sin(2 * np.pi * 1.3 * t), 0.0))
    rate = np.where(held, course_deg_s * np.sqrt(2) * np.sin(2 * np.pi * 0.4 * t), 0.0)
    heading = np.radians(np.cumsum(rate) / (10 * hz))
    east, north = (np.cumsum(v * f(heading)) / (10 * hz) for f in (np.sin, np.cos))
    every = slice(None, None, 10)
    return TrackSamples(
        time_s=t[every],
        latitude_deg=50.0 + north[every] / 111_240.0,
        longitude_deg=8.0 + east[every] / (111_320.0 * np.cos(np.radians(50.0))),
        receiver_speed_mps=v[every],
        start_unix_s=float("nan"),
    )


def test_a_boat_that_holds_its_speed_does_not_swing():
    found = analyse(swinging(0.0)).steady
    assert found.speed_swing < 0.006
    assert found.course_swing_deg_s < 1.0


@pytest.mark.parametrize("amount", [0.03, 0.06])
def test_a_swing_of_the_speed_is_found(amount):
    """A sine's standard deviation is its height over sqrt(2); cleaning smooths some of it, a small swing whole."""
    still, found = (analyse(swinging(a)).steady.speed_swing for a in (0.0, amount))
    assert 0.4 * amount < found < 1.3 * amount
    assert found > 2 * still


def test_a_course_that_swings_is_found_and_more_is_more():
    found = [analyse(swinging(0.0, swing)).steady.course_swing_deg_s for swing in (0.0, 6.0, 12.0)]
    assert found == sorted(found)
    assert found[2] > 1.5 * found[1] > 3 * found[0]


def test_what_a_turn_took():
    """20 m/s in, 15 m/s at its slowest: a quarter."""
    parts = [(4, 20.0, 0.0), (2, 15.0, 45.0), (2, 15.0, 45.0), (4, 20.0, 0.0)]
    assert analyse(driven(parts)).steady.turn_loss == pytest.approx(0.25, abs=0.05)


def test_without_passes_or_turns_nothing_is_said():
    still = TrackSamples(
        time_s=np.arange(20) / 10, latitude_deg=np.full(20, 50.0), longitude_deg=np.full(20, 8.0),
        receiver_speed_mps=np.zeros(20), start_unix_s=float("nan"),
    )  # fmt: skip
    found = analyse(still).steady
    assert np.isnan([found.speed_swing, found.course_swing_deg_s, found.turn_loss]).all()


def test_a_boat_that_still_gains_speed_is_steady():
    """What goes up and over like a parabola is no swing."""
    swings = []
    for parts in ([(3, 20, 0), (9, 20, 0), (3, 8, 0)], [(3, 18.5, 0), (4.5, 20, 0), (4.5, 18.5, 0), (3, 8, 0)]):
        swings.append(analyse(driven(parts)).steady.speed_swing)
    flat, bowed = swings
    assert bowed < flat + 0.01
