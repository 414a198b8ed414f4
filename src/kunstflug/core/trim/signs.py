"""What a boat did, why, and which single small step to try: a small network of causes and signs.

Causes are hidden, signs are seen; each cause brings a sign about with its own chance, and a sign may come from nothing
(a noisy-or network; J. Pearl, Probabilistic Reasoning in Intelligent Systems (1988), ch. 4). All worlds of up to two
causes are weighed, exactly. The chances are common practice, no source; the boat's own numbers and what steps did on
this boat move them.
"""

import itertools
import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from typing import Final

from kunstflug.core.parts.hull import HullType
from kunstflug.core.trim.reasons import BY_TYPE, PRIOR, Margins, Reason, leanings


class Behaviour(StrEnum):
    """What a boat did."""

    WET = "wet"  # too much hull in the water
    BOUNCES = "bounces"
    PORPOISES = "porpoises"
    HOPS = "hops"  # at the stern: the propeller leaves the water
    CHINE_WALKS = "chine_walks"
    LIGHT_BOW = "light_bow"
    BLEW_OVER = "blew_over"
    PULLS = "pulls"  # to a side, going straight
    HOOKS = "hooks"  # turns in on itself in a turn
    WASHES_OUT = "washes_out"  # slides wide in a turn
    WATER_INSIDE = "water_inside"
    TAIL_PULSES = "tail_pulses"
    PLUME_HIGH = "plume_high"
    PLUME_LOW = "plume_low"


_B, _R = Behaviour, Reason
SEEN: Final[dict[Reason, dict[Behaviour, float]]] = {
    _R.MASS_FORWARD: {_B.WET: 0.8, _B.HOOKS: 0.4, _B.PLUME_LOW: 0.3},
    _R.MASS_AFT: {_B.LIGHT_BOW: 0.7, _B.PORPOISES: 0.5, _B.BLEW_OVER: 0.35, _B.BOUNCES: 0.4, _B.CHINE_WALKS: 0.5},
    _R.STERN_LIFT: {_B.HOPS: 0.75, _B.WET: 0.4, _B.TAIL_PULSES: 0.5, _B.HOOKS: 0.3},
    _R.STERN_PRESSED: {_B.PORPOISES: 0.55, _B.PLUME_HIGH: 0.5, _B.LIGHT_BOW: 0.3, _B.CHINE_WALKS: 0.4, _B.BOUNCES: 0.2},
    _R.DRIVE_DEEP: {_B.PLUME_HIGH: 0.6, _B.PULLS: 0.4, _B.WET: 0.3},
    _R.DRIVE_SHALLOW: {_B.TAIL_PULSES: 0.6, _B.HOPS: 0.4, _B.PLUME_LOW: 0.6},
    _R.RUDDER_CENTRED: {_B.PORPOISES: 0.6, _B.BOUNCES: 0.4, _B.TAIL_PULSES: 0.2},
    _R.RUDDER_CROOKED: {_B.PULLS: 0.9},
    _R.RUDDER_SMALL: {_B.WASHES_OUT: 0.8},
    _R.FIN_SMALL: {_B.WASHES_OUT: 0.85, _B.BOUNCES: 0.15},
    _R.FIN_BIG: {_B.HOOKS: 0.75, _B.PULLS: 0.5},
    _R.STRAKES: {_B.WASHES_OUT: 0.6, _B.BOUNCES: 0.4},
    _R.TORQUE: {_B.CHINE_WALKS: 0.5, _B.PULLS: 0.5},
    _R.AIR_LIFT: {_B.BLEW_OVER: 0.7, _B.LIGHT_BOW: 0.6},
    _R.LEAK: {_B.WATER_INSIDE: 0.95, _B.WET: 0.4},
    _R.PROPELLER: {_B.TAIL_PULSES: 0.7, _B.PLUME_LOW: 0.3},
    _R.ROUGH_WATER: {_B.BOUNCES: 0.85, _B.HOPS: 0.3, _B.BLEW_OVER: 0.2, _B.LIGHT_BOW: 0.2},
    _R.PLAY: {_B.CHINE_WALKS: 0.6, _B.PULLS: 0.4, _B.HOPS: 0.15},
    _R.TOO_FAST: {_B.CHINE_WALKS: 0.6, _B.BLEW_OVER: 0.4, _B.BOUNCES: 0.3, _B.LIGHT_BOW: 0.3},
    _R.TRIGGER: {_B.TAIL_PULSES: 0.8, _B.PORPOISES: 0.15},
    _R.ONCE: {sign: 0.4 for sign in _B if sign is not _B.WATER_INSIDE},
}
"""How often a cause alone brings a sign about."""
FROM_NOTHING: Final = 0.03  # a sign that no cause brought about
NOT_TAPPED: Final = 0.75  # of a sign that was not tapped: how much that tells; racers tap what struck them
SECOND: Final = 0.5  # what a second cause beside the first counts


