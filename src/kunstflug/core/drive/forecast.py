"""The forecast of a setup: operating point, band, margins, curves and caveats."""

from dataclasses import dataclass
from typing import Any, Final

import numpy as np

from kunstflug.core.drive import MODEL_VERSION, nearest
from kunstflug.core.drive.curves import SpeedCurves, curve_of, percentiles, speed_curves
from kunstflug.core.drive.limits import KEYS, LOADS, RISING, WALLS, Limit, LimitKey, limits_of
from kunstflug.core.drive.point import NAMES as RESULTS
from kunstflug.core.drive.point import OperatingPoint, solve
from kunstflug.core.drive.rows import DriveValues, Rows
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.drive.values import drive_values, known_of
from kunstflug.core.drive.verdict import ORDER, Assessment, LimitTable, Verdict, held, judge, worst
from kunstflug.core.laws.cell import FULL_CELL_V, NOMINAL_CELL_V
from kunstflug.core.laws.resistance import PLANING_FROUDE
from kunstflug.core.parts import controller, hull, pack
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.value import Array, Value
from kunstflug.core.setup.doubts import Doubt, doubts_of
from kunstflug.core.setup.setup import Setup

SAMPLES: Final = 128
CURVE_SAMPLES: Final = 32  # of them, how many make the band of the curves: it is only drawn
SEED: Final = 201  # any fixed number: the same setup must always show the same band
HEADLINES: Final = ("speed_mps", "current_a", "rpm", "electrical_power_w", "thrust_n", "motor_efficiency")
"""Results whose band is taken apart by its causes."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Margin:
    """One load against its limit.

    Parameters
    ----------
    load : in the core's unit.
    use : load over limit [1], above 1 where it does not hold.
    at_risk : use that the band passes with the chance that the schools take [1]; as ``use`` without a band.
    chance : part of the band that passes the limit [1].
    """

    limit: Limit
    load: float
    use: float
    at_risk: float
    verdict: Verdict
    chance: float

    @property
    def key(self) -> LimitKey:
        """Which limit."""
        return self.limit.key

    @property
    def rising(self) -> bool:
        """Whether more is worse."""
        return self.limit.key in RISING


@dataclass(frozen=True, slots=True, kw_only=True)
class Guess:
    """One guess of the forecast and how much it widens the band.

    Parameters
    ----------
    shares : part of the variance of each of ``HEADLINES`` that it explains [1]: squared correlation of the samples'
        ranks, so that the few draws that stay below the hump do not drown the rest.
    """

    parameter: str
    value: Value
    shares: dict[str, float]

    @property
    def share(self) -> float:
        """Its part of the variance of the speed [1]."""
        return self.shares[HEADLINES[0]]


@dataclass(frozen=True, slots=True, kw_only=True)
class Forecast:
    """What a setup will do at steady full throttle.

    Parameters
    ----------
    point : the nominal operating point.
    low, high : the 80 % band of every field of the point.
    chance : part of the band that passes any limit [1]; with more than the schools' risk nothing *holds*.
    refusal : why it does not run; None where it does.
    """

    model_version: str
    point: OperatingPoint
    low: OperatingPoint
    high: OperatingPoint
    margins: tuple[Margin, ...]
    chance: float
    verdict: Verdict
    refusal: Fact | None
    remedies: tuple[nearest.Remedy, ...]
    curves: SpeedCurves
    guesses: tuple[Guess, ...]
    values: DriveValues
    doubts: tuple[Doubt, ...]
    caveats: tuple[Fact, ...]

    @property
    def runs(self) -> bool:
        """Whether there is a working operating point."""
        return self.refusal is None

    @property
    def tightest(self) -> Margin:
        """The margin that is used most."""
        return max(self.margins, key=lambda m: m.use)


def forecast(
    setup: Setup, samples: int = SAMPLES, schools: Schools = USUAL, *, explained: bool = True, drawn: bool = True
) -> Forecast:
    """Forecast of a setup with its 80 % band.

    Parameters
    ----------
    samples : how many draws make the band; 0 gives no band.
    schools : which limits the margins are held against.
    explained : with guesses, doubts and caveats; without them it is the same forecast, sooner.
    drawn : with thrust and resistance against the speed; else for the nominal drive alone.
    """
    values, curve = drive_values(setup), curve_of(setup)
    rows = values.rows(samples, SEED, known_of(setup))
    points = solve(rows, (curve,))
    point = points.case(0)
    low, high = _band(points)
    limits = limits_of(setup, schools)
    judged = judge(points, LimitTable.of((limits,)))
    found, chance = _margins(points, limits, judged, schools.risk), _chance_of_any(judged)
    refusal = nearest.refusal(point)
    return Forecast(
        model_version=MODEL_VERSION,
        point=point,
        low=low,
        high=high,
        margins=found,
        chance=chance,
        verdict=Verdict.NONE if refusal else held(worst([m.verdict for m in found]), chance, schools.risk),
        refusal=refusal,
        remedies=nearest.remedies(setup) if refusal else (),
        curves=speed_curves(rows[: 1 + CURVE_SAMPLES if drawn else 1], curve, float(point.speed_mps)),
        guesses=_guesses(values, rows, points) if explained else (),
        values=values,
        doubts=doubts_of(setup) if explained else (),
        caveats=(*curve.caveats, *_caveats(setup, point)) if explained else (),
    )


def _chance_of_any(judged: Assessment) -> float:
    """Part of the band, all but the first drive, that passes any limit [1]."""
    band = judged.uses[:, 1:]
    return float(np.mean(np.any(band > 1, axis=0))) if band.size else 0.0


def doubts_of_uses(setup: Setup, schools: Schools, samples: int = SAMPLES) -> Array:
    """By how much more of each limit a setup may use than is likeliest, at the risk that is taken; shape (K, 1) [1].

    Drives near a setup share its doubts: a search of a million judges by them, and what it shows is forecast in full.
    """
    rows = drive_values(setup).rows(samples, SEED, known_of(setup))
    uses = judge(solve(rows, (curve_of(setup),)), LimitTable.of((limits_of(setup, schools),))).uses
    with np.errstate(divide="ignore", invalid="ignore"):
        found: Array = np.nanquantile(uses[:, 1:], 1.0 - schools.risk, axis=1) / uses[:, 0]
    return np.where(np.isfinite(found), found, 1.0)[:, np.newaxis]


def _margins(points: OperatingPoint, limits: tuple[Limit, ...], judged: Assessment, risk: float) -> tuple[Margin, ...]:
    """The nominal loads, the first of the points, against their limits; the rest are the band."""
    found = []
    for k, (key, limit) in enumerate(zip(KEYS, limits, strict=True)):
        if not limit.exists or (key in WALLS and judged.uses[k, 0] == 0.0):
            continue
        load, use = float(np.atleast_1d(getattr(points, LOADS[key]))[0]), float(judged.uses[k, 0])
        band = judged.uses[k, 1:]
        chance = float(np.mean(band > 1)) if band.size else 0.0
        at_risk = float(np.nanquantile(band, 1.0 - risk)) if np.isfinite(band).any() else use
        verdict = held(ORDER[int(judged.grades[k, 0])], chance, risk)
        found.append(Margin(limit=limit, load=load, use=use, at_risk=at_risk, verdict=verdict, chance=chance))
    return tuple(found)


def _band(points: OperatingPoint) -> tuple[OperatingPoint, OperatingPoint]:
    """10th and 90th percentile of every field over the draws (NaN where none is finite)."""
    table = np.stack([np.asarray(getattr(points, name)) for name in RESULTS])  # (fields, cases)
    band = table[:, 1:] if table.shape[1] > 1 else table
    band = band[:, np.isfinite(band).all(axis=0)]
    low, high = percentiles(band.T) if band.size else np.full((2, len(RESULTS)), np.nan)
    return _point(low), _point(high)


def _point(column: Array) -> OperatingPoint:
    fields: dict[str, Any] = dict(zip(RESULTS, column.tolist(), strict=True))
    return OperatingPoint(**fields)


def _guesses(values: DriveValues, rows: Rows, points: OperatingPoint) -> tuple[Guess, ...]:
    """Every uncertain parameter by how much of the speed's variance it explains, the other headlines beside it."""
    effects = np.stack([np.asarray(getattr(points, name)) for name in HEADLINES])
    if effects.shape[1] < 20:
        none = dict.fromkeys(HEADLINES, 0.0)
        return tuple(Guess(parameter=n, value=v, shares=none) for n, v in values if v.guessed)
    good = np.all(np.isfinite(effects) & (effects > 0), axis=0)
    good[0] = False  # the nominal case is no draw
    uncertain = [(name, value) for name, value in values if value.spread]
    # Absolute: a rake that presses the stern down is a negative number.
    causes = ranks(np.abs([rows[name][good] for name, _ in uncertain]))
    with np.errstate(invalid="ignore", divide="ignore"):
        table = np.corrcoef(causes, ranks(effects[:, good]))[: len(uncertain), len(uncertain) :] ** 2
    table = np.nan_to_num(table)
    found = [
        Guess(parameter=n, value=v, shares=dict(zip(HEADLINES, row.tolist(), strict=True)))
        for (n, v), row in zip(uncertain, table, strict=True)
    ]
    return tuple(sorted(found, key=lambda g: -g.share))


