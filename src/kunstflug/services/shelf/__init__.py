"""The shelf: parts with their lives, compared in a boat, as a table."""
