"""A boat on one sheet of paper, and a run in one picture; neither tells where it was, unless that is wanted."""

import math
from datetime import UTC, datetime
from typing import Any, Final

import numpy as np

from kunstflug import __version__
from kunstflug.core.drive.verdict import Verdict
from kunstflug.core.fit.build import Caution
from kunstflug.core.quantity.errors import NotFound
from kunstflug.core.quantity.units import Dimension, number_in
from kunstflug.documents.forecast import ForecastOut
from kunstflug.documents.setup import SetupDocument
from kunstflug.documents.vocabulary import vocabulary
from kunstflug.files.sheet import Block, RunPicture, Sheet, write_picture, write_sheet
from kunstflug.services.boats import boats
from kunstflug.services.learning import learning
from kunstflug.services.run import run
from kunstflug.services.shared.aims import duty_of, judging_of
from kunstflug.services.shared.forecasts import forecast_of
from kunstflug.services.shared.rows import owned, racer_of
from kunstflug.services.shared.run_rows import analysed, run_of
from kunstflug.store.database import Store
from kunstflug.store.tables import Boat
from kunstflug.wording import METRIC, Tongue
from kunstflug.wording.build import CAUTIONS
from kunstflug.wording.choose import ENDS
from kunstflug.wording.duty import say_duty
from kunstflug.wording.fields import KINDS, named, option
from kunstflug.wording.limits import load
from kunstflug.wording.tongue import SYMBOLS, trimmed

RUNS: Final = 6
_LEFT: Final = ("hull", "motor", "controller", "propeller", "pack")
_KNOBS: Final = (
    "hull.strut_angle", "hull.shaft_depth", "hull.trim", "hull.mass_centre", "hull.fin_angle", "hull.fin_depth",
    "hull.tab_angle", "hull.rudder_depth", "hull.rudder_toe", "hull.steering", "hull.air_tab", "hull.sponson_angle",
)  # fmt: skip


def sheet(store: Store, setup_id: int, tongue: Tongue = METRIC) -> bytes:
    """A setup as a PDF of one page: parts, forecast with what its runs taught, settings, runs, cautions.

    Raises
    ------
    NotFound
    """
    return write_sheet(sheet_of(store, setup_id, tongue))


def sheet_of(store: Store, setup_id: int, tongue: Tongue = METRIC) -> Sheet:
    """What stands on it."""
    setup = boats.setup(store, setup_id)
    with store.transaction() as session:
        row = owned(session, Boat, setup.boat_id, racer_of(session))
        boat, schools, duty = row.name, judging_of(row), duty_of(row)
    through = say_duty(duty.kind, duty.passes, duty.pass_s, duty.minutes)
    found = forecast_of(setup.document, learning.knowledge_of(store, setup.boat_id), schools, tongue)
    document = setup.document
    today = datetime.now(UTC)
    counted = f", {found.known_runs} runs count" if found.known_runs else ", as bought"
    counted += f", {found.known_racers} racers' boats count" if found.known_racers else ""
    return Sheet(
        title=boat,
        under=f"{setup.name}, {_day(today)}",
        headline=_speed(found, tongue),
        band=_band(found, tongue) + counted,
        verdict=ENDS[found.verdict],
        left=[Block(heading=KINDS[kind], rows=_part(document, kind, tongue)) for kind in _LEFT],
        right=[
            Block(heading="Forecast at full throttle", rows=_forecast(found, tongue)),
            Block(heading=f"Loads and limits through {through}", rows=_limits(found, tongue)),
            Block(heading="Settings", rows=_settings(document, tongue)),
            Block(heading="Last runs", rows=_runs(store, setup.boat_id, tongue)),
        ],
        cautions=[CAUTIONS[Caution.SHARP], *found.caveats[:3], _MAKER],
        foot=f"Kunstflug {__version__}, model {found.model_version}",
    )


_MAKER: Final = "The maker's sheet, the venue's rules and local codes come first; a forecast is no permission."


def _day(at: datetime) -> str:
    return f"{at.day} {at:%b %Y}"


def _speed(found: ForecastOut, t: Tongue) -> str:
    value = found.point.speed_mps.value
    return t.speed(value) if found.runs and value is not None else "does not run"


