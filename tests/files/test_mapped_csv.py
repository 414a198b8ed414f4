"""CSV of any dialect: what is found, what is proposed, and what is read with a mapping."""

import gzip

import numpy as np
import pytest
from tests.files.makers import iso, rows
from tests.files.test_readers import pond

from kunstflug.core.quantity.errors import UnreadableFile
from kunstflug.documents.columns import ColumnChoice, Role
from kunstflug.files.columns import proposals, unit_in
from kunstflug.files.dialect import dialect_of
from kunstflug.files.mapped_csv import _numbers, look, read_mapped_charge, read_mapped_log, read_mapped_track


def taken(seen) -> tuple[ColumnChoice, ...]:
    """The proposal as it stands."""
    return tuple(
        ColumnChoice(column=k, role=p.role, unit=p.unit) for k, p in enumerate(seen.proposals) if p.role is not None
    )


def told(seen) -> dict[str, str]:
    return {str(p.role): p.unit for p in seen.proposals if p.role is not None}


LOGS = {
    # Name, headings and three of the rows; what is proposed.
    "English, milliseconds and milliamps": (
        "Time (ms),Voltage [V],Current (mA),RPM,Throttle [%],ESC temp (°C),Motor temp (°C)\n",
        "{ms},15.{k:02d},{ma},30{k:03d},98,31.5,40.1\n",
        {"time": "ms", "voltage": "V", "current": "mA", "rpm": "rpm", "throttle": "%"},
    ),
    "German with decimal commas and a unit row": (
        "Zeit;Spannung;Strom;Drehzahl;Gas;Regler Temperatur\ns;V;A;1/min;%;°C\n",
        "{s:.1f};15,{k:02d};42,5;30000;98;31,5\n",
        {"time": "s", "voltage": "V", "current": "A", "rpm": "rpm", "throttle": "%", "controller temperature": "degC"},
    ),
    "French behind a preamble": (
        "Journal du regulateur\n\nmodele;X\nversion;1\nTemps (s);Tension (V);Courant (A);Regime\n",
        "{s:.1f};15,{k:02d};42,5;30000\n",
        {"time": "s", "voltage": "V", "current": "A", "rpm": "rpm"},
    ),
    "Spanish with tabs": (
        "Tiempo\tVoltaje\tCorriente\tRevoluciones\n",
        "{s:.1f}\t15.{k:02d}\t42.5\t30000\n",
        {"time": "s", "voltage": "V", "current": "A", "rpm": "rpm"},
    ),
    "units by their values alone": (
        "t,u,i,erpm,throttle\n",
        "{ms},15{k:02d}0,42500,30000,1950\n",
        {"time": "ms", "voltage": "mV", "current": "mA", "rpm": "rpm", "throttle": "us"},
    ),
    "a clock of the day": (
        "Time,Volt,Amps\n",
        "23:59:{s:04.1f},15.{k:02d},42.5\n",
        {"time": "clock", "voltage": "V", "current": "A"},
    ),
}


@pytest.mark.parametrize("kind", LOGS)
@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16", "cp1252"])
def test_a_controller_log_is_known_by_its_names_and_values(kind, encoding):
    head, row, proposed = LOGS[kind]
    if "French" in kind:
        head = head.replace("Regime", "Régime").replace("regulateur", "régulateur")
    body = "".join(row.format(k=k, s=20 + k / 10, ms=100 * k, ma=42_500) for k in range(40))
    if "German" in kind or "French" in kind:
        body = "".join(r.replace(".", ",", 1) for r in body.splitlines(keepends=True))
    data = (head + body).encode(encoding)
    seen = look(data)
    assert told(seen).items() >= proposed.items()
    read = read_mapped_log(data, taken(seen))
    assert read.damages == ()
    np.testing.assert_allclose(np.diff(read.log.time_s), 0.1, atol=1e-6)
    assert read.log.columns["voltage_v"][3] == pytest.approx(15.03)
    assert read.log.columns["current_a"][3] == pytest.approx(42.5)
    if "throttle" in proposed:
        assert read.log.columns["throttle_percent"][3] == pytest.approx(95 if "values" in kind else 98)


