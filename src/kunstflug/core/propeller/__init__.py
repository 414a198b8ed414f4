"""The propeller: its part, its two regimes, and the open-water curve the drive is solved with."""

from kunstflug.core.propeller import seam
from kunstflug.core.propeller.curve import OpenWaterCurve, open_water_curve
from kunstflug.core.propeller.jet import jet_curve
from kunstflug.core.propeller.part import Propeller

__all__ = ["OpenWaterCurve", "Propeller", "jet_curve", "open_water_curve", "seam"]
