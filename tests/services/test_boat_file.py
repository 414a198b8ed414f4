"""One boat in one file, and everything in one package: round trips without loss, twice without doubles."""

import csv
import io
import json
import zipfile

import numpy as np
import pytest
from sqlalchemy import event, text
from tests import samples
from tests.files import makers
from tests.files.test_readers import pond
from tests.samples import q
from tests.services.test_csv_files import camera_picture

from kunstflug.core.quantity.errors import InvalidDocument, NotFound, UnreadableFile
from kunstflug.core.tracks.log import ControllerLog
from kunstflug.documents.boat import BoatDocument, parsed_boat, setup_in
from kunstflug.documents.run import TypedRun
from kunstflug.files.controller_csv import write_controller_csv
from kunstflug.files.exact_csv import read_exact_log, write_exact_log
from kunstflug.pond import Weather
from kunstflug.services.boats import boat_file, boats
from kunstflug.services.compare import compare
from kunstflug.services.data import package
from kunstflug.services.logbook import logbook
from kunstflug.services.match.match import draft
from kunstflug.services.run import photo, run, simulated
from kunstflug.services.shared.changes import Change
from kunstflug.services.shelf import shelf
from kunstflug.store.acting import BOUND
from kunstflug.store.blocks import log_of, track_of
from kunstflug.store.tables import Base, RunRow


@pytest.fixture(scope="module")
def made(store):
    """A boat with two setups, a simulated, a read and a typed run, a picture, an event."""
    first = boats.new_boat(store, "Reader", samples.document())
    changed = draft(first.document, [Change(path="motor.kv", value=q(2050, "rpm/V"))], None).document
    second = boats.adopt(store, first.id, changed, "less KV", {})
    simulated.simulate(store, second.id, 3, 2, Weather(water_c=14.0))
    read = run.import_track(store, first.id, makers.gpx10(pond(120)), "pond.gpx", accept_damage=False)
    log = ControllerLog(time_s=np.arange(100) / 3, columns={"rpm": np.arange(100) * 211.7, "current_a": np.ones(100)})
    run.add_log(store, read.id, write_controller_csv(log), accept_damage=False)
    typed = run.type_run(store, second.id)
    photo.put(store, typed.id, camera_picture())
    words = TypedRun.model_validate({"damage": ["propeller nicked"], "rest_v": [3.8, 3.79], "mah_back": 1850})
    readings = [("pack", q(31, "degC"), 2.0)]
    run.set_notes(store, typed.id, {"water": q(15, "degC")}, "evening", ["hops"], readings, typed.tag, words)
    part = shelf.shelf(store, "motor")[0]
    shelf.add_event(store, part.id, "damage", "a bearing")
    return store.engine.url.database, first.boat_id


@pytest.fixture
def filled(made, fresh_store):
    """The same in a database of its own, row by row."""
    source, boat_id = made
    with fresh_store.transaction() as session:
        session.execute(text("SET FOREIGN_KEY_CHECKS = 0"))
        for table in Base.metadata.sorted_tables:
            session.execute(text(f"INSERT INTO `{table.name}` SELECT * FROM `{source}`.`{table.name}`"))
        session.execute(text("SET FOREIGN_KEY_CHECKS = 1"))
    return fresh_store, boat_id


def emptied(store):
    """The same tables without a row of a racer's."""
    with store.transaction() as session:
        session.execute(text("SET FOREIGN_KEY_CHECKS = 0"))
        for table in Base.metadata.sorted_tables:
            if table.name not in ("racers", "alembic_version"):
                session.execute(table.delete())
        session.execute(text("SET FOREIGN_KEY_CHECKS = 1"))
    return store


def blocks(store):
    """Tracks and logs by run, as they are kept."""
    with store.transaction() as session:
        rows = session.query(RunRow).order_by(RunRow.uid).all()
        return {
            row.uid: (
                track_of(row.track.block) if row.track else None,
                log_of(row.log.block) if row.log else None,
            )
            for row in rows
        }


def same_blocks(one, other):
    assert one.keys() == other.keys()
    for key, (track, log) in one.items():
        back, log_back = other[key]
        assert (track is None) == (back is None)
        if track is not None:
            for name in ("latitude_deg", "longitude_deg", "receiver_speed_mps", "elevation_m"):
                np.testing.assert_array_equal(getattr(back, name), getattr(track, name))
            np.testing.assert_allclose(back.time_s, track.time_s, atol=1e-6)
        assert (log is None) == (log_back is None)
        if log is not None:
            np.testing.assert_array_equal(log_back.time_s, log.time_s)
            for name, column in log.columns.items():
                np.testing.assert_array_equal(log_back.columns[name], column)


def as_json(document: BoatDocument) -> str:
    return document.model_dump_json(exclude={"runs": {"__all__": {"track", "picture"}}})


