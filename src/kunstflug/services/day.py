"""The pond day: is a boat ready, how a pass is driven, and when what is charged and run."""

import dataclasses
import math
from collections.abc import Sequence
from datetime import date
from typing import Any, Final

from pydantic import ValidationError
from sqlalchemy import select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session, selectinload

from kunstflug.core.day.charging import ONE_C, ChargerOf, PackOf
from kunstflug.core.day.checks import ASKED, Failure, Phase, checks, skipped
from kunstflug.core.day.cooling import cool_again_s
from kunstflug.core.day.passes import pass_plan
from kunstflug.core.day.plan import RunOf, day_plan
from kunstflug.core.day.weather import Said, water_word, waves_word, wind_word, worst_word
from kunstflug.core.parts import pack as packs
from kunstflug.core.quantity.value import Value
from kunstflug.core.thermal.duty import Mode
from kunstflug.core.thermal.heat_forecast import HeatForecast, heat_forecast
from kunstflug.core.thermal.launch import launch_of
from kunstflug.documents.base import rounded
from kunstflug.documents.day import (
    DayChargeOut,
    DayChargerIn,
    DayCheckOut,
    DayIn,
    DayOut,
    DayPackIn,
    DayPhaseOut,
    DayRunIn,
    DayRunOut,
    DaySaidOut,
    DayView,
    PassPlanOut,
    PondLengthOut,
    ReadyIn,
    ReadyOut,
)
from kunstflug.documents.run import kept_track_summary, kept_typed
from kunstflug.documents.schools import DutyIn
from kunstflug.documents.setup import setup_of
from kunstflug.documents.water import CircuitIn
from kunstflug.services.knowing import known_setup
from kunstflug.services.plan import cooling_of
from kunstflug.services.rows import document_of, local_racer, owned
from kunstflug.services.shelf import shelf
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import Boat, DayTick, PondDay, RunRow, SetupRow
from kunstflug.wording import METRIC, Tongue, say
from kunstflug.wording.day import CAUTIONS, CHARGE_CAUTION, CHECKS, PHASES, WAITS, asked, day_words, pass_words

HOT_C: Final = 90.0
"""A reading above it is asked about (common practice, no source)."""
WEAK_V: Final = 0.08
"""A cell at rest so far below the best one is asked about (common practice, no source)."""
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
STORED: Final = 0.5
"""State of charge at which packs come out of their box (common practice, no source)."""
STARTS_MIN: Final = 480.0
WATER_MIN: Final = 600.0
HANDS_MIN: Final = 10.0
MOST_PONDS: Final = 3
LEAST_POND_M: Final = 20.0


