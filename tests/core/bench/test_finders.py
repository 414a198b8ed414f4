"""Finders: each against geometry, a standard's sizes or the law it searches."""

import math

import pytest
from tests import samples

from kunstflug.core.bench import finders
from kunstflug.core.laws.electric import silicone_outside_m
from kunstflug.core.laws.wire import wire_current_a
from kunstflug.core.parts.wiring import PIN_RATINGS
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.wording.bench import FINDERS


def found(key: str, **readings: float):
    return finders.find(finders.BY_KEY[key], readings)


def test_every_finder_finds_with_its_usual_readings():
    for finder in finders.FINDERS:
        usual = {r.key: r.usual for r in finder.readings}
        assert all(samples.words(a) for a in finders.find(finder, usual))
        assert FINDERS[finder.key].nothing


def test_shim_fills_bore_and_takes_shaft():
    # 4.7625 mm (3/16 in) bore on a 4 mm shaft: a tube 4.76 x 0.38 mm wall (sold by outside and wall)
    tubes = found("shim", bore=4.7625e-3, shaft=4e-3)
    assert tubes
    for tube in tubes:
        assert tube.outside_m <= 4.7625e-3 + 0.02e-3
        assert tube.bore_m >= 4e-3 - 1e-9
        # play on both fits, half of it off the axis (geometry)
        play = max(4.7625e-3 - tube.outside_m, 0) + tube.bore_m - 4e-3
        assert tube.run_out_m == pytest.approx(play / 2, abs=0.6e-6)


def test_no_shim_where_no_tube_is_sold():
    assert found("shim", bore=8.02e-3, shaft=7.9e-3) == ()


def test_ring_is_pressed_within_guidance():
    rings = found("ring", bore=36.6e-3, can=36e-3, groove=1.1e-3)
    assert rings
    for ring in rings:
        assert ring.squeeze == pytest.approx(1 - (0.3e-3 + 1.1e-3) / ring.section_m)
        assert 0.15 <= ring.squeeze <= 0.30
        assert ring.stretch == pytest.approx(36e-3 / ring.inside_m - 1)  # on the can, mean stretch of the inside


def test_a_can_wider_than_its_jacket_is_said():
    with pytest.raises(InvalidValue, match="bore"):
        found("ring", bore=35e-3, can=38e-3, groove=0.5e-3)


def test_hoses_carry_what_is_asked_and_wider_carry_more():
    hoses = found("hose", flow=0.8 / 6e4, speed=12.0, length=0.8)
    flows = [h.flow_m3_s * 6e4 for h in hoses]
    assert flows[0] >= 0.8
    assert flows == sorted(flows)
    slower = found("hose", flow=0.8 / 6e4, speed=6.0, length=0.8)
    assert slower[0].bore_m >= hoses[0].bore_m


@pytest.mark.parametrize("amps", [30, 100, 180])
def test_wire_holds_the_current_and_the_next_thinner_does_not(amps):
    gauge = found("wire", current=amps, air=25.0)[0].gauge_awg
    holds = [wire_current_a(finders.HELD_C, g, silicone_outside_m(g), 25.0) for g in (gauge, gauge + 2)]
    assert holds[0] >= amps > holds[1]


def test_plug_is_the_smallest_that_takes_it():
    plug = found("connector", current=100)[0]
    assert plug.holds_a >= 100
    assert all(p.current_a < 100 for p in PIN_RATINGS if p.pin_m < plug.pin_m)


def test_flat_is_the_segment_of_a_circle():
    # M3 screw on a 5 mm shaft: sagitta of a 3 mm chord, r - sqrt(r^2 - 1.5^2) = 0.5 mm (geometry)
    m3 = next(f for f in found("flat", shaft=5e-3, rpm=28000) if f.thread == "M3")
    assert m3.depth_m == pytest.approx((2.5 - math.sqrt(2.5**2 - 1.5**2)) * 1e-3)
    assert [f.thread for f in found("flat", shaft=2.6e-3, rpm=1000)] == ["M2.5"]  # no screw as wide as the shaft


@pytest.mark.parametrize("bad", [{}, {"current": float("nan")}, {"current": -5.0}, {"current": 1e9}])
def test_rubbish_is_refused(bad):
    with pytest.raises(InvalidValue, match="current"):
        finders.find(finders.BY_KEY["connector"], bad)


def test_reducing_sleeves_are_known_too():
    # 4 mm motor shaft in a 5 mm coupler: the sleeve that is sold for it, true by its sizes
    sleeves = [one.name for one in found("shim", bore=5e-3, shaft=4e-3)]
    assert "reducing sleeve 4 to 5 mm" in sleeves
    assert any("5 to 8" in one.name for one in found("shim", bore=8e-3, shaft=5e-3))