def track_csv(speed: str, factor: float, when=lambda w: iso(w)) -> bytes:
    lines = [f"Datum und Zeit;Breitengrad;Längengrad;{speed}"]
    lines += [
        f"{when(w)};{a:.7f};{o:.7f};{v * factor:.3f}".replace(".", ",")
        if "T" not in when(w)
        else f"{when(w)};" + f"{a:.7f};{o:.7f};{v * factor:.3f}".replace(".", ",")
        for w, a, o, v in rows(pond())
    ]
    return "\n".join(lines).encode()


@pytest.mark.parametrize(
    ("speed", "factor", "unit"),
    [("Geschwindigkeit", 3.6, "km/h"), ("Geschwindigkeit", 1.0, "m/s"), ("Speed (kn)", 3600 / 1852, "kn")],
)
def test_a_speed_without_a_unit_is_held_against_the_way(speed, factor, unit):
    data = track_csv(speed, factor)
    seen = look(data)
    assert told(seen) == {"time": "date and time", "latitude": "deg", "longitude": "deg", "speed": unit}
    found = read_mapped_track(data, taken(seen)).samples
    track = pond()
    np.testing.assert_allclose(found.receiver_speed_mps, track.receiver_speed_mps, atol=2e-3)
    np.testing.assert_allclose(found.latitude_deg, track.latitude_deg, atol=2e-7)
    assert found.start_unix_s == pytest.approx(track.start_unix_s)


def test_date_and_clock_in_two_columns_and_coordinates_as_whole_numbers():
    lines = ["date,time,lat,lon"]
    lines += [f"{w:%d.%m.%Y},{w:%H:%M:%S},{a * 1e7:.0f},{o * 1e7:.0f}" for w, a, o, _ in rows(pond())]
    data = gzip.compress("\r\n".join(lines).encode())
    seen = look(data)
    assert told(seen) == {"date": "date", "time": "clock", "latitude": "1e-7 deg", "longitude": "1e-7 deg"}
    found = read_mapped_track(data, taken(seen)).samples
    np.testing.assert_allclose(found.time_s, pond().time_s)  # over midnight
    assert found.start_unix_s == pytest.approx(pond().start_unix_s)


def test_a_chargers_log_gives_charge_and_cells_at_rest():
    head = "Time;Charge mAh;Cell 1;Cell 2\n"
    data = (head + "".join(f"{k};{40 * k};{3.71 + k / 100:.2f};{3.69 + k / 100:.2f}\n" for k in range(20))).encode()
    seen = look(data)
    assert [str(p.role) for p in seen.proposals] == ["time", "charge", "cell voltage", "cell voltage"]
    found = read_mapped_charge(data, taken(seen))
    assert (found.mah, found.rest_v) == (760.0, [3.71, 3.69])


def test_the_racer_may_say_otherwise():
    data = ("x,y,z\n" + "".join(f"{k},{k},{k * 2}\n" for k in range(20))).encode()
    assert told(look(data)) == {"time": "s"}
    mine = (ColumnChoice(column=0, role=Role.TIME, unit="ms"), ColumnChoice(column=2, role=Role.CURRENT, unit="mA"))
    read = read_mapped_log(data, mine)
    assert read.log.time_s[10] == pytest.approx(0.01)
    assert read.log.columns["current_a"][10] == pytest.approx(0.02)
    with pytest.raises(UnreadableFile, match="no column says the time"):
        read_mapped_log(data, mine[1:])
    with pytest.raises(UnreadableFile, match="no column 9"):
        read_mapped_log(data, (*mine, ColumnChoice(column=8, role=Role.RPM, unit="rpm")))


def test_rows_that_are_none_are_named_by_their_lines():
    lines = ["time_s,current_a"] + [f"{k},{10 + k}" for k in range(12)]
    lines[4], lines[6], lines[8] = "3", "2,12", "7,99999"
    data = "\n".join(lines).encode()
    read = read_mapped_log(data, taken(look(data)))
    assert [d.line for d in read.damages] == [5, 7, 9]
    assert len(read.log.time_s) == 9


def test_files_written_alike_have_one_shape():
    one, other = (track_csv("Speed (kn)", factor) for factor in (1.0, 2.0))
    assert look(one).shape == look(other).shape != look(track_csv("Tempo", 1.0)).shape


def test_a_dialect_is_found():
    found = dialect_of("a;b\n1,5;2\n2,5;3\n3,5;4\n4,5;5\n")
    assert (found.delimiter, found.decimal_comma, found.headings, found.first) == (";", True, 0, 1)
    bare = dialect_of("1.5,2\n2.5,3\n3.5,4\n4.5,5\n")
    assert (bare.delimiter, bare.decimal_comma, bare.headings, bare.first) == (",", False, None, 0)


