"""Bench instruments: worked numbers, uncertainty against a simulation, nonsense refused."""

import math

import numpy as np
import pytest

from kunstflug.core.bench import instruments as bench
from kunstflug.core.quantity.errors import InvalidValue


def usual(instrument):
    return {r.key: r.usual for r in instrument.readings}


def result(key, **readings):
    return bench.measure(bench.BY_KEY[key], {**usual(bench.BY_KEY[key]), **readings})


def test_kv_on_a_drill():
    # a 2200 KV motor at 1500 rpm has 0.6818 V of amplitude, 0.4821 V r.m.s., by hand
    assert result("kv", rpm=1500, volts=1500 / 2200 / math.sqrt(2)).value == pytest.approx(2200)


def test_winding_is_taken_back_to_20_degrees():
    # copper 255 / (235 + T) [iec60034-1]: 9 mohm at 50 degC are 8.05 at 20
    assert result("winding", volts=0.045, amps=5.0, celsius=50).value == pytest.approx(9e-3 * 255 / 285)


def test_cell_from_two_loads():
    # 0.41 V over 35 A and 4 cells: 2.93 mohm, by hand
    assert result("cell").value == pytest.approx(0.41 / 35 / 4)


def test_no_load_current_back_to_rest():
    # 2.1 A at 7.4 V, 3.0 A at 14.8 V: 1.2 A at none, by hand
    assert result("no-load").value == pytest.approx(1.2)


def test_three_ways_to_one_pitch():
    # P = 58.8 mm on 42 mm: at 14.7 mm the blade stands at atan(58.8 / (2 pi 14.7)) = 32.48 deg
    angle = math.degrees(math.atan(58.8 / (2 * math.pi * 14.7)))
    assert angle == pytest.approx(32.4816, abs=1e-3)
    assert result("pitch-gauge", radius=14.7e-3, angle=angle).value == pytest.approx(58.8e-3)
    chord = 16e-3
    rise = chord * math.sin(math.radians(angle))
    assert result("pitch-chord", radius=14.7e-3, chord=chord, rise=rise).value == pytest.approx(58.8e-3)
    assert result("pitch-rise", rise=58.8e-3 / 9, angle=40).value == pytest.approx(58.8e-3)


def test_nick_and_balance_force():
    # omega = 2618 rad/s at 25 000 rpm. 0.02 g at 20 mm: 2e-5 x 0.02 x 6.854e6 = 2.742 N, by hand
    assert result("balance").value == pytest.approx(2.742, abs=1e-3)
    # 4 mm2 x 0.6 mm of 8250 kg/m3 are 19.8 mg; at 19 mm 2.578 N, by hand
    nick = result("nick", area=4e-6, thickness=0.6e-3, density=8250, radius=19e-3)
    assert nick.value == pytest.approx(2.578, abs=1e-3)


def test_centre_from_two_scales():
    # lever: 0.74 of 2.09 kg over 500 mm
    assert result("centre").value == pytest.approx(0.74 * 0.5 / 2.09)


def test_slip_flat_circle_power():
    assert result("slip").value == pytest.approx(25000 / 60 * 58.8e-3 * 0.82)
    assert result("flat-width").value == pytest.approx(0.5e-3)
    assert result("flat-over", over=4.5e-3).value == pytest.approx(3e-3)
    assert result("circle", chord=17.6777e-3).value == pytest.approx(25e-3, rel=1e-5)
    assert result("power", torque=1.0, rpm=9549.297).value == pytest.approx(1000.0, rel=1e-6)


@pytest.mark.parametrize("instrument", bench.INSTRUMENTS, ids=lambda i: i.key)
def test_its_uncertainty_is_that_of_many_readings(instrument):
    # the same law on 40 000 noisy readings
    readings = usual(instrument)
    found = bench.measure(instrument, readings)
    rng = np.random.default_rng(11)
    values = []
    for _ in range(4000):
        noisy = {
            r.key: readings[r.key] + rng.normal(0, max(r.spread * abs(readings[r.key]), r.step) or 0.0)
            for r in instrument.readings
        }
        try:
            values.append(instrument.law(noisy))
        except (ValueError, ZeroDivisionError, InvalidValue):
            continue
    assert found.sd == pytest.approx(float(np.std(values)), rel=0.12)
    assert found.widest in readings


@pytest.mark.parametrize("instrument", bench.INSTRUMENTS, ids=lambda i: i.key)
def test_nonsense_is_refused(instrument):
    for r in instrument.readings:
        for wrong in (None, float("nan"), r.high * 10 + 1, r.low - abs(r.low) - 1):
            readings = usual(instrument)
            if wrong is None:
                del readings[r.key]
            else:
                readings[r.key] = wrong
            with pytest.raises(InvalidValue):
                bench.measure(instrument, readings)


def test_readings_that_give_nothing_are_refused():
    with pytest.raises(InvalidValue, match="ReadingsDiffer"):
        result("cell", amps1=40.0)
    with pytest.raises(InvalidValue):
        result("pitch-chord", chord=8e-3, rise=9e-3)
    with pytest.raises(InvalidValue):
        result("flat-width", width=6e-3)


def test_a_better_reading_narrows_the_result():
    kv = bench.BY_KEY["kv"]
    rough = bench.measure(kv, usual(kv))
    fine = bench.measure(kv, usual(kv), {"volts": 0.0005})
    assert fine.sd < rough.sd
    assert rough.widest == "volts"
