"""Backward: from a wanted speed and what is fixed to KV, propeller, cells and the classes of the rest."""

import math
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core import pack
from kunstflug.core.drive.operating_point import hull_resistance_n
from kunstflug.core.drive.parameters import drive_values
from kunstflug.core.drive.schools import USUAL, ControllerSchool, Schools
from kunstflug.core.drive.setup import Setup
from kunstflug.core.errors import InvalidValue
from kunstflug.core.matching.sweep import NO_POINT, REASONS, SweepResult, pareto_front, ranges_about, sweep
from kunstflug.core.motor import can_length_for_m, motor_mass
from kunstflug.core.placement import WALL_BEHIND_M
from kunstflug.core.propeller import part as propeller
from kunstflug.core.wiring import PINS_A, awg_diameter_m

CONTROLLER_CLASSES_A: Final = (30, 45, 60, 80, 100, 120, 150, 180, 200, 240, 300, 400)
WIRE_A_PER_MM2: Final = 22.0  # silicone wire, short runs in a cooled hull (common practice, no source)
PARTS: Final = ("motor", "propeller", "pack")


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """A drive that reaches the wanted speed, or comes nearest to it.

    Parameters
    ----------
    headroom : what is left of the tightest limit [1]; negative where it does not hold.
    boat_kg : the boat, ready to run, with that motor and pack [kg].
    motor_kg : motor that takes the power for minutes at 5 W a gram [kg] (common practice, no source).
    motor_room_m : length that it takes at today's diameter of can, with its wires [m].
    """

    kv_rpm_per_v: float
    diameter_m: float
    pitch_ratio: float
    cells: int
    speed_mps: float
    current_a: float
    rpm: float
    shaft_power_w: float
    use: float
    headroom: float
    tightest: str
    verdict: int
    run_s: float
    controller_class_a: float
    pack_c: float
    motor_kg: float
    motor_room_m: float
    boat_kg: float
    wire_awg: int
    pin_mm: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Backward:
    """The answer to a wish.

    Parameters
    ----------
    possible : whether a drive reaches the speed within all limits.
    answers : the easiest drive for each number of cells tried, easiest first.
    reason : what makes it impossible; empty where it is possible.
    speed_mps, power_w : curve of the shaft power the hull takes against speed, shape (G,).
    """

    wanted_mps: float
    possible: bool
    answers: tuple[Answer, ...]
    reason: str
    speed_mps: np.ndarray
    power_w: np.ndarray


def shaft_power_curve(setup: Setup, top_mps: float, efficiency: float) -> tuple[np.ndarray, np.ndarray]:
    """Shaft power that the hull takes against speed [m/s], [W]: resistance x speed over the propeller's efficiency."""
    speed = np.linspace(0.0, top_mps, 60)
    p = drive_values(setup).nominal()
    return speed, np.asarray(hull_resistance_n(p, speed)) * speed / (efficiency * p.shaft_efficiency)


