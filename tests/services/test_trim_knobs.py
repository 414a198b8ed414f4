"""Knobs turned in the core and in a document: two ways to one setup."""

import dataclasses
import math

import pytest
from tests import samples
from tests.samples import q

from kunstflug.core.trim.knobs import KNOBS
from kunstflug.core.trim.settings import but_trim, spec_at, turned, value_at
from kunstflug.documents.setup import setup_of
from kunstflug.services.shared.changes import Change, change_document
from kunstflug.services.trim.paths import change_to

DOCUMENT = samples.document(
    hull={"hull_type": "mono", "length": q(620, "mm"), "strut_angle": q(2, "deg"), "fin_depth": q(1.2, "in")},
    placement={"pack": q(200, "mm")},
)


@pytest.mark.parametrize("knob", KNOBS, ids=lambda knob: knob.path)
def test_a_knob_turned_in_the_core_and_in_the_document_is_one_setup(knob):
    here = value_at(setup_of(DOCUMENT), knob.path) or knob.begin
    spec = spec_at(knob.path)
    value = min(max(here + knob.step, spec.low), spec.high)
    change = change_to(DOCUMENT, knob.path, value)
    written = Change(path=knob.path, value=change.value.model_dump(mode="json"))
    by_document = setup_of(change_document(DOCUMENT, [written]).document)
    by_core = turned(setup_of(DOCUMENT), [(knob.path, value)])
    assert value_at(by_core, knob.path) == pytest.approx(value_at(by_document, knob.path), abs=1e-5)
    assert by_core.all_up_mass_kg.value == pytest.approx(by_document.all_up_mass_kg.value)
    assert but_trim(by_core, by_core.conditions) == but_trim(setup_of(DOCUMENT), by_core.conditions)


def test_a_knob_past_what_it_can_be_is_none():
    setup = setup_of(DOCUMENT)
    assert turned(setup, [("hull.strut_angle", spec_at("hull.strut_angle").high + 1.0)]) is None
    assert change_to(DOCUMENT, "hull.strut_angle", spec_at("hull.strut_angle").high + 1.0) is None


def test_another_propeller_is_not_trim_and_another_day_is():
    setup = setup_of(DOCUMENT)
    warmer = dataclasses.replace(
        setup,
        conditions=dataclasses.replace(
            setup.conditions, water_c=dataclasses.replace(setup.conditions.water_c, value=25.0)
        ),
    )
    wheel = dataclasses.replace(
        setup.propeller, diameter_m=dataclasses.replace(setup.propeller.diameter_m, value=0.031)
    )
    other = dataclasses.replace(setup, propeller=wheel)
    assert but_trim(warmer, setup.conditions) == but_trim(setup, setup.conditions)
    assert but_trim(other, setup.conditions) != but_trim(setup, setup.conditions)
    assert math.isfinite(value_at(turned(setup, [("hull.strut_angle", 3.0)]), "hull.strut_angle"))
