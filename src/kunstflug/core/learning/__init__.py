"""What runs teach about a racer's things: one posterior over all of them, and what follows from it."""
