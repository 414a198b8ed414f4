"""Live: listening to a boat that is being driven."""
