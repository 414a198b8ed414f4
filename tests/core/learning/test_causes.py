"""Causes of a run that does not fit, by hand: a size drawn about the usual one, from independent readings."""

from types import SimpleNamespace

import numpy as np
import pytest

from kunstflug.core.evidence.judgement import Prediction
from kunstflug.core.evidence.readings import What
from kunstflug.core.learning.causes import Cause, odd_run
from kunstflug.core.learning.judged import Judged, JudgedRun

SPREAD = 0.01


def run_of(**offs):
    """Readings that are off by so much, each good to a hundredth, of a boat whose numbers nothing is known of."""
    told = Prediction(value=1.0, spread=SPREAD, low=0.9, high=1.1)
    items = tuple(
        Judged(what=What(what), read=1.0, minutes=0, bought=told, then=told, without=told, now=told,
               off=off / SPREAD, weight=1.0)
        for what, off in offs.items()
    )  # fmt: skip
    said = SimpleNamespace(names=(), slope=np.zeros((len(offs), 0)))
    return JudgedRun(key="x", readings=items, offs=np.array(list(offs.values())),
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