@pytest.mark.parametrize(
    "data", [b"", b"hello world\n" * 20, b"\x00" * 200, b"a,b\nc,d\ne,f\n", b'"' * 500, b",,,\n" * 9]
)
def test_what_is_no_table_is_refused(data):
    with pytest.raises(UnreadableFile):
        look(data)


@pytest.mark.parametrize(
    ("heading", "unit"),
    [("Current (mA)", "mA"), ("U[V]", "V"), ("speed_kmh", "km/h"), ("Temp °C", "degC"), ("Strom", ""), ("ms", "ms")],
)
def test_units_in_headings(heading, unit):
    assert unit_in(heading) == unit


def roles_of(*headings: str) -> list[str | None]:
    numbers = [np.array([7.0, 8.0, 9.0, 10.0, 11.0])] * len(headings)
    cells = [["7", "8", "9", "10", "11"]] * len(headings)
    found = proposals(list(headings), [""] * len(headings), cells, numbers)
    return [None if one.role is None else str(one.role) for one in found]


@pytest.mark.parametrize(
    ("headings", "roles"),
    [
        # a unit of another dimension rules a role out: 16 V were read as 16 m/s
        (("Time (s)", "Vsense(V)"), ["time", "voltage"]),
        (("Lat (ms)", "Latitude", "Longitude"), [None, "latitude", "longitude"]),
        # what lies beside the one that is wanted comes after it
        (("BEC Voltage (V)", "Battery Voltage (V)"), [None, "voltage"]),
        (("Phase Current (A)", "Battery Current (A)"), [None, "current"]),
        (("Wheel Speed (km/h)", "GPS Speed (km/h)"), [None, "speed"]),
        (("Phase Current (A)", "RPM"), ["current", "rpm"]),  # the only one there is, and asked about
        # words that are written together, and words of another meaning
        (("Temps", "Vitesse (km/h)"), ["time", "speed"]),
        (("iTOW", "lat", "lon"), ["time", "latitude", "longitude"]),
        (("Reglertemperatur", "Motortemperatur"), ["controller temperature", "motor temperature"]),
        (("V", "A"), ["voltage", "current"]),
        (("GroundSpeed", "BatteryVoltage"), ["speed", "voltage"]),
    ],
)
def test_what_a_heading_can_and_cannot_be(headings, roles):
    assert roles_of(*headings) == roles


@pytest.mark.parametrize(("heading", "unit"), [("U [0.01V]", "cV"), ("Current [0.1A]", "dA"), ("Vbat (10mV)", "cV")])
def test_steps_are_units(heading, unit):
    (found,) = proposals([heading], [""], [["1"] * 5], [np.ones(5)])
    assert found.unit == unit


@pytest.mark.parametrize(
    ("cell", "comma", "number"),
    [
        ("28.799", True, 28799.0), ("28.799,5", True, 28799.5), ("28,799", False, 28799.0),
        ("1,234,567.5", False, 1234567.5),
        ("12.5", False, 12.5), ("12,5", True, 12.5), ("47.35N", False, 47.35), ("8.5 W", False, -8.5),
        ("47,35 S", True, -47.35),
        ("-3.25", False, -3.25),
    ],
)  # fmt: skip
def test_a_cell_is_the_number_that_is_meant(cell, comma, number):
    """28.799 rpm were 28.8, and the letter of the compass was ignored."""
    assert _numbers([cell], comma)[0] == pytest.approx(number)


def test_a_column_beside_says_the_side_of_the_globe():
    lines = ["time,latitude,N/S,longitude,E/W"]
    for k in range(30):
        lines.append(f"{k},33.{500000 + 20 * k},S,70.{600000 + 15 * k},W")
    columns = {0: (Role.TIME, "s"), 1: (Role.LATITUDE, "deg"), 3: (Role.LONGITUDE, "deg")}
    choices = [ColumnChoice(column=k, role=role, unit=unit) for k, (role, unit) in columns.items()]
    found = read_mapped_track("\n".join(lines).encode(), choices).samples
    assert found.latitude_deg[0] == pytest.approx(-33.5)
    assert found.longitude_deg[0] == pytest.approx(-70.6)
