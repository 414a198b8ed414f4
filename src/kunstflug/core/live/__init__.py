"""The boat on the water, now: temperatures by what is measured, passes, charge, and what to do."""
