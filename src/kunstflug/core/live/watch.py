"""What is said to somebody who drives: passes, charge, temperatures, and what to do before a limit, not after."""

import math
from collections.abc import Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final

import numpy as np

from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.day.passes import RESERVE
from kunstflug.core.drive.balance import USABLE
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.evidence.instruments import FULL_THROTTLE, PASS_FROM, PASS_TO
from kunstflug.core.laws.cell import cell_ocv_v
from kunstflug.core.live.heat import BLOCKED_CHANCE, MODEL_SPREAD_K, DriveState, LiveHeat, PackOhm
from kunstflug.core.live.sensors import Fault
from kunstflug.core.parts import pack
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.duty import COOL_LEVEL
from kunstflug.core.thermal.heat_forecast import ceilings
from kunstflug.core.thermal.nodes import HEAT_NODES, Node

LEAST_PASS_S: Final = 1.0
USUAL_PASS_S: Final = 6.0
SAY_AT: Final = 0.10  # chance of passing a ceiling at which something is said, of a place that is measured
IN_AT: Final = 2.0  # times that chance, to call it in rather than let it cool for longer where water is not suspected
SUSPECTED: Final = 1.4 * BLOCKED_CHANCE
DEAF_AT: Final = 0.15  # of one whose sensor was set aside: nobody looks any more where somebody wanted to
GUESSED_AT: Final = 0.50  # of one that is not: its guesses are wide, and a word that is said each time is not heard
LIFT_S: Final = 1.5  # ahead of it, in a pass
HOME_S: Final = 10.0
SOAK_S: Final = 30.0
COOLS_S: Final = (10.0, 15.0, 20.0, 30.0, 45.0, 60.0)
LOST_S: Final = 2.0  # without a sample the link is lost
ASSUMED_S: Final = 3.0  # so long a lost boat is taken to do what it did; then it lies still
LOW_CELL_V: Final = 3.1  # under load
LOW_FOR_S: Final = 1.0
EVERY_S: Final = 0.5
STILL_MPS: Final = 0.8  # a hand that lifts a boat out, and the receiver's own noise
STILL_THROTTLE: Final = 0.05
SIDE: Final = 1.2816  # deviations of the 10 and 90 % points of a normal distribution
LONGEST_S: Final = 3600.0  # after an hour it is as warm as the air


REST_A: Final = 3.0  # of the pack, up to which its voltage is one at rest
SOC_S: Final = 20.0
LEAST_DROP: Final = 0.3  # of the charge, from which its voltage says something of the capacity
TIRED: Final = 0.8  # of what is printed
LEAST_LEFT: Final = 0.5
_AXIS: Final = np.linspace(0.0, 1.0, 201)
_AT_REST: Final = np.asarray(cell_ocv_v(_AXIS))


def _soc_of(cell_v: float) -> float:
    """Charge of a cell by its voltage at rest [1]."""
    return float(np.interp(cell_v, _AT_REST, _AXIS))


class Call(StrEnum):
    """What to do."""

    DRIVE = "drive"
    LIFT = "lift"
    COOL_DOWN = "cool_down"
    COME_IN = "come_in"


class Because(StrEnum):
    """Why."""

    NOTHING = "nothing"
    HEAT = "heat"
    CHARGE = "charge"
    CELL = "cell"
    NO_WATER = "no_water"


@dataclass(frozen=True, slots=True, kw_only=True)
class Sample:
    """What arrived; None for what was not measured.

    Parameters
    ----------
    time_s : of the device, rising.
    bus_a : of the pack.
    """

    time_s: float
    speed_mps: float | None = None
    bus_a: float | None = None
    voltage_v: float | None = None
    rpm: float | None = None
    throttle: float | None = None
    controller_c: float | None = None
    case_c: float | None = None
    latitude_deg: float | None = None
    longitude_deg: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class HotPlace:
    """A place: how warm it is, between what (10 and 90 %), its ceiling [degC], and whether a sensor says so."""

    node: Node
    celsius: float
    low_c: float
    high_c: float
    ceiling_c: float
    measured: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class LiveState:
    """What is shown.

    Parameters
    ----------
    seconds : to cool down where that is the advice.
    place : the place that heat speaks of.
    full_s_left : of full throttle, by the charge.
    lost_s : since the last sample, where the link is lost; 0 while it is there.
    lies_s : for how long the boat has lain still after a pass; 0 while it moves.
    doubted : sensors that are set aside or put right, and why.
    """

    time_s: float
    speed_mps: float
    best_mps: float
    passes: int
    in_pass: bool
    last_pass_s: float
    last_pass_mps: float
    used_ah: float
    left_ah: float
    full_s_left: float
    places: tuple[HotPlace, ...]
    advice: Call
    because: Because
    seconds: float
    place: Node | None
    lost_s: float
    lies_s: float
    doubted: tuple[tuple[Node, Fault], ...]


