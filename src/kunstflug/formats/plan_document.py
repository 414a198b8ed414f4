"""Heat through a duty, single changes, sweep map and backward answer as JSON."""

import math
from typing import Literal

import numpy as np
from pydantic import Field

from kunstflug.core import pack
from kunstflug.core.drive.duty import Duty, Kind, lap_race_duty, passes_duty, tub_duty
from kunstflug.core.drive.heat_forecast import HEAT_NODES, HeatForecast
from kunstflug.core.drive.schools import (
    ControllerSchool,
    PackSchool,
    RpmSchool,
    Schools,
    TemperatureSchool,
)
from kunstflug.core.drive.setup import Setup
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.matching.backward import Answer, Backward
from kunstflug.core.matching.sweep import REASONS, SweepResult
from kunstflug.formats.forecast_document import LABELS, Out
from kunstflug.formats.setup_document import Strict

VERDICTS = (Verdict.HOLDS, Verdict.SHORT, Verdict.STOP)
DRAWN = 420


class SchoolsIn(Strict):
    """The chosen school of each question."""

    temperature: TemperatureSchool = TemperatureSchool.CAUTIOUS
    controller: ControllerSchool = ControllerSchool.SUSTAINED
    rpm: RpmSchool = RpmSchool.LOW
    pack: PackSchool = PackSchool.DOUBTING

    def core(self) -> Schools:
        """The core's schools."""
        return Schools(temperature=self.temperature, controller=self.controller, rpm=self.rpm, pack=self.pack)


class DutyIn(Strict):
    """What the boat is to do."""

    kind: Kind = Kind.PASSES
    passes: int = Field(default=4, ge=1, le=30)
    pass_s: float = Field(default=6.0, ge=0.5, le=120)
    cool_s: float = Field(default=25.0, ge=0, le=300)
    minutes: float = Field(default=4.0, ge=0.2, le=30)

    def core(self) -> Duty:
        """The core's duty."""
        if self.kind is Kind.PASSES:
            return passes_duty(self.passes, self.pass_s, self.cool_s)
        if self.kind is Kind.LAP_RACE:
            return lap_race_duty(max(self.minutes, 0.5))
        return tub_duty(min(self.minutes, 15.0))


class HeatLimitOut(Out):
    """One node against its ceiling."""

    node: str
    title: str
    ceiling_c: float
    stop_c: float
    peak_c: float
    peak_low_c: float
    peak_high_c: float
    crossing_s: float | None
    chance: float
    verdict: Verdict
    reason: str


class HeatNodeOut(Out):
    """One node's temperature in time with its band [degC]."""

    node: str
    middle_c: list[float]
    low_c: list[float]
    high_c: list[float]


class PhaseOut(Out):
    """One phase of the duty."""

    name: str
    start_s: float
    end_s: float
    full: bool


class ChargeOut(Out):
    """What a duty took out of the pack, and how long it takes to put it back."""

    used_wh: float
    left: float = Field(description="state of charge after the duty")
    charge_a: float = Field(description="1 x the capacity; the maker's sheet may allow more or less")
    constant_s: float = Field(description="at constant current")
    total_s: float


class HeatOut(Out):
    """Temperatures through a duty."""

    time_s: list[float]
    speed_mps: list[float]
    nodes: list[HeatNodeOut]
    phases: list[PhaseOut]
    limits: list[HeatLimitOut]
    verdict: Verdict
    passes_until_limit: int | None = Field(description="null: more than twelve, or no duty of passes")
    cool_down_s: float | None = Field(description="null: none of the tried ones is enough, or no duty of passes")
    seconds_to_empty: float | None
    used_mah: float
    burst_use: float = Field(description="largest part of the controller's burst rating that is used up")
    burst_s: float | None = Field(description="instant at which it is used up; null: it is not")
    causes: list[tuple[str, float]] = Field(description="guesses by their part of the variance of the case's peak")
    charge: ChargeOut
    gun: list[tuple[float, float]] = Field(description="minutes after landing, degC on the case")


def _finite(value: float) -> float | None:
    return round(value, 4) if math.isfinite(value) else None


_CAUSES = {
    "winding_j_k": "heat capacity of the winding",
    "case_j_k": "heat capacity of the case",
    "controller_j_k": "heat capacity of the controller",
    "winding_case_w_k": "winding to case",
    "case_jacket_w_k": "case to jacket",
    "case_air_w_k": "case to air",
    "water_bore_m": "bore of the water line",
}


def charge_document(setup: Setup, used_ah: float) -> ChargeOut:
    """Charging back what a duty took, at one times the capacity."""
    capacity, left = pack.usable_ah(setup.pack), setup.conditions.state_of_charge.value
    soc = max(left - used_ah / capacity, 0.0)
    constant, total, _ = pack.charge_time_s(soc, capacity, pack.cell_resistance(setup.pack).value)
    cells = pack.series_cells(setup.pack)
    return ChargeOut(
        used_wh=round(pack.energy_wh(soc, left, capacity, cells), 1),
        left=round(soc, 3),
        charge_a=round(capacity, 2),
        constant_s=round(constant),
        total_s=round(total),
    )


