"""Drives a setup through a duty, the nominal one and the band's."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.cooling.table import Behind, CoolingTable
from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.rows import Rows
from kunstflug.core.drive.values import drive_values
from kunstflug.core.laws.cell import NOMINAL_CELL_V, cell_ocv_v
from kunstflug.core.laws.heat import WATER_J_KGK, jacket_conductance_w_k, water_flow_kg_s
from kunstflug.core.laws.shares import in_shares
from kunstflug.core.parts import controller, pack
from kunstflug.core.parts.conditions import pack_temperature_c
from kunstflug.core.quantity.draws import even_deviates
from kunstflug.core.quantity.errors import InvalidValue
from kunstflug.core.quantity.facts import NumberBetween
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty
from kunstflug.core.thermal.network import NUMBERS, OUT, step_drives
from kunstflug.core.thermal.nodes import NODES, Node, known_with_heat, still_w_k, thermal_values
from kunstflug.core.thermal.tables import DUTIES, SPEEDS, ThrottleTables, throttle_tables

# All of these are common practice, no source.
RAMP_PER_S: Final = 1.6  # of full throttle, where no ramp is set
PLUG_PART: Final = 0.5  # of the line's resistance up to the controller that sits in its plugs
HOTTEST: Final = 2.0  # of a mean plug's part of that, which the worst one has
LEAST_FLOW_KG_S: Final = 1e-5
DUTY_SEED: Final = 411
START_SEED: Final = 409
MOST_SECONDS: Final = 3600.0
DRIVES_A_SHARE: Final = 8  # a thread costs more than it saves below so many drives


@dataclass(frozen=True, slots=True, kw_only=True)
class DutyRun:
    """A duty of 1 + N drives (the nominal one first); arrays of shape (1 + N, T) unless said otherwise.

    Parameters
    ----------
    time_s : shape (T,).
    temperature_c : shape (1 + N, T, 5), nodes in the order of ``NODES``.
    controller_w : what the controller loses [W].
    junction_w_k : from its junctions to its case [W/K], shape (1 + N,).
    heat_in_j, heat_out_j, heat_kept_j : shape (1 + N,), the books of the whole network.
    fails_s : instants at which enamel burns and solder melts [s], shape (1 + N,); NaN where they do not.
    """

    duty: Duty
    time_s: Array
    speed_mps: Array
    throttle: Array
    bus_current_a: Array
    pack_voltage_v: Array
    used_ah: Array
    temperature_c: Array
    controller_w: Array
    junction_w_k: Array
    heat_in_j: Array
    heat_out_j: Array
    heat_kept_j: Array
    fails_s: dict[Node, Array]


def plug_part(setup: Setup) -> float:
    """Part of the line's resistance that heats its hottest plug [1]: twice a mean one's share."""
    return PLUG_PART * min(HOTTEST / max(setup.wiring.connector_pairs, 1), 1.0)


def _ocv_axis(setup: Setup, soc: float, soc_axis: Array) -> Array:
    """Resting voltage of all packs against the charge of the weaker one [V]; the other one lags behind it."""
    first = np.asarray(cell_ocv_v(soc_axis)) * setup.pack.cells
    other = pack.second_pack(setup.pack)
    if other is None:
        return first
    used = (soc - soc_axis) * pack.usable_ah(setup.pack)
    charge = setup.pack.capacity_ah.value * setup.pack.parallel
    both = [
        np.asarray(cell_ocv_v(np.clip(soc - used / capacity, 0.0, 1.0))) * cells
        for cells, capacity in ((setup.pack.cells, charge), (other.cells, other.capacity_ah.value))
    ]
    return both[0] + both[1]


def numbers_of(setup: Setup, drives: Rows, heat: Rows, full_mps: Array) -> Rows:
    """What the kernel needs of each drive, a record of ``NUMBERS`` each."""
    rows = np.zeros(len(drives), NUMBERS)
    c, learnt, conditions = setup.controller, setup.learnt, setup.conditions
    load = controller.receiver_load(c, NOMINAL_CELL_V * pack.series_cells(setup.pack))
    columns = {
        "winding_ohm": drives["winding_resistance_ohm"],
        "no_load_a": drives["no_load_current_a"],
        "no_load_rpm": drives["no_load_rpm"],
        "kv_rpm_per_v": drives["kv_rpm_per_v"] * drives["kv_factor"],
        "controller_ohm": drives["controller_resistance_ohm"],
        "pack_ohm": drives["pack_resistance_ohm"],
        "connector_ohm": plug_part(setup) * drives["wiring_resistance_ohm"],
        "capacity_ah": drives["pack_ah"],
        "ocv_v": float(cell_ocv_v(conditions.state_of_charge.value)) * pack.series_cells(setup.pack),
        "soc": conditions.state_of_charge.value,
        "mass_kg": drives["mass_kg"],
        "water_c": conditions.water_c.value,
        "air_c": conditions.air_c.value,
        "winding_c": drives["winding_c"],
        "pack_c": pack_temperature_c(conditions).value,
        "bus_limit_a": drives["bus_limit_a"],
        "phase_limit_a": drives["phase_limit_a"],
        "hot_limit_c": c.temperature_limit_c.value if c.temperature_limit_c else np.inf,
        "hot_level": 0.5 if c.hot_action is controller.HotAction.HALF else 0.0,
        "ramp_per_s": 1.0 / c.ramp_s.value if c.ramp_s else RAMP_PER_S,
        "receiver_a": load.current_a,
        "receiver_w": load.heat_w,
        "full_mps": full_mps,
        "full_throttle": drives["full_throttle"],
        "case_still_w_k": (
            learnt.case_still_w_k.value
            if learnt.case_still_w_k
            else still_w_k(heat["water_bore_m"], heat["case_jacket_w_k"])
        ),
        "plate_still_w_k": still_w_k(heat["water_bore_m"], heat["controller_jacket_w_k"]),
    }
    for name, column in columns.items():
        rows[name] = column
    for name in set(NUMBERS.names or ()) - set(columns):
        rows[name] = heat[name]
    return rows


def run_duty(
    setup: Setup,
    duty: Duty,
    *,
    samples: int = 0,
    step_s: float = 0.05,
    stride: int = 5,
    cooling: CoolingTable | None = None,
) -> DutyRun:
    """Drives a setup through a duty.

    Parameters
    ----------
    samples : draws for the band, besides the nominal drive.
    step_s : time step [s]; results are kept every ``stride`` steps.
    cooling : flow of the boat's own water circuit; None for a usual 4 mm line.

    Raises
    ------
    InvalidValue : longer than an hour.
    """
    known = known_with_heat(setup)
    drives = drive_values(setup).rows(samples, DUTY_SEED, known)
    heat = thermal_values(setup).rows(samples, DUTY_SEED, known)
    start, z = pack_temperature_c(setup.conditions), np.zeros(1 + samples)
    z[1:] = even_deviates(1, samples, START_SEED)[0] if samples else 0.0
    starts = start.value * np.exp(start.spread * z)  # nobody knows to a kelvin how warm it was kept
    return run_drives(setup, duty, drives, heat, step_s=step_s, stride=stride, cooling=cooling, starts_c=starts)


def run_drives(
    setup: Setup,
    duty: Duty,
    drives: Rows,
    heat: Rows,
    *,
    step_s: float,
    stride: int,
    cooling: CoolingTable | None = None,
    tables: ThrottleTables | None = None,
    starts_c: Array | None = None,
) -> DutyRun:
    """Takes drives of a setup, shape (1 + N,) with their heat, through a duty; see ``run_duty``.

    Parameters
    ----------
    tables : of the drives; made where there are none.
    starts_c : how warm each one's pack is at the start [degC], shape (1 + N,); as the setup says where not given.
    """
    if duty.seconds > MOST_SECONDS:
        raise InvalidValue("duty", duty.seconds, NumberBetween(low=0.0, high=MOST_SECONDS))
    made = throttle_tables(drives, curve_of(setup)) if tables is None else tables
    numbers = numbers_of(setup, drives, heat, made.full_mps)
    if starts_c is not None:
        numbers["pack_c"] = starts_c
    flows = flows_of(heat, np.linspace(0.0, 1.0, SPEEDS) * made.top_mps[:, np.newaxis], cooling)
    modes = np.array([float(p.mode) for p in duty.phases])
    seconds, levels = np.array([p.seconds for p in duty.phases]), np.array([p.level for p in duty.phases])
    kept = sum(round(p.seconds / step_s) for p in duty.phases) // stride
    out, books = np.full((len(drives), kept, len(OUT) + len(NODES)), np.nan), np.zeros((len(drives), 5))
    soc = setup.conditions.state_of_charge.value
    ocv_axis = _ocv_axis(setup, soc, np.linspace(0.0, 1.0, 101))
    books[:, 3:] = np.nan

    def share(at: slice) -> None:
        step_drives(
            modes, seconds, levels, step_s, stride, made.top_mps[at], made.thrust_n[at], made.current_a[at],
            made.shaft_rps[at], made.drag_n[at], flows.jacket[at], flows.plate[at], flows.warming[at], numbers[at],
            ocv_axis, DUTIES[0], DUTIES[1] - DUTIES[0], out[at], books[at],
        )  # fmt: skip

    in_shares(len(drives), DRIVES_A_SHARE, share)
    column = {name: out[:, :, k] for k, name in enumerate(OUT)}
    return DutyRun(
        duty=duty,
        time_s=np.arange(1, kept + 1, dtype=np.float64) * (step_s * stride),
        speed_mps=column["speed_mps"],
        throttle=column["throttle"],
        bus_current_a=column["bus_current_a"],
        pack_voltage_v=column["ocv_v"] - column["pack_drop_v"],
        used_ah=column["used_ah"],
        temperature_c=out[:, :, len(OUT) :],
        controller_w=column["controller_w"],
        junction_w_k=heat["junction_w_k"],
        heat_in_j=books[:, 0],
        heat_out_j=books[:, 1],
        heat_kept_j=books[:, 2],
        fails_s={Node.WINDING: books[:, 3], Node.CONNECTOR: books[:, 4]},
    )


@dataclass(frozen=True, slots=True, kw_only=True)
class Flows:
    """Conductances to the water [W/K] against each drive's speed, and the warming of a block behind the other [K/W]."""

    jacket: Array  # (N, speeds)
    plate: Array
    warming: Array  # (N, 2, speeds)


