"""The one editor of setups: what follows from a change, and the mass that goes with the parts.

A change is an ``Edit`` of one field. ``consequences`` says which other fields it makes untrue, and why. Documents carry
the same edits out on what was typed; ``edited`` carries them out on a setup. What a sweep varies as arrays follows from
the same laws of the parts, see ``drive.varied``.
"""

import dataclasses
from dataclasses import dataclass
from typing import Final

from kunstflug.core.parts.controller import Controller, controller_mass
from kunstflug.core.parts.motor import Motor, motor_mass, rewinding
from kunstflug.core.parts.pack import Pack, guessed_mass_kg, pack_mass
from kunstflug.core.parts.propeller import Propeller
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.fields import QuantitySpec, core_field
from kunstflug.core.quantity.value import Source, Value
from kunstflug.core.setup.setup import LIGHTEST_KG, Setup

CONSEQUENCE_SPREAD: Final = 0.2
SHIFTED_SPREAD: Final = 0.02
LEAST_SHIFT_KG: Final = 0.5e-3


@dataclass(frozen=True, slots=True, kw_only=True)
class Edit:
    """One field with its new value.

    Parameters
    ----------
    path : part and field as documents call them (``motor.kv``), or ``all_up_mass``.
    value : in the core's unit; None empties the field.
    """

    path: str
    value: Value | int | str | None


@dataclass(frozen=True, slots=True, kw_only=True)
class Rewound(Fact):
    """Another winding in the same can: one of its numbers follows from the old one."""

    path: str
    kv_factor: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PitchRatioKept(Fact):
    """Another diameter of the same propeller: the pitch follows, so that the pitch ratio stays."""

    pitch_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class PackMassFollows(Fact):
    """Another pack: its mass follows from that of the old one."""

    mass_kg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MassShifted(Fact):
    """The boat is heavier (or, negative, lighter) with these parts."""

    shift_kg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Consequence:
    """An edit that follows from another, and why; no reason where it goes without saying."""

    edit: Edit
    reason: Fact | None


def consequences(setup: Setup, edit: Edit) -> tuple[Consequence, ...]:
    """What a change of one field makes untrue of a setup.

    Parameters
    ----------
    setup : as it is before the change.
    """
    if edit.path == "motor.kv" and isinstance(edit.value, Value):
        return _rewound(setup.motor, edit.value.value)
    if edit.path == "propeller.pitch":
        return (Consequence(edit=Edit(path="propeller.pitch_ratio", value=None), reason=None),)
    if edit.path == "propeller.pitch_ratio":
        return (Consequence(edit=Edit(path="propeller.pitch", value=None), reason=None),)
    if edit.path == "propeller.diameter" and isinstance(edit.value, Value):
        return _resized(setup.propeller, edit.value.value)
    if edit.path in ("pack.cells", "pack.capacity", "pack.parallel"):
        return _repacked(setup.pack, edit)
    return ()


def _rewound(motor: Motor, kv_rpm_per_v: float) -> tuple[Consequence, ...]:
    factor, powers = kv_rpm_per_v / motor.kv_rpm_per_v.value, rewinding(motor)
    found = []
    for path, given, power in (
        ("motor.resistance", motor.resistance_ohm, powers.resistance),
        ("motor.no_load_current", motor.no_load_current_a, powers.no_load),
    ):
        if given is not None and factor != 1.0:
            reason = Rewound(path=path, kv_factor=factor)
            value = _follows(given.value * factor**power, CONSEQUENCE_SPREAD)
            found.append(Consequence(edit=Edit(path=path, value=value), reason=reason))
    return tuple(found)


def _resized(propeller: Propeller, diameter_m: float) -> tuple[Consequence, ...]:
    given = propeller.pitch_m
    if given is None or diameter_m == propeller.diameter_m.value:
        return ()
    pitch = given.value * diameter_m / propeller.diameter_m.value
    edit = Edit(path="propeller.pitch", value=dataclasses.replace(given, value=pitch))
    return (Consequence(edit=edit, reason=PitchRatioKept(pitch_m=pitch)),)


