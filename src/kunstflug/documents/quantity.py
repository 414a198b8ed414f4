"""A number with its unit, as somebody typed it, and where it comes from."""

from typing import TYPE_CHECKING, Any, Final, Literal, TypeAlias

from pydantic import Field, create_model

from kunstflug.core.quantity.units import UNITS, Dimension, number_in, si_from
from kunstflug.core.quantity.value import Source, Value
from kunstflug.documents.base import Strict, parsed

GUESSED_SPREAD: Final = 0.2
MEASURED_SPREAD: Final = 0.03


class Quantity(Strict):
    """A number with its unit, as typed, and where it comes from."""

    value: float
    unit: str
    source: Source = Source.TYPED
    spread: float | None = Field(default=None, ge=0, le=2, description="one standard deviation of the logarithm")


def _quantity_model(dimension: Dimension) -> type[Quantity]:
    units: Any = Literal[tuple(UNITS[dimension])]  # one literal per dimension, made from the table
    return create_model(f"{dimension.value.title().replace(' ', '')}Quantity", __base__=Quantity, unit=(units, ...))


QUANTITIES: Final = {dimension: _quantity_model(dimension) for dimension in Dimension}

if TYPE_CHECKING:
    TemperatureQuantity: TypeAlias = Quantity
    SpeedQuantity: TypeAlias = Quantity
    LengthQuantity: TypeAlias = Quantity
    MassQuantity: TypeAlias = Quantity
else:  # made from the table of units, which a type checker cannot follow
    TemperatureQuantity = QUANTITIES[Dimension.TEMPERATURE]
    SpeedQuantity = QUANTITIES[Dimension.SPEED]
    LengthQuantity = QUANTITIES[Dimension.LENGTH]
    MassQuantity = QUANTITIES[Dimension.MASS]


def value_of(quantity: Quantity, dimension: Dimension) -> Value:
    """Core value of a typed quantity; a measured one without a spread is taken to 3 %, a guessed one to 20 %."""
    spread = quantity.spread
    if spread is None:
        spread = {Source.GUESSED: GUESSED_SPREAD, Source.MEASURED: MEASURED_SPREAD}.get(quantity.source, 0.0)
        if dimension in (Dimension.TEMPERATURE, Dimension.SPEED) or quantity.value == 0:
            spread = 0.0
    return Value(value=si_from(quantity.value, quantity.unit, dimension), source=quantity.source, spread=spread)


def quantity_of(value: Value, unit: str, dimension: Dimension) -> Quantity:
    """A quantity in a unit from a core value, rounded to what one would type."""
    number = float(f"{number_in(value.value, unit, dimension):.6g}")
    spread = round(value.spread, 5) if value.spread else None
    return QUANTITIES[dimension](value=number, unit=unit, source=value.source, spread=spread)


def si(quantity: Quantity, dimension: Dimension) -> float:
    """A quantity in the core's unit."""
    return si_from(quantity.value, quantity.unit, dimension)


def same(one: Quantity, other: Quantity, dimension: Dimension) -> bool:
    """Whether two quantities are the same amount, whatever unit they were typed in."""
    a, b = si(one, dimension), si(other, dimension)
    return abs(a - b) <= 1e-9 * max(abs(a), abs(b), 1e-12)


def parsed_quantity(dimension: Dimension, raw: object, field: str) -> Quantity:
    """A quantity that somebody typed.

    Raises
    ------
    InvalidDocument : it is none, or in a unit of something else.
    """
    quantity: Quantity = parsed(QUANTITIES[dimension], raw, field)
    return quantity
