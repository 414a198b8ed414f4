"""The setup document: what a setup is on disk, in the API and in the database.

The models are generated from the descriptions that the core's parts carry, so that a field's name, unit and range
are written down once. A quantity is kept as it was typed, with its unit and its source; conversion to SI happens in
``setup_of``.
"""

import dataclasses
from collections.abc import Sequence
from functools import cache
from typing import TYPE_CHECKING, Annotated, Any, Final, Literal

from pydantic import BaseModel, ConfigDict, Field, ValidationError, create_model

from kunstflug.core.controller import Controller
from kunstflug.core.drive.learnt import Learnt
from kunstflug.core.drive.setup import Conditions, Setup
from kunstflug.core.errors import FieldProblem, InvalidDocument, InvalidValue
from kunstflug.core.fit import parts as fit
from kunstflug.core.fit.parts import Coupler, Jacket, Mount, Shaft
from kunstflug.core.hull import Hull
from kunstflug.core.motor import Motor
from kunstflug.core.pack import Pack
from kunstflug.core.placement import Placement
from kunstflug.core.propeller import Propeller
from kunstflug.core.units import UNITS, Dimension, number_in, si_from
from kunstflug.core.values import ChoiceSpec, CountSpec, Part, QuantitySpec, Source, Value, field_key, fields_of
from kunstflug.core.wiring import Wiring

FORMAT = "kunstflug-setup"
VERSION = 1
MOST_PROBLEMS: Final = 20
_NO_FIELDS: Final = ("body", "document", "value", "query", "path")


class Strict(BaseModel):
    """Base of all documents: unknown fields and NaN are refused."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)


class Quantity(Strict):
    """A number with its unit, as typed, and where it comes from."""

    value: float
    unit: str
    source: Source = Source.TYPED
    spread: float | None = Field(default=None, ge=0, le=2, description="one standard deviation of the logarithm")


def _quantity_model(dimension: Dimension) -> type[Quantity]:
    units: Any = Literal[tuple(UNITS[dimension])]  # one literal per dimension, made from the table
    return create_model(f"{dimension.value.title()}Quantity", __base__=Quantity, unit=(units, ...))


QUANTITIES = {dimension: _quantity_model(dimension) for dimension in Dimension}


class PartDocument(Strict):
    """Base of the documents of all parts."""

    name: str = Field(default="", max_length=120)


def _part_model(part: type[Part]) -> type[PartDocument]:
    fields: dict[str, Any] = {}
    defaults = {f.name: f.default for f in dataclasses.fields(part)}
    for name, spec in fields_of(part):
        key = field_key(name, spec)
        if isinstance(spec, QuantitySpec):
            model = QUANTITIES[spec.dimension]
            about = Field(default=... if spec.required else None, title=spec.label, description=spec.allowed())
            fields[key] = (model if spec.required else model | None, about)
        elif isinstance(spec, CountSpec):
            default = ... if spec.required else defaults[name]
            whole = Annotated[int, Field(title=spec.label, description=spec.allowed())]
            fields[key] = (whole if default is not None else whole | None, default)
        else:
            fields[key] = (spec.words, Field(default=defaults[name], title=spec.label))
    return create_model(f"{part.__name__}Document", __base__=PartDocument, __doc__=part.__doc__, **fields)


PARTS: dict[str, type[Part]] = {
    "hull": Hull,
    "motor": Motor,
    "controller": Controller,
    "propeller": Propeller,
    "pack": Pack,
    "wiring": Wiring,
    "conditions": Conditions,
    "placement": Placement,
    "mount": Mount,
    "coupler": Coupler,
    "shaft": Shaft,
    "jacket": Jacket,
    "learnt": Learnt,
}
SHELF_PARTS: dict[str, type[Part]] = {
    **{kind: PARTS[kind] for kind in ("motor", "controller", "propeller", "pack", "hull")},
    **{kind: PARTS[kind] for kind in ("mount", "coupler", "shaft", "jacket")},
    "charger": fit.Charger,
    "collar": fit.Collar,
    "tube": fit.AdapterTube,
    "bearing": fit.Bearing,
    "o-ring": fit.ORing,
    "hose": fit.Hose,
    "pickup": fit.Pickup,
    "y-piece": fit.YPiece,
    "outlet": fit.Outlet,
    "connector": fit.Connector,
    "wire": fit.Wire,
    "servo": fit.Servo,
    "receiver pack": fit.ReceiverPack,
    "logger": fit.Logger,
}
"""Kinds of parts that lie on the shelf; the first nine are also places of a setup."""
MODELS: dict[str, type[PartDocument]] = {kind: _part_model(part) for kind, part in (PARTS | SHELF_PARTS).items()}

USUAL_CONDITIONS: dict[str, Any] = {
    "water": {"value": 16, "unit": "degC", "source": "guessed"},
    "air": {"value": 18, "unit": "degC", "source": "guessed"},
    "headwind": {"value": 0, "unit": "m/s", "source": "guessed"},
    "state_of_charge": {"value": 75, "unit": "%", "source": "guessed"},
    "winding": {"value": 80, "unit": "degC", "source": "guessed"},
}


class SetupDocumentBase(Strict):
    """One boat with one of each part, ready to be forecast."""

    format: Literal["kunstflug-setup"] = "kunstflug-setup"
    version: Literal[1] = 1
    name: str = Field(default="", max_length=120)
    note: str = Field(default="", max_length=4000)


if TYPE_CHECKING:

    class SetupDocument(SetupDocumentBase):
        """One boat with one of each part; at run time made from the core's parts."""

        hull: Any
        motor: Any
        controller: Any
        propeller: Any
        pack: Any
        wiring: Any
        conditions: Any
        placement: Any
        mount: Any
        coupler: Any
        shaft: Any
        jacket: Any
        learnt: Any
        all_up_mass: Any
