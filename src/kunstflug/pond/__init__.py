"""The simulated pond: a boat with hidden true parameters, and the devices on it. Stands in for the real ones."""

from kunstflug.pond.outing import Outing, Weather, run_outing
from kunstflug.pond.world import boat_seed

__all__ = ["Outing", "Weather", "boat_seed", "run_outing"]
