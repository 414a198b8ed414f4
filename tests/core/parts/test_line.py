"""Wires, connectors and the controller."""

import csv
import dataclasses

import numpy as np
import pytest
from tests import samples

from kunstflug.core.laws import electric
from kunstflug.core.laws.electric import commutation_ohm
from kunstflug.core.parts import controller, wiring
from kunstflug.core.parts.conditions import pack_temperature_c
from kunstflug.core.quantity.value import Source, Value

DATA = samples.DATA
AWG = list(csv.DictReader((DATA / "awg.csv").read_text().splitlines()))


@pytest.mark.parametrize("row", AWG, ids=[f"AWG{r['AWG']}" for r in AWG])
def test_wire_sizes(row):
    gauge = int(row["AWG"])
    # ASTM B258: formula and GNU units
    assert electric.awg_diameter_m(gauge) * 1e3 == pytest.approx(float(row["d_mm_gnu_units"]), rel=1e-8)
    # IEC 60028 (from memory): 100 % IACS copper at 20 degC
    assert electric.awg_resistance_ohm_per_m(gauge) * 1e3 == pytest.approx(
        float(row["R20_ohm_per_km_IACS100"]), rel=1e-9
    )


def test_longer_thinner_and_more_plugs_resist_more():
    def ohm(gauge=10, **more):
        return wiring.wiring_resistance(wiring.Wiring(**more), gauge).value

    usual = ohm()
    assert ohm(length_m=Value(value=1.2)) > usual
    assert ohm(gauge=14) > usual
    assert ohm(connector_pairs=8) > usual
    assert ohm(connector_diameter_m=Value(value=3.5e-3)) > usual


def test_electrical_rpm():
    assert electric.electrical_rpm(30000, 12) == 180000  # identity: pole pairs x rpm
    np.testing.assert_array_equal(electric.electrical_rpm(np.array([1000.0, 2000.0]), 4), [2000.0, 4000.0])


def test_a_bigger_controller_resists_less():
    small, big = (
        controller.conduction_resistance(controller.Controller(continuous_current_a=Value(value=a))).value
        for a in (60, 200)
    )
    assert big < small
    # 0.5 to 1.0 mohm over the usual sizes: common practice, no source
    assert 0.5e-3 < big < small < 1.1e-3


def test_burst_is_guessed_from_the_continuous_rating():
    plain = controller.Controller(continuous_current_a=Value(value=100))
    assert controller.burst_current(plain).value == pytest.approx(130)
    printed = controller.Controller(continuous_current_a=Value(value=100), burst_current_a=Value(value=180))
    assert controller.burst_current(printed).value == 180


def test_commutation_by_hand():
    # 12 uH, 2 pole pairs, 2000 rpm/V, 0.85 of free rpm on 15 V: 850 electrical turns a second, by hand. 100 A run down
    # in 12e-6 x 100 / 15 = 80 us, 0.8 V x 100 A x 80 us / 2 = 3.2 mJ each, six times a turn: 16.32 W, over 100 A^2.
    turns = 2 * 2000 * 0.85 * 15 / 60
    watts = 6 * turns * 0.8 * 100 * (12e-6 * 100 / 15) / 2
    assert watts == pytest.approx(16.32)
    assert commutation_ohm(12e-6, 2, 2000.0, 0.85) * 100**2 == pytest.approx(watts)


def test_a_larger_controller_ripples_less_and_what_is_measured_is_sure():
    small, large = (controller.Controller(continuous_current_a=Value(value=a)) for a in (60.0, 240.0))
    assert controller.loss_resistance(small, 1e-3).value > controller.loss_resistance(large, 1e-3).value
    measured = dataclasses.replace(small, resistance_ohm=Value(value=0.9e-3, source=Source.MEASURED))
    assert controller.loss_resistance(measured, 1e-3).spread < controller.loss_resistance(small, 1e-3).spread


def test_a_pack_nobody_measured_was_kept_warm():
    unknown = samples.setup().conditions
    assert 30 <= pack_temperature_c(unknown).value <= 40  # common practice, no source
    assert pack_temperature_c(unknown).source is Source.GUESSED
    assert pack_temperature_c(dataclasses.replace(unknown, pack_c=Value(value=12.0))).value == 12.0
