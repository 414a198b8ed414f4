"""Bench instruments and finders."""
