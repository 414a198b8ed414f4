"""What is known of a boat's trim from its log: its setups, its runs, and the steps that were taken on it."""

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final

from kunstflug.core.setup.setup import Setup
from kunstflug.core.trim.cliff import Sight
from kunstflug.core.trim.knobs import KNOBS, TrimKnob, step_of
from kunstflug.core.trim.measures import Measure, Measurement
from kunstflug.core.trim.settings import but_trim, speed_of, value_at
from kunstflug.core.trim.signs import Attempt, Behaviour

FRIGHTENING: Final = frozenset((
    Behaviour.BLEW_OVER, Behaviour.PORPOISES, Behaviour.LIGHT_BOW, Behaviour.CHINE_WALKS, Behaviour.HOPS,
    Behaviour.HOOKS,
))  # fmt: skip
ONCE_OF: Final = 4
"""Runs of a setup, of which one that misbehaved may be chance; our own choice."""


@dataclass(frozen=True, slots=True, kw_only=True)
class TrimRun:
    """A run of the boat: what it did, and what was read, speed and heat over what was forecast as bought.

    Parameters
    ----------
    rise_k : of the motor's case over the water, as forecast; NaN where it was not read.
    """

    id: int
    setup_id: int
    seen: frozenset[Behaviour]
    water_state: str
    outing: str
    read: Mapping[Measure, Measurement]
    rise_k: float = math.nan

    @property
    def over(self) -> float:
        """Logarithm of the speed over the forecast; only of runs whose speed was read."""
        return self.read[Measure.SPEED].over

    @property
    def sight(self) -> Sight:
        """What the run says of the margin."""
        if Behaviour.BLEW_OVER in self.seen:
            return Sight.OVER
        return Sight.WARNED if self.seen & FRIGHTENING else Sight.CALM


@dataclass(frozen=True, slots=True, kw_only=True)
class TrimBoat:
    """What is known of the boat of a setup: its setups and runs, in their order.

    Parameters
    ----------
    parents : of each setup, the one that it was changed from.
    """

    setups: dict[int, Setup]
    parents: dict[int, int | None]
    runs: tuple[TrimRun, ...]

    def misbehaved_once(self, setup_id: int, seen: frozenset[Behaviour]) -> bool | None:
        """Whether signs came in one run of several of a setup only; None with too few runs to say."""
        runs = [bool(run.seen & seen) for run in self.runs if run.setup_id == setup_id]
        return sum(runs) <= 1 if len(runs) >= ONCE_OF else None

    def attempts(self, seen: frozenset[Behaviour]) -> list[tuple[Attempt, int]]:
        """Steps that were taken against some signs, each with the setup that came of it.

        A step is a setup that differs from the one before it in one knob; it helped where fewer of the signs came
        back. One that made the boat faster while the signs stayed went the right way, and not far enough.
        """
        found = []
        for child, parent in self.parents.items():
            if parent not in self.setups:
                continue
            before, after = (self._signs(setup) for setup in (parent, child))
            if before is None or after is None or not before & seen:
                continue
            knob = _turned_between(self.setups[parent], self.setups[child])
            step = step_of(*knob) if knob is not None else None
            if step is not None:
                gone = len(after & before) < len(before)
                helped = None if not gone and self._faster(parent, child) else gone
                found.append((Attempt(step=step, helped=helped), child))
        return found

    def _signs(self, setup_id: int) -> frozenset[Behaviour] | None:
        """What the boat did in all runs of a setup; None where it never ran."""
        runs = [run.seen for run in self.runs if run.setup_id == setup_id]
        return frozenset().union(*runs) if runs else None

    def _faster(self, before: int, after: int) -> bool:
        """Whether the boat was faster after a step, conditions taken out; not where nobody read its speed."""
        speeds = []
        for setup in (before, after):
            over = [run.over for run in self.runs if run.setup_id == setup and Measure.SPEED in run.read]
            if not over:
                return False
            speeds.append(speed_of(self.setups[before], self.setups[setup]) * math.exp(sum(over) / len(over)))
        return speeds[1] > speeds[0]


def _turned_between(before: Setup, after: Setup) -> tuple[TrimKnob, float] | None:
    """The one knob that two setups differ in, and by how much; None where they differ in more, or in none."""
    values = [(knob, value_at(before, knob.path), value_at(after, knob.path)) for knob in KNOBS]
    changed = [(knob, old, new) for knob, old, new in values if old != new]
    if len(changed) != 1 or but_trim(before, before.conditions) != but_trim(after, after.conditions):
        return None
    knob, old, new = changed[0]
    return (knob, new - old) if old is not None and new is not None else None
