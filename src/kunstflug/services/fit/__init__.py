"""Fit: whether it goes together, the build list, the water circuit and the tub test."""