def test_a_boat_goes_out_and_comes_back_as_it_was(filled):
    store, boat_id = filled
    document = boat_file.export_boat(store, boat_id)
    before, trail = blocks(store), compare.trail(store, boat_id)
    again = parsed_boat(json.loads(document.model_dump_json(exclude_defaults=True)))
    made = boat_file.import_boat(emptied(store), again)
    assert (made.setups, made.runs) == (2, 3)
    assert made.parts > 3
    back = boat_file.export_boat(store, made.boat_id)
    assert as_json(back) == as_json(document)
    same_blocks(before, blocks(store))
    names = [(s.name, [r.measured for r in s.runs]) for s in compare.trail(store, made.boat_id).setups]
    assert names == [(s.name, [r.measured for r in s.runs]) for s in trail.setups]
    assert logbook.open_damage(store, made.boat_id) == ["propeller nicked"]
    assert photo.get(store, next(r.id for r in run.runs(store, made.boat_id).items if r.source == "typed in"))


def test_twice_adds_nothing_and_a_newer_file_only_what_is_new(filled):
    store, boat_id = filled
    document = boat_file.export_boat(store, boat_id)
    made = boat_file.import_boat(store, document)
    assert (made.boat_id, made.setups, made.runs, made.parts, made.tub_tests) == (boat_id, 0, 0, 0, 0)
    older = document.model_copy(update={"runs": document.runs[:1], "setups": document.setups[:]})
    emptied(store)
    assert boat_file.import_boat(store, older).runs == 1
    made = boat_file.import_boat(store, document)
    assert (made.setups, made.runs) == (0, 2)


def test_without_tracks_the_figures_stay(filled):
    store, boat_id = filled
    document = boat_file.export_boat(store, boat_id, tracks=False)
    assert all(r.track is None and r.log is None and r.picture is None for r in document.runs)
    assert [r.figures is not None for r in document.runs] == [True, True, False]
    best = [r.best_mps for r in run.runs(store, boat_id).items]
    made = boat_file.import_boat(emptied(store), document)
    assert [r.best_mps for r in run.runs(store, made.boat_id).items] == best


@pytest.mark.parametrize(
    ("change", "field"),
    [
        (lambda d: d["setups"][1].update(parent="nobody"), "setups.2.parent"),
        (lambda d: d["runs"][0].update(setup="nobody"), "runs.1.setup"),
        (lambda d: d["setups"][0]["parts"].update(motor="nobody"), "setups.1.parts"),
        (lambda d: d["setups"][1].update(key=d["setups"][0]["key"]), "setups.2.key"),
        (lambda d: d["setups"][0]["document"]["motor"].update(kv=5), "motor.kv"),
        (lambda d: d.update(kind="a boat"), "kind"),
        (lambda d: d.update(version=2), "version"),
        (lambda d: d["runs"][0].update(key="../../etc"), "key"),
    ],
)
def test_a_document_that_is_none_is_refused_and_nothing_is_taken(filled, change, field):
    store, boat_id = filled
    raw = json.loads(boat_file.export_boat(store, boat_id, tracks=False).model_dump_json())
    change(raw)
    emptied(store)
    with pytest.raises(InvalidDocument) as refused:
        boat_file.import_boat(store, parsed_boat(raw))
    assert field in refused.value.fields[0].field
    assert boats.boats(store).items == []


def test_a_forecast_needs_only_the_file(filled):
    store, boat_id = filled
    document = boat_file.export_boat(store, boat_id, tracks=False)
    assert setup_in(document, "")["motor"]["kv"]["value"] == 2050
    assert setup_in(document, document.setups[0].name)["motor"]["kv"]["value"] != 2050
    with pytest.raises(InvalidDocument):
        setup_in(document, "another")
    assert boat_file.find_boat(store, "Reader") == boat_id
    with pytest.raises(NotFound):
        boat_file.find_boat(store, "Nobody")


def test_everything_goes_out_as_an_open_package_and_comes_back(filled, tmp_path):
    store, boat_id = filled
    boats.new_boat(store, "Other", samples.document())
    path, heard = tmp_path / "all.zip", []
    made = package.export_all(store, path, lambda *told: heard.append(told))
    assert (made.boats, made.setups, made.runs) == (2, 3, 3)
    assert heard == [("Reader", 1, 2), ("Other", 2, 2)]
    before, document = blocks(store), boat_file.export_boat(store, boat_id)
    shelf_before = [(p.kind, p.name, p.state, len(p.events)) for p in shelf.shelf(store)]
    assert package.import_all(store, path) == package.PackageCounts(boats=0, setups=0, runs=0, parts=0)
    emptied(store)
    taken = package.import_all(store, path)
    assert (taken.boats, taken.setups, taken.runs) == (2, 3, 3)
    same_blocks(before, blocks(store))
    assert as_json(boat_file.export_boat(store, boat_file.find_boat(store, "Reader"))) == as_json(document)
    assert sorted((p.kind, p.name, p.state, len(p.events)) for p in shelf.shelf(store)) == sorted(shelf_before)