@dataclass(frozen=True, slots=True, kw_only=True)
class Rules:
    """Rules of thumb, as chances [1]; a racer may have their own.

    Parameters
    ----------
    prior : how often a cause is there.
    seen : how often a cause alone brings a sign about.
    helps, harms : how often a step helps, or makes worse, where a cause is the one.
    """

    prior: Mapping[Reason, float]
    seen: Mapping[Reason, Mapping[Behaviour, float]]
    helps: Mapping["Step", Mapping[Reason, float]]
    harms: Mapping["Step", Mapping[Reason, float]]

    def changed(
        self,
        seen: Mapping[tuple[Reason, Behaviour], float],
        helps: Mapping[tuple["Step", Reason], float],
    ) -> "Rules":
        """The same with some chances of a racer's own."""
        signs = {reason: dict(found) for reason, found in self.seen.items()}
        steps = {step: dict(found) for step, found in self.helps.items()}
        for (reason, sign), chance in seen.items():
            signs[reason][sign] = chance
        for (step, reason), chance in helps.items():
            steps[step][reason] = chance
        return Rules(prior=self.prior, seen=signs, helps=steps, harms=self.harms)


class Step(StrEnum):
    """One small change."""

    PACK_AFT = "pack_aft"
    PACK_FORWARD = "pack_forward"
    LESS_LIFT = "less_lift"
    MORE_LIFT = "more_lift"
    DRIVE_UP = "drive_up"
    DRIVE_DOWN = "drive_down"
    RUDDER_ASIDE = "rudder_aside"
    RUDDER_STRAIGHT = "rudder_straight"
    RUDDER_DEEPER = "rudder_deeper"
    FIN_MORE = "fin_more"
    FIN_LESS = "fin_less"
    STRAKES_OFF = "strakes_off"
    MASS_ACROSS = "mass_across"
    LET_AIR_OUT = "let_air_out"
    SEAL = "seal"
    MEND_PROPELLER = "mend_propeller"
    WAIT = "wait"
    TAKE_OUT_PLAY = "take_out_play"
    SLOWER = "slower"
    STEADY_TRIGGER = "steady_trigger"
    LEAVE = "leave"  # change nothing, run it again


