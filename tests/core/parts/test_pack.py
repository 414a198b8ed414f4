import csv

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests import samples
from tests.samples import q

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.varied import varied
from kunstflug.core.laws import cell
from kunstflug.core.laws.electric import cold_factor
from kunstflug.core.parts import pack
from kunstflug.core.quantity.value import Source, Value

DATA = samples.DATA


def a_pack(cells=4, ah=5.0, c=None, **more):
    rating = None if c is None else Value(value=c)
    return pack.Pack(cells=cells, capacity_ah=Value(value=ah), c_rating=rating, **more)


def test_open_circuit_voltage_against_the_cell_it_comes_from():
    # ai2020 parameter set, computed by a battery library; 20 mV is what one LiCoO2 cell differs from the next
    rows = list(csv.DictReader((DATA / "ocv_lco_pouch.csv").read_text().splitlines()))
    soc, ocv = (np.array([float(r[k]) for r in rows]) for k in ("SOC", "OCV_V"))
    np.testing.assert_allclose(cell.cell_ocv_v(soc), ocv, atol=1e-6)
    between = cell.cell_ocv_v((soc[1:] + soc[:-1]) / 2)
    assert np.all((between >= ocv[:-1]) & (between <= ocv[1:]))


def test_open_circuit_voltage_is_none_outside_a_charge():
    assert np.isnan(cell.cell_ocv_v(1.01))
    assert np.isnan(cell.cell_ocv_v(-0.01))


@given(st.floats(0, 1), st.floats(0, 1))
def test_more_charge_never_lowers_the_voltage(a, b):
    low, high = sorted((a, b))
    assert cell.cell_ocv_v(low) <= cell.cell_ocv_v(high)


def test_series_adds_parallel_divides():
    def of(cells, parallel=1):
        return pack.resistance(a_pack(cells=cells, parallel=parallel, cell_resistance_ohm=Value(value=2.2e-3))).value

    assert of(6) == pytest.approx(13.2e-3)  # 6 x 2.2
    assert of(6, 2) == pytest.approx(6.6e-3)


def test_guessed_resistance_of_stiff_and_soft_packs():
    # at its printed current a cell sags by 1.05 V: common practice, no source
    assert pack.cell_resistance(a_pack(c=70)).value == pytest.approx(3.0e-3)
    assert pack.cell_resistance(a_pack(c=25)).value == pytest.approx(8.4e-3)
    assert pack.cell_resistance(a_pack(ah=10, c=70)).value == pytest.approx(1.5e-3)
    # nothing printed: a wider guess
    assert pack.cell_resistance(a_pack()).spread > pack.cell_resistance(a_pack(c=50)).spread


def test_measured_resistance_is_kept():
    measured = Value(value=1.9e-3, source=Source.MEASURED)
    assert pack.cell_resistance(a_pack(cell_resistance_ohm=measured)) is measured


def test_what_was_weighed_goes_with_the_cells():
    # 500 g for 4S: the estimator has 25 g a cell and Ah and 20 g of wire, 520 g for 4S and 645 g for 5S, by hand
    weighed = a_pack(mass_kg=Value(value=0.5))
    assert pack.mass_with_cells_kg(weighed, 4) == pytest.approx(0.5)
    assert pack.mass_with_cells_kg(weighed, 5) == pytest.approx(0.5 * 645 / 520)
    np.testing.assert_allclose(pack.mass_with_cells_kg(a_pack(), np.array([4.0, 5.0])), [0.52, 0.645])


def test_a_weak_cell_in_a_row_sags_alone():
    """By hand: three cells of 2 mohm and one of 6 make 12; at 100 A it falls 0.6 V where the mean falls 0.3."""
    even = {"cells": 4, "capacity": q(5000, "mAh"), "cell_resistance": q(2, "mohm", "measured")}
    one, other = samples.setup(pack=even), samples.setup(pack={**even, "weakest_resistance": q(6, "mohm", "measured")})
    assert pack.resistance(one.pack).value == pytest.approx(8e-3)
    assert pack.resistance(other.pack).value == pytest.approx(12e-3)
    assert pack.weakest_cell_factor(other.pack, 4) == pytest.approx(2.0)
    f, g = forecast(one, 0).point, forecast(other, 0).point
    rest = f.weak_cell_v + f.current_a * 2e-3 * float(cold_factor(35.0))
    assert g.weak_cell_v == pytest.approx(rest - g.current_a * 6e-3 * float(cold_factor(35.0)), abs=1e-6)
    assert g.speed_mps < f.speed_mps
    # with another cell in the row it is still the one
    rows = varied(other, cells=5.0)
    assert rows["weak_cell"][0] == pytest.approx(6 / (14 / 5))
