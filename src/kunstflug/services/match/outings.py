"""The plan of the next three outings: the boat as it is where it never ran so, then one change after the other."""

from collections.abc import Iterator, Sequence

from kunstflug.core.choose.outings import MOST_OUTINGS, MOST_PASSES, SettlesGuess, ShowsStep, serves
from kunstflug.core.choose.steps import Intent, Trial, effect
from kunstflug.core.learning.attribution import Repeatability, passes_needed
from kunstflug.documents.plan import OutingOut
from kunstflug.services.match.tried_changes import NamedChange, TriedChange
from kunstflug.wording import Tongue, say

LEAST_PART = 0.002
"""Of the speed: no outing shows less."""


def outings(
    now: Trial, order: Sequence[TriedChange], intent: Intent, same: Repeatability, tongue: Tongue, *, ran: bool
) -> list[OutingOut]:
    """What to do in the next outings, in the order of an intent.

    Parameters
    ----------
    order : all changes, the best of the intent first.
    same : how well the racer's passes repeat.
    ran : whether the boat ran as it is.
    """
    found = [] if ran else [OutingOut(do="", teaches=say(SettlesGuess(chance=now.chance), tongue))]
    for named, then in _in_turn(now, order, intent):
        done = effect(now, then)
        passes = passes_needed(max(abs(then.speed_mps / now.speed_mps - 1.0), LEAST_PART), same)
        shows = ShowsStep(
            gain_mps=done.gain_mps,
            warmer_k=done.warmer_k,
            chance=now.chance,
            chance_then=then.chance,
            passes=passes if passes <= MOST_PASSES else None,
        )
        found.append(OutingOut(do=f"{named.label} {named.text}", teaches=say(shows, tongue)))
    return found[:MOST_OUTINGS]


def _in_turn(now: Trial, order: Sequence[TriedChange], intent: Intent) -> Iterator[tuple[NamedChange, Trial]]:
    """The best change, then the best of another part; two that belong together one after the other.

    Nothing is planned that breaks a rule, burns, passes a limit that the boat keeps, or serves the intent too little;
    back within limits ends with what lets all hold.
    """
    kinds: set[str] = set()
    for one in order:
        if one.broken or one.then.burns or one.then.over > now.over or (now.holds and not one.then.holds):
            continue
        if not serves(now, one.then, intent):
            continue
        if kinds & {named.change.path.partition(".")[0] for named in one.changes}:
            continue
        for named in one.changes:
            yield named, one.then
        if intent is Intent.WITHIN and one.then.holds:
            return
        kinds |= {named.change.path.partition(".")[0] for named in one.changes}
