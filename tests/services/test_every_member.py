"""A kind with many members is a table: every table has every member, and every member is asked on every page.

Each enumeration was tried with its first member only: a fifth type of hull left the tests green and ended in a fault.
"""

import enum
import importlib
import pkgutil
from collections.abc import Mapping

import pytest
from tests import samples
from tests.samples import q

import kunstflug
from kunstflug.core.choose.steps import trial
from kunstflug.core.drive.schools import USUAL
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.fields import CountSpec, QuantitySpec, field_key, fields_of
from kunstflug.core.thermal.duty import passes_duty
from kunstflug.documents.setup import PARTS, SetupDocument, setup_of
from kunstflug.documents.vocabulary import vocabulary
from kunstflug.pond import run_outing
from kunstflug.services.fit import fit
from kunstflug.services.match import match, plan
from kunstflug.services.trim.trim import trim
from kunstflug.wording import METRIC
from kunstflug.wording.fields import option

PARTIAL = {
    # table: members that it leaves out on purpose, and why
    "core.learning.causes._NUMBERS": (
        {"digit", "instrument", "not_full", "other_setup", "peak", "unit", "wind"}, "are no number of the boat"),
    "core.learning.causes.SLIPS": ({"setup"}, "is in no single reading"),
    "services.compare.put_right.TYPED": (
        {"case", "connector", "controller", "pack", "speed"}, "is a quantity with its unit, not a plain number"),
    "core.learning.slips.UNITS": (
        {"case", "connector", "controller", "pack", "rpm"}, "has one unit, or one whose nought lies elsewhere"),
    "core.learning.measure_next.DIRECT": (
        {"gun_case", "gun_controller", "log_current", "log_rpm", "two_ways"}, "are read in a run: RUNS"),
    "core.learning.measure_next.RUNS": (
        {"cell_resistance", "no_load", "pitch_gauge", "weigh", "winding"}, "are read on the bench: DIRECT"),
    "core.learning.measure_next.MINUTES": (
        {"charge", "connector", "current", "pack", "rpm", "speed", "voltage"}, "nobody is told to read them with a gun"),
    "core.learning.predict.FIELDS": (
        {"case", "charge", "connector", "controller", "pack"}, "come out of the duty, not of the steady point"),
    "core.learning.predict.NODE_OF": ({"charge", "current", "rpm", "speed", "voltage"}, "are no temperatures"),
    "core.learning.spreads.LAWS": (
        {"case", "connector", "controller", "pack", "speed"}, "have the discrepancy of the laws, or LAWS_RISE"),
    "core.learning.spreads.HELD": ({"speed"}, "has the discrepancy of the laws"),
    "core.learning.spreads.HELD_OF_SETUP": ({"speed"}, "has the discrepancy of the laws"),
    "core.parts.joining.SOFT_C": ({"metal", "unknown"}, "does not soften, or is not known to"),
    "core.parts.motor.MAGNET_LIMIT_C": ({"unknown"}, "is estimated"),
    "core.parts.motor.INSULATION_LIMIT_C": ({"unknown"}, "is estimated"),
    "core.trim.signs.HARMS": (
        {"let_air_out", "mass_across", "mend_propeller", "rudder_aside", "rudder_straight", "seal", "strakes_off", "wait", "take_out_play", "slower", "steady_trigger", "leave"},
        "harm nothing"),
    "documents.columns.LOG_COLUMNS": (
        {"cell voltage", "charge", "date", "elevation", "latitude", "longitude", "place", "speed", "time"}, "are not a controller's"),
    "pond.season.GUN_MINUTES": ({"charge", "connector", "current", "rpm", "speed", "voltage"}, "the pond has no such gun"),
    "pond.season.BODY": ({"charge", "connector", "current", "rpm", "speed", "voltage"}, "the pond has no such gun"),
    "pond.season.LOGGED": (
        {"case", "charge", "connector", "controller", "pack", "speed"}, "are not in the pond's log"),
    "pond.trim_world.PUSHED": ({"strakes", "play", "too_fast", "trigger", "once"}, "the pond's boats have none"),
    "services.compare.LABELS": ({"display", "gun", "log", "typed"}, "speeds off a display say more than a label"),
    "wording.fit._SHAPES": (
        {"bore", "clash", "dog", "hub", "nipple", "ring", "tube", "water"}, "are drawn without a word"),
    "wording.heat.FAILS": ({"case", "controller", "junction", "magnets", "pack"}, "do not burn or melt"),
    "wording.limits.UNITS": (
        {"controller_current", "motor_current", "pack_current", "wire_current"}, "are in ampere"),
    "wording.live.BECAUSE": ({"heat"}, "names the place"),
}  # fmt: skip


