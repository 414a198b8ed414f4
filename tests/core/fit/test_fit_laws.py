"""Joints and section for any sizes: never a false "fits", never a size drawn wrong, never an answer missing."""

import math

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from tests import samples
from tests.core.fit.test_fit import FITTED
from tests.samples import q

from kunstflug.core.drive.schools import HELD
from kunstflug.core.fit.build import build_list, first_power
from kunstflug.core.fit.joint import PLAY_M, Fit
from kunstflug.core.fit.joints import joints
from kunstflug.core.fit.section import section
from kunstflug.core.laws import mechanics as m
from kunstflug.documents.vocabulary import vocabulary

FEW = settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
SIZED = [r for r in vocabulary().fields if r.part in ("mount", "coupler", "shaft", "jacket", "placement")]


def value_in(row):
    """Something that a field can be: left out, or anything in its range."""
    if row.type == "quantity":
        return st.none() | st.floats(row.low, row.high).map(lambda v: q(v, row.unit))
    if row.type == "choice":
        return st.sampled_from([o.value for o in row.options])
    return st.none() | st.integers(int(row.low), int(row.high))


ANY = st.fixed_dictionaries({f"{r.part}__{r.key}": value_in(r) for r in SIZED})
MM = st.floats(2.0, 12.0).map(lambda v: round(v, 2))


def drive(sizes):
    parts: dict[str, dict] = {}
    for path, value in sizes.items():
        part, _, key = path.partition("__")
        if value is not None:
            parts.setdefault(part, {})[key] = value
    return samples.setup(**parts)


def named(found, key):
    return next(j for j in found if j.key == key)


@FEW
@given(ANY)
@pytest.mark.no_cover
def test_any_sizes_have_an_answer_and_a_drawing(sizes):
    setup = drive(sizes)
    found = joints(setup, 25000.0, 80.0, HELD)
    for joint in found:
        assert samples.words(joint.finding)
        assert math.isfinite(joint.off_m)
        if joint.fit in (Fit.CLASHES, Fit.NEEDS):
            assert joint.remedy, joint.key
    drawing = section(setup, found)
    for shape in drawing.shapes:
        assert all(math.isfinite(v) for v in (shape.x, shape.y, shape.w, shape.h))
        assert shape.h > 0
        assert drawing.left <= shape.x <= drawing.right
        assert drawing.bottom <= shape.y <= drawing.top
    assert build_list(setup, found)
    assert first_power(setup)


@FEW
@given(MM, MM)
def test_a_thicker_shaft_never_fits(shaft, bore):
    setup = samples.setup(
        **{**FITTED, "motor": {**FITTED["motor"], "shaft": q(shaft, "mm")},
           "coupler": {**FITTED["coupler"], "motor_bore": q(bore, "mm")}},
    )  # fmt: skip
    joint = named(joints(setup, 25000.0, 80.0, HELD), "motor_coupler")
    if shaft > bore + PLAY_M * 1e3 + 1e-6:
        assert joint.fit is Fit.CLASHES
        assert joint.off_m == pytest.approx((shaft - bore) * 1e-3, abs=1e-9)
    elif abs(shaft - bore) <= PLAY_M * 1e3 - 1e-6:
        assert joint.fit is Fit.FITS
    else:
        assert joint.fit is not Fit.FITS  # loose: a shim, or refused


@FEW
@given(MM, MM)
def test_every_shim_that_is_offered_runs_true(bore, shaft):
    for shim in m.shims(bore * 1e-3, shaft * 1e-3):
        tube = shim.tube
        assert 0 <= shim.run_out_m <= m.MOST_RUN_OUT_M
        assert tube.outside_m <= bore * 1e-3 + m.PRESS_M
        assert tube.bore_m >= shaft * 1e-3 - m.PRESS_M
        assert tube.bore_m == pytest.approx(tube.outside_m - 2 * tube.wall_m)


