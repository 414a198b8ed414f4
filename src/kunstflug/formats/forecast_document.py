"""The forecast as JSON: what the command prints, the API answers and the database keeps."""

import dataclasses
import math
from typing import Any

import numpy as np
from pydantic import BaseModel, ConfigDict, Field

from kunstflug.core.drive.dangers import dangers_of
from kunstflug.core.drive.forecast import Forecast, nominal_free_rpm
from kunstflug.core.drive.operating_point import OperatingPoint
from kunstflug.core.drive.setup import Setup
from kunstflug.core.drive.verdict import Margin, Verdict
from kunstflug.core.values import Source


class Out(BaseModel):
    """Base of what is only written."""

    model_config = ConfigDict(extra="forbid")


class Banded(Out):
    """A number with its 80 % band, in the core's unit; null where there is none."""

    value: float | None
    low: float | None
    high: float | None


class MarginOut(Out):
    """One load against its limit."""

    station: str
    title: str
    load: float
    limit: float
    stop: float
    unit: str
    rising: bool
    use: float
    verdict: Verdict
    reason: str
    chance: float
    guessed: bool


class DangerOut(Out):
    """One danger beside the limits of the parts."""

    title: str
    verdict: Verdict
    sentence: str


class LossOut(Out):
    """One loss by name."""

    station: str
    name: str
    watts: float


class DoubtOut(Out):
    """A number that is questioned beside its field."""

    path: str
    sentence: str


class RemedyOut(Out):
    """One single change after which the drive works."""

    field: str
    value: float
    sentence: str
    speed_mps: float


class GuessOut(Out):
    """One uncertain parameter, and its part of the speed's variance."""

    parameter: str
    label: str
    value: float
    unit: str
    spread: float
    source: Source
    reason: str
    share: float = Field(description="of the speed's variance")
    shares: dict[str, float] = Field(description="of the variance of each headline")


class CurvesOut(Out):
    """Thrust and resistance against speed with their bands, SI."""

    speed_mps: list[float]
    thrust_n: list[float | None]
    thrust_low_n: list[float]
    thrust_high_n: list[float]
    resistance_n: list[float]
    resistance_low_n: list[float]
    resistance_high_n: list[float]


class PointOut(Out):
    """The operating point with its band."""

    speed_mps: Banded
    rpm: Banded
    free_rpm: Banded
    slip: Banded
    current_a: Banded
    pack_voltage_v: Banded
    motor_voltage_v: Banded
    electrical_power_w: Banded
    shaft_power_w: Banded
    thrust_n: Banded
    resistance_n: Banded
    torque_nm: Banded
    immersed: Banded
    side_force_n: Banded
    propeller_efficiency: Banded
    motor_efficiency: Banded
    volume_froude: Banded
    useful_power_w: Banded
    chemical_power_w: Banded


class ForecastOut(Out):
    """What a setup will do at steady full throttle."""

    model_version: str
    runs: bool = Field(description="false where there is no working operating point; then refusal says why")
    refusal: str
    remedies: list[RemedyOut]
    verdict: Verdict
    point: PointOut
    rule_of_thumb_rpm: float = Field(description="KV x 3.7 V a cell, the way racers reckon it")
    margins: list[MarginOut]
    dangers: list[DangerOut]
    losses: list[LossOut]
    curves: CurvesOut
    guesses: list[GuessOut]
    doubts: list[DoubtOut]
    caveats: list[str]


_LOSSES = (
    ("pack", "Pack", "pack_loss_w"),
    ("wires", "Wires and connectors", "wiring_loss_w"),
    ("controller", "Controller", "controller_loss_w"),
    ("motor", "Copper", "copper_loss_w"),
    ("motor", "Iron and bearings", "no_load_loss_w"),
    ("coupling", "Shaft", "shaft_loss_w"),
    ("propeller", "Propeller", "propeller_loss_w"),
)

