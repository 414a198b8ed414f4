"""The open-water curve of a setup, and thrust and resistance against speed with their bands."""

from dataclasses import dataclass
from typing import Final

import numpy as np

from kunstflug.core.drive.point import resistance_n, states
from kunstflug.core.drive.rows import Rows
from kunstflug.core.parts import hull
from kunstflug.core.parts import propeller as propellers
from kunstflug.core.propeller import OpenWaterCurve, jet_curve, open_water_curve
from kunstflug.core.quantity.value import Array
from kunstflug.core.setup.setup import Setup

BAND: Final = (10.0, 90.0)  # percentiles of the 80 % band
_SPEEDS: Final = 60
_ADVANCES: Final = 48


def curve_of(setup: Setup) -> OpenWaterCurve:
    """Open-water curve of a setup's propeller in the regime it runs in."""
    return curve_for(setup, propellers.pitch_ratio(setup.propeller))


def curve_for(setup: Setup, pitch_ratio: float) -> OpenWaterCurve:
    """The same for another pitch ratio of the same propeller."""
    if setup.hull.drive is hull.Drive.JET:
        return jet_curve(pitch_ratio)
    area, surface = propellers.area_ratio(setup.propeller).value, setup.hull.drive is hull.Drive.SURFACE
    return open_water_curve(pitch_ratio, setup.propeller.blades, area, ventilated=surface)


@dataclass(frozen=True, slots=True, kw_only=True)
class SpeedCurves:
    """Thrust and resistance against speed, each with its 80 % band; all arrays of shape (G,)."""

    speed_mps: Array
    thrust_n: Array
    thrust_low_n: Array
    thrust_high_n: Array
    resistance_n: Array
    resistance_low_n: Array
    resistance_high_n: Array


def speed_curves(rows: Rows, curve: OpenWaterCurve, speed_mps: float) -> SpeedCurves:
    """Thrust and resistance to a third past a speed.

    Parameters
    ----------
    rows : the nominal drive, then the band's draws.
    """
    reach = 1.3 * speed_mps if np.isfinite(speed_mps) else 10.0
    speed = np.linspace(0.0, max(reach, 2.0), _SPEEDS)
    j = np.linspace(0.0, 1.0, _ADVANCES) * curve.j_end * rows["pitch_factor"][:, np.newaxis]
    state = states(rows, curve, rows["full_throttle"], j)
    pairs = zip(state.speed_mps, state.thrust_n, strict=True)
    thrust = np.array([np.interp(speed, v, t, right=np.nan) for v, t in pairs])
    resistance = resistance_n(rows, speed)
    band = slice(1, None) if len(thrust) > 1 else slice(None)
    low, high = percentiles(np.nan_to_num(thrust[band], nan=0.0))  # past its zero thrust a draw counts as none
    low_r, high_r = percentiles(resistance[band])
    return SpeedCurves(
        speed_mps=speed,
        thrust_n=thrust[0],
        thrust_low_n=low,
        thrust_high_n=high,
        resistance_n=resistance[0],
        resistance_low_n=low_r,
        resistance_high_n=high_r,
    )


def percentiles(rows: Array) -> Array:
    """10th and 90th percentile of each column, linear between neighbours as numpy's; shape (2, columns).

    Sorting a few hundred rows is four times faster than numpy's own way, which a pulled slider feels.
    """
    ordered = np.sort(rows, axis=0)
    at = np.array(BAND) / 100.0 * (len(ordered) - 1)
    below = np.floor(at).astype(int)
    above = np.minimum(below + 1, len(ordered) - 1)
    part = (at - below)[:, np.newaxis]
    found: Array = ordered[below] * (1 - part) + ordered[above] * part
    return found
