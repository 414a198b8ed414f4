"""The coupled drive: the one balance, the one table of limits, the band."""

MODEL_VERSION = "D.1"
"""Changes with every number a forecast gives; stored with each forecast."""
