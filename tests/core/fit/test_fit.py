"""Small mechanics against geometry and standards; joints of a drive; the section is to scale."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from tests import samples
from tests.samples import q

from kunstflug.core.drive.schools import HELD
from kunstflug.core.fit.build import Caution, LowPack, StepKey, build_list, first_power
from kunstflug.core.fit.joint import Fit
from kunstflug.core.fit.joints import joints
from kunstflug.core.fit.motor_joints import RingFault, Side
from kunstflug.core.fit.section import section
from kunstflug.core.laws import mechanics as m


@pytest.mark.parametrize(("diameter", "width", "depth"), [(5, 3, 0.500), (6, 3, 0.401924), (6.35, 3, 0.376675)])
def test_depth_of_a_flat(diameter, width, depth):
    # geometry: r - sqrt(r^2 - w^2/4)
    assert m.flat_depth_m(diameter * 1e-3, width * 1e-3) * 1e3 == pytest.approx(depth, abs=1e-6)


@given(st.floats(2e-3, 12e-3), st.floats(0.05, 0.95))
def test_width_and_depth_of_a_flat_are_inverse(diameter, part):
    depth = m.flat_depth_m(diameter, part * diameter)
    assert m.flat_width_m(diameter, depth) == pytest.approx(part * diameter, rel=1e-9)


@given(st.floats(3e-3, 10e-3), st.floats(0.1, 0.9))
def test_mass_of_a_flat_is_its_segment(diameter, part):
    # the segment integrated by strips instead of in closed form
    radius, depth = diameter / 2, part * diameter / 2
    y = np.linspace(radius - depth, radius, 20001)
    chord = 2 * np.sqrt(np.maximum(radius**2 - y**2, 0))
    area, moment = np.trapezoid(chord, y), np.trapezoid(chord * y, y)
    taken = m.flat_unbalance(diameter, depth, 0.01)
    assert taken.mass_kg == pytest.approx(area * 0.01 * m.STEEL_KG_M3, rel=1e-4)
    assert taken.unbalance_kg_m == pytest.approx(moment * 0.01 * m.STEEL_KG_M3, rel=1e-4)


@pytest.mark.parametrize(("name", "millimetres"), [("3/16", 4.7625), ("1/4", 6.35), ("5/32", 3.96875)])
def test_inch_shafts(name, millimetres):
    # exact by the definition of the inch
    tube = next(t for t in m.TUBES if t.name.startswith(f"{name} in"))
    assert tube.outside_m * 1e3 == pytest.approx(millimetres, abs=1e-9)


def test_bore_of_the_three_sixteenth_tube():
    # exact: 4.7625 - 2 x 0.014 in
    tube = next(t for t in m.TUBES if t.name.startswith("3/16"))
    assert tube.bore_m * 1e3 == pytest.approx(4.0513, abs=1e-4)


def test_a_4_mm_shaft_in_a_three_sixteenth_coupler():
    # common practice in the trade, no source: this tube is what is used
    best = m.shims(4.7625e-3, 4e-3)[0]
    assert best.tube.name.startswith("3/16")
    assert best.run_out_m < 0.03e-3


def test_a_tube_that_runs_out_is_not_offered():
    assert m.shims(6e-3, 5e-3)  # 6 x 0.5 mm
    assert not m.shims(8e-3, 4.5e-3)
    for bore in np.arange(3e-3, 9e-3, 0.13e-3):
        for shim in m.shims(float(bore), float(bore) - 0.9e-3):
            assert 0 <= shim.run_out_m <= m.MOST_RUN_OUT_M
            assert shim.tube.outside_m <= bore + m.PRESS_M


@pytest.mark.parametrize(("circle", "holes", "chord"), [(25, 4, 17.6777), (19, 3, 16.4545)])
def test_bolt_circles(circle, holes, chord):
    # geometry: D sin(pi / n)
    assert m.chord_m(circle * 1e-3, holes) * 1e3 == pytest.approx(chord, abs=1e-4)
    assert m.circle_from_chord_m(chord * 1e-3, holes) * 1e3 == pytest.approx(circle, abs=1e-3)


@pytest.mark.parametrize(("thread", "area"), [("M3", 5.03), ("M4", 8.78), ("M5", 14.2)])
def test_stress_areas(thread, area):
    # ISO 898-1, from memory; formula meets table
    assert m.stress_area_m2(thread) * 1e6 == pytest.approx(area, rel=0.002)


def test_preload_of_an_m4():
    # VDI 2230, from memory: M4 8.8 at mu 0.12 has 4.4 kN and 3.0 Nm (table A1)
    assert m.preload_n("M4") == pytest.approx(4400, rel=0.03)
    assert m.tightening_torque_nm("M4", m.preload_n("M4")) == pytest.approx(3.0, rel=0.07)
    assert m.tightening_torque_nm("M3", m.preload_n("M3")) == pytest.approx(1.3, rel=0.07)  # the same table


@pytest.mark.parametrize(("diameter", "span", "rpm"), [(4, 150, 21440), (4.76, 200, 14354), (6.35, 250, 12254)])
def test_whirl_of_a_pinned_shaft(diameter, span, rpm):
    # a rotor-dynamics library and Euler's beam agree; 0.3 % for the steel they took
    assert m.first_whirl_rpm(diameter * 1e-3, span * 1e-3) == pytest.approx(rpm, rel=0.003)


@given(st.floats(2e-3, 10e-3), st.floats(5000, 60000))
def test_the_longest_span_is_the_inverse_of_whirl(diameter, rpm):
    span = m.longest_span_m(diameter, rpm)
    assert m.first_whirl_rpm(diameter, span) * 0.75 == pytest.approx(rpm, rel=1e-9)


@pytest.mark.parametrize(
    ("dash", "inside", "section"),
    [("012", 9.25, 1.78), ("014", 12.42, 1.78), ("110", 9.19, 2.62), ("116", 18.72, 2.62)],
)
def test_rings_by_their_dash_numbers(dash, inside, section):
    # AS568 / ISO 3601-1, from memory
    assert (dash, inside, section) in m._AS568


def test_squeeze_by_its_definition():
    # 1.78 in a 1.35 mm space: 24.2 %
    assert m.squeeze(1.78e-3, 1.35e-3) == pytest.approx(0.242, abs=5e-4)
    assert m.squeeze(1.78e-3, 1.78e-3) == 0


@given(st.floats(20e-3, 56e-3), st.floats(0.8e-3, 2.3e-3))
def test_every_ring_that_is_named_seals(seat, space):
    for ring in m.rings(seat, space):
        assert 0.15 <= m.squeeze(ring.section_m, space) <= 0.30
        assert -0.02 <= m.stretch(ring.inside_m, seat) <= 0.05


def test_unbalance_force():
    # 0.1 g at 20 mm at 25 000 rpm: 1e-4 x 0.02 x 2618^2 = 13.7 N, by hand
    assert m.unbalance_force_n(1e-4 * 0.02, 25000) == pytest.approx(13.71, rel=1e-3)


# joints

MOTOR = {
    "kv": q(2200, "rpm/V"), "can_diameter": q(36, "mm"), "can_length": q(74, "mm"), "shaft": q(5, "mm"),
    "circle": q(25, "mm"), "holes": 4, "thread_depth": q(6, "mm"), "shaft_length": q(18, "mm"),
}  # fmt: skip
FITTED = {
    "motor": MOTOR,
    "mount": {"circle": q(25, "mm"), "holes": 4, "plate": q(3, "mm"), "screw": "M3", "screw_length": q(8, "mm")},
    "coupler": {"motor_bore": q(5, "mm"), "shaft_bore": q(4.76, "mm"), "outside": q(14, "mm"), "length": q(26, "mm"),
                "set_screw": "M4", "grip": q(11, "mm")},
    "shaft": {"kind": "flex", "diameter": q(4.76, "mm"), "end": q(4.76, "mm"), "length": q(240, "mm"),
              "gap": q(3, "mm"), "collar": "collar"},
    "jacket": {"bore": q(36.6, "mm"), "outside": q(42, "mm"), "length": q(45, "mm"), "groove": q(1.1, "mm"),
               "ring_section": q(1.78, "mm"), "ring_inside": q(34.65, "mm"), "nipple": q(8, "mm")},
    "propeller": {"diameter": q(42, "mm"), "pitch_ratio": q(1.4, "1"), "bore": q(4.76, "mm")},
    "placement": {"room_length": q(110, "mm"), "room_width": q(70, "mm"), "room_height": q(60, "mm"),
                  "shell": q(210, "mm"), "motor": q(270, "mm"), "pack": q(190, "mm")},
    "wiring": {"gauge_awg": 10, "connector_diameter": q(5.5, "mm")},
}  # fmt: skip


def fitted(**changes):
    parts = {kind: {**part} for kind, part in FITTED.items()}
    for path, value in changes.items():
        kind, _, key = path.partition("__")
        parts[kind][key] = value
    return samples.setup(**parts)


def of(setup, key, rpm=28000, amps=70, before=None):
    return next(j for j in joints(setup, rpm, amps, HELD, before) if j.key == key)


def test_a_drive_that_fits_fits():
    for joint in joints(fitted(), 28000, 70, HELD):
        assert joint.fit is Fit.FITS, (joint.key, joint.finding)
        assert joint.off_m == 0


def test_what_nobody_measured_asks_for_it():
    bare = joints(samples.setup(), 28000, 70, HELD)
    asked = {path for j in bare for path in j.ask}
    assert {"motor.circle", "mount.circle", "motor.shaft", "coupler.motor_bore", "placement.room_length"} <= asked
    assert all(j.fit is not Fit.CLASHES for j in bare)


def test_a_screw_that_reaches_the_winding():
    joint = of(fitted(mount__screw_length=q(12, "mm")), "screw")
    assert joint.fit is Fit.CLASHES
    assert joint.off_m == pytest.approx(3e-3)  # 12 - 3 - 6 mm by hand
    assert "kills the motor" in samples.words(joint.finding)
    mended = of(fitted(mount__screw_length=q(joint.remedy.length_m * 1e3, "mm")), "screw")
    assert mended.fit is Fit.FITS


def test_a_screw_that_hardly_holds():
    joint = of(fitted(mount__screw_length=q(4, "mm")), "screw")
    assert joint.fit is Fit.NEEDS
    assert joint.off_m == pytest.approx(2e-3)


def test_a_bolt_circle_that_does_not_meet():
    joint = of(fitted(motor__circle=q(30, "mm")), "circle")
    assert joint.fit is Fit.CLASHES
    assert joint.off_m == pytest.approx(5e-3)
    assert joint.remedy.apart_m == pytest.approx(21.213e-3, abs=1e-6)  # 30 sin 45 deg
    slotted = of(fitted(motor__circle=q(30, "mm"), mount__circle_to=q(32, "mm")), "circle")
    assert slotted.fit is Fit.FITS


def test_three_holes_on_four():
    assert of(fitted(motor__holes=3), "circle").fit is Fit.NEEDS


def test_an_8_mm_shaft_in_a_5_mm_coupler():
    joint = of(fitted(motor__shaft=q(8, "mm")), "motor_coupler")
    assert joint.fit is Fit.CLASHES
    assert joint.off_m == pytest.approx(3e-3)
    assert joint.remedy.bore_m == pytest.approx(8e-3)
    assert of(fitted(motor__shaft=q(8, "mm"), coupler__motor_bore=q(8, "mm")), "motor_coupler").fit is Fit.FITS


def test_a_shim_is_named_and_a_crooked_one_refused():
    needs = of(fitted(shaft__diameter=q(4, "mm"), coupler__shaft_bore=q(4.7625, "mm")), "shaft_coupler")
    assert needs.fit is Fit.NEEDS
    assert "3/16" in needs.remedy.name
    assert needs.remedy.run_out_m < 0.03e-3
    refused = of(fitted(shaft__diameter=q(3, "mm")), "shaft_coupler")
    assert refused.fit is Fit.CLASHES
    assert not refused.finding.fills


def test_a_40_mm_can_in_a_jacket_for_36():
    joint = of(fitted(motor__can_diameter=q(40, "mm")), "jacket")
    assert joint.fit is Fit.CLASHES
    assert joint.off_m == pytest.approx(3.4e-3)
    assert joint.remedy.can_m == pytest.approx(40e-3)


def test_an_outrunner_takes_no_jacket():
    assert of(fitted(motor__kind="outrunner"), "jacket").fit is Fit.CLASHES


def test_rings_that_leak_tear_or_hang():
    loose = of(fitted(jacket__ring_section=q(1.5, "mm")), "ring")
    assert loose.fit is Fit.NEEDS
    assert loose.finding.fault is RingFault.LEAKS
    # pressed to 15 % in 1.4 mm of space a ring is 1.647 mm thick, by hand
    assert loose.off_m == pytest.approx(1.4e-3 / 0.85 - 1.5e-3)
    tight = of(fitted(jacket__ring_section=q(2.62, "mm")), "ring")
    assert tight.finding.fault is RingFault.TEARS
    wide = of(fitted(jacket__ring_inside=q(39, "mm")), "ring")
    assert wide.finding.fault is RingFault.LOOSE
    assert loose.remedy.names


def test_a_can_longer_than_its_room():
    joint = of(fitted(placement__room_length=q(80, "mm")), "room")
    assert joint.fit is Fit.CLASHES
    assert joint.off_m == pytest.approx(6e-3)  # 74 + 12 - 80
    high = of(fitted(placement__room_height=q(45, "mm")), "room")
    assert high.off_m == pytest.approx(5e-3)  # 42 + 8 - 45
    assert high.remedy.side is Side.HEIGHT


def test_a_flat_says_mass_force_and_thread():
    joint = of(fitted(coupler__set_screw="M3"), "flat")
    assert joint.finding.depth_m == pytest.approx(0.5e-3)  # D5 w3
    assert "0.5 mm deep" in samples.words(joint.finding)
    thin = of(fitted(coupler__outside=q(7, "mm")), "flat")
    assert thin.fit is Fit.NEEDS
    half = of(fitted(coupler__set_screw="M5"), "flat")
    assert half.fit is Fit.NEEDS


def test_a_solid_shaft_that_whips():
    whips = of(fitted(shaft__kind="solid", shaft__span=q(200, "mm")), "whirl", rpm=28000)
    assert whips.fit is Fit.CLASHES
    assert whips.finding.critical_rpm == pytest.approx(14354, rel=0.003)
    free = whips.remedy.span_m * 1e3
    assert of(fitted(shaft__kind="solid", shaft__span=q(free - 1, "mm")), "whirl", rpm=28000).fit is Fit.FITS


def test_a_flex_without_its_gap():
    joint = of(fitted(shaft__gap=q(0.5, "mm")), "flex")
    assert joint.fit is Fit.NEEDS
    assert joint.off_m == pytest.approx(1.5e-3)


def test_wire_and_plugs():
    assert of(fitted(), "wire", amps=300).fit is Fit.NEEDS
    pins = of(fitted(), "pins", amps=200)
    assert pins.remedy.pin_m == pytest.approx(8e-3)


def test_a_heavier_motor_moves_the_centre_and_the_pack_brings_it_back():
    before = fitted()
    heavy = samples.setup(**{**FITTED, "motor": {**MOTOR, "mass": q(420, "g")}, "all_up_mass": q(2235, "g")})
    joint = of(heavy, "centre", before=before)
    assert joint.fit is Fit.NEEDS
    assert joint.finding.now_m > joint.finding.was_m  # the motor sits ahead of the centre
    shift = -joint.remedy.by_m * 1e3
    assert shift > 0  # aft
    back = samples.setup(**{**FITTED, "motor": {**MOTOR, "mass": q(420, "g")}, "all_up_mass": q(2235, "g"),
                            "placement": {**FITTED["placement"], "pack": q(190 - shift, "mm")}})  # fmt: skip
    assert of(back, "centre", before=before).fit is Fit.FITS


# drawing


def shapes(setup, kind):
    return [s for s in section(setup, joints(setup, 28000, 70, HELD)).shapes if s.kind == kind]


def test_a_shaft_of_5_mm_is_5_mm():
    (can,) = shapes(fitted(), "can")
    assert (can.w, can.h) == pytest.approx((74, 36))
    assert (can.x, can.y) == pytest.approx((0, -18))
    shaft = next(s for s in shapes(fitted(), "shaft") if s.part == "motor")
    assert shaft.h == pytest.approx(5)
    assert shaft.w == pytest.approx(18)
    (disc,) = shapes(fitted(), "disc")
    assert disc.h == pytest.approx(42)
    (room,) = shapes(fitted(), "room")
    assert (room.w, room.h) == pytest.approx((110, 60))


@given(st.floats(20, 56), st.floats(30, 140), st.floats(2, 10))
def test_every_size_is_drawn_as_it_is(can, length, shaft):
    setup = fitted(motor__can_diameter=q(can, "mm"), motor__can_length=q(length, "mm"), motor__shaft=q(shaft, "mm"))
    drawing = section(setup, joints(setup, 28000, 70, HELD))
    found = next(s for s in drawing.shapes if s.kind == "can")
    assert found.h == pytest.approx(can)
    assert found.w == pytest.approx(length)
    assert next(s for s in drawing.shapes if s.kind == "shaft" and s.part == "motor").h == pytest.approx(shaft)
    for s in drawing.shapes:
        assert drawing.left < s.x
        assert s.x + s.w < drawing.right
        assert drawing.bottom < s.y
        assert s.y + s.h < drawing.top


def test_clashes_are_drawn_as_large_as_they_are():
    setup = fitted(motor__shaft=q(8, "mm"), motor__can_length=q(105, "mm"))
    clash = shapes(setup, "clash")
    over = next(s for s in clash if s.part == "motor")
    assert over.w == pytest.approx(105 + 12 - 110)
    ring = [s for s in clash if s.part == "coupler"]
    assert len(ring) == 2
    assert all(s.h == pytest.approx(1.5) for s in ring)  # 8 in 5 mm: 1.5 on each side
    assert not shapes(fitted(), "clash")


def test_what_was_not_measured_is_drawn_as_a_guess():
    bare = section(samples.setup(), ())
    assert all(s.guess for s in bare.shapes if s.kind in ("room", "coupler", "strut"))
    assert not next(s for s in bare.shapes if s.kind == "can").guess


# build list


def keys(setup, changed=None):
    return [s.key for s in build_list(setup, joints(setup, 28000, 70, HELD), changed)]


def test_the_list_is_in_the_order_of_the_bench():
    order = keys(fitted())
    wanted = ["clean", "mark", "flat", "motor", "coupler", "grease", "gap", "collar", "propeller", "jacket", "hoses",
              "plugs", "polarity", "pack", "direction"]  # fmt: skip
    assert order == wanted


def test_a_swap_lists_what_changes_and_no_more():
    setup = fitted()
    swap = keys(setup, frozenset({"propeller"}))
    assert swap == ["off", "propeller", "direction"]
    motor = keys(setup, frozenset({"motor"}))
    assert "flat" in motor
    assert "gap" not in motor
    assert "pack" not in motor


def test_a_shim_has_its_step():
    shimmed = fitted(shaft__diameter=q(4, "mm"), coupler__shaft_bore=q(4.7625, "mm"))
    assert "shim-shaft-coupler" in keys(shimmed)


def test_cautions_stand_where_they_apply():
    steps = {s.key: s for s in build_list(fitted(), joints(fitted(), 28000, 70, HELD))}
    assert Caution.GRINDING in steps["flat"].cautions
    assert Caution.BERYLLIUM in steps["propeller"].cautions
    assert Caution.SILICONE_ONLY in steps["jacket"].cautions
    assert steps["polarity"].cautions == ()
    high = samples.setup(**{**FITTED, "pack": {**samples.MONO["pack"], "cells": 16},
                            "motor": {**MOTOR, "kv": q(500, "rpm/V")}})  # fmt: skip
    assert {s.key: s for s in build_list(high, joints(high, 28000, 70, HELD))}["polarity"].cautions == (
        Caution.HIGH_VOLTAGE,
    )


def test_first_power_begins_in_a_stand_and_on_a_low_pack():
    steps = first_power(fitted())
    assert steps[0].key is StepKey.POWER_STAND
    assert steps[1].about == LowPack(cells=2, instead_of=4)
    assert steps[-1].key is StepKey.POWER_FULL