HELPS: Final[dict[Step, dict[Reason, float]]] = {
    Step.PACK_AFT: {_R.MASS_FORWARD: 0.8, _R.STERN_LIFT: 0.35},
    Step.PACK_FORWARD: {_R.MASS_AFT: 0.8, _R.AIR_LIFT: 0.5, _R.STERN_PRESSED: 0.3, _R.TOO_FAST: 0.4},
    Step.LESS_LIFT: {_R.STERN_LIFT: 0.8, _R.MASS_FORWARD: 0.3},
    Step.MORE_LIFT: {_R.STERN_PRESSED: 0.75, _R.MASS_AFT: 0.4, _R.TOO_FAST: 0.3},
    Step.DRIVE_UP: {_R.DRIVE_DEEP: 0.8, _R.TORQUE: 0.3},
    Step.DRIVE_DOWN: {_R.DRIVE_SHALLOW: 0.8, _R.STERN_LIFT: 0.3},
    Step.RUDDER_ASIDE: {_R.RUDDER_CENTRED: 0.8},
    Step.RUDDER_STRAIGHT: {_R.RUDDER_CROOKED: 0.85},
    Step.RUDDER_DEEPER: {_R.RUDDER_SMALL: 0.8},
    Step.FIN_MORE: {_R.FIN_SMALL: 0.8},
    Step.FIN_LESS: {_R.FIN_BIG: 0.8},
    Step.STRAKES_OFF: {_R.STRAKES: 0.8},
    Step.MASS_ACROSS: {_R.TORQUE: 0.7},
    Step.LET_AIR_OUT: {_R.AIR_LIFT: 0.7, _R.MASS_AFT: 0.2},
    Step.SEAL: {_R.LEAK: 0.9},
    Step.MEND_PROPELLER: {_R.PROPELLER: 0.9},
    Step.WAIT: {_R.ROUGH_WATER: 0.9},
    Step.TAKE_OUT_PLAY: {_R.PLAY: 0.9},
    Step.SLOWER: {_R.TOO_FAST: 0.8, _R.AIR_LIFT: 0.3, _R.TORQUE: 0.3},
    Step.STEADY_TRIGGER: {_R.TRIGGER: 0.9},
    Step.LEAVE: {_R.ONCE: 0.9},
}
"""How often a step helps where a cause is the one."""
HARMS: Final[dict[Step, dict[Reason, float]]] = {
    Step.PACK_AFT: {_R.MASS_AFT: 0.8, _R.AIR_LIFT: 0.6, _R.STERN_PRESSED: 0.3},
    Step.PACK_FORWARD: {_R.MASS_FORWARD: 0.8},
    Step.LESS_LIFT: {_R.STERN_PRESSED: 0.7, _R.MASS_AFT: 0.3},
    Step.MORE_LIFT: {_R.STERN_LIFT: 0.8, _R.MASS_FORWARD: 0.4},
    Step.DRIVE_UP: {_R.DRIVE_SHALLOW: 0.8, _R.STERN_LIFT: 0.3},
    Step.DRIVE_DOWN: {_R.DRIVE_DEEP: 0.8, _R.TORQUE: 0.3},
    Step.RUDDER_DEEPER: {_R.FIN_BIG: 0.2},
    Step.FIN_MORE: {_R.FIN_BIG: 0.8},
    Step.FIN_LESS: {_R.FIN_SMALL: 0.8},
}
"""How often a step makes it worse where a cause is the one."""
HELPED_BY_CHANCE: Final = 0.12
SHOWS: Final = 0.6  # of one small step the right way: how often it is enough to be seen (common practice, no source)
GIVEN_UP: Final = 2
"""After so many tries in a row that did not help, a step is not said again."""
USUAL: Final = Rules(prior=PRIOR, seen=SEEN, helps=HELPS, harms=HARMS)
"""Common practice, no source."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Attempt:
    """A step that was taken on this boat, and whether the sign went; None where it stayed but the boat was faster."""

    step: Step
    helped: bool | None


@dataclass(frozen=True, slots=True, kw_only=True)
class CauseChance:
    """A cause and how likely it is [1]."""

    reason: Reason
    chance: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Answer:
    """A step: how likely it helps and how likely it makes worse [1], and the cause that it goes for."""

    step: Step
    helps: float
    harms: float
    against: Reason


def causes(
    seen: Sequence[Behaviour], kind: HullType, margins: Margins, tried: Sequence[Attempt] = (), rules: Rules = USUAL
) -> tuple[CauseChance, ...]:
    """Why a boat did what it did, likeliest first; empty where nothing was seen.

    Parameters
    ----------
    tried : steps taken on this boat, each with the outcome.
    """
    if not seen:
        return ()
    moved, by_type = leanings(margins), BY_TYPE[kind]
    odds = {r: rules.prior[r] * by_type.get(r, 1.0) * moved.get(r, 1.0) for r in Reason}
    weights = dict.fromkeys(Reason, 0.0)
    total = 0.0
    for world in itertools.chain(((r,) for r in Reason), itertools.combinations(Reason, 2)):
        weight = math.prod(odds[r] for r in world) * (SECOND if len(world) == 2 else 1.0)
        weight *= _chance_of_signs(world, frozenset(seen), rules) * _chance_of_tries(world, tried, rules)
        total += weight
        for reason in world:
            weights[reason] += weight
    found = [CauseChance(reason=r, chance=w / total) for r, w in weights.items()]
    return tuple(sorted(found, key=lambda w: -w.chance))


def _chance_of_signs(world: Sequence[Reason], seen: frozenset[Behaviour], rules: Rules) -> float:
    chance = 1.0
    for sign in Behaviour:
        not_seen = (1 - FROM_NOTHING) * math.prod(1 - rules.seen[reason].get(sign, 0.0) for reason in world)
        chance *= 1 - not_seen if sign in seen else not_seen**NOT_TAPPED
    return chance


def _chance_of_tries(world: Sequence[Reason], tried: Sequence[Attempt], rules: Rules) -> float:
    chance = 1.0
    for one in tried:
        if one.helped is None:
            continue
        helps = max(HELPED_BY_CHANCE, *(SHOWS * rules.helps[one.step].get(reason, 0.0) for reason in world))
        chance *= helps if one.helped else 1 - helps
    return chance


def answers(
    weighed: Sequence[CauseChance],
    tried: Sequence[Attempt] = (),
    barred: frozenset[Step] = frozenset(),
    most: int = 4,
    rules: Rules = USUAL,
) -> tuple[Answer, ...]:
    """Single steps worth trying, best first: likely to help, and unlikely to make it worse.

    What did not help on this boat when it was last tried, twice in a row, is not said again.

    Parameters
    ----------
    barred : steps past a margin.
    """
    chance = {w.reason: w.chance for w in weighed}
    failed: dict[Step, int] = {}
    for one in tried:
        failed[one.step] = 0 if one.helped is not False else failed.get(one.step, 0) + 1
    found = []
    for step, helped in rules.helps.items():
        if step in barred:
            continue
        against = max(helped, key=lambda r: chance.get(r, 0.0) * helped[r])
        helps = 1 - math.prod(1 - chance.get(r, 0.0) * p for r, p in helped.items())
        harms = 1 - math.prod(1 - chance.get(r, 0.0) * p for r, p in rules.harms.get(step, {}).items())
        if helps > 0.05 and failed.get(step, 0) < GIVEN_UP:
            found.append(Answer(step=step, helps=helps, harms=harms, against=against))
    return tuple(sorted(found, key=lambda a: a.harms - a.helps)[:most])
