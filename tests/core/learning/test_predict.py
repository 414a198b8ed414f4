"""What a run would show, and how that changes with each number."""

import numpy as np
import pytest
from tests.pond.seasons import boats

from kunstflug.core.learning.estimate import root_of
from kunstflug.core.learning.predict import STEP, base_of, said, steady_many
from kunstflug.pond.season import Day, run_of

HEAVY = 23  # a boat with so much slip that it barely planes
NAME = "water_at_rest"


@pytest.fixture(scope="module")
def heavy():
    """A run of a heavy boat, and the value of ``NAME`` just below the one at which it starts to plane (logarithm)."""
    seed, setup = next(found for found in boats(HEAVY, 11) if found[0] == HEAVY)
    run = run_of(Day(setup=setup, outing=0, logged=True), seed, 0)
    base = base_of(run)

    def speed(x):
        return float(steady_many([base], [(NAME,)], [np.array([[x]])])[0][0, 0])

    low, high = -1.5, 0.0
    while high - low > 0.1 * STEP:
        middle = 0.5 * (low + high)
        low, high = (low, middle) if speed(middle) - speed(low) > 0.5 else (middle, high)
    assert speed(high) - speed(low) > 0.5  # it jumps
    return run, base, low


def test_a_step_over_the_hump_is_no_slope(heavy):
    run, base, at = heavy
    (there,) = said([run], [base], [(NAME,)], [np.array([at])], [None], heat=False)
    (before,) = said([run], [base], [(NAME,)], [np.array([at - 3 * STEP])], [None], heat=False)
    # Speed goes with no number by a power of more than about 3; a forward step gave 1009 here, current 1097.
    assert np.all(np.abs(there.slope[:4]) < 10.0)
    assert there.slope[0] == pytest.approx(before.slope[0], rel=0.5)


def test_elsewhere_a_slope_is_what_two_answers_differ_by(heavy):
    run, base, at = heavy
    x = at - 0.4
    (there,) = said([run], [base], [(NAME,)], [np.array([x])], [None], heat=False)
    two = steady_many([base], [(NAME,)], [np.array([[x - STEP], [x + STEP]])])[0]
    assert there.slope[:4, 0] == pytest.approx((two[1] - two[0]) / (2 * STEP), rel=0.02, abs=1e-3)


@pytest.mark.parametrize("spoilt", [0.0, 1e-7])
def test_a_covariance_has_a_root_even_where_rounding_spoilt_it(spoilt):
    rng = np.random.default_rng(5)
    table = rng.standard_normal((6, 3))  # of rank 3: three combinations are known for certain
    whole = table @ table.T
    found = root_of(whole - spoilt * np.eye(6))
    assert found @ found.T == pytest.approx(whole, abs=1e-6)
