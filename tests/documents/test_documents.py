"""Setup documents, controller CSV, and the published descriptions."""

import dataclasses
import json
from pathlib import Path

import jsonschema
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError
from tests import samples
from tests.samples import q

from kunstflug.core.drive.dangers import dangers_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.rows import NAMES
from kunstflug.core.quantity.errors import InvalidDocument, InvalidValue
from kunstflug.core.quantity.units import UNITS, Dimension
from kunstflug.core.quantity.value import Source
from kunstflug.documents.boat import BoatDocument
from kunstflug.documents.forecast import forecast_out
from kunstflug.documents.quantity import QUANTITIES, value_of
from kunstflug.documents.setup import SetupDocument, parsed_part, part_of, setup_of
from kunstflug.documents.vocabulary import vocabulary
from kunstflug.wording import METRIC
from kunstflug.wording.guesses import PARAMETERS

DOCS = Path(__file__).parents[2] / "docs"


@pytest.mark.no_cover
def test_the_published_schema_is_the_programs_own():
    assert json.loads((DOCS / "boat.schema.json").read_text()) == BoatDocument.model_json_schema(), "run: make types"
    published = json.loads((DOCS / "setup.schema.json").read_text())
    assert published == SetupDocument.model_json_schema(), "run: make types"
    jsonschema.Draft202012Validator.check_schema(published)
    jsonschema.validate(samples.raw(), published)
    with pytest.raises(jsonschema.ValidationError):
        jsonschema.validate(samples.raw(all_up_mass=q(2, "stone")), published)


def test_round_trip_keeps_what_was_typed():
    document = samples.document(all_up_mass=q(4.6, "lb"), motor__resistance=q(8.4, "mohm", "measured", spread=0.05))
    back = SetupDocument.model_validate_json(document.model_dump_json())
    assert back == document
    assert (back.all_up_mass.value, back.all_up_mass.unit) == (4.6, "lb")
    core = setup_of(back)
    assert core.all_up_mass_kg.value == pytest.approx(4.6 * 0.45359237)  # the pound is exact
    assert core.motor.resistance_ohm.source is Source.MEASURED
    assert core.motor.resistance_ohm.spread == 0.05


@given(st.sampled_from(["mm", "cm", "m", "in"]))
def test_the_unit_does_not_change_the_forecast(unit):
    size = 0.042 / UNITS[Dimension.LENGTH][unit].factor
    other = samples.setup(propeller__diameter=q(size, unit))
    assert forecast(other, 0).point.speed_mps == pytest.approx(forecast(samples.setup(), 0).point.speed_mps, rel=1e-9)


@pytest.mark.parametrize(
    "changes",
    [
        {"motor__kv": q(float("nan"), "rpm/V")},
        {"motor__kv": q(2200, "mm")},
        {"motor__colour": "red"},
        {"hull__hull_type": "submarine"},
        {"pack__cells": 4.5},
        {"pack": {"capacity": q(5000, "mAh")}},
        {"version": 99},
        {"format": "something-else"},
        {"name": "x" * 300},
    ],
)
def test_malformed_documents_are_refused(changes):
    with pytest.raises(ValidationError):
        SetupDocument.model_validate(samples.raw(**changes))


def test_a_guess_in_a_document_has_a_spread_a_typed_number_none():
    mass = QUANTITIES[Dimension.MASS]
    assert value_of(mass(value=285, unit="g"), Dimension.MASS).spread == 0
    assert value_of(mass(value=285, unit="g", source="guessed"), Dimension.MASS).spread > 0.1
    assert 0 < value_of(mass(value=285, unit="g", source="measured"), Dimension.MASS).spread < 0.1


def test_every_field_has_a_label_and_a_range():
    rows = vocabulary().fields
    assert len(rows) > 35
    for row in rows:
        assert row.label, row
        if row.type == "quantity":
            assert row.low < row.high, row
            assert row.unit in UNITS[Dimension(row.dimension)], row
        if row.type == "choice":
            assert row.default in [o.value for o in row.options], row


def out_of(setup):
    found = forecast(setup)
    return forecast_out(setup, found, dangers_of(setup, found.point, found.curves), METRIC)


def test_the_forecast_document_has_no_nan_and_adds_up():
    document = out_of(samples.setup())
    text = document.model_dump_json()
    assert "NaN" not in text
    losses = sum(loss.watts for loss in document.losses)
    point = document.point
    assert losses + point.useful_power_w.value == pytest.approx(point.chemical_power_w.value, rel=1e-4)  # six figures


def test_a_refused_forecast_is_a_document_too():
    setup = samples.setup(pack__cells=1, motor__kv=q(300, "rpm/V"), all_up_mass=q(9000, "g"))
    document = out_of(setup)
    assert not document.runs
    assert document.refusal
    json.loads(document.model_dump_json())


def test_every_parameter_that_can_be_a_guess_has_a_label():
    assert set(NAMES) <= set(PARAMETERS)


def test_the_example_document_runs():
    document = SetupDocument.model_validate_json((DOCS / "example.setup.json").read_text())
    assert forecast(setup_of(document)).runs


@pytest.mark.parametrize("edge", ["low", "high"])
def test_both_edges_of_every_field_of_a_shelf_part_are_accepted(edge):
    """Of parts that lie on the shelf only; those of a drive are tried as forecasts."""
    places = {k.kind for k in vocabulary().kinds if k.place}
    rows = [f for f in vocabulary().fields if f.part not in places and f.type == "quantity"]
    assert len(rows) > 30
    for row in rows:
        part = part_of(row.part, parsed_part(row.part, {row.key: q(getattr(row, edge), row.unit)}))
        assert dataclasses.is_dataclass(part)
        with pytest.raises((InvalidValue, InvalidDocument)):
            part_of(row.part, parsed_part(row.part, {row.key: q(-1.0, row.unit)}))


def test_what_an_older_tub_test_taught_is_still_read():
    raw = samples.raw() | {"version": 2, "learnt": {"held_current": q(0.4, "1", "learnt", spread=0.1), "case": None}}
    document = SetupDocument.model_validate(raw)
    assert document.version == 3
    assert document.learnt.water_at_rest.value == 0.4
    again = SetupDocument.model_validate(document.model_dump(mode="json"))
    assert again == document
