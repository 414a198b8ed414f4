"""Loads against their limits: word, number, limit, reason."""

import math
from typing import Final

from kunstflug.core.drive import limits
from kunstflug.core.drive.forecast import Margin
from kunstflug.core.drive.limits import LimitKey
from kunstflug.core.drive.schools import Stint
from kunstflug.core.drive.verdict import Verdict
from kunstflug.wording.say import say, says, sentence
from kunstflug.wording.tongue import Tongue, trimmed

TITLES: Final = {
    LimitKey.PACK_CURRENT: "Pack current",
    LimitKey.CELL_VOLTAGE: "Cell under load",
    LimitKey.WIRE_CURRENT: "Wire current",
    LimitKey.CONTROLLER_CURRENT: "Controller current",
    LimitKey.ELECTRICAL_RPM: "Electrical rpm",
    LimitKey.MOTOR_CURRENT: "Motor current",
    LimitKey.MOTOR_POWER: "Motor power",
    LimitKey.LOADED_RPM: "Loaded rpm",
    LimitKey.CELLS: "Cells of the controller",
}
STATIONS: Final = {
    LimitKey.PACK_CURRENT: "pack",
    LimitKey.CELL_VOLTAGE: "pack",
    LimitKey.WIRE_CURRENT: "controller",
    LimitKey.CONTROLLER_CURRENT: "controller",
    LimitKey.ELECTRICAL_RPM: "controller",
    LimitKey.MOTOR_CURRENT: "motor",
    LimitKey.MOTOR_POWER: "motor",
    LimitKey.LOADED_RPM: "motor",
    LimitKey.CELLS: "controller",
}
"""Station of the drive line that a load is shown at."""
_WHO: Final = {
    LimitKey.PACK_CURRENT: "the pack gives",
    LimitKey.CELL_VOLTAGE: "a cell falls to",
    LimitKey.WIRE_CURRENT: "the wire carries",
    LimitKey.CONTROLLER_CURRENT: "the controller carries",
    LimitKey.ELECTRICAL_RPM: "the controller has to follow",
    LimitKey.MOTOR_CURRENT: "the motor draws",
    LimitKey.MOTOR_POWER: "the motor takes",
    LimitKey.LOADED_RPM: "the rotor turns",
    LimitKey.CELLS: "the packs have",
}
UNITS: Final = {
    LimitKey.CELL_VOLTAGE: "V",
    LimitKey.ELECTRICAL_RPM: "rpm",
    LimitKey.LOADED_RPM: "rpm",
    LimitKey.CELLS: "cells",
    LimitKey.MOTOR_POWER: "W",
}
"""Unit of a load where it is not ampere."""


def load(key: LimitKey, value: float, t: Tongue) -> str:
    """A load or a limit with its unit."""
    match key:
        case LimitKey.CELL_VOLTAGE:
            return t.voltage(value)
        case LimitKey.MOTOR_POWER:
            return t.power(value)
        case LimitKey.ELECTRICAL_RPM:
            return f"{t.rpm(value)} electrical rpm"
        case LimitKey.LOADED_RPM:
            return f"{t.rpm(value)} rpm"
        case LimitKey.CELLS:
            return f"{value:.0f} cells"
        case _:
            return t.current(value)


def margin(m: Margin, t: Tongue) -> str:
    """A margin: the load, the limit and where it comes from; the verdict stands beside it."""
    said = sentence(f"{_WHO[m.key]} {load(m.key, m.load, t)}; {_basis(m, t)}")
    if m.limit.guessed and m.verdict is not Verdict.HOLDS:
        return f"{said} That limit is a guess: measure it first."
    return said


def _basis(m: Margin, t: Tongue) -> str:
    limit = load(m.key, m.limit.holds, t)
    return say(m.limit.basis, t).replace("{limit}", limit)


def stint(s: Stint, t: Tongue) -> str:
    """How long full throttle lasts."""
    if math.isinf(s.full_s):
        return "for good"
    each = f"for {t.seconds(s.full_s)}"
    return each if s.count == 1 else f"{s.count} times {each}"


def _because(guess: object, t: Tongue) -> str:
    return f" ({say(guess, t)})" if guess is not None else ""  # type: ignore[arg-type]  # a fact


@says(limits.PackRating)
def _pack(f: limits.PackRating, t: Tongue) -> str:
    whose = "the weaker pack's" if f.of_weaker else "a printed" if f.guess is None else "an assumed"
    return f"{t.part(f.trust)} of {whose} {trimmed(f.c_rating)} C is {{limit}}"


@says(limits.BeyondCells)
def _beyond_cells(f: limits.BeyondCells, t: Tongue) -> str:
    return f"{f.cells} cells on a controller printed for {f.printed}: do not connect it"


@says(limits.PrintedCells)
def _printed_cells(f: limits.PrintedCells, t: Tongue) -> str:
    return "the controller is printed for {limit}, do not connect more"


@says(limits.CellFloor)
def _floor(f: limits.CellFloor, t: Tongue) -> str:
    return "{limit} is the floor for a cell under load"


@says(limits.WireHeld)
def _wire(f: limits.WireHeld, t: Tongue) -> str:
    return f"AWG {f.gauge_awg} is good for {{limit}} {stint(f.stint, t)} in still air{_because(f.guess, t)}"


@says(limits.ControllerSustained)
def _sustained(f: limits.ControllerSustained, t: Tongue) -> str:
    return f"{t.part(f.part)} of its {t.current(f.rating_a)} rating is {{limit}}{_because(f.guess, t)}"


@says(limits.ControllerInPasses)
def _passes(f: limits.ControllerInPasses, t: Tongue) -> str:
    burst = f"from its {t.current(f.burst_a)} burst rating"
    return f"it is good for {{limit}} {stint(f.stint, t)}, {burst}{_because(f.guess, t)}"


@says(limits.Commutation)
def _commutation(f: limits.Commutation, t: Tongue) -> str:
    return f"with {f.poles} poles it follows up to {{limit}}{_because(f.guess, t)}"


@says(limits.MotorPrintedCurrent)
def _printed(f: limits.MotorPrintedCurrent, t: Tongue) -> str:
    return "{limit} is printed on it" if f.guess is None else f"{{limit}} is used{_because(f.guess, t)}"


@says(limits.MotorHeldPower)
def _power(f: limits.MotorHeldPower, t: Tongue) -> str:
    how_long = f" {stint(f.stint, t)}" if f.stint is not None else ""
    return f"it is good for {{limit}}{how_long}{_because(f.guess, t)}"


@says(limits.RotorCeiling)
def _rotor(f: limits.RotorCeiling, t: Tongue) -> str:
    more = f", {t.part(f.factor - 1)} above the usual ceiling" if f.factor > 1 else ""
    return f"aim below {{limit}}{more}{_because(f.guess, t)}"
