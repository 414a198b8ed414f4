"""The setup document: what a setup is on disk, in the API and in the database.

The models are generated from the descriptions that the core's parts carry, so that a field's name, unit and range
are written down once. A quantity is kept as it was typed, with its unit and its source; conversion to SI happens in
``setup_of``.
"""

import dataclasses
from functools import lru_cache
from typing import TYPE_CHECKING, Annotated, Any, Final, Literal

from pydantic import Field, create_model, model_validator

from kunstflug.core.parts import joining
from kunstflug.core.parts.conditions import Conditions
from kunstflug.core.parts.controller import Controller
from kunstflug.core.parts.hull import Hull
from kunstflug.core.parts.learnt import Learnt
from kunstflug.core.parts.motor import Motor
from kunstflug.core.parts.pack import Pack
from kunstflug.core.parts.placement import Placement
from kunstflug.core.parts.propeller import Propeller
from kunstflug.core.parts.wiring import Wiring
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import Missing
from kunstflug.core.quantity.fields import CountSpec, Part, QuantitySpec, Spec, core_field, field_key, fields_of
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.setup.knowledge import Knowledge
from kunstflug.core.setup.setup import Setup
from kunstflug.documents.base import Strict, parsed
from kunstflug.documents.quantity import QUANTITIES, Quantity, value_of
from kunstflug.documents.versions import SETUP_VERSION, part_today, setup_today
from kunstflug.wording import METRIC, say
from kunstflug.wording.fields import ALL_UP_MASS, FIELDS

FORMAT: Final = "kunstflug-setup"


class PartDocument(Strict):
    """Base of the documents of all parts."""

    name: str = Field(default="", max_length=120)

    def quantity(self, key: str) -> Quantity | None:
        """A quantity of the part; None where it is not given.

        Raises
        ------
        AttributeError : the part has no such field.
        """
        found: Quantity | None = getattr(self, key)
        return found


PARTS: Final[dict[str, type[Part]]] = {
    "hull": Hull,
    "motor": Motor,
    "controller": Controller,
    "propeller": Propeller,
    "pack": Pack,
    "wiring": Wiring,
    "conditions": Conditions,
    "placement": Placement,
    "mount": joining.Mount,
    "coupler": joining.Coupler,
    "shaft": joining.Shaft,
    "jacket": joining.Jacket,
    "learnt": Learnt,
}
"""The places of a setup, in the order of the drive line."""
SHELF_PARTS: Final[dict[str, type[Part]]] = {
    **{kind: PARTS[kind] for kind in ("motor", "controller", "propeller", "pack", "hull")},
    **{kind: PARTS[kind] for kind in ("mount", "coupler", "shaft", "jacket")},
    "charger": joining.Charger,
    "collar": joining.Collar,
    "tube": joining.AdapterTube,
    "bearing": joining.Bearing,
    "o-ring": joining.ORing,
    "hose": joining.Hose,
    "pickup": joining.Pickup,
    "y-piece": joining.YPiece,
    "outlet": joining.Outlet,
    "connector": joining.Connector,
    "wire": joining.Wire,
    "servo": joining.Servo,
    "receiver-pack": joining.ReceiverPack,
    "logger": joining.Logger,
}
"""Kinds of parts that lie on the shelf; the first nine are also places of a setup."""
ALL_PARTS: Final = PARTS | SHELF_PARTS


def _part_model(kind: str, part: type[Part]) -> type[PartDocument]:
    fields: dict[str, Any] = {}
    defaults = {f.name: f.default for f in dataclasses.fields(part)}
    for name, spec in fields_of(part):
        key = field_key(name, spec)
        title = FIELDS[kind][key].label
        if isinstance(spec, QuantitySpec):
            model = QUANTITIES[spec.dimension]
            about = Field(default=... if spec.required else None, title=title, description=say(spec.allowed(), METRIC))
            fields[key] = (model if spec.required else model | None, about)
        elif isinstance(spec, CountSpec):
            default = ... if spec.required else defaults[name]
            whole = Annotated[int, Field(title=title, description=say(spec.allowed(), METRIC))]
            fields[key] = (whole if default is not None else whole | None, default)
        else:
            fields[key] = (spec.words, Field(default=defaults[name], title=title))
    return create_model(f"{part.__name__}Document", __base__=PartDocument, __doc__=part.__doc__, **fields)


MODELS: Final[dict[str, type[PartDocument]]] = {kind: _part_model(kind, part) for kind, part in ALL_PARTS.items()}

USUAL_CONDITIONS: Final[dict[str, Any]] = {
    "water": {"value": 16, "unit": "degC", "source": "guessed"},
    "air": {"value": 18, "unit": "degC", "source": "guessed"},
    "headwind": {"value": 0, "unit": "m/s", "source": "guessed"},
    "state_of_charge": {"value": 75, "unit": "%", "source": "guessed"},
    "winding": {"value": 80, "unit": "degC", "source": "guessed"},
}


