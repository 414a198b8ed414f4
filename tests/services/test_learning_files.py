"""Learning from a boat in a file, as the commands do it: the same as the database teaches."""

import datetime as dt
import json

import pytest
from tests import samples
from tests.samples import q
from typer.testing import CliRunner

from kunstflug import cli
from kunstflug.core.quantity.errors import InvalidDocument, InvalidValue
from kunstflug.documents.boat import parsed_boat
from kunstflug.documents.run import PeakIn, TypedRun
from kunstflug.services.boats import boat_file, boats
from kunstflug.services.compare import files as learning_files
from kunstflug.services.learning import learning
from kunstflug.services.match.match import forecast_of
from kunstflug.services.run import run


@pytest.fixture
def filled(fresh_store):
    """A season typed by hand: peak speeds and three temperatures only."""
    made = boats.new_boat(fresh_store, "Typed", samples.document())
    speed = 0.94 * forecast_of(made.document, None).point.speed_mps.value
    for k in range(4):
        at = dt.datetime(2026, 5, 1, 9) + dt.timedelta(days=7 * k)
        one = run.type_run(fresh_store, made.id, at)
        peak = {"speed": q(round((speed + 0.1 * k) * 3.6 * 1.025, 1), "km/h")}
        readings = [
            ("controller", q(44, "degC"), 1.2),
            ("motor front", q(51, "degC"), 1.4),
            ("pack", q(38, "degC"), 2.0),
        ]
        run.set_notes(
            fresh_store, one.id, {"water": q(15, "degC"), "air": q(19, "degC")}, "", [], readings, one.tag,
            TypedRun.model_validate({"peaks": [peak]}),
        )  # fmt: skip
    learning.forget(fresh_store)
    return fresh_store, made


def test_a_file_teaches_what_the_database_teaches(filled):
    store, made = filled
    document = boat_file.export_boat(store, made.boat_id)
    one = forecast_of(made.document, learning.knowledge_of(store, made.boat_id)).point
    other = forecast_of(made.document, learning_files.knowledge_in(document)).point
    for name in ("speed_mps", "current_a"):
        a, b = getattr(one, name), getattr(other, name)
        assert (a.value, a.low, a.high) == pytest.approx((b.value, b.low, b.high), rel=2e-3)
    assert one.speed_mps.value < 0.97 * forecast_of(made.document, None).point.speed_mps.value


def test_what_is_printed_is_judged_without_each_run(filled):
    store, made = filled
    told = learning_files.report([boat_file.export_boat(store, made.boat_id)])
    assert told["runs"] == 4
    assert set(told["readings"]) == {"speed", "controller", "case", "pack"}
    speed = told["readings"]["speed"]
    assert speed["count"] == 4
    assert speed["off_without"] < 0.5 * speed["off_as_bought"]
    assert told["readings"]["case"]["off_without"] < 6.0
    assert told["boats"][0]["taught"]
    assert json.loads(json.dumps(told)) == told
    assert learning_files.report([])["runs"] == 0


def test_the_commands_need_no_server(filled, tmp_path):
    store, made = filled
    file = tmp_path / "boat.json"
    file.write_text(boat_file.export_boat(store, made.boat_id, tracks=False).model_dump_json())
    runner = CliRunner()
    told = json.loads(runner.invoke(cli.app, ["learn", str(file)]).stdout)
    assert told["runs"] == 4
    learnt = json.loads(runner.invoke(cli.app, ["forecast", "--boat", str(file)]).stdout)
    bought = json.loads(runner.invoke(cli.app, ["forecast", "--boat", str(file), "--as-bought"]).stdout)
    assert (learnt["known_runs"], bought["known_runs"]) == (4, 0)
    assert learnt["point"]["speed_mps"]["value"] < bought["point"]["speed_mps"]["value"]


def in_a_file(filled):
    store, made = filled
    return boat_file.export_boat(store, made.boat_id)


@pytest.mark.parametrize("kmh", [0.0, 800.0])
def test_a_speed_that_no_boat_does_is_refused_in_a_sentence(filled, kmh):
    """0 km/h ended in a traceback, 800 km/h was learnt from."""
    document = in_a_file(filled)
    document.runs[0].typed.peaks[:] = [PeakIn.model_validate({"speed": {"value": kmh, "unit": "km/h"}})]
    with pytest.raises(InvalidValue, match="peaks"):
        learning_files.report([document])


def test_two_runs_of_one_key_are_refused(filled):
    data = in_a_file(filled).model_dump(mode="json")
    data["runs"].append(dict(data["runs"][0]))
    with pytest.raises(InvalidDocument) as refused:
        parsed_boat(data)
    assert "two runs have the key" in repr(refused.value.args) + str(vars(refused.value))
