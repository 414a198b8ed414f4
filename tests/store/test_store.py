"""The store against a real MariaDB: migrations both ways, blocks, a server that goes away."""

import time

import numpy as np
import pytest
from alembic.autogenerate import compare_metadata
from alembic.migration import MigrationContext
from sqlalchemy import func, inspect, select
from tests import samples

from kunstflug.core.quantity.errors import StoreUnavailable
from kunstflug.launch.mariadb import PrivateMariaDB
from kunstflug.pond import run_outing
from kunstflug.services.boats import boats
from kunstflug.services.match import match
from kunstflug.services.shared import stock as parts
from kunstflug.services.shelf import shelf
from kunstflug.store.base import HasOwner
from kunstflug.store.blocks import log_block, log_of, track_block, track_of
from kunstflug.store.database import Store
from kunstflug.store.migrate import downgrade, migrate
from kunstflug.store.people import Racer
from kunstflug.store.tables import Base


def test_migrations_make_just_the_tables_and_take_them_away(fresh_store):
    with fresh_store.engine.connect() as connection:
        assert compare_metadata(MigrationContext.configure(connection), Base.metadata) == []
    downgrade(fresh_store.engine)
    assert inspect(fresh_store.engine).get_table_names() == ["alembic_version"]
    migrate(fresh_store.engine)
    assert set(inspect(fresh_store.engine).get_table_names()) == {*Base.metadata.tables, "alembic_version"}


# before anybody signed in there is no owner, and what was done outlives the account
_NOBODYS = {"racers", "challenges", "attempts", "audit_entries"}


def test_every_table_has_an_owner_by_which_its_rows_are_bound():
    for mapper in Base.registry.mappers:
        name = mapper.local_table.name
        assert name in _NOBODYS or issubclass(mapper.class_, HasOwner), name
    assert set(Base.metadata.tables) >= _NOBODYS


def test_a_failure_rolls_everything_back(fresh_store):
    def half_way():
        with fresh_store.transaction() as session:
            session.add(Racer(name="half"))
            session.flush()
            raise ValueError("on the way")

    with pytest.raises(ValueError, match="on the way"):
        half_way()
    with fresh_store.transaction() as session:
        assert session.scalar(select(func.count()).select_from(Racer)) == 0


def test_names_keep_their_case_and_accents(fresh_store):
    with fresh_store.transaction() as session:
        session.add_all([Racer(name="Mauve"), Racer(name="mauve"), Racer(name="Möwe 鷗")])
    with fresh_store.transaction() as session:
        assert session.scalar(select(Racer.name).where(Racer.name == "Möwe 鷗")) == "Möwe 鷗"


def test_blocks_keep_every_bit_and_are_compact():
    made = run_outing(samples.setup(), seed=1, start_unix_s=1_780_000_000.0)
    block = track_block(made.track)
    back = track_of(block)
    for name in ("time_s", "latitude_deg", "longitude_deg", "receiver_speed_mps"):
        np.testing.assert_array_equal(getattr(back, name), getattr(made.track, name))
    assert back.start_unix_s == made.track.start_unix_s
    assert len(block) < 0.6 * 4 * 8 * len(made.track)  # smaller than its bare doubles
    log = log_of(log_block(made.controller))
    np.testing.assert_array_equal(log.columns["rpm"], made.controller.columns["rpm"])


def test_a_block_is_never_unpickled():
    import io

    out = io.BytesIO()
    np.savez_compressed(out, time_s=np.array([{"a": 1}], dtype=object))
    with pytest.raises(ValueError, match="allow_pickle"):
        track_of(out.getvalue())


def test_a_server_that_goes_away_and_comes_back(tmp_path):
    server = PrivateMariaDB(tmp_path / "db")
    server.start()
    store = Store(server.url("kunstflug_away"))
    migrate(store.engine)
    port = server.port
    server.stop()

    def save():
        with store.transaction() as session:
            session.add(Racer(name="later"))

    with pytest.raises(StoreUnavailable, match="nothing was saved"):
        save()
    assert not store.answers()
    server.start(port=port)
    for _ in range(100):
        if store.answers():  # one request in a while tries, see the breaker
            break
        time.sleep(0.1)
    save()
    with store.transaction() as session:
        assert session.scalars(select(Racer.name)).all() == ["later"]
    store.close()
    server.stop()


def test_parts_of_an_older_database_come_along(fresh_store):
    """A shelf from before parts had lives: everything is there afterwards, in use, one piece each."""
    made = boats.new_boat(fresh_store, "Old one", samples.document())
    hull = next(p for p in parts.shelf_parts(fresh_store) if p.kind == "hull")
    before = match.forecast_of(made.document, None)
    downgrade(fresh_store.engine, "0002")
    columns = {c["name"] for c in inspect(fresh_store.engine).get_columns("parts")}
    assert not columns & {"state", "pieces", "price", "record"}
    migrate(fresh_store.engine)
    found = shelf.shelf(fresh_store)
    assert {p.kind for p in found} >= {"motor", "controller", "propeller", "pack", "hull"}
    assert {(p.state, p.pieces, p.price) for p in found} == {("in use", 1, None)}
    assert hull.id in [p.id for p in found]
    again = boats.setup(fresh_store, boats.setups(fresh_store, made.boat_id).items[0].id)
    assert again.document == made.document
    assert match.forecast_of(again.document, None).point == before.point
    shelf.add_event(fresh_store, hull.id, "damage", "cracked bow")
    assert shelf.shelf(fresh_store, "hull")[0].events[0].words == "cracked bow"
