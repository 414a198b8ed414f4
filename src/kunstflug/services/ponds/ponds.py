"""Ponds: their shores, drawn or driven round, and the straights on them."""

from datetime import date
from typing import Any

import numpy as np
from pydantic import TypeAdapter
from sqlalchemy import delete, select
from sqlalchemy.dialects.mysql import insert

from kunstflug.core.day.pond_water import PondReading, pond_water
from kunstflug.core.day.shore import KEPT_OFF_M, driven_shore, longest_straight
from kunstflug.core.quantity.errors import NotFound
from kunstflug.documents.pond import PondIn, PondView, ShoreIn, ShoreOut, StraightOut, WaterOut, WaterReading
from kunstflug.services.shared.rows import racer_of
from kunstflug.services.shared.run_rows import analysed, run_of
from kunstflug.store.base import now
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import PondRow

MOST_PLACES = 3000
YEAR_STEPS = 24
WATER = TypeAdapter(list[WaterReading])


def look(shore: ShoreIn) -> ShoreOut:
    """A shore with its longest straight; nothing is saved.

    Raises
    ------
    InvalidValue : no shore.
    """
    corners = [(float(x), float(y)) for x, y in shore.corners]
    found = longest_straight(corners)
    straight = None
    if found is not None:
        straight = StraightOut(
            begin=[round(v, 2) for v in found.begin],
            end=[round(v, 2) for v in found.end],
            length_m=round(found.length_m, 2),
            bearing_deg=round(found.bearing_deg, 1),
        )
    return ShoreOut(corners=[list(c) for c in corners], kept_off_m=KEPT_OFF_M, straight=straight)


def ponds(store: Store, on: date | None = None) -> list[PondView]:
    """All ponds, by name, with their water on a day, today where none is said."""
    with store.transaction() as session:
        query = select(PondRow).where(PondRow.owner_id == racer_of(session)).order_by(PondRow.name)
        kept = [(row.name, row.shore, row.water or []) for row in session.scalars(query)]
    return [_view(name, look(ShoreIn(corners=shore)), WATER.validate_python(water), on) for name, shore, water in kept]


def _view(name: str, shore: ShoreOut, water: list[WaterReading], on: date | None = None) -> PondView:
    """A pond with its year."""
    asked = (on or now().date()).timetuple().tm_yday
    read = sorted(water, key=lambda one: one.on)
    year = pond_water([PondReading(on=one.on, celsius=one.celsius) for one in read])

    def at(day: int) -> WaterOut:
        told = year.on(day)
        low, here, high = (round(v, 1) for v in (told.low_c, told.celsius, told.high_c))
        return WaterOut(day=day, celsius=here, low_c=low, high_c=high)

    days = [round(1 + k * 365 / YEAR_STEPS) for k in range(YEAR_STEPS + 1)]
    return PondView(name=name, **shore.model_dump(), water=read, year=[at(d) for d in days], asked=at(asked))


@retried
def keep_pond(store: Store, name: str, pond: PondIn) -> PondView:
    """Keeps a pond under a name; the last shore that was sent holds, and what was read of its water where that came.

    Raises
    ------
    InvalidValue : no shore.
    """
    seen = look(pond)
    told: dict[str, Any] = {"shore": seen.corners}
    if pond.water is not None:
        told["water"] = WATER.dump_python(pond.water, mode="json")
    with store.transaction() as session:
        owner = racer_of(session)
        row = insert(PondRow).values(owner_id=owner, name=name, created_at=now(), **told)
        session.execute(row.on_duplicate_key_update(**told))
        query = select(PondRow.water).where(PondRow.owner_id == owner, PondRow.name == name)
        water = session.scalar(query) or []
    return _view(name, seen, WATER.validate_python(water))


@retried
def drop_pond(store: Store, name: str) -> None:
    """Forgets a pond.

    Raises
    ------
    NotFound
    """
    with store.transaction() as session:
        gone = session.execute(delete(PondRow).where(PondRow.owner_id == racer_of(session), PondRow.name == name))
        if not gone.rowcount:  # type: ignore[attr-defined]  # of a delete
            raise NotFound("pond", name)


def shore_of_run(store: Store, run_id: int) -> ShoreOut:
    """The shore round where a run went.

    Raises
    ------
    NotFound : no such run, or it has no track.
    InvalidValue : it went nowhere.
    """
    with store.transaction() as session:
        row = run_of(session, run_id, racer_of(session))
        if row.track is None:
            raise NotFound("track of run", run_id)
        block = row.track.block
    track = analysed(block).track
    there = np.isfinite(track.east_m) & np.isfinite(track.north_m)
    east, north = track.east_m[there], track.north_m[there]
    every = max(len(east) // MOST_PLACES, 1)
    points = list(zip(east[::every].tolist(), north[::every].tolist(), strict=True))
    return look(ShoreIn(corners=[list(corner) for corner in driven_shore(points)]))
