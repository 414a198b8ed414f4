"""What size and shape of a blade do: against plate and line laws by hand, and as racers find it."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests import samples
from tests.samples import q

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.laws.blade import blade_friction, chord_m, span_factor, torque_of_cup
from kunstflug.core.propeller import open_water_curve
from kunstflug.core.propeller.seam import AIR_FROM, AIR_FULL, water_part


def test_a_chord_is_the_blades_area_over_their_span():
    # by hand: a disc of 40 mm has 1257 mm2; 0.45 of it on two blades of 16 mm is 17.7 mm
    assert chord_m(0.040, 2, 0.45) * 0.016 * 2 == pytest.approx(0.45 * math.pi * 0.020**2)


def test_friction_is_that_of_a_plate_and_its_edges():
    # by hand: 0.7 pi n D and 1.1 n D make 36 m/s, on 17.7 mm in water of 1.0e-6 m2/s a Reynolds number of 6.4e5;
    # 0.075 / (log10 6.4e5 - 2)^2 = 0.00517 [ittc1957], and 0.085 mm of edge over 17.7 mm is 0.0048
    drag = blade_friction(0.040, 2, 0.45, 367.0, 1.0e-6, 0.085e-3)
    assert drag == pytest.approx(0.00517 + 0.00481, rel=0.01)
    # a smooth plate at a Reynolds number of 1e7 has 0.003, a handbook value of the line
    assert blade_friction(0.4, 2, 0.45, 57.4, 1.0e-6, 0.0) == pytest.approx(0.003, rel=0.01)


def test_a_finite_span_leaves_what_lifting_line_theory_says():
    # live: the circulation of an elliptic wing of slope a0 solved with its own downwash, a = a0 / (1 + a0 / (pi AR))
    slope = math.pi / 2
    for blades, area in ((2, 0.45), (3, 0.55), (4, 0.7)):
        aspect = 0.4**2 * blades / (area * math.pi / 4)
        lift, angle = 0.0, 0.1
        for _ in range(200):
            lift += 0.2 * (slope * (angle - lift / (math.pi * aspect)) - lift)
        kept = lift / (slope * angle)
        usual = 0.4**2 * 2 / (0.45 * math.pi / 4)
        assert span_factor(blades, area) == pytest.approx(kept / (usual / (usual + 0.5)), rel=1e-6)


@given(st.integers(2, 5), st.floats(0.25, 1.0))
def test_more_area_brings_more_force_and_less_for_each_part_of_it(blades, area):
    more = 1.2 * area
    assert more * span_factor(blades, more) > area * span_factor(blades, area)
    assert span_factor(blades, more) < span_factor(blades, area)
    assert span_factor(blades + 1, area) > span_factor(blades, area)


def test_a_cup_turns_the_force_as_a_cambered_section_does():
    # by hand: at small angles a flat section with a cavity has CD = 2/pi CL^2, a circular arc at its own 9/25 of that;
    # a cup of 2 % of the diameter adds 2.4 % of pitch, and 16/25 of that angle is the force's to keep
    assert torque_of_cup(0.02) == pytest.approx(1 - 0.64 * 0.024)
    assert torque_of_cup(0.0) == 1.0


@given(st.floats(0, 1), st.floats(0.1, 1))
def test_water_lessens_with_slip_and_never_below_what_is_left_at_rest(slip, at_rest):
    part = water_part(slip, at_rest)
    assert at_rest <= part <= 1
    assert water_part(min(slip + 0.05, 1.0), at_rest) <= part + 1e-12
    assert water_part(AIR_FROM, at_rest) == 1
    assert water_part(AIR_FULL, at_rest) == pytest.approx(at_rest)


def test_thrust_and_torque_go_with_the_water_in_the_mixture():
    curve = open_water_curve(1.4, 2, 0.45, ventilated=True)
    for j in (0.0, 0.2):
        solid, mixed = (np.array(curve.coefficients(j, 0.45, 0.5, 0.01, part)) for part in (1.0, 0.35))
        assert mixed / solid == pytest.approx(0.35)
    light = np.array([curve.coefficients(1.1, 0.45, 0.5, 0.01, part) for part in (1.0, 0.35)])
    assert light[0] == pytest.approx(light[1])  # lightly loaded it runs as it always did


def efficiency(**propeller):
    wheel = {"diameter": q(42, "mm"), "pitch_ratio": q(1.4, "1"), **propeller}
    return forecast(samples.setup(propeller=wheel), 0).point.propeller_efficiency


def test_efficiency_differs_by_all_that_a_racer_chooses():
    """Directions as racers report them (common practice, no source); model C.2 had 0.63 to 0.70 for everything."""
    usual = efficiency()
    assert efficiency(condition="prepared") > usual + 0.01
    assert efficiency(condition="nicked") < usual - 0.03
    assert efficiency(cup=q(0.8, "mm")) > usual + 0.01
    assert efficiency(rake=q(15, "deg")) < usual  # what rake brings, it brings to the hull
    assert efficiency(diameter=q(50, "mm")) > usual + 0.01 > usual > efficiency(diameter=q(36, "mm")) + 0.02
    assert abs(efficiency(area_ratio=q(0.3, "1")) - usual) > 0.005
    assert efficiency(blades=3) != pytest.approx(usual, abs=0.004)
    every = [
        efficiency(diameter=q(d, "mm"), pitch_ratio=q(p, "1"), condition=c)
        for d in (34, 42, 52) for p in (1.1, 1.4, 1.8) for c in ("prepared", "as_cast", "dull")
    ]  # fmt: skip
    assert max(every) - min(every) > 0.15
