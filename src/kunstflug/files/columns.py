"""What the columns of somebody's CSV file are: found by name in several languages, by unit, and by their values."""

import re
import unicodedata
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.quantity.value import Array
from kunstflug.documents.columns import MONTH_FIRST, UNITS, Role
from kunstflug.files.moments import Order, order_of

NAN: Final = float("nan")


# English, German, French, Spanish, Italian, Dutch, Polish, Czech; without accents.
_NAMES: Final[tuple[tuple[Role, str], ...]] = (
    (Role.CELL, r"^(cell|zelle|cellule|celda|cella|cel|ogniwo|clanek) ?(volt\w*)? ?\d+|^c\d{1,2}$"),
    (Role.CHARGE, r"\b(mah|ah|consum\w*|verbrauch\w*|kapazit\w*|capacit\w*|charge|ladung|used|consomm\w*|zuzyt\w*)\b"),
    (
        Role.MOTOR_TEMPERATURE,
        r"\b(mot(or|eur|ore)?|silnik\w*)\b.*\b(t|temp\w*|c|degc)\b|\b(t|temp\w*)\b.*\b(mot(or|eur|ore)?|silnik\w*)\b",
    ),
    (
        Role.CONTROLLER_TEMPERATURE,
        r"\b(esc|fet|mos\w*|regler|steller|controller|controleur|variador|regolatore|regelaar|regulator)\b.*"
        r"\b(t|temp\w*|c|degc)\b|\b(t|temp\w*)\b.*\b(esc|fet|mos\w*|regler|steller|controller|controleur|variador|"
        r"regolatore|regelaar|regulator)\b|^(temp|tempera\w*|teplota)$",
    ),
    (Role.LATITUDE, r"\b(lat|latitud\w*|breite\w*|breitengrad|szerokosc\w*|sirka|breedtegraad)\b"),
    (
        Role.LONGITUDE,
        r"\b(lon|lng|long|longitud\w*|lange|laenge|langengrad|laengengrad|dlugosc\w*|delka|lengtegraad)\b",
    ),
    (
        Role.THROTTLE,
        r"\b(throttle|gas|gaz|gasgriff|acelerador|acceleratore|duty\w*|pwm|ppm|plyn|przepustnica|thr)\b",
    ),
    (
        Role.RPM,
        r"\b(e?rpm|drehzahl|regime|tours?|tr min|revolucion\w*|giri|toerental|obroty|otacky|u min|revs?)\b",
    ),
    (Role.CURRENT, r"\b(current|strom|courant|corriente|corrente|stroom|prad|proud|amps?|amper\w*|ibat\w*|i)\b"),
    (
        Role.VOLTAGE,
        r"\b(volts?|voltage|spannung|tension\w*|voltaje|tensione|spanning|napiecie|napeti|vbat\w*|ubat\w*|u|vin)\b",
    ),
    (
        Role.SPEED,
        r"\b(speed|velocity|sog|geschwindigkeit|tempo|vitesse|velocidad|velocita|snelheid|predkosc|rychlost|v|kmh|gspeed)\b",
    ),
    (Role.ELEVATION, r"\b(ele|elevation|alt|altitude|hohe|hoehe|altura|altitud|altezza|hoogte|wysokosc|vyska|hmsl)\b"),
    (Role.DATE, r"^(date|datum|fecha|data|jour|dzien)$"),
    (
        Role.TIME,
        r"\b(time\w*|zeit\w*|temps|tiempo|hora|heure|ora|tijd|czas|cas|uhrzeit|secs?|seconds?|sekunden?|elapsed|millis|"
        r"ms|s|t|utc|itow)\b",
    ),
)
_BESIDE: Final = re.compile(
    r"\b(bec|servo|rx|receiver|empfanger|phase\w*|phasen\w*|wheel|rad|vertical|min|max|avg|average|mean|target|soll|set|"
    r"ripple|accuracy|hdop|error|filtered)\b"
)
"""Words of a column that lies beside the one that is wanted: BEC voltage, phase current, wheel speed."""
_BRACKETED: Final = re.compile(r"[\[(][^\])]*[\])]")
_ALONE: Final = {"V": Role.VOLTAGE, "A": Role.CURRENT}
_COMPOUND: Final = re.compile(
    r"\b(regler|steller|motor|akku|accu|batterie|batterij|regelaar|zellen|zell|gps|bec|phasen)"
    r"(temperatu\w*|temp|spannung|spanning|strom|stroom|drehzahl|toerental|geschwindigkeit|snelheid|kapazitat|capaciteit)"
)
_UNIT_WORDS: Final[dict[str, str]] = {
    "s": "s", "sec": "s", "secs": "s", "seconds": "s", "ms": "ms", "millis": "ms", "us": "us", "min": "min",
    "v": "V", "volt": "V", "volts": "V", "mv": "mV", "cv": "cV", "a": "A", "amp": "A", "amps": "A", "ma": "mA",
    "ca": "cA", "rpm": "rpm", "u/min": "rpm", "1/min": "rpm", "tr/min": "rpm", "giri/min": "rpm", "%": "%",
    "percent": "%", "m/s": "m/s", "mps": "m/s", "km/h": "km/h", "kmh": "km/h", "kph": "km/h", "kn": "kn", "kt": "kn",
    "kts": "kn", "knots": "kn", "mph": "mph", "cm/s": "cm/s", "mm/s": "mm/s", "c": "degC", "degc": "degC",
    "celsius": "degC", "f": "degF", "degf": "degF", "k": "K", "m": "m", "ft": "ft", "mm": "mm", "mah": "mAh",
    "ah": "Ah", "deg": "deg", "degrees": "deg", "0.1v": "dV", "100mv": "dV", "0.01v": "cV", "10mv": "cV", "0.1a": "dA",
    "100ma": "dA", "0.01a": "cA", "10ma": "cA",
}  # fmt: skip


