"""Pure numbers: no I/O, no clock, no globals, no unseeded random, no web or database import."""
