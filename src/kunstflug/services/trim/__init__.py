"""Trim: what the boat did and why, and the next setting."""
