"""The forecast as JSON: what the command prints, the API answers and the database keeps."""

import dataclasses
from typing import Any, Final, Literal

import numpy as np
from pydantic import Field

from kunstflug.core.drive.dangers import Danger
from kunstflug.core.drive.forecast import Forecast, Margin, nominal_free_rpm
from kunstflug.core.drive.limits import LimitKey
from kunstflug.core.drive.point import Loss
from kunstflug.core.drive.values import as_bought, taught_by_racers
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.quantity.units import number_in
from kunstflug.core.quantity.value import Source
from kunstflug.core.setup.setup import Setup
from kunstflug.documents.base import Out, rounded, sure
from kunstflug.wording import Tongue, drive, guesses, limits, say, sentence

VERSION: Final = 2


class Banded(Out):
    """A number with its 80 % band, in the core's unit; null where there is none."""

    value: float | None
    low: float | None
    high: float | None


class MarginOut(Out):
    """One load against its limit, in the core's unit; no ``stop`` where the limit is a guess."""

    key: LimitKey
    station: str
    title: str
    load: float
    limit: float
    stop: float | None
    unit: str
    rising: bool
    use: float
    verdict: Verdict
    reason: str
    chance: float
    guessed: bool


class DangerOut(Out):
    """One danger beside the limits of the parts."""

    key: str
    title: str
    verdict: Verdict
    sentence: str


class LossOut(Out):
    """One loss, and its name."""

    loss: Loss
    name: str
    watts: float


class DoubtOut(Out):
    """A number that is questioned beside its field."""

    path: str
    sentence: str


class RemedyOut(Out):
    """One single change after which the drive works."""

    path: str
    value: float
    sentence: str
    speed_mps: float


class GuessOut(Out):
    """One uncertain parameter in its usual unit, and its part of the speed's variance."""

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
    motor_current_a: Banded
    throttle: Banded
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
    endurance_s: Banded
    useful_power_w: Banded
    chemical_power_w: Banded


class ForecastOut(Out):
    """What a setup will do at steady full throttle."""

    format: Literal["kunstflug-forecast"] = "kunstflug-forecast"
    version: Literal[2] = VERSION
    model_version: str
    known_runs: int = Field(default=0, description="runs that taught it; 0 for a forecast of a boat as bought")
    known_here: int = Field(default=0, description="how many of these runs were the boat's own")
    known_racers: int = Field(default=0, description="racers of the club whose boats moved what is guessed")
    knew: str = Field(default="", description="identity of all that taught; empty for a boat as bought")
    runs: bool = Field(description="false where there is no working operating point; then refusal says why")
    refusal: str
    remedies: list[RemedyOut]
    verdict: Verdict
    point: PointOut
    rule_of_thumb_rpm: float = Field(description="KV x 3.7 V a cell, the way racers work it out")
    margins: list[MarginOut]
    dangers: list[DangerOut]
    losses: list[LossOut]
    curves: CurvesOut
    guesses: list[GuessOut]
    doubts: list[DoubtOut]
    caveats: list[str]


def _point(f: Forecast) -> PointOut:
    fields = {}
    for name in PointOut.model_fields:
        value, low, high = (rounded(getattr(p, name)) for p in (f.point, f.low, f.high))
        fields[name] = Banded(value=value, low=low, high=high)
    return PointOut(**fields)


def margin_out(m: Margin, tongue: Tongue) -> MarginOut:
    """Document of a margin."""
    return MarginOut(
        key=m.key,
        station=limits.STATIONS[m.key],
        title=limits.TITLES[m.key],
        load=sure(m.load),
        limit=sure(m.limit.holds),
        stop=None if m.limit.guessed else sure(m.limit.stop),
        unit=limits.UNITS.get(m.key, "A"),
        rising=m.rising,
        use=sure(m.use),
        verdict=m.verdict,
        reason=limits.margin(m, tongue),
        chance=sure(m.chance),
        guessed=m.limit.guessed,
    )


def _curves(f: Forecast) -> CurvesOut:
    columns: dict[str, Any] = {
        # To a thousandth: the curves are drawn, and written at every step of a slider.
        field.name: [v if v == v else None for v in np.round(getattr(f.curves, field.name), 3).tolist()]
        for field in dataclasses.fields(f.curves)
    }
    return CurvesOut(**columns)


MOVED: Final = 0.01
"""Of a number by what was learnt; by less it is shown as it was."""


def _guesses(setup: Setup, f: Forecast, tongue: Tongue) -> list[GuessOut]:
    found, knowledge, bought = [], setup.knowledge, as_bought(setup)
    for g in f.guesses:
        label, dimension, usual = guesses.PARAMETERS[g.parameter]
        unit = tongue.own(usual, dimension)
        reason, before = say(g.value.reason, tongue) if g.value.reason else "", getattr(bought, g.parameter).value
        if knowledge is not None and abs(g.value.value - before) > MOVED * abs(before):
            was = tongue.quantity(before, dimension, usual, 3)
            reason = guesses.moved(was, by_runs=knowledge.runs > 0, reason=reason)
        found.append(
            GuessOut(
                parameter=g.parameter,
                label=label,
                value=sure(number_in(g.value.value, unit, dimension)),
                unit=unit,
                spread=g.value.spread,
                source=g.value.source,
                reason=reason,
                share=sure(g.share),
                shares={k: round(v, 4) for k, v in g.shares.items()},
            )
        )
    return found


def forecast_out(setup: Setup, f: Forecast, dangers: tuple[Danger, ...], tongue: Tongue) -> ForecastOut:
    """Document of a forecast with the dangers beside it."""
    return ForecastOut(
        model_version=f.model_version,
        known_runs=setup.knowledge.runs if setup.knowledge else 0,
        known_here=setup.knowledge.runs_here if setup.knowledge else 0,
        known_racers=taught_by_racers(setup),
        knew=setup.knowledge.identity if setup.knowledge else "",
        runs=f.runs,
        refusal=say(f.refusal, tongue) if f.refusal else "",
        remedies=[
            RemedyOut(path=r.path, value=r.value, sentence=drive.remedy(r, tongue), speed_mps=r.speed_mps)
            for r in f.remedies
        ],
        verdict=f.verdict,
        point=_point(f),
        rule_of_thumb_rpm=nominal_free_rpm(setup),
        margins=[margin_out(m, tongue) for m in f.margins],
        dangers=[
            DangerOut(
                key=d.finding.code(),
                title=drive.DANGERS[type(d.finding)],
                verdict=d.verdict,
                sentence=sentence(say(d.finding, tongue)),
            )
            for d in dangers
        ],
        losses=[LossOut(loss=one, name=n, watts=sure(float(f.point.loss_w(one)))) for one, n in drive.LOSSES.items()],
        curves=_curves(f),
        guesses=_guesses(setup, f, tongue),
        doubts=[DoubtOut(path=d.path, sentence=sentence(say(d.reason, tongue))) for d in f.doubts],
        caveats=[say(c, tongue) for c in f.caveats],
    )
