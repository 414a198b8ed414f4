"""Use cases against the real database."""

import dataclasses

import numpy as np
import pytest
from tests import samples
from tests.samples import q, refused
from tests.services.common import changed_of

from kunstflug.core.drive import MODEL_VERSION
from kunstflug.core.quantity.errors import InvalidValue, NotFound
from kunstflug.documents.run import GUN_ORDER
from kunstflug.files.controller_csv import write_controller_csv
from kunstflug.files.gpx import write_gpx
from kunstflug.files.nmea import write_nmea
from kunstflug.pond import Weather, run_outing
from kunstflug.services.boats import boats
from kunstflug.services.compare import compare
from kunstflug.services.match import match
from kunstflug.services.run import run, simulated
from kunstflug.services.run import tracks as run_tracks
from kunstflug.services.shared import stock as parts
from kunstflug.services.shared.changes import Change, change_document, differences
from kunstflug.services.shelf import shelf
from kunstflug.store.people import Racer
from kunstflug.store.tables import ForecastRow, RunRow, SetupPart, SetupRow


@pytest.fixture
def boat(store):
    return boats.new_boat(store, "Teal", samples.document())


def gpx_of(seed=1, **more):
    return run_outing(samples.setup(), seed=seed, start_unix_s=1_780_000_000.0, **more)


def write(store, view, conditions=None, note="", observations=(), readings=(), expected=None):
    """Writes down a run that was seen as it is in a view."""
    return run.set_notes(
        store, view.id, conditions or {}, note, list(observations), list(readings), expected or view.tag
    )


# --- changes


def test_a_change_makes_a_new_document_and_leaves_the_old_one():
    before = samples.document()
    after, notes = changed_of(before, [Change(path="motor.kv", value=q(2000, "rpm/V"))])
    assert (before.motor.kv.value, after.motor.kv.value) == (2200, 2000)
    assert [d.path for d in differences(before, after)] == ["motor.kv"]
    assert notes == []


def test_another_winding_makes_a_measured_resistance_a_guess():
    before = samples.document(motor__resistance=q(8.0, "mohm", "measured"))
    after, notes = changed_of(before, [Change(path="motor.kv", value=q(1100, "rpm/V"))])
    # half the KV is twice the turns of half the section: R x 4
    assert after.motor.resistance.value == pytest.approx(32.0)
    assert after.motor.resistance.source == "guessed"
    assert notes == ["Another winding in the same can: the motor's winding resistance is estimated from the old one."]


def test_swapping_a_part_moves_the_mass():
    heavy = {**samples.MONO["motor"], "mass": q(285, "g")}
    before = samples.document(motor=heavy)
    after, notes = changed_of(before, [Change(path="motor", value={**heavy, "mass": q(385, "g")})])
    assert after.all_up_mass.value == pytest.approx(2200)
    assert after.all_up_mass.source == "guessed"
    assert notes == ["The boat is 100 g heavier with these parts."]


def test_a_part_called_by_its_sizes_is_renamed_a_name_stays():
    from kunstflug.services.shared.changes import name_parts

    plain = name_parts(samples.document())
    assert plain.motor.name == "36 x 74, 2200 KV"
    after, _ = changed_of(plain, [Change(path="motor.kv", value=q(2000, "rpm/V"))])
    assert after.motor.name == "36 x 74, 2000 KV"
    own = name_parts(samples.document(motor={**samples.MONO["motor"], "name": "the old one"}))
    after, _ = changed_of(own, [Change(path="motor.kv", value=q(2000, "rpm/V"))])
    assert after.motor.name == "the old one"


def test_a_mass_that_was_set_by_hand_is_not_moved():
    changes = [Change(path="pack.cells", value=6), Change(path="all_up_mass", value=q(2400, "g"))]
    after, _ = changed_of(samples.document(), changes)
    assert (after.all_up_mass.value, after.all_up_mass.source) == (2400, "typed")


def test_more_cells_make_a_heavier_pack():
    after, _ = changed_of(samples.document(), [Change(path="pack.cells", value=5)])
    # 25 g a cell and Ah (common practice, no source): 5 Ah, 125 g
    assert after.all_up_mass.value == pytest.approx(2225, abs=1)


def test_pitch_and_pitch_ratio_give_way_to_each_other():
    after, _ = changed_of(samples.document(), [Change(path="propeller.pitch", value=q(55, "mm"))])
    assert after.propeller.pitch_ratio is None
    assert after.propeller.pitch.value == 55


def test_the_same_amount_in_another_unit_is_no_difference():
    assert differences(samples.document(), samples.document(propeller__diameter=q(4.2, "cm"))) == []


