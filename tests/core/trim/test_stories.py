"""Boats that misbehave, and what racers do first: common practice, no source; one of it stands first or second.

Some rest on what the boat's sheet or its log says beside the sign; two say what is *not* to stand there.
"""

import pytest

from kunstflug.core.parts.hull import HullType
from kunstflug.core.trim.reasons import Margins
from kunstflug.core.trim.signs import Behaviour, Step, answers, causes

M, C, T, O = HullType.MONO, HullType.CATAMARAN, HullType.TUNNEL, HullType.OUTRIGGER  # noqa: E741
B, S = Behaviour, Step
GLASS, WAVES = Margins(waves=False), Margins(waves=True)
STORIES = {
    "mono runs wet": (M, [B.WET], GLASS, {S.PACK_AFT, S.LESS_LIFT}),
    "catamaran runs wet": (C, [B.WET], GLASS, {S.PACK_AFT, S.LESS_LIFT}),
    "wet with water inside": (M, [B.WET, B.WATER_INSIDE], GLASS, {S.SEAL}),
    "mono with a light bow": (M, [B.LIGHT_BOW], GLASS, {S.PACK_FORWARD, S.MORE_LIFT}),
    "mono porpoises": (M, [B.PORPOISES], GLASS, {S.PACK_FORWARD, S.MORE_LIFT}),
    "catamaran porpoises, rudder centred": (
        C, [B.PORPOISES], Margins(rudder_centred=True, waves=False), {S.RUDDER_ASIDE}),
    "mono hops at the stern": (M, [B.HOPS], GLASS, {S.LESS_LIFT, S.DRIVE_DOWN}),
    "outrigger hops, its tail pulses": (O, [B.HOPS, B.TAIL_PULSES], GLASS, {S.LESS_LIFT, S.DRIVE_DOWN}),
    "mono walks on its chines": (M, [B.CHINE_WALKS], GLASS, {S.PACK_FORWARD, S.MORE_LIFT, S.TAKE_OUT_PLAY}),
    "walks, and the bow is light": (M, [B.CHINE_WALKS, B.LIGHT_BOW], GLASS, {S.PACK_FORWARD, S.MORE_LIFT}),
    "walks, hardware bent": (M, [B.CHINE_WALKS], Margins(hardware_bent=True, waves=False), {S.TAKE_OUT_PLAY}),
    "catamaran blew over, bow light before": (
        C, [B.BLEW_OVER, B.LIGHT_BOW], GLASS, {S.PACK_FORWARD, S.LET_AIR_OUT}),
    "tunnel blew over": (T, [B.BLEW_OVER], GLASS, {S.PACK_FORWARD, S.LET_AIR_OUT}),
    "pulls to a side": (M, [B.PULLS], GLASS, {S.RUDDER_STRAIGHT, S.FIN_LESS}),
    "pulls, tail high": (M, [B.PULLS, B.PLUME_HIGH], GLASS, {S.DRIVE_UP}),
    "hooks in turns": (M, [B.HOOKS], GLASS, {S.FIN_LESS}),
    "hooks and runs wet": (M, [B.HOOKS, B.WET], GLASS, {S.PACK_AFT, S.LESS_LIFT}),
    "washes out": (M, [B.WASHES_OUT], GLASS, {S.FIN_MORE, S.RUDDER_DEEPER}),
    "washes out without a fin": (M, [B.WASHES_OUT], Margins(no_fin=True, waves=False), {S.FIN_MORE}),
    "water inside": (O, [B.WATER_INSIDE], GLASS, {S.SEAL}),
    "tail pulses, propeller nicked": (
        M, [B.TAIL_PULSES], Margins(propeller_worn=True, waves=False), {S.MEND_PROPELLER}),
    "tail low and pulsing": (M, [B.TAIL_PULSES, B.PLUME_LOW], GLASS, {S.DRIVE_DOWN}),
    "bounces in waves": (C, [B.BOUNCES], WAVES, {S.WAIT}),
    "bounces on glass": (M, [B.BOUNCES], GLASS, {S.PACK_FORWARD, S.LESS_LIFT, S.SLOWER}),
    "light bow once in five runs": (M, [B.LIGHT_BOW], Margins(once=True, waves=False), {S.LEAVE}),
}  # fmt: skip
MISSES = 2
"""So many may be answered otherwise."""


def first_two(story):
    kind, seen, margins, _ = STORIES[story]
    return [a.step for a in answers(causes(seen, kind, margins))[:2]]


def test_what_racers_do_first_stands_first_or_second():
    missed = {story: first_two(story) for story, (*_, wanted) in STORIES.items() if not wanted & set(first_two(story))}
    print(missed)
    assert len(missed) <= MISSES, missed


@pytest.mark.parametrize(
    ("seen", "margins", "never"),
    [
        ([B.BOUNCES], GLASS, S.WAIT),
        ([B.BLEW_OVER], GLASS, S.PACK_AFT),
        ([B.LIGHT_BOW], Margins(once=False, waves=False), S.LEAVE),
    ],
)
def test_what_is_not_to_stand_there(seen, margins, never):
    assert never not in [a.step for a in answers(causes(seen, M, margins))[:3]]


def test_a_tail_that_pulses_may_be_the_trigger():
    """A feathered trigger is a cause of it, beside a propeller (common practice, no source)."""
    found = answers(causes([B.TAIL_PULSES], M, GLASS), most=6)
    assert S.STEADY_TRIGGER in [a.step for a in found]
