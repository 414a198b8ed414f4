"""The plan of a pass: how much water the run-up takes, where to lift, how many passes, when to come in."""

import math
from dataclasses import dataclass
from typing import Final

from kunstflug.core.drive.balance import USABLE
from kunstflug.core.parts.pack import usable_ah
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty, Mode, PhaseKind
from kunstflug.core.thermal.heat_forecast import HeatForecast
from kunstflug.core.thermal.launch import Launch

RESERVE: Final = 0.10
"""Of the usable charge, kept for the way home (common practice, no source)."""


@dataclass(frozen=True, slots=True, kw_only=True)
class PassPlan:
    """How to drive a run.

    Parameters
    ----------
    run_up_m, run_up_s : to full speed, by the chosen start.
    held_m : at full speed.
    lift_m : from the beginning of the run-up; there the throttle is let go, or the pond ends.
    short_m : by how much the pond is too short [m]; 0 where it is long enough or nobody said.
    longest_s : full throttle that fits into the pond [s]; infinite where nobody said how long it is.
    passes : planned, and ``come_in_after`` of them driven; ``until_limit`` before a part passes its ceiling, -1 for
        more than twelve.
    cool_s : of a cool-down lap that keeps four passes below all ceilings [s]; NaN where none does.
    by_charge : passes until the reserve is touched.
    come_in_s : after the start, when the last planned pass is over, or earlier where charge or heat say so.
    used : part of the pack's charge that the plan takes [1].
    """

    standing: bool
    run_up_m: float
    run_up_s: float
    held_m: float
    lift_m: float
    short_m: float
    longest_s: float
    full_s: float
    passes: int
    come_in_after: int
    until_limit: int
    cool_s: float
    by_charge: int
    come_in_s: float
    used: float


def pass_plan(
    setup: Setup, duty: Duty, heat: HeatForecast, launch: Launch, pond_m: float | None, *, standing: bool
) -> PassPlan:
    """The plan of a duty's passes from what the model says of heat and launch."""
    top = float(heat.run.speed_mps[0].max())
    start = launch.standing if standing else launch.flying
    full = duty.full_s if math.isfinite(duty.full_s) else 0.0
    up_s, up_m = start.seconds.middle, start.metres.middle
    held_m = max(full - up_s, 0.0) * top
    lift = (up_m if full >= up_s else up_m * (full / up_s) ** 2 if up_s > 0 else 0.0) + held_m
    short = max(lift + launch.stopping_m.middle - pond_m, 0.0) if pond_m is not None else 0.0
    longest = math.inf
    if pond_m is not None:
        room = pond_m - launch.stopping_m.middle
        longest = up_s + (room - up_m) / top if room >= up_m else up_s * math.sqrt(max(room, 0.0) / up_m)
    kinds = [p.kind for p in duty.phases]
    count = sum(kind is PhaseKind.PASS or p.mode is Mode.FULL for kind, p in zip(kinds, duty.phases, strict=True))
    used = heat.used_ah / usable_ah(setup.pack)
    each = used / max(count, 1)
    allowed = USABLE * setup.conditions.state_of_charge.value * (1 - RESERVE)
    by_charge = int(allowed / each) if each > 0 else 99
    passes = min(x for x in (count, heat.passes_until_limit if heat.passes_until_limit >= 0 else count, by_charge))
    return PassPlan(
        standing=standing,
        run_up_m=up_m,
        run_up_s=up_s,
        held_m=held_m,
        lift_m=lift,
        short_m=short,
        longest_s=longest,
        full_s=full,
        passes=count,
        come_in_after=passes,
        until_limit=heat.passes_until_limit,
        cool_s=heat.cool_down_s,
        by_charge=by_charge,
        come_in_s=_end_of(duty, passes),
        used=used * passes / max(count, 1),
    )


def _end_of(duty: Duty, passes: int) -> float:
    """When so many stretches of full throttle are over [s]; the duty's landing where it has no more."""
    seconds, done = 0.0, 0
    for phase in duty.phases:
        if phase.mode is Mode.REST:
            break
        if phase.mode is Mode.FULL and done == passes:
            break
        seconds += phase.seconds
        done += phase.mode is Mode.FULL
    return seconds
