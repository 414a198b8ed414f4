"""The next setting on boats whose best one nobody knows, beside a grid and a search along one knob after another."""

import numpy as np
import pytest
from scipy import integrate, stats
from tests.core.trim.searching import coordinate, grid, ours

from kunstflug.core.trim.curve import Points, curve_of
from kunstflug.core.trim.next_setting import Advice, Knob, expected_improvement, next_setting
from kunstflug.pond.trim_world import TrimWorld


@pytest.mark.parametrize(("mean", "spread"), [(0.01, 0.02), (-0.03, 0.02), (0.0, 0.004), (0.05, 0.001)])
def test_expected_improvement_is_its_integral(mean, spread):
    """By quadrature of what it is (its closed form: Jones, Schonlau, Welch 1998, eq. 15)."""
    found = integrate.quad(
        lambda y: y * stats.norm.pdf(y, mean, spread), 0, mean + 12 * spread if mean > 0 else 0.2, points=[max(mean, 0)]
    )[0]
    got = float(expected_improvement(np.array([mean]), np.array([spread]))[0])
    assert got == pytest.approx(found, rel=1e-6, abs=1e-12)


def test_no_spread_leaves_what_is_sure():
    assert expected_improvement(np.array([0.02, -0.02]), np.array([1e-12, 1e-12])) == pytest.approx([0.02, 0.0])


def points(at, read, day=None):
    at = np.array(at, dtype=float).reshape(len(read), -1)
    return Points(
        at=at,
        read=np.array(read),
        spread=np.full(len(read), 0.006),
        day=np.array(day if day is not None else range(len(read))),
    )


KNOB = (Knob(name="depth", step=1e-3, low=-6, high=6),)


def test_it_goes_on_the_way_that_paid():
    found = next_setting(curve_of(points([0, 1, 2], [0.0, 0.02, 0.04])), KNOB, lambda _: True)
    assert found.advice is Advice.TRY
    assert found.at[0] > 2
    assert found.better > 0.6


def test_worse_is_two_hundredths_slower_on_the_same_normal_curve():
    """Gain and chance give the curve's mean and spread (expected improvement in closed form); worse is its tail."""
    found = next_setting(curve_of(points([0, 1, 2], [0.0, 0.02, 0.04])), KNOB, lambda _: True)
    z = stats.norm.ppf(found.better)
    spread = found.gain / (z * found.better + stats.norm.pdf(z))
    assert found.worse == pytest.approx(stats.norm.cdf((-0.02 - z * spread) / spread), rel=1e-6)


def test_never_past_a_margin_nor_out_of_the_range():
    found = next_setting(curve_of(points([0, 1, 2], [0.0, 0.02, 0.04])), KNOB, lambda x: bool(x[0] <= 2.0))
    assert found.at[0] <= 2.0
    tight = (Knob(name="depth", step=1e-3, low=0, high=2),)
    assert next_setting(curve_of(points([0, 1, 2], [0.0, 0.02, 0.04])), tight, lambda _: True).at[0] <= 2.0


def test_it_says_that_a_margin_holds_it():
    found = next_setting(curve_of(points([0, 1, 2], [0.0, 0.03, 0.06])), KNOB, lambda _: False)
    assert found.advice is Advice.HELD
    assert found.at[0] == 2


def test_enough_where_the_curve_is_known_and_flat_at_its_top():
    at = [-4, -3, -2, -1, 0, 1, 2, 3, 4] * 4
    read = [-0.004 * x * x / 2 for x in at]
    found = next_setting(curve_of(points(at, read)), KNOB, lambda _: True)
    assert found.advice is Advice.ENOUGH
    assert abs(found.at[0]) <= 1


def test_back_after_a_step_that_was_worse_or_frightening():
    worse = curve_of(points([0, 0, 0, 2, 2], [0.0, 0.002, 0.0, -0.06, -0.06]))
    found = next_setting(worse, KNOB, lambda _: True, just_tried=True)
    assert found.advice is Advice.BACK
    assert found.at[0] == 0
    fast = curve_of(points([0, 0, 2], [0.0, 0.0, 0.05]))
    found = next_setting(fast, KNOB, lambda _: True, frightened=[2], just_tried=True)
    assert found.advice is Advice.BACK
    assert found.at[0] == 0
    # nor does it go that far, the same way, again
    assert next_setting(fast, KNOB, lambda _: True, frightened=[2]).at[0] < 2


@pytest.mark.no_cover
@pytest.mark.long
def test_it_finds_the_best_setting_in_fewer_runs_than_a_grid_or_a_search_along_each_knob():
    """Fourteen boats of the two hundred that ``tests.benchmarks.trim`` prints."""
    worlds = [TrimWorld.of(seed) for seed in range(14)]
    found = [ours(world, seed) for seed, world in enumerate(worlds)]
    assert max(f.worst_margin for f in found) <= 1.0
    parts = [f.parts[17] for f in found]  # six runs a knob
    assert np.mean(parts) > 0.93
    assert np.median(parts) > 0.93  # 0.97 of the two hundred
    needed = [np.median([run(w, s).needed for s, w in enumerate(worlds)]) for run in (ours, coordinate, grid)]
    assert needed[0] < min(needed[1:])
