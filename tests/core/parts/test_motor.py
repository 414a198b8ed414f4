"""Motor laws against Drela 2007, First-Order DC Electric Motor Model, and identities."""

import math

import numpy as np
import pytest

from kunstflug.core.laws import electric
from kunstflug.core.parts import motor
from kunstflug.core.quantity.value import Source, Value


def a_motor(kv=2200.0, diameter=0.036, length=0.074, **more):
    return motor.Motor(
        kv_rpm_per_v=Value(value=kv), can_diameter_m=Value(value=diameter), can_length_m=Value(value=length), **more
    )


@pytest.mark.parametrize(("kv", "expected"), [(1000, 0.00954930), (2000, 0.00477465)])
def test_torque_constant(kv, expected):
    assert electric.torque_constant_nm_per_a(kv) == pytest.approx(expected, rel=1e-6)  # definition, 60 / 2 pi KV


@pytest.mark.parametrize(("celsius", "ratio"), [(20, 1.0), (100, 1.31373), (155, 1.52941)])
def test_copper_at_temperature(celsius, ratio):
    # (235 + T) / 255, IEC 60034-1 (from memory)
    assert electric.copper_resistance_ohm(1.0, celsius) == pytest.approx(ratio, rel=1e-5)


def test_what_is_measured_is_not_guessed():
    given_ohm = Value(value=0.007, source=Source.MEASURED)
    assert motor.winding_resistance(a_motor(resistance_ohm=given_ohm)) is given_ohm
    guessed = motor.winding_resistance(a_motor())
    assert guessed.source is Source.GUESSED
    assert guessed.spread > 0.2
    assert guessed.reason


@pytest.mark.parametrize(
    ("kv", "diameter", "length", "milliohm"),
    [(3250, 0.028, 0.050, 8.5), (2200, 0.036, 0.074, 10.0), (800, 0.040, 0.080, 9.5)],
)
def test_guessed_resistance_covers_the_starting_values(kv, diameter, length, milliohm):
    # starting values that did well in a trial: common practice, no source; within two spreads
    guess = motor.winding_resistance(a_motor(kv, diameter, length))
    assert abs(math.log(guess.value * 1e3 / milliohm)) < 2 * guess.spread


def test_rpm_ceiling_of_a_40_mm_can():
    # racers keep 40 to 56 mm cans below about 30 000 rpm: common practice, no source
    assert motor.rpm_ceiling(a_motor(diameter=0.040)).value == pytest.approx(30000)
    assert motor.rpm_ceiling(a_motor(diameter=0.056)).value < 30000


def test_an_outrunners_ceiling_is_the_hoop_stress_in_its_bell():
    # 50 mm: 120 MPa over 15 700 kg/m3 is (87.43 m/s)^2, over pi x 0.05 m a turn, by hand
    bell = motor.rpm_ceiling(a_motor(kind=motor.MotorKind.OUTRUNNER, diameter=0.050))
    assert bell.value == pytest.approx(60 * 87.43 / (np.pi * 0.05), rel=1e-3)
    assert isinstance(bell.reason, motor.HoopOfBell)
    # boats run 50 mm outrunners at 25 000 to 30 000 rpm for years (common practice, no source); model B stopped them
    assert bell.value > 30000
    assert motor.rpm_ceiling(a_motor(kind=motor.MotorKind.OUTRUNNER, diameter=0.080)).value < 25000


def test_no_load_current_rises_with_rpm_and_meets_its_measurement():
    assert electric.no_load_current_a(20000, 3.0, 20000) == pytest.approx(3.0)
    rising = electric.no_load_current_a(np.array([0, 10000, 20000]), 3.0, 20000)
    assert np.all(np.diff(rising) > 0)


def test_usual_pole_counts():
    assert motor.pole_count(a_motor()) == 4
    assert motor.pole_count(a_motor(kind=motor.MotorKind.OUTRUNNER)) == 14
    assert motor.pole_count(a_motor(poles=6)) == 6
