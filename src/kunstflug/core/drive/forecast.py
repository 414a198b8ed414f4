"""The forecast of a setup: operating point, band, margins, curves and caveats."""

import dataclasses
from dataclasses import dataclass

import numpy as np
import numpy.typing as npt

from kunstflug.core import controller, hull, pack
from kunstflug.core.drive import MODEL_VERSION, nearest
from kunstflug.core.drive.doubts import Doubt, doubts_of
from kunstflug.core.drive.operating_point import (
    OperatingPoint,
    hull_resistance_n,
    operating_point,
    state_at_advance,
)
from kunstflug.core.drive.parameters import DriveParameters, DriveValues, drive_values
from kunstflug.core.drive.schools import USUAL, Schools
from kunstflug.core.drive.setup import Setup
from kunstflug.core.drive.verdict import Margin, Verdict, margins, worst
from kunstflug.core.propeller import OpenWaterCurve, jet_curve, open_water_curve
from kunstflug.core.propeller import part as propeller
from kunstflug.core.values import Source, Value

SAMPLES = 128
CURVE_SAMPLES = 32  # of them, how many make the band of the curves: it is only drawn
SEED = 201  # any fixed number: the same setup must always show the same band
BAND = (10.0, 90.0)  # percentiles of the 80 % band


HEADLINES = ("speed_mps", "current_a", "rpm", "electrical_power_w", "thrust_n", "motor_efficiency")
"""Results whose band is taken apart by its causes."""


@dataclass(frozen=True, slots=True, kw_only=True)
class Curves:
    """Thrust and resistance against speed, each with its 80 % band; all arrays of shape (G,)."""

    speed_mps: npt.NDArray[np.float64]
    thrust_n: npt.NDArray[np.float64]
    thrust_low_n: npt.NDArray[np.float64]
    thrust_high_n: npt.NDArray[np.float64]
    resistance_n: npt.NDArray[np.float64]
    resistance_low_n: npt.NDArray[np.float64]
    resistance_high_n: npt.NDArray[np.float64]


@dataclass(frozen=True, slots=True, kw_only=True)
class Guess:
    """One guess of the forecast and how much it widens the band.

    Parameters
    ----------
    shares : part of the variance of each of ``HEADLINES`` that it explains [1]: squared correlation of the samples'
        logarithms.
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
    """

    model_version: str
    point: OperatingPoint
    low: OperatingPoint
    high: OperatingPoint
    margins: tuple[Margin, ...]
    verdict: Verdict
    runs: bool
    refusal: str
    remedies: tuple[nearest.Remedy, ...]
    curves: Curves
    guesses: tuple[Guess, ...]
    values: DriveValues
    doubts: tuple[Doubt, ...]
    caveats: tuple[str, ...]


def curve_of(setup: Setup) -> OpenWaterCurve:
    """Open-water curve of a setup's propeller in the regime it runs in."""
    return curve_for(setup, propeller.pitch(setup.propeller).value / setup.propeller.diameter_m.value)


def curve_for(setup: Setup, pitch_ratio: float) -> OpenWaterCurve:
    """The same for another pitch ratio of the same propeller."""
    if setup.hull.drive is hull.Drive.JET:
        return jet_curve(pitch_ratio)
    area, surface = propeller.area_ratio(setup.propeller).value, setup.hull.drive is hull.Drive.SURFACE
    return open_water_curve(pitch_ratio, setup.propeller.blades, area, ventilated=surface)


def forecast(setup: Setup, samples: int = SAMPLES, schools: Schools = USUAL) -> Forecast:
    """Forecast of a setup with its 80 % band.

    Parameters
    ----------
    samples : how many draws make the band; 0 gives no band.
    schools : which limits the margins are held against.
    """
    values = drive_values(setup)
    curve = curve_of(setup)
    drawn = _with_nominal(values, samples)
    points = operating_point(drawn, curve)
    point, low, high = _nominal_and_band(points)
    found = margins(setup, points, schools)
    refusal = nearest.refusal(setup, point)
    return Forecast(
        model_version=MODEL_VERSION,
        point=point,
        low=low,
        high=high,
        margins=found,
        verdict=Verdict.STOP if refusal else worst(found),
        runs=not refusal,
        refusal=refusal,
        remedies=nearest.remedies(setup, values.nominal(), curve) if refusal else (),
        curves=_curves(_first(drawn, 1 + CURVE_SAMPLES), curve, float(point.speed_mps)),
        guesses=_guesses(values, drawn, points),
        values=values,
        doubts=doubts_of(setup),
        caveats=(*curve.caveats, *_caveats(setup, point)),
    )


def _with_nominal(values: DriveValues, samples: int) -> DriveParameters:
    """Columns of shape (1 + samples, 1): the nominal parameters first, then the draws."""
    nominal, drawn = values.nominal(), values.sampled(samples, SEED)
    columns = {}
    for name, value in values:
        if value.spread:
            columns[name] = np.vstack([[[getattr(nominal, name)]], np.asarray(getattr(drawn, name))])
        else:
            columns[name] = np.full((1 + samples, 1), value.value)
    return DriveParameters(**columns)


def _first(drawn: DriveParameters, count: int) -> DriveParameters:
    return DriveParameters(**{f.name: np.asarray(getattr(drawn, f.name))[:count] for f in dataclasses.fields(drawn)})


