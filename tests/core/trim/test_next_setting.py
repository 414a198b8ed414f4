"""The next setting on boats whose best one nobody knows, beside a search by hand and a grid."""

import numpy as np
import pytest
from scipy import stats
from tests.core.trim.searching import coordinate, grid, ours
from tests.pond.trim_worlds import boat_of

from kunstflug.core.trim import next_setting as n
from kunstflug.core.trim.cliff import Sight, cliff_of
from kunstflug.core.trim.curve import Points, curve_of
from kunstflug.core.trim.next_setting import Advice, Knob, TrimKnowledge, next_setting


def known(at, read, day=None, sights=None, uses=None, scatter=0.006):
    at = np.array(at, dtype=float).reshape(len(read), -1)
    sights = sights or [Sight.CALM] * len(read)
    days = np.array(day if day is not None else range(len(read)))
    points = Points(at=at, read=np.array(read), spread=np.full(len(read), scatter), day=days, repeats=1e-6)
    return TrimKnowledge(
        curve=curve_of(points),
        cliff=cliff_of(at, sights, None if uses is None else uses(at), 0.05),
        uses=uses,
        frightened=[k for k, sight in enumerate(sights) if sight is not Sight.CALM],
    )


def far_from_it(at):
    return np.full(len(at), 0.3)


KNOB = (Knob(name="depth", step=1e-3, low=-6, high=6),)
RISING = ([0, 1, 2], [0.0, 0.02, 0.04])


def test_worth_of_a_run_is_what_it_lifts_the_best_mean_by_played_through():
    """Knowledge gradient of three settings, one run each, against two hundred thousand readings drawn."""
    mean = np.array([0.0, 0.004, -0.002])
    root = np.array([[0.01, 0, 0], [0.004, 0.012, 0], [0.001, 0.002, 0.02]])
    covariance, scatter = root @ root.T, 0.015
    found = n._worth(mean, covariance, scatter)
    rng = np.random.default_rng(2)
    truth = mean[:, np.newaxis] + root @ rng.standard_normal((3, 200_000))
    for k in range(3):
        worths = []
        for runs in n.IN_A_ROW:
            read = truth[k] + rng.normal(0, scatter / np.sqrt(runs), truth.shape[1])
            gain = covariance[:, k] / (covariance[k, k] + scatter**2 / runs)
            after = mean[:, np.newaxis] + gain[:, np.newaxis] * (read - mean[k])
            worths.append((np.mean(np.max(after, axis=0)) - mean.max()) / runs)
        assert found[k] == pytest.approx(max(worths), rel=0.05)


def test_it_goes_on_the_way_that_paid():
    found = next_setting(known(*RISING, uses=far_from_it), KNOB)
    assert found.advice is Advice.TRY
    assert found.at[0] > 2
    assert found.better > 0.55


def test_worse_is_two_hundredths_slower_on_the_same_normal_curve():
    what = known(*RISING, uses=far_from_it)
    found = next_setting(what, KNOB)
    mean, spread = what.curve.beside(found.at[np.newaxis], np.array([2.0]))
    assert found.better == pytest.approx(stats.norm.cdf(mean[0] / spread[0]), rel=1e-6)
    assert found.worse == pytest.approx(stats.norm.cdf((-0.02 - mean[0]) / spread[0]), rel=1e-6)


def test_never_past_a_margin_nor_out_of_the_range():
    edge = lambda at: np.where(at[:, 0] > 2.5, 1.4, 0.3)  # noqa: E731
    found = next_setting(known(*RISING, uses=edge), KNOB)
    assert found.at[0] <= 2.0
    tight = (Knob(name="depth", step=1e-3, low=0, high=2),)
    assert next_setting(known(*RISING, uses=far_from_it), tight).at[0] <= 2.0


def test_it_says_that_a_margin_holds_it():
    edge = lambda at: np.where(at[:, 0] > 2.5, 1.4, 0.3)  # noqa: E731
    found = next_setting(known([0, 1, 2] * 6, [0.0, 0.03, 0.06] * 6, uses=edge), KNOB)
    assert found.advice is Advice.HELD
    assert found.at[0] == 2


def test_enough_where_the_curve_is_known_and_flat_at_its_top():
    at = [-4, -3, -2, -1, 0, 1, 2, 3, 4] * 4
    read = [-0.004 * x * x / 2 for x in at]
    found = next_setting(known(at, read, uses=far_from_it), KNOB)
    assert found.advice is Advice.ENOUGH
    assert abs(found.at[0]) <= 1


def test_one_setting_is_run_again_where_runs_scatter_more_than_settings_differ():
    rng = np.random.default_rng(1)
    at = [0, 1, 2, 3] * 2
    read = [-0.001 * (x - 2) ** 2 + e for x, e in zip(at, rng.normal(0, 0.03, 8), strict=True)]
    said = {next_setting(known(at[:k], read[:k], uses=far_from_it, scatter=0.03), KNOB).advice for k in range(4, 9)}
    assert said & {Advice.AGAIN, Advice.TRY}


def test_back_after_a_step_that_was_worse_or_frightening():
    worse = known([0, 0, 0, 2, 2], [0.0, 0.002, 0.0, -0.06, -0.06])
    found = next_setting(worse, KNOB, (np.array([2.0]), False))
    assert found.advice is Advice.BACK
    assert found.at[0] == 0
    fast = known([0, 0, 2], [0.0, 0.0, 0.05], sights=[Sight.CALM, Sight.CALM, Sight.OVER])
    found = next_setting(fast, KNOB, (np.array([2.0]), True))
    assert found.advice is Advice.BACK
    assert found.at[0] == 0
    # nor does it go that far, the same way, again
    assert next_setting(fast, KNOB).at[0] < 2


def test_a_knob_that_nobody_turned_is_turned():
    two = (*KNOB, Knob(name="strut", step=0.5, low=-6, high=6))
    at = [[x, 0] for x in (-2, -1, 0, 1, 2)] * 3
    read = [-0.004 * x * x for x, _ in at]
    found = next_setting(known(at, read, uses=far_from_it), two)
    assert found.advice is Advice.TRY
    assert found.at[1] != 0


@pytest.mark.no_cover
@pytest.mark.long
def test_it_finds_the_best_setting_in_fewer_runs_than_a_grid_or_a_search_along_each_knob():
    """Ten boats of those that ``tests.benchmarks.trim`` prints, their runs scattered by 1.5 %."""
    cases = [boat_of("first", seed) for seed in range(10)]
    known_to, blind, hand, grids = (
        [search(boat, seed) for seed, boat in enumerate(cases)]
        for search in (lambda b, s: ours(b, s, doubt=0.07), ours, coordinate, grid)
    )
    assert np.mean([f.worst_margin > 1.0 for f in known_to]) <= 0.1
    assert np.mean([f.worst_margin > 1.0 for f in blind]) <= 0.3
    after = [np.mean([f.parts[17] for f in found]) for found in (known_to, blind, hand, grids)]
    assert after[0] > 0.85
    assert after[1] > max(after[2:]) + 0.15
    assert all(np.all(f.turned > 1) for f in known_to)
