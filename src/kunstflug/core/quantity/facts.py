"""Facts: what the core found, as a kind and its numbers. Words for them are made elsewhere."""

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

from kunstflug.core.quantity.units import Dimension

_STEP: Final = re.compile(r"(?<!^)(?=[A-Z])")


@dataclass(frozen=True, slots=True, kw_only=True)
class Fact:
    """One thing that is so; each kind is a class of its own, its numbers in SI with the unit in their names."""

    @classmethod
    def code(cls) -> str:
        """Name of the kind, as documents carry it (``PropellerTooBig`` -> ``propeller_too_big``)."""
        return _STEP.sub("_", cls.__name__).lower()


def kinds(base: type[Fact] = Fact) -> Iterator[type[Fact]]:
    """Every kind of fact that is defined."""
    for kind in base.__subclasses__():
        if "__slots__" in vars(kind):  # the class that a slotted dataclass replaces may still be about
            yield kind
        yield from kinds(kind)


@dataclass(frozen=True, slots=True, kw_only=True)
class Between(Fact):
    """A quantity lies between two others; in the core's unit, shown in ``unit``."""

    low: float
    high: float
    dimension: Dimension
    unit: str


@dataclass(frozen=True, slots=True, kw_only=True)
class WholeBetween(Fact):
    """A whole number lies between two others, both included."""

    low: int
    high: int


@dataclass(frozen=True, slots=True, kw_only=True)
class NumberBetween(Fact):
    """A number without a unit lies between two others."""

    low: float
    high: float


@dataclass(frozen=True, slots=True, kw_only=True)
class AtMost(Fact):
    """No more than so many."""

    most: int


@dataclass(frozen=True, slots=True, kw_only=True)
class OneOf(Fact):
    """One of a few words."""

    words: tuple[str, ...]


@dataclass(frozen=True, slots=True, kw_only=True)
class Amount(Fact):
    """A quantity, in the core's unit, shown in ``unit``."""

    value: float
    dimension: Dimension
    unit: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Missing(Fact):
    """Nothing where something is needed."""
