"""A duty in time: speed, current, charge and temperatures of a drive through phases at full throttle, cruise and rest.

The kernel steps a boat's speed by thrust less resistance, its charge by the bus current and five heat nodes by the
midpoint rule. Tables of thrust and current are those of the operating point; heat in the copper follows its own
temperature, the current does not (a hot winding takes a few percent less, which is left out).
"""

import dataclasses
from dataclasses import dataclass
from enum import StrEnum
from typing import Any, Final

import numpy as np
import numpy.typing as npt

from kunstflug.core import controller, heat, hull, pack
from kunstflug.core.cooling import CoolingTable
from kunstflug.core.drive.forecast import curve_of
from kunstflug.core.drive.jit import inner, kept
from kunstflug.core.drive.parameters import DriveParameters, drive_values
from kunstflug.core.drive.setup import Setup
from kunstflug.core.drive.tables import DUTIES, SPEEDS, ThrottleTables, throttle_tables
from kunstflug.core.drive.thermal import NODES, ThermalNumbers, thermal_values
from kunstflug.core.errors import InvalidValue

Array = npt.NDArray[np.float64]

FULL, HOLD, REST, TUB = 0, 1, 2, 3
RAMP_PER_S: Final = 1.6  # of full throttle, where no ramp is set (common practice, no source)
# A surface propeller held in a tub chews foam: it takes part of the current that it would in solid water. Common
# practice, no source; a tub test of the boat replaces it.
HELD_CURRENT: Final = 0.4
DUTY_SEED: Final = 411
MOST_SECONDS: Final = 3600.0
USABLE: Final = 0.80  # part of the capacity that is used before landing


class Kind(StrEnum):
    """What a duty is for."""

    PASSES = "passes"
    LAP_RACE = "lap race"
    TUB_TEST = "tub test"


@dataclass(frozen=True, slots=True, kw_only=True)
class Phase:
    """One stretch of a duty.

    Parameters
    ----------
    mode : FULL throttle, HOLD a part of the top speed, REST (throttle off), TUB (full throttle, held in place).
    seconds : its length [s].
    level : part of the top speed to hold [1]; only with HOLD.
    """

    name: str
    mode: int
    seconds: float
    level: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Duty:
    """A sequence of phases, from a cold boat to landing and soak."""

    kind: Kind
    phases: tuple[Phase, ...]

    @property
    def seconds(self) -> float:
        """Length of it all [s]."""
        return sum(p.seconds for p in self.phases)

    @property
    def landing_s(self) -> float:
        """When the boat lies still at the end [s]."""
        return self.seconds - (self.phases[-1].seconds if self.phases[-1].mode == REST else 0.0)


SOAK: Final = Phase(name="soak", mode=REST, seconds=180.0)


def passes_duty(count: int, full_s: float, cool_s: float) -> Duty:
    """Warm-up, then passes at full throttle with a cool-down lap after each, landing, soak."""
    _check(1 <= count <= 30, "passes", count, "1 to 30")
    _check(0.5 <= full_s <= 120, "pass_s", full_s, "0.5 to 120 s")
    _check(0 <= cool_s <= 300, "cool_s", cool_s, "0 to 300 s")
    phases = [Phase(name="warm-up", mode=HOLD, seconds=15.0, level=0.45)]
    for k in range(count):
        phases.append(Phase(name=f"pass {k + 1}", mode=FULL, seconds=full_s))
        if cool_s:
            phases.append(Phase(name=f"cool-down {k + 1}", mode=HOLD, seconds=cool_s, level=0.4))
    return Duty(kind=Kind.PASSES, phases=(*phases, SOAK))


def lap_race_duty(minutes: float) -> Duty:
    """Laps of seven seconds at full throttle and three seconds lifted, for some minutes; landing, soak."""
    _check(0.5 <= minutes <= 30, "minutes", minutes, "0.5 to 30 minutes")
    laps = max(round(minutes * 6), 1)
    phases: list[Phase] = []
    for k in range(laps):
        phases.append(Phase(name=f"straight {k + 1}", mode=FULL, seconds=7.0))
        phases.append(Phase(name=f"turn {k + 1}", mode=HOLD, seconds=3.0, level=0.65))
    return Duty(kind=Kind.LAP_RACE, phases=(*phases, SOAK))


