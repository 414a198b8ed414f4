"""Wageningen B-series polynomials for fully wetted propellers [oosterveld1975]."""

from typing import Final

import numpy as np

from kunstflug.core.quantity.value import Floats

PITCH_RATIO_RANGE: Final = (0.5, 1.4)
AREA_RATIO_RANGE: Final = (0.30, 1.05)
BLADES_RANGE: Final = (2, 7)

# coefficient, powers of J, P/D, AE/A0 and Z
_KT_TERMS: Final[tuple[tuple[float, int, int, int, int], ...]] = (
    (0.00880496, 0, 0, 0, 0),
    (-0.204554, 1, 0, 0, 0),
    (0.166351, 0, 1, 0, 0),
    (0.158114, 0, 2, 0, 0),
    (-0.147581, 2, 0, 1, 0),
    (-0.481497, 1, 1, 1, 0),
    (0.415437, 0, 2, 1, 0),
    (0.0144043, 0, 0, 0, 1),
    (-0.0530054, 2, 0, 0, 1),
    (0.0143481, 0, 1, 0, 1),
    (0.0606826, 1, 1, 0, 1),
    (-0.0125894, 0, 0, 1, 1),
    (0.0109689, 1, 0, 1, 1),
    (-0.133698, 0, 3, 0, 0),
    (0.00638407, 0, 6, 0, 0),
    (-0.00132718, 2, 6, 0, 0),
    (0.168496, 3, 0, 1, 0),
    (-0.0507214, 0, 0, 2, 0),
    (0.0854559, 2, 0, 2, 0),
    (-0.0504475, 3, 0, 2, 0),
    (0.010465, 1, 6, 2, 0),
    (-0.00648272, 2, 6, 2, 0),
    (-0.00841728, 0, 3, 0, 1),
    (0.0168424, 1, 3, 0, 1),
    (-0.00102296, 3, 3, 0, 1),
    (-0.0317791, 0, 3, 1, 1),
    (0.018604, 1, 0, 2, 1),
    (-0.00410798, 0, 2, 2, 1),
    (-0.000606848, 0, 0, 0, 2),
    (-0.0049819, 1, 0, 0, 2),
    (0.0025983, 2, 0, 0, 2),
    (-0.000560528, 3, 0, 0, 2),
    (-0.00163652, 1, 2, 0, 2),
    (-0.000328787, 1, 6, 0, 2),
    (0.000116502, 2, 6, 0, 2),
    (0.000690904, 0, 0, 1, 2),
    (0.00421749, 0, 3, 1, 2),
    (5.65229e-05, 3, 6, 1, 2),
    (-0.00146564, 0, 3, 2, 2),
)  # fmt: skip
_KQ_TERMS: Final[tuple[tuple[float, int, int, int, int], ...]] = (
    (0.00379368, 0, 0, 0, 0),
    (0.00886523, 2, 0, 0, 0),
    (-0.032241, 1, 1, 0, 0),
    (0.00344778, 0, 2, 0, 0),
    (-0.0408811, 0, 1, 1, 0),
    (-0.108009, 1, 1, 1, 0),
    (-0.0885381, 2, 1, 1, 0),
    (0.188561, 0, 2, 1, 0),
    (-0.00370871, 1, 0, 0, 1),
    (0.00513696, 0, 1, 0, 1),
    (0.0209449, 1, 1, 0, 1),
    (0.00474319, 2, 1, 0, 1),
    (-0.00723408, 2, 0, 1, 1),
    (0.00438388, 1, 1, 1, 1),
    (-0.0269403, 0, 2, 1, 1),
    (0.0558082, 3, 0, 1, 0),
    (0.0161886, 0, 3, 1, 0),
    (0.00318086, 1, 3, 1, 0),
    (0.015896, 0, 0, 2, 0),
    (0.0471729, 1, 0, 2, 0),
    (0.0196283, 3, 0, 2, 0),
    (-0.0502782, 0, 1, 2, 0),
    (-0.030055, 3, 1, 2, 0),
    (0.0417122, 2, 2, 2, 0),
    (-0.0397722, 0, 3, 2, 0),
    (-0.00350024, 0, 6, 2, 0),
    (-0.0106854, 3, 0, 0, 1),
    (0.00110903, 3, 3, 0, 1),
    (-0.000313912, 0, 6, 0, 1),
    (0.0035985, 3, 0, 1, 1),
    (-0.00142121, 0, 6, 1, 1),
    (-0.00383637, 1, 0, 2, 1),
    (0.0126803, 0, 2, 2, 1),
    (-0.00318278, 2, 3, 2, 1),
    (0.00334268, 0, 6, 2, 1),
    (-0.00183491, 1, 1, 0, 2),
    (0.000112451, 3, 2, 0, 2),
    (-2.97228e-05, 3, 6, 0, 2),
    (0.000269551, 1, 0, 1, 2),
    (0.00083265, 2, 0, 1, 2),
    (0.00155334, 0, 2, 1, 2),
    (0.000302683, 0, 6, 1, 2),
    (-0.0001843, 0, 0, 2, 2),
    (-0.000425399, 0, 3, 2, 2),
    (8.69243e-05, 3, 3, 2, 2),
    (-0.0004659, 0, 6, 2, 2),
    (5.54194e-05, 1, 6, 2, 2),
)  # fmt: skip


def _polynomial(
    terms: tuple[tuple[float, int, int, int, int], ...],
    j: Floats,
    pitch_ratio: Floats,
    area_ratio: Floats,
    blades: Floats,
) -> Floats:
    total = np.zeros(np.broadcast_shapes(np.shape(j), np.shape(pitch_ratio), np.shape(area_ratio), np.shape(blades)))
    for factor, s, t, u, v in terms:
        total = total + factor * j**s * pitch_ratio**t * area_ratio**u * blades**v
    return total


def b_series_coefficients(j: Floats, pitch_ratio: Floats, area_ratio: Floats, blades: Floats) -> tuple[Floats, Floats]:
    """Thrust and torque coefficients KT, KQ [1] at Reynolds number 2e6.

    Parameters
    ----------
    j : advance coefficient V / (n D) [1].
    pitch_ratio : P / D [1], 0.5 to 1.4. Beyond 1.4 the polynomials give nonsense and must not be used.
    area_ratio : blade area ratio AE / A0 [1], 0.30 to 1.05.
    blades : 2 to 7.

    Examples
    --------
    >>> kt, kq = b_series_coefficients(0.8, 1.0, 0.5, 3)
    >>> round(float(kt), 6), round(float(kq), 7)
    (0.122991, 0.0220692)
    """
    return (
        _polynomial(_KT_TERMS, j, pitch_ratio, area_ratio, blades),
        _polynomial(_KQ_TERMS, j, pitch_ratio, area_ratio, blades),
    )