def test_the_tables_of_a_package_are_what_its_schema_says(filled, tmp_path):
    store, _ = filled
    path = tmp_path / "all.zip"
    package.export_all(store, path)
    with zipfile.ZipFile(path) as archive:
        manifest = json.loads(archive.read("datapackage.json"))
        names = set(archive.namelist())
        for resource in manifest["resources"]:
            assert resource["path"] in names
            if "schema" not in resource:
                continue
            rows = list(csv.DictReader(io.StringIO(archive.read(resource["path"]).decode(), newline="")))
            fields = resource["schema"]["fields"]
            assert list(rows[0]) == [f["name"] for f in fields]
            for row in rows:
                for f in fields:
                    if f["type"] in ("number", "integer") and row[f["name"]]:
                        float(row[f["name"]])
        runs = list(csv.DictReader(io.StringIO(archive.read("runs.csv").decode(), newline="")))
        assert {r["track"] for r in runs if r["track"]} <= names
        assert len([r for r in runs if r["picture"]]) == 1


@pytest.mark.parametrize(
    "content",
    [b"", b"PK\x03\x04" + bytes(60), makers.zipped(("a.txt", b"x")), makers.zipped(("datapackage.json", b"{")),
     makers.zipped(("datapackage.json", b'{"kunstflug": {"version": 9}}'))],
)  # fmt: skip
def test_what_is_no_package_is_refused(fresh_store, tmp_path, content):
    path = tmp_path / "bad.zip"
    path.write_bytes(content)
    with pytest.raises(UnreadableFile):
        package.import_all(fresh_store, path)


@pytest.mark.parametrize(
    "data", [b"", b"time_s\n1\n2", b"time_s,rpm\n1,2\n1,2\n2,2\n3,2\n4,2\n", b"time_s,x\n" + b"1,2\n" * 9]
)
def test_an_exported_log_that_is_none_is_refused(data):
    with pytest.raises(UnreadableFile):
        read_exact_log(data)
    good = ControllerLog(time_s=np.arange(6) / 7, columns={"rpm": np.array([1, 2, 3, np.nan, 5, 1 / 3])})
    np.testing.assert_array_equal(read_exact_log(write_exact_log(good)).columns["rpm"], good.columns["rpm"])


class Killed(BaseException):
    """As good as a kill: nothing on the way catches it."""


def test_taking_in_that_was_killed_leaves_nothing_and_is_whole_the_second_time(filled):
    """Killed before any statement, a boat's file is in whole or not at all."""
    store, boat_id = filled
    document = boat_file.export_boat(store, boat_id)
    with store.transaction() as session:
        session.execute(text("SET FOREIGN_KEY_CHECKS = 0"), execution_options=BOUND)
        for table in reversed(Base.metadata.sorted_tables):
            if "owner_id" in table.columns:
                session.execute(text(f"DELETE FROM `{table.name}`"), execution_options=BOUND)
        session.execute(text("SET FOREIGN_KEY_CHECKS = 1"), execution_options=BOUND)
    left, came_far = 0, False

    def dies(*words):
        nonlocal left
        left -= 1
        if left < 0:
            raise Killed

    count = 3
    while not came_far:
        left = count
        event.listen(store.engine, "before_cursor_execute", dies)
        try:
            boat_file.import_boat(store, document)
            came_far = True
        except Killed:
            pass
        finally:
            event.remove(store.engine, "before_cursor_execute", dies)
        if not came_far:
            assert boats.boats(store).items == []
            assert shelf.shelf(store) == []
        count += 4
    assert count > 15
    again = boat_file.export_boat(store, boats.boats(store).items[0].id)
    assert again.model_dump_json() == document.model_dump_json()


def test_cells_of_the_export_are_no_formulas(fresh_store, tmp_path):
    """A boat or a note that begins as one was run by the spreadsheet that opened the export."""
    setup = boats.new_boat(fresh_store, "=1+1", samples.document())
    made = run.type_run(fresh_store, setup.id)
    run.set_notes(fresh_store, made.id, {}, "@SUM(A1)", [], [], made.tag, TypedRun())
    package.export_all(fresh_store, tmp_path / "all.zip")
    with zipfile.ZipFile(tmp_path / "all.zip") as archive:
        (boat,) = csv.DictReader(io.StringIO(archive.read("boats.csv").decode()))
        (driven,) = csv.DictReader(io.StringIO(archive.read("runs.csv").decode()))
    assert boat["name"] == "'=1+1"
    assert driven["note"] == "'@SUM(A1)"
    package.import_all(fresh_store, tmp_path / "all.zip")
    assert [one.name for one in boats.boats(fresh_store).items] == ["=1+1"]