def flows_of(heat: Rows, axes: Array, cooling: CoolingTable | None) -> Flows:
    """Conductances by the flow through motor and controller; its spread is the bore's, squared."""
    bore = heat["water_bore_m"][:, np.newaxis]
    motor_kg = plate_kg = np.asarray(water_flow_kg_s(axes, bore))
    if cooling is not None:
        spread = (bore / bore[0]) ** 2
        motor_kg, plate_kg = (
            np.interp(axes, cooling.speed_mps, flow) * spread for flow in (cooling.motor_kg_s, cooling.controller_kg_s)
        )
    behind = cooling.behind if cooling is not None else Behind.NONE
    warm, none = 1.0 / (np.maximum(motor_kg, LEAST_FLOW_KG_S) * WATER_J_KGK), np.zeros_like(motor_kg)
    warming = np.stack([
        warm if behind is Behind.CONTROLLER else none,
        warm if behind is Behind.MOTOR else none,
    ], axis=1)  # fmt: skip
    return Flows(
        jacket=np.asarray(jacket_conductance_w_k(motor_kg, heat["case_jacket_w_k"][:, np.newaxis])),
        plate=np.asarray(jacket_conductance_w_k(plate_kg, heat["controller_jacket_w_k"][:, np.newaxis])),
        warming=warming,
    )
