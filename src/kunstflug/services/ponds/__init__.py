"""Ponds and the straights on them."""
