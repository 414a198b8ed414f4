"""Lists and Compare cost as many statements for a handful of runs as for many; page by page nothing is missed."""

import datetime as dt
from datetime import timedelta

import pytest
from sqlalchemy import insert, select
from tests import samples
from tests.samples import q

from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.pond import Weather
from kunstflug.services.boats import boats
from kunstflug.services.compare import compare
from kunstflug.services.launch import day
from kunstflug.services.learning import learning
from kunstflug.services.logbook import logbook
from kunstflug.services.run import run, simulated
from kunstflug.services.shared import stock as parts
from kunstflug.services.shelf import shelf
from kunstflug.store.tables import RunRow, TrackRow


def multiply(store, run_id: int, count: int) -> None:
    """Copies of a run with its track and forecast, a minute apart each."""
    with store.transaction() as session:
        row = session.get_one(RunRow, run_id)
        track = session.scalars(select(TrackRow).where(TrackRow.run_id == run_id)).one()
        for k in range(count):
            copy = RunRow(
                owner_id=row.owner_id, boat_id=row.boat_id, setup_id=row.setup_id,
                started_at=row.started_at - timedelta(minutes=k + 1), source="copy", conditions=row.conditions,
                best_mps=row.best_mps, duration_s=row.duration_s,
            )  # fmt: skip
            session.add(copy)
            session.flush()
            session.execute(
                insert(TrackRow).values(
                    owner_id=row.owner_id, run_id=copy.id, format=track.format, samples=track.samples, block=b"",
                    summary=track.summary, damages=track.damages,
                )
            )  # fmt: skip


@pytest.fixture(scope="module")
def boat(store):
    made = boats.new_boat(store, "Growing", samples.document())
    made_run = simulated.simulate(store, made.id, 1, 1, Weather())
    multiply(store, made_run.id, 4)
    return made, made_run


LISTS = {
    "boats": lambda store, boat: boats.boats(store),
    "setups": lambda store, boat: boats.setups(store, boat.boat_id),
    "runs": lambda store, boat: run.runs(store, boat.boat_id),
    "trail": lambda store, boat: compare.trail(store, boat.boat_id),
    "compared": lambda store, boat: compare.compared_runs(store, boat.id),
    "shelf": lambda store, boat: shelf.page(store),
    "parts": lambda store, boat: parts.shelf_parts(store),
}


def statements(store, boat) -> dict[str, int]:
    found = {}
    for name, ask in LISTS.items():
        learning.forget(store)
        with store.counted() as sent:
            ask(store, boat)
        found[name] = len(sent)
    return found


def test_statements_do_not_grow_with_runs_or_setups(store, boat):
    made, made_run = boat
    statements(store, made)  # the racer is looked up once
    before = statements(store, made)
    multiply(store, made_run.id, 60)
    current = made
    for grams in range(2200, 2230, 5):
        current = boats.adopt(
            store, current.id, current.document.model_copy(update={"all_up_mass": q_mass(grams)}), f"{grams}", {}
        )
    statements(store, made)  # what the new runs teach is learnt once
    assert statements(store, made) == before
    assert max(before.values()) <= 9


def test_logbook_and_day_ask_no_more_for_many_boats(fresh_store):
    """112 and 118 statements for a hundred boats."""

    def asked():
        found = []
        for ask in (lambda: logbook.logbook(fresh_store), lambda: day.day_of(fresh_store, dt.date(2026, 5, 4))):
            ask()
            learning.forget(fresh_store)  # else it hangs on the clock whether the log is looked at again
            with fresh_store.counted() as sent:
                ask()
            found.append(len(sent))
        return found

    for k in range(7):  # a day holds six boats at the most
        run.type_run(fresh_store, boats.new_boat(fresh_store, f"boat {k}", samples.document()).id)
    before = asked()
    for k in range(9):
        setup = boats.new_boat(fresh_store, f"more {k}", samples.document())
        run.type_run(fresh_store, setup.id)
    assert asked() == before
    assert max(before) <= 16


def q_mass(grams):
    return samples.document(all_up_mass=q(grams, "g")).all_up_mass


def test_no_list_opens_a_track(store, boat):
    for name, ask in LISTS.items():
        with store.counted() as sent:
            ask(store, boat[0])
        assert not [s for s in sent if "tracks.block" in s or "controller_logs.block" in s], name


def test_pages_of_runs_are_all_runs_once_newest_first(store, boat):
    made, made_run = boat
    multiply(store, made_run.id, 60)
    found, before = [], None
    while True:
        page = run.runs(store, made.boat_id, before, limit=17)
        found += page.items
        if page.next is None:
            break
        assert len(page.items) == 17
        before = page.next
    assert len({r.id for r in found}) == len(found) == boats.boats(store).items[0].runs
    assert [r.started_at for r in found] == sorted((r.started_at for r in found), reverse=True)


def test_pages_of_compared_runs_are_all_of_them(store, boat):
    made, _ = boat
    found, before = [], None
    while True:
        page = compare.compared_runs(store, made.id, before, limit=13)
        found += page.items
        if page.next is None:
            break
        before = page.next
    trail = compare.trail(store, made.boat_id).setups[0]
    assert len({r.run_id for r in found}) == len(found) == trail.runs_in_all
    assert [r.run_id for r in found[: compare.RUNS_EACH]] == [r.run_id for r in reversed(trail.runs)]


def test_pages_of_the_trail_are_all_setups(store, boat):
    made, _ = boat
    found, before = [], None
    while True:
        view = compare.trail(store, made.boat_id, before, limit=2)
        found = view.setups + found
        if view.older is None:
            break
        before = view.older
    assert [s.setup_id for s in found] == [s.setup_id for s in compare.trail(store, made.boat_id, limit=99).setups]
    assert all(s.changes for s in found[1:])  # also where the parent is on another page


def test_pages_of_the_shelf_are_all_parts(store, boat, monkeypatch):
    for k in range(7):
        shelf.add_part(store, "hose", {"bore": q(2 + k, "mm"), "name": f"paged {k}"})
    whole = shelf.shelf(store)
    monkeypatch.setattr(shelf, "PAGE", 3)
    assert shelf.shelf(store) == whole
    assert shelf.shelf(store, words="paged") == [p for p in whole if "paged" in p.name]


@pytest.mark.parametrize("cursor", ["", "x", "2026-01-01_x", "yesterday_4", "_"])
def test_a_cursor_of_somebody_else(store, boat, cursor):
    with pytest.raises(InvalidValue):
        run.runs(store, boat[0].boat_id, cursor)
