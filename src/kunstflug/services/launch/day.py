"""The pond day: when what is charged and run."""

import math
from dataclasses import dataclass
from datetime import date
from typing import Any, Final

from pydantic import ValidationError
from sqlalchemy import func, select
from sqlalchemy.dialects.mysql import insert

from kunstflug.core.day.charging import ONE_C, ChargerOf, PackOf
from kunstflug.core.day.cooling import cool_again_s
from kunstflug.core.day.plan import DayPlan, RunOf, Slot, day_plan
from kunstflug.core.parts import pack as packs
from kunstflug.core.quantity.errors import NotFound
from kunstflug.core.setup.setup import Setup
from kunstflug.documents.day import (
    DayChargeOut,
    DayChargerIn,
    DayIn,
    DayOut,
    DayPackIn,
    DayRunIn,
    DayRunOut,
    DayView,
)
from kunstflug.documents.schools import DutyIn
from kunstflug.documents.setup import setup_of
from kunstflug.services.learning.learning import knowledge_of
from kunstflug.services.shared.aims import duty_of
from kunstflug.services.shared.rows import document_of, is_id, racer_of
from kunstflug.services.shelf.shelf import shelf
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import Boat, PondDay, SetupRow
from kunstflug.wording.day import CHARGE_CAUTION, WAITS, day_words

STORED: Final = 0.5
"""State of charge at which packs come out of their box (common practice, no source)."""
STARTS_MIN: Final = 480.0
WATER_MIN: Final = 600.0
HANDS_MIN: Final = 10.0
MOST_PROPOSED: Final = 6  # boats of a day


def day_of(store: Store, day: date) -> DayView:
    """A day as it was saved; a proposal from the newest setup of each boat where none was."""
    with store.transaction() as session:
        owner = racer_of(session)
        row = session.scalar(select(PondDay).where(PondDay.owner_id == owner, PondDay.day == day.isoformat()))
        kept = _kept(row.plan) if row is not None else None
    if kept is not None:
        return DayView(day=day, saved=True, input=kept, plan=planned(store, kept))
    proposed = _proposal(store)
    return DayView(day=day, saved=False, input=proposed, plan=planned(store, proposed))


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
        owner = racer_of(session)
        raw = asked_for.model_dump(mode="json")
        mark = insert(PondDay).values(owner_id=owner, day=day.isoformat(), plan=raw)
        session.execute(mark.on_duplicate_key_update(plan=raw))
    return DayView(day=day, saved=True, input=asked_for, plan=plan)


def _proposal(store: Store) -> DayIn:
    """Each boat once with its newest setup and its own pack; the chargers that lie on the shelf."""
    with store.transaction() as session:
        owner = racer_of(session)
        newest = select(func.max(SetupRow.id)).where(SetupRow.deleted_at.is_(None)).group_by(SetupRow.boat_id)
        rows = session.execute(
            select(Boat.name, SetupRow)
            .join(SetupRow, SetupRow.boat_id == Boat.id)
            .where(
                Boat.owner_id == owner, Boat.deleted_at.is_(None), Boat.archived_at.is_(None),
                SetupRow.id.in_(newest.where(SetupRow.owner_id == owner)),
            )
            .order_by(Boat.id)
            .limit(MOST_PROPOSED)
        ).all()  # fmt: skip
        found = [(name, row.id, document_of(row)) for name, row in rows]
    packs_of, runs = [], []
    for name, setup_id, document in found:
        setup = setup_of(document)
        label = f"{name} {packs.series_cells(setup.pack)}S"[:80]
        packs_of.append(
            DayPackIn(
                name=label,
                cells=packs.series_cells(setup.pack),
                capacity_ah=round(packs.usable_ah(setup.pack), 4),
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


@dataclass(frozen=True, slots=True, kw_only=True)
class _Known:
    """What a plan needs to know of a setup: names, and what a run of it takes."""

    boat: str
    setup: str
    run_s: float
    cool_s: float
    used: float


def planned(store: Store, asked_for: DayIn) -> DayOut:
    """Charges and runs of a day on a time line; nothing is saved.

    Raises
    ------
    NotFound : a run of no such setup.
    """
    known = _known(store, {run.setup_id for run in asked_for.runs})
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
        _runs_of(asked_for, known),
        water_s=max(60 * (asked_for.water_min - asked_for.starts_min), 0.0),
        hands_s=60 * asked_for.hands_min,
    )
    return _day_out(asked_for, known, plan)


def _known(store: Store, setup_ids: set[int]) -> dict[int, _Known]:
    with store.transaction() as session:
        there = (
            select(SetupRow, Boat)
            .join(Boat, Boat.id == SetupRow.boat_id)
            .where(
                SetupRow.id.in_([key for key in setup_ids if is_id(key)]), SetupRow.owner_id == racer_of(session),
                SetupRow.deleted_at.is_(None), Boat.deleted_at.is_(None),
            )
        )  # fmt: skip
        found = {row.id: (boat, row.name, document_of(row), duty_of(boat)) for row, boat in session.execute(there)}
    missing = sorted(setup_ids - found.keys())
    if missing:
        raise NotFound("setup", missing[0])
    known = {}
    for setup_id, (boat, name, document, duty) in found.items():
        run_s, cool_s, used = _of_run(setup_of(document, knowledge_of(store, boat.id)), duty)
        known[setup_id] = _Known(boat=boat.name, setup=name, run_s=run_s, cool_s=cool_s, used=used)
    return known


def _runs_of(asked_for: DayIn, known: dict[int, _Known]) -> list[RunOf]:
    """The runs whose pack is there, each named by its place in what was asked."""
    packs = {pack.name for pack in asked_for.packs}
    return [
        RunOf(
            name=str(k),
            boat=known[run.setup_id].boat,
            pack=run.pack,
            run_s=known[run.setup_id].run_s,
            cool_s=known[run.setup_id].cool_s,
            used=known[run.setup_id].used,
            late_s=60 * run.late_min,
            not_before_s=max(60 * (run.not_before_min - asked_for.starts_min), 0.0),
        )
        for k, run in enumerate(asked_for.runs)
        if run.pack in packs
    ]


def _day_out(asked_for: DayIn, known: dict[int, _Known], plan: DayPlan) -> DayOut:
    def clock(seconds: float) -> float | None:
        return round(asked_for.starts_min + seconds / 60, 2) if math.isfinite(seconds) else None

    def run_out(placed: Slot) -> DayRunOut:
        setup_id = asked_for.runs[int(placed.run.name)].setup_id
        return DayRunOut(
            setup_id=setup_id,
            boat=placed.run.boat,
            setup=known[setup_id].setup,
            pack=placed.run.pack,
            ready_min=clock(placed.ready_s),
            start_min=clock(placed.start_s),
            end_min=clock(placed.end_s),
            cool_min=round(placed.run.cool_s / 60, 1),
            waits_for=placed.waits_for,
            words=WAITS[placed.waits_for],
        )

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
        runs=[run_out(placed) for placed in plan.runs],
        end_min=clock(plan.end_s) or asked_for.starts_min,
        words=day_words(plan),
        cautions=[CHARGE_CAUTION],
    )


def _of_run(setup: Setup, duty: DutyIn) -> tuple[float, float, float]:
    """Seconds on the water, seconds until the boat is cool again, and the part of the charge that is used."""
    core = duty.core()
    cool, used_ah = cool_again_s(setup, core)
    return core.landing_s, cool, min(used_ah / packs.usable_ah(setup.pack), 1.0)
