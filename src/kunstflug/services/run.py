"""Run: tracks and logs taken in, conditions, gun readings, observations; the simulated pond's button."""

import dataclasses
from datetime import UTC, datetime
from itertools import pairwise
from typing import Any

import numpy as np
from sqlalchemy import select
from sqlalchemy.orm import Session

from kunstflug.core.errors import InvalidValue, UnreadableFile
from kunstflug.core.tracks import TrackAnalysis, TrackSamples, analyse
from kunstflug.core.units import Dimension, number_in, si_from
from kunstflug.formats.controller_csv import ControllerLog, read_controller_csv
from kunstflug.formats.gpx import write_gpx
from kunstflug.formats.reading import Damage
from kunstflug.formats.setup_document import QUANTITIES, setup_of
from kunstflug.formats.track_file import read_track
from kunstflug.pond import Weather, boat_seed, run_outing
from kunstflug.services.rows import document_of, local_racer, owned
from kunstflug.services.views import (
    DamageView,
    LogSummaryView,
    PassView,
    ReadingView,
    RunView,
    SummaryView,
    TrackView,
    number,
)
from kunstflug.store.blocks import log_block, track_block, track_of
from kunstflug.store.database import Store
from kunstflug.store.tables import Boat, ControllerLogRow, ObservationRow, ReadingRow, RunRow, SetupRow, TrackRow, now

GUN_ORDER = ("controller", "motor front", "motor back", "pack", "connector", "water out")
WATER_STATES = ("glass", "ripples", "chop", "waves")
DRAWN_SAMPLES = 4000
FULL_THROTTLE = 97.0  # percent
LOG_HOLE_S = 5.0  # a log that is silent for longer says nothing about the charge


class PartlyReadable(UnreadableFile):
    """A damaged file of which part can be read; offered, never taken silently.

    Parameters
    ----------
    readable, seconds : samples that can be read, and how long they last [s].
    damages, broken : the first places that cannot be read, and how many there are.
    """

    def __init__(self, readable: int, seconds: float, damages: tuple[Damage, ...], broken: int) -> None:
        super().__init__(damages[0].reason, damages[0].line or None)
        self.readable = readable
        self.seconds = seconds
        self.damages = damages
        self.broken = broken


def import_track(store: Store, setup_id: int, data: bytes, file_name: str, *, accept_damage: bool) -> RunView:
    """A run from a track file.

    Raises
    ------
    UnreadableFile : not a track; ``PartlyReadable`` where part of it can be read and ``accept_damage`` is false.
    NotFound : no such setup.
    """
    read = read_track(data)
    if read.damages and not accept_damage:
        raise PartlyReadable(len(read.samples), float(read.samples.time_s[-1]), read.damages, read.broken)
    analysis = analyse(read.samples)
    started = _moment(read.samples.start_unix_s)
    with store.transaction() as session:
        owner = local_racer(session)
        owned(session, SetupRow, setup_id, owner)
        run = RunRow(owner_id=owner, setup_id=setup_id, started_at=started, source=file_name[:200], conditions={})
        session.add(run)
        session.flush()
        _save_track(session, run, read.format, read.samples, analysis, read.damages)
        session.refresh(run)
        return run_view(run)


def _moment(unix_s: float) -> datetime:
    """Time of a track, now where it has none."""
    if not np.isfinite(unix_s) or unix_s < 86400 * 2:
        return now()
    return datetime.fromtimestamp(unix_s, UTC).replace(tzinfo=None)


def _save_track(
    session: Session,
    run: RunRow,
    format: str,
    samples: TrackSamples,
    analysis: TrackAnalysis,
    damages: tuple[Damage, ...],
) -> None:
    session.add(
        TrackRow(
            owner_id=run.owner_id,
            run_id=run.id,
            format=format,
            samples=len(samples),
            block=track_block(samples),
            summary=dataclasses.asdict(summary_view(analysis)),
            damages={"places": [{"line": d.line, "reason": d.reason} for d in damages[:50]]},
        )
    )
    session.flush()


def summary_view(analysis: TrackAnalysis) -> SummaryView:
    """Numbers of an analysis."""
    track = analysis.track
    return SummaryView(
        peak_mps=number(analysis.peak_mps),
        best_1s_mps=number(analysis.best_1s_mps),
        best_2s_mps=number(analysis.best_2s_mps),
        both_ways_mps=number(analysis.both_ways_mps),
        raw_peak_mps=number(analysis.raw_peak_mps),
        distance_m=analysis.distance_m,
        duration_s=analysis.duration_s,
        spikes=track.spikes,
        gaps_s=track.gaps_s.tolist(),
        speed_source=track.speed_source,
        rate_hz=round(1 / track.step_s, 2),
        passes=[
            PassView(
                start_s=round(p.start_s, 2),
                end_s=round(p.end_s, 2),
                heading_deg=round(p.heading_deg, 1),
                peak_mps=p.peak_mps,
                best_1s_mps=number(p.best_1s_mps),
                best_2s_mps=number(p.best_2s_mps),
                distance_m=round(p.distance_m, 1),
            )
            for p in analysis.passes
        ],
    )


