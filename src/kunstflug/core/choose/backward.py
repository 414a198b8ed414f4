"""Backward: from a wanted speed and what is fixed to KV, propeller, cells and the classes of the rest."""

import dataclasses
import itertools
import math
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

import numpy as np

from kunstflug.core.choose.sold import CONTROLLERS_A, sold_diameters_m, sold_kv
from kunstflug.core.choose.sweep import Ranges, SweepResult, ranges_about, sweep
from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.forecast import doubts_of_uses
from kunstflug.core.drive.limits import KEYS, MOTOR_POWER_S, RATING_MARGIN, LimitKey
from kunstflug.core.drive.point import resistance_n, solve
from kunstflug.core.drive.schools import USUAL, ControllerSchool, Schools
from kunstflug.core.drive.values import drive_values
from kunstflug.core.drive.varied import varied
from kunstflug.core.drive.verdict import ORDER, Verdict
from kunstflug.core.laws.electric import awg_diameter_m, burst_time_constant_s
from kunstflug.core.parts import pack
from kunstflug.core.parts import propeller as propellers
from kunstflug.core.parts.controller import BURST_FACTOR, BURST_S, Controller
from kunstflug.core.parts.hull import beam
from kunstflug.core.parts.motor import MOST_W_KG, can_length_for_m, motor_mass
from kunstflug.core.parts.placement import WALL_BEHIND_M
from kunstflug.core.parts.wiring import pin_for
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import Amount, Between, Fact
from kunstflug.core.quantity.units import Dimension
from kunstflug.core.quantity.value import Array, Floats, Mask
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.nodes import Node

WIRE_A_PER_MM2: Final = 22.0  # silicone wire, short runs in a cooled hull (common practice, no source)
MOTOR_EFFICIENCY: Final = 0.9
PROPELLER_EFFICIENCY: Final = 0.67  # for the curve of power against speed
CELLS: Final = (2, 12)
CELLS_AWAY: Final = 4  # of today's number: a hull does not take three times as many
WHEELS: Final = (0.65, 1.4)  # of today's diameter: shaft and strut stand where they stand
SPARE: Final = 1.2  # power of the doubts: several limits together are passed more often than each
WIDEST_M: Final = 0.11
SLOWEST_MPS, FASTEST_MPS = 1.0, 120.0


class FreePart(StrEnum):
    """What a wish may change."""

    MOTOR = "motor"
    PROPELLER = "propeller"
    PACK = "pack"


@dataclass(frozen=True, slots=True, kw_only=True)
class OneFree(Fact):
    """At least one part has to be free."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TooHeavy(Fact):
    """Every drive that is free makes the boat heavier than is wanted."""

    most_kg: float


@dataclass(frozen=True, slots=True, kw_only=True)
class TooShort(Fact):
    """No drive runs as long as is wanted on this pack."""

    wanted_s: float
    longest_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class NothingPlanes(Fact):
    """No combination of what is free makes this hull plane."""


@dataclass(frozen=True, slots=True, kw_only=True)
class OnlyPastLimit(Fact):
    """The speed can be reached, but the easiest drive passes a limit."""

    use: float
    key: LimitKey | Node
    chance: float


@dataclass(frozen=True, slots=True, kw_only=True)
class OutOfReach(Fact):
    """Nothing that is free reaches the speed; the fastest that was tried."""

    fastest_mps: float
    least_s: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """A drive that reaches the wanted speed, or comes nearest to it.

    Parameters
    ----------
    motor_kg : motor that takes the power through the stint, 5 W a gram for minutes [kg] (common practice, no source).
    motor_room_m : length that it takes at today's diameter of can, with its wires [m].
    boat_kg : the boat, ready to run, with that motor and pack [kg].
    changed : what is another part than today's.
    at_end : whether its KV or its diameter is the last that was tried: past it may be a better one.
    controller_holds : whether today's controller is rated for it, in amperes and cells.
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
    tightest: LimitKey | Node
    verdict: Verdict
    run_s: float
    controller_class_a: float
    pack_c: float
    motor_kg: float
    motor_room_m: float
    boat_kg: float
    wire_awg: int
    pin_m: float
    changed: frozenset[FreePart]
    at_end: bool
    controller_holds: bool

    @property
    def headroom(self) -> float:
        """What is left of the tightest limit [1]; negative where it does not hold."""
        return 1.0 - self.use


