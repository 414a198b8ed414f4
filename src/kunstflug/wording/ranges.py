"""What is allowed: ranges and words of single fields."""

from kunstflug.core.learning import causes
from kunstflug.core.quantity import facts
from kunstflug.core.quantity.units import number_in
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


@says(causes.SlipOfThisRun)
def _slip(f: causes.SlipOfThisRun, t: Tongue) -> str:
    return "a slip that this run still has, in a number that was typed"


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