def ranks(rows: Array) -> Array:
    """Rank of each number in its row, from 0; shape (rows, columns)."""
    found: Array = np.argsort(np.argsort(rows, axis=1), axis=1).astype(np.float64)
    return found


MOST_SLIP: Final = 0.5
MOST_FROUDE: Final = 30.0
SHOCK_V: Final = 60.0
LINEAR_CELLS: Final = 4


@dataclass(frozen=True, slots=True, kw_only=True)
class MuchSlip(Fact):
    """A surface propeller slips more than its model is meant for."""

    slip: float
    most: float


@dataclass(frozen=True, slots=True, kw_only=True)
class VeryFast(Fact):
    """So fast that lift of the air counts, which is not computed."""

    volume_froude: float


@dataclass(frozen=True, slots=True, kw_only=True)
class NotPlaning(Fact):
    """Below planing the drag is a rough guess."""

    volume_froude: float


@dataclass(frozen=True, slots=True, kw_only=True)
class HighVoltage(Fact):
    """A voltage that is a shock hazard."""

    voltage_v: float
    limit_v: float


@dataclass(frozen=True, slots=True, kw_only=True)
class LinearSupplyBurns(Fact):
    """A linear supply burns what it takes off many cells."""

    cells: int
    heat_w: float


@dataclass(frozen=True, slots=True, kw_only=True)
class MayHang(Fact):
    """Thrust has so little over the resistance on the way that gust and trim decide; the chance to get past it."""

    chance: float


