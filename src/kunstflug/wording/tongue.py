"""Numbers as a racer reads them: in the racer's units, with sensible digits, a true minus and thin spaces."""

import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.quantity.units import UNITS, Dimension, number_in

THIN: Final = "\u202f"
MINUS: Final = "\u2212"
GROUPED_FROM: Final = 10_000  # 8417 but 23 900


class Units(StrEnum):
    """The racer's system of units."""

    METRIC = "metric"
    IMPERIAL = "imperial"


_IMPERIAL: Final = {
    Dimension.SPEED: "mph",
    Dimension.LENGTH: "in",
    Dimension.MASS: "oz",
    Dimension.TEMPERATURE: "degF",
}
_METRIC: Final = {
    Dimension.SPEED: "km/h",
    Dimension.LENGTH: "mm",
    Dimension.MASS: "g",
    Dimension.TEMPERATURE: "degC",
    Dimension.RESISTANCE: "mohm",
    Dimension.CHARGE: "mAh",
    Dimension.FLOW: "L/min",
    Dimension.RATIO: "%",
    Dimension.AREA: "cm2",
}
_DIGITS: Final = {"km/h": 0, "mph": 0, "mm": 1, "in": 3, "g": 0, "oz": 1, "degC": 0, "degF": 0, "%": 0, "L/min": 2}
SYMBOLS: Final = {
    "degC": "°C",
    "degF": "°F",
    "mohm": "mΩ",
    "ohm": "Ω",
    "m2": "m²",
    "cm2": "cm²",
    "m3/s": "m³/s",
    "deg": "°",
    "1": "",
}
"""Units as they are written on the screen, where that differs from how documents write them."""


def grouped(number: float, digits: int = 0) -> str:
    """A number with a true minus and a thin space in its thousands.

    Examples
    --------
    >>> grouped(23900.4), grouped(8417), grouped(-0.04, 1)
    ('23\u202f900', '8417', '0.0')
    """
    text = f"{abs(number):.{digits}f}"
    whole, _, part = text.partition(".")
    if abs(number) >= GROUPED_FROM - 0.5:
        whole = f"{int(whole):,}".replace(",", THIN)
    sign = MINUS if number < 0 and float(text) != 0 else ""
    return sign + whole + (f".{part}" if part else "")


def trimmed(number: float, figures: int = 4) -> str:
    """A number with at most this many figures and no trailing zeros.

    Examples
    --------
    >>> trimmed(36.0), trimmed(4.7625), trimmed(17.6777), trimmed(125000)
    ('36', '4.762', '17.68', '125\u202f000')
    """
    if number == 0 or not math.isfinite(number):
        return "0" if number == 0 else "–"
    digits = max(figures - 1 - math.floor(math.log10(abs(number))), 0)
    text = grouped(number, digits)
    return text.rstrip("0").rstrip(".") if "." in text else text


@dataclass(frozen=True, slots=True, kw_only=True)
class Tongue:
    """How one racer reads numbers."""

    units: Units = Units.METRIC

    def unit(self, dimension: Dimension) -> str:
        """Unit in which a dimension is read."""
        imperial = _IMPERIAL.get(dimension) if self.units is Units.IMPERIAL else None
        return imperial or _METRIC.get(dimension) or next(iter(UNITS[dimension]))

    def own(self, unit: str, dimension: Dimension) -> str:
        """A usual unit, or the racer's where that is of the other system."""
        return self.unit(dimension) if self.units is Units.IMPERIAL and dimension in _IMPERIAL else unit

    def quantity(self, value: float, dimension: Dimension, unit: str | None = None, figures: int | None = None) -> str:
        """A value in the core's unit, with its unit; ``unit`` where it is usually not read in the first one."""
        shown = self.own(unit, dimension) if unit else self.unit(dimension)
        number = number_in(value, shown, dimension)
        if figures is not None or shown not in _DIGITS:
            text = trimmed(number, figures or 4)
        else:
            text = grouped(number, _DIGITS[shown])
        return f"{text} {SYMBOLS.get(shown, shown)}".strip()

    def speed(self, mps: float, digits: int = 0) -> str:
        """A speed."""
        unit = self.unit(Dimension.SPEED)
        return f"{grouped(number_in(mps, unit, Dimension.SPEED), digits)} {unit}"

    def faster(self, mps: float) -> str:
        """A difference of speeds, with its sign."""
        return f"{self._sign(mps)}{self.speed(abs(mps), 1)}"

    def length(self, metres: float, figures: int = 4) -> str:
        """A length of a part."""
        return self.quantity(metres, Dimension.LENGTH, figures=figures)

    def size(self, metres: float, figures: int = 4) -> str:
        """A length of a part without its unit."""
        return trimmed(number_in(metres, self.unit(Dimension.LENGTH), Dimension.LENGTH), figures)

    def distance(self, metres: float) -> str:
        """A distance over water: metres or feet."""
        unit = "m" if self.units is Units.METRIC else "ft"
        return f"{grouped(number_in(metres, unit, Dimension.LENGTH))} {unit}"

    def mass(self, kg: float, figures: int | None = None) -> str:
        """A mass of a part or a boat."""
        return self.quantity(kg, Dimension.MASS, figures=figures)

    def temperature(self, celsius: float) -> str:
        """A temperature."""
        return self.quantity(celsius, Dimension.TEMPERATURE)

    def degrees(self, celsius: float) -> str:
        """A temperature without its unit."""
        return grouped(number_in(celsius, self.unit(Dimension.TEMPERATURE), Dimension.TEMPERATURE))

    def warmer(self, kelvin: float) -> str:
        """A difference of temperatures, with its sign."""
        scale = UNITS[Dimension.TEMPERATURE][self.unit(Dimension.TEMPERATURE)].factor
        return f"{self._sign(kelvin)}{grouped(abs(kelvin) / scale)} {SYMBOLS[self.unit(Dimension.TEMPERATURE)]}"

    def current(self, amperes: float) -> str:
        """A current."""
        return f"{grouped(amperes)} A"

    def voltage(self, volts: float, digits: int = 2) -> str:
        """A voltage."""
        return f"{grouped(volts, digits)} V"

    def power(self, watts: float) -> str:
        """A power."""
        return f"{grouped(watts)} W"

    def resistance(self, ohm: float) -> str:
        """A resistance of a winding, a pack or a wire."""
        return f"{trimmed(ohm * 1e3, 2)} mΩ"

    def force(self, newtons: float) -> str:
        """A force."""
        return f"{trimmed(newtons, 2)} N"

    def rpm(self, rpm: float) -> str:
        """Revolutions a minute, without the word."""
        return grouped(rpm)

    def part(self, ratio: float, digits: int = 0) -> str:
        """A part of something, in percent."""
        return f"{grouped(ratio * 100, digits)} %"

    def seconds(self, seconds: float) -> str:
        """A time: seconds to two minutes, minutes from there."""
        return f"{grouped(seconds)} s" if seconds < 120 else f"{trimmed(seconds / 60, 2)} min"

    @staticmethod
    def _sign(value: float) -> str:
        return "+" if value >= 0 else MINUS


METRIC: Final = Tongue()
