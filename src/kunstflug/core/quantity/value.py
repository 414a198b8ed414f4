"""A value that knows where it comes from."""

import dataclasses
from dataclasses import dataclass
from enum import StrEnum
from typing import Final, TypeAlias

import numpy as np
import numpy.typing as npt

from kunstflug.core.quantity.facts import Fact

Floats: TypeAlias = float | npt.NDArray[np.float64]
"""What laws take and give: one number or an array of them."""
Array: TypeAlias = npt.NDArray[np.float64]
Mask: TypeAlias = npt.NDArray[np.bool_]


Z80: Final = 1.2816
"""Standard deviations to either end of the 80 % band of a normal number."""


class Source(StrEnum):
    """Where a value comes from."""

    TYPED = "typed"
    MEASURED = "measured"
    LEARNT = "learnt"
    GUESSED = "guessed"


@dataclass(frozen=True, slots=True, kw_only=True)
class Value:
    """One number with its source.

    Parameters
    ----------
    value : in the unit that the field's name says.
    source : typed, measured, learnt or guessed.
    spread : one standard deviation of the value's logarithm [1]; 0 means taken as exact.
    reason : how a guess was made.
    """

    value: float
    source: Source = Source.TYPED
    spread: float = 0.0
    reason: Fact | None = None

    @property
    def guessed(self) -> bool:
        """Whether nobody gave it."""
        return self.source is Source.GUESSED


def guess(value: float, spread: float, reason: Fact | None) -> Value:
    """A value nobody gave: with its spread [1] and the reason for it."""
    return Value(value=value, source=Source.GUESSED, spread=spread, reason=reason)


def known(given: Value | None, otherwise: Value) -> Value:
    """The given value where there is one, else the guess."""
    return given if given is not None else otherwise


def honest(value: Value, spread: float) -> Value:
    """A value with at least the spread that a typed number of its kind has [1]; measured ones keep their own."""
    if value.source in (Source.MEASURED, Source.LEARNT):
        return value
    return dataclasses.replace(value, spread=max(value.spread, spread))


def scaled(value: Value, factor: float) -> Value:
    """A value times an exact number; source, spread and reason stay."""
    return dataclasses.replace(value, value=value.value * factor)


def exact(value: float) -> Value:
    """A number without a spread: a setting, or a consequence of others."""
    return Value(value=value)
