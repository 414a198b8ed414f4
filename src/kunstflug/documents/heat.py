"""Heat through a duty as JSON."""

import math
from typing import Final

import numpy as np
from pydantic import Field

from kunstflug.core.drive.schools import Schools
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.thermal.charging import ChargeBack
from kunstflug.core.thermal.duty import Kind, Mode
from kunstflug.core.thermal.heat_forecast import HeatForecast
from kunstflug.core.thermal.launch import Launch
from kunstflug.core.thermal.nodes import HEAT_NODES, Node
from kunstflug.documents.base import Out
from kunstflug.wording import Tongue, guesses, heat, say

DRAWN: Final = 420


class HeatLimitOut(Out):
    """One node against its ceiling."""

    node: Node
    title: str
    ceiling_c: float
    stop_c: float
    peak_c: float
    peak_low_c: float
    peak_high_c: float
    crossing_s: float | None
    fails_s: float | None = Field(description="instant at which the part fails; null: it does not")
    chance: float
    verdict: Verdict
    reason: str


class HeatNodeOut(Out):
    """One node's temperature in time with its band [degC]."""

    node: Node
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


class LaunchOut(Out):
    """The way to speed; null where it is never reached."""

    plane_s: float | None = Field(description="from standing until the hump is behind")
    standing_s: float | None = Field(description="from standing to 90 % of the top speed")
    standing_m: float | None
    flying_s: float | None = Field(description="from half of the top speed to 90 % of it")
    flying_m: float | None
    stuck: float = Field(description="part of the band that does not come on plane")
    sentence: str
    warnings: list[str]


class HeatOut(Out):
    """Temperatures through a duty."""

    time_s: list[float]
    speed_mps: list[float]
    nodes: list[HeatNodeOut]
    phases: list[PhaseOut]
    limits: list[HeatLimitOut]
    verdict: Verdict
    passes_until_limit: int | None = Field(description="null: more than twelve, or no duty of passes")
    cool_down_s: float | None = Field(description="null: none that was tried is long enough, or there are no passes")
    seconds_to_empty: float | None
    used_mah: float
    burst_use: float = Field(description="largest part of the controller's burst rating that is used up")
    burst_s: float | None = Field(description="instant at which it is used up; null: it is not")
    causes: list[tuple[str, float]] = Field(description="guesses by their part of the variance of the case's peak")
    charge: ChargeOut
    launch: LaunchOut
    gun: list[tuple[float, float]] = Field(description="minutes after landing, degC on the case")


def finite(value: float, digits: int = 4) -> float | None:
    """A number for JSON; None where there is none."""
    return round(value, digits) if math.isfinite(value) else None


def _phases(found: HeatForecast) -> list[PhaseOut]:
    rows, clock = [], 0.0
    for phase in found.run.duty.phases:
        full = phase.mode in (Mode.FULL, Mode.TUB)
        rows.append(PhaseOut(name=heat.phase(phase), start_s=clock, end_s=clock + phase.seconds, full=full))
        clock += phase.seconds
    return rows


def _launch(found: Launch, tongue: Tongue) -> LaunchOut:
    return LaunchOut(
        plane_s=finite(found.plane_s.middle, 2),
        standing_s=finite(found.standing.seconds.middle, 2),
        standing_m=finite(found.standing.metres.middle, 1),
        flying_s=finite(found.flying.seconds.middle, 2),
        flying_m=finite(found.flying.metres.middle, 1),
        stuck=round(found.stuck, 3),
        sentence=heat.way_to_speed(found, tongue),
        warnings=[say(w, tongue) for w in found.warnings],
    )


def heat_out(found: HeatForecast, back: ChargeBack, launch: Launch, schools: Schools, tongue: Tongue) -> HeatOut:
    """Document of a heat forecast, thinned to what is drawn."""
    run = found.run
    keep = np.unique(np.linspace(0, len(run.time_s) - 1, min(DRAWN, len(run.time_s))).astype(int))

    def column(table: np.ndarray, k: int) -> list[float]:
        return [float(v) for v in np.round(table[keep, k], 2)]

    passes = run.duty.kind is Kind.PASSES and found.passes_until_limit >= 0
    return HeatOut(
        time_s=np.round(run.time_s[keep], 2).tolist(),
        speed_mps=np.round(run.speed_mps[0, keep], 2).tolist(),
        nodes=[
            HeatNodeOut(
                node=node,
                middle_c=column(found.middle_c, k),
                low_c=column(found.low_c, k),
                high_c=column(found.high_c, k),
            )
            for k, node in enumerate(HEAT_NODES)
        ],
        phases=_phases(found),
        limits=[
            HeatLimitOut(
                node=x.node,
                title=heat.NODES[x.node],
                ceiling_c=x.ceiling_c,
                stop_c=x.stop_c,
                peak_c=x.peak_c,
                peak_low_c=x.peak_low_c,
                peak_high_c=x.peak_high_c,
                crossing_s=finite(x.crossing_s),
                fails_s=finite(x.fails_s),
                chance=x.chance,
                verdict=x.verdict,
                reason=heat.limit(x, schools, tongue),
            )
            for x in found.limits
        ],
        verdict=found.verdict,
        passes_until_limit=found.passes_until_limit if passes else None,
        cool_down_s=finite(found.cool_down_s),
        seconds_to_empty=finite(found.seconds_to_empty),
        used_mah=round(found.used_ah * 1e3),
        burst_use=round(found.burst.use, 3),
        burst_s=finite(found.burst.used_up_s),
        causes=[(guesses.label(c.parameter), round(c.share, 3)) for c in found.causes],
        charge=ChargeOut(
            used_wh=round(back.used_wh, 1),
            left=round(back.left, 3),
            charge_a=round(back.charge_a, 2),
            constant_s=round(back.charge.constant_s),
            total_s=round(back.charge.total_s),
        ),
        launch=_launch(launch, tongue),
        gun=[(g.minutes, round(g.celsius, 1)) for g in found.gun],
    )
