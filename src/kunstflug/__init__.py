"""Kunstflug: match, run and compare the electric drive of a radio-controlled racing boat."""

__version__ = "0.1.0"
