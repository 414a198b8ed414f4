"""The one thermal network, compiled: a drive stepped through phases, its speed, charge and five temperatures.

The kernel steps a boat's speed by thrust less resistance, its charge by the bus current and the heat nodes by the
midpoint rule. Tables of thrust and current are those of the operating point, made with a winding and a pack of given
temperatures; what their resistance is more or less by than that takes its part of the voltage, so that a boat fades as
it gets hot. The air of the closed hull is a node of its own: what a part gives to the air warms it for the others.
"""

from typing import Any, Final

import numpy as np

from kunstflug.core.laws.electric import cold_factor, copper_resistance_ohm, no_load_current_a, switching_loss_w
from kunstflug.core.laws.jit import jitable, kept
from kunstflug.core.quantity.value import Array, Floats
from kunstflug.core.thermal.nodes import NODES, Node

WINDING: Final = NODES.index(Node.WINDING)
CASE: Final = NODES.index(Node.CASE)
CONTROLLER: Final = NODES.index(Node.CONTROLLER)
PACK: Final = NODES.index(Node.PACK)
CONNECTOR: Final = NODES.index(Node.CONNECTOR)
INSIDE: Final = len(NODES)  # the air in the hull, which is not shown
COUNT: Final = len(NODES) + 1

# All of these are common practice, no source.
BURNT_C: Final = 250.0  # enamel is gone: nothing drives any more
SOLDER_C: Final = 200.0  # soft solder runs out of a plug at 183 to 220 degC: nothing drives any more
ADDED_MASS: Final = 1.1  # a tenth of water goes with the boat
SLOW_PART: Final = 0.25  # of the pack's resistance that comes late
SLOW_S: Final = 40.0
FALL_PER_S: Final = 4.0
HOLD_FROM: Final = 0.35
HOLD_PER_MPS: Final = 0.12
HOLD_MOST: Final = 0.9
LIMIT_GAIN: Final = 20.0
STILL_MPS: Final = 0.2

NUMBERS: Final = np.dtype([
    (name, np.float64)
    for name in (
        "winding_ohm", "no_load_a", "no_load_rpm", "kv_rpm_per_v", "controller_ohm", "pack_ohm", "connector_ohm",
        "capacity_ah", "ocv_v", "soc", "mass_kg", "water_c", "air_c", "pack_c", "bus_limit_a", "hot_limit_c",
        "phase_limit_a", "hot_level", "ramp_per_s", "receiver_a", "receiver_w", "full_mps", "full_throttle",
        "winding_c", "case_still_w_k", "plate_still_w_k", "inside_j_k", "inside_w_k",
        "winding_j_k", "case_j_k", "controller_j_k", "pack_j_k", "connector_j_k",
        "winding_case_w_k", "case_air_w_k", "controller_air_w_k", "pack_air_w_k", "connector_air_w_k",
        "charge_error",
    )
])  # fmt: skip
"""What the kernel needs of one drive besides its tables."""
OUT: Final = ("speed_mps", "throttle", "bus_current_a", "ocv_v", "used_ah", "controller_w", "pack_drop_v")
"""Columns of the kernel's output before the temperatures."""


@jitable
def capacities_j_k(p: Any, out: Array) -> None:
    """Heat capacities of the nodes [J/K] into ``out``."""
    out[WINDING], out[CASE], out[CONTROLLER] = p.winding_j_k, p.case_j_k, p.controller_j_k
    out[PACK], out[CONNECTOR], out[INSIDE] = p.pack_j_k, p.connector_j_k, p.inside_j_k


