"""A season of a boat on the simulated pond, as a racer writes it down: runs, changes, what displays and guns said."""

import dataclasses
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.drive.family import parts_of
from kunstflug.core.evidence.display import held_speed
from kunstflug.core.evidence.readings import Reading, What
from kunstflug.core.learning.run_evidence import DutyFrom, RunEvidence
from kunstflug.core.learning.told import told_duty
from kunstflug.core.quantity.value import Value
from kunstflug.core.setup.knowledge import Owner
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import Duty, Mode, passes_duty
from kunstflug.pond.world import Fault, World

GUN_MINUTES: Final = {What.CONTROLLER: 1.3, What.CASE: 1.6, What.PACK: 2.0}
BODY: Final = {What.CASE: 0, What.CONTROLLER: 1, What.PACK: 2}
GUN_K: Final = 3.0
LOGGED: Final = {What.CURRENT: 0.02, What.RPM: 0.004, What.VOLTAGE: 0.006}
RECEIVER: Final = 0.008
CHARGER: Final = 0.06  # of what it says that it put back
DISPLAY_MPS: Final = 0.15  # of the sample it kept, and of its last digit


@dataclass(frozen=True, slots=True, kw_only=True)
class Day:
    """How one run goes.

    Parameters
    ----------
    logged : whether a controller log and a track came home; else a display's peak and the gun.
    counted : passes were counted and the minutes on the water looked at.
    charger : what the charger put back was written down.
    """

    setup: Setup
    outing: int
    logged: bool = False
    counted: bool = False
    charger: bool = False
    gun: bool = True
    faults: tuple[Fault, ...] = ()


def things_of(setup: Setup, seed: int) -> dict[Owner, str]:
    """Keys of the parts of a setup: the same part is the same thing."""
    return {owner: f"{owner}:{seed}:{hash(part)}" for owner, part in parts_of(setup).items()}


@dataclass(frozen=True, slots=True, kw_only=True)
class _Driven:
    """A run as it really was.

    Parameters
    ----------
    setup : as the racer writes it down.
    rng : of what displays and guns then show.
    """

    setup: Setup
    world: World
    duty: Duty
    rng: np.random.Generator

    def heated(self) -> tuple[dict[What, float], float]:
        """What a gun would show that is never off [degC], and the charge used [Ah]."""
        found, used = self.world.heated(self.duty, list(GUN_MINUTES.values()))
        return {what: found[k][BODY[what]] for k, what in enumerate(GUN_MINUTES)}, used


def _driven(day: Day, seed: int, number: int, club: int | None, real_world: type[World] = World) -> _Driven:
    rng = np.random.default_rng((seed, 77, number))
    of_day = np.random.default_rng((seed, 78, day.outing))
    drag = float(np.exp(0.025 * of_day.standard_normal()))
    water, air = of_day.uniform(11.0, 22.0), of_day.uniform(12.0, 27.0)
    conditions = dataclasses.replace(
        day.setup.conditions, water_c=Value(value=round(water, 1)), air_c=Value(value=round(air, 1))
    )
    setup = dataclasses.replace(day.setup, conditions=conditions)
    charge = float(np.clip(0.75 + 0.05 * rng.standard_normal(), 0.5, 0.95))
    real = dataclasses.replace(setup, conditions=dataclasses.replace(conditions, state_of_charge=Value(value=charge)))
    world = real_world(
        real,
        seed,
        day.faults,
        drag * float(np.exp(0.02 * rng.standard_normal())),
        34.0 + 3.0 * rng.standard_normal(),
        club,
    )
    passes, seconds = int(rng.integers(3, 7)), float(rng.uniform(4.0, 8.0))
    duty = passes_duty(passes, round(seconds, 1), float(rng.uniform(20.0, 40.0)))
    return _Driven(setup=setup, world=world, duty=duty, rng=rng)


def warm_as_it_was(day: Day, seed: int, number: int, world: type[World] = World) -> dict[What, float]:
    """Temperatures of a run when the gun was held to them, without the gun's own error [degC]; see ``run_of``."""
    return _driven(day, seed, number, None, world).heated()[0]


def run_of(day: Day, seed: int, number: int, club: int | None = None, world: type[World] = World) -> RunEvidence:
    """One run of a hidden boat.

    Parameters
    ----------
    seed : of the boat.
    number : of the run; the same number is the same run.
    club : see ``World``.
    world : that the boat runs in.
    """
    driven = _driven(day, seed, number, club, world)
    rng, duty = driven.rng, driven.duty
    steady = driven.world.steady(-3.0 if Fault.WIND in day.faults else 0.0)
    found = [_speed(steady.speed_mps, day, rng)]
    if day.logged:
        for what, value in ((What.CURRENT, steady.current_a), (What.RPM, steady.rpm), (What.VOLTAGE, steady.voltage_v)):
            found.append(
                Reading(what=what, value=value * (1 + LOGGED[what] * rng.standard_normal()), spread=LOGGED[what])
            )
    if day.gun:
        warm, used = driven.heated()
        for what, celsius in warm.items():
            value, at = celsius + GUN_K * rng.standard_normal(), GUN_MINUTES[what]
            found.append(Reading(what=what, value=value, spread=GUN_K, minutes=at))
        if day.logged:
            found.append(Reading(what=What.CHARGE, value=used * (1 + 0.03 * rng.standard_normal()), spread=0.03))
        elif day.charger:
            back = used * (1 + CHARGER * rng.standard_normal())
            found.append(Reading(what=What.CHARGE, value=back, spread=CHARGER))
    known, duty_from = _as_written(day, duty)
    return RunEvidence(
        key=f"run {number}",
        boat=f"boat {seed}",
        setup=driven.setup,
        things=things_of(driven.setup, seed),
        outing=f"outing {seed} {day.outing}",
        duty=known,
        readings=tuple(found),
        duty_from=duty_from,
    )


def _as_written(day: Day, duty: Duty) -> tuple[Duty, DutyFrom]:
    """What is known of a duty that was driven."""
    if day.logged:
        return duty, DutyFrom.TRACKED
    if not day.counted:
        return told_duty()
    # by a clock, to half a minute
    return told_duty(sum(phase.mode is Mode.FULL for phase in duty.phases), round(duty.landing_s / 30.0) / 2.0)


def _speed(held_mps: float, day: Day, rng: np.random.Generator) -> Reading:
    if day.logged:
        value = held_mps * (1 + RECEIVER * rng.standard_normal())
        return Reading(what=What.SPEED, value=value, spread=RECEIVER, instrument="receiver")
    above = 1 + rng.uniform(0.01, 0.04)
    shown = held_mps * above * (1.12 if Fault.PEAK in day.faults else 1.0) + DISPLAY_MPS * rng.standard_normal()
    read = held_speed([shown])
    assert read is not None
    return Reading(what=What.SPEED, value=read.speed_mps, spread=read.spread, instrument="display")


def season(days: Sequence[Day], seed: int, club: int | None = None, world: type[World] = World) -> list[RunEvidence]:
    """All runs of a season, in order."""
    return [run_of(day, seed, k, club, world) for k, day in enumerate(days)]
