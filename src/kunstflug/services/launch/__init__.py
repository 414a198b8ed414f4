"""Launch: whether the boat is ready, and when what is charged and run."""
