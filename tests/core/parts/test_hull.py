import csv
import math

import numpy as np
import pytest
from tests import samples

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.laws import resistance, water
from kunstflug.core.laws.resistance import foil_drag_area_m2
from kunstflug.core.parts import hull
from kunstflug.core.parts.hull import Hull, appendage_area
from kunstflug.core.parts.propeller import Propeller, immersion
from kunstflug.core.quantity.value import Source, Value

DATA = samples.DATA
L = Value(value=0.62)
WATER = list(csv.DictReader((DATA / "water_1atm.csv").read_text().splitlines()))


@pytest.mark.parametrize(("reynolds", "expected"), [(1e6, 0.0046875), (1e7, 0.003), (1e8, 0.00208333)])
def test_ittc57(reynolds, expected):
    # ITTC 1957 model-ship correlation line
    assert resistance.skin_friction_ittc57(reynolds) == pytest.approx(expected, rel=2e-6)


@pytest.mark.parametrize("row", WATER, ids=[f"{r['T_C']} degC" for r in WATER])
def test_water(row):
    celsius = float(row["T_C"])
    # CoolProp 8.0 at 1 atm
    assert water.water_density_kg_m3(celsius) == pytest.approx(float(row["rho_kg_m3"]), rel=1e-7)
    assert water.water_viscosity_pa_s(celsius) == pytest.approx(float(row["mu_Pa_s"]), rel=1e-5)


def test_there_is_no_water_below_freezing():
    assert math.isnan(water.water_density_kg_m3(-1.0))
    assert math.isnan(water.water_viscosity_pa_s(95.0))


def test_air_at_15_degrees():
    assert water.air_density_kg_m3(15.0) == pytest.approx(1.225, abs=5e-4)  # ISO 2533 standard atmosphere


@pytest.mark.parametrize("kind", list(hull.HullType))
def test_hump_then_plane(kind):
    a_hull = hull.Hull(hull_type=kind, length_m=Value(value=0.7))
    planing, hump = hull.planing_drag(a_hull).value, hull.hump_drag(a_hull).value
    froude = np.linspace(0.0, 25.0, 2000)
    ratio = resistance.running_drag_ratio(froude, planing, hump)
    assert ratio[0] == 0.0
    assert 1.2 < froude[np.argmax(ratio)] < 3.0
    assert ratio[-1] == pytest.approx(planing, rel=1e-3)


def test_tail_wind_that_overtakes_pushes():
    assert resistance.air_drag_n(2.0, -5.0, 0.01, 1.2) < 0
    assert resistance.air_drag_n(10.0, 3.0, 0.01, 1.2) == pytest.approx(0.5 * 1.2 * 0.01 * 13**2)  # by hand: 13 m/s


def test_volume_froude_of_a_known_boat():
    # 2.1 kg in 1000 kg/m3: cube root of 0.0021 m3 is 0.12806 m, sqrt(9.80665 x 0.12806) = 1.12062 m/s
    assert resistance.volume_froude(11.2062, 2.1, 1000.0) == pytest.approx(10.0, rel=1e-4)


def test_a_hull_wets_with_what_it_carries_and_less_the_faster_it_is():
    # 2 l at Froude number 20: 0.008 x 0.002^(2/3) = 0.008 x 0.015874 m2, by hand
    at = resistance.wetted_area_m2(2e-3, 20.0, 8e-3, 1.0)
    assert at == pytest.approx(8e-3 * 0.015874, rel=0.012)  # the level end of the power is 1.1 % there
    assert resistance.wetted_area_m2(4e-3, 20.0, 8e-3, 1.0) / at == pytest.approx(2 ** (2 / 3))
    faster = resistance.wetted_area_m2(2e-3, 40.0, 8e-3, 1.0)
    assert faster / at == pytest.approx(0.5, rel=0.01)
    # at rest nothing is endless
    assert resistance.wetted_area_m2(2e-3, 0.0, 8e-3, 1.0) == pytest.approx(at * np.sqrt(20**2 + 3**2) / 3)


