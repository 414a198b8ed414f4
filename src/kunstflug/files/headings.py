"""What the headings of somebody's CSV file say: roles by words of eleven languages, units, and what is none of both."""

import re
import unicodedata
from typing import Final

from kunstflug.documents.columns import UNITS, Role

# English, German, French, Spanish, Italian, Dutch, Polish, Czech, Portuguese, Swedish, Danish; without accents.
_MOTOR: Final = r"mot(or|eur|ore|oru)?|silnik\w*"
_CONTROLLER: Final = (
    r"esc|fet|mos\w*|regler|steller|controller|controleur|controlador|variateur|variador|regolatore|regelaar|"
    r"regulator\w*"
)
_HEAT: Final = r"t|temp\w*|teplota|c|degc|f|degf"
_NAMES: Final[tuple[tuple[Role, str], ...]] = (
    (
        Role.CELL,
        r"^(cell|zelle|cellule|element|celda|cella|cel|ogniwo|clanek|celula|celle) ?(volt\w*)? ?\d+|^c\d{1,2}$",
    ),
    (
        Role.PLACE,
        r"\b(gps|position|posicion|posizione|posicao|positie|pozycja|poloha|place|coord\w*|koord\w*|lat lon)\b",
    ),
    (
        Role.CHARGE,
        r"\b(mah|ah|consum\w*|verbrauch\w*|verbruik|forbruk\w*|forbrug|kapazit\w*|kapacit\w*|capacit\w*|capacid\w*|"
        r"capaciteit|pojemnosc\w*|charge|ladung|used|consomm\w*|zuzyc\w*|spotreb\w*)\b",
    ),
    (
        Role.MOTOR_TEMPERATURE,
        rf"\b({_MOTOR})\b.*\b({_HEAT})\b|\b({_HEAT})\b.*\b({_MOTOR})\b|"
        r"^(t|temp) ?[12]$|^(temp|tempera\w*|teplota)$",
    ),
    (
        Role.CONTROLLER_TEMPERATURE,
        rf"\b({_CONTROLLER})\b.*\b({_HEAT})\b|\b({_HEAT})\b.*\b({_CONTROLLER})\b|^(t|temp) ?[12]$|"
        r"^(temps?|tempera\w*|teplota)$",
    ),
    (
        Role.LATITUDE,
        r"\b(lat|latitud\w*|breite\w*|breitengrad|szerokosc\w*|szer|sirka|breedtegraad|bredde|breddegrad)\b",
    ),
    (
        Role.LONGITUDE,
        r"\b(lon|lng|long|longitud\w*|lange|laenge|langengrad|laengengrad|dlugosc\w*|dl geogr|delka|lengtegraad|"
        r"laengde|"
        r"laengdegrad|langdgrad)\b",
    ),
    (
        Role.THROTTLE,
        r"\b(throttle|gas|gaz|gasgriff|acelerador|acceleratore|duty\w*|pwm|ppm|plyn|przepustnica|thr)\b",
    ),
    (
        Role.RPM,
        r"\b(e?rpm|drehzahl|regime|tours?|tr min|revolucion\w*|giri|toerental|obroty|otacky|u min|revs?|rotac\w*|"
        r"varvtal|umdrehung\w*|"
        r"omdr|omdrejninger)\b",
    ),
    (
        Role.CURRENT,
        r"\b(current|strom|courant|corriente|corrente|stroom|prad|proud|amps?|amper\w*|intensite|intensidad|curr|"
        r"ibat\w*|i)\b",
    ),
    (
        Role.VOLTAGE,
        r"\b(volts?|voltage|spannung|tension\w*|tensao|voltaje|tensione|spanning|napiecie|napeti|spaending|vbat\w*|vfas|"
        r"ubat\w*|u|vin)\b",
    ),
    (
        Role.SPEED,
        r"\b(speed|velocity|sog|geschwindigkeit|tempo|vitesse|velocidad\w*|velocita|snelheid|predkosc|rychlost|"
        r"hastighe[td]|farta?|fahrt|v|kmh|gspeed|gspd|spd)\b",
    ),
    (
        Role.ELEVATION,
        r"\b(ele|elevation|alt|altitude|hohe|hoehe|altura|altitud|altezza|quota|hoogte|wysokosc|vyska|hojde?|hmsl)\b",
    ),
    (Role.DATE, r"^(gps )?(date|datum|fecha|data|jour|dzien|dato|dag)$"),
    (
        Role.TIME,
        r"\b(time\w*|zeit\w*|temps|tempo|tiempo|hora|heure|ora|tijd|tid|czas|cas|uhrzeit|laufzeit|secs?|seconds?|"
        r"sekunden?|elapsed|millis|ms|s|t|utc|itow)\b",
    ),
)
_BESIDE: Final = re.compile(
    r"\b(bec|servo|rx|receiver|empfanger|phase\w*|phasen\w*|wheel|rad|vertical|min|max|avg|average|mean|target|"
    r"soll|set|"
    r"ripple|accuracy|hdop|error|filtered|internal)\b"
)
"""Words of a column that lies beside the one that is wanted: BEC voltage, phase current, wheel speed."""
_OTHER: Final = re.compile(
    r"\b(sat\w*|hdop|vdop|pdop|fix|quality|course|cog|heading|kurs|cap|rumbo|rotta|koers|hacc|vacc|accuracy|rssi|"
    r"lq|link|"
    r"snr|power|leistung|puissance|potencia|potenza|vermogen|moc|vykon|watt?s?|energy|energie|wh|event|state|status|"
    r"timing|resist\w*|ripple|index|cycles?|zyklus|frame|sample|packet|counter|vspd|number|nr|no|id|row|line|record|count|name|distance|odo\w*|pressure|humidity|"
    r"acc ?[xyz]|gyro\w*|roll|pitch|yaw|mag ?[xyz]|mode|flags?|error|checksum|crc|n s|e w)\b|^ri$"
)
"""Words of what a device writes besides and this program does not read."""
_OTHER_UNITS: Final = frozenset({
    "w", "kw", "wh", "ohm", "mohm", "db", "dbm", "hpa", "mbar", "g", "deg/s", "hz", "pa", "nm", "kg", "us/div", "sats",
})  # fmt: skip
_BRACKETED: Final = re.compile(r"[\[(][^\])]*[\])]")
_ALONE: Final = {"V": Role.VOLTAGE, "A": Role.CURRENT}
_STEMS: Final = re.compile(
    r"\b([a-z]{3,}?)(temperatu\w*|temp|spannung|spanning|spaending|strom|stroom|drehzahl|toerental|varvtal|"
    r"geschwindigkeit|snelheid|hastighe[td]|kapazitat|kapacitet|capaciteit|voltage|current|speed|stellung)\b"
)
"""What Germanic languages write together: Reglertemperatur, Akkuspannung."""
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
_ELECTRIC: Final = re.compile(r"\b(erpm|e rpm|electrical rpm|field rpm)\b")


