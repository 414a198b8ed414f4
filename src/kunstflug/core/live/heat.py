"""Temperatures of a boat that is being driven, from what is measured of it.

Many drives run side by side, each with its own draw of the guesses (and a few whose cooling water is blocked); what was
measured goes into all of them, and those that foretell the measured temperatures count for more. A particle filter
without resampling: N. J. Gordon, D. J. Salmond, A. F. M. Smith, IEE Proc. F 140 (1993) 107-113.
"""

import dataclasses
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Final

import numpy as np
import scipy

from kunstflug.core.cooling.table import CoolingTable
from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.values import drive_values
from kunstflug.core.live.sensors import Sensor
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.network import CASE, CONTROLLER, COUNT, PACK, warm_drives
from kunstflug.core.thermal.nodes import followers_c, known_with_heat, thermal_values
from kunstflug.core.thermal.run import DUTY_SEED, Flows, flows_of, numbers_of
from kunstflug.core.thermal.tables import SPEEDS, throttle_tables

DRAWS: Final = 72
BLOCKED_EVERY: Final = 4  # one in so many has no water
BLOCKED_CHANCE: Final = 0.04  # of all launches (common practice, no source)
BLOCKED_LEFT: Final = 0.03  # of the water's conductance, where a cap or weed is before the intake
STEP_S: Final = 0.1
AHEAD_STEP_S: Final = 0.8  # of steady legs: within a tenth of a kelvin of the short step (a test)
FORGETS_S: Final = 30.0
LEAST_SWING_A: Final = 8.0
READ_SPREAD_K: Final = 4.0  # of a sensor's reading, and of the model beside it
MODEL_SPREAD_K: Final = 3.0  # of what is foretold for seconds ahead
TRUST: Final = 0.8
LOOK_EVERY_S: Final = 2.0  # readings closer together say the same again


@dataclass(slots=True)
class DriveState:
    """What was measured, or what is assumed.

    Parameters
    ----------
    motor_a, bus_a : without the receiver's.
    pack_ohm : of the pack as voltage and current say; 0 where they do not.
    """

    speed_mps: float
    motor_a: float
    bus_a: float
    throttle: float
    rpm: float
    ocv_v: float
    pack_ohm: float = 0.0

    def row(self) -> Array:
        """As the kernel takes it."""
        return np.array([self.speed_mps, self.motor_a, self.bus_a, self.throttle, self.rpm, self.ocv_v, self.pack_ohm])


class PackOhm:
    """A pack's resistance from voltage and current as both swing: the slope of one over the other, half a minute long.

    A resting voltage that nobody knows exactly falls out of a slope.
    """

    def __init__(self) -> None:
        self._n = self._i = self._v = self._ii = self._iv = 0.0

    def read(self, amps: float, volts: float, seconds: float) -> None:
        """Takes a pair, and forgets old ones."""
        keep = float(np.exp(-min(seconds, FORGETS_S) / FORGETS_S))
        self._n, self._i, self._v = keep * self._n + 1.0, keep * self._i + amps, keep * self._v + volts
        self._ii, self._iv = keep * self._ii + amps * amps, keep * self._iv + amps * volts

    @property
    def ohm(self) -> float:
        """The resistance [ohm]; 0 while the current has not swung enough."""
        if self._n < 20.0:
            return 0.0
        spread = self._ii / self._n - (self._i / self._n) ** 2
        slope = (self._iv / self._n - self._i * self._v / self._n**2) / spread if spread > LEAST_SWING_A**2 else 0.0
        return max(-slope, 0.0)


