"""What gets hot, how slowly, and what a duty does to it."""
