"""What is known of a boat, as it is shown: its numbers, its runs, its changes, what to measure next."""

import dataclasses
import math
from collections import defaultdict
from collections.abc import Sequence
from datetime import datetime
from typing import Final

import numpy as np
from sqlalchemy import select

from kunstflug.core.drive.curves import curve_of
from kunstflug.core.drive.family import features, parts_of
from kunstflug.core.drive.forecast import forecast
from kunstflug.core.drive.point import solve
from kunstflug.core.drive.values import as_bought, drive_values, known_of
from kunstflug.core.evidence.judgement import Prediction
from kunstflug.core.evidence.readings import What
from kunstflug.core.learning.attribution import (
    Effect,
    Repeatability,
    Share,
    Try,
    chance_seen,
    effect,
    order_of_passes,
    passes_needed,
    repeatability,
    ruling_of,
    shared_out,
    with_forecast,
)
from kunstflug.core.learning.causes import Suspicion, meant, odd_run
from kunstflug.core.learning.judged import JudgedRun
from kunstflug.core.learning.learn import Posterior
from kunstflug.core.learning.measure_next import worth
from kunstflug.core.learning.run_evidence import RunEvidence
from kunstflug.core.quantity.errors import KunstflugError
from kunstflug.core.quantity.units import Dimension, number_in
from kunstflug.core.quantity.value import Z80, Array, Value
from kunstflug.core.setup.knowledge import OWNER, TAUGHT, Owner
from kunstflug.core.setup.setup import Setup
from kunstflug.core.thermal.nodes import as_bought as heat_as_bought
from kunstflug.core.thermal.nodes import known_with_heat
from kunstflug.documents.base import rounded
from kunstflug.documents.run import kept_typed
from kunstflug.documents.setup import SetupDocument, setup_of
from kunstflug.services.compare.views import (
    CauseView,
    ChangeEffectView,
    KnowledgeView,
    KnownReadingView,
    KnownRunView,
    MeasureNextView,
    NumberView,
    SaidView,
    SeenView,
    ShareView,
)
from kunstflug.services.learning.learning import forget, judgements, learned_of
from kunstflug.services.shared.changes import decisions, differences, with_difference
from kunstflug.services.shared.rows import document_of, owned, racer_of
from kunstflug.services.shared.views import utc
from kunstflug.store.database import Store
from kunstflug.store.tables import Boat, RunRow, SetupRow
from kunstflug.wording.guesses import PARAMETERS
from kunstflug.wording.learning import CAUSES, MEASURES, OWNERS, READINGS, effect_words

SEEN_BY: Final = (0.005, 0.01, 0.02, 0.05)
"""Parts of the speed for which it is said how many passes they take."""
MOST_SHOWN: Final = 16  # passes of each setup; more is another day