def _repacked(pack: Pack, edit: Edit) -> tuple[Consequence, ...]:
    if pack.mass_kg is None:
        return ()
    name, _ = core_field(Pack, edit.path.partition(".")[2])
    other: Pack = dataclasses.replace(pack, **{name: edit.value})  # type: ignore[arg-type]  # a field of a pack
    scale = float(guessed_mass_kg(other, other.cells)) / float(guessed_mass_kg(pack, pack.cells))
    kg = pack.mass_kg.value * scale
    edit = Edit(path="pack.mass", value=_follows(kg, 0.05))
    return (Consequence(edit=edit, reason=PackMassFollows(mass_kg=kg)),)


def _follows(value: float, spread: float) -> Value:
    return Value(value=value, source=Source.GUESSED, spread=spread)


@dataclass(frozen=True, slots=True, kw_only=True)
class Loads:
    """The parts whose mass moves the boat's."""

    motor: Motor
    controller: Controller
    pack: Pack

    @property
    def mass_kg(self) -> float:
        """Mass of all of them [kg], guessed where it is not given."""
        return motor_mass(self.motor).value + controller_mass(self.controller).value + pack_mass(self.pack).value


def loads_of(setup: Setup) -> Loads:
    """The parts of a setup whose mass moves the boat's."""
    return Loads(motor=setup.motor, controller=setup.controller, pack=setup.pack)


def shifted_mass(all_up: Value, before: Loads, after: Loads) -> Consequence | None:
    """The boat's mass with other parts in it; None where it stays."""
    shift = after.mass_kg - before.mass_kg
    if abs(shift) < LEAST_SHIFT_KG:
        return None
    value = _follows(max(all_up.value + shift, LIGHTEST_KG), max(SHIFTED_SPREAD, all_up.spread))
    return Consequence(edit=Edit(path="all_up_mass", value=value), reason=MassShifted(shift_kg=shift))


def with_parts(
    setup: Setup,
    *,
    motor: Motor | None = None,
    controller: Controller | None = None,
    propeller: Propeller | None = None,
    pack: Pack | None = None,
) -> Setup:
    """The setup with other parts, its mass moved by what they weigh more or less.

    Raises
    ------
    InvalidValue : parts that cannot go together.
    """
    after = Loads(motor=motor or setup.motor, controller=controller or setup.controller, pack=pack or setup.pack)
    moved = shifted_mass(setup.all_up_mass_kg, loads_of(setup), after)
    mass = moved.edit.value if moved is not None else setup.all_up_mass_kg
    assert isinstance(mass, Value)  # an edit of the mass carries one
    return dataclasses.replace(
        setup,
        motor=after.motor,
        controller=after.controller,
        pack=after.pack,
        propeller=propeller or setup.propeller,
        all_up_mass_kg=mass,
    )


def edited(setup: Setup, edit: Edit) -> Setup:
    """The setup with one field changed, and all that follows from it.

    Raises
    ------
    InvalidValue : a value that cannot be, or parts that cannot go together.
    KeyError : a field there is not.
    """
    if edit.path == "all_up_mass":
        assert isinstance(edit.value, Value)
        return dataclasses.replace(setup, all_up_mass_kg=edit.value)
    kind = edit.path.partition(".")[0]
    part = getattr(setup, kind)
    every = (edit, *(c.edit for c in consequences(setup, edit)))
    names = {core_field(type(part), e.path.partition(".")[2])[0]: e.value for e in every}
    changed = dataclasses.replace(part, **names)
    if kind in ("motor", "controller", "propeller", "pack"):
        return with_parts(setup, **{kind: changed})
    return dataclasses.replace(setup, **{kind: changed})


def typed(path: str, value: float | int, setup: Setup) -> Edit:
    """An edit as if somebody had typed a number [core's unit] into a field.

    Raises
    ------
    KeyError : a field there is not.
    """
    if path == "all_up_mass":
        return Edit(path=path, value=Value(value=float(value)))
    kind, _, key = path.partition(".")
    _, spec = core_field(type(getattr(setup, kind)), key)
    if isinstance(spec, QuantitySpec):
        return Edit(path=path, value=Value(value=float(value)))
    return Edit(path=path, value=round(value))
