"""A world in which trim has an optimum that nobody knows: its laws are not the core's, and its faults show as signs.

Speed falls from a hidden best setting by a power law of its own, steeper on one side than on the other, with knobs that
lean on each other; past an edge the boat lifts off. A boat's faults are hidden numbers pushed off their middle; what it
then does follows from sums of those numbers, not from chances.
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kunstflug.core.quantity.value import Array
from kunstflug.core.trim.reasons import Reason
from kunstflug.core.trim.signs import Behaviour

REPEAT = 0.006
"""Of one run to the next: the mean of some passes both ways."""
DAY = 0.006


@dataclass(frozen=True, slots=True, kw_only=True)
class TrimWorld:
    """A boat whose knobs stand somewhere else than they should; settings in steps of each knob, from the start at 0."""

    best: Array
    loss: Array  # part of the speed lost ten steps away
    power: float
    lean: Array  # how much steeper beyond the best, than on the way there
    twist: float
    edge: Array  # direction in which it lifts off
    edge_at: float

    @classmethod
    def of(cls, seed: int, knobs: int = 3) -> "TrimWorld":
        """A boat with hidden numbers."""
        rng = np.random.default_rng(seed)
        best = rng.uniform(1.5, 5.0, knobs) * rng.choice([-1.0, 1.0], knobs)
        edge = rng.normal(size=knobs)
        edge /= np.linalg.norm(edge)
        return cls(
            best=best,
            loss=rng.uniform(0.12, 0.35, knobs),
            power=float(rng.uniform(1.6, 2.3)),
            lean=rng.uniform(0.8, 1.6, knobs),
            twist=float(rng.uniform(-0.35, 0.35)),
            edge=edge,
            edge_at=float(max(edge @ best, 0.0) + rng.uniform(1.0, 4.0)),
        )

    def log_speed(self, at: Array) -> float:
        """Logarithm of the speed over the best there is."""
        off = (at - self.best) / 10.0
        off = np.where(np.sign(off) == np.sign(self.best), off * self.lean, off)
        twisted = off + self.twist * np.roll(off, 1)
        return -float(np.sum(self.loss * np.abs(twisted) ** self.power))

    def part(self, at: Array) -> float:
        """Part of the gain that there is, 0 at the start and 1 at the best setting."""
        return 1.0 - self.log_speed(at) / self.log_speed(np.zeros(len(self.best)))

    def margin(self, at: Array) -> float:
        """Use of the margin against lifting off; past 1 it does."""
        return float(self.edge @ at) / self.edge_at


PUSHED: dict[Reason, tuple[str, float]] = {
    Reason.MASS_FORWARD: ("centre", 1.0),
    Reason.MASS_AFT: ("centre", -1.0),
    Reason.STERN_LIFT: ("lift", 1.0),
    Reason.STERN_PRESSED: ("lift", -1.0),
    Reason.DRIVE_DEEP: ("depth", 1.0),
    Reason.DRIVE_SHALLOW: ("depth", -1.0),
    Reason.RUDDER_CENTRED: ("wash", 1.0),
    Reason.RUDDER_CROOKED: ("toe", 1.0),
    Reason.RUDDER_SMALL: ("bite", -1.0),
    Reason.FIN_SMALL: ("fin", -1.0),
    Reason.FIN_BIG: ("fin", 1.0),
    Reason.TORQUE: ("torque", 1.0),
    Reason.AIR_LIFT: ("air", 1.0),
    Reason.LEAK: ("leak", 1.0),
    Reason.PROPELLER: ("shake", 1.0),
    Reason.ROUGH_WATER: ("waves", 1.0),
}


def signs_of(faults: Sequence[Reason], rng: np.random.Generator) -> tuple[set[Behaviour], dict[str, float]]:
    """What a boat with some faults does, as somebody taps it, and its hidden numbers (spreads off their middle)."""
    hidden = {key: float(rng.normal(0, 0.35)) for key, _ in PUSHED.values()}
    for name, way in (PUSHED[fault] for fault in faults):
        hidden[name] += way * float(rng.uniform(1.6, 2.8))
    h = hidden
    bow = 0.9 * h["centre"] + 0.5 * h["lift"]  # pressed down
    indices = {
        Behaviour.WET: bow + 0.25 * h["depth"] + 0.5 * max(h["leak"], 0),
        Behaviour.LIGHT_BOW: -0.8 * h["centre"] - 0.3 * h["lift"] + 0.9 * h["air"],
        Behaviour.BLEW_OVER: -0.4 * h["centre"] + 0.9 * h["air"] + 0.2 * h["waves"],
        Behaviour.PORPOISES: -0.55 * h["centre"] - 0.75 * h["lift"] + 0.8 * max(h["wash"], 0),
        Behaviour.BOUNCES: 1.1 * h["waves"] + 0.4 * max(h["wash"], 0) - 0.2 * h["centre"],
        Behaviour.HOPS: 0.9 * h["lift"] - 0.5 * h["depth"] + 0.3 * h["waves"],
        Behaviour.CHINE_WALKS: 1.0 * h["torque"],
        Behaviour.PULLS: abs(1.0 * h["toe"] + 0.5 * h["torque"] + 0.4 * max(h["fin"], 0) + 0.3 * max(h["depth"], 0)),
        Behaviour.HOOKS: 0.9 * h["fin"] + 0.45 * bow,
        Behaviour.WASHES_OUT: -0.95 * h["fin"] - 0.9 * h["bite"],
        Behaviour.WATER_INSIDE: 1.2 * h["leak"],
        Behaviour.TAIL_PULSES: 0.8 * h["shake"] - 0.6 * h["depth"] + 0.45 * h["lift"],
        Behaviour.PLUME_HIGH: 0.75 * h["depth"] - 0.5 * h["lift"],
        Behaviour.PLUME_LOW: -0.75 * h["depth"] + 0.3 * h["shake"] + 0.2 * h["centre"],
    }
    seen = set()
    for sign, index in indices.items():
        shows = 1.0 / (1.0 + math.exp(-4.0 * (index - 1.0)))
        if rng.random() < 0.9 * shows + 0.01:
            seen.add(sign)
    return seen, hidden
