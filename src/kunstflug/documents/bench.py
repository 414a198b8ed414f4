"""Bench instruments as JSON."""

from kunstflug.core.bench.finders import Finder
from kunstflug.core.bench.instruments import Instrument, ReadingSpec
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.units import Dimension
from kunstflug.documents.base import Out
from kunstflug.wording import Tongue, bench, say, sentence


class InstrumentReadingOut(Out):
    """One thing that an instrument asks for; usual, low, high and step in the core's unit."""

    key: str
    label: str
    dimension: Dimension
    unit: str
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
    dimension: Dimension
    unit: str
    writes: list[str]
    readings: list[InstrumentReadingOut]


class FinderFoundOut(Out):
    """One thing that a finder found."""

    words: str


class FinderOut(Out):
    """One finder."""

    key: str
    title: str
    how: str
    nothing: str
    readings: list[InstrumentReadingOut]


def _readings(readings: tuple[ReadingSpec, ...], labels: dict[str, str]) -> list[InstrumentReadingOut]:
    return [
        InstrumentReadingOut(
            key=r.key,
            label=labels[r.key],
            dimension=r.dimension,
            unit=r.unit,
            usual=r.usual,
            low=r.low,
            high=r.high,
            spread=r.spread,
            step=r.step,
        )
        for r in readings
    ]


def finder_out(f: Finder) -> FinderOut:
    """Document of a finder."""
    words = bench.FINDERS[f.key]
    readings = _readings(f.readings, words.readings)
    return FinderOut(key=f.key, title=words.title, how=words.how, nothing=words.nothing, readings=readings)


def found_out(found: Fact, tongue: Tongue) -> FinderFoundOut:
    """Document of something that a finder found."""
    return FinderFoundOut(words=sentence(say(found, tongue)))


def instrument_out(i: Instrument) -> InstrumentOut:
    """Document of an instrument."""
    words = bench.INSTRUMENTS[i.key]
    return InstrumentOut(
        key=i.key,
        title=words.title,
        how=words.how,
        equation=words.equation,
        caution=words.caution,
        source=words.source,
        dimension=i.dimension,
        unit=i.unit,
        writes=list(i.writes),
        readings=_readings(i.readings, words.readings),
    )
