"""Refusals and their remedies; limits under the schools."""

import copy
import dataclasses
import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tests import samples
from tests.samples import q

from kunstflug.core.drive import nearest
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.limits import limits_of
from kunstflug.core.drive.schools import (
    HELD,
    USUAL,
    ControllerSchool,
    PackSchool,
    RpmSchool,
    Schools,
    Stint,
    TemperatureSchool,
)
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.thermal.duty import lap_race_duty, passes_duty, tub_duty
from kunstflug.documents.schools import DutyIn
from kunstflug.documents.setup import setup_of
from kunstflug.services.shared.changes import Change, change_document

HEAVY = {
    "all_up_mass": q(9000, "g"),
    "motor__kv": q(1200, "rpm/V"),
    "pack": {"cells": 2, "capacity": q(5000, "mAh")},
    "propeller": {"diameter": q(24, "mm"), "pitch_ratio": q(1.4, "1")},
}


def test_remedies_come_nearest_first():
    steps = nearest._steps(0.95, 0.25, 4.0)
    assert np.all(np.diff(np.abs(np.log(steps))) >= -1e-12)
    assert steps.min() >= 0.25
    assert steps.max() <= 4.0
    assert not np.any(np.isclose(steps, 1.0))


BIG = {
    "hull": {"length": q(1000, "mm")},
    "propeller": {"diameter": q(95, "mm"), "pitch_ratio": q(1.4, "1")},
}


@pytest.mark.parametrize("changes", [HEAVY, BIG], ids=["too weak", "too big"])
def test_every_remedy_named_is_true(changes):
    document = samples.document(**copy.deepcopy(changes))
    refused = forecast(setup_of(document))
    assert not refused.runs
    assert refused.remedies
    for remedy in refused.remedies:
        units = {"motor.kv": "rpm/V", "propeller.diameter": "m", "all_up_mass": "kg"}
        value = int(remedy.value) if remedy.path == "pack.cells" else q(remedy.value, units[remedy.path])
        # the way a racer would do it: what follows from a change follows here too
        changed = change_document(document, [Change(path=remedy.path, value=value)]).document
        again = forecast(setup_of(changed), 0)
        assert again.runs, (remedy.path, again.refusal)
        assert again.point.speed_mps == pytest.approx(remedy.speed_mps, rel=1e-4), remedy.path


def test_no_single_change_is_said_too():
    hopeless = samples.setup(**{**copy.deepcopy(HEAVY), "all_up_mass": q(60000, "g"), "motor__kv": q(60, "rpm/V")})
    f = forecast(hopeless)
    assert not f.runs
    assert isinstance(f.refusal, nearest.StaysBelowPlaning)
    assert all(r.speed_mps > 0 for r in f.remedies)


def test_a_boat_blown_backwards_is_refused_in_words():
    point = dataclasses.replace(forecast(samples.setup(), 0).point, speed_mps=float("nan"))
    assert isinstance(nearest.refusal(point), nearest.PushedBackwards)


def test_limits_by_hand():
    limits = {limit.key: limit for limit in limits_of(samples.setup(wiring={"gauge_awg": 10}), USUAL)}
    # 5 Ah x 50 C believed to 60 %, 120 A less a tenth, 1.3 x 120 A, 30 000 rpm x 40 / 36
    assert limits["pack_current"].holds == pytest.approx(150)
    assert limits["pack_current"].stop == pytest.approx(250)
    assert limits["controller_current"].holds == pytest.approx(108)
    # 120 and 156 A in 10 s make a time constant of 11.2 s: six seconds reach 41.5 % of what is held for good, and the
    # fourth time, from what 25 s of cool-down leave, 47.6 %
    assert limits["controller_current"].stop == pytest.approx(120 / math.sqrt(0.476), rel=0.005)
    assert limits["loaded_rpm"].holds == pytest.approx(33333, abs=1)
    assert limits["wire_current"].holds < limits["wire_current"].stop


