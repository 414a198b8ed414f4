"""Properties of fresh water and air that the laws need."""

from typing import Final

import numpy as np

from kunstflug.core.quantity.value import Floats

# Fresh water at 1 atm: temperature [degC], density [kg/m3], dynamic viscosity [Pa s] [coolprop]. The first row
# repeats that of the triple point, 0.01 degC: 0 degC differs from it by less than a millionth.
_T_C: Final = np.array([0.0, 0.01, 5, 10, 15, 20, 25, 30, 40, 50, 60, 70, 80, 90])
_DENSITY: Final = np.array([
    999.84376, 999.84376, 999.96663, 999.70247, 999.10262, 998.20715, 997.04764, 995.64945, 992.21635, 988.03505,
    983.19582, 977.76463, 971.79040, 965.30959,
])  # fmt: skip
_VISCOSITY: Final = np.array([
    1.7911320e-3, 1.7911320e-3, 1.5181728e-3, 1.3058997e-3, 1.1375676e-3, 1.0015961e-3, 8.900225e-4, 7.972218e-4,
    6.527287e-4, 5.465163e-4, 4.660351e-4, 4.035482e-4, 3.540507e-4, 3.141753e-4,
])  # fmt: skip


def water_density_kg_m3(water_c: Floats) -> Floats:
    """Density of fresh water [kg/m3], linear between table points [coolprop]; NaN outside 0 to 90 degC."""
    return np.interp(water_c, _T_C, _DENSITY, left=np.nan, right=np.nan)


def water_viscosity_pa_s(water_c: Floats) -> Floats:
    """Dynamic viscosity of fresh water [Pa s], linear in its logarithm [coolprop]; NaN outside 0 to 90 degC."""
    return np.exp(np.interp(water_c, _T_C, np.log(_VISCOSITY), left=np.nan, right=np.nan))


def air_density_kg_m3(air_c: Floats, pressure_pa: Floats = 101325.0) -> Floats:
    """Density of dry air [kg/m3], ideal gas with 287.05 J/(kg K).

    Examples
    --------
    >>> round(air_density_kg_m3(15.0), 3)
    1.225
    """
    return pressure_pa / (287.05 * (air_c + 273.15))
