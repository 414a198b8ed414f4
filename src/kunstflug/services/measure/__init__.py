"""Measure: bench instruments, and what they say put on a part."""