def test_a_guessed_limit_never_stops():
    heavy = samples.setup(propeller={"diameter": q(62, "mm"), "pitch_ratio": q(1.4, "1")})
    limits = {limit.key: limit for limit in limits_of(heavy, USUAL)}
    guessed = {key for key, limit in limits.items() if limit.guessed}
    assert guessed == {"wire_current", "electrical_rpm", "motor_power", "loaded_rpm"}
    assert all(np.isinf(limits[key].stop) for key in guessed)
    found = [m for m in forecast(heavy, 0, Schools(stint=HELD)).margins if m.key in guessed]
    assert all(m.verdict is not Verdict.STOP for m in found)
    assert max(m.use for m in found) > 2  # far past it, and still no more than short runs


def test_the_other_schools_by_hand():
    bold = Schools(
        temperature=TemperatureSchool.HOT,
        controller=ControllerSchool.BURST,
        rpm=RpmSchool.HIGH,
        pack=PackSchool.BELIEVING,
    )
    limits = {limit.key: limit for limit in limits_of(samples.setup(), bold)}
    assert limits["controller_current"].holds == pytest.approx(140.4)  # never more than 156 A, less a tenth
    held = {limit.key: limit for limit in limits_of(samples.setup(), dataclasses.replace(bold, stint=HELD))}
    assert held["controller_current"].holds == pytest.approx(108)  # for good a burst is worth nothing
    assert limits["pack_current"].holds == pytest.approx(212.5)
    assert limits["loaded_rpm"].holds == pytest.approx(41667, abs=1)
    assert bold.case_ceiling_c - USUAL.case_ceiling_c == pytest.approx(23)
    for name in ("winding", "controller", "pack", "connector"):
        assert getattr(bold, f"{name}_ceiling_c") > getattr(USUAL, f"{name}_ceiling_c")


@settings(max_examples=40)
@given(st.floats(0.5, 60), st.floats(0, 120), st.integers(1, 30), st.floats(0, 0.6), st.floats(1, 400))
def test_a_stint_is_one_body_stepped_in_time(full_s, pause_s, count, pause_heat, tau_s):
    warm, peak = 0.0, 0.0
    for _ in range(count):
        for level, seconds in ((1.0, full_s), (pause_heat, pause_s)):
            for step in np.full(50, seconds / 50):
                warm += (level - warm) * -math.expm1(-step / tau_s)
                peak = max(peak, warm) if level == 1.0 else peak
    stint = Stint(full_s=full_s, pause_s=pause_s, count=count, pause_heat=pause_heat)
    assert stint.warmed(tau_s) == pytest.approx(peak, rel=1e-6)


def test_limits_for_minutes_are_not_held_against_seconds():
    """A wire, a can and a rating for minutes: passes of seconds leave them cold, a race for good does not."""
    setup = samples.setup(wiring={"gauge_awg": 12})
    passes, held = ({m.key: m for m in limits_of(setup, s)} for s in (USUAL, Schools(stint=HELD)))
    for key, least in (("wire_current", 1.8), ("motor_power", 1.7)):
        assert passes[key].holds > least * held[key].holds, key
    # what is reached in an instant, or printed as it is meant, stays
    for key in ("loaded_rpm", "electrical_rpm", "cell_voltage", "pack_current"):
        assert passes[key].holds == held[key].holds, key
    printed = samples.setup(motor__max_power=q(1500, "W"))
    one, other = ({m.key: m for m in limits_of(printed, s)}["motor_power"].holds for s in (USUAL, Schools(stint=HELD)))
    assert one == other


def test_a_newcomers_boat_in_passes_is_not_judged_by_a_gauge_nobody_gave():
    bare = samples.setup(wiring={})
    wire = next(m for m in forecast(bare, 0).margins if m.key == "wire_current")
    assert wire.verdict is Verdict.HOLDS


def test_a_duty_is_judged_by_its_own_seconds():
    usual = DutyIn().core().stint
    assert usual == Stint()  # what is judged by where nobody names a duty is what the form begins with
    assert passes_duty(3, 8, 30).stint == Stint(full_s=8, pause_s=30, count=3)
    assert tub_duty(2).stint == Stint(full_s=120, pause_s=0, count=1)
    assert passes_duty(3, 8, 0).stint == Stint(full_s=24, pause_s=0, count=1)  # no pause: one long pass
    race = lap_race_duty(1).stint
    assert (race.full_s, race.pause_s, race.count) == (7, 3, 6)
    assert race.pause_heat == pytest.approx(0.06 * 1.6**4)  # a turn at 0.8 of the top speed, heat with its fourth power
