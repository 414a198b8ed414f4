"""The simulated pond: seeded, with its faults, and not the forecast itself."""

import numpy as np
import pytest
from tests import samples

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.tracks import analyse
from kunstflug.pond import Weather, run_outing
from kunstflug.pond.course import Course

START = 1_780_000_000.0
CALM = Weather(wind_mps=0.0)


def outing(seed=1, **more):
    return run_outing(samples.setup(), seed=seed, start_unix_s=START, **more)


def test_the_same_seed_gives_the_same_outing():
    one, two = outing(), outing()
    np.testing.assert_array_equal(one.track.receiver_speed_mps, two.track.receiver_speed_mps)
    assert one.readings == two.readings
    assert outing(seed=2).track.receiver_speed_mps[100] != one.track.receiver_speed_mps[100]


def test_what_is_logged_is_what_the_boat_did():
    made = outing(weather=CALM)
    found = analyse(made.track)
    assert len(found.passes) == 4
    # 0.12 m/s of noise on the receiver's speed, averaged over two seconds
    assert found.best_2s_mps == pytest.approx(made.true_top_mps, abs=0.15)
    assert found.raw_peak_mps > 1.2 * made.true_top_mps  # the spike
    assert found.track.spikes >= 1
    assert len(found.track.gaps_s) == 1


def test_without_faults_there_is_neither_spike_nor_gap():
    found = analyse(outing(faults=False).track)
    assert len(found.track.gaps_s) == 0
    assert found.raw_peak_mps < 1.05 * found.peak_mps


def test_results_scatter_about_the_forecast_and_never_equal_it():
    f = forecast(samples.setup())
    tops = np.array([outing(seed=s, weather=CALM, faults=False, passes=2).true_top_mps for s in range(12)])
    assert np.std(tops) > 0.02 * f.point.speed_mps
    inside = np.mean((tops > f.low.speed_mps) & (tops < f.high.speed_mps))
    # 80 % band, twelve boats: fewer than five inside has a chance below one in a thousand (binomial)
    assert inside >= 5 / 12
    assert np.sum(np.isclose(tops, f.point.speed_mps, rtol=1e-4)) <= 1  # one in twelve may come close by chance


def test_one_boat_stays_the_same_over_outings():
    tops = [outing(seed=s, boat_seed=5, weather=CALM).true_top_mps for s in (1, 2)]
    assert tops[0] == pytest.approx(tops[1], rel=1e-9)


def test_wind_splits_the_ways_and_both_ways_takes_it_out():
    calm = analyse(outing(weather=CALM, boat_seed=5).track)
    windy = analyse(outing(weather=Weather(wind_mps=5.0, wind_from_deg=62.0), boat_seed=5).track)
    ways = {round(p.heading_deg): p.best_2s_mps for p in windy.passes}
    assert ways[62] < ways[242] - 0.2  # the first straight leads against it
    # almost: air drag rises with the square of the airspeed, so the mean in wind is slightly slower
    assert windy.both_ways_mps == pytest.approx(calm.both_ways_mps, rel=0.01)


def test_the_controllers_log_agrees_with_the_drive():
    made = outing(weather=CALM)
    full = made.controller.columns["throttle_percent"] > 97
    assert np.sum(full) > 50
    f = forecast(samples.setup()).point
    assert np.median(made.controller.columns["rpm"][full]) == pytest.approx(f.rpm, rel=0.1)
    assert np.median(made.controller.columns["current_a"][full]) == pytest.approx(f.current_a, rel=0.35)
    assert made.mah_used == pytest.approx(
        np.trapezoid(made.controller.columns["current_a"], made.controller.time_s) / 3.6, rel=0.02
    )


def test_gun_readings_come_in_their_order_and_are_warm():
    readings = outing().readings
    assert [r.place for r in readings] == ["controller", "motor front", "motor back", "pack", "connector", "water out"]
    minutes = [r.minutes_after for r in readings]
    assert minutes == sorted(minutes)
    assert all(16 < r.celsius < 120 for r in readings)
    assert readings[1].celsius > 18  # warmer than the air


@pytest.mark.parametrize("way", [0.0, 100.0, 140.0, 183.9, 200.0, 320.0, 340.0])
def test_the_course_is_closed_and_has_no_jumps(way):
    course = Course()
    here, there = course.at(way), course.at(way + 0.01)
    assert np.hypot(there[0] - here[0], there[1] - here[1]) == pytest.approx(0.01, rel=1e-3)
    lap = course.at(way + course.lap_m)
    assert lap[:2] == pytest.approx(here[:2], abs=1e-9)