@pytest.mark.parametrize("path", ["motor.colour", "engine", "", "motor.kv.value"])
def test_a_path_that_does_not_exist_is_refused(path):
    with refused(InvalidValue, "path"):
        change_document(samples.document(), [Change(path=path, value=1)])


# --- match


def test_a_new_boat_has_its_setup_forecast_and_parts(store, boat):
    with store.transaction() as session:
        row = session.get(ForecastRow, session.query(ForecastRow.id).filter_by(setup_id=boat.id).scalar())
        assert row.model_version == MODEL_VERSION
        assert row.inputs["motor"]["kv"]["value"] == 2200  # the inputs used stand beside the result
        assert row.result["point"]["speed_mps"]["value"] > 15
        assert session.query(SetupPart).filter_by(setup_id=boat.id).count() == 5
    names = {p.kind: p.name for p in parts.shelf_parts(store)}
    assert names["motor"] == "36 x 74, 2200 KV"
    assert names["pack"] == "4S 5000 mAh, 50 C"


def test_the_same_part_stands_on_the_shelf_once(store):
    boats.new_boat(store, "One", samples.document())
    count = len([p for p in parts.shelf_parts(store) if p.kind == "motor"])
    boats.new_boat(store, "Two", samples.document())
    assert len([p for p in parts.shelf_parts(store) if p.kind == "motor"]) == count


def test_draft_saves_nothing(store, boat):
    before = len(boats.setups(store, boat.boat_id).items)
    tried = match.draft(boat.document, [Change(path="propeller.diameter", value=q(44, "mm"))], None)
    assert tried.forecast.point.speed_mps.value > match.forecast_of(boat.document, None).point.speed_mps.value
    assert len(boats.setups(store, boat.boat_id).items) == before


def test_adopting_makes_a_child_and_keeps_the_parent(store, boat):
    tried = match.draft(boat.document, [Change(path="propeller.diameter", value=q(44, "mm"))], None)
    child = boats.adopt(store, boat.id, tried.document, "", {})
    assert child.parent_id == boat.id
    assert child.name == "Diameter"
    assert boats.setup(store, boat.id).document.propeller.diameter.value == 42
    with store.transaction() as session:
        kinds = {link.kind for link in session.query(SetupPart).filter_by(setup_id=child.id)}
        assert kinds == {"motor", "controller", "pack", "hull"}  # the propeller is not the one from the shelf any more


def test_adopting_nothing_is_refused(store, boat):
    with refused(InvalidValue, "at least one field"):
        boats.adopt(store, boat.id, boat.document, "", {})


def test_a_part_from_the_shelf_is_linked(store, boat):
    part = shelf.add_part(store, "propeller", {"diameter": q(45, "mm"), "pitch_ratio": q(1.4, "1")})
    tried = match.draft(boat.document, [Change(path="propeller", value=part.document)], None)
    child = boats.adopt(store, boat.id, tried.document, "bigger", {"propeller": part.id})
    with store.transaction() as session:
        link = session.query(SetupPart).filter_by(setup_id=child.id, kind="propeller").one()
        assert link.part_id == part.id


def links(store, setup_id) -> dict[str, int]:
    with store.transaction() as session:
        return {link.kind: link.part_id for link in session.query(SetupPart).filter_by(setup_id=setup_id)}


def test_a_part_that_was_changed_after_it_was_put_in_is_not_linked(store, boat):
    """Once a swapped motor kept its link to the shelf when its KV was pulled afterwards."""
    part = shelf.add_part(store, "motor", {**samples.MONO["motor"], "kv": q(1800, "rpm/V"), "name": "from the shelf"})
    pulled = [Change(path="motor", value=part.document), Change(path="motor.kv", value=q(2500, "rpm/V"))]
    tried = match.draft(boat.document, pulled, None)
    child = boats.adopt(store, boat.id, tried.document, "pulled", {"motor": part.id})
    assert "motor" not in links(store, child.id)
    untouched = match.draft(boat.document, pulled[:1], None)
    assert (
        links(store, boats.adopt(store, boat.id, untouched.document, "as is", {"motor": part.id}).id)["motor"]
        == part.id
    )


def test_a_propeller_is_no_motor_whatever_the_browser_says(store, boat):
    wheel = shelf.add_part(store, "propeller", {"diameter": q(47, "mm"), "pitch_ratio": q(1.4, "1")})
    tried = match.draft(boat.document, [Change(path="all_up_mass", value=q(2345, "g"))], None)
    child = boats.adopt(store, boat.id, tried.document, "odd", {"motor": wheel.id, "hose": wheel.id})
    assert wheel.id not in links(store, child.id).values()