@jitable
def flows_w(p: Any, t: Array, case_water: float, plate_water: float, behind: Array, out: Array) -> float:
    """Heat that leaves each node [W] into ``out``; returns what leaves the network.

    Parameters
    ----------
    t : temperatures [degC].
    case_water, plate_water : conductances of motor's jacket and controller's block to the water that enters [W/K].
    behind : what the controller's inlet warms for each watt of the motor, and the motor's for each of the controller's
        [K/W]; 0 where the block does not stand behind the other.
    """
    to_case, to_plate = case_water * (t[CASE] - p.water_c), plate_water * (t[CONTROLLER] - p.water_c)
    plate = plate_water * (t[CONTROLLER] - p.water_c - behind[0] * to_case)
    jacket = case_water * (t[CASE] - p.water_c - behind[1] * to_plate)
    inner = p.winding_case_w_k * (t[WINDING] - t[CASE])
    case = p.case_air_w_k * (t[CASE] - t[INSIDE])
    controller = p.controller_air_w_k * (t[CONTROLLER] - t[INSIDE])
    cells = p.pack_air_w_k * (t[PACK] - t[INSIDE])
    plug = p.connector_air_w_k * (t[CONNECTOR] - t[INSIDE])
    skin = p.inside_w_k * (t[INSIDE] - p.air_c)
    out[WINDING], out[CASE], out[CONTROLLER] = inner, jacket + case - inner, plate + controller
    out[PACK], out[CONNECTOR], out[INSIDE] = cells, plug, skin - case - controller - cells - plug
    return jacket + plate + skin


@jitable
def powers_w(
    p: Any,
    amps: float,
    bus: float,
    throttle: float,
    rpm: float,
    ocv: float,
    copper: Floats,
    pack_ohm: Floats,
    out: Array,
) -> None:
    """Heat into each node [W] of a motor current and a bus current with the receiver's [A] into ``out``.

    Parameters
    ----------
    ocv : resting voltage of the pack [V]; copper, pack_ohm : as warm as they are [ohm].
    """
    idle = no_load_current_a(rpm, p.no_load_a, p.no_load_rpm) if rpm > 0 else 0.0
    out[WINDING] = amps * amps * copper
    out[CASE] = rpm / p.kv_rpm_per_v * idle
    out[CONTROLLER] = amps * amps * p.controller_ohm + switching_loss_w(ocv, amps, throttle) + p.receiver_w
    out[PACK] = bus * bus * pack_ohm
    out[CONNECTOR] = bus * bus * p.connector_ohm


@jitable
def bilinear(table: Array, duty: float, speed: float, top: float, first: float, step: float) -> float:
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


@jitable
def _aim(p: Any, mode: int, level: float, speed: float, empty: bool) -> float:
    """Throttle that the driver wants [1]."""
    if empty:
        return 0.0
    if mode in (0, 3):
        return p.full_throttle
    if mode == 1:
        return min(max(HOLD_FROM + (level * p.full_mps - speed) * HOLD_PER_MPS, 0.0), HOLD_MOST * p.full_throttle)
    return 0.0


@jitable
def _even(table: Array, at: float) -> float:
    """Linear in a table over 0 to 1 in even steps."""
    x = min(max(at, 0.0), 1.0) * (table.shape[0] - 1.000001)
    i = int(x)
    return table[i] + (x - i) * (table[i + 1] - table[i])


