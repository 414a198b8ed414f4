"""The chance of passing the margin: what was seen moves it the right way, and it is what it says on many boats."""

import numpy as np
import pytest
from scipy import special, stats

from kunstflug.core.trim import cliff as c
from kunstflug.core.trim.cliff import Sight, cliff_of

STEPS = np.arange(5.0)[:, np.newaxis]
NOTHING = np.zeros((0, 1))


def test_before_any_run_it_is_the_normal_law_by_hand():
    """Level and slope are normal, so the use is, and with the width of the edge its chance is one normal tail."""
    found = cliff_of(NOTHING, []).chance(STEPS, None)
    wide = np.sqrt(c.USUAL_USE[1] ** 2 + (STEPS[:, 0] * c.A_STEP) ** 2 + c.OVER_WIDTH**2)
    assert found == pytest.approx(special.ndtr((c.USUAL_USE[0] - 1.0) / wide), abs=2e-3)


def test_a_known_margin_is_known_to_its_doubt():
    """A lognormal factor on 0.9: past 1 where it is over 1/0.9, the edge's width beside it."""
    found = cliff_of(NOTHING, [], doubt=0.1, said=np.zeros(0)).chance(np.zeros((1, 1)), np.array([0.9]))
    factors = stats.lognorm(0.1).rvs(200_000, random_state=1)
    assert found[0] == pytest.approx(np.mean(special.ndtr((0.9 * factors - 1.0) / c.OVER_WIDTH)), abs=4e-3)


def test_runs_tell_of_it_with_a_speed_or_without():
    at = np.array([[0.0], [2.0]])
    there = np.array([[2.0], [3.0]])
    calm, warned, over = (cliff_of(at, [Sight.CALM, sight]).chance(there, None) for sight in Sight)
    assert np.all(calm < warned)
    assert np.all(warned < over)
    assert over[1] > 0.8
    assert calm[1] < 0.5 * cliff_of(at[:1], [Sight.CALM]).chance(there, None)[1]


def test_a_boat_that_runs_calm_past_the_models_margin_moves_it():
    at = np.zeros((6, 1))
    before = cliff_of(at[:0], [], np.zeros(0), 0.15).chance(at[:1], np.array([1.05]))[0]
    after = cliff_of(at, [Sight.CALM] * 6, np.full(6, 1.05), 0.15).chance(at[:1], np.array([1.05]))[0]
    assert before > 0.5
    assert after < 0.3


def test_its_chances_are_how_often_it_comes():
    """Boats drawn from what is usual, four calm runs each: said and come agree within 0.03."""
    rng = np.random.default_rng(3)
    said, came = [], []
    while len(said) < 400:
        level, slope = rng.normal(*c.USUAL_USE), rng.normal(0, c.A_STEP)
        uses = level + slope * np.arange(3)
        over = rng.random(3) < special.ndtr((uses - 1.0) / c.OVER_WIDTH)
        light = rng.random(3) < c.SEEN_FOR_NOTHING + (c.WARNS - c.SEEN_FOR_NOTHING) * special.ndtr(
            (uses - c.WARNS_AT) / c.WARNS_WIDTH
        )
        sights = [Sight.OVER if o else Sight.WARNED if w else Sight.CALM for o, w in zip(over, light, strict=True)]
        said.append(cliff_of(STEPS[:3], sights).chance(STEPS[4:], None)[0])
        came.append(special.ndtr((level + 4 * slope - 1.0) / c.OVER_WIDTH))
    assert np.mean(said) == pytest.approx(np.mean(came), abs=0.03)
    high = np.array(said) > 0.3
    assert np.mean(np.array(said)[high]) == pytest.approx(np.mean(np.array(came)[high]), abs=0.12)