def heat_document(setup: Setup, found: HeatForecast) -> HeatOut:
    """Document of a heat forecast, thinned to what is drawn."""
    run = found.run
    keep = np.unique(np.linspace(0, len(run.time_s) - 1, min(DRAWN, len(run.time_s))).astype(int))
    phases, clock = [], 0.0
    for phase in run.duty.phases:
        full = phase.mode in (0, 3)
        phases.append(PhaseOut(name=phase.name, start_s=clock, end_s=clock + phase.seconds, full=full))
        clock += phase.seconds
    nodes = [
        HeatNodeOut(
            node=name,
            middle_c=np.round(found.middle_c[keep, k], 2).tolist(),
            low_c=np.round(found.low_c[keep, k], 2).tolist(),
            high_c=np.round(found.high_c[keep, k], 2).tolist(),
        )
        for k, name in enumerate(HEAT_NODES)
    ]
    limits = []
    for limit in found.limits:
        fields = {name: getattr(limit, name) for name in HeatLimitOut.model_fields}
        limits.append(HeatLimitOut(**fields | {"crossing_s": _finite(limit.crossing_s)}))
    passes = run.duty.kind is Kind.PASSES and found.passes_until_limit >= 0
    return HeatOut(
        time_s=np.round(run.time_s[keep], 2).tolist(),
        speed_mps=np.round(run.speed_mps[0, keep], 2).tolist(),
        nodes=nodes,
        phases=phases,
        limits=limits,
        verdict=found.verdict,
        passes_until_limit=found.passes_until_limit if passes else None,
        cool_down_s=_finite(found.cool_down_s),
        seconds_to_empty=_finite(found.seconds_to_empty),
        used_mah=round(found.used_ah * 1e3),
        burst_use=round(found.burst_use, 3),
        burst_s=_finite(found.burst_s),
        causes=[(_CAUSES.get(name) or LABELS.get(name, (name, ""))[0], round(v, 3)) for name, v in found.causes],
        charge=charge_document(setup, found.used_ah),
        gun=[(minutes, round(c, 1)) for minutes, c in found.gun_c],
    )


class StepOut(Out):
    """One single change, tried."""

    path: str
    label: str
    value: object
    text: str
    shelf_id: int | None
    speed_mps: float
    gain_mps: float
    case_c: float
    case_gain_c: float
    current_a: float
    chance: float = Field(description="chance that any limit is passed")
    verdict: Verdict
    sentence: str


class MapOut(Out):
    """The sweep map: KV along, diameter up; rows by diameter."""

    kv_rpm_per_v: list[float]
    diameter_m: list[float]
    speed_mps: list[list[float | None]]
    use: list[list[float | None]]
    verdict: list[list[int]] = Field(description="0 holds, 1 short runs, 2 stop, 3 does not run")
    reason: list[list[str]]
    current_a: list[list[float | None]]
    run_s: list[list[float | None]]
    front: list[tuple[int, int]] = Field(description="row and column of the drives nobody beats, by rising use")
    lasting: list[tuple[int, int]] = Field(description="the same of speed against run time, longest first")


def map_document(found: SweepResult, front: np.ndarray, lasting: np.ndarray) -> MapOut:
    """Document of a sweep over KV and diameter."""
    shape = (len(found.ranges.kv_rpm_per_v), len(found.ranges.diameter_m))

    def grid(values: np.ndarray, digits: int) -> list[list[float | None]]:
        table = values.reshape(shape).T
        return [[round(v, digits) if math.isfinite(v) else None for v in row] for row in table.tolist()]

    reasons = [[REASONS[k] for k in row] for row in found.reason.reshape(shape).T.tolist()]
    return MapOut(
        kv_rpm_per_v=np.round(found.ranges.kv_rpm_per_v, 1).tolist(),
        diameter_m=np.round(found.ranges.diameter_m, 6).tolist(),
        speed_mps=grid(found.speed_mps, 3),
        use=grid(found.use, 4),
        verdict=found.verdict.reshape(shape).T.tolist(),
        reason=reasons,
        current_a=grid(found.current_a, 1),
        run_s=grid(found.run_s, 0),
        front=[(int(k % shape[1]), int(k // shape[1])) for k in front],
        lasting=[(int(k % shape[1]), int(k // shape[1])) for k in lasting],
    )


class AnswerOut(Out):
    """A drive that reaches the wanted speed, or comes nearest."""

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
    motor_room_m: float = Field(description="its can at today's diameter with the wires behind it")
    boat_kg: float
    wire_awg: int
    pin_mm: float


class BackwardOut(Out):
    """The answer to a wish."""

    wanted_mps: float
    possible: bool
    reason: str
    answers: list[AnswerOut]
    speed_mps: list[float]
    power_w: list[float]


def _answer(found: Answer) -> AnswerOut:
    return AnswerOut(**{name: getattr(found, name) for name in AnswerOut.model_fields})


def backward_document(found: Backward) -> BackwardOut:
    """Document of a backward answer."""
    return BackwardOut(
        wanted_mps=found.wanted_mps,
        possible=found.possible,
        reason=found.reason,
        answers=[_answer(a) for a in found.answers[:6]],
        speed_mps=np.round(found.speed_mps, 3).tolist(),
        power_w=np.round(found.power_w, 2).tolist(),
    )


class FoundOut(Out):
    """One drive of a large search: the changes that make it, and what it does."""

    changes: list[dict[str, object]] = Field(description="path and value, as a draft takes them")
    shelf: dict[str, int] = Field(description="kind of part and its place on the shelf")
    words: str
    speed_mps: float
    current_a: float
    use: float
    tightest: str
    verdict: int
    run_s: float
    mass_kg: float | None = None
    price: float | None = None
    on_margin_front: bool
    on_time_front: bool


class SearchOut(Out):
    """What a large search found: the two fronts, and counts."""

    tried: int
    left_out: int = Field(description="combinations that cannot go together, are too heavy or too dear")
    holding: int
    found: list[FoundOut]
    cloud: list[tuple[float, float, int]] = Field(description="speed, use and verdict of some drives, to draw")


class ProgressOut(Out):
    """One line of a long answer: how far the work is; its result on the last line."""

    state: Literal["waiting", "running", "done", "failed"]
    done: int
    total: int
    problem: str = ""
    result: SearchOut | None = None