def simulate(store: Store, setup_id: int, seed: int, passes: int, weather: Weather) -> RunView:
    """A run on the simulated pond, with track, controller log and gun readings.

    The hidden boat belongs to the boat, not to the run: the same boat stays the same over its outings.
    """
    with store.transaction() as session:
        row = owned(session, SetupRow, setup_id, local_racer(session))
        document, boat_id = document_of(row), row.boat_id
    started = now()
    outing = run_outing(
        setup_of(document),
        seed=seed,
        boat_seed=boat_seed(boat_id),
        passes=passes,
        weather=weather,
        start_unix_s=started.replace(tzinfo=UTC).timestamp(),
    )
    return save_outing(store, setup_id, outing, weather, started)


def save_outing(store: Store, setup_id: int, outing: Any, weather: Weather, started: datetime) -> RunView:
    """Saves what a simulated outing brought home."""
    analysis = analyse(outing.track)
    with store.transaction() as session:
        owner = local_racer(session)
        owned(session, SetupRow, setup_id, owner)
        run = RunRow(
            owner_id=owner,
            setup_id=setup_id,
            started_at=started,
            source="simulated pond",
            conditions={
                "water": {"value": weather.water_c, "unit": "degC", "source": "measured"},
                "air": {"value": weather.air_c, "unit": "degC", "source": "measured"},
                "wind": {"value": weather.wind_mps, "unit": "m/s", "source": "measured"},
                "wind_from_deg": weather.wind_from_deg,
                "water_state": "ripples" if weather.wind_mps > 1 else "glass",
            },
        )
        session.add(run)
        session.flush()
        _save_track(session, run, "simulated", outing.track, analysis, ())
        _save_log(session, run, outing.controller)
        for k, reading in enumerate(outing.readings):
            typed = {"value": reading.celsius, "unit": "degC", "source": "measured"}
            session.add(_reading_row(run, k, reading.place, typed, reading.minutes_after))
        session.flush()
        session.refresh(run)
        return run_view(run)


def _save_log(session: Session, run: RunRow, log: ControllerLog) -> None:
    summary = dataclasses.asdict(log_summary(log))
    session.add(
        ControllerLogRow(
            owner_id=run.owner_id, run_id=run.id, samples=len(log.time_s), block=log_block(log), summary=summary
        )
    )


def log_summary(log: ControllerLog) -> LogSummaryView:
    """What a controller log says of full throttle held: the median of its fastest-turning quarter.

    Full throttle is throttle above 97 % where the log has a throttle, else current above 80 % of its highest.
    """
    columns = log.columns
    nothing = np.full(len(log.time_s), np.nan)
    current, rpm = columns.get("current_a", nothing), columns.get("rpm", nothing)
    if "throttle_percent" in columns:
        full = columns["throttle_percent"] >= FULL_THROTTLE
    else:
        full = current >= 0.8 * np.nanmax(current) if np.isfinite(current).any() else np.isfinite(rpm)
    held = full & (rpm >= np.nanpercentile(rpm[full], 60)) if np.isfinite(rpm[full]).any() else full

    def median(name: str) -> float | None:
        values = columns.get(name, nothing)[held]
        return number(float(np.median(values[np.isfinite(values)]))) if np.isfinite(values).any() else None

    charge = _charge_mah(log.time_s, current)
    hot = columns.get("controller_degc", nothing)
    return LogSummaryView(
        samples=len(log.time_s),
        current_a=median("current_a"),
        rpm=median("rpm"),
        voltage_v=median("voltage_v"),
        controller_c=number(float(np.nanmax(hot))) if np.isfinite(hot).any() else None,
        mah=charge,
    )


def _charge_mah(time_s: np.ndarray, current_a: np.ndarray) -> float | None:
    """Charge that a log shows [mAh]; None where it has holes or no current flowed out on the whole."""
    if not np.isfinite(current_a).all() or len(current_a) < 2 or np.max(np.diff(time_s)) > LOG_HOLE_S:
        return None
    charge = float(np.trapezoid(current_a, time_s) / 3.6)
    return number(charge, 4) if charge > 0 else None


def add_log(store: Store, run_id: int, data: bytes, *, accept_damage: bool) -> RunView:
    """A controller log put to a run, in place of one that was there.

    Raises
    ------
    UnreadableFile : not a log, or damaged and not accepted.
    """
    read = read_controller_csv(data)
    if read.damages and not accept_damage:
        seconds = float(read.log.time_s[-1] - read.log.time_s[0])
        raise PartlyReadable(len(read.log.time_s), seconds, read.damages, read.broken)
    with store.transaction() as session:
        run = owned(session, RunRow, run_id, local_racer(session))
        if run.log is not None:
            session.delete(run.log)
            session.flush()
        _save_log(session, run, read.log)
        session.flush()
        session.refresh(run)
        return run_view(run)


