"""The sweep over parts: the same answer as one forecast each, and its limits."""

import dataclasses

import numpy as np
import pytest
from tests import samples
from tests.samples import q

from kunstflug.core.choose.backward import TooHeavy, Wish, backward
from kunstflug.core.choose.fronts import best_of_steps, lasting_front
from kunstflug.core.choose.shelf import MOST_COMBINATIONS, Bounds, Choices, shelf_sweep
from kunstflug.core.choose.sweep import ranges_about, sweep
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.verdict import ORDER
from kunstflug.core.quantity.errors import InvalidValue, Stopped
from kunstflug.core.quantity.facts import AtMost
from kunstflug.core.setup.editor import with_parts

SETUP = samples.setup(motor__mass=q(285, "g"), pack__mass=q(508, "g"))


def motors():
    return tuple(
        samples.setup(motor={**samples.MONO["motor"], "kv": q(kv, "rpm/V"), "mass": q(grams, "g")}).motor
        for kv, grams in ((1600, 320), (2200, 285), (2900, 240))
    )


def propellers():
    return tuple(
        samples.setup(propeller={"diameter": q(mm, "mm"), "pitch_ratio": q(1.4, "1"), "blades": blades}).propeller
        for mm, blades in ((36, 2), (42, 2), (38, 3))
    )


CHOICES = Choices(motors=motors(), controllers=(SETUP.controller,), propellers=propellers(), packs=(SETUP.pack,))


def test_each_combination_is_its_own_forecast():
    found = shelf_sweep(SETUP, CHOICES)
    assert len(found.picks) == CHOICES.count == 9
    for k in range(9):
        m, _, w, _ = found.picks[k]
        tried = with_parts(SETUP, motor=CHOICES.motors[m], propeller=CHOICES.propellers[w])
        f = forecast(tried, 0)
        assert found.speed_mps[k] == pytest.approx(f.point.speed_mps, rel=1e-6)
        assert found.current_a[k] == pytest.approx(f.point.current_a, rel=1e-6)
        assert found.mass_kg[k] == pytest.approx(tried.all_up_mass_kg.value)
        assert ORDER[found.verdict[k]] is f.verdict
        if f.runs:
            assert found.use[k] == pytest.approx(f.tightest.use, rel=1e-6)


def test_too_heavy_and_too_many_cells_are_left_out():
    found = shelf_sweep(SETUP, CHOICES, bounds=Bounds(most_kg=2.11))
    assert found.left_out == 3  # the heaviest motor with three propellers
    assert np.all(found.mass_kg <= 2.11)
    small = dataclasses.replace(SETUP.controller, max_cells=3)
    none = shelf_sweep(SETUP, dataclasses.replace(CHOICES, controllers=(small,)))
    assert len(none.picks) == 0
    assert none.left_out == 9


def test_a_set_limit_counts_here_too():
    held = samples.setup(controller={"continuous_current": q(120, "A"), "bus_limit": q(50, "A")}).controller
    found = shelf_sweep(SETUP, dataclasses.replace(CHOICES, controllers=(held,)))
    assert np.nanmax(found.current_a) <= 50.1


def test_too_many_combinations_are_refused_with_what_would_do():
    many = Choices(
        motors=(SETUP.motor,) * 40, controllers=(SETUP.controller,) * 40, propellers=(SETUP.propeller,) * 40,
        packs=(SETUP.pack,),
    )  # fmt: skip
    with pytest.raises(InvalidValue) as refused:
        shelf_sweep(SETUP, many)
    assert refused.value.allowed == AtMost(most=MOST_COMBINATIONS)


def test_a_sweep_is_stopped_by_its_listener():
    heard = []

    def listener(done, total):
        heard.append((done, total))
        if done >= 50_000:
            raise Stopped("enough")

    ranges = ranges_about(SETUP, kv=np.linspace(800, 3000, 600), diameter=np.linspace(0.03, 0.055, 500))
    with pytest.raises(Stopped):
        sweep(SETUP, ranges, progress=listener)
    assert heard == [(0, 300_000), (25_000, 300_000), (50_000, 300_000)]


def test_the_front_against_run_time_has_no_drive_that_another_beats():
    ranges = ranges_about(SETUP, kv=np.linspace(900, 3000, 40), diameter=np.linspace(0.03, 0.055, 30))
    found = sweep(SETUP, ranges)
    front = lasting_front(found.speed_mps, found.run_s, found.verdict)
    assert len(front) > 2
    good = np.flatnonzero(found.verdict < 2)
    for k in front:
        better = (found.speed_mps[good] > found.speed_mps[k]) & (found.run_s[good] >= found.run_s[k])
        assert not np.any(better)


def test_a_boat_that_may_not_weigh_so_much_gets_lighter_answers():
    wanted = 24.0
    free = backward(SETUP, Wish(speed_mps=wanted))
    tight = backward(SETUP, Wish(speed_mps=wanted, most_kg=2.05))
    assert max(a.boat_kg for a in free.answers) > 2.05
    assert all(a.boat_kg <= 2.05 for a in tight.answers)
    nothing = backward(SETUP, Wish(speed_mps=wanted, most_kg=0.9))
    assert not nothing.possible
    assert nothing.reason == TooHeavy(most_kg=0.9)


def test_one_drive_for_each_step_of_speed():
    speed = np.array([10.0, 10.1, 10.2, 12.06, 12.1, 20.0])
    run_s = np.array([300.0, 310.0, 290.0, 200.0, 199.0, 90.0])
    front = np.array([5, 0, 1, 2, 3, 4])
    # three steps of 5 %; of each the one that runs longest, slowest first
    assert best_of_steps(front, speed, run_s, 0.05).tolist() == [1, 3, 5]
    assert best_of_steps(front, speed, run_s, 0.001).tolist() == [0, 1, 2, 3, 4, 5]
    assert best_of_steps(np.array([], dtype=int), speed, run_s).size == 0