def backward(
    setup: Setup,
    wanted_mps: float,
    locked: frozenset[str],
    schools: Schools = USUAL,
    minutes: float = 0.0,
    most_kg: float = float("inf"),
) -> Backward:
    """Drives for this hull that reach a speed.

    Parameters
    ----------
    locked : which of ``PARTS`` cannot be changed.
    minutes : least full-throttle minutes from the pack; 0 for none.
    most_kg : heaviest boat, ready to run, with the motor and the pack that the answer takes [kg].

    Raises
    ------
    InvalidValue : a speed that cannot be, or everything locked.
    """
    if not 1.0 <= wanted_mps <= 120.0:
        raise InvalidValue("wanted", f"{wanted_mps:g} m/s", "1 to 120 m/s")
    if locked >= set(PARTS):
        raise InvalidValue("locks", "motor, propeller and pack", "at least one of them free")
    # A part that is still to be chosen sets no limit: what it must be able to do is part of the answer.
    to_buy = {"Controller current", "Wire, held"}
    to_buy |= set() if "motor" in locked else {"Motor power"}
    to_buy |= set() if "pack" in locked else {"Pack current"}
    found = sweep(setup, _ranges(setup, locked), schools, frozenset(to_buy))
    enough = (found.verdict != NO_POINT) & np.isfinite(found.speed_mps)
    if minutes > 0:
        enough &= found.run_s >= 60 * minutes
    boat_kg = _boat_kg(setup, found, "motor" in locked)
    light = enough & (boat_kg <= most_kg)
    heavy_only = bool(enough.any() and not light.any())
    enough = light
    reaching = enough & (found.speed_mps >= wanted_mps)
    holding = reaching & (found.use <= 1.0)
    answers = _answers(setup, found, reaching if reaching.any() else enough, boat_kg, bool(reaching.any()), schools)
    top = max(1.35 * wanted_mps, 1.1 * max((a.speed_mps for a in answers), default=wanted_mps))
    speed, power = shaft_power_curve(setup, top, 0.67)
    return Backward(
        wanted_mps=wanted_mps,
        possible=bool(holding.any()),
        answers=answers,
        reason=""
        if holding.any()
        else f"every drive that is free makes the boat heavier than {most_kg * 1e3:.0f} g"
        if heavy_only
        else _why(found, enough, reaching, minutes),
        speed_mps=speed,
        power_w=power,
    )


MOTOR_W_PER_KG: Final = 5000.0  # electrical, for minutes (common practice, no source)


def _boat_kg(setup: Setup, found: SweepResult, motor_stays: bool) -> np.ndarray:
    """Mass of the boat with the pack of each drive, and with the motor that its power takes where that is free [kg]."""
    series = pack.series_cells(setup.pack)
    kg = setup.all_up_mass_kg.value * found.mass_factor + pack.pack_mass(setup.pack).value * (found.cells / series - 1)
    if not motor_stays:
        kg = kg + found.shaft_power_w / 0.9 / MOTOR_W_PER_KG - motor_mass(setup.motor).value
    return np.asarray(kg)


def _ranges(setup: Setup, locked: frozenset[str]):  # type: ignore[no-untyped-def]  # Ranges
    kv = setup.motor.kv_rpm_per_v.value
    widest = min(0.8 * _beam(setup), 0.11)
    ratio = propeller.pitch(setup.propeller).value / setup.propeller.diameter_m.value
    free_motor, free_propeller = "motor" not in locked, "propeller" not in locked
    return ranges_about(
        setup,
        kv=np.geomspace(max(0.3 * kv, 300), min(3.0 * kv, 6000), 44) if free_motor else None,
        diameter=np.linspace(0.024, max(widest, 0.03), 34) if free_propeller else None,
        pitch_ratio=np.unique(np.append(np.array([1.2, 1.4, 1.6]), round(ratio, 3))) if free_propeller else None,
        cells=np.arange(2.0, 13.0) if "pack" not in locked else None,
    )


def _beam(setup: Setup) -> float:
    from kunstflug.core.hull import beam

    return beam(setup.hull).value


def _answers(
    setup: Setup, found: SweepResult, allowed: np.ndarray, boat_kg: np.ndarray, reached: bool, schools: Schools
) -> tuple[Answer, ...]:
    """For each number of cells the drive that does it with the least current (or the fastest, where none does)."""
    answers = []
    for cells in np.unique(found.cells):
        at = np.flatnonzero(allowed & (found.cells == cells))
        if not at.size:
            continue
        if reached:
            holding = at[found.use[at] <= 1.0]
            # The least current that does it; where nothing holds, the least use of the limits.
            best = holding[np.argmin(found.current_a[holding])] if holding.size else at[np.argmin(found.use[at])]
        else:
            holding = at[found.use[at] <= 1.0]
            pool = holding if holding.size else at
            best = pool[np.argmax(found.speed_mps[pool])]
        answers.append(_answer(setup, found, int(best), schools, float(boat_kg[best])))
    key = (lambda a: (a.use > 1.0, a.shaft_power_w)) if reached else (lambda a: (a.use > 1.0, -a.speed_mps))
    return tuple(sorted(answers, key=key))