@dataclass(slots=True)
class _Pass:
    since_s: float
    best_mps: float = 0.0
    amps: list[float] = field(default_factory=list)


class Watch:
    """Follows a boat by what arrives of it.

    Parameters
    ----------
    planned_s : length of a pass.
    places : whose ceilings count.
    holds : the pack's capacity over what is printed, as its runs say [1].
    """

    def __init__(
        self,
        setup: Setup,
        schools: Schools = USUAL,
        cooling: CoolingTable | None = None,
        planned_s: float = USUAL_PASS_S,
        places: Sequence[Node] = HEAT_NODES,
        holds: float = 1.0,
    ) -> None:
        self._setup = setup
        self._heat = LiveHeat(setup, cooling)
        self._ceilings: Array = np.array([c.holds_c for c in ceilings(schools, setup)])
        self._point = forecast(setup, 0, explained=False).point
        self._capacity = self._printed = pack.usable_ah(setup.pack) * holds
        self._rest: float | None = None
        self._stands: float | None = None
        self._cells = pack.series_cells(setup.pack)
        self._soc = setup.conditions.state_of_charge.value
        self._places = np.array([node in places for node in HEAT_NODES])
        self._ohm = PackOhm()
        self._time: float | None = None
        self._heated = 0.0
        self._still_since: float | None = None
        self._given = DriveState(0.0, 0.0, 0.0, 0.0, 0.0, self._ocv(0.0))
        self._speed = self._best = self._used = 0.0
        self._pass: _Pass | None = None
        self._seconds: list[float] = []
        self._planned = planned_s
        self._full: list[float] = []
        self._last_mps = 0.0
        self._low_since: float | None = None
        self._told: tuple[Call, Because, float, Node | None] = (Call.DRIVE, Because.NOTHING, 0.0, None)
        self._asked = -math.inf

    def feed(self, sample: Sample, *, advised: bool = True) -> None:
        """Takes a sample; one that is older than the last is left out. What is long ago need not be advised."""
        if self._time is not None and sample.time_s <= self._time:
            return
        before = self._time if self._time is not None else sample.time_s
        self.go_on(sample.time_s)
        self._time = self._heated = sample.time_s
        if sample.voltage_v is not None and sample.bus_a is not None:
            self._ohm.read(sample.bus_a, sample.voltage_v, sample.time_s - before)
        self._given = self._given_of(sample)
        self._speed = self._given.speed_mps
        self._heat.read(sample.time_s, sample.case_c, sample.controller_c)
        self._count(sample)
        self._cell(sample)
        self._charge(sample, sample.time_s - before)
        self._lies(sample)
        if advised and sample.time_s - self._asked >= EVERY_S:
            self._asked = sample.time_s
            self._told = self._advise()

    def go_on(self, now_s: float) -> None:
        """Takes heat and charge to a time without a sample; a boat that is not heard lies still after a while.

        Parameters
        ----------
        now_s : on the device's clock; what is before the last time that was asked for changes nothing.
        """
        if self._time is None:
            return
        held = min(now_s, self._time + ASSUMED_S) - self._heated
        if held > 0:
            self._heat.step(self._given, held)
            self._used += self._given.bus_a * held / 3600.0
            self._heated += held
        still = now_s - self._heated
        if still > 0:
            self._heat.step(self._still(), min(still, LONGEST_S))
            self._heated = now_s

    def _still(self) -> DriveState:
        return DriveState(0.0, 0.0, 0.0, 0.0, 0.0, self._ocv(self._used))

    def soak(self, seconds: Sequence[float]) -> tuple[tuple[HotPlace, ...], ...]:
        """What each place should read after so many seconds of lying still, from now on; rising.

        Bands are those of a reading: the model's own error is in them.
        """
        found, at = [], 0.0
        with self._heat.tried():
            for one in seconds:
                self._heat.step(self._still(), one - at)
                found.append(self._hot_places(SIDE * MODEL_SPREAD_K))
                at = one
        return tuple(found)

    def _lies(self, s: Sample) -> None:
        moves = self._speed > STILL_MPS or (s.throttle or 0.0) > STILL_THROTTLE
        if moves or not self._seconds:
            self._still_since = None
        elif self._still_since is None:
            self._still_since = s.time_s

    def _ocv(self, used_ah: float) -> float:
        soc = max(self._soc - used_ah / self._capacity, 0.0)
        return float(cell_ocv_v(min(soc, 1.0))) * self._cells

    def _charge(self, s: Sample, seconds: float) -> None:
        """Charge at the start by the first voltage at rest, and a tired pack's capacity by where it stands since.

        Under load what the pack's own resistance takes is put back; a cell's resting voltage tells little in its flat
        middle, so that only what is clearly less than printed counts.
        """
        if s.voltage_v is None or s.bus_a is None:
            return
        if self._rest is None:
            if s.bus_a < REST_A:
                self._rest = self._soc = _soc_of(s.voltage_v / self._cells)
            return
        if self._ohm.ohm <= 0.0:
            return
        now = _soc_of((s.voltage_v + s.bus_a * self._ohm.ohm) / self._cells)
        keep = math.exp(-seconds / SOC_S) if self._stands is not None else 0.0
        self._stands = keep * (self._stands or 0.0) + (1.0 - keep) * now
        drop = self._rest - self._stands
        if drop > LEAST_DROP and self._used / drop < TIRED * self._printed:
            self._capacity = max(self._used / drop, LEAST_LEFT * self._printed)

    def _given_of(self, s: Sample) -> DriveState:
        """What was measured, the rest from the forecast at the same speed."""
        top = float(self._point.speed_mps)
        speed = s.speed_mps if s.speed_mps is not None else self._speed
        part = min(max(speed / top, 0.0), 1.1)
        throttle = s.throttle if s.throttle is not None else (1.0 if part > PASS_FROM else 0.85 * part)
        # Power goes with the cube of the speed, so the current at a part of the throttle with its square.
        bus = s.bus_a if s.bus_a is not None else float(self._point.current_a) * part**3
        motor = bus / max(throttle, 0.15) if throttle > 0.02 else 0.0
        rpm = s.rpm if s.rpm is not None else float(self._point.rpm) * part
        return DriveState(speed, motor, bus, throttle, rpm, self._ocv(self._used), self._ohm.ohm)

    def _count(self, s: Sample) -> None:
        top = max(float(self._point.speed_mps), self._best)
        on = s.throttle >= FULL_THROTTLE if s.throttle is not None else self._speed >= PASS_FROM * top
        off = s.throttle < FULL_THROTTLE if s.throttle is not None else self._speed < PASS_TO * top
        self._best = max(self._best, self._speed if s.speed_mps is not None else 0.0)
        if self._pass is None and on:
            self._pass = _Pass(since_s=s.time_s)
        if self._pass is None:
            return
        self._pass.best_mps = max(self._pass.best_mps, self._speed)
        self._pass.amps.append(self._given.bus_a)
        if off:
            held = s.time_s - self._pass.since_s
            if held >= LEAST_PASS_S:
                self._seconds.append(held)
                self._full.append(float(np.median(self._pass.amps)))
                self._last_mps = self._pass.best_mps
            self._pass = None

    def _cell(self, s: Sample) -> None:
        if s.voltage_v is None or s.voltage_v / self._cells >= LOW_CELL_V:
            self._low_since = None
        elif self._low_since is None:
            self._low_since = s.time_s

    def _full_given(self) -> DriveState:
        """Full throttle as it was last driven, or as forecast."""
        amps = self._full[-1] if self._full else float(self._point.current_a)
        if self._pass is not None and len(self._pass.amps) > 5:
            amps = float(np.median(self._pass.amps[-20:]))
        top = max(self._last_mps, 0.8 * float(self._point.speed_mps))
        return DriveState(top, amps, amps, 1.0, float(self._point.rpm), self._ocv(self._used), self._ohm.ohm)

    def _cruise_given(self) -> DriveState:
        top, amps = float(self._point.speed_mps), float(self._point.current_a)
        part, rpm = COOL_LEVEL, float(self._point.rpm)
        return DriveState(part * top, amps * part**2, amps * part**3, part, part * rpm, self._ocv(self._used))

    def _advise(self) -> tuple[Call, Because, float, Node | None]:
        """What to do: heat after one more pass, now or after a lap; charge; cells."""
        assert self._time is not None
        a_pass = float(np.median(self._seconds[-3:])) if self._seconds else self._planned
        full, cruise = self._full_given(), self._cruise_given()
        if self._low_since is not None and self._time - self._low_since >= LOW_FOR_S:
            return Call.COME_IN, Because.CELL, 0.0, None
        allowed = USABLE * self._soc * (1 - RESERVE) * self._capacity
        node = self._there()
        if node is not None:
            return self._hot(node, Call.COME_IN, 0.0)
        left_s = a_pass if self._pass is None else max(a_pass - (self._time - self._pass.since_s), 0.0)
        if self._used + full.bus_a * left_s / 3600 > allowed:
            return Call.COME_IN, Because.CHARGE, 0.0, None
        if self._pass is not None:
            node = self._past([], [(full, LIFT_S)])
            if node is None:
                return Call.DRIVE, Because.NOTHING, 0.0, None
            # What is at its ceiling in a pass may not be cooled for another by a lap.
            late = self._past([(full, LIFT_S), (cruise, COOLS_S[-1])], [(full, a_pass)], self._in_at)
            return self._hot(late or node, Call.LIFT if late is None else Call.COME_IN, 0.0)
        node = self._past([], [(full, a_pass)])
        if node is None:
            return Call.DRIVE, Because.NOTHING, 0.0, None
        for seconds in COOLS_S:
            longest = self._in_at if seconds == COOLS_S[-1] else 1.0
            if self._past([(cruise, seconds)], [(full, a_pass)], longest) is None:
                return self._hot(node, Call.COOL_DOWN, seconds)
        return self._hot(node, Call.COME_IN, 0.0)

    @property
    def _in_at(self) -> float:
        """How much surer one has to be to call it in: not at all where the water may not come through."""
        return 1.0 if self._heat.blocked > SUSPECTED else IN_AT

    def _there(self) -> Node | None:
        """A measured place that is at its ceiling already: whoever did not heed a cool-down is called in."""
        chances = self._heat.chance(self._heat.now(), self._ceilings)
        hot = [k for k in self._heat.measured if self._places[k] and chances[k] > 0.5]
        return HEAT_NODES[max(hot, key=lambda k: float(chances[k]))] if hot else None

    def _hot(self, node: Node, advice: Call, seconds: float) -> tuple[Call, Because, float, Node | None]:
        because = Because.NO_WATER if self._heat.blocked > 0.5 else Because.HEAT
        if because is Because.NO_WATER:
            advice, seconds = Call.COME_IN, 0.0
        return advice, because, seconds, node

    def _past(
        self, before: Sequence[tuple[DriveState, float]], legs: Sequence[tuple[DriveState, float]], sure: float = 1.0
    ) -> Node | None:
        """The place that is likeliest past its ceiling after some legs and the way home, where that is likely enough.

        A case still climbs when the throttle is let go, so the way home and the first of the soak count.
        """
        home = [(self._cruise_given(), HOME_S), (self._still(), SOAK_S)]
        chances = self._heat.chance(self._heat.ahead(before, [*legs, *home]), self._ceilings)
        at = np.full(len(HEAT_NODES), GUESSED_AT)
        at[list(self._heat.deaf)] = DEAF_AT
        at[list(self._heat.measured)] = SAY_AT
        if self._ohm.ohm > 0:  # what a pack loses is measured
            at[HEAT_NODES.index(Node.PACK)] = SAY_AT
        over = np.where(self._places, chances / at, 0.0)
        k = int(np.argmax(over))
        return HEAT_NODES[k] if over[k] > sure else None

    def state(self, now_s: float | None = None) -> LiveState:
        """What is shown.

        Parameters
        ----------
        now_s : on the device's clock; later than the last sample where the link is lost.
        """
        time = self._time or 0.0
        lost = max((now_s or time) - time, 0.0)
        allowed = USABLE * self._soc * (1 - RESERVE) * self._capacity
        left = max(allowed - self._used, 0.0)
        amps = self._full_given().bus_a
        advice, because, seconds, place = self._told
        return LiveState(
            time_s=time,
            speed_mps=self._speed,
            best_mps=self._best,
            passes=len(self._seconds),
            in_pass=self._pass is not None,
            last_pass_s=self._seconds[-1] if self._seconds else 0.0,
            last_pass_mps=self._last_mps,
            used_ah=self._used,
            left_ah=left,
            full_s_left=left * 3600.0 / amps if amps > 0 else math.inf,
            places=self._hot_places(),
            advice=advice,
            because=because,
            seconds=seconds,
            place=place,
            lost_s=lost if lost > LOST_S else 0.0,
            lies_s=max((now_s or time) - self._still_since, 0.0) if self._still_since is not None else 0.0,
            doubted=tuple((HEAT_NODES[k], one.fault) for k, one in self._heat.sensors.items() if one.fault is not None),
        )

    def _hot_places(self, wider_k: float = 0.0) -> tuple[HotPlace, ...]:
        mean, low, high = self._heat.told(self._heat.now())
        return tuple(
            HotPlace(
                node=node, celsius=float(mean[k]), low_c=float(low[k]) - wider_k, high_c=float(high[k]) + wider_k,
                ceiling_c=float(self._ceilings[k]), measured=k in self._heat.measured,
            )
            for k, node in enumerate(HEAT_NODES)
        )  # fmt: skip