def runs(store: Store, boat_id: int) -> list[RunView]:
    """All runs of a boat, newest first."""
    with store.transaction() as session:
        boat = owned(session, Boat, boat_id, local_racer(session))
        rows = session.scalars(
            select(RunRow).join(SetupRow).where(SetupRow.boat_id == boat.id).order_by(RunRow.started_at.desc())
        )
        return [run_view(row) for row in rows]


def run(store: Store, run_id: int) -> RunView:
    """A run."""
    with store.transaction() as session:
        return run_view(owned(session, RunRow, run_id, local_racer(session)))


def run_view(row: RunRow) -> RunView:
    """View of a run row."""
    summary = None
    if row.track is not None:
        stored = dict(row.track.summary)
        passes = [PassView(**p) for p in stored.pop("passes")]
        summary = SummaryView(**stored, passes=passes)
    return RunView(
        id=row.id,
        setup_id=row.setup_id,
        setup_name=row.setup.name,
        boat_id=row.setup.boat_id,
        started_at=row.started_at,
        source=row.source,
        conditions=row.conditions,
        note=row.note,
        summary=summary,
        damages=[DamageView(**d) for d in row.track.damages["places"]] if row.track else [],
        log=LogSummaryView(**row.log.summary) if row.log else None,
        readings=[
            ReadingView(place=r.place, typed=r.typed, celsius=r.celsius, minutes_after=r.minutes_after)
            for r in row.readings
        ],
        observations=[o.words for o in row.observations],
    )


def track(store: Store, run_id: int) -> TrackView:
    """Cleaned track of a run, thinned to what a screen can draw; its speed is never averaged away at a peak."""
    with store.transaction() as session:
        row = owned(session, RunRow, run_id, local_racer(session))
        if row.track is None:
            return TrackView(time_s=[], east_m=[], north_m=[], speed_mps=[])
        block = row.track.block
    cleaned = analyse(track_of(block)).track
    keep = _thinned(cleaned.speed_mps)

    def column(values: np.ndarray, digits: int) -> list[float | None]:
        return [round(v, digits) if np.isfinite(v) else None for v in values[keep].tolist()]

    return TrackView(
        time_s=np.round(cleaned.time_s[keep], 2).tolist(),
        east_m=column(cleaned.east_m, 2),
        north_m=column(cleaned.north_m, 2),
        speed_mps=column(cleaned.speed_mps, 3),
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
    """The raw track of a run as GPX 1.1."""
    with store.transaction() as session:
        row = owned(session, RunRow, run_id, local_racer(session))
        if row.track is None:
            raise InvalidValue("run", f"{run_id} has no track", "a run with a track")
        samples, name = track_of(row.track.block), f"{row.setup.boat.name}, {row.setup.name}"
    return write_gpx(samples, name)


def _reading_row(run: RunRow, position: int, place: str, typed: dict[str, Any], minutes: float) -> ReadingRow:
    quantity = QUANTITIES[Dimension.TEMPERATURE].model_validate(typed)
    celsius = si_from(quantity.value, quantity.unit, Dimension.TEMPERATURE)
    if not -20 <= celsius <= 400:
        unit = quantity.unit
        low, high = (number_in(edge, unit, Dimension.TEMPERATURE) for edge in (-20, 400))
        raise InvalidValue(f"readings.{place}", f"{quantity.value:g} {unit}", f"{low:g} to {high:g} {unit}")
    if not 0 <= minutes <= 240:
        raise InvalidValue(f"readings.{place}.minutes_after", minutes, "0 to 240 minutes")
    return ReadingRow(
        owner_id=run.owner_id, run_id=run.id, position=position, place=place[:40], celsius=celsius, typed=typed,
        minutes_after=minutes,
    )  # fmt: skip


def set_readings(store: Store, run_id: int, readings: list[tuple[str, dict[str, Any], float]]) -> RunView:
    """All gun readings of a run: place, temperature as typed, minutes after landing.

    Raises
    ------
    InvalidValue : an impossible temperature or time.
    """
    with store.transaction() as session:
        row = owned(session, RunRow, run_id, local_racer(session))
        row.readings = [
            _reading_row(row, k, place, typed, minutes) for k, (place, typed, minutes) in enumerate(readings)
        ]
        session.flush()
        return run_view(row)


def set_notes(store: Store, run_id: int, conditions: dict[str, Any], note: str, observations: list[str]) -> RunView:
    """Conditions, note and observations of a run."""
    with store.transaction() as session:
        row = owned(session, RunRow, run_id, local_racer(session))
        row.conditions, row.note = conditions, note
        row.observations = [ObservationRow(owner_id=row.owner_id, words=words[:500]) for words in observations]
        session.flush()
        return run_view(row)
