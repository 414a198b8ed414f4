"""Setup documents, controller CSV, and the published descriptions."""

import dataclasses
import json
from pathlib import Path

import jsonschema
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError
from tests import samples
from tests.samples import q

from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.parameters import DriveParameters
from kunstflug.core.errors import UnreadableFile
from kunstflug.core.units import UNITS, Dimension
from kunstflug.core.values import Source
from kunstflug.formats.controller_csv import ControllerLog, read_controller_csv, write_controller_csv
from kunstflug.formats.forecast_document import LABELS, forecast_document
from kunstflug.formats.reading import MOST_DAMAGES
from kunstflug.formats.setup_document import SetupDocument, field_table, setup_of, value_of

DOCS = Path(__file__).parents[2] / "docs"


def test_the_published_schema_is_the_programs_own():
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
        {"version": 2},
        {"format": "something-else"},
        {"name": "x" * 300},
    ],
)
def test_malformed_documents_are_refused(changes):
    with pytest.raises(ValidationError):
        SetupDocument.model_validate(samples.raw(**changes))


def test_a_guess_in_a_document_has_a_spread_a_typed_number_none():
    from kunstflug.formats.setup_document import QUANTITIES

    mass = QUANTITIES[Dimension.MASS]
    assert value_of(mass(value=285, unit="g"), Dimension.MASS).spread == 0
    assert value_of(mass(value=285, unit="g", source="guessed"), Dimension.MASS).spread > 0.1
    assert 0 < value_of(mass(value=285, unit="g", source="measured"), Dimension.MASS).spread < 0.1


def test_every_field_has_a_label_and_a_range():
    rows = field_table()
    assert len(rows) > 35
    for row in rows:
        assert row["label"], row
        if row["type"] == "quantity":
            assert row["low"] < row["high"], row
            assert row["unit"] in UNITS[Dimension(row["dimension"])], row


def test_the_forecast_document_has_no_nan_and_adds_up():
    setup = samples.setup()
    document = forecast_document(setup, forecast(setup))
    text = document.model_dump_json()
    assert "NaN" not in text
    losses = sum(loss.watts for loss in document.losses)
    point = document.point
    assert losses + point.useful_power_w.value == pytest.approx(point.chemical_power_w.value, rel=1e-4)  # six figures


def test_a_refused_forecast_is_a_document_too():
    setup = samples.setup(pack__cells=1, motor__kv=q(300, "rpm/V"), all_up_mass=q(9000, "g"))
    document = forecast_document(setup, forecast(setup))
    assert not document.runs
    assert document.refusal
    json.loads(document.model_dump_json())


def a_log(count=30):
    time = np.round(np.arange(count) * 0.1, 2)
    return ControllerLog(
        time_s=time, columns={"current_a": np.round(50 + time, 1), "rpm": np.round(20000 + 100 * time)}
    )


def test_controller_log_round_trip():
    read = read_controller_csv(write_controller_csv(a_log()))
    back = read.log
    assert not read.damages
    np.testing.assert_allclose(back.time_s, a_log().time_s)
    np.testing.assert_allclose(back.columns["rpm"], a_log().columns["rpm"])


def test_semicolons_gaps_and_columns_nobody_knows():
    text = "Time_s;note;current_a\n" + "\n".join(f"{k};x;{k * 2 if k != 3 else ''}" for k in range(8))
    read = read_controller_csv(text.encode())
    log = read.log
    assert not read.damages
    assert np.isnan(log.columns["current_a"][3])
    assert log.columns["current_a"][4] == 8


def test_a_broken_row_is_named_by_its_line():
    lines = write_controller_csv(a_log()).decode().splitlines()
    lines[7] = "0.6,lots,20000"
    read = read_controller_csv("\n".join(lines).encode())
    assert len(read.log.time_s) == 29
    assert read.damages[0].line == 8


@pytest.mark.parametrize(
    ("row", "reason"),
    [
        ("0.6,1000000,20000", "current_a is 1e+06; -200 to 1500 is possible"),
        ("0.6,60,-5", "rpm is -5"),
        ("0.2,60,20000", "the clock goes back by 0.3 s"),
        ("0.5,60,20000", "the same time twice"),
        ("nan,60,20000", "no time"),
        ("0.6,inf,20000", "current_a is inf"),
    ],
)
def test_a_row_that_cannot_be_true_is_named_and_left_out(row, reason):
    lines = write_controller_csv(a_log()).decode().splitlines()
    lines[7] = row
    read = read_controller_csv("\n".join(lines).encode())
    assert (len(read.log.time_s), read.broken) == (29, 1)
    assert reason in read.damages[0].reason


def test_decimal_commas_tabs_and_other_line_ends():
    semicolons = read_controller_csv(b"time_s;current_a\r\n" + b"".join(b"%d,5;%d,25\r\n" % (k, k) for k in range(8)))
    np.testing.assert_allclose(semicolons.log.columns["current_a"], np.arange(8) + 0.25)
    old = read_controller_csv(b"time_s\tcurrent_a\r" + b"".join(b"%d\t%d\r" % (k, k) for k in range(8)))
    np.testing.assert_allclose(old.log.time_s, np.arange(8))


def test_a_log_of_bad_lines_only_keeps_the_first_of_them():
    with pytest.raises(UnreadableFile, match="line 2"):
        read_controller_csv(b"time_s,current_a\n" + b"x\n" * 200_000)  # given up after the first ten thousand
    many = read_controller_csv(b"time_s,rpm\n" + b"".join(b"%d,1\n" % k for k in range(9)) + b"x,x\n" * 50_000)
    assert many.broken == 50_000
    assert len(many.damages) == MOST_DAMAGES


@pytest.mark.parametrize(
    "data",
    [
        b"",
        b"a,b\n1,2\n",
        b"time_s,current_a\n1,2\n",
        b"\xff\xfe\x00time_s",
        b"time_s,current_a\n" + b"x,y\n" * 9,
        b"\xef\xbb\xbf",  # a byte-order mark only
        b"\r\r\r",
        b"time_s,rpm\n" + b"1" * 140_000 + b",2\n",  # a cell longer than the csv module takes
        b"time_s,rpm\n\x00\x00",
    ],
)
def test_what_is_no_controller_log_is_refused(data):
    with pytest.raises(UnreadableFile):
        read_controller_csv(data)


def test_every_parameter_that_can_be_a_guess_has_a_label():
    assert {f.name for f in dataclasses.fields(DriveParameters)} == set(LABELS)


def test_the_example_document_runs():
    document = SetupDocument.model_validate_json((DOCS / "example.setup.json").read_text())
    assert forecast(setup_of(document)).runs
