"""CSV files taken in as the racer says, remembered for the next; tracks of several; pictures without their place."""

import io
import json

import numpy as np
import pytest
from PIL import Image
from tests import samples
from tests.files import makers
from tests.files.test_mapped_csv import track_csv
from tests.files.test_readers import pond, two_tracks

from kunstflug.core.quantity.errors import FileTooLarge, InvalidDocument, InvalidValue, NotFound, UnreadableFile
from kunstflug.core.tracks.log import ControllerLog
from kunstflug.documents.columns import CsvMapping
from kunstflug.documents.setup import SetupDocument
from kunstflug.files.controller_csv import write_controller_csv
from kunstflug.files.reading import SeveralTracks
from kunstflug.files.track_file import read_track
from kunstflug.services.boats import boats
from kunstflug.services.run import csv_files, photo, run
from kunstflug.services.run import tracks as run_tracks


@pytest.fixture
def setup(fresh_store):
    return boats.new_boat(fresh_store, "Reader", samples.document()).id


def as_proposed(seen) -> CsvMapping:
    columns = [{"column": k, "role": c.role, "unit": c.unit} for k, c in enumerate(seen.columns) if c.role is not None]
    return CsvMapping.model_validate({"kind": seen.kind, "columns": columns})


def test_a_track_as_csv_says_its_unit_by_the_way_and_what_was_said_is_asked_about(fresh_store, setup):
    data = track_csv("Geschwindigkeit", 3.6)
    seen = csv_files.look_at(fresh_store, data)
    assert (seen.kind, seen.sure, seen.remembered) == ("track", True, False)
    assert len(seen.columns[1].plot) >= 60
    made = csv_files.import_csv(fresh_store, setup, data, "pond.csv", as_proposed(seen), accept_damage=False)
    assert made.summary is not None
    assert made.summary.distance_m > 100
    again = csv_files.look_at(fresh_store, track_csv("Geschwindigkeit", 1.0))
    assert (again.sure, again.remembered) == (False, True)  # this one is in m/s, the last was in km/h
    assert [o.unit for o in again.columns[3].options] == ["m/s", "km/h"]
    same = csv_files.import_csv(fresh_store, setup, data, "pond.csv", as_proposed(seen), accept_damage=False)
    assert same.id == made.id


def test_turns_of_the_field_are_those_of_the_setups_motor(fresh_store):
    """Its poles were asked for, though the sheet has them."""
    rows = "\n".join(f"{k / 10},{40_000 + 500 * (k % 40)},{15 - k / 100}" for k in range(80))
    data = f"Time (s),eRPM,Voltage (V)\n{rows}".encode()
    raw = samples.raw()
    raw["motor"]["poles"] = 6
    told = boats.new_boat(fresh_store, "Six poles", SetupDocument.model_validate(raw)).id
    assert not csv_files.look_at(fresh_store, data).sure
    assert not csv_files.look_at(fresh_store, data, boats.new_boat(fresh_store, "Unsaid", samples.document()).id).sure
    seen = csv_files.look_at(fresh_store, data, told)
    assert (seen.sure, seen.columns[1].unit) == (True, "field, 6 poles")
    with pytest.raises(NotFound):
        csv_files.look_at(fresh_store, data, told + 100)


def straight(factor: float) -> bytes:
    """A boat that goes east at 15 m/s, and a column of speeds in some unit."""
    lines = ["Zeit;Breite;Laenge;Geschwindigkeit"]
    for k in range(60):
        lines.append(f"2026-05-01 10:00:{k:02d};47.5;{8.5 + 15.0 * k / 75_200:.7f};{15.0 * factor:.2f}")
    return "\n".join(lines).encode()


def test_what_a_file_says_of_itself_beats_what_is_remembered(fresh_store, setup):
    """A second file of the same logger in m/s was read as km/h, and called sure."""
    first = straight(3.6)
    seen = csv_files.look_at(fresh_store, first)
    csv_files.import_csv(fresh_store, setup, first, "a.csv", as_proposed(seen), accept_damage=False)
    alike = csv_files.look_at(fresh_store, straight(3.6))
    assert (alike.sure, alike.remembered, alike.columns[3].unit) == (True, True, "km/h")
    other = csv_files.look_at(fresh_store, straight(1.0))
    assert (other.sure, other.remembered, other.columns[3].unit) == (False, True, "m/s")
    assert [c.sure for c in other.columns] == [True, True, True, False]


SPEEDS = {"m/s": 1.0, "km/h": 3.6, "kn": 1.943844, "mph": 2.236936, "cm/s": 100.0, "mm/s": 1000.0}


@pytest.mark.parametrize("told", SPEEDS)
@pytest.mark.parametrize("true", SPEEDS)
def test_a_speed_in_another_unit_than_its_heading_says_is_asked_about(fresh_store, told, true):
    data = straight(SPEEDS[true]).replace(b"Geschwindigkeit", f"Geschwindigkeit ({told})".encode())
    speed = csv_files.look_at(fresh_store, data).columns[3]
    assert (speed.unit, speed.sure) == (true, told == true)


def test_another_row_of_units_is_another_shape(fresh_store, setup):
    def log(unit: str) -> bytes:
        head = f"time,motor temp\ns,{unit}\n"
        return (head + "".join(f"{k},{50 + k % 7}\n" for k in range(60))).encode()

    kept = csv_files.look_at(fresh_store, log("degF"))
    made = run.import_track(fresh_store, setup, makers.gpx10(pond(240)), "a.gpx", accept_damage=False)
    csv_files.add_csv_log(fresh_store, made.id, log("degF"), as_proposed(kept), accept_damage=False)
    assert csv_files.look_at(fresh_store, log("degF")).remembered
    other = csv_files.look_at(fresh_store, log("degC"))
    assert not other.remembered
    assert other.columns[1].unit == "degC"


