"""Every part's description with its estimators; none knows a sibling."""
