"""Bench instruments as JSON."""

from kunstflug.core.bench import Instrument, Reading
from kunstflug.core.finders import Finder
from kunstflug.core.units import UNITS
from kunstflug.formats.forecast_document import Out


class InstrumentReadingOut(Out):
    """One thing that an instrument asks for; usual, low, high and step in the core's unit."""

    key: str
    label: str
    dimension: str
    unit: str
    factor: float
    offset: float
    usual: float
    low: float
    high: float
    spread: float
    step: float


class InstrumentOut(Out):
    """One instrument."""

    key: str
    title: str
    how: str
    equation: str
    caution: str
    source: str
    dimension: str
    unit: str
    factor: float
    offset: float
    writes: list[str]
    readings: list[InstrumentReadingOut]


class FinderFoundOut(Out):
    """One thing that a finder found."""

    name: str
    words: str


class FinderOut(Out):
    """One finder."""

    key: str
    title: str
    how: str
    nothing: str
    readings: list[InstrumentReadingOut]


def _readings(readings: tuple[Reading, ...]) -> list[InstrumentReadingOut]:
    found = []
    for r in readings:
        unit = UNITS[r.dimension][r.unit]
        found.append(
            InstrumentReadingOut(
                key=r.key,
                label=r.label,
                dimension=r.dimension.value,
                unit=r.unit,
                factor=unit.factor,
                offset=unit.offset,
                usual=r.usual,
                low=r.low,
                high=r.high,
                spread=r.spread,
                step=r.step,
            )
        )
    return found


def finder_out(f: Finder) -> FinderOut:
    """Document of a finder."""
    return FinderOut(key=f.key, title=f.title, how=f.how, nothing=f.nothing, readings=_readings(f.readings))


def instrument_out(i: Instrument) -> InstrumentOut:
    """Document of an instrument; ``si = (number + offset) * factor``."""
    own = UNITS[i.dimension][i.unit]
    return InstrumentOut(
        key=i.key,
        title=i.title,
        how=i.how,
        equation=i.equation,
        caution=i.caution,
        source=i.source,
        dimension=i.dimension.value,
        unit=i.unit,
        factor=own.factor,
        offset=own.offset,
        writes=list(i.writes),
        readings=_readings(i.readings),
    )
