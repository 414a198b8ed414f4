"""The logbook: all outings of all boats in time."""