@dataclass(frozen=True, slots=True, kw_only=True)
class Backward:
    """The answer to a wish.

    Parameters
    ----------
    answers : for each choice of parts to change the easiest drive, and where all may be, one for each number of cells;
        each drive once. What is ranked first hangs on the shelf too: `stock.ways`.
    reason : what makes it impossible; None where a drive reaches the speed within all limits.
    speed_mps, power_w : curve of the shaft power the hull takes against speed, shape (G,).
    """

    wanted_mps: float
    answers: tuple[Answer, ...]
    reason: Fact | None
    speed_mps: Array
    power_w: Array

    @property
    def possible(self) -> bool:
        """Whether a drive reaches the speed within all limits."""
        return self.reason is None


@dataclass(frozen=True, slots=True, kw_only=True)
class Wish:
    """What is wanted of a boat.

    Parameters
    ----------
    locked : what cannot be changed.
    least_s : least full throttle from the pack [s]; 0 for none.
    most_kg : heaviest boat, ready to run, with the motor and the pack that the answer takes [kg].
    """

    speed_mps: float
    locked: frozenset[FreePart] = frozenset()
    least_s: float = 0.0
    most_kg: float = math.inf


def shaft_power_curve(setup: Setup, top_mps: float, efficiency: float) -> tuple[Array, Array]:
    """Shaft power that the hull takes against speed [m/s], [W]: resistance x speed over the propeller's efficiency."""
    speed, rows = np.linspace(0.0, top_mps, 60), drive_values(setup).rows()
    return speed, resistance_n(rows, speed)[0] * speed / (efficiency * rows["shaft_efficiency"][0])


