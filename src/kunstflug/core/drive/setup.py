"""A setup: one boat with one of each part, ready to be computed."""

from dataclasses import dataclass, field

from kunstflug.core.controller import Controller
from kunstflug.core.drive.learnt import Learnt
from kunstflug.core.errors import InvalidValue
from kunstflug.core.fit.parts import Coupler, Jacket, Mount, Shaft
from kunstflug.core.hull import Hull, beam, mass_centre
from kunstflug.core.motor import Motor, motor_mass
from kunstflug.core.pack import MOST_SERIES_CELLS, Pack, pack_mass, series_cells
from kunstflug.core.placement import Placed, Placement, centre_m
from kunstflug.core.propeller import Propeller
from kunstflug.core.units import Dimension
from kunstflug.core.values import Part, Value, guess, quantity
from kunstflug.core.wiring import Wiring


@dataclass(frozen=True, slots=True, kw_only=True)
class Conditions(Part):
    """What a forecast is made for, where the racer says nothing else."""

    water_c: Value = quantity("Water", Dimension.TEMPERATURE, "degC", 0, 40, required=True)
    air_c: Value = quantity("Air", Dimension.TEMPERATURE, "degC", -20, 50, required=True)
    headwind_mps: Value = quantity("Headwind", Dimension.SPEED, "m/s", -15, 15, required=True)
    state_of_charge: Value = quantity("Charge at the start of the pass", Dimension.RATIO, "%", 5, 100, required=True)
    pack_c: Value | None = quantity("Pack before the run", Dimension.TEMPERATURE, "degC", -10, 60)
    winding_c: Value = quantity("Winding", Dimension.TEMPERATURE, "degC", -10, 200, required=True)


@dataclass(frozen=True, slots=True, kw_only=True)
class Setup:
    """One boat with one of each part.

    Parameters
    ----------
    all_up_mass_kg : the boat ready to run, with pack [kg].

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

    def __post_init__(self) -> None:
        mass = self.all_up_mass_kg.value
        if not 0.05 <= mass <= 60.0:
            raise InvalidValue("all_up_mass", f"{mass * 1e3:g} g", "50 to 60000 g")
        cells = series_cells(self.pack)
        if cells > MOST_SERIES_CELLS:
            raise InvalidValue("pack.second_cells", f"{cells} cells in series", f"{MOST_SERIES_CELLS} with both packs")
        diameter, width = self.propeller.diameter_m.value, beam(self.hull).value
        if diameter >= width:
            raise InvalidValue(
                "propeller.diameter", f"{diameter * 1e3:g} mm", f"less than the hull's beam of {width * 1e3:.0f} mm"
            )
        weighed = sum(p.mass_kg.value for p in (self.motor, self.controller, self.pack) if p.mass_kg is not None)
        if weighed >= mass:
            raise InvalidValue(
                "all_up_mass", f"{mass * 1e3:g} g", f"more than motor, controller and pack weigh: {weighed * 1e3:.0f} g"
            )


def placed_parts(setup: Setup) -> tuple[Placed, ...]:
    """Every part whose place is known, the empty hull first; none without the empty hull's balance.

    The empty hull weighs what was given, else what is left of the all-up mass.
    """
    where, loads = setup.placement, []
    if where.shell_m is None:
        return ()
    amps = setup.controller.continuous_current_a.value
    electronics = setup.controller.mass_kg.value if setup.controller.mass_kg else 0.95e-3 * amps
    for name, mass, place in (
        ("motor", motor_mass(setup.motor).value, where.motor_m),
        ("controller", electronics, where.controller_m),
        ("pack", pack_mass(setup.pack).value, where.pack_m),
        ("ballast", where.ballast_kg.value if where.ballast_kg else 0.0, where.ballast_place_m),
    ):
        if place is not None and mass > 0:
            loads.append(Placed(name=name, mass_kg=mass, place_m=place.value))
    rest = setup.all_up_mass_kg.value - sum(p.mass_kg for p in loads)
    shell = where.shell_mass_kg.value if where.shell_mass_kg else max(rest, 0.05 * setup.all_up_mass_kg.value)
    return (Placed(name="hull", mass_kg=shell, place_m=where.shell_m.value), *loads)


def centre_of_mass(setup: Setup) -> Value:
    """Centre of mass ahead of the transom [m]: measured, from the placed parts, or the usual guess."""
    if setup.hull.mass_centre_m is not None:
        return setup.hull.mass_centre_m
    parts = placed_parts(setup)
    if {"hull", "pack"} <= {p.name for p in parts}:
        return guess(centre_m(parts), 0.03, "from the parts as they are placed")
    return mass_centre(setup.hull)