@dataclass(frozen=True, slots=True, kw_only=True)
class RunsDenyLaws(Fact):
    """The runs of the boat agree among themselves and not with the laws: the forecast stands on the runs."""


BALANCED: Final = 0.005  # of the resistance, within which thrust equals it


def _caveats(setup: Setup, point: OperatingPoint) -> tuple[Fact, ...]:
    """Where a law is used outside what it covers, or a part outside what it is for."""
    found: list[Fact] = []
    cells, slip, froude = pack.series_cells(setup.pack), float(point.slip), float(point.volume_froude)
    if setup.hull.drive is hull.Drive.SURFACE and slip > MOST_SLIP:
        found.append(MuchSlip(slip=slip, most=MOST_SLIP))
    if froude > MOST_FROUDE:
        found.append(VeryFast(volume_froude=froude))
    if froude < PLANING_FROUDE:
        found.append(NotPlaning(volume_froude=froude))
    elif abs(float(point.thrust_n) / float(point.resistance_n) - 1.0) > BALANCED:
        found.append(MayHang(chance=float(point.planes)))
    if setup.knowledge is not None and setup.knowledge.denied:
        found.append(RunsDenyLaws())
    if cells * FULL_CELL_V > SHOCK_V:
        found.append(HighVoltage(voltage_v=cells * FULL_CELL_V, limit_v=SHOCK_V))
    if setup.controller.supply is controller.Supply.LINEAR and cells > LINEAR_CELLS:
        heat = controller.receiver_load(setup.controller, NOMINAL_CELL_V * cells).heat_w
        found.append(LinearSupplyBurns(cells=cells, heat_w=heat))
    return tuple(found)


def nominal_free_rpm(setup: Setup) -> float:
    """Free rpm the way racers work it out: KV x 3.7 V a cell [rpm] (common practice, no source)."""
    return setup.motor.kv_rpm_per_v.value * NOMINAL_CELL_V * pack.series_cells(setup.pack)
