"""Circuit, fit and instrument documents: what goes out is what the core says, in the units that stand there."""

import json
import math

import pytest
from hypothesis import given, settings
from pydantic import ValidationError
from tests import samples
from tests.core.cooling.test_water_laws import INSIDE, circuit
from tests.core.fit.test_fit import FITTED

from kunstflug.core.bench import finders, instruments
from kunstflug.core.cooling.circuit import PieceKind
from kunstflug.core.cooling.solve import solve
from kunstflug.core.drive.schools import HELD
from kunstflug.core.fit.joints import joints
from kunstflug.core.quantity.units import UNITS, Dimension
from kunstflug.documents.bench import finder_out, instrument_out
from kunstflug.documents.fit import joint_out
from kunstflug.documents.vocabulary import vocabulary
from kunstflug.documents.water import CircuitIn, PieceIn, _places, circuit_in
from kunstflug.services.fit import fit
from kunstflug.wording import METRIC

TOOLS = [*(instrument_out(i) for i in instruments.INSTRUMENTS), *(finder_out(f) for f in finders.FINDERS)]


@settings(max_examples=12)  # each solves the whole circuit
@given(INSIDE)
def test_a_circuit_comes_back_as_it_was(inside):
    there = circuit(inside)
    document = CircuitIn.model_validate_json(circuit_in(there).model_dump_json())
    back = document.core()
    # sizes are kept to a ten-thousandth of a millimetre: no flow moves
    a, b = (solve(c, 12.0) for c in (there, back))
    assert [p.path for p in a.places] == [p.path for p in b.places]
    assert b.places[0].flow_m3_s == pytest.approx(a.places[0].flow_m3_s, rel=1e-3)
    assert circuit_in(back) == document


@settings(max_examples=12)  # each solves the whole circuit
@given(INSIDE)
@pytest.mark.no_cover
def test_places_are_in_litres_kilopascal_and_degrees(inside):
    solved = solve(circuit(inside), 12.0, 16.0, heat_w={PieceKind.MOTOR: 100.0})
    for out, place in zip(_places(solved), solved.places, strict=True):
        assert tuple(out.path) == place.path
        assert out.flow_l_min == pytest.approx(place.flow_m3_s * 6e4, abs=1e-4)
        assert out.before_kpa == pytest.approx(place.before_pa / 1e3, abs=1e-3)
        assert out.after_c >= 16.0 - 1e-9
    json.dumps([p.model_dump(mode="json") for p in _places(solved)], allow_nan=False)


@pytest.mark.parametrize(
    "piece",
    [{"bore_mm": 0}, {"bore_mm": math.inf}, {"length_mm": -1}, {"open_part": 1.5}, {"bends": 2.5}, {"loss": -1},
     {"source": "bucket"}, {"recovery": 2}, {"taste": "salt"}],
)  # fmt: skip
def test_an_impossible_piece_is_refused(piece):
    with pytest.raises(ValidationError):
        PieceIn.model_validate({"kind": "hose", **piece})


@pytest.mark.parametrize("tool", TOOLS, ids=lambda t: t.key)
def test_every_tool_can_be_shown_and_used(tool):
    assert tool.title
    assert tool.how.endswith(".")
    assert tool.readings
    assert len({r.key for r in tool.readings}) == len(tool.readings)
    for r in tool.readings:
        assert r.low <= r.usual <= r.high, r.key
        unit = UNITS[Dimension(r.dimension)][r.unit]
        shown = unit.from_si(r.usual)
        assert unit.to_si(shown) == pytest.approx(r.usual, rel=1e-12, abs=1e-12)
        counted = r.key in ("cells", "holes")  # a count is exact
        assert r.spread > 0 or r.step > 0 or counted or not hasattr(tool, "writes")


@pytest.mark.parametrize("tool", [t for t in TOOLS if hasattr(t, "writes")], ids=lambda t: t.key)
def test_an_instrument_writes_only_to_fields_of_its_dimension(tool):
    fields = {f"{r.part}.{r.key}": r for r in vocabulary().fields}
    assert tool.source
    assert tool.equation
    for path in tool.writes:
        assert fields[path].dimension == tool.dimension, path


def test_joints_are_in_millimetres():
    found = joints(samples.setup(**FITTED), 25000.0, 80.0, HELD)
    for joint in found:
        out = joint_out(joint, METRIC)
        assert out.off_mm == pytest.approx(joint.off_m * 1e3, abs=1e-3)
        assert out.title
        assert out.sentence.endswith((".", "?", "!"))


def test_a_fit_is_plain_json_and_adds_up():
    out = fit.fit_of(samples.document(**FITTED), None, {}, None)
    body = json.loads(json.dumps(out.model_dump(mode="json"), allow_nan=False))
    words = [j["fit"] for j in body["joints"]]
    assert body["clashes"] == words.count("clashes")
    assert body["needs"] == words.count("needs")
    assert body["unknown"] == words.count("unknown")
    keys = [s["key"] for s in body["build"]]
    assert len(set(keys)) == len(keys)  # a tick belongs to one step
    assert body["swap"] == []
