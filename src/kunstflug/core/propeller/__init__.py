"""Open-water curves: two regimes and a smooth seam, and the curve the drive is solved with."""

from kunstflug.core.propeller.curve import Curves, OpenWaterCurve, open_water_curve
from kunstflug.core.propeller.jet import jet_curve

__all__ = ["Curves", "OpenWaterCurve", "jet_curve", "open_water_curve"]