def boat_knowledge(store: Store, boat_id: int) -> KnowledgeView:
    """What is known of a boat: its numbers, its runs against what was said of them, its changes, what to measure."""
    with store.transaction() as session:
        boat = owned(session, Boat, boat_id, racer_of(session))
        setups = {
            row.id: row
            for row in session.scalars(
                select(SetupRow).where(SetupRow.boat_id == boat.id, SetupRow.deleted_at.is_(None)).order_by(SetupRow.id)
            )
        }
        runs = {r.id: r for r in session.scalars(select(RunRow).where(RunRow.boat_id == boat.id))}
        documents = {key: document_of(row) for key, row in setups.items()}
        name, aside = boat.name, [r.id for r in runs.values() if kept_typed(r.typed).set_aside and not r.deleted_at]
        run_setups = {key: row.setup_id for key, row in runs.items()}
        started = {key: utc(row.started_at) for key, row in runs.items()}
        parents = {key: row.parent_id for key, row in setups.items()}
    forget(store)  # another process may have saved a run a moment ago, and nobody looks at this page twice
    learned, seen_all = learned_of(store)
    newest = list(documents)[-1] if documents else None
    if learned is None or newest is None:
        return KnowledgeView(
            boat_id=boat_id, boat_name=name, runs=0, runs_of_boat=0, numbers=[], judged=[], changes=[], measure=[],
            denied=False, set_aside=aside, limit_of_day=None, limit_of_days=None, seen=[],
        )  # fmt: skip
    mine = [run for key, run in judgements(store).items() if key in run_setups]
    setup = setup_of(documents[newest])
    known = _with(setup, learned, str(boat_id))
    same = repeatability(_groups(mine, seen_all, run_setups))
    return KnowledgeView(
        boat_id=boat_id,
        boat_name=name,
        runs=len(seen_all),
        runs_of_boat=len(mine),
        numbers=numbers_of(setup, learned, str(boat_id)),
        judged=[_run_view(run, mine, run_setups, started[int(run.key)]) for run in mine],
        changes=_changes(documents, parents, mine, seen_all, run_setups, same, learned, boat_id),
        measure=_measure(known, seen_all, str(boat_id)),
        denied=learned.knowledge(str(boat_id)).denied,
        set_aside=aside,
        limit_of_day=round(same.limit, 5),
        limit_of_days=round(same.limit_of_days, 5),
        seen=[_seen(part, same) for part in SEEN_BY],
    )


def _seen(part: float, same: Repeatability) -> SeenView:
    chances = [round(chance_seen(part, count, same), 3) for count in range(2, MOST_SHOWN + 1)]
    return SeenView(part=part, passes=passes_needed(part, same), chances=chances)


def _with(setup: Setup, learned: Posterior, boat: str) -> Setup:
    return dataclasses.replace(setup, knowledge=learned.knowledge(boat))


def numbers_of(setup: Setup, learned: Posterior, boat: str) -> list[NumberView]:
    """Every number that is not sure, from what was given to what is known, those taught most first."""
    known_setup = _with(setup, learned, boat)
    known = known_with_heat(known_setup)
    assert known is not None
    assert known_setup.knowledge is not None
    things = known_setup.knowledge.aboard(parts_of(setup), features(setup), {}, {}).things
    before = {n: v for n, v in (*as_bought(setup), *heat_as_bought(setup)) if v.spread}
    found = []
    for name, bought in before.items():
        now = known.of(name, bought)
        owner = OWNER[name]
        thing = boat if owner in (Owner.HULL, Owner.MODEL) else things.get(owner, "")
        label, dimension, unit = PARAMETERS[name]
        found.append(
            NumberView(
                name=name,
                label=label,
                of=owner,
                owner=OWNERS[owner],
                unit=unit,
                before=_shown(bought, dimension, unit),
                now=_shown(now, dimension, unit),
                narrowed=round(1.0 - min(now.spread / bought.spread, 1.0), 4),
                moved=round(math.log(now.value / bought.value) / bought.spread, 3),
                taught=now.spread < TAUGHT * bought.spread,
                runs=list(learned.taught_by.get(thing, ())),
            )
        )
    return sorted(found, key=lambda n: -n.narrowed)


def _shown(value: Value, dimension: Dimension, unit: str) -> SaidView:
    middle = number_in(value.value, unit, dimension)
    ends = sorted((middle * math.exp(-Z80 * value.spread), middle * math.exp(Z80 * value.spread)))
    return SaidView(value=_figures(middle), low=_figures(ends[0]), high=_figures(ends[1]))


def _figures(value: float) -> float | None:
    return rounded(value, 4)


def _run_view(run: JudgedRun, others: Sequence[JudgedRun], setups: dict[int, int], started: datetime) -> KnownRunView:
    odd = odd_run(run, others)
    return KnownRunView(
        run_id=int(run.key),
        setup_id=setups[int(run.key)],
        started_at=started,
        readings=[
            KnownReadingView(
                label=READINGS[r.what][0],
                dimension=READINGS[r.what][1].value,
                minutes=round(r.minutes, 2),
                read=_figures(r.read) or 0.0,
                bought=_told(r.bought),
                then=_told(r.then),
                without=_told(r.without),
                inside=r.then.holds(r.read),
                weight=round(r.weight, 3),
            )
            for r in run.readings
        ],
        off=round(odd.off, 2) if odd else None,
        worst=READINGS[odd.worst][0] if odd else "",
        causes=[_cause_view(s, run, setups) for s in odd.suspicions[:3]] if odd else [],
    )


