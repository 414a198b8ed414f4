"""Crossings and splines of our own, held to scipy's, which takes too long to load for a command."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import CubicSpline
from scipy.optimize import brentq
from scipy.special import ndtri

from kunstflug.core.laws.crossing import crossing
from kunstflug.core.propeller.curve import cubics_of
from kunstflug.core.quantity import draws


@given(
    power=st.floats(0.3, 5.0),
    level=st.floats(1e-3, 1e3),
    bend=st.floats(0.0, 10.0),
    within=st.sampled_from([0.0, 1e-12, 1e-6]),
)
def test_a_crossing_is_where_brent_finds_it(power, level, bend, within):
    calls = []

    def function(x):
        calls.append(x)
        return x**power + bend * math.expm1(min(x, 20.0)) - level

    high = (2.0 * level) ** (1.0 / power) + 1.0
    found = crossing(function, 0.0, high, within)
    tried = len(calls)
    assert found == pytest.approx(
        brentq(function, 0.0, high, xtol=1e-15, rtol=1e-14), rel=1e-10, abs=max(within, 1e-13)
    )
    assert tried <= 90


def test_ends_of_one_sign_have_no_crossing():
    with pytest.raises(ValueError, match=r"\("):
        crossing(lambda x: x * x + 1.0, -1.0, 1.0)
    with pytest.raises(ValueError, match=r"\("):
        crossing(lambda x: math.nan, -1.0, 1.0)


@given(seed=st.integers(0, 2**32 - 1), points=st.integers(4, 80))
def test_cubics_through_points_are_the_not_a_knot_spline(seed, points):
    rng = np.random.default_rng(seed)
    j = np.cumsum(rng.uniform(0.2, 1.0, points))
    columns = np.cumsum(rng.normal(size=(points, 3)), axis=0)
    theirs = CubicSpline(j, columns).c
    np.testing.assert_allclose(cubics_of(j, columns), theirs, rtol=1e-9, atol=1e-9 * np.abs(theirs).max())


def test_deviates_are_quantiles_of_the_normal_distribution():
    part = np.linspace(1e-9, 1 - 1e-9, 2001)
    np.testing.assert_allclose(draws._INVERSE(part).astype(float), ndtri(part), rtol=1e-12, atol=1e-14)
