"""Trim: what the boat did and why, one knob at a time, and the next setting worth trying."""