@jitable
def _step_drive(  # noqa: C901, PLR0915 - one time step, read from top to bottom; a cut would cost the compiler
    modes: Array, seconds: Array, levels: Array, dt: float, stride: int, top: float, thrust: Array, current: Array,
    rps: Array, drag: Array, jacket: Array, plate: Array, warming: Array, p: Any, ocv_axis: Array, first: float,
    duty_step: float, out: Array, books: Array,
) -> None:  # fmt: skip
    """One drive through all phases.

    Parameters
    ----------
    modes, seconds, levels : of the phases.
    thrust, current, rps : tables of shape (duties, speeds); drag, jacket, plate : shape (speeds,).
    warming : shape (2, speeds), see ``flows_w``.
    p : one record of ``NUMBERS``.
    out : a row each ``stride`` steps: the columns of ``OUT``, then the temperatures.
    books : heat in, out, and kept [J]; the instants at which winding and connector fail [s], as they were where not.
    """
    t, half = np.full(COUNT, p.air_c), np.zeros(COUNT)
    power, leaving, capacity, behind = np.zeros(COUNT), np.zeros(COUNT), np.zeros(COUNT), np.zeros(2)
    capacities_j_k(p, capacity)
    t[PACK] = p.pack_c
    speed, throttle, used, row, count = 0.0, 0.0, 0.0, 0, 0
    drop, pack_ohm, cold = 0.0, p.pack_ohm, cold_factor(p.pack_c)
    winding_ohm = copper_resistance_ohm(p.winding_ohm, p.winding_c)
    held, burnt, allowed, sag = False, False, 1.0, 0.0
    slow_ohm = SLOW_PART * p.pack_ohm
    for k in range(modes.shape[0]):
        left = round(seconds[k] / dt)
        held = modes[k] == 3 or (held and modes[k] == 2)  # what was held in a tub soaks in it
        while left > 0:
            # A boat at rest only cools: one long step in place of those between two rows.
            still = modes[k] == 2 and speed < STILL_MPS and throttle == 0.0 and count % stride == 0 and left >= stride
            many = stride if still else 1
            h = dt * many
            ocv = _even(ocv_axis, max(p.soc - used / p.capacity_ah, 0.0)) - sag
            if not burnt and (t[WINDING] > BURNT_C or t[CONNECTOR] > SOLDER_C):
                burnt = True
                books[3 if t[WINDING] > BURNT_C else 4] = count * dt
            # Empty is empty: the controller cuts off before the weakest cell is driven backwards.
            aim = _aim(p, modes[k], levels[k], speed, burnt or used >= p.soc * p.capacity_ah)
            # The controller's own limits: less throttle above its currents, half of it above its temperature.
            if t[CONTROLLER] > p.hot_limit_c:
                aim = min(aim, p.hot_level)
            aim = min(aim, allowed)
            throttle += min(max(aim - throttle, -FALL_PER_S * h), p.ramp_per_s * h)
            # What hotter copper and a warmer pack take off the voltage, or leave on it, by the current a step ago.
            seen = max(throttle * ocv - drop, 0.0) / p.ocv_v
            amps = bilinear(current, seen, speed, top, first, duty_step)
            turns = bilinear(rps, seen, speed, top, first, duty_step)
            at = min(speed / top, 1.0) * (drag.shape[0] - 1.000001)
            i = int(at)
            f = at - i
            if not held:
                push = bilinear(thrust, seen, speed, top, first, duty_step)
                hold = drag[i] * (1 - f) + drag[i + 1] * f
                speed = max(speed + (push - hold) / (ADDED_MASS * p.mass_kg) * h, 0.0)
                case_water = jacket[i] * (1 - f) + jacket[i + 1] * f
                plate_water = plate[i] * (1 - f) + plate[i + 1] * f
                behind[0] = warming[0, i] * (1 - f) + warming[0, i + 1] * f
                behind[1] = warming[1, i] * (1 - f) + warming[1, i + 1] * f
            else:
                case_water, plate_water = p.case_still_w_k, p.plate_still_w_k
                behind[0], behind[1] = 0.0, 0.0
            bus = amps * throttle
            copper = copper_resistance_ohm(p.winding_ohm, t[WINDING])
            pack_ohm = p.pack_ohm * cold_factor(t[PACK]) / cold
            drop = amps * (copper - winding_ohm) + bus * throttle * (pack_ohm - p.pack_ohm)
            over = max(bus / p.bus_limit_a, amps / p.phase_limit_a)
            if over > 1.0:
                allowed = max(throttle * (1.0 - 0.5 * h * (over - 1.0) * LIMIT_GAIN), 0.05)
            elif allowed < 1.0 and over < 0.98:
                allowed = min(allowed + 0.5 * h, 1.0)
            bus += p.receiver_a
            powers_w(p, amps, bus, throttle, 60.0 * turns, ocv, copper, pack_ohm, power)
            power[PACK] += sag * sag / slow_ohm
            sag += (bus * slow_ohm - sag) / SLOW_S * h
            flows_w(p, t, case_water, plate_water, behind, leaving)
            for m in range(COUNT):
                half[m] = t[m] + 0.5 * h * (power[m] - leaving[m]) / capacity[m]
            books[1] += flows_w(p, half, case_water, plate_water, behind, leaving) * h
            for m in range(COUNT):
                t[m] += h * (power[m] - leaving[m]) / capacity[m]
            books[0] += power.sum() * h
            used += p.charge_error * bus * h / 3600.0
            count += many
            left -= many
            if count % stride == 0 and row < out.shape[0]:
                out[row, 0], out[row, 1], out[row, 2], out[row, 3], out[row, 4] = speed, throttle, bus, ocv, used
                out[row, 5], out[row, 6] = power[CONTROLLER], bus * pack_ohm
                out[row, 7:] = t[:INSIDE]
                row += 1
    for m in range(COUNT):
        books[2] += capacity[m] * (t[m] - (p.pack_c if m == PACK else p.air_c))


