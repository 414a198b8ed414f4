"""Files of eight kinds of devices in eleven languages, of many dialects and units, seeded; each with its truth."""

import csv
import datetime as dt
import io
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Final

import numpy as np

from kunstflug.documents.columns import Role
from tests.strangers.words import BESIDE, OPEN, SEALED

DEVICES: Final = ("phone", "receiver", "sentences", "controller", "radio", "charger", "meter", "boat")
START: Final = dt.datetime(2026, 5, 17, 14, 3, 20, tzinfo=dt.UTC)
DEG_M: Final = 111_195.0
FEET: Final = 0.3048


@dataclass(kw_only=True)
class Stranger:
    """A file and what is really in it.

    Parameters
    ----------
    truth : of each role, the columns and the unit they are in; two units where nobody can say which.
    values : in the core's units, shape (n,); of cells a list of them.
    """

    name: str
    device: str
    data: bytes
    kind: str
    truth: dict[Role, tuple[list[int], str]]
    values: dict[Role, list[np.ndarray]]
    both: dict[Role, np.ndarray] = field(default_factory=dict)


class _Drive:
    """Some minutes of a boat on a straight, there and back, with all that its devices could write."""

    def __init__(self, rng: np.random.Generator, rate_hz: float, seconds: float) -> None:
        n = int(rate_hz * seconds)
        self.t = np.arange(n) / rate_hz + rng.uniform(0, 1e-9)
        top = rng.uniform(12, 34)
        phase = (self.t % 24) / 24
        self.throttle = np.clip(
            np.where(phase < 0.4, phase / 0.1, np.where(phase < 0.5, (0.5 - phase) / 0.1, 0.25)), 0.1, 1.0
        )
        lag = np.zeros(n)
        for k in range(1, n):
            lag[k] = lag[k - 1] + (self.throttle[k] * top - lag[k - 1]) * min(1.0, 0.6 / rate_hz)
        self.speed = np.maximum(lag + rng.normal(0, 0.05, n), 0.0)
        course = np.where((self.t // 24) % 2 == 0, 0.7, 0.7 + np.pi) + 0.02 * np.sin(self.t / 5)
        east = np.cumsum(self.speed * np.sin(course)) / rate_hz
        north = np.cumsum(self.speed * np.cos(course)) / rate_hz
        lat0, lon0 = rng.choice([47.31, -33.52, 51.02, 40.11]), rng.choice([8.44, -70.61, -1.52, 13.9])
        self.latitude = lat0 + north / DEG_M
        self.longitude = lon0 + east / (DEG_M * np.cos(np.radians(lat0)))
        self.elevation = rng.uniform(5, 600) + rng.normal(0, 0.3, n)
        cells = int(rng.integers(2, 13))
        self.current = 90 * self.throttle**3 * rng.uniform(0.6, 2.0) + 1.0 + np.abs(rng.normal(0, 0.6, n))
        self.charge = 100 + np.cumsum(self.current) / rate_hz / 3.6
        self.voltage = cells * (4.05 - 0.45 * self.charge / 6000) - 0.012 * self.current * cells / 4
        self.rpm = np.maximum(
            26000 * self.throttle * rng.uniform(0.7, 1.3) * (1 - 0.0008 * self.current) + rng.normal(0, 40, n), 0
        )
        self.controller = 24 + 30 * (1 - np.exp(-self.t / 90)) + rng.normal(0, 0.2, n)
        self.motor = 22 + 45 * (1 - np.exp(-self.t / 120)) + rng.normal(0, 0.2, n)
        self.cells, self.rng = cells, rng


def _word(rng: np.random.Generator, language: str, role: Role, sealed: bool) -> str:
    words = OPEN[language].get(role, OPEN["en"][role])
    kept = SEALED[language].get(role, ()) if sealed else ()
    return str(rng.choice(kept if kept else words))


@dataclass(kw_only=True)
class _Column:
    role: Role | None
    heading: str
    unit: str
    cells: list[str]
    values: np.ndarray | None = None
    values_unit: str = ""
    said: bool = False


UNITS_WRITTEN: Final = {
    "m/s": "m/s", "km/h": "km/h", "kn": "kn", "mph": "mph", "cm/s": "cm/s", "mm/s": "mm/s", "V": "V", "mV": "mV",
    "cV": "0.01V", "dV": "0.1V", "A": "A", "mA": "mA", "dA": "0.1A", "rpm": "rpm", "%": "%", "degC": "°C", "degF": "°F",
    "mAh": "mAh", "Ah": "Ah", "s": "s", "ms": "ms", "us": "us", "min": "min", "m": "m", "ft": "ft",
}  # fmt: skip
FACTOR: Final = {
    "m/s": 1.0, "km/h": 3.6, "kn": 3600 / 1852, "mph": 1 / 0.44704, "cm/s": 100.0, "mm/s": 1000.0, "V": 1.0, "mV": 1e3,
    "cV": 100.0, "dV": 10.0, "A": 1.0, "mA": 1e3, "dA": 10.0, "rpm": 1.0, "%": 1.0, "mAh": 1.0, "Ah": 1e-3, "s": 1.0,
    "ms": 1e3, "us": 1e6, "min": 1 / 60, "m": 1.0, "ft": 1 / FEET, "deg": 1.0, "1e-7 deg": 1e7,
}  # fmt: skip
DECIMALS: Final = {
    "m/s": 2, "km/h": 2, "kn": 2, "mph": 2, "cm/s": 0, "mm/s": 0, "V": 2, "mV": 0, "cV": 0, "dV": 0, "A": 2, "mA": 0,
    "dA": 0, "rpm": 0, "%": 1, "mAh": 0, "Ah": 4, "s": 2, "ms": 0, "us": 0, "min": 5, "m": 1, "ft": 1, "deg": 7,
    "1e-7 deg": 0, "degC": 1, "degF": 1,
}  # fmt: skip


def _in_unit(values: np.ndarray, unit: str) -> np.ndarray:
    return values * 1.8 + 32 if unit == "degF" else values if unit == "degC" else values * FACTOR[unit]


class _Writer:
    """Puts columns together in one dialect."""

    def __init__(self, rng: np.random.Generator, language: str, *, sealed: bool) -> None:
        self.rng, self.language, self.sealed = rng, language, sealed
        self.delimiter = str(rng.choice([",", ";", "\t"]))
        comma = language != "en" and rng.random() < 0.6
        self.quoted_comma = comma and self.delimiter == "," and rng.random() < 0.5
        self.comma = comma and (self.delimiter != "," or self.quoted_comma)
        self.units_in = str(rng.choice(["heading", "row", "none"], p=[0.6, 0.2, 0.2]))
        self.thousands = rng.random() < 0.05 and self.delimiter != ","
        self.columns: list[_Column] = []
        self.both: dict[Role, np.ndarray] = {}

    def number(self, value: float, decimals: int) -> str:
        text = f"{value:.{decimals}f}"
        if self.thousands and decimals == 0 and abs(value) >= 1000:
            text = f"{value:,.0f}".replace(",", "." if self.comma else ",")
        elif self.comma:
            text = text.replace(".", ",")
        return text

    def add(self, role: Role, values: np.ndarray, unit: str, *, told: bool | None = None, k: int | None = None) -> None:
        """A column of numbers in a unit, which the file tells where ``told``."""
        word = _word(self.rng, self.language, role, self.sealed).format(k)
        said = bool(told)
        told = self.units_in != "none" if told is None else told
        shown = UNITS_WRITTEN.get(unit, "") if told else ""
        scaled = _in_unit(values, unit)
        cells = [self.number(v, DECIMALS[unit]) for v in scaled]
        written = np.array([float(f"{v:.{DECIMALS[unit]}f}") for v in scaled])
        back = (written - 32) / 1.8 if unit == "degF" else written if unit == "degC" else written / FACTOR[unit]
        self.columns.append(_Column(role=role, heading=word, unit=shown, cells=cells, values=back))
        self.columns[-1].said = said and self.units_in == "none"
        self.columns[-1].values_unit = unit

    def text(self, role: Role, cells: list[str], unit: str, values: np.ndarray, heading: str = "") -> None:
        """A column of words as they stand."""
        word = heading or _word(self.rng, self.language, role, self.sealed)
        self.columns.append(_Column(role=role, heading=word, unit="", cells=cells, values=values))
        self.columns[-1].values_unit = unit

    def beside(self, group: str, n: int) -> None:
        """A column that is none of the roles."""
        heading = str(self.rng.choice(BESIDE[group]))
        low, high, decimals = {
            "Satellites": (6, 14, 0), "HDOP": (0.7, 1.6, 2), "Course": (0, 360, 1), "Fix": (3, 3, 0),
            "Heading (deg)": (0, 360, 1), "hAcc": (1, 3, 1), "BEC Voltage": (5.9, 6.1, 2), "Phase Current": (0, 150, 1),
            "Power (W)": (0, 2500, 0), "Event": (0, 0, 0), "Timing": (12, 12, 0), "Ripple (V)": (0, 0.9, 2),
            "Resistance (mOhm)": (2, 4, 1), "State": (1, 1, 0), "Internal temp": (25, 35, 0), "RSSI": (70, 99, 0),
            "Rx voltage": (5.1, 5.3, 1), "Link quality": (90, 100, 0), "Vertical speed": (-1, 1, 1), "LQ(%)": (90,
            100, 0),
        }[heading]  # fmt: skip
        values = self.rng.uniform(low, high, n)
        self.columns.append(
            _Column(role=None, heading=heading, unit="", cells=[self.number(v, decimals) for v in values])
        )

    def file(self, device: str, kind: str, name: str, fault: str) -> Stranger:
        """The file, with a fault in it."""
        rng, n = self.rng, len(self.columns[0].cells)
        if device not in ("sentences",) and rng.random() < 0.35:
            first = self.columns[0]
            rest = self.columns[1:]
            rng.shuffle(rest)
            self.columns = [first, *rest] if rng.random() < 0.7 else [*rest, first]
        style = str(rng.choice([" ({})", " [{}]", "_{}", "({})"]))
        clean = style == "_{}"
        heads = []
        for c in self.columns:
            heading = c.heading.replace(" ", "_").lower() if clean and c.role is not None else c.heading
            heads.append(
                heading + style.format(c.unit) if c.unit and (self.units_in == "heading" or c.said) else heading
            )
        rows = [[c.cells[k] for c in self.columns] for k in range(n)]
        keep = np.ones(n, dtype=bool)
        if fault == "repeated heading":
            for at in sorted(rng.integers(20, n - 20, 2).tolist(), reverse=True):
                rows.insert(at, heads)
        if fault == "cut row":
            rows[-1] = rows[-1][:1]
            keep[-1] = False
        if fault == "empty line":
            rows.insert(n // 2, [])
        out = io.StringIO()
        writer = csv.writer(
            out,
            delimiter=self.delimiter,
            lineterminator=str(rng.choice(["\n", "\r\n"])),
            quoting=csv.QUOTE_ALL if rng.random() < 0.1 else csv.QUOTE_MINIMAL,
        )
        if rng.random() < 0.15:
            out.write(f"Log file {rng.integers(1, 99)}\nBoat: number 7\n\n")
        writer.writerow(heads)
        if self.units_in == "row":
            writer.writerow([c.unit or "-" for c in self.columns])
        writer.writerows(rows)
        encoding = str(rng.choice(["utf-8", "utf-8-sig", "cp1252", "utf-16"], p=[0.6, 0.15, 0.15, 0.1]))
        try:
            data = out.getvalue().encode(encoding)
        except UnicodeEncodeError:
            data = out.getvalue().encode("utf-8")
        truth: dict[Role, tuple[list[int], str]] = {}
        values: dict[Role, list[np.ndarray]] = {}
        for k, c in enumerate(self.columns):
            if c.role is None:
                continue
            truth.setdefault(c.role, ([], c.values_unit))[0].append(k)
            values.setdefault(c.role, []).append(c.values[keep])
        both = {role: angle[keep] for role, angle in self.both.items()}
        return Stranger(name=name, device=device, data=data, kind=kind, truth=truth, values=values, both=both)


def _clock(w: _Writer, d: _Drive, *, dated: bool) -> None:
    """The time of a file, in one of the ways that devices have."""
    rng = w.rng
    unix = START.timestamp() + d.t
    stamps = [START + dt.timedelta(seconds=float(t)) for t in d.t]
    point = "," if w.comma else "."

    def fine(stamp: dt.datetime) -> str:
        return f"{stamp:%H:%M:%S}{point}{stamp.microsecond // 1000:03d}"

    ways = ["iso", "unix s", "unix ms", "two", "dotted", "us"] if dated else ["s", "ms", "clock", "us", "min"]
    way = str(rng.choice(ways))
    if way == "iso":
        zone = str(rng.choice(["Z", "+00:00", ""]))
        w.text(
            Role.TIME,
            [f"{s:%Y-%m-%dT%H:%M:%S}.{s.microsecond // 1000:03d}{zone}" for s in stamps],
            "date and time",
            unix,
        )
    elif way in ("unix s", "unix ms"):
        factor, decimals = (1.0, 3) if way == "unix s" else (1e3, 0)
        w.text(Role.TIME, [f"{u * factor:.{decimals}f}".replace(".", point) for u in unix], way, unix)
    elif way == "two":
        dates = str(rng.choice(["%Y-%m-%d", "%d.%m.%Y", "%d/%m/%Y", "%m/%d/%Y"]))
        w.text(
            Role.DATE, [s.strftime(dates) for s in stamps], "date, month first" if dates == "%m/%d/%Y" else "date", unix
        )
        w.text(Role.TIME, [fine(s) for s in stamps], "clock", unix)
    elif way == "dotted":
        w.text(Role.TIME, [f"{s:%d.%m.%Y} {fine(s)}" for s in stamps], "date and time", unix)
    elif way == "us" and dated:
        w.text(
            Role.TIME,
            [f"{s:%m/%d/%Y %I:%M:%S}.{s.microsecond // 1000:03d} {s:%p}" for s in stamps],
            "date and time, month first",
            unix,
        )
    elif way == "clock":
        w.text(Role.TIME, [fine(s) for s in stamps], "clock", d.t)
    else:
        w.add(Role.TIME, d.t, way, told=True if way == "min" else None)


def _place(w: _Writer, d: _Drive) -> None:
    """Latitude and longitude in one of the ways that devices have."""
    way = str(w.rng.choice(["deg", "1e-7 deg", "letter", "one cell", "dms", "deg"]))
    pairs = ((Role.LATITUDE, d.latitude, "NS"), (Role.LONGITUDE, d.longitude, "EW"))
    if way in ("deg", "1e-7 deg"):
        for role, values, _ in pairs:
            cells = [w.number(v * FACTOR[way], DECIMALS[way]) if way == "deg" else f"{v * 1e7:.0f}" for v in values]
            w.text(role, cells, way, values)
    elif way == "letter":
        for role, values, sides in pairs:
            w.text(role, [w.number(abs(v), 7) + sides[int(v < 0)] for v in values], "deg", values)
    elif way == "dms":
        for role, values, sides in pairs:
            cells = []
            for v in values:
                a = abs(v)
                minutes = (a % 1) * 60
                cells.append(f"{int(a)}°{int(minutes):02d}'{w.number((minutes % 1) * 60, 3)}\"{sides[int(v < 0)]}")
            w.text(role, cells, "deg", values)
    else:
        w.both = {Role.LATITUDE: d.latitude, Role.LONGITUDE: d.longitude}
        cells = [f"{a:.7f} {o:.7f}" for a, o in zip(d.latitude, d.longitude, strict=True)]
        w.columns.append(
            _Column(
                role=Role.PLACE,
                heading=str(w.rng.choice(["GPS", "Position", "Coordinates"])),
                unit="",
                cells=cells,
                values=d.latitude,
            )
        )
        w.columns[-1].values_unit = "lat lon"


def _track(rng: np.random.Generator, w: _Writer, d: _Drive) -> None:
    _clock(w, d, dated=True)
    _place(w, d)
    if rng.random() < 0.85:
        w.add(Role.SPEED, d.speed, str(rng.choice(["m/s", "km/h", "kn", "mph", "cm/s"])))
    if rng.random() < 0.5:
        w.add(Role.ELEVATION, d.elevation, str(rng.choice(["m", "ft"])), told=True)
    for _ in range(int(rng.integers(0, 3))):
        w.beside("track", len(d.t))


def _log(rng: np.random.Generator, w: _Writer, d: _Drive) -> None:
    w.add(Role.VOLTAGE, d.voltage, str(rng.choice(["V", "V", "mV", "cV", "dV"])))
    w.add(Role.CURRENT, d.current, str(rng.choice(["A", "A", "mA", "dA"])))
    draw = rng.random()
    if draw < 0.7:
        w.add(Role.RPM, d.rpm, "rpm")
    elif draw < 0.8:  # turns of the field of a motor of so many poles, which no file says
        poles = int(rng.choice([4, 6, 8, 10]))
        field = np.round(d.rpm * poles / 2)
        w.text(Role.RPM, [w.number(v, 0) for v in field], f"field, {poles} poles", field * 2 / poles, heading="eRPM")
    if rng.random() < 0.7:
        w.add(Role.THROTTLE, 100 * d.throttle, "%")
    if rng.random() < 0.7:
        w.add(Role.CONTROLLER_TEMPERATURE, d.controller, str(rng.choice(["degC", "degC", "degF"])))
    if rng.random() < 0.5:
        w.add(Role.MOTOR_TEMPERATURE, d.motor, str(rng.choice(["degC", "degC", "degF"])))


def _phone(rng: np.random.Generator, w: _Writer) -> str:
    _track(rng, w, _Drive(rng, float(rng.choice([1.0, 5.0])), 150))
    return "track"


def _receiver(rng: np.random.Generator, w: _Writer) -> str:
    _track(rng, w, _Drive(rng, float(rng.choice([5.0, 10.0])), 120))
    return "track"


def _sentences(rng: np.random.Generator, w: _Writer) -> str:
    """Numbers as a receiver's sentences have them: hhmmss.ss, ddmmyy, ddmm.mmmm with its letter beside it."""
    d = _Drive(rng, float(rng.choice([1.0, 5.0])), 120)
    stamps = [START + dt.timedelta(seconds=float(t)) for t in d.t]
    unix = START.timestamp() + d.t
    w.thousands = False
    if rng.random() < 0.5:
        w.text(Role.DATE, [f"{s:%d%m%y}" for s in stamps], "ddmmyy", unix, heading="date")
        w.text(Role.TIME, [f"{s:%H%M%S}.{s.microsecond // 10000:02d}" for s in stamps], "hhmmss", unix, heading="time")
    else:
        w.text(
            Role.TIME,
            [f"{s:%Y-%m-%d %H:%M:%S}.{s.microsecond // 1000:03d}" for s in stamps],
            "date and time",
            unix,
            heading="time",
        )
    w.comma = False
    for role, values, sides, wide in ((Role.LATITUDE, d.latitude, "NS", 2), (Role.LONGITUDE, d.longitude, "EW", 3)):
        cells = []
        for v in values:
            a = abs(v)
            cells.append(f"{int(a):0{wide}d}{(a % 1) * 60:08.5f}")
        w.text(role, cells, "ddmm.mmmm", values, heading="lat" if wide == 2 else "lon")
        w.columns.append(
            _Column(
                role=None, heading="N/S" if wide == 2 else "E/W", unit="", cells=[sides[int(v < 0)] for v in values]
            )
        )
    w.add(Role.SPEED, d.speed, "kn")
    return "track"


def _controller(rng: np.random.Generator, w: _Writer) -> str:
    d = _Drive(rng, float(rng.choice([5.0, 10.0, 20.0])), 100)
    _clock(w, d, dated=False)
    _log(rng, w, d)
    for _ in range(int(rng.integers(0, 3))):
        w.beside("log", len(d.t))
    return "log"


def _radio(rng: np.random.Generator, w: _Writer) -> str:
    d = _Drive(rng, float(rng.choice([2.0, 5.0])), 120)
    _clock(w, d, dated=True)
    _place(w, d)
    w.add(Role.SPEED, d.speed, str(rng.choice(["m/s", "km/h", "kn"])))
    for _ in range(2):
        w.beside("radio", len(d.t))
    w.add(Role.VOLTAGE, d.voltage, "V")
    w.add(Role.CURRENT, d.current, "A")
    return "track"


def _charger(rng: np.random.Generator, w: _Writer) -> str:
    d = _Drive(rng, 0.2, 1800)
    n, cells = len(d.t), min(d.cells, 6)
    volts = [3.55 + 0.02 * k + 0.6 * np.linspace(0, 1, n) for k in range(cells)]
    _clock(w, d, dated=False)
    charge = np.linspace(0, 3800, n)
    if rng.random() < 0.3:  # put back twice, the second time after some use
        charge = np.concatenate(
            [np.linspace(0, float(rng.choice([700, 4200])), n // 4), np.linspace(0, 3800, n - n // 4)]
        )
    w.add(Role.CHARGE, charge, str(rng.choice(["mAh", "Ah"])), told=True)
    w.add(Role.VOLTAGE, np.sum(volts, axis=0), "V")
    w.add(Role.CURRENT, np.full(n, 5.0), "A")
    for k, values in enumerate(volts):
        w.add(Role.CELL, values, "V", k=k + 1)
    if rng.random() < 0.5:
        w.beside("charge", n)
    return "charge"


def _meter(rng: np.random.Generator, w: _Writer) -> str:
    d = _Drive(rng, float(rng.choice([2.0, 5.0])), 120)
    _clock(w, d, dated=False)
    if rng.random() < 0.3:
        w.text(Role.VOLTAGE, [w.number(v, 2) for v in d.voltage], "V", d.voltage, heading="V")
        w.text(Role.CURRENT, [w.number(v, 2) for v in d.current], "A", d.current, heading="A")
    else:
        w.add(Role.VOLTAGE, d.voltage, "V")
        w.add(Role.CURRENT, d.current, "A")
    if rng.random() < 0.5:  # it counts the charge, too, and is no charger
        used = np.cumsum(d.current) * float(np.median(np.diff(d.t))) / 3.6
        w.add(Role.CHARGE, used, str(rng.choice(["mAh", "Ah"])), told=True)
    return "log"


def _boat(rng: np.random.Generator, w: _Writer) -> str:
    d = _Drive(rng, 5.0, 120)
    _clock(w, d, dated=True)
    _place(w, d)
    w.add(Role.SPEED, d.speed, str(rng.choice(["m/s", "km/h", "mph"])))
    _log(rng, w, d)
    return "track"


MAKERS: Final[dict[str, Callable[[np.random.Generator, _Writer], str]]] = {
    "phone": _phone, "receiver": _receiver, "sentences": _sentences, "controller": _controller, "radio": _radio,
    "charger": _charger, "meter": _meter, "boat": _boat,
}  # fmt: skip
FAULTS: Final = ("none", "none", "none", "repeated heading", "cut row", "empty line")


def strangers(count: int, seed: int, *, sealed: bool = False) -> list[Stranger]:
    """So many files, one of each device after the other, of languages and dialects by chance."""
    found = []
    for k in range(count):
        rng = np.random.default_rng([seed, k])
        device, language = DEVICES[k % len(DEVICES)], str(rng.choice(list(OPEN)))
        writer = _Writer(rng, language, sealed=sealed and rng.random() < 0.7)
        kind = MAKERS[device](rng, writer)
        fault = str(rng.choice(FAULTS))
        found.append(writer.file(device, kind, f"{k}: {device}, {language}, {fault}", fault))
    return found
