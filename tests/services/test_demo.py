"""The invented club that the demo shows: true to itself, and every screen has something to say of it."""

import pytest
from sqlalchemy import event
from tests.amount import SLOW

from kunstflug.core.drive.schools import USUAL
from kunstflug.core.thermal.duty import passes_duty
from kunstflug.documents.setup import SHELF_PARTS
from kunstflug.launch.mariadb import PrivateMariaDB
from kunstflug.services.boats import boats
from kunstflug.services.compare import compare
from kunstflug.services.data import demo
from kunstflug.services.fit import fit, prove
from kunstflug.services.match import match, next_change
from kunstflug.services.shared import stock as parts
from kunstflug.services.shared.rows import racer_of
from kunstflug.services.shelf import candidates, shelf
from kunstflug.services.shelf import table as shelf_csv
from kunstflug.store.database import Store
from kunstflug.store.migrate import migrate

DUTY = passes_duty(4, 6.0, 25.0)


@pytest.fixture(scope="module")
def club(server: PrivateMariaDB):
    store = Store(server.url("kunstflug_test_demo"))
    migrate(store.engine)
    assert demo.load_demo(store)
    yield store
    store.close()
    server.drop("kunstflug_test_demo")


@pytest.fixture(scope="module")
def newest(club):
    return [boats.setup(club, b.setup_id) for b in boats.boats(club).items]


@pytest.mark.long
def test_it_is_loaded_once(club):
    assert not demo.load_demo(club)
    assert [(b.name, b.hull_type) for b in boats.boats(club).items] == [
        ("Dipper", "mono"), ("Shrike", "catamaran"), ("Lapwing", "outrigger"),
    ]  # fmt: skip
    with club.transaction() as session:
        assert racer_of(session)


def test_its_bands_hold_most_of_what_was_measured(club):
    runs = [r for b in boats.boats(club).items for s in compare.trail(club, b.id).setups for r in s.runs]
    speeds = [m for r in runs for m in r.measured if m.dimension == "speed"]
    assert len(speeds) == 12
    assert sum(m.inside for m in speeds) >= 5  # three hidden boats, drawn once: an 80 % band holds most of them
    everything = [m for r in runs for m in r.measured]
    assert sum(m.inside for m in everything) / len(everything) >= 0.6


def test_every_setup_runs_and_none_needs_to_stop(club):
    for b in boats.boats(club).items:
        for s in [boats.setup(club, i.id) for i in boats.setups(club, b.id).items]:
            found = match.forecast_of(s.document, None)
            assert found.runs
            assert found.verdict in ("holds", "short")


def test_its_boats_go_together(newest):
    for setup in newest:
        found = fit.fit_of(setup.document, None, {}, None)
        assert found.clashes == 0, (setup.name, [j.sentence for j in found.joints if j.fit == "clashes"])
        assert found.unknown == 0, (setup.name, [j.title for j in found.joints if j.fit == "unknown"])
        assert len(found.build) >= 12
        assert len(found.first_power) >= 6


def test_a_change_in_the_season_lists_no_more_than_it_touches(club):
    for b in boats.boats(club).items:
        for s in [boats.setup(club, i.id) for i in boats.setups(club, b.id).items[1:]]:
            found = fit.fit(club, s.id)
            assert found.changed
            assert 0 < len(found.swap) < len(found.build)


@pytest.mark.parametrize("statements", [3, 150, 400] if SLOW else [150])
@pytest.mark.long
def test_a_demo_killed_half_way_is_begun_anew(club, fresh_store, statements, monkeypatch):
    left = statements

    def dies(*words):
        nonlocal left
        left -= 1
        if left <= 0:
            raise KeyboardInterrupt  # nothing on the way catches it: as good as a kill

    event.listen(fresh_store.engine, "before_cursor_execute", dies)
    with pytest.raises(KeyboardInterrupt):
        demo.load_demo(fresh_store)
    event.remove(fresh_store.engine, "before_cursor_execute", dies)
    assert demo.load_demo(fresh_store)
    assert not demo.load_demo(fresh_store)
    assert [b.id for b in boats.boats(fresh_store).items] == [1, 2, 3]
    speeds = [[b.best_mps for b in boats.boats(one).items] for one in (club, fresh_store)]
    assert speeds[0] == pytest.approx(speeds[1])  # the same hidden boats as a demo that was never killed


def test_its_shelf_is_a_racers(club):
    there = shelf.shelf(club)
    assert len(there) >= 30
    assert len({p.kind for p in there}) >= 12
    assert {p.kind for p in there} <= set(SHELF_PARTS)
    assert any(p.state == "dead" and p.events for p in there)
    assert any(p.price for p in there)
    assert any(p.due for p in there)
    assert any(p.runs >= 5 for p in there)
    dead = [p.name for p in there if p.state == "dead"]
    assert not any(p.usable for p in parts.shelf_parts(club) if p.name in dead)


def test_its_shelf_goes_out_and_in(club, fresh_store):
    shelf_csv.from_csv(fresh_store, shelf_csv.to_csv(club).encode())
    made = shelf.shelf(fresh_store)
    assert [(p.kind, p.name, p.state, p.price) for p in made] == [
        (p.kind, p.name, p.state, p.price) for p in shelf.shelf(club)
    ]


def test_six_of_its_propellers_in_a_boat(club, newest):
    ids = [p.id for p in shelf.shelf(club, "propeller") if p.state != "dead"][:6]
    found = candidates.compare(club, newest[0].document, ids, DUTY, USUAL, None)
    assert len(found) == 6
    assert all(c.speed_mps or c.refusal for c in found)
    assert any(c.fit_problems for c in found)  # a 3.175 mm bore does not go on a 4.76 mm shaft


def test_its_water_cools_and_its_tub_warns(club, newest):
    for setup in newest:
        water = fit.solve(setup.document, fit.circuit(club, setup.boat_id), DUTY, None)
        flow = water.motor_l_min
        assert flow[-1] > 0.5
        assert flow == sorted(flow)
        dry = next(c for c in water.cases if c.key == "cap")
        now = next(c for c in water.cases if c.key == "now")
        assert dry.motor_c > now.motor_c + 5
        tub = prove.tub(setup.document, [], USUAL, None)
        assert max(tub.prior_c) > tub.ceiling_c  # held for ten minutes each of them would burn
        assert not tub.stop


def test_next_steps_come_from_its_shelf_too(club, newest):
    steps = next_change.next_steps(club, newest[0].document, DUTY, USUAL, None).steps
    assert any(s.shelf_id for s in steps)
    assert any(s.shelf_id is None for s in steps)
