"""The open-water curve KT(J), KQ(J) of one propeller, in the regime it runs in.

Two regimes and a smooth seam, see ``seam``. *Ventilated*: each section a flat plate with a cavity behind it, only the
immersed part of the turn pushes. *Wetted*: Wageningen B-series where in its range; outside it the blade-element ratio
carries the nearest propeller inside the range over to the wanted one, so that this seam is smooth by construction too.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
import numpy.typing as npt
from scipy.interpolate import CubicSpline

from kunstflug.core.propeller import b_series
from kunstflug.core.propeller.blade import section_integrals
from kunstflug.core.propeller.seam import wetness
from kunstflug.core.values import Floats

_POINTS = 64


@dataclass(frozen=True, slots=True, kw_only=True)
class OpenWaterCurve:
    """KT and KQ of the ventilated force, apart of a friction coefficient of 1, and of the wetted propeller.

    A surface drive's blades follow ``(1 - w) area immersed (K_force + friction K_friction) + w immersed K_wetted`` with
    the share w of :mod:`seam`; a submerged propeller or an impeller is always ``area K_wetted``, its area being 1 with
    the spread of the series.
    """

    j: npt.NDArray[np.float64]  # (G,) uniform from 0
    spline: CubicSpline  # (G, 6): kt, kq of the force, kt, kq of friction, kt, kq when wetted
    pitch_ratio: float
    ventilated: bool
    caveats: tuple[str, ...]

    def coefficients(self, j: Floats, area: Floats, immersed: Floats, friction: Floats) -> tuple[Floats, Floats]:
        """KT, KQ [1] at advance coefficients j; j beyond the grid is extrapolated by the last cubic.

        Parameters
        ----------
        area : blade area ratio of a ventilated propeller, 1 of a wetted one [1].
        immersed : part of the turn in the water [1]; not used by one that is always wetted.
        friction : face friction and edge drag [1].
        """
        k = self.spline(j)
        if not self.ventilated:
            return area * k[..., 4], area * k[..., 5]
        wet = wetness(immersed, 1.0 - j / self.pitch_ratio)
        dry = (1.0 - wet) * area
        return (
            immersed * (dry * (k[..., 0] + friction * k[..., 2]) + wet * k[..., 4]),
            immersed * (dry * (k[..., 1] + friction * k[..., 3]) + wet * k[..., 5]),
        )

    @property
    def seam_pitch(self) -> float:
        """Pitch ratio by which the seam is found [1]; 0 for a propeller that is always wetted."""
        return self.pitch_ratio if self.ventilated else 0.0

    @property
    def cubics(self) -> npt.NDArray[np.float64]:
        """Coefficients of the cubics, shape (4, G - 1, 6): power, interval, column; contiguous."""
        return np.ascontiguousarray(self.spline.c)

    @property
    def step(self) -> float:
        """Step of the grid in J."""
        return float(self.j[1] - self.j[0])

    @property
    def j_end(self) -> float:
        """Last advance coefficient of the grid, a little past zero thrust."""
        return float(self.j[-1])


@lru_cache(maxsize=512)  # a slider asks for the same propeller at every step of the others
def open_water_curve(pitch_ratio: float, blades: int, area_ratio: float, *, ventilated: bool) -> OpenWaterCurve:
    """Curve of a propeller.

    Parameters
    ----------
    pitch_ratio : P / D [1], 0.5 to 2.2.
    blades : number of blades.
    area_ratio : AE / A0 [1]; only the wetted law depends on it (the ventilated one is scaled by the area).
    ventilated : surface running if true, fully wetted if false.
    """
    # A wetted section at zero thrust stands a little past J = P/D, see the B-series' J at KT = 0.
    j = np.linspace(0.0, pitch_ratio * (1.04 if ventilated else 1.16), _POINTS)
    kt, kq, caveats = _wetted(j, pitch_ratio, blades, area_ratio)
    dry = section_integrals(j, pitch_ratio, cavity=True) if ventilated else (np.zeros_like(j),) * 4
    return OpenWaterCurve(
        j=j,
        spline=CubicSpline(j, np.stack([*dry, kt, kq], axis=-1)),
        pitch_ratio=pitch_ratio,
        ventilated=ventilated,
        # A surface drive passes through the wetted law on its way up only: its range says nothing of where it runs.
        caveats=() if ventilated else tuple(caveats),
    )


def _wetted(
    j: npt.NDArray[np.float64], pitch_ratio: float, blades: int, area_ratio: float
) -> tuple[npt.NDArray[np.float64], npt.NDArray[np.float64], list[str]]:
    """KT, KQ of the B-series, carried over by the blade-element ratio outside its pitch range."""
    caveats: list[str] = []
    anchor = float(np.clip(pitch_ratio, *b_series.PITCH_RATIO_RANGE))
    area = float(np.clip(area_ratio, *b_series.AREA_RATIO_RANGE))
    # Same position along the curve, J over P/D, so that both propellers work at the same slip.
    j_anchor = j * anchor / pitch_ratio
    kt, kq = b_series.b_series_coefficients(j_anchor, anchor, area, blades)
    if anchor != pitch_ratio:
        low, high = b_series.PITCH_RATIO_RANGE
        caveats.append(f"wetted propeller: pitch ratio {pitch_ratio:.2f}, the B-series covers {low} to {high}")
        factor_t, factor_q = _blade_element_ratio(pitch_ratio, anchor)
        kt, kq = kt * factor_t, kq * factor_q
    if area != area_ratio:
        low, high = b_series.AREA_RATIO_RANGE
        caveats.append(f"wetted propeller: blade area ratio {area_ratio:.2f}, the B-series covers {low} to {high}")
    return np.asarray(kt), np.asarray(kq), caveats


def _blade_element_ratio(pitch_ratio: float, anchor: float) -> tuple[float, float]:
    """Thrust and torque of one pitch ratio over those of another at 20 % slip; 1 where the two are equal."""
    slip = 0.2
    kt, kq, _, _ = section_integrals(np.array([pitch_ratio * (1 - slip)]), pitch_ratio, cavity=False)
    kt_anchor, kq_anchor, _, _ = section_integrals(np.array([anchor * (1 - slip)]), anchor, cavity=False)
    return float(kt[0] / kt_anchor[0]), float(kq[0] / kq_anchor[0])