else:
    SetupDocument = create_model(
        "SetupDocument",
        __base__=SetupDocumentBase,
        __doc__=SetupDocumentBase.__doc__,
        **{kind: (MODELS[kind], ...) for kind in ("hull", "motor", "controller", "propeller", "pack")},
        wiring=(MODELS["wiring"], Field(default_factory=MODELS["wiring"])),
        conditions=(MODELS["conditions"], Field(default_factory=lambda: MODELS["conditions"](**USUAL_CONDITIONS))),
        **{
            kind: (MODELS[kind], Field(default_factory=MODELS[kind]))
            for kind in ("placement", "mount", "coupler", "shaft", "jacket", "learnt")
        },
        all_up_mass=(
            QUANTITIES[Dimension.MASS],
            Field(title="All-up mass", description="50 to 60000 g, pack included"),
        ),
    )


def value_of(quantity: Quantity, dimension: Dimension) -> Value:
    """Core value of a typed quantity; a measured one without a spread is taken to 3 %."""
    spread = quantity.spread
    if spread is None:
        spread = {Source.GUESSED: 0.2, Source.MEASURED: 0.03}.get(quantity.source, 0.0)
        if dimension in (Dimension.TEMPERATURE, Dimension.SPEED) or quantity.value == 0:
            spread = 0.0
    return Value(value=si_from(quantity.value, quantity.unit, dimension), source=quantity.source, spread=spread)


def part_of(kind: str, document: BaseModel) -> Any:
    """Core part of a part document.

    Raises
    ------
    InvalidValue : a value outside its range.
    """
    part = (PARTS | SHELF_PARTS)[kind]
    given: dict[str, Any] = {"name": getattr(document, "name", "")}
    for name, spec in fields_of(part):
        raw = getattr(document, field_key(name, spec))
        given[name] = value_of(raw, spec.dimension) if isinstance(spec, QuantitySpec) and raw is not None else raw
    return part(**given)


def setup_of(document: Any) -> Setup:
    """Core setup of a setup document.

    Raises
    ------
    InvalidValue : a value outside its range, or parts that cannot go together.
    """
    parts = {kind: part_of(kind, getattr(document, kind)) for kind in PARTS}
    # Guesses of the conditions are settings, not uncertain parts: they have no spread.
    parts["conditions"] = dataclasses.replace(
        parts["conditions"],
        **{
            name: dataclasses.replace(getattr(parts["conditions"], name), spread=0.0)
            for name, _ in fields_of(Conditions)
            if getattr(parts["conditions"], name) is not None
        },
    )
    return Setup(name=document.name, all_up_mass_kg=value_of(document.all_up_mass, Dimension.MASS), **parts)


