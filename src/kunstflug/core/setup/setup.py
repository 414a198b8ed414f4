"""A setup: one boat with one of each part, ready to be computed."""

from dataclasses import dataclass, field
from typing import Final

import numpy as np

from kunstflug.core.parts import wiring
from kunstflug.core.parts.conditions import Conditions
from kunstflug.core.parts.controller import Controller, controller_mass
from kunstflug.core.parts.hull import Hull, beam, mass_centre
from kunstflug.core.parts.joining import Coupler, Jacket, Mount, Shaft
from kunstflug.core.parts.learnt import Learnt
from kunstflug.core.parts.motor import Motor, motor_mass
from kunstflug.core.parts.pack import MOST_SERIES_CELLS, Pack, pack_mass, series_cells
from kunstflug.core.parts.placement import PlacedPart, Placement
from kunstflug.core.parts.propeller import Propeller
from kunstflug.core.parts.wiring import Wiring
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import Amount, Between, Fact
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Floats, Value, guess
from kunstflug.core.setup.knowledge import Knowledge

LIGHTEST_KG: Final = 0.05
HEAVIEST_KG: Final = 60.0


@dataclass(frozen=True, slots=True, kw_only=True)
class MostSeriesCells(Fact):
    """At most this many cells in series, both packs together."""

    cells: int


@dataclass(frozen=True, slots=True, kw_only=True)
class LessThanBeam(Fact):
    """A propeller is smaller than the hull is wide."""

    beam_m: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MoreThanParts(Fact):
    """A boat weighs more than its motor, controller and pack."""

    parts_kg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class FromPlaces(Fact):
    """A centre of mass from the places of the parts."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Setup:
    """One boat with one of each part.

    Parameters
    ----------
    all_up_mass_kg : the boat ready to run, with pack [kg].
    knowledge : what runs taught; None for a setup as bought.

    Raises
    ------
    InvalidValue : parts that cannot go together (a propeller wider than the hull, more mass in parts than in all).
    """

    name: str
    hull: Hull
    motor: Motor
    controller: Controller
    propeller: Propeller
    pack: Pack
    wiring: Wiring
    conditions: Conditions
    all_up_mass_kg: Value
    placement: Placement = field(default_factory=Placement)
    mount: Mount = field(default_factory=Mount)
    coupler: Coupler = field(default_factory=Coupler)
    shaft: Shaft = field(default_factory=Shaft)
    jacket: Jacket = field(default_factory=Jacket)
    learnt: Learnt = field(default_factory=Learnt)
    knowledge: Knowledge | None = None

    def __post_init__(self) -> None:
        mass = _grams(self.all_up_mass_kg.value)
        if not LIGHTEST_KG <= self.all_up_mass_kg.value <= HEAVIEST_KG:
            allowed = Between(low=LIGHTEST_KG, high=HEAVIEST_KG, dimension=Dimension.MASS, unit="g")
            raise InvalidValue("all_up_mass", mass, allowed)
        cells = series_cells(self.pack)
        if cells > MOST_SERIES_CELLS:
            raise InvalidValue("pack.second_cells", cells, MostSeriesCells(cells=MOST_SERIES_CELLS))
        diameter, width = self.propeller.diameter_m.value, beam(self.hull).value
        if diameter >= width:
            given = Amount(value=diameter, dimension=Dimension.LENGTH, unit="mm")
            raise InvalidValue("propeller.diameter", given, LessThanBeam(beam_m=width))
        weighed = sum(p.mass_kg.value for p in (self.motor, self.controller, self.pack) if p.mass_kg is not None)
        if weighed >= self.all_up_mass_kg.value:
            raise InvalidValue("all_up_mass", mass, MoreThanParts(parts_kg=weighed))


def _grams(kg: float) -> Amount:
    return Amount(value=kg, dimension=Dimension.MASS, unit="g")


def wire_gauge(setup: Setup) -> Value:
    """AWG number of the main wires [1]; where it is not given, what is usually soldered to such a controller."""
    given = setup.wiring.gauge_awg
    if given is not None:
        return Value(value=float(given))
    rating = setup.controller.continuous_current_a.value
    gauge = wiring.gauge_for_awg(rating)
    return guess(float(gauge), 0.0, wiring.GaugeFromRating(gauge_awg=gauge, rating_a=rating))


def thinnest_awg(setup: Setup) -> int:
    """AWG number of the thinnest wire between pack and motor."""
    return wiring.thinnest_awg(setup.wiring, int(wire_gauge(setup).value))


def placed_parts(setup: Setup) -> tuple[PlacedPart, ...]:
    """Every part whose place is known, the empty hull first; none without the empty hull's balance.

    The empty hull weighs what was given, else what is left of the all-up mass.
    """
    place, loads = setup.placement.shell_m, _loads(setup)
    if place is None:
        return ()
    shell = float(_shell_kg(setup, setup.all_up_mass_kg.value, sum(p.mass_kg for p in loads)))
    return (PlacedPart(name="hull", mass_kg=shell, place_m=place.value), *loads)


def _loads(setup: Setup) -> list[PlacedPart]:
    """What stands in the hull and whose place is known."""
    where = setup.placement
    return [
        PlacedPart(name=name, mass_kg=kg, place_m=place.value)
        for name, kg, place in (
            ("motor", motor_mass(setup.motor).value, where.motor_m),
            ("controller", controller_mass(setup.controller).value, where.controller_m),
            ("pack", pack_mass(setup.pack).value, where.pack_m),
            ("ballast", where.ballast_kg.value if where.ballast_kg else 0.0, where.ballast_place_m),
        )
        if place is not None and kg > 0
    ]


def _shell_kg(setup: Setup, mass_kg: Floats, loads_kg: Floats) -> Floats:
    given = setup.placement.shell_mass_kg
    return given.value + 0.0 * mass_kg if given else np.maximum(mass_kg - loads_kg, 0.05 * mass_kg)


def centre_with(setup: Setup, mass_kg: Floats, more_pack_kg: Floats = 0.0) -> Floats:
    """Centre of mass ahead of the transom [m] at another all-up mass, and with more of a pack."""
    loads, shell = _loads(setup), setup.placement.shell_m
    if setup.hull.mass_centre_m is not None or shell is None or all(p.name != "pack" for p in loads):
        return mass_centre(setup.hull).value + 0.0 * mass_kg
    masses = [p.mass_kg + (more_pack_kg if p.name == "pack" else 0.0) for p in loads]
    loaded = sum(masses[1:], masses[0])
    moment = sum((kg * p.place_m for kg, p in zip(masses, loads, strict=True)), 0.0)
    empty = _shell_kg(setup, mass_kg, loaded)
    found: Floats = (moment + empty * shell.value) / (loaded + empty)
    return found


def centre_of_mass(setup: Setup) -> Value:
    """Centre of mass ahead of the transom [m]: measured, from the placed parts, or the usual guess."""
    if setup.hull.mass_centre_m is not None or not {"hull", "pack"} <= {p.name for p in placed_parts(setup)}:
        return mass_centre(setup.hull)
    return guess(float(centre_with(setup, setup.all_up_mass_kg.value)), 0.03, FromPlaces())
