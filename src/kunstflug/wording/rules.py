"""What is allowed: rules between fields."""

from kunstflug.core.bench.finders import WiderThanCan
from kunstflug.core.bench.instruments import LessThanShaft, ReadingsDiffer
from kunstflug.core.choose.backward import OneFree
from kunstflug.core.choose.sweep import Positive
from kunstflug.core.cooling.circuit import BeginsWithPickup, EndsInOutlet, OneLine, TwoBranches
from kunstflug.core.parts.propeller import PitchNeeded
from kunstflug.core.setup.setup import LessThanBeam, MoreThanParts, MostSeriesCells
from kunstflug.core.tracks.samples import EqualLengths
from kunstflug.wording.say import fixed, says
from kunstflug.wording.tongue import Tongue

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
