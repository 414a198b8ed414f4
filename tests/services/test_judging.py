"""A boat is judged by its own duty and schools wherever its verdict stands: Match, sheet, trail, a boat's file."""

import json

import pytest
from tests import samples
from tests.samples import q
from typer.testing import CliRunner

from kunstflug import cli
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.thermal.duty import Kind
from kunstflug.documents.schools import DutyIn, SchoolsIn, judging
from kunstflug.services.boats import boat_file, boats, sheet
from kunstflug.services.compare import compare
from kunstflug.services.match import match
from kunstflug.services.shared.changes import Change
from kunstflug.wording import METRIC
from kunstflug.wording.choose import ENDS
from kunstflug.wording.limits import load

LAPS = {"duty": {"kind": "lap_race", "minutes": 6}}


@pytest.fixture
def racer(fresh_store):
    """A boat that races laps, with a second setup; what Match said of that one."""
    made = boats.new_boat(fresh_store, "Laps", samples.document(controller__continuous_current=q(75, "A")))
    boats.set_aim(fresh_store, made.boat_id, LAPS, "*")
    change = Change(path="motor.kv", value=q(2150, "rpm/V"))
    said = match.draft(made.document, [change], None, judging(SchoolsIn(), DutyIn(kind=Kind.LAP_RACE, minutes=6)))
    # By four passes of six seconds, as everywhere but on Match once, it is another one.
    assert (said.forecast.verdict, match.forecast_of(said.document, None).verdict) == (Verdict.STOP, Verdict.SHORT)
    return boats.adopt(fresh_store, made.id, said.document, "less KV", {}), said.forecast


def test_the_sheet_says_what_match_said(fresh_store, racer):
    adopted, said = racer
    shown = sheet.sheet_of(fresh_store, adopted.id)
    assert shown.verdict == ENDS[said.verdict]
    (limits,) = (block for block in shown.right if block.heading == "Loads and limits through a lap race of 6 min")
    assert [(title, ENDS[Verdict.STOP] in words) for title, words in limits.rows] == [
        (margin.title, margin.verdict is Verdict.STOP) for margin in said.margins
    ]
    for margin, (_, words) in zip(said.margins, limits.rows, strict=True):
        assert load(margin.key, margin.limit, METRIC) in words


def test_the_trail_and_a_boat_from_a_file_do_too(fresh_store, store, racer):
    adopted, said = racer
    assert compare.trail(fresh_store, adopted.boat_id).setups[-1].verdict is said.verdict
    boats.set_aim(fresh_store, adopted.boat_id, {}, "*")  # four passes now, for which it had been saved otherwise
    assert compare.trail(fresh_store, adopted.boat_id).setups[-1].verdict is Verdict.SHORT
    boats.set_aim(fresh_store, adopted.boat_id, LAPS, "*")
    taken = boat_file.import_boat(store, boat_file.export_boat(fresh_store, adopted.boat_id))
    assert compare.trail(store, taken.boat_id).setups[-1].verdict is said.verdict


def test_the_command_does_too(fresh_store, racer, tmp_path):
    adopted, said = racer
    file = tmp_path / "boat.json"
    file.write_text(boat_file.export_boat(fresh_store, adopted.boat_id).model_dump_json())
    told = json.loads(CliRunner().invoke(cli.app, ["forecast", "--boat", str(file)]).stdout)
    assert (told["verdict"], told["margins"]) == (said.verdict, said.model_dump(mode="json")["margins"])