def _band(found: ForecastOut, t: Tongue) -> str:
    low, high = found.point.speed_mps.low, found.point.speed_mps.high
    return f"80 % between {t.speed(low)} and {t.speed(high)}" if low is not None and high is not None else found.refusal


def _typed(value: Any, tongue: Tongue) -> str:
    if hasattr(value, "unit"):
        unit = SYMBOLS.get(value.unit, value.unit)
        return f"{trimmed(value.value)} {unit}".strip() if unit != "1" else trimmed(value.value)
    return option(value, tongue) if hasattr(value, "value") else str(value)


def _part(document: SetupDocument, kind: str, tongue: Tongue) -> list[tuple[str, str]]:
    """What was said of a part, in the order of its form; what is a setting stands with the settings."""
    part = getattr(document, kind)
    wanted = [f.key for f in vocabulary(tongue).fields if f.part == kind and f"{kind}.{f.key}" not in _KNOBS]
    rows = [(named(f"{kind}.{key}").label, getattr(part, key, None)) for key in wanted]
    if kind == "hull":
        rows.append((named("all_up_mass").label, document.all_up_mass))
    said = [(label, _typed(value, tongue)) for label, value in rows if value is not None]
    return [(label, words) for label, words in said if words.lower() not in ("unknown", "not known", "not said", "")]


def _settings(document: SetupDocument, tongue: Tongue) -> list[tuple[str, str]]:
    rows = [(named(path).label, getattr(document.hull, path.partition(".")[2], None)) for path in _KNOBS]
    return [(label, _typed(value, tongue)) for label, value in rows if value is not None]


def _forecast(found: ForecastOut, t: Tongue) -> list[tuple[str, str]]:
    point = found.point
    said = (
        ("Rpm, loaded", point.rpm.value, t.rpm),
        ("Pack current", point.current_a.value, t.current),
        ("Electrical power", point.electrical_power_w.value, t.power),
        ("Pack under load", point.pack_voltage_v.value, t.voltage),
        ("Slip", point.slip.value, t.part),
        ("Thrust", point.thrust_n.value, t.force),
    )
    return [(label, words(value)) for label, value, words in said if value is not None]


def _limits(found: ForecastOut, t: Tongue) -> list[tuple[str, str]]:
    return [
        (m.title, f"{load(m.key, m.load, t)} {'of' if m.rising else 'over'} {load(m.key, m.limit, t)}"
                  + ("" if m.verdict is Verdict.HOLDS else f", {ENDS[m.verdict]}"))
        for m in found.margins
    ]  # fmt: skip


def _runs(store: Store, boat_id: int, t: Tongue) -> list[tuple[str, str]]:
    page = run.runs(store, boat_id, limit=RUNS)
    return [
        (f"{_day(one.started_at)}, {one.setup_name}"[:44], t.speed(one.best_mps, 1) if one.best_mps else "no speed")
        for one in page.items
    ]


def picture(store: Store, run_id: int, tongue: Tongue = METRIC, *, shape: bool = False) -> bytes:
    """A run as a PNG: speed over time, its best; the track's shape only where it is wanted, its place never.

    Raises
    ------
    NotFound : no such run, or it has no track.
    """
    with store.transaction() as session:
        row = run_of(session, run_id, racer_of(session))
        if row.track is None:
            raise NotFound("track of run", run_id)
        block, boat_id, started, best = row.track.block, row.boat_id, row.started_at, row.best_mps
        setup = row.setup.name
        boat = owned(session, Boat, boat_id, racer_of(session)).name
    found = analysed(block)
    track = found.track
    factor = number_in(1.0, tongue.unit(Dimension.SPEED), Dimension.SPEED)
    return write_picture(
        RunPicture(
            title=boat,
            under=f"{setup}, {_day(started)}",
            headline=tongue.speed(best, 1) if best and math.isfinite(best) else "",
            unit=tongue.unit(Dimension.SPEED),
            time_s=np.asarray(track.time_s),
            speed=np.asarray(track.speed_mps) * factor,
            passes=[_part_of(track.time_s, one.start_s, one.end_s) for one in found.passes],
            shape=np.column_stack([track.east_m, track.north_m]) if shape else None,
        )
    )


def _part_of(time_s: Any, start_s: float, end_s: float) -> tuple[int, int]:
    return int(np.searchsorted(time_s, start_s)), int(np.searchsorted(time_s, end_s, "right")) - 1
