"""Backup and restore: the same to the bit, consistent while others write, whole or refused."""

import json
import threading
import zipfile

import pytest
from sqlalchemy import select, text
from tests import samples
from tests.samples import q

from kunstflug.core.quantity.errors import RestoreProblem
from kunstflug.launch import keeping
from kunstflug.pond import Weather
from kunstflug.services.bin import bin
from kunstflug.services.boats import boats
from kunstflug.services.fit import fit
from kunstflug.services.run import simulated
from kunstflug.services.shelf import shelf
from kunstflug.store.backup import _tables, check_backup, restore_backup, write_backup
from kunstflug.store.migrate import downgrade, migrate
from kunstflug.store.tables import Boat, SetupRow


@pytest.fixture(scope="module")
def full(store):
    """A store with something in every table that a racer fills, odd letters and the bin included."""
    made = boats.new_boat(store, "Möwe 鷗 'quoted' \\ \n", samples.document())
    simulated.simulate(store, made.id, 1, 2, Weather())
    gone = simulated.simulate(store, made.id, 2, 1, Weather())
    bin.take_out(store, "run", gone.id)
    fit.tick(store, made.id, "clean", True)
    shelf.add_event(store, shelf.shelf(store, "motor")[0].id, "damage", "0.1 + 0.2 = 0.30000000000000004")
    return store


def content(store) -> dict[str, list]:
    with store.engine.connect() as connection:
        metadata = _tables(connection)
        return {
            t.name: [tuple(r) for r in connection.execute(select(t).order_by(*t.primary_key.columns))]
            for t in metadata.sorted_tables
        }


def test_there_and_back_is_the_same_to_the_bit(full, fresh_store, tmp_path):
    made = write_backup(full.engine, tmp_path / "a.zip")
    assert made.rows["boats"] == 1
    assert made.rows["runs"] == 2
    assert check_backup(tmp_path / "a.zip") == made
    boats.new_boat(fresh_store, "In the way", samples.document())
    restore_backup(fresh_store.engine, tmp_path / "a.zip")
    assert content(fresh_store) == content(full)
    restore_backup(fresh_store.engine, tmp_path / "a.zip")  # twice is once
    assert content(fresh_store) == content(full)
    assert boats.boats(fresh_store).items == boats.boats(full).items


def test_it_is_one_snapshot_while_others_write(fresh_store, tmp_path):
    """Every boat has its setup, whenever the backup was begun."""
    stop = threading.Event()

    def write():
        k = 0
        while not stop.is_set():
            boats.new_boat(fresh_store, f"Busy {k}", samples.document(all_up_mass=q(1500 + k, "g")))
            k += 1

    writer = threading.Thread(target=write)
    writer.start()
    try:
        for k in range(5):
            write_backup(fresh_store.engine, tmp_path / f"{k}.zip")
    finally:
        stop.set()
        writer.join()
    for k in range(5):
        with zipfile.ZipFile(tmp_path / f"{k}.zip") as archive:
            columns = {n: t["columns"] for n, t in json.loads(archive.read("manifest.json"))["tables"].items()}

            def rows(name, archive=archive, columns=columns):
                return [
                    dict(zip(columns[name], json.loads(line), strict=True)) for line in archive.open(f"{name}.jsonl")
                ]

            owners = {r["boat_id"] for r in rows("setups")}
            assert {r["id"] for r in rows("boats")} == owners
            assert {r["setup_id"] for r in rows("forecasts")} == {r["id"] for r in rows("setups")}


def test_a_backup_of_an_older_program_is_brought_to_today(full, fresh_store, server, tmp_path):
    made = boats.new_boat(fresh_store, "Old", samples.document())
    boat = boats.boats(fresh_store).items[0]
    downgrade(fresh_store.engine, "0003")
    write_backup(fresh_store.engine, tmp_path / "old.zip")
    migrate(fresh_store.engine)
    with fresh_store.transaction() as session:
        session.get_one(Boat, made.boat_id).name = "Changed since"
    restored = restore_backup(fresh_store.engine, tmp_path / "old.zip")
    assert restored.revision == "0003"
    assert boats.boats(fresh_store).items == [boat]
    assert boats.setup(fresh_store, made.id) == made