def launch(store: Store, setup_id: int, asked_for: ReadyIn, tongue: Tongue = METRIC) -> ReadyOut:
    """Is everything ready: checks with their ticks, go or wait, the plan of a pass.

    Raises
    ------
    NotFound : no such setup.
    """
    with store.transaction() as session:
        owner = local_racer(session)
        row = owned(session, SetupRow, setup_id, owner)
        document, boat = document_of(row), owned(session, Boat, row.boat_id, owner)
        boat_id, boat_name, circuit = boat.id, boat.name, boat.circuit
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
    setup = known_setup(document)
    if asked_for.water_c is not None:
        water = Value(value=asked_for.water_c)
        setup = dataclasses.replace(setup, conditions=dataclasses.replace(setup.conditions, water_c=water))
    drawn = CircuitIn.model_validate(circuit) if circuit else None
    duty, schools = asked_for.duty.core(), asked_for.schools.core()
    heat = heat_forecast(setup, duty, schools, cooling=cooling_of(setup, drawn))
    items = checks(setup, service_due=bool(due))
    said = _said(heat, setup.conditions.water_c.value, asked_for, wind_word(setup, _top(heat), asked_for.wind_mps))
    phases = [
        DayPhaseOut(
            phase=phase,
            title=PHASES[phase],
            checks=[
                DayCheckOut(
                    key=item.check.value,
                    phase=phase,
                    do=CHECKS[item.check].do,
                    look=", ".join(f"{p.name}: {p.due}" for p in due)
                    if item.check.value == "service"
                    else CHECKS[item.check].look,
                    caution=item.caution,
                    done=item.check.value in ticked,
                )
                for item in items
                if item.phase is phase
            ],
        )
        for phase in Phase
    ]
    return ReadyOut(
        setup_id=setup_id,
        boat_id=boat_id,
        day=asked_for.day,
        word=worst_word([one.word for one in said]),
        said=[DaySaidOut(word=one.word, words=say(one.why, tongue)) for one in said],
        phases=phases,
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


def _top(heat: HeatForecast) -> float:
    return float(heat.run.speed_mps[0].max())


def _said(heat: HeatForecast, water_c: float, asked_for: ReadyIn, wind: Said) -> list[Said]:
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
        if typed.rest_v and max(typed.rest_v) - min(typed.rest_v) > WEAK_V:
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
            found.append(PondLengthOut(words=words, length_m=round(longest, 1)))
    return found


@retried
def tick(store: Store, day: date, boat_id: int, key: str, done: bool) -> None:
    """Ticks a check of a day off, or back; ticks of several people at once add up.

    Raises
    ------
    NotFound : no such boat.
    """
    with store.transaction() as session:
        owner = local_racer(session)
        owned(session, Boat, boat_id, owner)
        mark = insert(DayTick).values(owner_id=owner, day=day.isoformat(), boat_id=boat_id, check=key, done=done)
        session.execute(mark.on_duplicate_key_update(done=done))


def day_of(store: Store, day: date) -> DayView:
    """A day as it was saved; a proposal from the newest setup of each boat where none was."""
    with store.transaction() as session:
        owner = local_racer(session)
        row = session.scalar(select(PondDay).where(PondDay.owner_id == owner, PondDay.day == day.isoformat()))
        kept = _kept(row.plan) if row is not None else None
    if kept is not None:
        return DayView(day=day, saved=True, kept="saved", input=kept, plan=planned(store, kept))
    proposed = _proposal(store)
    return DayView(day=day, saved=False, kept="proposed", input=proposed, plan=planned(store, proposed))


def _kept(raw: dict[str, Any]) -> DayIn | None:
    try:
        return DayIn.model_validate(raw)
    except ValidationError:
        return None


@retried
def save_day(store: Store, day: date, asked_for: DayIn) -> DayView:
    """Keeps a day's plan; the last one that was sent holds.

    Raises
    ------
    NotFound : a run of no such setup.
    """
    plan = planned(store, asked_for)
    with store.transaction() as session:
        owner = local_racer(session)
        raw = asked_for.model_dump(mode="json")
        mark = insert(PondDay).values(owner_id=owner, day=day.isoformat(), plan=raw)
        session.execute(mark.on_duplicate_key_update(plan=raw))
    return DayView(day=day, saved=True, kept="saved", input=asked_for, plan=plan)


def _proposal(store: Store) -> DayIn:
    """Each boat once with its newest setup and its own pack; the chargers that lie on the shelf."""
    with store.transaction() as session:
        owner = local_racer(session)
        boats = session.scalars(
            select(Boat).where(Boat.owner_id == owner, Boat.deleted_at.is_(None), Boat.archived_at.is_(None))
        ).all()
        newest = [
            session.scalars(
                select(SetupRow)
                .where(SetupRow.boat_id == boat.id, SetupRow.deleted_at.is_(None))
                .order_by(SetupRow.id.desc())
                .limit(1)
            ).first()
            for boat in boats
        ]
        pairs = zip(boats, newest, strict=True)
        found = [(boat.name, row.id, document_of(row)) for boat, row in pairs if row is not None]
    packs_of, runs = [], []
    for name, setup_id, document in found[:6]:
        setup = setup_of(document)
        label = f"{name} {packs.series_cells(setup.pack)}S"[:80]
        packs_of.append(
            DayPackIn(
                name=label,
                cells=packs.series_cells(setup.pack),
                capacity_ah=round(setup.pack.capacity_ah.value * setup.pack.parallel, 4),
                cell_ohm=round(packs.cell_resistance(setup.pack).value, 7),
                charge=STORED,
                most_c=ONE_C,
            )
        )
        runs.append(DayRunIn(setup_id=setup_id, pack=label, late_min=0, not_before_min=0))
    return DayIn(
        starts_min=STARTS_MIN,
        water_min=WATER_MIN,
        hands_min=HANDS_MIN,
        chargers=_chargers(store),
        packs=packs_of,
        runs=runs,
    )


def _chargers(store: Store) -> list[DayChargerIn]:
    """Two that lie on the shelf; a small one where none does."""
    found = []
    for part in shelf(store):
        if part.kind == "charger":
            given = part.document
            found.append(
                DayChargerIn(
                    name=part.name[:80] or "charger",
                    most_current_a=_number(given, "most_current"),
                    power_w=_number(given, "power"),
                    most_cells=given.get("most_cells") or 24,
                )
            )
    return found[:2] or [DayChargerIn(name="charger", most_current_a=8.0, power_w=150.0, most_cells=24)]


def _number(document: Any, key: str) -> float | None:
    given = document.get(key)
    return float(given["value"]) if isinstance(given, dict) else None


def planned(store: Store, asked_for: DayIn) -> DayOut:
    """Charges and runs of a day on a time line; nothing is saved.

    Raises
    ------
    NotFound : a run of no such setup.
    """
    named = {}
    with store.transaction() as session:
        owner = local_racer(session)
        for setup_id in {run.setup_id for run in asked_for.runs}:
            row = owned(session, SetupRow, setup_id, owner)
            boat = owned(session, Boat, row.boat_id, owner)
            named[setup_id] = (boat.name, row.name, document_of(row), _duty(boat.aim))
    known = {pack.name for pack in asked_for.packs}
    numbers = {key: _of_run(document, duty) for key, (_, _, document, duty) in named.items()}
    runs = [
        RunOf(
            name=str(k),
            boat=named[run.setup_id][0],
            pack=run.pack,
            run_s=numbers[run.setup_id][0],
            cool_s=numbers[run.setup_id][1],
            used=numbers[run.setup_id][2],
            late_s=60 * run.late_min,
            not_before_s=max(60 * (run.not_before_min - asked_for.starts_min), 0.0),
        )
        for k, run in enumerate(asked_for.runs)
        if run.pack in known
    ]
    plan = day_plan(
        [
            PackOf(
                name=p.name,
                cells=p.cells,
                capacity_ah=p.capacity_ah,
                cell_ohm=p.cell_ohm,
                soc=p.charge,
                most_c=p.most_c,
            )
            for p in asked_for.packs
        ],
        [
            ChargerOf(
                name=c.name,
                most_current_a=c.most_current_a or math.inf,
                power_w=c.power_w or math.inf,
                most_cells=c.most_cells,
            )
            for c in asked_for.chargers
        ],
        runs,
        water_s=max(60 * (asked_for.water_min - asked_for.starts_min), 0.0),
        hands_s=60 * asked_for.hands_min,
    )

    def clock(seconds: float) -> float | None:
        return round(asked_for.starts_min + seconds / 60, 2) if math.isfinite(seconds) else None

    return DayOut(
        charges=[
            DayChargeOut(
                pack=c.pack,
                charger=c.charger,
                start_min=clock(c.start_s) or 0.0,
                end_min=clock(c.end_s) or 0.0,
                current_a=round(c.current_a, 2),
                from_charge=round(c.soc_from, 3),
                to_charge=c.soc_to,
            )
            for c in plan.charges
        ],
        runs=[
            DayRunOut(
                setup_id=asked_for.runs[int(p.run.name)].setup_id,
                boat=p.run.boat,
                setup=named[asked_for.runs[int(p.run.name)].setup_id][1],
                pack=p.run.pack,
                ready_min=clock(p.ready_s),
                start_min=clock(p.start_s),
                end_min=clock(p.end_s),
                cool_min=round(p.run.cool_s / 60, 1),
                waits_for=p.waits_for,
                words=WAITS[p.waits_for],
            )
            for p in plan.runs
        ],
        end_min=clock(plan.end_s) or asked_for.starts_min,
        words=day_words(plan),
        cautions=[CHARGE_CAUTION],
    )


def _duty(aim: dict[str, Any] | None) -> DutyIn:
    try:
        return DutyIn.model_validate((aim or {}).get("duty") or {})
    except ValidationError:
        return DutyIn()


def _of_run(document: Any, duty: DutyIn) -> tuple[float, float, float]:
    """Seconds on the water, seconds until the boat is cool again, and the part of the charge that is used."""
    setup, core = setup_of(document), duty.core()
    cool, used_ah = cool_again_s(setup, core)
    capacity = setup.pack.capacity_ah.value * setup.pack.parallel
    return core.landing_s, cool, min(used_ah / capacity, 1.0)
