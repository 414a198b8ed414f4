"""Is a boat ready: checks with their ticks, go or wait, and how a pass is driven."""

import dataclasses
from collections.abc import Sequence
from datetime import date
from typing import Any, Final

from sqlalchemy import select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session, selectinload

from kunstflug.core.bench.pack_life import WEAK_CELL_V
from kunstflug.core.day.checks import ASKED, Failure, Item, Phase, checks, skipped
from kunstflug.core.day.passes import pass_plan
from kunstflug.core.day.weather import WordWithReason, water_word, waves_word, wind_word, worst_word
from kunstflug.core.quantity.value import Value
from kunstflug.core.thermal.duty import Mode
from kunstflug.core.thermal.heat_forecast import HeatForecast, heat_forecast
from kunstflug.core.thermal.launch import launch_of
from kunstflug.documents.base import rounded
from kunstflug.documents.day import (
    DayCheckOut,
    DayPhaseOut,
    DaySaidOut,
    PassPlanOut,
    PondLengthOut,
    ReadyIn,
    ReadyOut,
)
from kunstflug.documents.run import kept_track_summary, kept_typed
from kunstflug.documents.schools import judging
from kunstflug.documents.setup import setup_of
from kunstflug.services.learning.learning import ALL, Lessons, knowledge_of
from kunstflug.services.shared.aims import circuit_of
from kunstflug.services.shared.rows import document_of, owned, racer_of
from kunstflug.services.shared.views import PartView
from kunstflug.services.shared.water import cooling_of
from kunstflug.services.shelf.shelf import shelf
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import Boat, DayTick, RunRow, SetupRow
from kunstflug.wording import METRIC, Tongue, say
from kunstflug.wording.day import CAUTIONS, CHECKS, PHASES, asked, pass_words

HOT_C: Final = 90.0
"""A reading above it is asked about (common practice, no source)."""
FAILED: Final = {
    "water inside": Failure.WATER_INSIDE,
    "sank": Failure.WATER_INSIDE,
    "hull leaks": Failure.WATER_INSIDE,
    "blew over": Failure.BLEW_OVER,
    "propeller lost": Failure.CAME_LOOSE,
    "flex broke": Failure.CAME_LOOSE,
    "strut bent": Failure.CAME_LOOSE,
    "rudder damaged": Failure.CAME_LOOSE,
}
MOST_PONDS: Final = 3
LEAST_POND_M: Final = 20.0


def launch(
    store: Store, setup_id: int, asked_for: ReadyIn, lessons: Lessons = ALL, tongue: Tongue = METRIC
) -> ReadyOut:
    """Is everything ready: checks with their ticks, go or wait, the plan of a pass.

    Raises
    ------
    NotFound : no such setup.
    """
    with store.transaction() as session:
        owner = racer_of(session)
        row = owned(session, SetupRow, setup_id, owner)
        document, boat = document_of(row), owned(session, Boat, row.boat_id, owner)
        boat_id, boat_name, drawn = boat.id, boat.name, circuit_of(boat)
        marks = select(DayTick.check).where(
            DayTick.owner_id == owner,
            DayTick.day == asked_for.day.isoformat(),
            DayTick.boat_id == boat_id,
            DayTick.done,
        )
        ticked = frozenset(session.scalars(marks))
        rows = _runs_of(session, boat_id)
        failures, ponds = _failures(rows, asked_for.day), _ponds(rows, tongue)
    due = [part for part in shelf(store) if part.due and boat_name in part.boats]
    setup = setup_of(document, knowledge_of(store, boat_id, lessons))
    if asked_for.water_c is not None:
        water = Value(value=asked_for.water_c)
        setup = dataclasses.replace(setup, conditions=dataclasses.replace(setup.conditions, water_c=water))
    duty, schools = asked_for.duty.core(), judging(asked_for.schools, asked_for.duty)
    heat = heat_forecast(setup, duty, schools, cooling=cooling_of(setup, drawn))
    items = checks(setup, service_due=bool(due))
    said = _said(heat, setup.conditions.water_c.value, asked_for, wind_word(setup, _top(heat), asked_for.wind_mps))
    return ReadyOut(
        setup_id=setup_id,
        boat_id=boat_id,
        day=asked_for.day,
        word=worst_word([one.word for one in said]),
        said=[DaySaidOut(word=one.word, words=say(one.why, tongue)) for one in said],
        phases=_phases(items, ticked, due),
        asked=[
            asked(failure, check)
            for failure in ASKED
            if failure in failures
            for check in skipped([failure], items, ticked)
        ],
        plan=_pass_plan(setup, asked_for, heat, tongue),
        ponds=ponds,
        cautions=list(CAUTIONS),
    )


