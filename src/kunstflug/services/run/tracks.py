"""The tracks and logs of runs, going out: to be drawn, and as files."""

from itertools import pairwise
from typing import Final

import numpy as np

from kunstflug.core.quantity.errors import NotFound
from kunstflug.core.tracks import TrackSamples
from kunstflug.core.tracks.turns import Turn, find_turns
from kunstflug.files.controller_csv import write_controller_csv
from kunstflug.files.exact_csv import write_track_csv
from kunstflug.files.geojson import write_geojson
from kunstflug.files.gpx import write_gpx
from kunstflug.services.shared.rows import racer_of
from kunstflug.services.shared.run_rows import analysed, run_of
from kunstflug.services.shared.views import TrackView, TurnView
from kunstflug.store.blocks import log_of, track_of
from kunstflug.store.database import Store
from kunstflug.store.tables import Boat

DRAWN_SAMPLES: Final = 4000


def track(store: Store, run_id: int) -> TrackView:
    """Cleaned track of a run, thinned to what a screen can draw; its speed is never averaged away at a peak."""
    with store.transaction() as session:
        row = run_of(session, run_id, racer_of(session))
        if row.track is None:
            return TrackView(time_s=[], east_m=[], north_m=[], speed_mps=[], turns=[])
        block = row.track.block
    cleaned = analysed(block).track
    keep = _thinned(cleaned.speed_mps)

    def column(values: np.ndarray, digits: int) -> list[float | None]:
        return [v if v == v else None for v in np.round(values[keep], digits).tolist()]

    return TrackView(
        time_s=np.round(cleaned.time_s[keep], 2).tolist(),
        east_m=column(cleaned.east_m, 2),
        north_m=column(cleaned.north_m, 2),
        speed_mps=column(cleaned.speed_mps, 3),
        turns=[_turn_view(turn) for turn in find_turns(cleaned)],
    )


def _turn_view(turn: Turn) -> TurnView:
    return TurnView(
        start_s=round(turn.start_s, 2),
        end_s=round(turn.end_s, 2),
        turned_deg=round(turn.turned_deg, 1),
        radius_m=round(turn.radius_m, 2),
        entry_mps=round(turn.entry_mps, 3),
        slowest_mps=round(turn.slowest_mps, 3),
        exit_mps=round(turn.exit_mps, 3),
        lost=round(turn.lost, 4),
        lateral_g=round(turn.lateral_g, 3),
    )


def _thinned(speed: np.ndarray) -> np.ndarray:
    """Indices to draw: of each bucket the slowest and the fastest sample."""
    if len(speed) <= DRAWN_SAMPLES:
        return np.arange(len(speed))
    edges = np.linspace(0, len(speed), DRAWN_SAMPLES // 2 + 1).astype(int)
    filled = np.where(np.isfinite(speed), speed, -1.0)
    kept = {0, len(speed) - 1}
    for a, b in pairwise(edges.tolist()):
        kept |= {a + int(np.argmin(filled[a:b])), a + int(np.argmax(filled[a:b]))}
    return np.array(sorted(kept))


def track_gpx(store: Store, run_id: int) -> bytes:
    """The raw track of a run as GPX 1.1, in its pieces, under the name it came with."""
    return write_gpx(*_raw_track(store, run_id))


def track_geojson(store: Store, run_id: int) -> bytes:
    """The same as GeoJSON."""
    return write_geojson(*_raw_track(store, run_id))


def track_csv(store: Store, run_id: int) -> bytes:
    """The same as CSV."""
    return write_track_csv(_raw_track(store, run_id)[0])


def _raw_track(store: Store, run_id: int) -> tuple[TrackSamples, str]:
    with store.transaction() as session:
        row = run_of(session, run_id, racer_of(session))
        if row.track is None:
            raise NotFound("track of run", run_id)
        boat = session.get_one(Boat, row.boat_id)
        samples = track_of(row.track.block)
        return samples, samples.name or f"{boat.name}, {row.setup.name}"


def log_csv(store: Store, run_id: int) -> bytes:
    """The controller log of a run as CSV."""
    with store.transaction() as session:
        row = run_of(session, run_id, racer_of(session))
        if row.log is None or row.log.deleted_at is not None:
            raise NotFound("controller log of run", run_id)
        log = log_of(row.log.block)
    return write_controller_csv(log)
