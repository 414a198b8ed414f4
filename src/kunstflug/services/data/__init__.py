"""Data: everything in and out, the bin, the demo."""