def test_a_change_leaves_what_was_handed_in_as_it_is():
    """Once the document of a stored part went from 1800 to 2500 KV."""
    stored = {**samples.MONO["motor"], "kv": q(1800, "rpm/V")}
    changed_of(
        samples.document(), [Change(path="motor", value=stored), Change(path="motor.kv", value=q(2500, "rpm/V"))]
    )
    assert stored["kv"]["value"] == 1800


@pytest.mark.parametrize("spoil", [lambda s: {**s, "version": 0}, lambda s: {"best": 1.0}, lambda s: None])
def test_a_summary_of_another_version_is_worked_out_anew(store, boat, spoil):
    """Once the renaming of one field broke every old run."""
    saved = simulated.simulate(store, boat.id, 12, 2, Weather())
    with store.transaction() as session:
        row = session.get_one(RunRow, saved.id)
        row.track.summary = spoil(dict(row.track.summary))
        row.log.summary = spoil(dict(row.log.summary))
        best, row.best_mps = row.best_mps, 99.0
    again = run.run(store, saved.id)
    assert again.summary == saved.summary
    assert again.log == saved.log
    with store.transaction() as session:
        assert session.get_one(RunRow, saved.id).best_mps == best  # lists and page say one thing


def test_rows_of_somebody_else_do_not_exist(store, boat):
    with store.transaction() as session:
        other = Racer(name="other")
        session.add(other)
        session.flush()
        session.get(SetupRow, boat.id).owner_id = other.id
    with refused(NotFound, f"no setup {boat.id}"):
        boats.setup(store, boat.id)
    with pytest.raises(NotFound):
        boats.setup(store, 10**9)


@pytest.mark.parametrize("name", ["", "   "])
def test_a_boat_needs_a_name(store, name):
    with refused(InvalidValue, "at least one letter"):
        boats.new_boat(store, name, samples.document())


def test_an_impossible_part_does_not_get_onto_the_shelf(store):
    with refused(InvalidValue, "^Diameter must be 10 to 200 mm"):
        shelf.add_part(store, "propeller", {"diameter": q(900, "mm"), "pitch_ratio": q(1.4, "1")})
    with refused(InvalidValue, "motor, controller"):
        shelf.add_part(store, "anchor", {})


# --- run


@pytest.mark.parametrize("write", [lambda o: write_gpx(o.track, "x"), lambda o: write_nmea(o.track)])
def test_a_run_from_a_file(store, boat, write):
    made = gpx_of()
    saved = run.import_track(store, boat.id, write(made), "sunday.gpx", accept_damage=False)
    assert saved.source == "sunday.gpx"
    assert saved.started_at.isoformat().startswith("2026-05-28T")  # 1 780 000 000 s after 1970
    assert saved.summary.both_ways_mps == pytest.approx(made.true_top_mps, rel=0.03)
    assert len(saved.summary.passes) == 4
    drawn = run_tracks.track(store, saved.id)
    assert len(drawn.time_s) == len(drawn.speed_mps) > 500
    assert None in drawn.speed_mps  # the gap stays open


