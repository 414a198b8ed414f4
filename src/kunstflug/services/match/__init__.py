"""Match: a draft of changes, the next change, the map and the searches."""
