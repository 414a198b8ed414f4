"""Turns of tracks whose turns are known."""

import numpy as np
import pytest

from kunstflug.core.tracks import TrackSamples, analyse
from kunstflug.core.tracks.turns import find_turns

HZ = 10.0


def driven(parts, noise=0.0, seed=1):
    """A boat that runs parts of (seconds, speed at its end, turn rate in deg/s), from 15 m/s north, as samples."""
    step = 1.0 / (10 * HZ)
    v, heading, east, north, rows, t = 15.0, 0.0, 0.0, 0.0, [], 0.0
    for seconds, end, rate in parts:
        begin = v
        for k in range(round(seconds / step)):
            v = begin + (end - begin) * (k + 1) / round(seconds / step)
            heading += np.radians(rate) * step
            east, north = east + v * np.sin(heading) * step, north + v * np.cos(heading) * step
            t += step
            rows.append((t, east, north, v))
    table = np.array(rows)[:: round(1 / HZ / step)]
    rng = np.random.default_rng(seed)
    metres = table[:, 1:3] + rng.normal(0, noise, (len(table), 2)) if noise else table[:, 1:3]
    latitude = 50.0 + metres[:, 1] / 111_240.0
    longitude = 8.0 + metres[:, 0] / (111_320.0 * np.cos(np.radians(50.0)))
    return TrackSamples(
        time_s=table[:, 0],
        latitude_deg=latitude,
        longitude_deg=longitude,
        receiver_speed_mps=table[:, 3],
        start_unix_s=float("nan"),
    )


@pytest.mark.parametrize(("speed", "rate"), [(10.0, 40.0), (15.0, 60.0), (20.0, 45.0)])
@pytest.mark.parametrize("way", [1, -1])
def test_radius_and_grip_of_a_steady_turn_by_mechanics(speed, rate, way):
    """R = v / w and a = v w = v^2 / R: circular motion."""
    seconds = 180.0 / rate
    track = analyse(driven([(4, speed, 0), (seconds, speed, way * rate), (4, speed, 0)])).track
    (turn,) = find_turns(track)
    w = np.radians(rate)
    assert turn.radius_m == pytest.approx(speed / w, rel=0.08)
    assert turn.lateral_g == pytest.approx(speed * w / 9.80665, rel=0.08)
    assert turn.lateral_g * 9.80665 == pytest.approx(speed**2 / turn.radius_m, rel=0.05)
    assert turn.turned_deg == pytest.approx(way * 180, rel=0.12)
    assert turn.lost < 0.03


def test_what_a_turn_costs():
    track = analyse(driven([(4, 20, 0), (2, 12, 45), (2, 12, 45), (4, 20, 0)])).track
    (turn,) = find_turns(track)
    assert turn.slowest_mps == pytest.approx(12, rel=0.05)
    assert turn.lost == pytest.approx(0.38, abs=0.06)
    assert turn.entry_mps > 17
    assert turn.exit_mps < 14.5


def test_an_oval_has_two_turns_a_lap_and_a_wandering_boat_none():
    lap = [(5, 18, 0), (3, 16, 60), (5, 18, 0), (3, 16, 60)]
    assert len(find_turns(analyse(driven(lap * 3, noise=0.3)).track)) == 6
    wandering = [(3, 18, 8), (3, 18, -8)] * 4
    assert find_turns(analyse(driven(wandering)).track) == ()


def test_left_and_right_are_told_apart_and_come_in_time_order():
    track = analyse(driven([(4, 15, 0), (2, 15, 60), (4, 15, 0), (2, 15, -60), (4, 15, 0)])).track
    assert [np.sign(turn.turned_deg) for turn in find_turns(track)] == [1, -1]


def test_a_slight_bend_is_no_turn():
    """Forty degrees are a bend on the way, seventy are a turn (common practice, no source: 60)."""
    for degrees, turns in ((40.0, 0), (75.0, 1)):
        track = analyse(driven([(4, 15, 0), (degrees / 45.0, 15, 45), (4, 15, 0)])).track
        assert len(find_turns(track)) == turns


def test_a_circle_at_full_speed_is_no_pass():
    found = analyse(driven([(2, 20, 0), (16, 20, 45), (6, 20, 0), (2, 8, 0)])).passes
    (straight,) = (p for p in found if p.end_s - p.start_s > 4)
    assert straight.end_s - straight.start_s < 9


def test_what_goes_on_at_half_of_the_top_speed_is_no_pass():
    (only,) = analyse(driven([(2, 20, 0), (5, 20, 0), (2, 11, 0), (12, 11, 0), (2, 4, 0), (3, 4, 0)])).passes
    assert only.end_s < 9.5


def test_a_dart_of_a_second_is_no_pass():
    dart = [(3, 8, 0), (0.7, 20, 0), (0.5, 20, 0), (0.7, 8, 0), (4, 8, 0), (2, 20, 0), (5, 20, 0), (2, 8, 0), (2, 8, 0)]
    assert len(analyse(driven(dart)).passes) == 1


def test_who_turns_at_walking_pace_does_not_race():
    """Below 4 m/s a boat is brought in (common practice, no source)."""
    for speed, turns in ((3.0, 0), (6.0, 1)):
        track = analyse(
            driven([(2, 15, 0), (3, 15, 0), (3, speed, 0), (4, speed, 0), (4, speed, 45), (4, speed, 0)])
        ).track
        assert len([turn for turn in find_turns(track) if abs(turn.turned_deg) > 90]) == turns