class SetupDocumentBase(Strict):
    """One boat with one of each part, ready to be forecast."""

    format: Literal["kunstflug-setup"] = "kunstflug-setup"
    version: Literal[3] = SETUP_VERSION
    name: str = Field(default="", max_length=120)
    note: str = Field(default="", max_length=4000)

    @model_validator(mode="before")
    @classmethod
    def _today(cls, raw: Any) -> Any:
        return setup_today(raw)


if TYPE_CHECKING:

    class SetupDocument(SetupDocumentBase):
        """One boat with one of each part; at run time made from the core's parts."""

        hull: PartDocument
        motor: PartDocument
        controller: PartDocument
        propeller: PartDocument
        pack: PartDocument
        wiring: PartDocument
        conditions: PartDocument
        placement: PartDocument
        mount: PartDocument
        coupler: PartDocument
        shaft: PartDocument
        jacket: PartDocument
        learnt: PartDocument
        all_up_mass: Quantity
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
            Field(title=ALL_UP_MASS.label, description="50 to 60 000 g, pack included"),
        ),
    )


def part_in(document: SetupDocument, kind: str) -> PartDocument:
    """A part of a setup by its kind."""
    found: PartDocument = getattr(document, kind)
    return found


def part_of(kind: str, document: PartDocument) -> Any:
    """Core part of a part document; of the type that ``ALL_PARTS`` says.

    Raises
    ------
    InvalidValue : a value outside its range.
    """
    return _part(kind, document.model_dump_json())


@lru_cache(maxsize=1024)  # a slider changes one part and asks for all of them, twice
def _part(kind: str, written: str) -> Any:
    """Core part of a part document as JSON; core parts do not change, so they can be shared."""
    part, document = ALL_PARTS[kind], MODELS[kind].model_validate_json(written)
    given: dict[str, Any] = {"name": document.name}
    for name, spec in fields_of(part):
        raw = getattr(document, field_key(name, spec))
        given[name] = value_of(raw, spec.dimension) if isinstance(spec, QuantitySpec) and raw is not None else raw
    return part(**given)


def setup_of(document: SetupDocument, known: Knowledge | None = None) -> Setup:
    """Core setup of a setup document.

    Parameters
    ----------
    known : what runs taught, as it counts in this boat; None for the boat as bought.

    Raises
    ------
    InvalidValue : a value outside its range, or parts that cannot go together.
    """
    parts = {kind: part_of(kind, part_in(document, kind)) for kind in PARTS}
    conditions = parts["conditions"]
    # Guesses of the conditions are settings, not uncertain parts: they have no spread.
    settings = {
        name: dataclasses.replace(getattr(conditions, name), spread=0.0)
        for name, _ in fields_of(Conditions)
        if getattr(conditions, name) is not None
    }
    parts["conditions"] = dataclasses.replace(conditions, **settings)
    mass = value_of(document.all_up_mass, Dimension.MASS)
    return Setup(name=document.name, all_up_mass_kg=mass, knowledge=known, **parts)


def spec_of(path: str) -> Spec:
    """What a field of a part may be (``motor.kv``).

    Raises
    ------
    KeyError : there is no such field.
    """
    kind, _, key = path.partition(".")
    return core_field(ALL_PARTS[kind], key)[1]


def dimension_of(path: str) -> Dimension:
    """What a quantity of a setup is measured in (``motor.kv``, ``all_up_mass``).

    Raises
    ------
    KeyError : there is no such quantity.
    """
    if path == "all_up_mass":
        return Dimension.MASS
    spec = spec_of(path)
    if not isinstance(spec, QuantitySpec):
        raise KeyError(path)
    return spec.dimension


def require_name(name: str) -> str:
    """A name with something in it, without spaces around it.

    Raises
    ------
    InvalidValue : it is empty.
    """
    if not name.strip():
        raise InvalidValue("name", Missing(), "at least one letter")
    return name.strip()


def parsed_setup(raw: object) -> SetupDocument:
    """The setup document of raw JSON that somebody sent.

    Raises
    ------
    InvalidDocument : it is none.
    """
    document: SetupDocument = parsed(SetupDocument, raw, "")
    return document


def parsed_part(kind: str, raw: object) -> PartDocument:
    """The part document of raw JSON that somebody sent.

    Raises
    ------
    InvalidDocument : it is none.
    """
    document: PartDocument = parsed(MODELS[kind], part_today(kind, raw), kind)
    return document


def stored_part(kind: str, raw: object) -> PartDocument:
    """The part document that was kept; older ones are read, too."""
    return MODELS[kind].model_validate(part_today(kind, raw))


def usual_range(kind: str, key: str) -> tuple[float, float]:
    """Lowest and highest possible value of a quantity of a part, in the core's unit."""
    spec = spec_of(f"{kind}.{key}")
    assert isinstance(spec, QuantitySpec)
    return spec.low, spec.high