def test_a_controller_log_lies_on_its_track(fresh_store, setup):
    made = run.import_track(fresh_store, setup, makers.gpx10(pond(240)), "a.gpx", accept_damage=False)
    seconds = np.arange(0, 180, 0.2)
    speed = 12 + 3 * np.sin((seconds + 30) / 7)
    log = ControllerLog(time_s=seconds, columns={"rpm": speed * 1000, "current_a": speed * 3})
    data = write_controller_csv(log)
    seen = csv_files.look_at(fresh_store, data)
    assert (seen.kind, seen.sure) == ("log", True)  # our own headings leave nothing to ask
    put = csv_files.add_csv_log(fresh_store, made.id, data, as_proposed(seen), accept_damage=False)
    assert put.log is not None
    assert put.log.begins_s == pytest.approx(30.0, abs=0.5)
    assert put.log.match is not None
    assert put.log.match > 0.98
    assert len(put.log.passes) == len(put.summary.passes)
    with pytest.raises(InvalidValue):
        csv_files.add_csv_log(
            fresh_store, made.id, data, as_proposed(seen).model_copy(update={"kind": "track"}), accept_damage=False
        )


def test_a_chargers_log_is_written_down_on_the_run(fresh_store, setup):
    made = run.type_run(fresh_store, setup)
    data = b"Time;Charge mAh;Cell 1;Cell 2\n" + b"".join(b"%d;%d;3.71;3.69\n" % (k, 40 * k) for k in range(20))
    put = csv_files.add_charge(fresh_store, made.id, data, as_proposed(csv_files.look_at(fresh_store, data)))
    assert (put.typed.mah_back, put.typed.rest_v) == (760.0, [3.71, 3.69])


@pytest.mark.parametrize(
    ("columns", "words"),
    [
        ([{"column": 0, "role": "time", "unit": "km/h"}], "is not read in km/h"),
        ([{"column": k, "role": "rpm", "unit": "rpm"} for k in (0, 1)], "two columns are rpm"),
        ([], "at least 1"),
        ([{"column": -1, "role": "time", "unit": "s"}], "greater"),
    ],
)
def test_a_mapping_that_is_none_is_refused(columns, words):
    with pytest.raises(InvalidDocument) as refused:
        CsvMapping.of_text(json.dumps({"kind": "log", "columns": columns}))
    assert words in refused.value.fields[0].allowed


def test_of_several_tracks_each_is_a_run_of_its_own(fresh_store, setup):
    with pytest.raises(SeveralTracks):
        run.import_track(fresh_store, setup, two_tracks(), "two.gpx", accept_damage=False)
    one, other, again = (
        run.import_track(fresh_store, setup, two_tracks(), "two.gpx", accept_damage=False, choice=k) for k in (0, 1, 1)
    )
    assert one.id != other.id == again.id
    back = read_track(run_tracks.track_gpx(fresh_store, other.id)).samples
    assert (back.name, len(back)) == ("lake", 30)
    np.testing.assert_allclose(back.elevation_m, 98.5)


@pytest.mark.parametrize("write", [run_tracks.track_geojson, run_tracks.track_gpx])
def test_a_track_goes_out_in_other_forms_and_comes_back(fresh_store, setup, write):
    track = pond()
    made = run.import_track(fresh_store, setup, makers.gpx10(track), "a.gpx", accept_damage=False)
    back = read_track(write(fresh_store, made.id)).samples
    np.testing.assert_allclose(back.latitude_deg, track.latitude_deg, atol=1e-7)
    as_csv = run_tracks.track_csv(fresh_store, made.id)
    seen = csv_files.look_at(fresh_store, as_csv)
    assert (seen.kind, seen.sure) == ("track", True)


def camera_picture() -> bytes:
    picture = Image.new("RGB", (3000, 2000), (30, 90, 120))
    exif = Image.Exif()
    exif[0x0112] = 6  # turned
    exif[0x010F] = "somebody"
    exif.get_ifd(0x8825)[2] = (47.0, 12.0, 30.0)  # a place
    out = io.BytesIO()
    picture.save(out, "JPEG", exif=exif, comment=b"where I live")
    return out.getvalue()


def test_a_picture_is_scaled_turned_and_bare(fresh_store, setup):
    made = run.type_run(fresh_store, setup)
    assert not made.photo
    photo.put(fresh_store, made.id, camera_picture())
    assert run.run(fresh_store, made.id).photo
    jpeg = photo.get(fresh_store, made.id)
    with Image.open(io.BytesIO(jpeg)) as kept:
        assert kept.size == (1067, 1600)
        assert not kept.getexif()
        assert "comment" not in kept.info
    assert b"somebody" not in jpeg
    photo.put(fresh_store, made.id, camera_picture())
    photo.drop(fresh_store, made.id)
    with pytest.raises(NotFound):
        photo.get(fresh_store, made.id)


@pytest.mark.parametrize("data", [b"", b"\xff\xd8\xff" + bytes(90), b"<svg/>", camera_picture()[:2000]])
def test_what_is_no_picture_is_refused(fresh_store, setup, data):
    with pytest.raises(UnreadableFile):
        photo.put(fresh_store, run.type_run(fresh_store, setup).id, data)


def test_a_picture_of_endless_size_is_refused():
    with pytest.raises(FileTooLarge):
        photo.scaled(bytes(photo.MOST_BYTES + 1))