@dataclass(frozen=True, slots=True, kw_only=True)
class Proposal:
    """What a column is taken to be.

    Parameters
    ----------
    role : None where it is passed over.
    sure : its unit is told by the file; else it follows from the values.
    """

    role: Role | None
    unit: str
    sure: bool


def plain(text: str) -> str:
    """A heading in small letters without accents, its words parted by single spaces."""
    text = text.replace("°", "deg").replace("µ", "u").replace("μ", "u")
    bare = "".join(c for c in unicodedata.normalize("NFKD", text) if not unicodedata.combining(c)).lower()
    bare = bare.replace("ł", "l").replace("ß", "ss")
    return " ".join(re.findall(r"[a-z0-9%]+", bare))


def unit_in(heading: str, unit_cell: str = "") -> str:
    """The unit that stands in a heading, in brackets or at its end, or below it; empty where none does."""
    tidy = heading.replace("°", "deg").replace("µ", "u").replace("μ", "u").strip()
    bracketed = re.findall(r"[\[(]([^\])]*)[\])]", tidy)
    last = re.split(r"[\s_]+", tidy)[-1] if re.search(r"[\s_]", tidy) else ""
    below = unit_cell.replace("°", "deg").replace("µ", "u").strip().strip("[]()")
    for words in (below, *bracketed, last, tidy):
        found = _UNIT_WORDS.get(words.strip().lower().replace(" ", ""))
        if found is not None:
            return found
    return ""


def proposals(headings: list[str], units: list[str], columns: list[list[str]], numbers: list[Array]) -> list[Proposal]:
    """What each column is, by its heading first and its values where that says nothing; no role but cells twice.

    Parameters
    ----------
    headings, units : first row and unit row; empty strings where there is none.
    columns, numbers : first cells of each column, as text and as numbers (NaN where a cell is none).
    """
    found: list[Proposal] = []
    taken: set[Role] = set()
    tolds = [unit_in(heading, unit) for heading, unit in zip(headings, units, strict=True)]
    roles = _roles(headings, tolds, taken)
    for k, role in enumerate(roles):
        guess = role or _by_values(columns[k], numbers[k], taken)
        if guess is None:
            found.append(Proposal(role=None, unit="", sure=True))
            continue
        taken.add(guess)
        told = tolds[k]
        if told in UNITS[guess]:
            found.append(Proposal(role=guess, unit=told, sure=role is not None and _fits(guess, told, numbers[k])))
        else:
            unit = _unit_of(guess, columns[k], numbers[k])
            dated = unit.startswith("date") and order_of(columns[k]) is not Order.EITHER
            found.append(Proposal(role=guess, unit=unit, sure=dated))
    return found


def _roles(headings: list[str], tolds: list[str], taken: set[Role]) -> list[Role | None]:
    """The role of each heading: where several are of one, the boat's own before what lies beside it."""
    wanted = [_wanted(heading, told) for heading, told in zip(headings, tolds, strict=True)]
    found: list[Role | None] = [None] * len(headings)
    for k in sorted(range(len(headings)), key=lambda k: bool(_BESIDE.search(_words(headings[k])))):
        role = next((one for one in wanted[k] if one not in taken or one is Role.CELL), None)
        if role is not None:
            taken.add(role)
            found[k] = role
    return found


