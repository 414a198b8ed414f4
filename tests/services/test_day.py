"""The pond day through the store: checks ticked, what was skipped, go or wait, a day that is planned and kept."""

import datetime as dt

import pytest
from tests import samples
from tests.samples import q
from tests.services.test_services import gpx_of

from kunstflug.core.day.checks import Phase
from kunstflug.core.day.weather import Word
from kunstflug.core.quantity.errors import NotFound
from kunstflug.documents.day import DayIn, DayPackIn, DayRunIn, ReadyIn
from kunstflug.documents.run import TypedRun
from kunstflug.files.gpx import write_gpx
from kunstflug.services.boats import boats
from kunstflug.services.launch import day
from kunstflug.services.launch import ready as checks
from kunstflug.services.learning import learning
from kunstflug.services.run import run
from kunstflug.wording import METRIC, Tongue, Units

DAY = dt.date(2026, 5, 4)
NEXT = dt.date(2026, 5, 5)


@pytest.fixture
def boat(fresh_store):
    return fresh_store, boats.new_boat(fresh_store, "Ready", samples.document())


def ready(store, setup, **changes):
    return checks.launch(store, setup.id, ReadyIn.model_validate({"day": DAY, **changes}))


def checks_of(told):
    return {check.key: check for phase in told.phases for check in phase.checks}


def test_a_tick_is_kept_for_its_day_and_its_boat(boat):
    store, setup = boat
    other = boats.new_boat(store, "Other", samples.document())
    assert not any(c.done for c in checks_of(ready(store, setup)).values())
    checks.tick(store, DAY, setup.boat_id, "drain", True)
    checks.tick(store, DAY, setup.boat_id, "hatch", True)
    checks.tick(store, DAY, setup.boat_id, "hatch", False)
    told = checks_of(ready(store, setup))
    assert [key for key, c in told.items() if c.done] == ["drain"]
    assert not checks_of(ready(store, other))["drain"].done
    assert not checks_of(ready(store, setup, day=NEXT))["drain"].done
    with pytest.raises(NotFound):
        checks.tick(store, DAY, 999, "drain", True)


def test_what_was_skipped_before_a_failure_is_asked_for(boat):
    store, setup = boat
    checks.tick(store, DAY, setup.boat_id, "hatch", True)
    made = run.type_run(store, setup.id, dt.datetime(2026, 5, 4, 10))
    usual = {"water": q(16, "degC"), "air": q(18, "degC"), "wind": q(0, "m/s"), "water_state": "glass"}
    run.set_notes(store, made.id, usual, "", ["water inside"], [], made.tag, TypedRun())
    learning.forget(store)
    asked = ready(store, setup).asked
    assert any("drain plug" in words and "water inside" in words for words in asked)
    assert not any("hatch" in words.lower() for words in asked)
    checks.tick(store, DAY, setup.boat_id, "drain", True)
    assert not any("drain plug" in words for words in ready(store, setup).asked)
    assert ready(store, setup, day=NEXT).asked == []


def test_cells_that_rest_unlike_and_a_boat_that_stopped_are_failures(boat):
    store, setup = boat
    made = run.type_run(store, setup.id, dt.datetime(2026, 5, 4, 10))
    words = TypedRun.model_validate({"rest_v": [3.8, 3.79, 3.6]})
    usual = {"water": q(16, "degC"), "air": q(18, "degC"), "wind": q(0, "m/s"), "water_state": "glass"}
    run.set_notes(store, made.id, usual, "", [], [], made.tag, words)
    assert any("a cell was weak" in words for words in ready(store, setup).asked)


def test_a_case_past_ninety_degrees_is_a_failure_and_one_below_is_not(boat):
    store, setup = boat
    usual = {"water": q(16, "degC"), "air": q(18, "degC"), "wind": q(0, "m/s"), "water_state": "glass"}
    made = run.type_run(store, setup.id, dt.datetime(2026, 5, 4, 10))
    made = run.set_notes(store, made.id, usual, "", [], [("case", q(88, "degC"), 1.0)], made.tag)
    before = ready(store, setup).asked
    run.set_notes(store, made.id, usual, "", [], [("case", q(95, "degC"), 1.0)], made.tag)
    assert any("hot" in words for words in set(ready(store, setup).asked) - set(before))


