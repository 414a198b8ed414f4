"""Choosing: sweep, backward, the next step."""