LABELS = {
    "pack_ocv_v": ("Resting voltage of the pack", "V"),
    "pack_resistance_ohm": ("Resistance of the pack", "ohm"),
    "wiring_resistance_ohm": ("Wires and connectors", "ohm"),
    "controller_resistance_ohm": ("Controller's resistance", "ohm"),
    "bus_limit_a": ("Bus current limit", "A"),
    "phase_limit_a": ("Phase current limit", "A"),
    "kv_rpm_per_v": ("KV", "rpm/V"),
    "winding_resistance_ohm": ("Winding resistance", "ohm"),
    "winding_c": ("Winding temperature", "degC"),
    "no_load_current_a": ("No-load current", "A"),
    "shaft_efficiency": ("Shaft and bearings", "%"),
    "diameter_m": ("Propeller diameter", "m"),
    "pitch_m": ("Propeller pitch", "m"),
    "pitch_factor": ("Real over printed pitch", "%"),
    "blade_area": ("Blade area ratio", "%"),
    "immersion": ("Immersed part of the turn", "%"),
    "kv_factor": ("Effective over printed KV", "%"),
    "blade_friction": ("Blade friction", ""),
    "lift_ratio": ("Propeller's lift over its thrust", "%"),
    "mass_kg": ("All-up mass", "kg"),
    "planing_drag_ratio": ("Drag of the running surfaces over weight", "%"),
    "hump_drag_ratio": ("Hump over weight", "%"),
    "appendage_area_m2": ("Drag area of rudder, strut and fin", "m2"),
    "air_drag_area_m2": ("Drag area in air", "m2"),
    "no_load_rpm": ("Speed of the no-load current", "rpm"),
    "headwind_mps": ("Headwind", "m/s"),
    "water_kg_m3": ("Density of the water", "kg/m3"),
    "air_kg_m3": ("Density of the air", "kg/m3"),
}


def _number(value: float, digits: int = 6) -> float | None:
    return float(f"{value:.{digits}g}") if math.isfinite(value) else None


def _sure(value: float) -> float:
    return float(f"{value:.6g}") if math.isfinite(value) else 0.0


def _point(f: Forecast) -> PointOut:
    fields = {}
    for name in PointOut.model_fields:
        triple = (getattr(p, name) for p in (f.point, f.low, f.high))
        fields[name] = Banded(**dict(zip(("value", "low", "high"), map(_number, triple), strict=True)))
    return PointOut(**fields)


def _margin(m: Margin) -> MarginOut:
    numbers = {name: _sure(getattr(m, name)) for name in ("load", "limit", "stop", "use", "chance")}
    words = {name: getattr(m, name) for name in ("station", "title", "unit", "rising", "verdict", "reason", "guessed")}
    return MarginOut(**numbers, **words)


def _curves(f: Forecast) -> CurvesOut:
    columns: dict[str, Any] = {
        # To a thousandth: the curves are drawn, and written at every step of a slider.
        field.name: [v if v == v else None for v in np.round(getattr(f.curves, field.name), 3).tolist()]
        for field in dataclasses.fields(f.curves)
    }
    return CurvesOut(**columns)


def _guesses(f: Forecast) -> list[GuessOut]:
    found = []
    for g in f.guesses:
        label, unit = LABELS[g.parameter]
        scale = 100.0 if unit == "%" else 1.0
        found.append(
            GuessOut(
                parameter=g.parameter, label=label, value=_sure(g.value.value * scale), unit=unit,
                spread=g.value.spread, source=g.value.source, reason=g.value.reason, share=_sure(g.share),
                shares={k: round(v, 4) for k, v in g.shares.items()},
            )
        )  # fmt: skip
    return found


def forecast_document(setup: Setup, f: Forecast) -> ForecastOut:
    """Document of a forecast."""
    point: OperatingPoint = f.point
    return ForecastOut(
        model_version=f.model_version,
        runs=f.runs,
        refusal=f.refusal,
        remedies=[RemedyOut(**dataclasses.asdict(r)) for r in f.remedies],
        verdict=f.verdict,
        point=_point(f),
        rule_of_thumb_rpm=nominal_free_rpm(setup),
        margins=[_margin(m) for m in f.margins],
        dangers=[
            DangerOut(title=d.title, verdict=d.verdict, sentence=d.sentence)
            for d in (dangers_of(setup, point, f.curves) if f.runs else ())
        ],
        losses=[LossOut(station=s, name=n, watts=_sure(getattr(point, field))) for s, n, field in _LOSSES],
        curves=_curves(f),
        guesses=_guesses(f),
        doubts=[DoubtOut(path=d.path, sentence=d.sentence) for d in f.doubts],
        caveats=list(f.caveats),
    )
