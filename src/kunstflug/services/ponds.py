"""Ponds: their shores, drawn or driven round, and the straights on them."""

import numpy as np
from sqlalchemy import delete, select
from sqlalchemy.dialects.mysql import insert

from kunstflug.core.day.shore import KEPT_OFF_M, driven_shore, longest_straight
from kunstflug.core.quantity.errors import NotFound
from kunstflug.core.tracks import analyse
from kunstflug.documents.pond import PondView, ShoreIn, ShoreOut, StraightOut
from kunstflug.services.rows import racer_of
from kunstflug.services.run_rows import run_of
from kunstflug.store.blocks import track_of
from kunstflug.store.database import Store, retried
from kunstflug.store.tables import PondRow, now

MOST_PLACES = 3000


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


def ponds(store: Store) -> list[PondView]:
    """All ponds, by name."""
    with store.transaction() as session:
        query = select(PondRow).where(PondRow.owner_id == racer_of(session)).order_by(PondRow.name)
        kept = [(row.name, row.shore) for row in session.scalars(query)]
    return [PondView(name=name, **look(ShoreIn(corners=shore)).model_dump()) for name, shore in kept]


@retried
def keep_pond(store: Store, name: str, shore: ShoreIn) -> PondView:
    """Keeps a pond under a name; the last shore that was sent holds.

    Raises
    ------
    InvalidValue : no shore.
    """
    seen = look(shore)
    with store.transaction() as session:
        owner = racer_of(session)
        row = insert(PondRow).values(owner_id=owner, name=name, shore=seen.corners, created_at=now())
        session.execute(row.on_duplicate_key_update(shore=seen.corners))
    return PondView(name=name, **seen.model_dump())


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
    track = analyse(track_of(block)).track
    there = np.isfinite(track.east_m) & np.isfinite(track.north_m)
    east, north = track.east_m[there], track.north_m[there]
    every = max(len(east) // MOST_PLACES, 1)
    points = list(zip(east[::every].tolist(), north[::every].tolist(), strict=True))
    return look(ShoreIn(corners=[list(corner) for corner in driven_shore(points)]))