def _cause_view(found: Suspicion, run: JudgedRun, setups: dict[int, int]) -> CauseView:
    label, dimension = READINGS[found.what] if found.what else ("", None)
    return CauseView(
        cause=found.cause,
        words=CAUSES[found.cause],
        chance=round(found.chance, 3),
        label=label,
        dimension=dimension.value if dimension else "",
        fits=_figures(meant(found, run)) if found.what else None,
        setup_id=setups.get(int(found.other)) if found.other else None,
    )


def _told(told: Prediction) -> SaidView:
    return SaidView(value=_figures(told.value), low=_figures(told.low), high=_figures(told.high))


def _tries(runs: Sequence[JudgedRun], seen: Sequence[RunEvidence], setups: dict[int, int]) -> dict[int, list[Try]]:
    """Of each setup its speeds over what was forecast for their own conditions, as logarithms."""
    outings = {run.key: run for run in seen}
    found: dict[int, list[Try]] = defaultdict(list)
    for run in runs:
        for reading in run.readings:
            if reading.what is What.SPEED and reading.weight > 0.5 and math.isfinite(reading.bought.value):
                own = next(r.spread for r in outings[run.key].readings if r.what is What.SPEED)
                value = math.log(reading.read / reading.bought.value)
                found[setups[int(run.key)]].append(Try(value=value, spread=own, outing=outings[run.key].outing))
    return found


def repeats(store: Store, boat_id: int | None) -> Repeatability:
    """How well the racer's passes of a boat repeat, as its changes are judged by; what is usual without runs."""
    if boat_id is None:
        return repeatability(())
    with store.transaction() as session:
        boat = owned(session, Boat, boat_id, racer_of(session))
        setups = {run.id: run.setup_id for run in session.scalars(select(RunRow).where(RunRow.boat_id == boat.id))}
    _, seen = learned_of(store)
    mine = [run for key, run in judgements(store).items() if key in setups]
    return repeatability(_groups(mine, seen, setups))


def _groups(runs: Sequence[JudgedRun], seen: Sequence[RunEvidence], setups: dict[int, int]) -> list[list[Try]]:
    return list(_tries(runs, seen, setups).values())


def _changes(
    documents: dict[int, SetupDocument],
    parents: dict[int, int | None],
    runs: Sequence[JudgedRun],
    seen: Sequence[RunEvidence],
    setups: dict[int, int],
    same: Repeatability,
    learned: Posterior,
    boat_id: int,
) -> list[ChangeEffectView]:
    """What each change brought, by forecast and as measured, and what may be said of it."""
    tries = _tries(runs, seen, setups)
    speeds = {key: float(forecast(setup_of(d), 0).point.speed_mps) for key, d in documents.items()}
    knowing = {key: _with(setup_of(d), learned, str(boat_id)) for key, d in documents.items()}
    learnt = {key: float(forecast(setup, 0).point.speed_mps) for key, setup in knowing.items()}
    edges = [(p, key) for key, p in parents.items() if p in documents and p is not None]
    effects: list[Effect | None] = []
    for before, after in edges:
        step = math.log(speeds[after] / speeds[before])
        found = effect(tries.get(before, []), [_moved(t, step) for t in tries.get(after, [])], same)
        effects.append(found if found is not None and math.isfinite(found.value) else None)
    views = []
    for (before, after), found in zip(edges, effects, strict=True):
        count = decisions(documents[before], documents[after])
        ruling = ruling_of(found, count)
        part = abs(learnt[after] / learnt[before] - 1.0)
        needed = passes_needed(max(part, 0.002), same)
        believed = None if found is None else _believed(found, knowing[before], knowing[after])
        views.append(
            ChangeEffectView(
                before_id=before,
                after_id=after,
                things=count,
                forecast=_figures(learnt[after] / learnt[before] - 1.0),
                measured=_effect_view(found),
                chance=None if found is None else round(found.chance, 4),
                believed=_effect_view(believed),
                ruling=ruling,
                words=effect_words(ruling, None if found is None else found.chance),
                passes=needed,
                order=order_of_passes(min(needed, 4)),
                shares=_shares(documents[before], documents[after], found) if count > 1 else [],
            )
        )  # fmt: skip
    return views