def tub_duty(minutes: float) -> Duty:
    """Full throttle, held in a tub: no speed, no ram water; harsher than any pond."""
    _check(0.2 <= minutes <= 15, "minutes", minutes, "0.2 to 15 minutes")
    held = Phase(name="held", mode=TUB, seconds=minutes * 60)
    return Duty(kind=Kind.TUB_TEST, phases=(held, SOAK))


def _check(good: bool, field: str, value: float, allowed: str) -> None:
    if not good:
        raise InvalidValue(field, value, allowed)


@dataclass(frozen=True, slots=True, kw_only=True)
class DutyRun:
    """A duty of 1 + N drives (the nominal one first); arrays of shape (1 + N, T) unless said otherwise.

    Parameters
    ----------
    time_s : shape (T,).
    temperature_c : shape (1 + N, T, 5), nodes in the order of ``NODES``.
    heat_in_j, heat_out_j, heat_kept_j : shape (1 + N,), the books of the whole network.
    """

    duty: Duty
    time_s: Array
    speed_mps: Array
    throttle: Array
    bus_current_a: Array
    pack_voltage_v: Array
    used_ah: Array
    temperature_c: Array
    heat_in_j: Array
    heat_out_j: Array
    heat_kept_j: Array


_switching: Any = inner(controller.switching_loss_w)


@kept
def _bilinear(table: Array, duty: float, speed: float, top: float, first: float, step: float) -> float:
    """Table value at a duty and speed; nothing turns below half the smallest duty."""
    if duty < 0.5 * first:
        return 0.0
    d = min(max((duty - first) / step, 0.0), table.shape[0] - 1.000001)
    s = min(max(speed / top * (table.shape[1] - 1), 0.0), table.shape[1] - 1.000001)
    i, k = int(d), int(s)
    a, b = d - i, s - k
    return (1 - a) * ((1 - b) * table[i, k] + b * table[i, k + 1]) + a * (
        (1 - b) * table[i + 1, k] + b * table[i + 1, k + 1]
    )


@kept
def _rates(t: Array, power: Array, g: Array, water: float, air: float, capacity: Array, out: Array) -> float:
    """Rates of change of the five nodes [K/s] into ``out``; returns the heat that leaves the network [W]."""
    # The block that stands behind the other gets its warm water: g[7] and g[8] are K for each W.
    to_case, to_controller = g[1] * (t[1] - water), g[3] * (t[2] - water)
    behind = g[3] * (t[2] - water - g[7] * to_case)
    ahead = g[1] * (t[1] - water - g[8] * to_controller)
    inner = g[0] * (t[0] - t[1])
    case = ahead + g[2] * (t[1] - air)
    controller = behind + g[4] * (t[2] - air)
    cells = g[5] * (t[3] - air)
    plug = g[6] * (t[4] - air)
    out[0] = (power[0] - inner) / capacity[0]
    out[1] = (power[1] + inner - case) / capacity[1]
    out[2] = (power[2] - controller) / capacity[2]
    out[3] = (power[3] - cells) / capacity[3]
    out[4] = (power[4] - plug) / capacity[4]
    return case + controller + cells + plug


