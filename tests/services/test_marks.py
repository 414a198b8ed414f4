"""The mark of a racer's log moves with all that teaches, and with nothing that is only looked at or planned."""

from datetime import datetime

import pytest
from sqlalchemy import text
from tests import samples
from tests.samples import q

from kunstflug.documents.run import TypedRun
from kunstflug.documents.water import CircuitIn
from kunstflug.files.controller_csv import write_controller_csv
from kunstflug.pond import Weather, run_outing
from kunstflug.services.bin import bin
from kunstflug.services.boats import boats
from kunstflug.services.compare import compare
from kunstflug.services.fit import fit
from kunstflug.services.learning import learning
from kunstflug.services.run import run, simulated
from kunstflug.services.shared.rows import racer_of
from kunstflug.services.shared.run_rows import run_of
from kunstflug.store.acting import BOUND
from kunstflug.store.marks import mark_of

DAY = datetime(2026, 7, 4, 10, 0)


@pytest.fixture
def mark(fresh_store):
    def read() -> str:
        with fresh_store.transaction() as session:
            return mark_of(session, racer_of(session))

    return read


def test_what_teaches_moves_it(fresh_store, mark):
    store = fresh_store
    setup = boats.new_boat(store, "Marked", samples.document())
    typed = run.type_run(store, setup.id, DAY)
    driven = simulated.simulate(store, setup.id, seed=1, passes=1, weather=Weather())
    log = write_controller_csv(run_outing(samples.setup(), seed=1, start_unix_s=1.78e9, passes=1).controller)
    tag = fit.circuit_tag(fit.circuit(store, setup.boat_id))
    usual = fit.circuit(store, setup.boat_id)
    thin = CircuitIn(lines=[[p.model_copy(update={"bore_mm": 2.5}) for p in usual.lines[0]]])
    other = boats.adopt(store, setup.id, samples.document(all_up_mass=q(2300, "g")), "heavier", {})
    acts = {
        "a typed run": lambda: run.type_run(store, setup.id, DAY),
        "what was typed": lambda: run.set_notes(
            store,
            typed.id,
            {},
            "",
            [],
            [],
            typed.tag,
            typed=TypedRun.model_validate({"peaks": [{"speed": q(70, "km/h")}]}),
        ),
        "a simulated run": lambda: simulated.simulate(store, setup.id, seed=2, passes=1, weather=Weather()),
        "a log": lambda: run.add_log(store, driven.id, log, accept_damage=False),
        "a log in the bin": lambda: bin.take_out(store, "controller-log", driven.id),
        "a run set aside": lambda: learning.set_aside(store, [driven.id], True),
        "a run moved": lambda: run.move_run(store, driven.id, other.id),
        "a run in the bin": lambda: bin.take_out(store, "run", driven.id),
        "a run put back": lambda: bin.put_back(store, "run", driven.id),
        "water": lambda: fit.set_circuit(store, setup.boat_id, thin, tag),
        "a setup in the bin": lambda: bin.take_out(store, "setup", other.id),
        "a setup gone": lambda: bin.destroy(store, "setup", other.id),
        "a boat in the bin": lambda: bin.take_out(store, "boat", setup.boat_id),
        "a boat put back": lambda: bin.put_back(store, "boat", setup.boat_id),
    }
    seen = {mark()}
    for what, act in acts.items():
        act()
        assert mark() not in seen, what
        seen.add(mark())


def test_what_is_planned_or_looked_at_does_not(fresh_store, mark):
    store = fresh_store
    setup = boats.new_boat(store, "Still", samples.document())
    made = run.type_run(store, setup.id, DAY)
    before = mark()
    boats.adopt(store, setup.id, samples.document(all_up_mass=q(2300, "g")), "heavier", {})
    boats.new_boat(store, "Another", samples.document())
    run.run(store, made.id)
    compare.compared_runs(store, setup.id)
    assert mark() == before != ""


def test_a_change_that_is_rolled_back_moves_nothing(fresh_store, mark):
    setup = boats.new_boat(fresh_store, "Rolled", samples.document())
    made = run.type_run(fresh_store, setup.id, DAY)
    before = mark()

    def broken_off() -> None:
        with fresh_store.transaction() as session:
            run_of(session, made.id, racer_of(session)).note = "never"
            session.flush()
            raise RuntimeError("broken off")

    with pytest.raises(RuntimeError, match="broken off"):
        broken_off()
    assert mark() == before


def test_a_log_from_before_the_marks_has_one_of_its_own(fresh_store, mark):
    """The migration draws one for every racer: two logs never share what was learnt of one of them."""
    with fresh_store.transaction() as session:
        racer_of(session)
        session.execute(text("DELETE FROM change_marks"), execution_options=BOUND)
        session.execute(
            text("INSERT IGNORE INTO change_marks (owner_id, mark) SELECT id, REPLACE(UUID(), '-', '') FROM racers"),
            execution_options=BOUND,
        )
    assert len(mark()) == 32
