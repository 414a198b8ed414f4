"""Numbers on a part that contradict each other or what any such part can do: questioned beside their field.

A doubt names the field, says what was given, what is believed instead, and why. What is believed is what the margins
use; nothing that was typed is changed. The ratios are common practice, no source: generous for good parts, passed only
by numbers that were printed to be read.
"""

import dataclasses
from dataclasses import dataclass
from typing import Final

from kunstflug.core import motor, pack
from kunstflug.core.drive.setup import Setup
from kunstflug.core.propeller import part as propeller
from kunstflug.core.values import Source, Value, guess

MOST_A_PER_G: Final = 2.5  # controller, continuous
MOST_W_PER_G: Final = 12.0  # motor, for minutes
MOST_WH_PER_KG: Final = 230.0  # pack
RESISTANCE_FACTOR: Final = 4.0  # a typed resistance this far from the estimate is asked about


@dataclass(frozen=True, slots=True, kw_only=True)
class Doubt:
    """One number that is questioned.

    Parameters
    ----------
    path : field of the setup document.
    sentence : what is doubted, why, and what is used instead.
    """

    path: str
    sentence: str


def believed_controller_a(setup: Setup) -> Value:
    """Continuous rating of the controller that is believed [A]."""
    rating, mass = setup.controller.continuous_current_a, setup.controller.mass_kg
    if mass is None or rating.value <= MOST_A_PER_G * mass.value * 1e3:
        return rating
    most = MOST_A_PER_G * mass.value * 1e3
    return guess(
        most, 0.3, f"{rating.value:.0f} A printed on {mass.value * 1e3:.0f} g; {MOST_A_PER_G:g} A a gram believed"
    )


def believed_motor_w(setup: Setup) -> Value:
    """Power limit of the motor that is believed [W]."""
    printed = setup.motor.max_power_w
    mass = motor.motor_mass(setup.motor).value
    most = MOST_W_PER_G * mass * 1e3
    if printed is None or printed.value <= most:
        return motor.power_limit(setup.motor)
    return guess(most, 0.3, f"{printed.value:.0f} W printed on {mass * 1e3:.0f} g; {MOST_W_PER_G:g} W a gram believed")


def believed_motor_a(setup: Setup) -> Value | None:
    """Current limit of the motor that is believed [A]; None where none is printed.

    More than the believed power at the pack's nominal voltage is not.
    """
    printed = setup.motor.max_current_a
    if printed is None:
        return None
    volts = pack.NOMINAL_CELL_V * pack.series_cells(setup.pack)
    most = MOST_W_PER_G * motor.motor_mass(setup.motor).value * 1e3 / volts
    if printed.value <= most:
        return printed
    return guess(
        most, 0.3, f"{printed.value:.0f} A printed on a motor of {motor.motor_mass(setup.motor).value * 1e3:.0f} g"
    )


def doubts_of(setup: Setup) -> tuple[Doubt, ...]:
    """Every number of a setup that is questioned."""
    found = [
        _less(
            "controller.continuous_current", "A", setup.controller.continuous_current_a, believed_controller_a(setup)
        ),
        _less("motor.max_power", "W", setup.motor.max_power_w, believed_motor_w(setup)),
        _less("motor.max_current", "A", setup.motor.max_current_a, believed_motor_a(setup)),
        _less("pack.c_rating", "C", setup.pack.c_rating, pack.printed_c(setup.pack)),
        _energy(setup),
        _far("motor.resistance", "mohm", 1e3, setup.motor.resistance_ohm, _unmeasured_winding(setup)),
        _far("pack.cell_resistance", "mohm", 1e3, setup.pack.cell_resistance_ohm, _unmeasured_cell(setup)),
        _two_pitches(setup),
        _burst(setup),
    ]
    return tuple(d for d in found if d is not None)


def _less(path: str, unit: str, given: Value | None, believed: Value | None) -> Doubt | None:
    if given is None or believed is None or believed.value >= given.value:
        return None
    return Doubt(path=path, sentence=f"{believed.reason}: {believed.value:.0f} {unit} is used")


def _energy(setup: Setup) -> Doubt | None:
    mass = setup.pack.mass_kg
    if mass is None:
        return None
    other = pack.second_pack(setup.pack)
    wh = pack.energy_wh(0.0, 1.0, setup.pack.capacity_ah.value * setup.pack.parallel, setup.pack.cells)
    wh += 0.0 if other is None else pack.energy_wh(0.0, 1.0, other.capacity_ah.value, other.cells)
    if wh / mass.value <= MOST_WH_PER_KG:
        return None
    return Doubt(
        path="pack.capacity",
        sentence=f"{wh:.0f} Wh in {mass.value * 1e3:.0f} g is {wh / mass.value:.0f} Wh/kg, a high-rate pack has 130 to "
        f"{MOST_WH_PER_KG:.0f}; weigh it, or count what the charger puts back",
    )


def _unmeasured_winding(setup: Setup) -> Value:
    return motor.winding_resistance(dataclasses.replace(setup.motor, resistance_ohm=None))


def _unmeasured_cell(setup: Setup) -> Value:
    return pack.cell_resistance(dataclasses.replace(setup.pack, cell_resistance_ohm=None))


def _far(path: str, unit: str, scale: float, given: Value | None, usual: Value) -> Doubt | None:
    if given is None or given.source is Source.GUESSED:
        return None
    ratio = given.value / usual.value
    if 1 / RESISTANCE_FACTOR <= ratio <= RESISTANCE_FACTOR:
        return None
    return Doubt(
        path=path,
        sentence=f"{given.value * scale:.3g} {unit} is {ratio:.2g} x what such a part has ({usual.value * scale:.2g} "
        f"{unit}); it is used as given, measure it again",
    )


def _two_pitches(setup: Setup) -> Doubt | None:
    wheel = setup.propeller
    if wheel.pitch_m is None or wheel.pitch_ratio is None:
        return None
    ratio = propeller.pitch(wheel).value / wheel.diameter_m.value
    if abs(ratio / wheel.pitch_ratio.value - 1) < 0.02:
        return None
    return Doubt(
        path="propeller.pitch_ratio",
        sentence=f"a pitch ratio of {wheel.pitch_ratio.value:g} and a pitch of {wheel.pitch_m.value * 1e3:g} mm do not "
        f"agree; the pitch is used, which is a ratio of {ratio:.2f}",
    )


def _burst(setup: Setup) -> Doubt | None:
    burst, rating = setup.controller.burst_current_a, setup.controller.continuous_current_a
    if burst is None or burst.value >= rating.value:
        return None
    return Doubt(
        path="controller.burst_current",
        sentence=f"a burst of {burst.value:.0f} A below the continuous {rating.value:.0f} A; the latter is used",
    )
