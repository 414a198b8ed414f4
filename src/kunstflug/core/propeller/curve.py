"""The open-water curve KT(J), KQ(J) of one propeller, in the regime it runs in.

Two regimes and a smooth seam, see ``seam``. *Ventilated*: each section a flat plate with a cavity behind it, only the
immersed part of the turn pushes. *Wetted*: Wageningen B-series where in its range; outside it the blade-element ratio
carries the nearest propeller inside the range over to the wanted one, so that this seam is smooth by construction too.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

import numpy as np

from kunstflug.core.laws.jit import jitable, kept
from kunstflug.core.propeller import b_series
from kunstflug.core.propeller.blade import section_integrals
from kunstflug.core.propeller.seam import water_part, wetness
from kunstflug.core.quantity.facts import Fact
from kunstflug.core.quantity.value import Array, Floats

_POINTS = 76
PAST_PITCH: Final = 1.25  # the B-series has KT = 0 at up to 1.22 of the pitch ratio (3 blades, P/D 0.5, AE/A0 0.3)


@dataclass(frozen=True, slots=True, kw_only=True)
class BeyondSeries(Fact):
    """A wetted propeller outside the range of the series; ``ratio`` is pitch over diameter or blade area ratio."""

    of_pitch: bool
    ratio: float
    low: float
    high: float


@dataclass(frozen=True, slots=True, kw_only=True)
class OpenWaterCurve:
    """KT and KQ of the ventilated force, apart of a friction coefficient of 1, and of the wetted propeller.

    A surface drive's blades follow ``(1 - w) area water immersed (K_force + friction K_friction) + w immersed K_wet``
    with the share w and the part of water of :mod:`seam`; a submerged propeller or an impeller is always
    ``area water K_wet``, its area being 1 with the spread of the series.

    Parameters
    ----------
    j : shape (G,), advance coefficients [1], uniform from 0.
    cubics : shape (4, G - 1, 6): power, interval, and kt, kq of the force, of friction, when wetted; contiguous.
    """

    j: Array
    cubics: Array
    pitch_ratio: float
    ventilated: bool
    caveats: tuple[Fact, ...]

    def coefficients(
        self, j: Floats, area: Floats, immersed: Floats, friction: Floats, at_rest: Floats = 1.0
    ) -> tuple[Array, Array]:
        """KT, KQ [1] at advance coefficients j; j beyond the grid is extrapolated by the last cubic.

        Parameters
        ----------
        area : blade area ratio of a ventilated propeller, 1 of a wetted one [1].
        immersed : part of the turn in the water [1]; not used by one that is always wetted.
        friction : face friction and edge drag [1].
        at_rest : part of water that a propeller held at rest works in [1].
        """
        given = (j, area, immersed, friction, at_rest)
        columns = np.broadcast_arrays(*(np.asarray(a, dtype=np.float64) for a in given))
        shape = columns[0].shape
        flat = (np.ascontiguousarray(c).reshape(-1) for c in columns)
        kt, kq = _coefficients(self.cubics, self.step, self.seam_pitch, *flat)
        return kt.reshape(shape), kq.reshape(shape)

    @property
    def seam_pitch(self) -> float:
        """Pitch ratio by which slip and seam are found [1]; negative for a propeller that is always wetted."""
        return self.pitch_ratio if self.ventilated else -self.pitch_ratio

    @property
    def step(self) -> float:
        """Step of the grid in J."""
        return float(self.j[1] - self.j[0])

    @property
    def j_end(self) -> float:
        """Last advance coefficient of the grid, a little past zero thrust."""
        return float(self.j[-1])


@jitable
def coefficients_at(
    j: float,
    cubics: Array,
    step: float,
    seam_pitch: float,
    area: float,
    immersed: float,
    friction: float,
    at_rest: float,
) -> tuple[float, float]:
    """KT, KQ [1] at one advance coefficient; see ``OpenWaterCurve.coefficients``."""
    k = min(max(int(j / step), 0), cubics.shape[1] - 1)
    t = j - k * step
    c = cubics[:, k]
    kt_wet = ((c[0, 4] * t + c[1, 4]) * t + c[2, 4]) * t + c[3, 4]
    kq_wet = ((c[0, 5] * t + c[1, 5]) * t + c[2, 5]) * t + c[3, 5]
    water = water_part(1.0 - j / abs(seam_pitch), at_rest)
    if seam_pitch < 0.0:
        return area * water * kt_wet, area * water * kq_wet
    kt = ((c[0, 0] * t + c[1, 0]) * t + c[2, 0]) * t + c[3, 0]
    kq = ((c[0, 1] * t + c[1, 1]) * t + c[2, 1]) * t + c[3, 1]
    kt += friction * (((c[0, 2] * t + c[1, 2]) * t + c[2, 2]) * t + c[3, 2])
    kq += friction * (((c[0, 3] * t + c[1, 3]) * t + c[2, 3]) * t + c[3, 3])
    wet = wetness(immersed, 1.0 - j / seam_pitch)
    dry = (1.0 - wet) * area * water
    return immersed * (dry * kt + wet * kt_wet), immersed * (dry * kq + wet * kq_wet)


@kept
def _coefficients(
    cubics: Array,
    step: float,
    seam_pitch: float,
    j: Array,
    area: Array,
    immersed: Array,
    friction: Array,
    at_rest: Array,
) -> tuple[Array, Array]:
    kt, kq = np.empty_like(j), np.empty_like(j)
    for k in range(j.size):
        kt[k], kq[k] = coefficients_at(j[k], cubics, step, seam_pitch, area[k], immersed[k], friction[k], at_rest[k])
    return kt, kq


@dataclass(frozen=True, slots=True, kw_only=True)
class Curves:
    """Curves that many drives share, as kernels take them: shape (C, 4, G - 1, 6), (C,), (C,)."""

    cubics: Array
    steps: Array
    seam_pitches: Array

    @classmethod
    def of(cls, curves: Sequence[OpenWaterCurve]) -> "Curves":
        """Curves on grids of the same size, together."""
        cubics = np.stack([c.cubics for c in curves]) if len(curves) > 1 else curves[0].cubics[np.newaxis]
        return cls(
            cubics=cubics,
            steps=np.array([c.step for c in curves]),
            seam_pitches=np.array([c.seam_pitch for c in curves]),
        )


def cubics_of(j: Array, columns: Array) -> Array:
    """Cubics through columns of shape (G, 6) on a grid j, as ``OpenWaterCurve`` keeps them: shape (4, G - 1, 6).

    The spline whose third derivative does not jump at the second point from either end ("not a knot"; C. de Boor,
    A Practical Guide to Splines (1978), chapter IV). scipy has it, and takes half a second to load; a test holds both
    equal.
    """
    h = np.diff(j)[:, np.newaxis]
    rise = np.diff(columns, axis=0) / h
    step, n = h[:, 0], len(j)
    table, right = np.zeros((n, n)), np.zeros_like(columns, dtype=np.float64)
    inner = np.arange(1, n - 1)
    table[inner, inner - 1], table[inner, inner + 1] = step[1:], step[:-1]
    table[inner, inner] = 2.0 * (step[:-1] + step[1:])
    right[1:-1] = 3.0 * (h[1:] * rise[:-1] + h[:-1] * rise[1:])
    for end, near, far, two in ((0, 0, 1, 1), (n - 1, -1, -2, n - 2)):
        both = step[near] + step[far]
        table[end, end], table[end, two] = step[far], both
        right[end] = ((step[near] + 2.0 * both) * step[far] * rise[near] + step[near] ** 2 * rise[far]) / both
    slope = np.linalg.solve(table, right)
    bend = (slope[:-1] + slope[1:] - 2.0 * rise) / h
    return np.ascontiguousarray(np.stack([bend / h, (rise - slope[:-1]) / h - bend, slope[:-1], columns[:-1]]))


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
    # Wetted, thrust ends well past J = P/D: a deep or light surface drive may run there, too.
    j = np.linspace(0.0, pitch_ratio * PAST_PITCH, _POINTS)
    kt, kq, caveats = _wetted(j, pitch_ratio, blades, area_ratio)
    dry = section_integrals(j, pitch_ratio, cavity=True) if ventilated else (np.zeros_like(j),) * 4
    return OpenWaterCurve(
        j=j,
        cubics=cubics_of(j, np.stack([*dry, kt, kq], axis=-1)),
        pitch_ratio=pitch_ratio,
        ventilated=ventilated,
        # A surface drive passes through the wetted law on its way up only: its range says nothing of where it runs.
        caveats=() if ventilated else tuple(caveats),
    )


def _wetted(j: Array, pitch_ratio: float, blades: int, area_ratio: float) -> tuple[Array, Array, list[Fact]]:
    """KT, KQ of the B-series, carried over by the blade-element ratio outside its pitch range."""
    caveats: list[Fact] = []
    anchor = float(np.clip(pitch_ratio, *b_series.PITCH_RATIO_RANGE))
    area = float(np.clip(area_ratio, *b_series.AREA_RATIO_RANGE))
    # Same position along the curve, J over P/D, so that both propellers work at the same slip.
    j_anchor = j * anchor / pitch_ratio
    kt, kq = b_series.b_series_coefficients(j_anchor, anchor, area, blades)
    if anchor != pitch_ratio:
        low, high = b_series.PITCH_RATIO_RANGE
        caveats.append(BeyondSeries(of_pitch=True, ratio=pitch_ratio, low=low, high=high))
        factor_t, factor_q = _blade_element_ratio(pitch_ratio, anchor)
        kt, kq = kt * factor_t, kq * factor_q
    if area != area_ratio:
        low, high = b_series.AREA_RATIO_RANGE
        caveats.append(BeyondSeries(of_pitch=False, ratio=area_ratio, low=low, high=high))
    return np.asarray(kt), np.asarray(kq), caveats


def _blade_element_ratio(pitch_ratio: float, anchor: float) -> tuple[float, float]:
    """Thrust and torque of one pitch ratio over those of another at 20 % slip; 1 where the two are equal."""
    slip = 0.2
    kt, kq, _, _ = section_integrals(np.array([pitch_ratio * (1 - slip)]), pitch_ratio, cavity=False)
    kt_anchor, kq_anchor, _, _ = section_integrals(np.array([anchor * (1 - slip)]), anchor, cavity=False)
    return float(kt[0] / kt_anchor[0]), float(kq[0] / kq_anchor[0])
