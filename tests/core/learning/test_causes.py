"""Causes of a run that does not fit, by hand: a size drawn about the usual one, from independent readings."""

import dataclasses
import math
from types import SimpleNamespace

import numpy as np
import pytest

from kunstflug.core.evidence.judgement import Prediction
from kunstflug.core.evidence.readings import What
from kunstflug.core.learning.causes import Cause, meant, odd_run
from kunstflug.core.learning.judged import JudgedReading, JudgedRun

SPREAD = 0.01


def run_of(key="x", **offs):
    """Readings that are off by so much, each good to a hundredth, of a boat whose numbers nothing is known of."""
    told = Prediction(value=1.0, spread=SPREAD, low=0.9, high=1.1)
    items = tuple(
        JudgedReading(what=What(what), read=math.exp(off), minutes=0, bought=told, then=told, without=told, now=told,
               off=off / SPREAD, weight=1.0)
        for what, off in offs.items()
    )  # fmt: skip
    said = SimpleNamespace(names=(), slope=np.zeros((len(offs), 0)), base_c=10.0)
    return JudgedRun(key=key, readings=items, offs=np.array(list(offs.values())),
                     spread=SPREAD**2 * np.eye(len(offs)), said=said)  # fmt: skip


def sizes(run):
    return {s.cause: s.size for s in odd_run(run).suspicions}


def test_wind_is_four_hundredths_of_speed_and_a_peak_six():
    found = sizes(run_of(speed=0.04))
    # (pull + 0) / (power + 1) with power = part^2 / spread^2 and pull = part * off / spread^2.
    assert found[Cause.WIND] == pytest.approx(16 / 17)
    assert found[Cause.INSTRUMENT] == pytest.approx(24 / 37)


def test_a_feathered_throttle_takes_a_tenth_of_speed_and_twice_that_of_current():
    found = sizes(run_of(speed=-0.10, current=-0.20))
    # (pull + 4) / (power + 4): both agree with the usual size, 1.
    assert found[Cause.NOT_FULL] == pytest.approx(1.0)
    assert Cause.NOT_FULL not in sizes(run_of(speed=0.30, current=0.60))


def test_a_run_that_fits_has_no_causes():
    assert odd_run(run_of(speed=2.7 * SPREAD)) is None


@pytest.mark.parametrize(("factor", "cause"), [
    (1.609344, Cause.UNIT), (1 / 1.609344, Cause.UNIT), (3.6, Cause.UNIT), (1 / 3.6, Cause.UNIT), (1.852, Cause.UNIT),
    (10.0, Cause.DIGIT), (0.1, Cause.DIGIT),
])  # fmt: skip
@pytest.mark.parametrize("off", [-0.01, 0.0, 0.012])
def test_another_unit_and_a_digit_moved_are_named_first(factor, cause, off):
    """They were *another propeller*: a size of thirty is no likelier than one of two."""
    run = run_of(speed=math.log(factor) + off, current=0.01)
    first = odd_run(run).suspicions[0]
    assert first.cause is cause
    assert first.chance > 0.9
    assert meant(first, run) == pytest.approx(math.exp(off))


def test_a_temperature_in_another_unit_is_named_first():
    said = Prediction(value=52.0, spread=3.0, low=48.0, high=56.0)
    rise = math.log((125.6 - 10.0) / (52.0 - 10.0))
    items = (JudgedReading(what=What.CASE, read=125.6, minutes=2.0, bought=said, then=said, without=said, now=said,
                    off=20.0, weight=1.0),)  # fmt: skip
    known = SimpleNamespace(names=(), slope=np.zeros((1, 0)), base_c=10.0)
    run = JudgedRun(key="x", readings=items, offs=np.array([rise]), spread=np.array([[0.07**2]]), said=known)
    first = odd_run(run).suspicions[0]
    assert first.cause is Cause.UNIT
    assert meant(first, run) == pytest.approx(52.0)


def test_a_run_booked_on_the_wrong_setup_is_named_first():
    """All of it is what another setup does."""
    other = run_of("other", speed=0.0, current=0.0)
    shift = {What.SPEED: math.exp(0.13), What.CURRENT: math.exp(0.22)}
    theirs = tuple(dataclasses.replace(r, now=dataclasses.replace(r.now, value=shift[r.what])) for r in other.readings)
    other = dataclasses.replace(other, readings=theirs)
    first = odd_run(run_of(speed=0.135, current=0.21), [other]).suspicions[0]
    assert (first.cause, first.other) == (Cause.OTHER_SETUP, "other")
    assert first.chance > 0.9
    # half of it is not
    assert odd_run(run_of(speed=0.13, current=-0.1), [other]).suspicions[0].cause is not Cause.OTHER_SETUP
