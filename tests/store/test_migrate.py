"""Migrations that are killed anywhere go on at the next start; a newer database is left alone."""

import json

import pytest
from alembic.autogenerate import compare_metadata
from alembic.config import Config
from alembic.migration import MigrationContext
from alembic.script import ScriptDirectory
from sqlalchemy import event, text
from sqlalchemy.exc import OperationalError
from tests import samples
from tests.amount import SLOW

from kunstflug.core.quantity.errors import StartupProblem
from kunstflug.pond import Weather
from kunstflug.services.boats import boats
from kunstflug.services.compare import compare
from kunstflug.services.fit import fit
from kunstflug.services.run import run, simulated
from kunstflug.services.shelf import shelf
from kunstflug.store.database import ANSWER_S
from kunstflug.store.migrate import downgrade, locked, migrate
from kunstflug.store.revision import MIGRATIONS, known_revisions, newest_revision, revision_of
from kunstflug.store.tables import Base


class Killed(BaseException):
    """As good as a kill: nothing on the way catches it."""


def die_after(engine, count: int) -> bool:
    """Migrates, and dies before a statement; whether it came that far."""
    left = count

    def dies(*words):
        nonlocal left
        left -= 1
        if left < 0:
            raise Killed

    event.listen(engine, "before_cursor_execute", dies)
    try:
        migrate(engine)
        return False
    except Killed:
        return True
    finally:
        event.remove(engine, "before_cursor_execute", dies)


def is_todays(engine) -> bool:
    with engine.connect() as connection:
        return compare_metadata(MigrationContext.configure(connection), Base.metadata) == []


@pytest.mark.parametrize("start", [0, 1, 2, 3] if SLOW else [1, pytest.param(3, marks=pytest.mark.long)])
def test_killed_before_any_statement_the_next_start_goes_on(fresh_store, start):
    """Every statement of all migrations from nothing, four at a time: once "Duplicate column", "Table exists"."""
    engine = fresh_store.engine
    count, far = 3 + start, True
    while far:
        downgrade(engine)
        far = die_after(engine, count)
        migrate(engine)
        assert is_todays(engine), count
        count += 16 if SLOW else 40  # in the slow run each statement is tried once
    assert count > 60


def test_an_old_database_killed_over_and_over_keeps_its_data(fresh_store):
    made = boats.new_boat(fresh_store, "Old", samples.document())
    driven = simulated.simulate(fresh_store, made.id, 1, 2, Weather())
    fit.tick(fresh_store, made.id, "clean", True)
    trail, runs = compare.trail(fresh_store, made.boat_id), run.runs(fresh_store, made.boat_id)
    engine = fresh_store.engine
    downgrade(engine, "0003")
    with engine.begin() as connection:  # ticks as that program kept them
        connection.execute(text("UPDATE setups SET ticks = :t"), {"t": json.dumps({"clean": True, "grease": False})})
    count = 4
    while die_after(engine, count):
        count += 2
    assert is_todays(engine)
    again = compare.trail(fresh_store, made.boat_id)
    assert [(s.forecast_mps, s.low_mps, s.verdict) for s in again.setups] == [
        (s.forecast_mps, s.low_mps, s.verdict) for s in trail.setups
    ]
    assert run.runs(fresh_store, made.boat_id) == runs
    assert run.run(fresh_store, driven.id) == driven
    assert [s.done for s in fit.fit(fresh_store, made.id).build if s.key == "clean"] == [True]
    assert shelf.shelf(fresh_store)[0].runs == 1
    assert boats.boats(fresh_store).items[0].best_mps == runs.items[0].best_mps


def test_a_slow_disk_gets_its_time(fresh_store):
    """A table that takes longer to change than a racer waits for an answer: once "Lost connection" at every start."""
    with locked(fresh_store.engine) as connection:
        connection.execute(text("SELECT SLEEP(:s)"), {"s": ANSWER_S + 0.5})
    with fresh_store.engine.connect() as connection, pytest.raises(OperationalError, match="timed out"):
        connection.execute(text("SELECT SLEEP(:s)"), {"s": ANSWER_S + 0.5})


def test_the_files_say_which_revisions_there_are(fresh_store):
    """Without the library that migrates, which a web process does not load, they are the same."""
    config = Config()
    config.set_main_option("script_location", str(MIGRATIONS))
    scripts = ScriptDirectory.from_config(config)
    assert [one.revision for one in reversed(list(scripts.walk_revisions()))] == list(known_revisions())
    assert scripts.get_current_head() == newest_revision() == revision_of(fresh_store.engine)


def test_a_newer_database_is_a_sentence_and_stays_as_it_is(fresh_store):
    with fresh_store.engine.begin() as connection:
        connection.execute(text("UPDATE alembic_version SET version_num = '9999'"))
    with pytest.raises(StartupProblem, match=f"revision 9999, this program knows up to {newest_revision()}"):
        migrate(fresh_store.engine)
    with fresh_store.engine.connect() as connection:
        assert connection.scalar(text("SELECT version_num FROM alembic_version")) == "9999"