def test_a_damaged_file_is_offered_never_taken_silently(store, boat):
    whole = write_gpx(gpx_of().track, "x")
    cut = whole[: len(whole) // 2]
    before = len(run.runs(store, boat.boat_id).items)
    with pytest.raises(run.PartlyReadable) as offered:
        run.import_track(store, boat.id, cut, "cut.gpx", accept_damage=False)
    assert offered.value.readable > 300
    assert offered.value.line > 100
    assert len(run.runs(store, boat.boat_id).items) == before
    taken = run.import_track(store, boat.id, cut, "cut.gpx", accept_damage=True)
    assert taken.damages[0].line == offered.value.line


def test_the_simulated_pond_brings_everything_home(store, boat):
    weather = Weather(wind_mps=1.0)
    saved = simulated.simulate(store, boat.id, 5, 4, weather)
    assert saved.source == "simulated pond"
    assert [r.place for r in saved.readings] == list(GUN_ORDER)
    assert saved.log.rpm > 20000
    assert saved.conditions["wind"]["value"] == 1.0
    again = simulated.simulate(store, boat.id, 6, 4, weather)
    # the same hidden boat on another day
    assert again.summary.both_ways_mps == pytest.approx(saved.summary.both_ways_mps, rel=0.01)


def test_readings_are_kept_as_typed(store, boat):
    saved = simulated.simulate(store, boat.id, 7, 2, Weather())
    changed = write(store, saved, readings=[("motor front", q(104, "degF", "measured"), 2.5)])
    (reading,) = changed.readings
    assert reading.typed["value"] == 104
    assert reading.typed["unit"] == "degF"
    assert reading.celsius == pytest.approx(40.0)  # (104 - 32) x 5 / 9
    with refused(InvalidValue, "−4 to 752 °F"):
        write(store, changed, readings=[("motor front", q(9000, "degF"), 1.0)])
    with refused(InvalidValue, "0 to 240"):
        write(store, changed, readings=[("motor front", q(40, "degC"), -3.0)])
    assert len(run.run(store, saved.id).readings) == 1  # a refused save changed nothing


def test_notes(store, boat):
    saved = simulated.simulate(store, boat.id, 8, 2, Weather())
    conditions = {"water": q(61, "degF", "measured"), "water_state": "glass"}
    write(store, saved, conditions, "evening", ["runs wet", "pulls left"])
    found = run.run(store, saved.id)
    assert (found.note, found.observations) == ("evening", ["runs wet", "pulls left"])
    assert found.conditions["water"]["value"] == 61


def test_a_controller_log_is_put_to_a_run(store, boat):
    made = gpx_of(seed=3)
    saved = run.import_track(store, boat.id, write_gpx(made.track, "x"), "x.gpx", accept_damage=False)
    assert saved.log is None
    found = run.add_log(store, saved.id, write_controller_csv(made.controller), accept_damage=False)
    full = made.controller.columns["throttle_percent"] > 97
    assert found.log.current_a == pytest.approx(np.median(made.controller.columns["current_a"][full]), rel=0.1)
    assert found.log.mah == pytest.approx(made.mah_used, rel=0.03)
    broken = write_controller_csv(made.controller).replace(b"\n1.05,", b"\nnoise,", 1)
    with refused(run.PartlyReadable, "is not a row of numbers"):
        run.add_log(store, saved.id, broken, accept_damage=False)
    assert run.add_log(store, saved.id, broken, accept_damage=True).log.samples == found.log.samples - 1


def test_gpx_out_is_what_came_in(store, boat):
    from kunstflug.files.gpx import read_gpx

    made = gpx_of(seed=4)
    saved = run.import_track(store, boat.id, write_gpx(made.track, "x"), "x.gpx", accept_damage=False)
    back = read_gpx(run_tracks.track_gpx(store, saved.id)).samples
    np.testing.assert_allclose(back.receiver_speed_mps, made.track.receiver_speed_mps, atol=1e-3)


def test_thinning_keeps_the_fastest_sample():
    speed = np.sin(np.arange(40000) / 50) + 2
    speed[12345] = 9.0
    kept = run_tracks._thinned(speed)
    assert len(kept) <= run_tracks.DRAWN_SAMPLES + 2
    assert 12345 in kept
    assert np.all(np.diff(kept) > 0)


# --- compare


def test_the_trail_shows_change_forecast_and_measurement(store, boat):
    simulated.simulate(store, boat.id, 9, 4, Weather(wind_mps=0.0))
    tried = match.draft(boat.document, [Change(path="propeller.diameter", value=q(44, "mm"))], None)
    boats.adopt(store, boat.id, tried.document, "44", {})
    trail = compare.trail(store, boat.boat_id)
    first, second = trail.setups
    assert (first.parent_id, second.parent_id) == (None, boat.id)
    assert [d.path for d in second.changes] == ["propeller.diameter"]
    labels = {m.label: m for m in first.runs[0].measured}
    assert set(labels) == {"Top speed, average of both directions", "Current", "Loaded rpm", "Pack under load"}
    speed = labels["Top speed, average of both directions"]
    assert speed.low < speed.forecast < speed.high
    assert speed.inside is (speed.low <= speed.measured <= speed.high)
    assert speed.measured != pytest.approx(speed.forecast, rel=1e-3)
    assert second.runs == []


def test_a_run_is_compared_in_its_own_water(store, boat):
    saved = simulated.simulate(store, boat.id, 10, 4, Weather(wind_mps=0.0))
    warm = compare.trail(store, boat.boat_id).setups[0].runs[0].measured[0].forecast
    write(store, saved, {"water": q(2, "degC"), "air": q(-5, "degC")})
    cold = compare.trail(store, boat.boat_id).setups[0].runs[0].measured[0].forecast
    assert cold < warm  # denser water and air
    assert cold == pytest.approx(warm, rel=0.05)


def test_views_are_plain(store, boat):
    assert dataclasses.is_dataclass(boat)
    assert dataclasses.asdict(boats.boats(store).items[0])["name"]