def test_a_straight_that_was_run_is_a_length_of_the_pond(boat):
    store, setup = boat
    made = run.import_track(store, setup.id, write_gpx(gpx_of().track, "x"), "a.gpx", accept_damage=False)
    longest = max(p.distance_m for p in made.summary.passes)
    [pond] = ready(store, setup).ponds
    assert (pond.run_id, pond.length_m) == (made.id, pytest.approx(longest, abs=0.06))


def test_wind_and_waves_decide_with_their_number(boat):
    store, setup = boat
    calm = ready(store, setup, wind_mps=0, waves="glass")
    assert calm.word is Word.GO
    assert any(c.isdigit() for c in calm.said[0].words)
    storm = ready(store, setup, wind_mps=25, waves="glass")
    assert storm.said[0].word is not Word.GO
    assert storm.word is not Word.GO
    assert ready(store, setup, wind_mps=0, waves="waves").word is Word.NO
    warm = ready(store, setup, water_c=38)
    assert "38 °C" in warm.said[1].words


def test_the_sheet_speaks_the_racers_units(boat):
    store, setup = boat
    asked = ReadyIn.model_validate({"day": DAY, "duty": {"pond_m": 200}})
    imperial = checks.launch(store, setup.id, asked, tongue=Tongue(units=Units.IMPERIAL))
    metric = checks.launch(store, setup.id, asked, tongue=METRIC)
    assert "mph" in imperial.said[0].words
    assert "km/h" in metric.said[0].words
    assert any(" ft" in words for words in imperial.plan.words)


def test_a_tub_test_has_no_pass(boat):
    store, setup = boat
    assert ready(store, setup, duty={"kind": "tub_test"}).plan is None
    assert ready(store, setup).plan.lift_m > 0


def test_every_phase_is_on_the_sheet_with_a_caution_where_it_hurts(boat):
    store, setup = boat
    told = ready(store, setup)
    assert [p.phase for p in told.phases] == list(Phase)
    assert checks_of(told)["arm-last"].caution
    assert not checks_of(told)["drain"].caution
    assert told.cautions


def test_a_day_is_proposed_planned_and_kept(boat):
    store, setup = boat
    proposed = day.day_of(store, DAY)
    assert not proposed.saved
    assert [r.boat for r in proposed.plan.runs] == ["Ready"]
    asked = proposed.input.model_copy(deep=True)
    asked.runs.append(DayRunIn(setup_id=setup.id, pack=asked.packs[0].name, late_min=0, not_before_min=0))
    plan = day.planned(store, asked)
    assert [r.waits_for.value for r in plan.runs][1] == "pack"
    assert any("Charging holds the day up" in words for words in plan.words)
    # A second pack of the kind takes that away.
    spare = DayPackIn(**{**asked.packs[0].model_dump(), "name": "spare"})
    more = asked.model_copy(update={"packs": [*asked.packs, spare]}, deep=True)
    more.runs[1].pack = "spare"
    assert day.planned(store, more).end_min < plan.end_min - 20
    kept = day.save_day(store, DAY, more)
    assert kept.saved
    assert day.day_of(store, DAY).input == more
    assert not day.day_of(store, NEXT).saved


def test_the_clock_of_the_plan_is_the_walls(boat):
    store, setup = boat
    asked = day.day_of(store, DAY).input
    asked = asked.model_copy(update={"starts_min": 420.0, "water_min": 660.0}, deep=True)
    plan = day.planned(store, asked)
    assert plan.charges[0].start_min == 420.0
    assert plan.runs[0].start_min == 660.0
    asked.runs[0].not_before_min = 700.0
    assert day.planned(store, asked).runs[0].start_min == 700.0
    assert plan.runs[0].setup == setup.name


def test_a_run_of_no_setup_is_refused_and_a_pack_nobody_has_is_left_out(boat):
    store, _ = boat
    asked = day.day_of(store, DAY).input
    nobodys = DayRunIn(setup_id=999, pack="x", late_min=0, not_before_min=0)
    with pytest.raises(NotFound):
        day.planned(store, asked.model_copy(update={"runs": [nobodys]}))
    unknown = asked.model_copy(deep=True)
    unknown.runs[0].pack = "nobody's"
    assert day.planned(store, unknown).runs == []
    empty = DayIn(starts_min=480, water_min=600, hands_min=10, chargers=[], packs=[], runs=[])
    assert day.planned(store, empty).charges == []
