"""Use cases, one module for each mark of the course; each owns its transaction."""