@FEW
@given(st.floats(20, 50), st.floats(20, 50))
def test_a_can_thicker_than_its_jacket_always_clashes(can, bore):
    setup = samples.setup(
        **{**FITTED, "motor": {**FITTED["motor"], "can_diameter": q(can, "mm")},
           "jacket": {"bore": q(bore, "mm"), "outside": q(56, "mm"), "length": q(40, "mm")}},
    )  # fmt: skip
    joint = named(joints(setup, 25000.0, 80.0, HELD), "jacket")
    if can > bore:
        assert joint.fit is Fit.CLASHES
        assert joint.off_m == pytest.approx((can - bore) * 1e-3, abs=1e-9)
        clash = [s for s in section(setup, joints(setup, 25000.0, 80.0, HELD)).shapes if s.kind == "clash"]
        # what does not go in is drawn as thick as it is, above and below the axis
        assert sum(s.h for s in clash if s.part == "jacket") == pytest.approx(can - bore, abs=1e-6)
    else:
        # rings bridge a gap of a millimetre and a half (common practice, no source)
        assert joint.fit is (Fit.FITS if (bore - can) / 2 <= 1.5 else Fit.NEEDS)


@FEW
@given(st.floats(1, 8), st.floats(2, 30), st.floats(0.5, 6))
def test_no_screw_that_reaches_the_winding_is_passed(depth, length, plate):
    setup = samples.setup(
        **{**FITTED, "motor": {**FITTED["motor"], "thread_depth": q(depth, "mm")},
           "mount": {**FITTED["mount"], "screw_length": q(length, "mm"), "plate": q(plate, "mm")}},
    )  # fmt: skip
    joint = named(joints(setup, 25000.0, 80.0, HELD), "screw")
    if length - plate > depth + 1e-9:
        assert joint.fit is Fit.CLASHES
        assert joint.finding.over_m == pytest.approx((length - plate - depth) * 1e-3)
    else:
        assert joint.fit is not Fit.CLASHES
    # whatever length is proposed holds and does not reach
    if joint.remedy and joint.remedy.length_m:
        good = joint.remedy.length_m * 1e3
        assert good - plate + 1e-9 >= 3.0
        assert good - plate <= depth + 1e-9


@FEW
@given(st.floats(2e-3, 8e-3), st.floats(0.05, 0.4), st.floats(5000, 60000))
def test_a_longer_span_whips_sooner(diameter, span, rpm):
    assert m.first_whirl_rpm(diameter, span * 1.3) == pytest.approx(m.first_whirl_rpm(diameter, span) / 1.69, rel=1e-9)
    assert m.first_whirl_rpm(2 * diameter, span) == pytest.approx(2 * m.first_whirl_rpm(diameter, span), rel=1e-9)
    longest = m.longest_span_m(diameter, rpm)
    assert 0.75 * m.first_whirl_rpm(diameter, longest) == pytest.approx(rpm, rel=1e-9)


@FEW
@given(st.floats(2e-3, 10e-3), st.floats(0.01, 0.45))
def test_a_flat_takes_what_its_circle_has(diameter, part):
    """Both halves of a shaft that is cut by a chord are the whole; the segment's moment is that of the rest."""
    depth = diameter * part
    taken, left = m.flat_unbalance(diameter, depth, 1e-2), m.flat_unbalance(diameter, diameter - depth, 1e-2)
    assert taken.mass_kg + left.mass_kg == pytest.approx(math.pi / 4 * diameter**2 * 1e-2 * m.STEEL_KG_M3, rel=1e-9)
    assert taken.unbalance_kg_m == pytest.approx(left.unbalance_kg_m, rel=1e-9)
    assert m.flat_depth_m(diameter, m.flat_width_m(diameter, depth)) == pytest.approx(depth, rel=1e-6)


def test_nothing_said_is_never_passed():
    """Of a boat of which only the drive is known no joint that needs a caliper says that it fits."""
    found = {j.key: j.fit for j in joints(samples.setup(), 25000.0, 80.0, HELD)}
    for key in ("room", "circle", "screw", "motor_coupler"):
        assert found[key] is Fit.UNKNOWN, key