def spoil(path, how):
    data = path.read_bytes()
    if how == "cut":
        path.write_bytes(data[: len(data) // 2])
    elif how == "empty":
        path.write_bytes(b"")
    elif how == "other":
        path.write_bytes(b"%PDF-1.7 nothing")
    else:
        with zipfile.ZipFile(path) as archive:
            members = {name: archive.read(name) for name in archive.namelist()}
        manifest = json.loads(members["manifest.json"])
        if how == "row":
            members["boats.jsonl"] = members["boats.jsonl"].replace(b"M\\u00f6we", b"M\\u00f6ve")
        elif how == "gone":
            del members["runs.jsonl"]
        elif how == "newer":
            manifest |= {"revision": "9999", "program": "9.9"}
        elif how == "format":
            manifest["format"] = "something"
        elif how == "list":
            manifest = [1]
        members["manifest.json"] = json.dumps(manifest).encode()
        with zipfile.ZipFile(path, "w") as archive:
            for name, content_of in members.items():
                archive.writestr(name, content_of)


@pytest.mark.parametrize(
    ("how", "says"),
    [
        ("cut", "no backup"), ("empty", "no backup"), ("other", "no backup"), ("row", "the table boats is not what"),
        ("gone", "runs cannot be read"), ("newer", "newer Kunstflug (9.9)"),
        ("format", "no backup"), ("list", "no backup"),
    ],
)  # fmt: skip
def test_what_is_no_whole_backup_is_refused_and_nothing_touched(full, fresh_store, tmp_path, how, says):
    path = tmp_path / "b.zip"
    write_backup(full.engine, path)
    spoil(path, how)
    boats.new_boat(fresh_store, "Mine", samples.document())
    before = content(fresh_store)
    with pytest.raises(RestoreProblem) as refused:
        restore_backup(fresh_store.engine, path)
    assert says in str(refused.value)
    assert content(fresh_store) == before


def test_a_backup_that_cannot_be_written_leaves_no_half_file(full, tmp_path):
    with pytest.raises(OSError, match="No such file"):
        write_backup(full.engine, tmp_path / "none" / "a.zip")
    assert list(tmp_path.iterdir()) == []


def test_a_restore_that_is_broken_off_goes_on_at_the_next_start(full, fresh_store, tmp_path, monkeypatch):
    write_backup(full.engine, tmp_path / keeping.PENDING)
    real, left = keeping.restore_backup, [1]

    def dies(engine, path):
        if left.pop() if left else False:
            with engine.begin() as connection:  # as far as taking the old away
                connection.execute(text("SET SESSION foreign_key_checks = 0"))
                connection.execute(text("DROP TABLE boats"))
            raise KeyboardInterrupt
        return real(engine, path)

    monkeypatch.setattr(keeping, "restore_backup", dies)
    with pytest.raises(KeyboardInterrupt):
        keeping.go_on(fresh_store, tmp_path)
    assert (tmp_path / keeping.PENDING).exists()
    assert keeping.go_on(fresh_store, tmp_path) is not None
    assert not (tmp_path / keeping.PENDING).exists()
    assert content(fresh_store) == content(full)
    assert keeping.go_on(fresh_store, tmp_path) is None


def test_nothing_to_back_up_is_said(server, tmp_path):
    from kunstflug.store.database import Store

    empty = Store(server.url("kunstflug_test_empty"))
    with pytest.raises(RestoreProblem, match="no data yet"):
        write_backup(empty.engine, tmp_path / "a.zip")
    empty.close()
    server.drop("kunstflug_test_empty")


def test_setups_that_stand_below_later_ones_come_back_too(fresh_store, tmp_path):
    made = boats.new_boat(fresh_store, "Tree", samples.document())
    with fresh_store.transaction() as session:  # a parent with a higher number
        row = session.get_one(SetupRow, made.id)
        other = SetupRow(owner_id=row.owner_id, boat_id=row.boat_id, name="later", document=row.document)
        session.add(other)
        session.flush()
        row.parent_id = other.id
    before = content(fresh_store)
    write_backup(fresh_store.engine, tmp_path / "a.zip")
    restore_backup(fresh_store.engine, tmp_path / "a.zip")
    assert content(fresh_store) == before
