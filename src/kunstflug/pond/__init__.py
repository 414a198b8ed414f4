"""The simulated pond: a boat with hidden true parameters, and the devices on it. Stands in for the real ones."""

from kunstflug.pond.boat import boat_seed
from kunstflug.pond.outing import Outing, Weather, run_outing

__all__ = ["Outing", "Weather", "boat_seed", "run_outing"]
