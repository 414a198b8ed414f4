import csv
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kunstflug.core import pack
from kunstflug.core.values import Source, Value

DATA = Path(__file__).parents[1] / "data"


def a_pack(cells=4, ah=5.0, c=None, **more):
    rating = None if c is None else Value(value=c)
    return pack.Pack(cells=cells, capacity_ah=Value(value=ah), c_rating=rating, **more)


def test_open_circuit_voltage_against_the_cell_it_comes_from():
    # ai2020 parameter set, computed by a battery library; 20 mV is what one LiCoO2 cell differs from the next
    rows = list(csv.DictReader((DATA / "ocv_lco_pouch.csv").read_text().splitlines()))
    soc, ocv = (np.array([float(r[k]) for r in rows]) for k in ("SOC", "OCV_V"))
    np.testing.assert_allclose(pack.cell_ocv_v(soc), ocv, atol=1e-6)
    between = pack.cell_ocv_v((soc[1:] + soc[:-1]) / 2)
    assert np.all((between >= ocv[:-1]) & (between <= ocv[1:]))


def test_open_circuit_voltage_is_none_outside_a_charge():
    assert np.isnan(pack.cell_ocv_v(1.01))
    assert np.isnan(pack.cell_ocv_v(-0.01))


@given(st.floats(0, 1), st.floats(0, 1))
def test_more_charge_never_lowers_the_voltage(a, b):
    low, high = sorted((a, b))
    assert pack.cell_ocv_v(low) <= pack.cell_ocv_v(high)


def test_six_cells_under_load():
    # closed form: 25.2 V, 20 mohm
    assert pack.voltage_under_load_v(25.2, 0.020, 100.0) == pytest.approx(23.20)
    assert pack.voltage_under_load_v(25.2, 0.020, 100.0) * 100 == pytest.approx(2320)
    current = pack.current_for_power_a(25.2, 0.020, 2500.0)
    assert current == pytest.approx(108.5597, abs=1e-4)
    assert pack.voltage_under_load_v(25.2, 0.020, current) == pytest.approx(23.0288, abs=1e-4)
    assert pack.most_power_w(25.2, 0.020) == pytest.approx(7938)


def test_more_than_the_pack_has_is_no_current():
    assert np.isnan(pack.current_for_power_a(25.2, 0.020, 7939.0))


def test_series_adds_parallel_divides():
    assert pack.pack_resistance_ohm(2.2e-3, 6, 1) == pytest.approx(13.2e-3)  # 6 x 2.2
    assert pack.pack_resistance_ohm(2.2e-3, 6, 2) == pytest.approx(6.6e-3)


def test_guessed_resistance_of_stiff_and_soft_packs():
    # 2.2 mohm at 5 Ah when stiff, twice that when soft: common practice, no source
    assert pack.cell_resistance(a_pack(c=70)).value == pytest.approx(2.2e-3)
    assert pack.cell_resistance(a_pack(c=25)).value == pytest.approx(4.4e-3, rel=0.02)
    assert pack.cell_resistance(a_pack(ah=10, c=70)).value == pytest.approx(1.1e-3)
    # nothing printed: a wider guess
    assert pack.cell_resistance(a_pack()).spread > pack.cell_resistance(a_pack(c=50)).spread


def test_measured_resistance_is_kept():
    measured = Value(value=1.9e-3, source=Source.MEASURED)
    assert pack.cell_resistance(a_pack(cell_resistance_ohm=measured)) is measured


@pytest.mark.parametrize(("kv", "cells", "rpm"), [(2150, 3, 23900), (2150, 4, 31800)])
def test_free_speed_at_nominal_voltage(kv, cells, rpm):
    # KV x 3.7 V a cell: common practice, no source; the printed figures are rounded to hundreds
    assert kv * pack.NOMINAL_CELL_V * cells == pytest.approx(rpm, abs=60)
