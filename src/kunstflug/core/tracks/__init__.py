"""Positions and receiver speed in, cleaned speed and passes out."""

from kunstflug.core.tracks.analysis import TrackAnalysis, analyse
from kunstflug.core.tracks.samples import TrackSamples

__all__ = ["TrackAnalysis", "TrackSamples", "analyse"]
