"""Couples the components: what a setup does."""

MODEL_VERSION = "B.2"
"""Changes whenever a forecast moves; stored with each saved forecast, see CHANGELOG.md under Model."""