def _answer(setup: Setup, found: SweepResult, k: int, schools: Schools, boat_kg: float) -> Answer:
    current = float(found.current_a[k])
    burst = schools.controller is ControllerSchool.BURST
    needed = current / 0.9 / (1.3 if burst else 1.0)
    controller_a = next((c for c in CONTROLLER_CLASSES_A if c >= needed), CONTROLLER_CLASSES_A[-1])
    pin = next((mm for mm, amps in PINS_A if amps >= current), PINS_A[-1][0])
    section = current / WIRE_A_PER_MM2
    gauge = next((g for g in range(16, 1, -2) if math.pi / 4 * (float(awg_diameter_m(g)) * 1e3) ** 2 >= section), 2)
    motor_kg = float(found.shaft_power_w[k]) / 0.9 / MOTOR_W_PER_KG
    return Answer(
        kv_rpm_per_v=float(found.kv_rpm_per_v[k]),
        diameter_m=float(found.diameter_m[k]),
        pitch_ratio=float(found.pitch_ratio[k]),
        cells=int(found.cells[k]),
        speed_mps=float(found.speed_mps[k]),
        current_a=current,
        rpm=float(found.rpm[k]),
        shaft_power_w=float(found.shaft_power_w[k]),
        use=float(found.use[k]),
        headroom=1.0 - float(found.use[k]),
        tightest=REASONS[int(found.reason[k])],
        verdict=int(found.verdict[k]),
        run_s=float(found.run_s[k]),
        controller_class_a=float(controller_a),
        pack_c=current / (pack.usable_ah(setup.pack) * schools.pack_trust),
        motor_kg=motor_kg,
        motor_room_m=can_length_for_m(motor_kg, setup.motor.can_diameter_m.value) + WALL_BEHIND_M,
        boat_kg=boat_kg,
        wire_awg=gauge,
        pin_mm=pin,
    )


def _why(found: SweepResult, enough: np.ndarray, reaching: np.ndarray, minutes: float) -> str:
    if not enough.any():
        if minutes > 0 and (found.verdict != NO_POINT).any():
            longest = float(np.max(found.run_s[found.verdict != NO_POINT])) / 60
            return f"no drive runs {minutes:g} minutes at full throttle on this pack; the longest is {longest:.1f}"
        return "no combination of what is free makes this hull plane"
    if reaching.any():
        at = np.flatnonzero(reaching)
        easiest = at[np.argmin(found.use[at])]
        reason = REASONS[int(found.reason[easiest])].lower()
        return f"it can be reached, but the easiest drive uses {found.use[easiest]:.0%} of its limit: {reason}"
    fastest = float(np.max(found.speed_mps[enough]))
    lasting = f" that lasts {minutes:g} minutes" if minutes > 0 else ""
    return f"nothing that is free reaches it; the fastest drive tried{lasting} gives {fastest * 3.6:.0f} km/h"


def lasting_front(speed: np.ndarray, run_s: np.ndarray, verdict: np.ndarray) -> np.ndarray:
    """Indices of the Pareto front of speed against run time, among drives that do not have to be stopped."""
    good = np.flatnonzero(verdict < 2)
    return good[pareto_front(speed[good], -run_s[good])] if good.size else good


def best_of_steps(front: np.ndarray, speed: np.ndarray, merit: np.ndarray, part: float = 0.03) -> np.ndarray:
    """Of a front's indices the one with the most merit in each ``part`` of speed [1], slowest first.

    Where two merits trade almost exactly, speed for run time, nearly every drive lies on the front; a map shows one for
    each step that a racer could tell.
    """
    best_first = front[np.argsort(-merit[front], kind="stable")]
    _, first = np.unique(np.floor(np.log(speed[best_first]) / np.log1p(part)), return_index=True)
    chosen: np.ndarray = best_first[first]
    return chosen


def front(found: SweepResult) -> np.ndarray:
    """Indices of the Pareto front of speed against the tightest margin, among drives that run."""
    good = np.flatnonzero(found.verdict != NO_POINT)
    return good[pareto_front(found.speed_mps[good], found.use[good])] if good.size else good
