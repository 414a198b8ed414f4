"""The bin: out and back as it was, with what belongs to it, and gone only when said so."""

import pytest
from tests import samples
from tests.samples import q, refused

from kunstflug.core.quantity.errors import InUse, NotFound
from kunstflug.files.controller_csv import write_controller_csv
from kunstflug.pond import Weather, run_outing
from kunstflug.services.bin import bin
from kunstflug.services.boats import boats
from kunstflug.services.compare import compare
from kunstflug.services.fit import prove
from kunstflug.services.learning import evidence, learning
from kunstflug.services.match import match
from kunstflug.services.run import run, simulated
from kunstflug.services.shared import stock as parts
from kunstflug.services.shared.changes import Change
from kunstflug.services.shelf import shelf
from kunstflug.store.people import Racer
from kunstflug.store.tables import Base


@pytest.fixture
def boat(store):
    return boats.new_boat(store, "Tern", samples.document())


def child(store, of, grams):
    tried = match.draft(of.document, [Change(path="all_up_mass", value=q(grams, "g"))], None)
    return boats.adopt(store, of.id, tried.document, f"{grams} g", {})


def drive(store, setup, seed=1):
    return simulated.simulate(store, setup.id, seed, 1, Weather())


def names(store, boat):
    return [s.name for s in boats.setups(store, boat.boat_id).items]


def test_a_run_goes_and_comes_back_as_it_was(store, boat):
    one, two = drive(store, boat, 1), drive(store, boat, 2)
    view = bin.take_out(store, "run", one.id)
    assert view.name.startswith("Tern, ")
    assert [r.id for r in run.runs(store, boat.boat_id).items] == [two.id]
    with pytest.raises(NotFound):
        run.run(store, one.id)
    with pytest.raises(NotFound):
        bin.take_out(store, "run", one.id)  # it lies there already
    assert bin.put_back(store, "run", one.id).id == one.id
    assert run.run(store, one.id) == one
    with pytest.raises(NotFound):
        bin.put_back(store, "run", one.id)


def test_a_setup_takes_its_runs_along_and_leaves_those_that_lay_there(store, boat):
    second = child(store, boat, 2200)
    old, kept = drive(store, second, 3), drive(store, second, 4)
    bin.take_out(store, "run", old.id)
    view = bin.take_out(store, "setup", second.id)
    assert view.with_it == "1 run"
    assert names(store, boat) == ["test mono"]
    assert run.runs(store, boat.boat_id).items == []
    listed = [(v.kind, v.id) for v in bin.listing(store)]
    assert ("setup", second.id) in listed
    assert ("run", old.id) in listed
    assert ("run", kept.id) not in listed  # it comes back with its setup
    with refused(InUse, "setup lies in the bin"):
        bin.put_back(store, "run", old.id)
    bin.put_back(store, "setup", second.id)
    assert [r.id for r in run.runs(store, boat.boat_id).items] == [kept.id]
    bin.put_back(store, "run", old.id)
    assert len(run.runs(store, boat.boat_id).items) == 2


def test_a_setup_in_the_middle_leaves_a_trail_without_a_hole(store, boat):
    second = child(store, boat, 2200)
    third = child(store, second, 2300)
    bin.take_out(store, "setup", second.id)
    trail = compare.trail(store, boat.boat_id)
    assert [(s.setup_id, s.parent_id) for s in trail.setups] == [(boat.id, None), (third.id, boat.id)]
    assert trail.setups[1].changes[0].before["value"] == 2100  # against what stands before it now
    bin.destroy(store, "setup", second.id)
    again = compare.trail(store, boat.boat_id)
    assert [(s.setup_id, s.parent_id) for s in again.setups] == [(boat.id, None), (third.id, boat.id)]


def test_the_only_setup_of_a_boat_stays(store, boat):
    with refused(InUse, "only setup"):
        bin.take_out(store, "setup", boat.id)


def test_a_boat_goes_with_all_and_comes_back_with_all(store, boat):
    made = drive(store, boat)
    view = bin.take_out(store, "boat", boat.boat_id)
    assert view.with_it == "1 setup, 1 run"
    assert boat.boat_id not in [b.id for b in boats.boats(store).items]
    for gone in (
        lambda: boats.setup(store, boat.id),
        lambda: run.run(store, made.id),
        lambda: boats.aim(store, boat.boat_id),
        lambda: run.runs(store, boat.boat_id),
    ):
        with pytest.raises(NotFound):
            gone()
    bin.put_back(store, "boat", boat.boat_id)
    assert run.run(store, made.id) == made