def backward(setup: Setup, wish: Wish, schools: Schools = USUAL) -> Backward:
    """Drives for this hull that reach a speed.

    Raises
    ------
    InvalidValue : a speed that cannot be, or everything locked.
    """
    if not SLOWEST_MPS <= wish.speed_mps <= FASTEST_MPS:
        given = Amount(value=wish.speed_mps, dimension=Dimension.SPEED, unit="km/h")
        allowed = Between(low=SLOWEST_MPS, high=FASTEST_MPS, dimension=Dimension.SPEED, unit="km/h")
        raise InvalidValue("wanted", given, allowed)
    if wish.locked >= set(FreePart):
        raise InvalidValue("locks", len(wish.locked), OneFree())
    doubts = doubts_of_uses(setup, schools) ** SPARE
    tried = _tried(setup, wish, wish.locked, schools, doubts)
    answers = _answers(setup, tried, schools, doubts)
    for fewer in _fewer(wish.locked):
        # Fewer parts to change, where that is enough.
        less = _tried(setup, wish, fewer, schools, doubts)
        if less.reaching.any():
            answers += [a for a in _answers(setup, less, schools, doubts) if a.verdict is Verdict.HOLDS][:1]
    answers = _once(answers)
    found = tried.found
    holds = bool((tried.reaching & (found.verdict == HOLDS)).any())
    top = max(1.35 * wish.speed_mps, 1.1 * max((a.speed_mps for a in answers), default=wish.speed_mps))
    speed, power = shaft_power_curve(setup, top, PROPELLER_EFFICIENCY)
    too_heavy = bool(tried.runs.any() and not tried.enough.any())
    reason = TooHeavy(most_kg=wish.most_kg) if too_heavy else _why(found, tried.enough, tried.reaching, wish.least_s)
    return Backward(
        wanted_mps=wish.speed_mps,
        answers=tuple(answers),
        reason=None if holds else reason,
        speed_mps=speed,
        power_w=power,
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class _Tried:
    """A sweep over what is free, and which of its drives run, are long and light enough, and reach the speed; (N,)."""

    found: SweepResult
    boat_kg: Array
    runs: Mask
    enough: Mask
    reaching: Mask


def _tried(setup: Setup, wish: Wish, locked: frozenset[FreePart], schools: Schools, doubts: Array) -> _Tried:
    found = sweep(setup, _ranges(setup, locked), schools, _to_buy(locked), doubts=doubts)
    boat_kg = _boat_kg(setup, found, schools, doubts, FreePart.MOTOR in locked)
    found = dataclasses.replace(found, speed_mps=found.speed_mps * (boat_kg / found.mass_kg) ** _by_mass(setup))
    runs = np.asarray((found.verdict != ORDER.index(Verdict.NONE)) & (found.run_s >= wish.least_s))
    enough = runs & (boat_kg <= wish.most_kg)
    return _Tried(
        found=found, boat_kg=boat_kg, runs=runs, enough=enough, reaching=enough & (found.speed_mps >= wish.speed_mps)
    )


HOLDS: Final = ORDER.index(Verdict.HOLDS)
HEAVIER: Final = 1.1


def _by_mass(setup: Setup) -> float:
    """Power with which the speed of a boat goes with its mass [1], about its own."""
    speeds = np.asarray(solve(varied(setup, mass_factor=np.array([1.0, HEAVIER])), (curve_of(setup),)).speed_mps)
    power = math.log(speeds[1] / speeds[0]) / math.log(HEAVIER) if np.all(np.isfinite(speeds) & (speeds > 0)) else 0.0
    return float(np.clip(power, -1.0, 0.0))


def _fewer(locked: frozenset[FreePart]) -> list[frozenset[FreePart]]:
    """Every way to lock more, but not everything: one part free, then two."""
    free = [part for part in FreePart if part not in locked]
    return [
        frozenset(FreePart) - set(changed) for n in range(1, len(free)) for changed in itertools.combinations(free, n)
    ]


def _once(answers: list[Answer]) -> list[Answer]:
    """Each drive once."""
    once: dict[tuple[float, ...], Answer] = {}
    for a in answers:
        once.setdefault((a.cells, round(a.kv_rpm_per_v), round(a.diameter_m, 4), round(a.pitch_ratio, 3)), a)
    return list(once.values())


SAME_KV: Final = 0.02  # nearer than this it is today's winding [1]
SAME_SIZE: Final = 0.005


def _changed(setup: Setup, found: SweepResult, k: int) -> frozenset[FreePart]:
    """Which parts a drive takes that are not today's."""
    wheel, kv = setup.propeller, setup.motor.kv_rpm_per_v.value
    same_wheel = abs(found.diameter_m[k] / wheel.diameter_m.value - 1) < SAME_SIZE and (
        abs(found.pitch_ratio[k] / propellers.pitch_ratio(wheel) - 1) < SAME_SIZE
    )
    changed = set()
    if abs(found.kv_rpm_per_v[k] / kv - 1) >= SAME_KV:
        changed.add(FreePart.MOTOR)
    if not same_wheel:
        changed.add(FreePart.PROPELLER)
    if int(found.cells[k]) != pack.series_cells(setup.pack):
        changed.add(FreePart.PACK)
    return frozenset(changed)


def _to_buy(locked: frozenset[FreePart]) -> frozenset[LimitKey]:
    """Limits of parts that are still to be chosen: what such a part must be able to do is part of the answer."""
    found = {LimitKey.CONTROLLER_CURRENT, LimitKey.WIRE_CURRENT, LimitKey.CELLS}
    if FreePart.MOTOR not in locked:
        found |= {LimitKey.MOTOR_POWER, LimitKey.MOTOR_CURRENT}
    if FreePart.PACK not in locked:
        found |= {LimitKey.PACK_CURRENT}
    return frozenset(found)


def _motor_kg(shaft_w: Floats, schools: Schools, doubts: Array) -> Floats:
    """Motor that takes a shaft power [W] through the stint, and what is not known of it [kg]."""
    held = max(schools.stint.more_current(MOTOR_POWER_S), 1.0)
    return shaft_w * _doubt(doubts, LimitKey.MOTOR_POWER) / MOTOR_EFFICIENCY / MOST_W_KG / held


def _doubt(doubts: Array, key: LimitKey) -> float:
    return max(float(doubts[KEYS.index(key), 0]), 1.0)


def _boat_kg(setup: Setup, found: SweepResult, schools: Schools, doubts: Array, motor_stays: bool) -> Array:
    """Mass of the boat with the pack of each drive, and with the motor that its power takes where that is free [kg]."""
    if motor_stays:
        return found.mass_kg
    motor_kg = np.asarray(_motor_kg(found.shaft_power_w, schools, doubts))
    return found.mass_kg + motor_kg - motor_mass(setup.motor).value


def _ranges(setup: Setup, locked: frozenset[FreePart]) -> Ranges:
    kv = setup.motor.kv_rpm_per_v.value
    wheel_m = setup.propeller.diameter_m.value
    widest = max(min(0.8 * beam(setup.hull).value, WIDEST_M, WHEELS[1] * wheel_m), 0.03, wheel_m)
    ratio = propellers.pitch_ratio(setup.propeller)
    free_motor, free_wheel = FreePart.MOTOR not in locked, FreePart.PROPELLER not in locked
    other = setup.pack.second_cells or 0
    now = pack.series_cells(setup.pack)
    low = max(CELLS[0], 1 + other, now - CELLS_AWAY)
    high = max(min(CELLS[1], now + CELLS_AWAY), low)
    return ranges_about(
        setup,
        kv=_some(sold_kv(max(0.3 * kv, 300), min(3.0 * kv, 6000)), 44) if free_motor else None,
        diameter=_some(sold_diameters_m(max(0.024, WHEELS[0] * wheel_m), 1.001 * widest), 36) if free_wheel else None,
        pitch_ratio=np.unique(np.append(np.array([1.2, 1.4, 1.6]), round(ratio, 3))) if free_wheel else None,
        cells=np.arange(low, high + 1.0) if FreePart.PACK not in locked else None,
    )


def _some(sizes: Array, most: int) -> Array:
    """So many of the sizes that are sold, evenly in proportion."""
    wanted = np.geomspace(sizes[0], sizes[-1], most)
    return sizes if len(sizes) <= most else np.unique(sizes[np.abs(sizes - wanted[:, np.newaxis]).argmin(axis=1)])


def _answers(setup: Setup, tried: _Tried, schools: Schools, doubts: Array) -> list[Answer]:
    """For each number of cells the drive that does it with the least current (or the fastest, where none does)."""
    found, reached = tried.found, bool(tried.reaching.any())
    allowed = tried.reaching if reached else tried.enough
    answers = []
    for cells in np.unique(found.cells):
        at = np.flatnonzero(allowed & (found.cells == cells))
        if not at.size:
            continue
        holding = at[found.verdict[at] == HOLDS]
        if reached:
            # The least current that does it; where nothing holds, the least use of the limits.
            best = holding[np.argmin(found.current_a[holding])] if holding.size else at[np.argmin(found.use[at])]
        else:
            pool = holding if holding.size else at
            best = pool[np.argmax(found.speed_mps[pool])]
        answers.append(_answer(setup, found, int(best), schools, doubts, float(tried.boat_kg[best])))
    return answers


def controller_class_a(current_a: float, schools: Schools) -> float:
    """The usual class of controller for a current [A], by the school."""
    burst = 1.0
    if schools.controller is ControllerSchool.BURST:
        tau = burst_time_constant_s(1.0, BURST_FACTOR, BURST_S)
        burst = min(max(schools.stint.more_current(tau), 1.0), BURST_FACTOR)
    needed = current_a / RATING_MARGIN / burst
    return float(next((c for c in CONTROLLERS_A if c >= needed), 100.0 * math.ceil(needed / 100.0)))


def controller_serves(controller: Controller, cells: int, class_a: float) -> bool:
    """Whether a controller is rated for a class [A] and for so many cells."""
    rated = controller.continuous_current_a.value >= class_a
    return rated and (controller.max_cells is None or cells <= controller.max_cells)


def wire_class_awg(current_a: float) -> int:
    """The usual gauge for a current in short runs (common practice, no source)."""
    section = current_a / WIRE_A_PER_MM2
    return next((g for g in range(16, 1, -2) if math.pi / 4 * (float(awg_diameter_m(g)) * 1e3) ** 2 >= section), 2)


def _answer(setup: Setup, found: SweepResult, k: int, schools: Schools, doubts: Array, boat_kg: float) -> Answer:
    current = float(found.current_a[k])
    # What is bought has to hold what is not known of the current, too.
    sure_a = current * _doubt(doubts, LimitKey.CONTROLLER_CURRENT)
    motor_kg = float(_motor_kg(float(found.shaft_power_w[k]), schools, doubts))
    class_a = controller_class_a(sure_a, schools)
    kv, sizes = found.ranges.kv_rpm_per_v, found.ranges.diameter_m
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
        tightest=KEYS[int(found.tightest[k])],
        verdict=ORDER[int(found.verdict[k])],
        run_s=float(found.run_s[k]),
        controller_class_a=class_a,
        pack_c=sure_a / (pack.usable_ah(setup.pack) * schools.pack_trust),
        motor_kg=motor_kg,
        motor_room_m=can_length_for_m(motor_kg, setup.motor.can_diameter_m.value) + WALL_BEHIND_M,
        boat_kg=boat_kg,
        wire_awg=wire_class_awg(sure_a),
        pin_m=pin_for(sure_a).pin_m,
        changed=_changed(setup, found, k),
        at_end=any(
            len(tried) > 1 and value in (tried[0], tried[-1])
            for tried, value in ((kv, found.kv_rpm_per_v[k]), (sizes, found.diameter_m[k]))
        ),
        controller_holds=controller_serves(setup.controller, int(found.cells[k]), class_a),
    )


def _why(found: SweepResult, enough: Mask, reaching: Mask, least_s: float) -> Fact:
    runs = found.verdict != ORDER.index(Verdict.NONE)
    if not enough.any():
        if least_s > 0 and runs.any():
            return TooShort(wanted_s=least_s, longest_s=float(np.max(found.run_s[runs])))
        return NothingPlanes()
    if reaching.any():
        at = np.flatnonzero(reaching)
        easiest = at[np.argmin(found.use[at])]
        return OnlyPastLimit(use=float(found.use[easiest]), key=KEYS[int(found.tightest[easiest])], chance=1.0)
    return OutOfReach(fastest_mps=float(np.max(found.speed_mps[enough])), least_s=least_s)