@kept
def _step_drive(
    modes: Array, seconds: Array, levels: Array, dt: float, stride: int, top: float, thrust: Array, current: Array,
    rps: Array, drag: Array, jacket: Array, controller_jacket: Array,
    warm_controller: Array, warm_motor: Array, numbers: Array, capacity: Array, fixed: Array,
    soc_axis: Array, ocv_axis: Array, first: float, duty_step: float, out: Array, books: Array,
) -> None:  # fmt: skip
    """One drive through all phases; ``numbers`` see ``_numbers_of``, ``out`` has a row each ``stride`` steps."""
    (r_winding, no_load, no_load_rpm, kv, r_controller, r_pack, r_connector, capacity_ah, ocv0, soc, mass, water, air,
     still_jacket, bus_limit, hot_limit, phase_limit, hot_level, ramp, aux_a, aux_w, held_factor,
     case_still) = numbers  # fmt: skip
    t = np.full(5, air)
    g, power, rate, half = np.zeros(9), np.zeros(5), np.zeros(5), np.zeros(5)
    g[0], g[2], g[4], g[5], g[6] = fixed[0], fixed[1], fixed[2], fixed[3], fixed[4]
    speed, throttle, used, row, count = 0.0, 0.0, 0.0, 0, 0
    held, burnt, allowed, sag = False, False, 1.0, 0.0
    r_slow, slow_s = 0.25 * r_pack, 40.0  # the pack's relaxation (common practice, no source)
    for k in range(modes.shape[0]):
        steps = round(seconds[k] / dt)
        held = modes[k] == 3 or (held and modes[k] == 2)  # what was held in a tub soaks in it
        for _ in range(steps):
            ocv = np.interp(max(soc - used / capacity_ah, 0.0), soc_axis, ocv_axis) - sag
            burnt = burnt or t[0] > 250.0  # enamel and solder are gone: nothing drives any more
            # Empty is empty: the controller cuts off before the weakest cell is driven backwards.
            if burnt or used >= soc * capacity_ah:
                aim = 0.0
            elif modes[k] == 0 or modes[k] == 3:
                aim = 1.0
            elif modes[k] == 1:
                aim = min(max(0.35 + (levels[k] * top - speed) * 0.12, 0.0), 0.9)
            else:
                aim = 0.0
            # The controller's own limits: less throttle above its bus current, half of it above its temperature.
            if t[2] > hot_limit:
                aim = min(aim, hot_level)
            aim = min(aim, allowed)
            throttle += min(max(aim - throttle, -4.0 * dt), ramp * dt)
            seen = throttle * ocv / ocv0
            amps = _bilinear(current, seen, speed, top, first, duty_step)
            push = _bilinear(thrust, seen, speed, top, first, duty_step)
            turns = _bilinear(rps, seen, speed, top, first, duty_step)
            at = min(speed / top, 1.0) * (drag.shape[0] - 1.000001)
            i = int(at)
            f = at - i
            if not held:
                hold = drag[i] * (1 - f) + drag[i + 1] * f
                speed = max(speed + (push - hold) / (1.1 * mass) * dt, 0.0)
                g[1] = jacket[i] * (1 - f) + jacket[i + 1] * f
                g[3] = controller_jacket[i] * (1 - f) + controller_jacket[i + 1] * f
                g[7] = warm_controller[i] * (1 - f) + warm_controller[i + 1] * f
                g[8] = warm_motor[i] * (1 - f) + warm_motor[i + 1] * f
            else:
                g[1] = still_jacket * jacket[jacket.shape[0] // 2] if case_still < 0 else case_still
                g[3] = still_jacket * controller_jacket[jacket.shape[0] // 2]
                g[7], g[8] = 0.0, 0.0
            if held:
                amps, turns = amps * held_factor, turns * (1.0 + 0.35 * (1.0 - held_factor))
            bus = amps * throttle
            over = max(bus / bus_limit, amps / phase_limit)
            if over > 1.0:
                allowed = max(throttle * (1.0 - 0.5 * dt * (over - 1.0) * 20.0), 0.05)
            elif allowed < 1.0 and over < 0.98:
                allowed = min(allowed + 0.5 * dt, 1.0)
            rpm = 60.0 * turns
            idle = no_load * (0.5 + 0.5 * rpm / no_load_rpm) if turns > 0 else 0.0
            power[0] = amps * amps * r_winding * (235.0 + t[0]) / 255.0
            power[1] = rpm / kv * idle
            power[2] = amps * amps * r_controller + _switching(ocv, amps, throttle) + aux_w
            bus += aux_a
            power[3] = bus * bus * r_pack + sag * sag / r_slow
            sag += (bus * r_slow - sag) / slow_s * dt
            power[4] = bus * bus * r_connector
            _rates(t, power, g, water, air, capacity, rate)
            for m in range(5):
                half[m] = t[m] + 0.5 * dt * rate[m]
            leaves = _rates(half, power, g, water, air, capacity, rate)
            for m in range(5):
                t[m] += dt * rate[m]
            books[0] += power.sum() * dt
            books[1] += leaves * dt
            used += bus * dt / 3600.0
            count += 1
            if count % stride == 0 and row < out.shape[0]:
                out[row, 0], out[row, 1], out[row, 2], out[row, 3], out[row, 4] = speed, throttle, bus, ocv, used
                out[row, 5:10] = t
                row += 1
    for m in range(5):
        books[2] += capacity[m] * (t[m] - air)


def _hot_limit(setup: Setup) -> float:
    limit = setup.controller.temperature_limit_c
    return limit.value if limit is not None else float("inf")


def held_current_part(setup: Setup) -> float:
    """Current of a propeller held in a tub over that of solid water [1]: learnt, or a surface propeller's foam."""
    if setup.learnt.held_current is not None:
        return setup.learnt.held_current.value
    return HELD_CURRENT if setup.hull.drive is hull.Drive.SURFACE else 1.0


def _nominal_v(setup: Setup) -> float:
    return pack.NOMINAL_CELL_V * pack.series_cells(setup.pack)


def _ocv_axis(setup: Setup, soc: float, soc_axis: Array) -> Array:
    """Resting voltage of all packs against the charge of the weaker one [V]; the other one lags behind it."""
    first = np.asarray(pack.cell_ocv_v(soc_axis)) * setup.pack.cells
    other = pack.second_pack(setup.pack)
    if other is None:
        return first
    used = (soc - soc_axis) * pack.usable_ah(setup.pack)
    both = []
    for cells, capacity in ((setup.pack.cells, setup.pack.capacity_ah.value * setup.pack.parallel),
                            (other.cells, other.capacity_ah.value)):  # fmt: skip
        both.append(np.asarray(pack.cell_ocv_v(np.clip(soc - used / capacity, 0.0, 1.0))) * cells)
    return both[0] + both[1]


def _column(values: object, count: int) -> Array:
    flat = np.asarray(values, dtype=float).reshape(-1)
    return flat if flat.size == count else np.full(count, flat[0])


def run_duty(
    setup: Setup,
    duty: Duty,
    *,
    samples: int = 0,
    step_s: float = 0.05,
    stride: int = 5,
    cooling: CoolingTable | None = None,
    tables: ThrottleTables | None = None,
) -> DutyRun:
    """Drives a setup through a duty.

    Parameters
    ----------
    samples : draws for the band, besides the nominal drive.
    step_s : time step [s]; results are kept every ``stride`` steps.
    cooling : flow of the boat's own water circuit; None for a usual 4 mm line.
    tables : of the same drive, where they were made already.

    Raises
    ------
    InvalidValue : longer than an hour.
    """
    _check(duty.seconds <= MOST_SECONDS, "duty", duty.seconds, f"at most {MOST_SECONDS:.0f} s")
    values = drive_values(setup)
    drawn = values.sampled(samples, DUTY_SEED)
    p = DriveParameters(
        **{
            f.name: np.vstack([[[getattr(values, f.name).value]], np.asarray(getattr(drawn, f.name)).reshape(-1, 1)])
            if getattr(values, f.name).spread and samples
            else np.full((1 + samples, 1), getattr(values, f.name).value)
            for f in dataclasses.fields(values)
        }
    )
    return _run(setup, duty, p, thermal_values(setup).sampled(samples, DUTY_SEED + 1), step_s, stride, cooling, tables)


def _flows(th: ThermalNumbers, axes: Array, cooling: CoolingTable | None) -> tuple[Array, Array]:
    """Flow through motor and controller against each drive's speed axis [kg/s]; its spread is the bore's, squared."""
    usual = np.asarray(heat.water_flow_kg_s(axes, np.reshape(th.water_bore_m, (-1, 1))))
    if cooling is None:
        return usual, usual
    spread = (np.reshape(th.water_bore_m, (-1, 1)) / np.reshape(th.water_bore_m, (-1, 1))[0]) ** 2
    motor_kg, controller_kg = (
        np.interp(axes, cooling.speed_mps, flow) * spread for flow in (cooling.motor_kg_s, cooling.controller_kg_s)
    )
    return motor_kg, controller_kg


def _run(
    setup: Setup,
    duty: Duty,
    p: DriveParameters,
    th: ThermalNumbers,
    step_s: float,
    stride: int,
    cooling: CoolingTable | None,
    made: ThrottleTables | None,
) -> DutyRun:
    count = np.asarray(p.pack_ocv_v).size
    tables = throttle_tables(p, curve_of(setup)) if made is None else made
    axes = np.linspace(0.0, 1.0, SPEEDS) * tables.top_mps[:, np.newaxis]
    flow, other = _flows(th, axes, cooling)
    jacket = np.asarray(heat.jacket_conductance_w_k(flow, np.reshape(th.case_jacket_w_k, (-1, 1))))
    plate = np.asarray(heat.jacket_conductance_w_k(other, np.reshape(th.controller_jacket_w_k, (-1, 1))))
    behind = cooling.behind if cooling is not None else ""
    warm = 1.0 / (np.maximum(flow, 1e-5) * heat.WATER_J_KGK)
    none = np.zeros_like(warm)
    warm_controller, warm_motor = (warm if behind == "controller" else none), (warm if behind == "motor" else none)
    phases = duty.phases
    modes = np.array([ph.mode for ph in phases], dtype=float)
    seconds, levels = np.array([ph.seconds for ph in phases]), np.array([ph.level for ph in phases])
    rows = sum(round(ph.seconds / step_s) for ph in phases) // stride
    out, books = np.full((count, rows, 10), np.nan), np.zeros((count, 3))
    soc = setup.conditions.state_of_charge.value
    soc_axis = np.linspace(0.0, 1.0, 101)
    ocv_axis = _ocv_axis(setup, soc, soc_axis)
    # Half of the line's resistance up to the controller sits in its plugs.
    connector = 0.5 * _column(p.wiring_resistance_ohm, count)
    kv = np.asarray(p.kv_rpm_per_v) * np.asarray(p.kv_factor)
    numbers = np.column_stack(
        [
            *(_column(v, count) for v in (p.winding_resistance_ohm, p.no_load_current_a, p.no_load_rpm, kv)),
            *(_column(v, count) for v in (p.controller_resistance_ohm, p.pack_resistance_ohm)),
            connector,
            _column(pack.usable_ah(setup.pack), count),
            _column(float(pack.cell_ocv_v(soc)) * pack.series_cells(setup.pack), count),
            _column(soc, count),
            _column(p.mass_kg, count),
            _column(setup.conditions.water_c.value, count),
            _column(setup.conditions.air_c.value, count),
            _column(0.12, count),  # in a tub only the propeller's stir moves water (common practice, no source)
            _column(p.bus_limit_a, count),
            _column(_hot_limit(setup), count),
            _column(p.phase_limit_a, count),
            _column(0.5 if setup.controller.hot_action is controller.HotAction.HALF else 0.0, count),
            _column(1.0 / setup.controller.ramp_s.value if setup.controller.ramp_s else RAMP_PER_S, count),
            *(_column(v, count) for v in controller.receiver_load(setup.controller, _nominal_v(setup))),
            _column(held_current_part(setup), count),
            _column(setup.learnt.case_still_w_k.value if setup.learnt.case_still_w_k else -1.0, count),
        ]
    )
    capacity = np.column_stack([th.winding_j_k, th.case_j_k, th.controller_j_k, th.pack_j_k, th.connector_j_k])
    fixed = np.column_stack(
        [th.winding_case_w_k, th.case_air_w_k, th.controller_air_w_k, th.pack_air_w_k, th.connector_air_w_k]
    )
    for n in range(count):
        _step_drive(
            modes, seconds, levels, step_s, stride, tables.top_mps[n], tables.thrust_n[n], tables.current_a[n],
            tables.shaft_rps[n], tables.drag_n[n], jacket[n], plate[n], warm_controller[n], warm_motor[n],
            numbers[n], capacity[n], fixed[n],
            soc_axis, ocv_axis, DUTIES[0], DUTIES[1] - DUTIES[0], out[n], books[n],
        )  # fmt: skip
    r_pack = _column(p.pack_resistance_ohm, count)[:, np.newaxis]
    return DutyRun(
        duty=duty,
        time_s=np.arange(1, rows + 1, dtype=np.float64) * (step_s * stride),
        speed_mps=out[:, :, 0],
        throttle=out[:, :, 1],
        bus_current_a=out[:, :, 2],
        pack_voltage_v=out[:, :, 3] - out[:, :, 2] * r_pack,
        used_ah=out[:, :, 4],
        temperature_c=out[:, :, 5:10],
        heat_in_j=books[:, 0],
        heat_out_j=books[:, 1],
        heat_kept_j=books[:, 2],
    )


__all__ = ["NODES", "Duty", "DutyRun", "Kind", "Phase", "lap_race_duty", "passes_duty", "run_duty", "tub_duty"]
