"""Wires, connectors and the controller."""

import csv

import numpy as np
import pytest
from tests import samples

from kunstflug.core.laws import electric
from kunstflug.core.parts import controller, wiring
from kunstflug.core.quantity.value import Value

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
