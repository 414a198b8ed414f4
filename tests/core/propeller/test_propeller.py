"""Propeller: plate and B-series against published values, ventilated curve against its limits."""

import csv
import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests import samples

from kunstflug.core.parts.propeller import Propeller, area_ratio, immersion, pitch
from kunstflug.core.propeller import open_water_curve
from kunstflug.core.propeller.b_series import b_series_coefficients
from kunstflug.core.propeller.blade import plate_normal_coefficient
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.value import Value

DATA = samples.DATA
POINTS = list(csv.DictReader((DATA / "wageningen_b_points.csv").read_text().splitlines()))


@pytest.mark.parametrize("row", POINTS, ids=[f"B{r['Z']}-{r['AE_A0']} P/D {r['P_D']} J {r['J']}" for r in POINTS])
def test_b_series(row):
    # Oosterveld & van Oossanen 1975, 39 + 47 terms, values from an independent program
    j, ratio, area, blades = (float(row[k]) for k in ("J", "P_D", "AE_A0", "Z"))
    kt, kq = b_series_coefficients(j, ratio, area, blades)
    assert float(kt) == pytest.approx(float(row["KT"]), rel=1e-9)
    assert float(kq) == pytest.approx(float(row["KQ"]), rel=1e-9)
    if j > 0:
        assert j * kt / (2 * math.pi * kq) == pytest.approx(float(row["eta0"]), rel=1e-9)


@pytest.mark.parametrize(
    ("degrees", "expected"),
    [(2, 0.05335747), (5, 0.12813297), (10, 0.24002993), (15, 0.33787095), (30, 0.56393960), (90, 0.87980169)],
)
def test_ventilated_plate(degrees, expected):
    # Rayleigh 1876; Lamb, Hydrodynamics, art. 77
    assert plate_normal_coefficient(math.radians(degrees)) == pytest.approx(expected, abs=1e-8)


@pytest.mark.parametrize(("degrees", "lift", "drag"), [(5, 0.127645, 0.011168), (10, 0.236383, 0.041681)])
def test_lift_and_drag_of_the_plate(degrees, lift, drag):
    # same sources: the normal force turned into the stream
    angle = math.radians(degrees)
    normal = plate_normal_coefficient(angle)
    assert normal * math.cos(angle) == pytest.approx(lift, abs=1e-6)
    assert normal * math.sin(angle) == pytest.approx(drag, abs=1e-6)


@pytest.mark.parametrize(("ratio", "degrees"), [(1.0, 24.4526), (1.4, 32.4816), (1.8, 39.3007)])
def test_blade_angle_at_seven_tenths(ratio, degrees):
    # arithmetic: tan = P / (0.7 pi D)
    assert math.degrees(math.atan(ratio / (0.7 * math.pi))) == pytest.approx(degrees, abs=1e-4)


def ventilated(ratio=1.4, area=0.45, immersed=0.5, friction=0.010):
    curve = open_water_curve(ratio, 2, 0.45, ventilated=True)
    return lambda j: curve.coefficients(j, area, immersed, friction)


def test_half_immersed_propeller_of_pitch_ratio_1_4():
    # usual answers of such propellers: KT near 0.07, KQ near 0.017, efficiency 0.6 to 0.7 (common practice, no source)
    kt, kq = ventilated()(1.0)
    assert kt == pytest.approx(0.07, rel=0.15)
    assert kq == pytest.approx(0.017, rel=0.15)
    assert 0.6 < 1.0 * kt / (2 * math.pi * kq) < 0.7


@pytest.mark.parametrize("ratio", [1.0, 1.4, 1.8])
def test_thrust_about_vanishes_at_the_pitch(ratio):
    at_rest, _ = ventilated(ratio)(0.0)
    at_pitch, _ = ventilated(ratio)(ratio)
    assert abs(at_pitch) < 0.04 * at_rest


@given(st.floats(0.8, 2.0), st.floats(0.05, 0.95))
def test_without_friction_the_ventilated_efficiency_is_one_minus_slip(ratio, slip):
    # momentum of a plate that carries only a normal force: efficiency = J / (P/D), section by section
    j = ratio * (1 - slip)
    kt, kq = ventilated(ratio, friction=0.0)(j)
    # 1e-4: the curve is a spline through 64 points
    assert j * kt / (2 * math.pi * kq) == pytest.approx(1 - slip, rel=1e-4)