class LiveHeat:
    """Temperatures of a setup as it is driven.

    Parameters
    ----------
    cooling : flow of the boat's own water circuit; None for a usual 4 mm line.
    """

    def __init__(self, setup: Setup, cooling: CoolingTable | None = None) -> None:
        self._setup = setup
        known = known_with_heat(setup)
        drives = drive_values(setup).rows(DRAWS, DUTY_SEED, known)
        heat = thermal_values(setup).rows(DRAWS, DUTY_SEED, known)
        tables = throttle_tables(drives, curve_of(setup))
        self._numbers = numbers_of(setup, drives, heat, tables.full_mps)
        self._top = tables.top_mps
        flows = flows_of(heat, np.linspace(0.0, 1.0, SPEEDS) * tables.top_mps[:, np.newaxis], cooling)
        blocked = np.arange(len(drives)) % BLOCKED_EVERY == BLOCKED_EVERY - 1
        part = np.where(blocked, BLOCKED_LEFT, 1.0)[:, np.newaxis]
        self._flows: Flows = dataclasses.replace(flows, jacket=flows.jacket * part, plate=flows.plate * part)
        self._prior = np.where(blocked, BLOCKED_CHANCE / blocked.sum(), (1 - BLOCKED_CHANCE) / (~blocked).sum())
        self._log = {CASE: np.zeros(len(drives)), CONTROLLER: np.zeros(len(drives))}
        c = setup.conditions
        coldest = min(c.water_c.value, c.air_c.value)
        self.sensors = {node: Sensor(coldest_c=coldest) for node in (CASE, CONTROLLER)}
        self._blocked = blocked
        self.t = np.full((len(drives), COUNT), setup.conditions.air_c.value)
        self.t[:, PACK] = self._numbers["pack_c"]
        self._alone = self.t.copy()  # as no sensor has moved it
        self._looked = -np.inf
        self.measured: set[int] = set()
        self.deaf: set[int] = set()  # places whose sensor was set aside
        self._junction_w_k = heat["junction_w_k"]
        self.full_mps = float(tables.full_mps[0])
        self._last = DriveState(0.0, 0.0, 0.0, 0.0, 0.0, float(self._numbers["ocv_v"][0]))

    @property
    def weights(self) -> Array:
        """How much each drive counts, shape (1 + N,); they sum to 1."""
        log = np.log(self._prior) + sum(self._log.values())
        found: Array = np.exp(log - np.max(log))
        return found / found.sum()

    @property
    def blocked(self) -> float:
        """How likely it is that no water comes through [1]."""
        return float(self.weights[self._blocked].sum())

    def step(self, given: DriveState, seconds: float) -> None:
        """Takes all temperatures on by what was measured."""
        self._last = given
        for t in (self.t, self._alone):
            self._warm(t, given, seconds, STEP_S if seconds < AHEAD_STEP_S else AHEAD_STEP_S)

    @contextmanager
    def tried(self) -> Iterator[None]:
        """What is stepped meanwhile is forgotten after it."""
        kept, alone, last = self.t.copy(), self._alone.copy(), self._last
        try:
            yield
        finally:
            self.t, self._alone, self._last = kept, alone, last

    def read(self, time_s: float, case_c: float | None, controller_c: float | None) -> None:
        """Weighs the drives by measured temperatures that are believed; a few seconds apart at the least."""
        believed = {
            node: self._heard(node, time_s, celsius)
            for node, celsius in ((CASE, case_c), (CONTROLLER, controller_c))
            if celsius is not None
        }
        if time_s - self._looked < LOOK_EVERY_S or all(celsius is None for celsius in believed.values()):
            return
        self._looked = time_s
        for node, celsius in believed.items():
            if celsius is not None:
                off = (self.t[:, node] - celsius) / READ_SPREAD_K
                # Student's, so that one odd reading does not decide
                self._log[node] -= np.log1p(off**2 / 4.0) * 1.5
                # What was measured of a place stands, for the most part, against the model's own error of it.
                self.t[:, node] += TRUST * (celsius - self.t[:, node])
                self.measured.add(node)

    def _heard(self, node: int, time_s: float, celsius: float) -> float | None:
        """What is believed of a reading; a sensor that is set aside takes with it all that it said."""
        sensor = self.sensors[node]
        was = sensor.believed
        found = sensor.read(time_s, celsius, self._alone[:, node])
        if was and not sensor.believed:
            self._log[node][:] = 0.0
            self.t[:, node] = self._alone[:, node]
            self.measured.discard(node)
            self.deaf.add(node)
        if all(one.cool for one in self.sensors.values()):
            for one in self.sensors.values():
                one.second()
            self.deaf = {other for other in self.deaf if not self.sensors[other].believed}
        return found

    def ahead(self, before: Sequence[tuple[DriveState, float]], legs: Sequence[tuple[DriveState, float]]) -> Array:
        """Hottest of ``HEAT_NODES`` at the ends of some legs that follow others, shape (1 + N, nodes).

        Parameters
        ----------
        before, legs : each at something given for seconds.
        """
        t = self.t.copy()
        for given, seconds in before:
            self._warm(t, given, seconds, AHEAD_STEP_S)
        found = None
        for given, seconds in legs:
            self._warm(t, given, seconds, AHEAD_STEP_S)
            here = self._nodes(t, given)
            found = here if found is None else np.maximum(found, here)
        return self.now() if found is None else found

    def now(self) -> Array:
        """The same, now."""
        return self._nodes(self.t, self._last)

    def told(self, celsius: Array) -> tuple[Array, Array, Array]:
        """Weighted mean, 10 % and 90 % quantile of each node, shape (nodes,)."""
        w = self.weights
        order = np.argsort(celsius, axis=0)
        heard = np.cumsum(w[order], axis=0)
        sides = []
        for part in (0.1, 0.9):
            at = np.minimum((heard < part).sum(axis=0), len(w) - 1)
            sides.append(np.take_along_axis(celsius, np.take_along_axis(order, at[np.newaxis], 0), 0)[0])
        return w @ celsius, sides[0], sides[1]

    def chance(self, celsius: Array, ceilings_c: Array) -> Array:
        """How likely each node is past its ceiling [1], shape (nodes,); the model's own error is beside the draws'."""
        past = scipy.special.ndtr((celsius - ceilings_c) / MODEL_SPREAD_K)
        return np.asarray(self.weights @ past, dtype=np.float64)

    def _warm(self, t: Array, given: DriveState, seconds: float, step_s: float) -> None:
        flows = self._flows
        warm_drives(self._numbers, self._top, flows.jacket, flows.plate, flows.warming, t, given.row(), seconds, step_s)

    def _nodes(self, t: Array, given: DriveState) -> Array:
        loss = given.motor_a**2 * np.asarray(self._numbers["controller_ohm"])
        return followers_c(self._setup, t[:, : COUNT - 1], loss, np.asarray(self._junction_w_k))