def _wanted(heading: str, told: str) -> list[Role]:
    """The roles that a heading may have, the likeliest first; a unit of another dimension rules one out."""
    if heading.strip() in _ALONE:
        return [_ALONE[heading.strip()]]
    words, bare = _words(heading), _words(_BRACKETED.sub(" ", heading))
    return [
        role
        for role, name in _NAMES
        # milliseconds behind another name make no clock of it
        if re.search(name, bare or words if role is Role.TIME else words) and (not told or told in UNITS[role])
    ]


def _words(heading: str) -> str:
    """A heading as ``plain`` has it, with what is written together cut: GroundSpeed, Reglertemperatur."""
    return _COMPOUND.sub(r"\1 \2", plain(re.sub(r"(?<=[a-z][a-z])(?=[A-Z])", " ", heading)))


def _by_values(cells: list[str], numbers: Array, taken: set[Role]) -> Role | None:
    """Only what values say without a doubt: a rising clock, for a file without headings."""
    if Role.TIME in taken or len(cells) < 3:
        return None
    if all(re.search(r"\d:\d\d", cell) for cell in cells[:3]):
        return Role.TIME
    known = numbers[np.isfinite(numbers)]
    return Role.TIME if len(known) >= 5 and len(known) == len(numbers) and np.all(np.diff(known) > 0) else None


def _fits(role: Role, unit: str, numbers: Array) -> bool:
    """Whether values can be what the file says they are."""
    known = numbers[np.isfinite(numbers)]
    if not len(known) or unit == "clock" or unit.startswith("date"):
        return True
    factor, offset = UNITS[role][unit]
    most = float(np.max(np.abs(known))) * factor + offset
    limits = {Role.VOLTAGE: 130.0, Role.CURRENT: 1500.0, Role.SPEED: 130.0, Role.CELL: 5.0, Role.THROTTLE: 110.0}
    return most <= limits.get(role, np.inf)


def _unit_of(role: Role, cells: list[str], numbers: Array) -> str:  # noqa: PLR0911 - one line for each role
    """The unit that makes the values possible."""
    known = numbers[np.isfinite(numbers)]
    most = float(np.max(np.abs(known))) if len(known) else 0.0
    match role:
        case Role.TIME:
            return _clock_unit(cells, known)
        case Role.DATE:
            return "date" + _ordered(cells)
        case Role.LATITUDE | Role.LONGITUDE:
            if most > 1e6:
                return "1e-7 deg"
            return "ddmm.mmmm" if most > (90.0 if role is Role.LATITUDE else 180.0) else "deg"
        case Role.THROTTLE:
            return "us" if most > 500 else "0 to 1" if most <= 1.1 else "%"
        case Role.SPEED:
            return "mm/s" if most > 1000 else "km/h" if most > 40 else "m/s"
        case Role.VOLTAGE:
            return "mV" if most > 1000 else "V"
        case Role.CURRENT:
            return "mA" if most > 1500 else "A"
        case Role.CELL:
            return "mV" if most > 100 else "V"
        case _:
            return next(iter(UNITS[role]))


def _ordered(cells: list[str]) -> str:
    return MONTH_FIRST if order_of(cells) is Order.MONTH_FIRST else ""


def _clock_unit(cells: list[str], known: Array) -> str:
    if any(re.search(r"\d[-./]\d+[-./]\d", cell) and ":" in cell for cell in cells[:3]):
        return "date and time" + _ordered(cells)
    if any(":" in cell for cell in cells[:3]):
        return "clock"
    if len(known) < 2:
        return "s"
    if known[0] > 1e8:
        return "unix ms" if known[0] > 1e11 else "unix s"
    step = float(np.median(np.diff(known)))
    return "us" if step > 5e3 else "ms" if step > 6 else "s"


NEAR_SPEED: Final = 0.1
"""Of a logarithm, within which a speed may be that of the way; knots and miles an hour are 0.14 apart."""
EVEN: Final = 0.03
"""Spread of that ratio, up to which it is a unit and no matter of the receiver."""


def speed_unit_by_the_way(speed: Array, way_mps: Array) -> tuple[str, bool]:
    """The unit in which speeds agree best with the ways between the positions, and whether the ratio is constant.

    Empty where none agrees.
    """
    moving = np.isfinite(speed) & np.isfinite(way_mps) & (way_mps > 2.0) & (speed > 0)
    if not moving.any():
        return "", False
    ratio = np.log(speed[moving] / way_mps[moving])
    middle = float(np.median(ratio))
    off = {unit: abs(middle + np.log(factor)) for unit, (factor, _) in UNITS[Role.SPEED].items()}
    best = min(off, key=lambda unit: off[unit])
    even = float(np.median(np.abs(ratio - middle))) < EVEN
    return (best, even) if off[best] < NEAR_SPEED else ("", False)
