"""Aim: from a wish back to the drive it takes."""