def _nominal_and_band(points: OperatingPoint) -> tuple[OperatingPoint, OperatingPoint, OperatingPoint]:
    """First case of every field, then the 10th and 90th percentile of the others (NaN where none is finite)."""
    names = [f.name for f in dataclasses.fields(points)]
    table = np.stack([np.atleast_1d(getattr(points, name)) for name in names])  # (fields, cases)
    band = table[:, 1:] if table.shape[1] > 1 else table
    band = band[:, np.isfinite(band).all(axis=0)]
    low, high = percentiles(band.T) if band.size else np.full((2, len(names)), np.nan)
    first, lower, upper = (
        OperatingPoint(**dict(zip(names, column.tolist(), strict=True))) for column in (table[:, 0], low, high)
    )
    return first, lower, upper


def _curves(drawn: DriveParameters, curve: OpenWaterCurve, speed_mps: float) -> Curves:
    """Thrust and resistance against speed, to a quarter past the crossing."""
    reach = 1.3 * speed_mps if np.isfinite(speed_mps) else 10.0
    speed = np.linspace(0.0, max(reach, 2.0), 60)
    j = np.linspace(0.0, 1.0, 48) * curve.j_end * np.asarray(drawn.pitch_factor)
    state = state_at_advance(drawn, curve, j)
    at_j = np.broadcast_to(state.speed_mps, np.shape(state.thrust_n))
    at_speed = zip(at_j, np.asarray(state.thrust_n), strict=True)
    thrust = np.array([np.interp(speed, v, t, right=np.nan) for v, t in at_speed])
    resistance = np.asarray(hull_resistance_n(drawn, speed))
    band = slice(1, None) if len(thrust) > 1 else slice(None)
    with np.errstate(all="ignore"):
        low, high = _bands(thrust[band])
        low_r, high_r = _bands(resistance[band])
    return Curves(
        speed_mps=speed,
        thrust_n=thrust[0],
        thrust_low_n=low,
        thrust_high_n=high,
        resistance_n=resistance[0],
        resistance_low_n=low_r,
        resistance_high_n=high_r,
    )


def percentiles(rows: npt.NDArray[np.float64]) -> npt.NDArray[np.float64]:
    """10th and 90th percentile of each column, linear between neighbours as numpy's; shape (2, columns).

    Sorting a few hundred rows is four times faster than numpy's own way, which a pulled slider feels.
    """
    ordered = np.sort(rows, axis=0)
    at = np.array(BAND) / 100.0 * (len(ordered) - 1)
    below = np.floor(at).astype(int)
    above = np.minimum(below + 1, len(ordered) - 1)
    part = (at - below)[:, np.newaxis]
    found: npt.NDArray[np.float64] = ordered[below] * (1 - part) + ordered[above] * part
    return found


def _bands(rows: npt.NDArray[np.float64]) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.float64]]:
    """10th and 90th percentile of each column; a sample past its zero thrust counts as none."""
    low, high = percentiles(np.nan_to_num(rows, nan=0.0))
    return low, high


def _guesses(values: DriveValues, drawn: DriveParameters, points: OperatingPoint) -> tuple[Guess, ...]:
    """Every uncertain parameter by how much of the speed's variance it explains, the other headlines beside it."""
    effects = np.stack([np.atleast_1d(np.asarray(getattr(points, name))) for name in HEADLINES])
    if effects.shape[1] < 20:
        none = dict.fromkeys(HEADLINES, 0.0)
        return tuple(Guess(parameter=n, value=v, shares=none) for n, v in values if v.source is Source.GUESSED)
    good = np.all(np.isfinite(effects) & (effects > 0), axis=0)
    good[0] = False  # the nominal case is no draw
    uncertain = [(name, value) for name, value in values if value.spread]
    # Absolute: a rake that presses the stern down is a negative number.
    causes = np.log(np.abs([np.asarray(getattr(drawn, name)).reshape(-1)[good] for name, _ in uncertain]))
    with np.errstate(invalid="ignore", divide="ignore"):
        table = np.corrcoef(causes, np.log(effects[:, good]))[: len(uncertain), len(uncertain) :] ** 2
    table = np.nan_to_num(table)
    found = [
        Guess(parameter=n, value=v, shares=dict(zip(HEADLINES, row.tolist(), strict=True)))
        for (n, v), row in zip(uncertain, table, strict=True)
    ]
    return tuple(sorted(found, key=lambda g: -g.share))


def _caveats(setup: Setup, point: OperatingPoint) -> tuple[str, ...]:
    """Where a law is used outside what it covers."""
    found = []
    cells = pack.series_cells(setup.pack)
    if setup.hull.drive is hull.Drive.SURFACE and point.slip > 0.5:
        found.append(f"surface propeller: slip {point.slip:.0%}, the ventilated model is meant for less than 50 %")
    if point.volume_froude > 30:
        found.append(f"hull drag: volume Froude {point.volume_froude:.0f}, aerodynamic lift is not computed")
    if point.volume_froude < hull.PLANING_FROUDE:
        found.append(f"hull drag: volume Froude {point.volume_froude:.1f}, below planing the drag is a rough guess")
    if setup.controller.max_cells is not None and cells > setup.controller.max_cells:
        found.append(f"{cells} cells on a controller printed for {setup.controller.max_cells}: do not connect it")
    if cells * 4.2 > 60:
        found.append("over 60 V: shock hazard and arcs; this is work for licensed practice")
    if setup.controller.supply is controller.Supply.LINEAR and cells > 4:
        found.append(
            f"a linear BEC on {cells} cells burns {controller.receiver_load(setup.controller, 3.7 * cells)[1]:.0f} W"
        )
    return tuple(found)


def nominal_free_rpm(setup: Setup) -> float:
    """Free rpm the way racers reckon it: KV x 3.7 V a cell (common practice, no source)."""
    return setup.motor.kv_rpm_per_v.value * pack.NOMINAL_CELL_V * pack.series_cells(setup.pack)
