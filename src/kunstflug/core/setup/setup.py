"""A setup: one boat with one of each part, ready to be computed."""

from dataclasses import dataclass, field
from typing import Final

from kunstflug.core.parts import wiring
from kunstflug.core.parts.conditions import Conditions
from kunstflug.core.parts.controller import Controller, controller_mass
from kunstflug.core.parts.hull import Hull, beam, mass_centre
from kunstflug.core.parts.joining import Coupler, Jacket, Mount, Shaft
from kunstflug.core.parts.learnt import Learnt
from kunstflug.core.parts.motor import Motor, motor_mass
from kunstflug.core.parts.pack import MOST_SERIES_CELLS, Pack, pack_mass, series_cells
from kunstflug.core.parts.placement import Placed, Placement, centre_m
from kunstflug.core.parts.propeller import Propeller
from kunstflug.core.parts.wiring import Wiring
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import Amount, Between, Fact
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Value, guess
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


def placed_parts(setup: Setup) -> tuple[Placed, ...]:
    """Every part whose place is known, the empty hull first; none without the empty hull's balance.

    The empty hull weighs what was given, else what is left of the all-up mass.
    """
    where, loads = setup.placement, []
    if where.shell_m is None:
        return ()
    for name, kg, place in (
        ("motor", motor_mass(setup.motor).value, where.motor_m),
        ("controller", controller_mass(setup.controller).value, where.controller_m),
        ("pack", pack_mass(setup.pack).value, where.pack_m),
        ("ballast", where.ballast_kg.value if where.ballast_kg else 0.0, where.ballast_place_m),
    ):
        if place is not None and kg > 0:
            loads.append(Placed(name=name, mass_kg=kg, place_m=place.value))
    rest = setup.all_up_mass_kg.value - sum(p.mass_kg for p in loads)
    shell = where.shell_mass_kg.value if where.shell_mass_kg else max(rest, 0.05 * setup.all_up_mass_kg.value)
    return (Placed(name="hull", mass_kg=shell, place_m=where.shell_m.value), *loads)


def centre_of_mass(setup: Setup) -> Value:
    """Centre of mass ahead of the transom [m]: measured, from the placed parts, or the usual guess."""
    if setup.hull.mass_centre_m is not None:
        return setup.hull.mass_centre_m
    parts = placed_parts(setup)
    if {"hull", "pack"} <= {p.name for p in parts}:
        return guess(centre_m(parts), 0.03, FromPlaces())
    return mass_centre(setup.hull)
