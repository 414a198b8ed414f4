"""Run: tracks, logs, pictures and typed numbers of what was driven."""
