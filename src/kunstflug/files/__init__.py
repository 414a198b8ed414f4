"""Bytes to core types and back: setup documents, GPX, NMEA 0183, controller CSV."""