@kept
def step_drives(
    modes: Array, seconds: Array, levels: Array, dt: float, stride: int, top: Array, thrust: Array, current: Array,
    rps: Array, drag: Array, jacket: Array, plate: Array, warming: Array, numbers: Any, ocv_axis: Array, first: float,
    duty_step: float, out: Array, books: Array,
) -> None:  # fmt: skip
    """Many drives through all phases; see ``_step_drive``, each drive with its own row."""
    for n in range(top.shape[0]):
        _step_drive(
            modes, seconds, levels, dt, stride, top[n], thrust[n], current[n], rps[n], drag[n], jacket[n], plate[n],
            warming[n], numbers[n], ocv_axis, first, duty_step, out[n], books[n],
        )  # fmt: skip


@jitable
def _powers_at(p: Any, t: Array, given: Array, cold: Any, power: Array) -> None:
    """``powers_w`` at what was measured (see ``warm_drives``), with copper and pack as warm as they are."""
    copper = copper_resistance_ohm(p.winding_ohm, t[WINDING])
    pack_ohm = given[6] if given[6] > 0.0 else p.pack_ohm * cold_factor(t[PACK]) / cold
    powers_w(p, given[1], given[2] + p.receiver_a, given[3], given[4], given[5], copper, pack_ohm, power)


@kept
def warm_drives(
    numbers: Any, top: Array, jacket: Array, plate: Array, warming: Array, t: Array, given: Array, seconds: float,
    step_s: float,
) -> None:  # fmt: skip
    """Takes the temperatures of many drives, shape (N, nodes), on by some seconds at what was measured; in place.

    Parameters
    ----------
    given : speed [m/s], motor current, bus current without the receiver's [A], throttle [1], rpm, resting voltage
        [V], the pack's resistance as it was measured [ohm], 0 for none.
    """
    power, leaving, half = np.zeros(COUNT), np.zeros(COUNT), np.zeros(COUNT)
    capacity, behind = np.zeros(COUNT), np.zeros(2)
    speed = given[0]
    for n in range(top.shape[0]):
        p = numbers[n]
        capacities_j_k(p, capacity)
        at = min(max(speed, 0.0) / top[n], 1.0) * (jacket.shape[1] - 1.000001)
        i = int(at)
        f = at - i
        case_water = jacket[n, i] * (1 - f) + jacket[n, i + 1] * f
        plate_water = plate[n, i] * (1 - f) + plate[n, i + 1] * f
        behind[0] = warming[n, 0, i] * (1 - f) + warming[n, 0, i + 1] * f
        behind[1] = warming[n, 1, i] * (1 - f) + warming[n, 1, i + 1] * f
        cold = cold_factor(p.pack_c)
        left = seconds
        while left > 1e-9:
            h = min(step_s, left)
            _powers_at(p, t[n], given, cold, power)
            flows_w(p, t[n], case_water, plate_water, behind, leaving)
            for m in range(COUNT):
                half[m] = t[n, m] + 0.5 * h * (power[m] - leaving[m]) / capacity[m]
            _powers_at(p, half, given, cold, power)
            flows_w(p, half, case_water, plate_water, behind, leaving)
            for m in range(COUNT):
                t[n, m] += h * (power[m] - leaving[m]) / capacity[m]
            left -= h


@kept
def followed(levels: Array, decay: float) -> Array:
    """A first-order lag behind levels that each last a step, from 0.

    The library's filter does the same; loading it takes half a second at every start of the program.

    Parameters
    ----------
    levels : shape (T,).
    decay : part of what was there that is left after a step [1].
    """
    out = np.empty_like(levels)
    warm = 0.0
    for k in range(levels.shape[0]):
        warm = decay * warm + (1.0 - decay) * levels[k]
        out[k] = warm
    return out