@given(st.floats(0.9, 1.9), st.floats(0.0, 0.9), st.floats(0.0, 0.9))
def test_more_slip_more_thrust_and_torque(ratio, a, b):
    slower, faster = sorted((a * ratio, b * ratio))
    if faster - slower < 1e-3:
        return
    kt_slow, kq_slow = ventilated(ratio)(slower)
    kt_fast, kq_fast = ventilated(ratio)(faster)
    assert kt_slow > kt_fast
    assert kq_slow > kq_fast


@pytest.mark.parametrize(("blades", "area", "ratio"), [(2, 0.3, 1.0), (3, 0.5, 1.0), (3, 0.5, 1.4), (4, 0.55, 1.2)])
def test_wetted_curve_is_the_b_series_in_its_range(blades, area, ratio):
    curve = open_water_curve(ratio, blades, area, ventilated=False)
    assert not curve.caveats
    for j in (0.0, 0.3, 0.7):
        kt, kq = curve.coefficients(j, 1.0, 1.0, 0.0)
        kt_b, kq_b = b_series_coefficients(j, ratio, area, blades)
        assert kt == pytest.approx(float(kt_b), abs=2e-6)  # spline through 64 points
        assert kq == pytest.approx(float(kq_b), abs=1e-6)


def test_seam_at_the_end_of_the_b_series_is_smooth_and_told():
    inside = open_water_curve(1.4, 3, 0.5, ventilated=False)
    outside = open_water_curve(1.4001, 3, 0.5, ventilated=False)
    for j in (0.2, 0.8, 1.2):
        kt_in, kq_in = inside.coefficients(j, 1.0, 1.0, 0.0)
        kt_out, kq_out = outside.coefficients(j, 1.0, 1.0, 0.0)
        assert kt_out == pytest.approx(kt_in, abs=2e-4)
        assert kq_out == pytest.approx(kq_in, abs=2e-4)
    assert open_water_curve(1.8, 3, 0.5, ventilated=False).caveats[0].of_pitch
    assert not open_water_curve(1.2, 2, 0.2, ventilated=False).caveats[0].of_pitch


@pytest.mark.parametrize(("ratio", "blades", "area"), [(1.0, 3, 0.5), (1.4, 3, 0.5), (1.7, 2, 0.45), (2.0, 3, 0.55)])
def test_wetted_efficiency_stays_below_the_ideal(ratio, blades, area):
    # momentum theory: 2 / (1 + sqrt(1 + CT)), CT on the disc; a polynomial used outside its range breaks this
    curve = open_water_curve(ratio, blades, area, ventilated=False)
    for j in np.linspace(0.2, 0.95 * ratio, 30):
        kt, kq = curve.coefficients(j, 1.0, 1.0, 0.0)
        if kt <= 0:
            continue
        loading = 8 / math.pi * kt / j**2
        ideal = 2 / (1 + math.sqrt(1 + loading))
        assert j * kt / (2 * math.pi * kq) < ideal


@pytest.mark.parametrize(("loading", "expected"), [(0.5, 0.898979), (1, 0.828427), (2, 0.732051)])
def test_ideal_efficiency(loading, expected):
    # momentum theory, arithmetic; the bound used above
    assert 2 / (1 + math.sqrt(1 + loading)) == pytest.approx(expected, abs=1e-6)


def test_pitch_from_either_way_of_giving_it():
    by_ratio = Propeller(diameter_m=Value(value=0.042), pitch_ratio=Value(value=1.4))
    by_pitch = Propeller(diameter_m=Value(value=0.042), pitch_m=Value(value=0.0588))
    assert pitch(by_ratio).value == pytest.approx(pitch(by_pitch).value)


def test_impossible_propellers_are_refused():
    with pytest.raises(InvalidValue, match="PitchNeeded"):
        Propeller(diameter_m=Value(value=0.042))
    with pytest.raises(InvalidValue, match=r"propeller\.pitch"):
        Propeller(diameter_m=Value(value=0.042), pitch_m=Value(value=0.2))
    with pytest.raises(InvalidValue) as refused:
        Propeller(diameter_m=Value(value=0.9), pitch_ratio=Value(value=1.4))
    assert refused.value.field == "propeller.diameter"
    assert (refused.value.allowed.low, refused.value.allowed.high) == pytest.approx((0.010, 0.200))


def test_guesses_of_a_propeller():
    plain = Propeller(diameter_m=Value(value=0.042), pitch_ratio=Value(value=1.4))
    three = Propeller(diameter_m=Value(value=0.042), pitch_ratio=Value(value=1.4), blades=3)
    assert (area_ratio(plain).value, area_ratio(three).value) == (0.45, 0.55)  # common practice, no source
    assert immersion(plain, None, submerged=False).value == 0.5
    assert immersion(plain, None, submerged=True).value == 1.0
