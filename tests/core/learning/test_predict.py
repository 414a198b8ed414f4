"""What a run would show, and how that changes with each number."""

import numpy as np
import pytest
from tests.pond.seasons import boats

from kunstflug.core.learning.estimate import root_of
from kunstflug.core.learning.predict import STEP, base_of, said, steady_many
from kunstflug.pond.season import Day, run_of

HEAVY = 23  # a boat with so much slip that it barely planes
NAME = "water_at_rest"


@pytest.mark.parametrize("at", [-1.2, -0.95, -0.9, -0.6, 0.0])
def test_a_slope_is_what_two_answers_differ_by_also_at_the_hump(at):
    """Where a heavy boat just comes onto the plane, its speed once jumped; a slope there said a thousand."""
    seed, setup = next(found for found in boats(HEAVY, 11) if found[0] == HEAVY)
    run = run_of(Day(setup=setup, outing=0, logged=True), seed, 0)
    base = base_of(run)
    there = said(run, base, (NAME,), np.array([at]))
    two = steady_many([base], [(NAME,)], [np.array([[at - STEP], [at + STEP]])])[0]
    assert there.slope[:4, 0] == pytest.approx((two[1] - two[0]) / (2 * STEP), rel=0.03, abs=2e-3)
    assert np.all(np.abs(there.slope[:4]) < 20.0)


@pytest.mark.parametrize("spoilt", [0.0, 1e-7])
def test_a_covariance_has_a_root_even_where_rounding_spoilt_it(spoilt):
    rng = np.random.default_rng(5)
    table = rng.standard_normal((6, 3))  # of rank 3: three combinations are known for certain
    whole = table @ table.T
    found = root_of(whole - spoilt * np.eye(6))
    assert found @ found.T == pytest.approx(whole, abs=1e-6)