def test_a_boat_destroyed_leaves_nothing_behind(store, boat):
    second = child(store, boat, 2200)
    made = drive(store, second)
    prove.keep_test(
        store, second.id, second.document, [{"seconds": 30, "typed": q(30, "degC"), "place": "case"}],
        prove.Schools(), "ended early", "",
    )  # fmt: skip
    with refused(NotFound, "in the bin"):
        bin.destroy(store, "boat", boat.boat_id)  # only what lies in the bin
    bin.take_out(store, "boat", boat.boat_id)
    bin.destroy(store, "boat", boat.boat_id)
    with store.transaction() as session:
        for table in Base.metadata.sorted_tables:
            for column, key in (("boat_id", boat.boat_id), ("setup_id", second.id), ("run_id", made.id)):
                if column in table.columns:
                    left = session.query(table).filter(table.c[column] == key).count()
                    assert left == 0, table.name
    with pytest.raises(NotFound):
        bin.put_back(store, "boat", boat.boat_id)


def test_a_part_and_a_test_and_a_log(store, boat):
    hose = shelf.add_part(store, "hose", {"bore": q(4, "mm"), "name": "binned hose"})
    shelf.add_event(store, hose.id, "damage", "kinked")
    bin.take_out(store, "part", hose.id)
    assert not shelf.shelf(store, "hose", "binned")
    assert hose.id not in [p.id for p in [p for p in parts.shelf_parts(store) if p.kind == "hose"]]
    bin.put_back(store, "part", hose.id)
    assert [e.words for e in shelf.shelf(store, "hose", "binned")[0].events] == ["kinked"]
    bin.take_out(store, "part", hose.id)
    bin.destroy(store, "part", hose.id)
    kept = prove.keep_test(
        store, boat.id, boat.document, [{"seconds": 30, "typed": q(30, "degC"), "place": "case"}],
        prove.Schools(), "ended early", "",
    )  # fmt: skip
    bin.take_out(store, "tub-test", kept.id)
    assert prove.tests(store, boat.id) == []
    bin.put_back(store, "tub-test", kept.id)
    assert prove.tests(store, boat.id) == [kept]
    made = drive(store, boat)
    bin.take_out(store, "controller-log", made.id)
    assert run.run(store, made.id).log is None
    labels = [m.label for s in compare.trail(store, boat.boat_id).setups for r in s.runs for m in r.measured]
    assert labels in (["Top speed, average of both directions"], ["Top speed, best 2 s"])
    bin.put_back(store, "controller-log", made.id)
    assert run.run(store, made.id).log == made.log
    bin.take_out(store, "controller-log", made.id)
    log = run_outing(samples.setup(), seed=8, start_unix_s=1.78e9, passes=1).controller
    fresh = run.add_log(store, made.id, write_controller_csv(log), accept_damage=False)  # in place of the binned one
    assert fresh.log.samples == len(log.time_s)


def test_archived_boats_are_put_away_and_taken_out(store, boat):
    boats.change_boat(store, boat.boat_id, archived=True)
    assert boat.boat_id not in [b.id for b in boats.boats(store).items]
    assert boat.boat_id in [b.id for b in boats.boats(store, archived=True).items]
    assert boats.setup(store, boat.id) == boat  # still there to look at
    back = boats.change_boat(store, boat.boat_id, archived=False, name=" Arctic tern ")
    assert (back.name, back.archived) == ("Arctic tern", False)


def test_a_setup_is_renamed_and_nothing_else(store, boat):
    renamed = boats.rename_setup(store, boat.id, "Sunday")
    assert renamed.name == renamed.document.name == "Sunday"
    assert renamed.document.model_copy(update={"name": boat.name}) == boat.document


def test_a_run_moves_to_another_boat_with_all_it_has(store, boat):
    other = boats.new_boat(store, "Gannet", samples.document(propeller__diameter=q(44, "mm")))
    made = drive(store, boat)
    moved = run.move_run(store, made.id, other.id)
    assert (moved.setup_id, moved.boat_id) == (other.id, other.boat_id)
    assert moved.readings == made.readings
    assert [r.id for r in run.runs(store, other.boat_id).items] == [made.id]
    assert run.runs(store, boat.boat_id).items == []
    (compared,) = compare.trail(store, other.boat_id).setups[0].runs
    (speed, *_) = learning.judgements(store)[made.id].readings
    assert compared.measured[0].forecast == pytest.approx(speed.then.value, rel=3e-4)  # four digits
    bought = match.forecast_of(evidence.in_conditions(other.document, made.conditions), None).point.speed_mps.value
    assert speed.bought.value == pytest.approx(bought, rel=1e-4)  # as a document it is rounded


def test_somebody_elses_bin_is_not_mine(store, boat):
    made = drive(store, boat)
    with store.transaction() as session:
        other = Racer(name=f"other {made.id}")
        session.add(other)
        session.flush()
        from kunstflug.store.tables import RunRow

        session.get_one(RunRow, made.id).owner_id = other.id
    for act in (bin.take_out, bin.put_back, bin.destroy):
        with pytest.raises(NotFound):
            act(store, "run", made.id)
