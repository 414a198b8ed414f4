"""Bench instruments as JSON."""

from kunstflug.core.bench import Instrument
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


def instrument_out(i: Instrument) -> InstrumentOut:
    """Document of an instrument; ``si = (number + offset) * factor``."""
    own = UNITS[i.dimension][i.unit]
    rows = []
    for r in i.readings:
        unit = UNITS[r.dimension][r.unit]
        rows.append(
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
        readings=rows,
    )