def _effect_view(found: Effect | None) -> SaidView | None:
    if found is None:
        return None
    value, low, high = (_figures(math.expm1(x)) for x in (found.value, found.low, found.high))
    return SaidView(value=value, low=low, high=high)


def _believed(found: Effect, before: Setup, after: Setup) -> Effect | None:
    """A measured effect with its forecast believed as far as the laws go."""
    steps = np.log(_speeds(after) / _speeds(before))
    told, spread = float(steps[0]), float(np.nanstd(steps[1:]))
    if not (math.isfinite(told) and math.isfinite(spread)):
        return None
    return with_forecast(found, told, math.hypot(spread, OF_CHANGE))


OF_CHANGE: Final = 0.015
"""What the laws leave open of the speed by one change, beside the boat's numbers (common practice, no source)."""
MOST_SHARED: Final = 6
SHARE_DRAWS: Final = 64
SHARE_SEED: Final = 33
LEAST_SHARE: Final = 0.002
NO_SHARE: Final = 2e-4


def _shares(before: SetupDocument, after: SetupDocument, found: Effect | None) -> list[ShareView]:
    """A measured effect of several changes, shared out by what is forecast of each alone and how sure that is.

    As bought: a part of which one field is changed is no part that ever ran. A field that moves nothing has no share.
    """
    changed = differences(before, after)
    if found is None or len(changed) > MOST_SHARED:
        return []
    base = _speeds(setup_of(before))
    forecasts = []
    for one in changed:
        try:
            steps = np.log(_speeds(setup_of(with_difference(before, one))) / base)
        except KunstflugError:
            return []
        value, spread = float(steps[0]), float(np.nanstd(steps[1:]))
        if not math.isfinite(value):
            return []
        if abs(value) > NO_SHARE:
            forecasts.append(Share(name=one.label, value=value, spread=math.hypot(spread, LEAST_SHARE)))
    return [
        ShareView(label=s.name, value=round(math.expm1(s.value), 5), spread=round(s.spread, 5))
        for s in (shared_out(found.value, found.deviation, forecasts) if len(forecasts) > 1 else ())
    ]


def _speeds(setup: Setup) -> Array:
    """Speed of the nominal drive and of draws [m/s]; the same draws for every setup."""
    rows = drive_values(setup).rows(SHARE_DRAWS, SHARE_SEED, known_of(setup))
    return np.asarray(solve(rows, (curve_of(setup),)).speed_mps)


def _moved(run: Try, step: float) -> Try:
    return Try(value=run.value + step, spread=run.spread, outing=run.outing)


def _measure(setup: Setup, seen: Sequence[RunEvidence], boat: str) -> list[MeasureNextView]:
    """What to measure next, for the speed and for the motor's temperature."""
    known = known_with_heat(setup)
    latest = next((run for run in reversed(seen) if run.boat == boat), None)
    if known is None or latest is None:
        return []
    places = {name: k for k, name in enumerate(known.names)}
    found = []
    for wanted in (What.SPEED, What.CASE):
        for one in worth(latest, places, known.covariance, wanted):
            found.append(
                MeasureNextView(wanted=READINGS[wanted][0], words=MEASURES[one.measure], narrows=round(one.narrows, 4))
            )
    return found