def plain(text: str) -> str:
    """A heading in small letters without accents, its words parted by single spaces."""
    text = text.replace("°", "deg").replace("µ", "u").replace("μ", "u")
    bare = "".join(c for c in unicodedata.normalize("NFKD", text) if not unicodedata.combining(c)).lower()
    bare = bare.replace("ł", "l").replace("ß", "ss").replace("æ", "ae").replace("ø", "o")
    return " ".join(re.findall(r"[a-z0-9%]+", bare))


def words_of(heading: str) -> str:
    """A heading as ``plain`` has it, with what is written together cut: GroundSpeed, Reglertemperatur."""
    return _STEMS.sub(r"\1 \2", plain(re.sub(r"(?<=[a-z][a-z])(?=[A-Z])", " ", heading)))


def unit_in(heading: str, unit_cell: str = "") -> str:
    """The unit that stands in a heading, in brackets or at its end, or below it; empty where none does."""
    return next((_UNIT_WORDS[words] for words in _unit_places(heading, unit_cell) if words in _UNIT_WORDS), "")


def are_units(cells: list[str]) -> bool:
    """Whether a row is one of units: nothing else stands in it, but for strokes and empty cells."""
    told = [plain_unit(cell) for cell in cells if cell.strip("-_ ")]
    known = [unit in _UNIT_WORDS or unit in _OTHER_UNITS for unit in told]
    return bool(told) and all(len(unit) <= 8 for unit in told) and sum(known) * 2 >= len(told)


def plain_unit(cell: str) -> str:
    """A unit in small letters without brackets and signs."""
    return cell.replace("°", "deg").replace("µ", "u").replace("μ", "u").strip().strip("[]()").lower().replace(" ", "")


def _unit_places(heading: str, unit_cell: str) -> list[str]:
    """What may be a unit in a heading and the cell below it, the likeliest first."""
    tidy = heading.replace("°", "deg").replace("µ", "u").replace("μ", "u").strip()
    bracketed = re.findall(r"[\[(]([^\])]*)[\])]", tidy)
    last = re.split(r"[\s_]+", tidy)[-1] if re.search(r"[\s_]", tidy) else ""
    whole = "" if tidy in ("a", "c", "f", "k", "m") else tidy  # a name that somebody gave, more than a unit
    return [plain_unit(words) for words in (unit_cell, *bracketed, last, whole)]


def roles_in(heading: str, told: str) -> list[Role]:
    """The roles that a heading may have, the likeliest first; a unit of another dimension rules one out."""
    if heading.strip() in _ALONE:
        return [_ALONE[heading.strip()]]
    words, bare = words_of(heading), words_of(_BRACKETED.sub(" ", heading))
    return [
        role
        for role, name in _NAMES
        # milliseconds behind another name make no clock of it
        if re.search(name, bare or words if role is Role.TIME else words) and (not told or told in UNITS[role])
    ]


def says_a_role(heading: str) -> bool:
    """Whether a heading without its unit has a word of any role."""
    return bool(roles_in(_BRACKETED.sub(" ", heading), ""))


def lies_beside(heading: str) -> bool:
    """Whether a heading is of something that lies beside what is wanted: a BEC's voltage, a phase's current."""
    words = words_of(_BRACKETED.sub(" ", heading))
    return _BESIDE.search(words.removesuffix("min")) is not None  # which is a unit at the end


def is_other(heading: str, unit_cell: str = "") -> bool:
    """Whether a heading or its unit says that the column is nothing this program reads."""
    places = _unit_places(heading, unit_cell)
    return _OTHER.search(words_of(_BRACKETED.sub(" ", heading))) is not None or any(p in _OTHER_UNITS for p in places)


def is_electric(heading: str) -> bool:
    """Whether a heading says that its turns are those of the field, some of which make one of the shaft."""
    return _ELECTRIC.search(words_of(heading)) is not None


def unit_of_power(heading: str, unit_cell: str = "") -> str:
    """``w`` or ``kw`` where a heading, or the cell below it, says so as its unit; else nothing."""
    return next((place for place in _unit_places(heading, unit_cell) if place in ("w", "kw")), "")