def quantity_for(value_si: float, unit: str, dimension: Dimension, source: Source, spread: float | None = None) -> Any:
    """A quantity in a unit from a value in the core's unit, rounded to what one would type."""
    number = float(f"{number_in(value_si, unit, dimension):.6g}")
    return QUANTITIES[dimension](value=number, unit=unit, source=source, spread=spread)


@cache
def field_table() -> tuple[dict[str, Any], ...]:
    """Every field of every part with label, unit, range and help: what forms are made from."""
    rows: list[dict[str, Any]] = []
    for kind, part in (PARTS | SHELF_PARTS).items():
        defaults = {f.name: f.default for f in dataclasses.fields(part)}
        for name, spec in fields_of(part):
            row: dict[str, Any] = {
                "part": kind,
                "key": field_key(name, spec),
                "label": spec.label,
                "help": spec.help,
                "type": {QuantitySpec: "quantity", CountSpec: "count", ChoiceSpec: "choice"}[type(spec)],
            }
            if isinstance(spec, QuantitySpec):
                row |= {
                    "dimension": spec.dimension.value,
                    "unit": spec.unit,
                    "low": float(f"{number_in(spec.low, spec.unit, spec.dimension):.6g}"),
                    "high": float(f"{number_in(spec.high, spec.unit, spec.dimension):.6g}"),
                    "required": spec.required,
                }
            elif isinstance(spec, CountSpec):
                row |= {
                    "low": spec.low,
                    "high": spec.high,
                    "required": spec.required,
                    "default": defaults[name] if not spec.required else None,
                }
            else:
                row |= {"options": list(spec.options), "required": False, "default": str(defaults[name])}
            rows.append(row)
    return tuple(rows)


def require_name(name: str) -> str:
    """A name with something in it, without spaces around it.

    Raises
    ------
    InvalidValue : it is empty.
    """
    if not name.strip():
        raise InvalidValue("name", "empty", "at least one letter")
    return name.strip()


def parsed_setup(raw: Any) -> Any:
    """The setup document of raw JSON that somebody sent.

    Raises
    ------
    InvalidDocument : it is none.
    """
    return _parsed(SetupDocument, raw, "")


def parsed_part(kind: str, raw: Any) -> Any:
    """The part document of raw JSON that somebody sent.

    Raises
    ------
    InvalidDocument : it is none.
    """
    return _parsed(MODELS[kind], raw, kind)


def parsed_quantity(dimension: Dimension, raw: Any, field: str) -> Quantity:
    """A quantity that somebody typed.

    Raises
    ------
    InvalidDocument : it is none, or in a unit of something else.
    """
    quantity: Quantity = _parsed(QUANTITIES[dimension], raw, field)
    return quantity


def usual_range(kind: str, key: str) -> tuple[float, float]:
    """Lowest and highest possible value of a quantity of a part, in the core's unit."""
    for name, spec in fields_of(PARTS[kind]):
        if field_key(name, spec) == key and isinstance(spec, QuantitySpec):
            return spec.low, spec.high
    raise KeyError(f"{kind}.{key}")


def _parsed(model: type[BaseModel], raw: Any, root: str) -> Any:
    try:
        return model.model_validate(raw)
    except ValidationError as error:
        raise InvalidDocument(field_problems(error.errors(), root)) from error


def field_problems(errors: Sequence[Any], root: str = "") -> list[FieldProblem]:
    """Validation errors with the fields named as the documents name them."""
    found = []
    for error in errors[:MOST_PROBLEMS]:
        words = [root, *(str(p) for p in error["loc"] if p not in _NO_FIELDS and not isinstance(p, int))]
        given = error.get("input")
        found.append(
            FieldProblem(
                field=".".join(w for w in words if w) or "request",
                value=given if isinstance(given, str | int | float | bool) else None,
                allowed=str(error["msg"]),
            )
        )
    return found
