"""What is allowed: ranges, words, and rules between fields."""

from kunstflug.core.bench.finders import WiderThanCan
from kunstflug.core.bench.instruments import LessThanShaft, ReadingsDiffer
from kunstflug.core.choose.backward import OneFree
from kunstflug.core.choose.sweep import Positive
from kunstflug.core.cooling.circuit import BeginsWithPickup, EndsInOutlet, OneLine, TwoBranches
from kunstflug.core.parts.propeller import PitchNeeded
from kunstflug.core.quantity import facts
from kunstflug.core.quantity.units import number_in
from kunstflug.core.setup.setup import LessThanBeam, MoreThanParts, MostSeriesCells
from kunstflug.core.tracks.samples import EqualLengths
from kunstflug.wording.say import fixed, join, says
from kunstflug.wording.tongue import SYMBOLS, Tongue, trimmed


@says(facts.Between)
def _between(f: facts.Between, t: Tongue) -> str:
    unit = t.own(f.unit, f.dimension)
    low, high = (trimmed(number_in(edge, unit, f.dimension)) for edge in (f.low, f.high))
    return f"{low} to {high} {SYMBOLS.get(unit, unit)}".strip()


@says(facts.WholeBetween)
def _whole(f: facts.WholeBetween, t: Tongue) -> str:
    return f"a whole number from {f.low} to {f.high}"


@says(facts.NumberBetween)
def _number(f: facts.NumberBetween, t: Tongue) -> str:
    return f"{trimmed(f.low)} to {trimmed(f.high)}"


@says(facts.AtMost)
def _at_most(f: facts.AtMost, t: Tongue) -> str:
    return f"{trimmed(f.most, 7)} at most"


@says(facts.OneOf)
def _one_of(f: facts.OneOf, t: Tongue) -> str:
    return f"one of {join(list(f.words), 'or')}"


@says(facts.Amount)
def _amount(f: facts.Amount, t: Tongue) -> str:
    return t.quantity(f.value, f.dimension, f.unit, 5)


fixed(facts.Missing, "nothing")
fixed(PitchNeeded, "a pitch or a pitch ratio")
fixed(OneFree, "at least one of motor, propeller and pack left free")
fixed(Positive, "positive numbers")
fixed(BeginsWithPickup, "a line that begins with a pickup")
fixed(EndsInOutlet, "a line that ends in an outlet")
fixed(TwoBranches, "two branches or more")
fixed(OneLine, "one line or more")
fixed(WiderThanCan, "more than the can")
fixed(ReadingsDiffer, "readings that differ and give a number together")
fixed(EqualLengths, "columns of equal length")


@says(LessThanShaft)
def _less_than_shaft(f: LessThanShaft, t: Tongue) -> str:
    return f"less than the shaft's {t.length(f.shaft_m)}"


@says(MostSeriesCells)
def _most_cells(f: MostSeriesCells, t: Tongue) -> str:
    return f"{f.cells} in series at most, both packs together"


@says(LessThanBeam)
def _less_than_beam(f: LessThanBeam, t: Tongue) -> str:
    return f"less than the hull's beam of {t.length(f.beam_m)}"


@says(MoreThanParts)
def _more_than_parts(f: MoreThanParts, t: Tongue) -> str:
    return f"more than motor, controller and pack weigh together: {t.mass(f.parts_kg)}"
