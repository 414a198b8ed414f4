"""Numbers that contradict each other are questioned beside their field, and discounted with a reason."""

import pytest
from tests import samples
from tests.samples import q

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.parts import pack
from kunstflug.core.setup.doubts import believed_controller_a, believed_motor_a, doubts_of


def doubt(setup, path):
    return next((samples.words(d.reason) for d in doubts_of(setup) if d.path == path), "")


def test_a_plain_setup_is_not_questioned():
    assert doubts_of(samples.setup()) == ()


def test_540_ampere_on_a_30_gram_motor():
    small = {"kv": q(2200, "rpm/V"), "can_diameter": q(20, "mm"), "can_length": q(30, "mm"), "mass": q(30, "g"),
             "max_current": q(540, "A")}  # fmt: skip
    setup = samples.setup(motor=small)
    assert "540 A" in doubt(setup, "motor.max_current")
    believed = believed_motor_a(setup)
    assert believed is not None
    assert believed.value == pytest.approx(30 * 12 / (4 * 3.7))  # 12 W a gram at 14.8 V, by hand
    assert samples.margin(forecast(setup, 0), "motor_current").limit.holds == pytest.approx(believed.value)


def test_a_c_rating_of_250():
    proud = samples.setup(pack={**samples.MONO["pack"], "c_rating": q(250, "1")})
    honest = samples.setup(pack={**samples.MONO["pack"], "c_rating": q(100, "1")})
    assert "250 C" in doubt(proud, "pack.c_rating")
    assert pack.cell_resistance(proud.pack).value == pytest.approx(pack.cell_resistance(honest.pack).value)
    assert not doubt(honest, "pack.c_rating")


def test_a_heavy_rating_on_a_light_controller():
    setup = samples.setup(controller={"continuous_current": q(300, "A"), "mass": q(60, "g")})
    assert "300 A" in doubt(setup, "controller.continuous_current")
    assert believed_controller_a(setup).value == pytest.approx(150)  # 2.5 A a gram
    assert samples.margin(forecast(setup, 0), "controller_current").limit.holds == pytest.approx(0.9 * 150)


def test_power_on_a_light_can():
    setup = samples.setup(motor={**samples.MONO["motor"], "mass": q(100, "g"), "max_power": q(5000, "W")})
    assert "5000 W" in doubt(setup, "motor.max_power")


def test_more_energy_than_cells_hold():
    setup = samples.setup(pack={**samples.MONO["pack"], "mass": q(250, "g")})
    assert "Wh/kg" in doubt(setup, "pack.capacity")


def test_resistances_far_from_what_such_parts_have():
    motor = samples.setup(motor={**samples.MONO["motor"], "resistance": q(80, "mohm", "measured")})
    assert "measure it again" in doubt(motor, "motor.resistance")
    cell = samples.setup(pack={**samples.MONO["pack"], "cell_resistance": q(40, "mohm", "measured")})
    assert "measure it again" in doubt(cell, "pack.cell_resistance")


def test_two_pitches_that_do_not_agree():
    both = {"diameter": q(42, "mm"), "pitch": q(60, "mm"), "pitch_ratio": q(1.8, "1")}
    assert "do not agree" in doubt(samples.setup(propeller=both), "propeller.pitch_ratio")
    same = {"diameter": q(42, "mm"), "pitch": q(58.8, "mm"), "pitch_ratio": q(1.4, "1")}
    assert not doubt(samples.setup(propeller=same), "propeller.pitch_ratio")


def test_a_burst_below_the_continuous_rating():
    odd = samples.setup(controller={"continuous_current": q(120, "A"), "burst_current": q(80, "A")})
    assert "burst" in doubt(odd, "controller.burst_current")