def _phases(items: Sequence[Item], ticked: frozenset[str], due: Sequence[PartView]) -> list[DayPhaseOut]:
    """The checks of each phase; the one for service names what is due."""
    return [
        DayPhaseOut(
            phase=phase,
            title=PHASES[phase],
            checks=[_check_out(item, item.check.value in ticked, due) for item in items if item.phase is phase],
        )
        for phase in Phase
    ]


def _check_out(item: Item, done: bool, due: Sequence[PartView]) -> DayCheckOut:
    service = ", ".join(f"{p.name}: {p.due}" for p in due) if item.check.value == "service" else None
    return DayCheckOut(
        key=item.check.value,
        phase=item.phase,
        do=CHECKS[item.check].title,
        look=CHECKS[item.check].inspect if service is None else service,
        caution=item.caution,
        done=done,
    )


def _top(heat: HeatForecast) -> float:
    return float(heat.run.speed_mps[0].max())


def _said(heat: HeatForecast, water_c: float, asked_for: ReadyIn, wind: WordWithReason) -> list[WordWithReason]:
    passes = heat.passes_until_limit
    return [wind, water_word(water_c, heat.verdict, passes, asked_for.duty.passes), waves_word(asked_for.waves)]


def _pass_plan(setup: Any, asked_for: ReadyIn, heat: HeatForecast, tongue: Tongue) -> PassPlanOut | None:
    duty = asked_for.duty.core()
    if not any(phase.mode is Mode.FULL for phase in duty.phases) or _top(heat) <= 0:
        return None
    start = launch_of(setup, duty.full_s, asked_for.duty.pond_m)
    plan = pass_plan(setup, duty, heat, start, asked_for.duty.pond_m, standing=asked_for.standing)
    return PassPlanOut(
        standing=plan.standing,
        run_up_m=rounded(plan.run_up_m),
        run_up_s=rounded(plan.run_up_s),
        held_m=round(plan.held_m, 2),
        lift_m=rounded(plan.lift_m),
        short_m=round(plan.short_m, 2),
        full_s=plan.full_s,
        cool_s=rounded(plan.cool_s),
        passes=plan.passes,
        come_in_s=round(plan.come_in_s, 1),
        used=round(plan.used, 4),
        words=pass_words(plan, tongue),
    )


def _runs_of(session: Session, boat_id: int) -> Sequence[RunRow]:
    query = (
        select(RunRow)
        .where(RunRow.boat_id == boat_id, RunRow.deleted_at.is_(None))
        .options(selectinload(RunRow.observations), selectinload(RunRow.readings), selectinload(RunRow.track))
        .order_by(RunRow.started_at.desc())
        .limit(40)
    )
    return list(session.scalars(query))


def _failures(rows: Sequence[RunRow], day: date) -> frozenset[Failure]:
    """What went wrong on a day, as far as it was written down."""
    found = set()
    for row in rows:
        if row.started_at.date() != day:
            continue
        typed = kept_typed(row.typed)
        said = [o.words for o in row.observations] + typed.damage
        found |= {FAILED[words] for words in said if words in FAILED}
        if any(reading.celsius > HOT_C for reading in row.readings):
            found.add(Failure.HOT)
        if typed.stopped is not None:
            found.add(Failure.NO_SIGNAL)
        if typed.rest_v and max(typed.rest_v) - min(typed.rest_v) > WEAK_CELL_V:
            found.add(Failure.WEAK_PACK)
    return frozenset(found)


def _ponds(rows: Sequence[RunRow], tongue: Tongue) -> list[PondLengthOut]:
    """Straights that were run before, the longest of each run, newest first."""
    found: list[PondLengthOut] = []
    for row in rows:
        kept = kept_track_summary(row.track.summary) if row.track is not None else None
        longest = max((p.distance_m for p in kept.passes), default=0.0) if kept is not None else 0.0
        if longest >= LEAST_POND_M and len(found) < MOST_PONDS:
            words = f"{tongue.distance(longest)}, the longest pass of {row.started_at.date().isoformat()}"
            found.append(PondLengthOut(run_id=row.id, words=words, length_m=round(longest, 1)))
    return found


@retried
def tick(store: Store, day: date, boat_id: int, key: str, done: bool) -> None:
    """Ticks a check of a day off, or back; ticks of several people at once add up.

    Raises
    ------
    NotFound : no such boat.
    """
    with store.transaction() as session:
        owner = racer_of(session)
        owned(session, Boat, boat_id, owner)
        mark = insert(DayTick).values(owner_id=owner, day=day.isoformat(), boat_id=boat_id, check=key, done=done)
        session.execute(mark.on_duplicate_key_update(done=done))
