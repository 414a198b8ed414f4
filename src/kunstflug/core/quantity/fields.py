"""Part fields that know what is possible: dimension, usual unit and range beside each. Labels stand in ``wording``."""

import dataclasses
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, Final, TypeAlias

from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import Amount, Between, NumberBetween, WholeBetween
from kunstflug.core.quantity.units import Dimension, si_from


@dataclass(frozen=True, slots=True, kw_only=True)
class QuantitySpec:
    """What a quantity field of a part is measured in, and may be."""

    dimension: Dimension
    unit: str  # the unit in which it is shown and usually printed
    low: float  # in the core's unit
    high: float
    required: bool
    estimated: bool = True  # whether the core stands something in where it is empty

    def allowed(self) -> Between:
        """What is allowed."""
        return Between(low=self.low, high=self.high, dimension=self.dimension, unit=self.unit)


@dataclass(frozen=True, slots=True, kw_only=True)
class CountSpec:
    """A whole number with its range."""

    low: int
    high: int
    required: bool
    estimated: bool = True

    def allowed(self) -> WholeBetween:
        """What is allowed."""
        return WholeBetween(low=self.low, high=self.high)


@dataclass(frozen=True, slots=True, kw_only=True)
class ChoiceSpec:
    """One of a few words."""

    words: type[StrEnum]


Spec: TypeAlias = QuantitySpec | CountSpec | ChoiceSpec


def quantity(
    dimension: Dimension, unit: str, low: float, high: float, *, required: bool = False, estimated: bool = True
) -> Any:
    """A dataclass field for a :class:`Value`; ``low`` and ``high`` in ``unit``; None unless required.

    Parameters
    ----------
    estimated : whether the core stands something in where it is empty; else it means that there is none.
    """
    spec = QuantitySpec(
        dimension=dimension,
        unit=unit,
        low=si_from(low, unit, dimension),
        high=si_from(high, unit, dimension),
        required=required,
        estimated=estimated,
    )
    if required:
        return dataclasses.field(metadata={"spec": spec})
    return dataclasses.field(default=None, metadata={"spec": spec})


def length(low_mm: float, high_mm: float, *, required: bool = False, estimated: bool = True) -> Any:
    """A field for a length that is shown in millimetres."""
    return quantity(Dimension.LENGTH, "mm", low_mm, high_mm, required=required, estimated=estimated)


def mass(low_g: float, high_g: float, *, estimated: bool = True) -> Any:
    """A field for a mass that is shown in grams."""
    return quantity(Dimension.MASS, "g", low_g, high_g, estimated=estimated)


def count(low: int, high: int, *, default: int | None = None, required: bool = False, estimated: bool = True) -> Any:
    """A dataclass field for a whole number."""
    spec = CountSpec(low=low, high=high, required=required, estimated=estimated)
    if required:
        return dataclasses.field(metadata={"spec": spec})
    return dataclasses.field(default=default, metadata={"spec": spec})


def choice(options: type[StrEnum], default: StrEnum) -> Any:
    """A dataclass field for one of the words of an enumeration."""
    return dataclasses.field(default=default, metadata={"spec": ChoiceSpec(words=options)})


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
                    amount = Amount(value=given.value, dimension=spec.dimension, unit=spec.unit)
                    raise InvalidValue(path, amount, spec.allowed())
                if not 0 <= given.spread <= 2:
                    raise InvalidValue(f"{path}.spread", given.spread, NumberBetween(low=0.0, high=2.0))
            elif isinstance(spec, CountSpec) and not spec.low <= given <= spec.high:
                raise InvalidValue(path, given, spec.allowed())


SI_SUFFIX: Final[dict[Dimension, str]] = {
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


def core_field(part: type[Part], key: str) -> tuple[str, Spec]:
    """Name in the core and spec of a field that documents call ``key``.

    Raises
    ------
    KeyError : the part has no such field.
    """
    for name, spec in fields_of(part):
        if field_key(name, spec) == key:
            return name, spec
    raise KeyError(key)
