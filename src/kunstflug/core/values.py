"""A value that knows where it comes from, and part fields that know what is possible."""

import dataclasses
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, TypeAlias

import numpy as np
import numpy.typing as npt

from kunstflug.core.errors import InvalidValue
from kunstflug.core.units import Dimension, number_in, si_from

Floats: TypeAlias = float | npt.NDArray[np.float64]
"""What laws take and give: one number or an array of them."""


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
    reason : how a guess was made, in words.
    """

    value: float
    source: Source = Source.TYPED
    spread: float = 0.0
    reason: str = ""


def guess(value: float, spread: float, reason: str) -> Value:
    """A value nobody gave: with its spread [1] and the reason for it."""
    return Value(value=value, source=Source.GUESSED, spread=spread, reason=reason)


def known(given: Value | None, otherwise: Value) -> Value:
    """The given value where there is one, else the guess."""
    return given if given is not None else otherwise


@dataclass(frozen=True, slots=True, kw_only=True)
class QuantitySpec:
    """What a quantity field of a part is called, measured in, and may be."""

    label: str
    dimension: Dimension
    unit: str  # the unit in which it is shown and usually printed
    low: float  # in the core's unit
    high: float
    required: bool
    help: str

    def allowed(self) -> str:
        """What is allowed, in the usual unit."""
        low = number_in(self.low, self.unit, self.dimension)
        high = number_in(self.high, self.unit, self.dimension)
        unit = "" if self.unit == "1" else f" {self.unit}"
        return f"{low:g} to {high:g}{unit}"


@dataclass(frozen=True, slots=True, kw_only=True)
class CountSpec:
    """A whole number with its range."""

    label: str
    low: int
    high: int
    required: bool
    help: str

    def allowed(self) -> str:
        """What is allowed, in words."""
        return f"a whole number, {self.low} to {self.high}"


@dataclass(frozen=True, slots=True, kw_only=True)
class ChoiceSpec:
    """One of a few words."""

    label: str
    words: type[StrEnum]
    help: str

    @property
    def options(self) -> tuple[str, ...]:
        """The words in their order."""
        return tuple(self.words)


Spec: TypeAlias = QuantitySpec | CountSpec | ChoiceSpec


def quantity(
    label: str, dimension: Dimension, unit: str, low: float, high: float, *, required: bool = False, help: str = ""
) -> Any:
    """A dataclass field for a :class:`Value`; ``low`` and ``high`` in ``unit``; None unless required."""
    spec = QuantitySpec(
        label=label,
        dimension=dimension,
        unit=unit,
        low=si_from(low, unit, dimension),
        high=si_from(high, unit, dimension),
        required=required,
        help=help,
    )
    if required:
        return dataclasses.field(metadata={"spec": spec})
    return dataclasses.field(default=None, metadata={"spec": spec})


def count(
    label: str, low: int, high: int, *, default: int | None = None, required: bool = False, help: str = ""
) -> Any:
    """A dataclass field for a whole number."""
    spec = CountSpec(label=label, low=low, high=high, required=required, help=help)
    if required:
        return dataclasses.field(metadata={"spec": spec})
    return dataclasses.field(default=default, metadata={"spec": spec})


def choice(label: str, options: type[StrEnum], default: StrEnum, *, help: str = "") -> Any:
    """A dataclass field for one of the words of an enumeration."""
    spec = ChoiceSpec(label=label, words=options, help=help)
    return dataclasses.field(default=default, metadata={"spec": spec})


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """Base of all parts: a name, and fields checked against their ranges.

    Raises
    ------
    InvalidValue : a field is outside its range or not a finite number.
    """

    name: str = ""

    def __post_init__(self) -> None:
        for field, spec in fields_of(type(self)):
            given = getattr(self, field)
            if given is None:
                continue
            path = f"{type(self).__name__.lower()}.{field_key(field, spec)}"
            if isinstance(spec, QuantitySpec):
                slack = 1e-9 * abs(spec.high)  # a conversion must not push a value over its own edge
                if not spec.low - slack <= given.value <= spec.high + slack:
                    number = number_in(given.value, spec.unit, spec.dimension)
                    unit = "" if spec.unit == "1" else f" {spec.unit}"
                    raise InvalidValue(path, f"{number:g}{unit}", spec.allowed())
                if not 0 <= given.spread <= 2:
                    raise InvalidValue(f"{path}.spread", given.spread, "0 to 2")
            elif isinstance(spec, CountSpec) and not spec.low <= given <= spec.high:
                raise InvalidValue(path, given, spec.allowed())


SI_SUFFIX: dict[Dimension, str] = {
    Dimension.LENGTH: "m",
    Dimension.MASS: "kg",
    Dimension.SPEED: "mps",
    Dimension.TEMPERATURE: "c",
    Dimension.CURRENT: "a",
    Dimension.VOLTAGE: "v",
    Dimension.POWER: "w",
    Dimension.RESISTANCE: "ohm",
    Dimension.CHARGE: "ah",
    Dimension.KV: "rpm_per_v",
    Dimension.ROTATION: "rpm",
    Dimension.RATIO: "",
    Dimension.AREA: "m2",
    Dimension.ANGLE: "deg",
    Dimension.TIME: "s",
    Dimension.TORQUE: "nm",
    Dimension.PRESSURE: "pa",
    Dimension.FLOW: "m3_s",
    Dimension.FORCE: "n",
    Dimension.CONDUCTANCE: "w_k",
    Dimension.HEAT_CAPACITY: "j_k",
}


_specs: dict[str, tuple[tuple[str, Spec], ...]] = {}


def fields_of(part: type[Part]) -> tuple[tuple[str, Spec], ...]:
    """Name and spec of every described field of a part, in order; kept, as every part of every draft asks for it."""
    key = f"{part.__module__}.{part.__qualname__}"
    if key not in _specs:
        found = ((field.name, field.metadata.get("spec")) for field in dataclasses.fields(part))
        _specs[key] = tuple((name, spec) for name, spec in found if spec is not None)
    return _specs[key]


def field_key(field: str, spec: Spec) -> str:
    """Name of a field without its unit, as documents carry it (``can_diameter_m`` -> ``can_diameter``)."""
    if isinstance(spec, QuantitySpec) and (suffix := SI_SUFFIX[spec.dimension]):
        return field.removesuffix(f"_{suffix}")
    return field