def test_air_lifts_with_the_wind_and_never_presses():
    # 25 m/s: 0.5 x 1.2 x 0.01 x 625 = 3.75 N, by hand
    assert resistance.air_lift_n(20.0, 5.0, 0.01, 1.2) == pytest.approx(3.75)
    assert resistance.air_lift_n(3.0, -5.0, 0.01, 1.2) == 0.0


def test_the_wetted_hull_and_hardware_make_up_the_usual_drag_area():
    mono = hull.Hull(length_m=Value(value=0.7))
    usual_m3 = 5.0 * 0.7**2.5 / 1000
    wet = hull.wetted_factor(mono).value * usual_m3 ** (2 / 3)  # at Froude number 20, by definition
    whole = wet + hull.appendage_area(mono).value
    assert whole == pytest.approx(3.2e-4 * 0.49)
    assert wet / whole == pytest.approx(0.7)
    # tunnels and catamarans fly on their air, a mono hardly does
    flat, deep = (hull.Hull(hull_type=k, length_m=Value(value=0.7)) for k in (hull.HullType.TUNNEL, hull.HullType.MONO))
    assert hull.air_lift_area(flat).value > 4 * hull.air_lift_area(deep).value


def test_guesses_differ_by_type_and_give_way_to_what_is_known():
    mono, outrigger = (
        hull.Hull(hull_type=k, length_m=Value(value=0.6)) for k in (hull.HullType.MONO, hull.HullType.OUTRIGGER)
    )
    # outriggers about half of a mono, or less: common practice, no source
    assert hull.appendage_area(outrigger).value < 0.55 * hull.appendage_area(mono).value
    known = Value(value=1e-4, source=Source.LEARNT)
    assert hull.appendage_area(hull.Hull(length_m=Value(value=0.6), appendage_area_m2=known)) is known
    submerged = hull.Hull(length_m=Value(value=0.6), drive=hull.Drive.SUBMERGED)
    assert hull.appendage_area(submerged).value > hull.appendage_area(mono).value


def test_hardware_by_its_sizes():
    # by hand: 40 x 25 mm on both sides with a friction of 0.005 and a fifth for thickness is 0.12 cm2, the spray of
    # 2.5 mm 0.24 x 0.0625 cm2 = 0.015
    assert foil_drag_area_m2(0.040, 0.025) == pytest.approx(0.135e-4, rel=1e-3)
    usual = appendage_area(Hull(length_m=L))
    sized = appendage_area(Hull(length_m=L, rudder_depth_m=Value(value=0.040), rudder_chord_m=Value(value=0.025),
                                fin_depth_m=Value(value=0.0)))  # fmt: skip
    assert sized.value == pytest.approx(0.4 * usual.value + 0.135e-4, rel=1e-3)
    assert sized.spread < usual.spread
    deeper = appendage_area(Hull(length_m=L, rudder_depth_m=Value(value=0.080), fin_depth_m=Value(value=0.0)))
    assert deeper.value > sized.value


def test_hardware_that_is_bent_drags_more_and_is_known_less():
    sound, bent = (samples.setup(hull__hardware=h) for h in ("sound", "damaged"))
    one, other = appendage_area(sound.hull), appendage_area(bent.hull)
    assert other.value == pytest.approx(1.25 * one.value)
    assert other.spread > one.spread
    assert forecast(bent).point.speed_mps < forecast(sound).point.speed_mps


def test_a_higher_shaft_runs_less_of_the_propeller_wet():
    wheel = Propeller(diameter_m=Value(value=0.04), pitch_ratio=Value(value=1.4))
    level, higher = (immersion(wheel, Value(value=d), submerged=False) for d in (0.0, -0.004))
    assert (level.value, higher.value) == (0.5, pytest.approx(0.4))
    assert level.spread < immersion(wheel, None, submerged=False).spread
    given = Propeller(diameter_m=Value(value=0.04), pitch_ratio=Value(value=1.4), immersion=Value(value=0.6))
    assert immersion(given, Value(value=0.0), submerged=False).value == 0.6
