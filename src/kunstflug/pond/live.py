"""A boat on the simulated pond as it runs: samples while it is driven, by a driver who does as is said, or does not."""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.setup.setup import Setup
from kunstflug.pond.outing import WATER_ALONG
from kunstflug.pond.world import Fault, World

STEP_S: Final = 0.05
WARM_UP_S: Final = 15.0
STILL_MPS: Final = 0.5
HOME_S: Final = 12.0
LONGEST_HOME_S: Final = 60.0
TURN_RAD_S: Final = 0.5


@dataclass(frozen=True, slots=True, kw_only=True)
class DeviceReading:
    """One sample of a boat's own instruments, and what is true beside it [s, m/s, A, V, 1/min, 1, degC, Ah, m]."""

    time_s: float
    speed_mps: float
    bus_a: float
    voltage_v: float
    rpm: float
    throttle: float
    controller_c: float
    case_c: float
    true_c: tuple[float, ...]  # motor, controller, pack, plug
    true_ah: float
    passes: int
    east_m: float
    north_m: float


class LivePond:
    """Drives passes with cool-down laps until it is told to come in, or a number of passes is over.

    Parameters
    ----------
    seed : of the hidden boat; noise : of the instruments.
    pass_s, cool_s : as the driver plans them [s].
    """

    def __init__(
        self,
        setup: Setup,
        seed: int,
        faults: Sequence[Fault] = (),
        *,
        passes: int = 14,
        pass_s: float = 6.0,
        cool_s: float = 25.0,
        noise: int = 0,
        hz: float = 10.0,
    ) -> None:
        self.world, self.seed = World(setup, seed, faults), seed
        self.passes, self.pass_s, self.cool_s, self.hz = passes, pass_s, cool_s, hz
        self.told_lift = self.told_in = False
        self.told_cool_s = 0.0
        self._rng = np.random.default_rng((seed, 31, noise))
        self._done, self._kind, self._left = 0, "cruise", WARM_UP_S

    def _next(self) -> None:
        """What comes next: a pass, a cool-down lap, the way home."""
        if self.told_in and self._kind != "home":
            self._kind, self._left = "home", HOME_S
        if self._kind == "pass" and self.told_lift:
            self._left = 0.0
        if self._left > 0.0 or self._kind == "home":
            return
        if self._kind == "pass":
            self._done += 1
            self._kind, self._left = "cruise", max(self.cool_s, self.told_cool_s)
        elif self._done < self.passes:
            self._kind, self._left = "pass", self.pass_s
        else:
            self._kind, self._left = "home", HOME_S

    def drive(self) -> Iterator[DeviceReading]:
        """Samples from the start to the landing; what is said meanwhile is heeded at the next step."""
        world, celsius, rng = self.world, self.world.start_c(), self._rng
        full = world.steady().speed_mps
        speed = duty = used = time = 0.0
        self._done, self._kind, self._left = 0, "cruise", WARM_UP_S
        every = round(1.0 / (self.hz * STEP_S))
        step, way, where, heading, turned = 0, np.random.default_rng((self.seed, 41)), [0.0, 0.0], 0.0, 0.0
        while not (self._kind == "home" and self._left <= 0.0 and (speed < STILL_MPS or self._left < -LONGEST_HOME_S)):
            self._next()
            kind, done = self._kind, self._done
            wanted = {"pass": math.inf, "cruise": 0.55 * full, "home": 0.0}[kind]
            if kind == "home" and self._left > HOME_S / 2:
                wanted = 0.4 * full
            aim = 1.0 if wanted == math.inf else min(max(0.35 + (wanted - speed) * 0.12, 0.0), 0.9) if wanted else 0.0
            duty += min(max(aim - duty, -4.0 * STEP_S), 1.6 * STEP_S)
            pull = world.pull(duty, speed)
            force = pull.thrust_n - world.drag(speed)
            speed = max(speed + force / (WATER_ALONG * world.mass_kg) * STEP_S, 0.0)
            world.warm(celsius, world.heats_w(pull.current_a, duty, pull.shaft_rps, celsius), speed, STEP_S)
            bus = pull.current_a * duty
            used += bus * STEP_S / 3600.0
            time, self._left, step = time + STEP_S, self._left - STEP_S, step + 1
            # After each pass it turns round, and comes back beside the way it went.
            turning = kind == "cruise" and done > 0 and turned < done * math.pi
            turn = min(TURN_RAD_S * STEP_S, done * math.pi - turned) if turning else 0.0
            heading, turned = heading + turn, turned + turn
            where[0] += speed * STEP_S * math.cos(heading)
            where[1] += speed * STEP_S * math.sin(heading)
            if step % every == 0:
                yield DeviceReading(
                    time_s=round(time, 3),
                    speed_mps=max(speed + float(rng.normal(0, 0.12)), 0.0),
                    bus_a=max(bus * (1 + float(rng.normal(0, 0.02))), 0.0),
                    voltage_v=world.rest_v - bus * world.pack_ohm + float(rng.normal(0, 0.03)),
                    rpm=pull.shaft_rps * 60 * (1 + float(rng.normal(0, 0.005))),
                    throttle=duty,
                    controller_c=celsius[1] + float(rng.normal(0, 0.6)),
                    case_c=celsius[0] - 0.04 * (celsius[0] - celsius[1]) + float(rng.normal(0, 0.6)),  # taped on
                    true_c=tuple(celsius),
                    true_ah=used,
                    passes=done,
                    east_m=where[0] + float(way.normal(0, 0.15)),
                    north_m=where[1] + float(way.normal(0, 0.15)),
                )
