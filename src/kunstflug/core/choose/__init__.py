"""Choosing: sweep, parts on the shelf, backward from a wish, the next step."""