def tables():
    """Every table of the program whose keys are members of one enumeration, where it is made."""
    seen = set()
    for found in pkgutil.walk_packages(kunstflug.__path__, "kunstflug."):
        if any(part in found.name for part in ("migrations", "__main__", "launch.serving")):
            continue
        module = importlib.import_module(found.name)
        for name, table in vars(module).items():
            if not isinstance(table, Mapping) or not table or id(table) in seen:
                continue
            kinds = {type(key) for key in table}
            if len(kinds) == 1 and issubclass(kind := kinds.pop(), enum.Enum):
                seen.add(id(table))
                yield f"{found.name.removeprefix('kunstflug.')}.{name}", table, kind


def test_every_table_has_every_member_or_says_why_not():
    found = {}
    for name, table, kind in tables():
        missing = {str(member.value) for member in set(kind) - set(table)}
        # units are left to the core's own where a racer's are not named
        if missing and not name.endswith(("._METRIC", "._IMPERIAL")):
            found[name.rsplit(".", 1)[-1]] = (name, missing)
    known = {name.rsplit(".", 1)[-1]: members for name, (members, _) in PARTIAL.items()}
    assert {name: missing for name, missing in found.items() if known.get(name) != missing[1]} == {}
    assert set(known) == set(found), "a table that is whole by now needs no excuse"


def choices():
    """Every choice of every part of a setup, with each of its members."""
    for kind, part in PARTS.items():
        for name, spec in fields_of(part):
            if not isinstance(spec, QuantitySpec | CountSpec):
                for member in spec.words:
                    yield kind, field_key(name, spec), member


@pytest.mark.parametrize(("kind", "key", "member"), list(choices()), ids=str)
def test_every_member_of_every_choice_is_answered_on_every_page(kind, key, member):
    raw = samples.raw()
    raw[kind] = {**raw.get(kind, {}), key: member.value}
    if kind == "learnt":
        raw["learnt"] = {key: member.value}
    document, duty = SetupDocument.model_validate(raw), passes_duty(2, 5, 20)
    try:
        setup = setup_of(document)
    except InvalidValue:
        pytest.skip("does not go together with the rest of the sample")
    found = match.forecast_of(document, None)
    assert found.runs or found.refusal
    if found.runs:
        assert plan.heat(document, duty, USUAL, None).nodes
        assert trial(setup, duty, USUAL, None).speed_mps > 0
    assert fit.fit_of(document, None, {}, None).joints
    assert option(member, METRIC)
    field = next(f for f in vocabulary(METRIC).fields if (f.part, f.key) == (kind, key))
    assert member.value in [o.value for o in field.options]


@pytest.mark.parametrize("hull", ["mono", "catamaran", "tunnel", "outrigger"])
def test_every_hull_is_driven_on_the_pond_and_trimmed(fresh_store, hull):
    from kunstflug.core.parts.hull import HullType
    from kunstflug.services.boats import boats

    assert {one.value for one in HullType} == {"mono", "catamaran", "tunnel", "outrigger"}, "drive the new one, too"
    document = samples.document(hull={"hull_type": hull, "length": q(700, "mm")})
    assert len(run_outing(setup_of(document), seed=1, start_unix_s=0.0, passes=1).track) > 50
    made = boats.new_boat(fresh_store, hull, document)
    assert trim(fresh_store, made.id, None).knobs
